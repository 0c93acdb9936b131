"""Lettering of the sheet: metrics that screen, PDF and collision checks share."""

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.sheet import glyphs

LETTERS = st.text("0123456789.,×⌀±R°ABCDEFGHKLMNOPTUVW ()-/", min_size=1, max_size=30)


@settings(max_examples=80, deadline=None)
@given(LETTERS, LETTERS, st.sampled_from([1.6, 2.5, 3.5, 5.0]))
def test_widths_add_up_and_scale(a, b, height):
    assert glyphs.width(a + b, height) == pytest.approx(glyphs.width(a, height) + glyphs.width(b, height))
    assert glyphs.width(a, 2 * height) == pytest.approx(2 * glyphs.width(a, height))


@settings(max_examples=80, deadline=None)
@given(LETTERS, st.sampled_from([2.5, 3.5]))
def test_the_ink_stays_in_its_line(text, height):
    x0, y0, x1, y1 = glyphs.ink(text, height)
    if text.strip():
        assert x0 < x1 and y0 < y1 and x1 <= glyphs.width(text, height) + 0.2 * height
        assert y0 > -0.6 * height and y1 < 1.5 * height


def test_capitals_have_the_height_asked_for():
    for height in (2.5, 3.5, 5.0, 7.0):
        _, y0, _, y1 = glyphs.ink("H", height)
        assert y1 - y0 == pytest.approx(height, rel=0.02)


def test_every_sign_of_the_trade_is_in_the_face():
    for sign in "⌀⌴⌵↧×°±′″½¼¾□µäöüéñØ–—“”":
        assert glyphs.printable(sign) == sign, sign
    assert glyphs.printable("8 \U0001f600 mm") == "8 ? mm"
