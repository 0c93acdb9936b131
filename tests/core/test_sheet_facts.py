"""What the drawing standards say of lines, letters, frames and rows, measured on the compiled strokes."""

from itertools import pairwise

import numpy as np
import pytest

from canonis.core.drafting.draft import DraftWish, draft_model
from canonis.core.sheet.border import block_rect, frame_rect
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.sizes import METRIC_SIZES, SCALES, look_of, size_mm
from canonis.core.sheet.strokes import dash_pattern
from canonis.core.solid.reader import read_model

MODES = {
    "iso": DraftWish(density=8.5),
    "asme": DraftWish(style="asme", density=8.5),
    "A1": DraftWish(size="A1", scale="1:1"),
}


@pytest.fixture(scope="module", params=list(MODES))
def sheet(request, cock_step):
    draft = draft_model(read_model(cock_step, "cock.step"), MODES[request.param])
    return request.param, draft, compile_sheet(draft.scene).pages[0]


def owners(draft, *kinds):
    return {a.id: a for a in draft.document.annotations if a.kind in kinds}


def test_two_line_widths_two_to_one(sheet):
    mode, draft, page = sheet
    wide, narrow = {"iso": (0.5, 0.25), "asme": (0.6, 0.3), "A1": (0.7, 0.35)}[mode]
    views = {v.id for v in draft.document.views}
    widths = {s.style: {x.width for x in page.strokes if x.style == s.style and x.owner in views} for s in page.strokes}
    assert widths["visible"] == {wide} and widths["hidden"] == {narrow} and wide == 2 * narrow
    statements = owners(draft, "linear", "ordinate", "hole", "radius", "centre-mark", "centre-line")
    assert {s.width for s in page.strokes if s.owner in statements} == {narrow}


def test_dashes_are_in_units_of_the_lines_own_width():
    assert dash_pattern("hidden", 0.25) == (3.0, 0.75)
    assert dash_pattern("centre", 0.5) == (12.0, 1.5, 0.25, 1.5)
    assert dash_pattern("visible", 0.5) == ()


def test_letter_heights_and_arrowheads(sheet):
    mode, draft, page = sheet
    height = 3.0 if mode == "asme" else 3.5
    statements = owners(draft, "linear", "ordinate", "hole", "radius")
    assert {t.height for t in page.texts if t.owner in statements} == {height}
    heads = [r for r in page.regions if r.owner in statements]
    assert heads
    for head in heads:
        spans = [np.linalg.norm(a - b) for a in head.points for b in head.points]
        long = max(spans)
        base = min(x for x in spans if x > 1e-9)
        assert long == pytest.approx(height, rel=0.06) and long / base == pytest.approx(3, rel=0.1)


def test_rows_stand_ten_then_seven_millimetres_apart_shorter_inside(sheet):
    _, draft, _ = sheet
    for view in draft.document.views:
        for side in ("above", "below", "left", "right"):
            rows = sorted(
                (a for a in draft.document.annotations if a.kind == "linear" and a.view == view.id and a.side == side),
                key=lambda a: a.row,
            )
            assert all(a.row >= 10 for a in rows)
            assert all(b.row - a.row >= 7 - 1e-9 for a, b in pairwise(rows))
            lengths = [float(a.text.lstrip("0") or 0) for a in rows]
            assert lengths == sorted(lengths)


def test_texts_are_turned_as_the_style_reads_them(sheet):
    mode, draft, page = sheet
    upright = owners(draft, "linear")
    for t in page.texts:
        mark = upright.get(t.owner)
        if mark is not None:
            assert t.angle == (90.0 if mark.direction == "y" and mode != "asme" else 0.0)
    # Ordinate values are turned along their extension line in both styles.
    for t in page.texts:
        mark = owners(draft, "ordinate").get(t.owner)
        if mark is not None:
            assert t.angle == (90.0 if mark.direction == "x" else 0.0)


