"""Notes with leaders stand apart: no two of them are read as one line or as one note."""

import itertools

import pytest

from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.document import Leader
from tests.conftest import draft_of, recipe
from tests.core.known_parts import PARTS


def blocks(draft):
    """The box of the texts of every note, mm on paper."""
    out = {}
    for page in compile_sheet(draft.scene).pages:
        ids = {a.id for a in draft.document.annotations if isinstance(a, Leader) and a.sheet == page.number}
        for t in page.texts:
            if t.owner in ids and t.text.strip():
                (x0, y0), (x1, y1) = t.corners().min(axis=0), t.corners().max(axis=0)
                a = out.setdefault((page.number, t.owner), [x0, y0, x1, y1, t.height])
                a[:4] = [min(a[0], x0), min(a[1], y0), max(a[2], x1), max(a[3], y1)]
    return out


@pytest.mark.parametrize("name", ["escapement-cock", "valve-block"])
def test_notes_of_the_demo_stand_apart(name, request, cock_step, valve_step):
    apart(draft_of({"escapement-cock": cock_step, "valve-block": valve_step}[name], views="auto"))


@pytest.mark.parametrize("name", ["hole ring", "two arc slots", "spline", "dovetail slot", "round groove"])
def test_notes_of_a_part_stand_apart(name):
    apart(draft_of(recipe(*PARTS[name][0]), views="auto"))


def apart(draft):
    for (one, a), (other, b) in itertools.combinations(blocks(draft).items(), 2):
        if one[0] != other[0]:
            continue
        h = max(a[4], b[4])
        beside = max(a[0], b[0]) - min(a[2], b[2])
        above = max(a[1], b[1]) - min(a[3], b[3])
        # Half a letter either way tells them apart; far enough along one direction is far enough.
        assert beside > h or above > 0.6 * h, (one, other, beside, above)
