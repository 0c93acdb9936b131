"""A compiled page is taken in by plotters: each thing once, in the order in which it is painted, on its own layer."""

import re

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.layout import page_collisions
from canonis.core.layout.collisions import Shapes
from canonis.core.output import screen_pages, write_svg
from canonis.core.sheet import LAYERS, Bounds, Layered, Page, Pen, Picture, compile_sheet, layer_of, text_layer
from tests.conftest import block, draft_of, recipe

coordinate = st.floats(0, 400).map(lambda c: round(c, 2))
spots = st.tuples(coordinate, coordinate)
OWNERS = ("V1", "D1", "frame", "title")


class Taken:
    """What comes, in the order in which it comes."""

    def __init__(self):
        self.things = []

    def picture(self, picture):
        self.things.append(picture)

    def stroke(self, stroke):
        self.things.append(stroke)

    def region(self, region):
        self.things.append(region)

    def text(self, text):
        self.things.append(text)


@st.composite
def pages(draw):
    """A page with some of everything on behalf of several owners."""
    page = Page(1, "A3", (420.0, 297.0))
    for _ in range(draw(st.integers(0, 12))):
        pen = Pen(page, draw(st.sampled_from(OWNERS)), 0.25)
        what = draw(st.sampled_from(("line", "arc", "arrow", "text", "blank", "picture")))
        at = np.array(draw(spots))
        if what == "line":
            pen.line(
                tuple(at),
                (at[0] + 1.0, at[1] + draw(coordinate)),
                style=draw(st.sampled_from(("visible", "narrow", "hatch", "centre"))),
            )
        elif what == "arc":
            pen.arc(at, 5.0)
        elif what == "arrow":
            pen.arrow(at, np.array([1.0, 0.0]), 3.0)
        elif what == "picture":
            page.pictures.append(
                Picture(pen.owner, (float(at[0]), float(at[1]), float(at[0]) + 9, float(at[1]) + 9), b"")
            )
        else:
            pen.text("⌀8 THRU" if what == "text" else "  ", *at, 3.5)
    return page


def held(page):
    return [*page.pictures, *page.strokes, *page.regions, *(t for t in page.texts if t.text.strip())]


@given(pages())
def test_everything_comes_once_and_blank_texts_never(page):
    taken = Taken()
    page.plot(taken)
    assert list(map(id, taken.things)) == list(map(id, held(page)))


@given(pages(), pages())
def test_only_what_came_since_a_mark(page, more):
    before = page.mark
    for name in ("pictures", "strokes", "regions", "texts"):
        getattr(page, name).extend(getattr(more, name))
    taken = Taken()
    page.plot(taken, before)
    assert list(map(id, taken.things)) == list(map(id, held(more)))


@given(pages())
def test_the_layers_share_a_page_out(page):
    views = frozenset({"V1"})
    layers = Layered(views)
    page.plot(layers)
    seen = []
    for key in LAYERS:
        taken = Taken()
        layers.plot(key, taken)
        seen += taken.things
        for thing in taken.things:
            if isinstance(thing, Picture):
                assert key == "shading"
            elif thing in page.texts:
                assert key == text_layer(thing.owner, views)
            else:
                assert key == layer_of(getattr(thing, "style", "region"), thing.owner, views)
    assert sorted(map(id, seen)) == sorted(map(id, held(page)))


@given(pages())
def test_bounds_hold_every_point_and_every_corner_of_ink(page):
    bounds = Bounds()
    page.plot(bounds)
    points = [s.points for s in page.strokes] + [t.corners() for t in page.texts if t.text.strip()]
    points += [np.array(p.box).reshape(2, 2) for p in page.pictures]
    if not points:
        assert bounds.box is None
        return
    low, high = np.vstack(points).min(axis=0), np.vstack(points).max(axis=0)
    assert bounds.box == pytest.approx((*low, *high))


@given(pages())
def test_shapes_to_collide_with_are_the_texts_and_the_lines(page):
    shapes = Shapes()
    page.plot(shapes)
    assert [s for s, _ in shapes.lines] == page.strokes
    assert [t for t, _ in shapes.texts] == [t for t in page.texts if t.text.strip()]
    for stroke, line in shapes.lines:
        if stroke.radius:
            # A chord leaves its arc by no more than was asked.
            away = np.linalg.norm(np.array(line.coords) - stroke.points[0], axis=1)
            assert np.abs(away - stroke.radius).max() < 1e-9
            middles = (np.array(line.coords)[1:] + np.array(line.coords)[:-1]) / 2
            assert (
                stroke.radius - np.linalg.norm(middles - stroke.points[0], axis=1)
            ).max() <= shapes.deflection * 1.01


def test_two_texts_in_one_place_and_a_line_through_one_are_told():
    page = Page(1, "A3", (420.0, 297.0))
    Pen(page, "D1", 0.25).text("40", 100, 100, 3.5)
    Pen(page, "D2", 0.25).text("52", 101, 100, 3.5)
    Pen(page, "V1", 0.5).line((90, 101), (130, 101), style="visible")
    Pen(page, "D3", 0.25).text("96", 300, 200, 3.5)
    found = page_collisions(page)
    assert found["text_on_text"] == [("D1", "D2")]
    assert sorted(found["text_on_line"]) == [("D1", "V1"), ("D2", "V1")]


def test_file_and_screen_show_what_the_page_holds():
    part = recipe(
        block(80, 50, 12),
        {"op": "hole", "at": [[20, 15, 12], [55, 30, 12]], "axis": [0, 0, 1], "diameter": 8, "through": True},
    )
    draft = draft_of(part)
    drawing = compile_sheet(draft.scene)
    page = drawing.pages[0]
    svg = write_svg(page, "t", drawing.views)
    assert len(re.findall(r"<path class=\"(?!r\")", svg)) == len(page.strokes)
    assert svg.count('<path class="r"') == len(page.regions)
    texts = [t.text for t in page.texts if t.text.strip()]
    assert svg.count("<text ") == len(texts)
    screen = screen_pages(draft.scene, picks=False)[0]
    assert [t["t"] for t in screen["texts"]] == texts
    # One path an owner, style and width: every subpath is a stroke.
    assert sum(s["d"].count("M") for s in screen["strokes"]) == len(page.strokes)
    assert sum(r["d"].count("M") for r in screen["regions"]) == len(page.regions)
    # Layers stand in the file in the order in which they are painted.
    groups = re.findall(r'<g id="(\w+)"', svg)
    assert groups == [key for key in LAYERS if key in groups]