def test_extension_lines_leave_the_outline_as_the_style_says(sheet):
    mode, draft, page = sheet
    look = look_of(draft.document.style, page.size)
    assert look.extension_past == (3.0 if mode == "asme" else 2.0)
    assert look.extension_gap == (1.5 if mode == "asme" else 0.0)
    for mark in owners(draft, "linear").values():
        view = draft.document.view(mark.view)
        box = draft.scene.box(view)
        level = {"above": box[3] + mark.row, "right": box[2] + mark.row}[mark.side]
        k = 1 if mark.direction == "x" else 0
        strokes = [s.polyline() for s in page.strokes if s.owner == mark.id]
        across = [p for p in strokes if np.ptp(p[:, 1 - k]) < 1e-6 and np.ptp(p[:, k]) > 1.0]
        assert len(across) == 2 and all(p[:, k].max() == pytest.approx(level + look.extension_past) for p in across)


def test_centre_lines_run_past_the_outline_of_their_hole(sheet):
    _, draft, page = sheet
    for mark in owners(draft, "centre-mark").values():
        view = draft.document.view(mark.view)
        found = draft.scene.resolution(view.sheet, mark.refs[0])
        hole = draft.scene.bore_at(view.sheet, found.faces[0])
        radius = hole.diameter / 2 if hole else draft.scene.radius(view.sheet, mark.refs[0])
        radius = max([radius, *(d / 2 for d in hole.seats)]) if hole else radius
        arms = [s.polyline() for s in page.strokes if s.owner == mark.id]
        assert len(arms) == 2
        for arm in arms:
            assert np.linalg.norm(arm[-1] - arm[0]) == pytest.approx(2 * (radius * view.scale + 2.5))


def test_frame_zones_and_title_block(sheet):
    mode, _, page = sheet
    w, h = size_mm(page.size)
    assert frame_rect(page.size) == (20.0, 10.0, w - 10.0, h - 10.0)
    x0, y0, x1, _ = block_rect(page.size)
    assert (x1, y0) == (w - 10.0, 10.0) and x1 - x0 == 180.0
    texts = [t.text for t in page.texts if t.owner == "title"]
    for field in (
        "Title",
        "Drawing number",
        "Scale",
        "Sheet",
        "Revision",
        "Material",
        "Projection",
        "Owner",
        "Date of issue",
    ):
        assert field in texts
    assert ("first angle" if mode != "asme" else "third angle") in texts
    zones = {t.text for t in page.texts if t.owner == "frame"}
    assert not zones & {"I", "O"} and {"A", "B", "1", "2"} <= zones


def test_everything_lies_inside_the_frame(sheet):
    _, draft, page = sheet
    x0, y0, x1, y1 = frame_rect(page.size)
    block = block_rect(page.size)
    inside = set(
        owners(draft, "linear", "ordinate", "hole", "radius", "slot", "bolt-circle", "centre-mark", "centre-line")
    ) | {v.id for v in draft.document.views}
    for s in page.strokes:
        if s.owner in inside:
            p = s.polyline(0.1)
            assert p[:, 0].min() > x0 and p[:, 0].max() < x1 and p[:, 1].min() > y0 and p[:, 1].max() < y1
            assert not np.any((p[:, 0] > block[0]) & (p[:, 1] < block[3]))


def test_preferred_scales_and_sheet_sizes():
    assert METRIC_SIZES["A3"] == (420.0, 297.0) and METRIC_SIZES["A0"] == (1189.0, 841.0)
    assert {(2, 1), (1, 1), (1, 2), (1, 5), (1, 10)} <= set(SCALES["iso"]) and not {(4, 1), (1, 4)} & set(SCALES["iso"])
    assert {(4, 1), (1, 4), (1, 8)} <= set(SCALES["asme"])
    for style in SCALES.values():
        factors = [n / d for n, d in style]
        assert factors == sorted(factors, reverse=True)
