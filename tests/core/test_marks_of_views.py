"""What a sheet draws by convention beside its lines: symmetry, flats, bends, revisions, sizes of sheets."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.drafting.commands import read_command
from canonis.core.drafting.revise import apply_command
from canonis.core.faults import BadInput
from canonis.core.shape.mirror import mirrored
from canonis.core.sheet.border import block_rect, frame_rect, revision_rect
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.scene import frame_of_view
from canonis.core.sheet.sizes import size_mm
from tests.conftest import block, draft_of, model_of, recipe
from tests.core.known_parts import PARTS, hole

CORNERS = hole([[12, 12, 12], [78, 12, 12], [12, 48, 12], [78, 48, 12]], 7)


def kinds(draft, kind):
    return [a for a in draft.document.annotations if a.kind == kind]


def test_a_part_with_pairs_of_holes_about_its_middle_has_lines_of_symmetry():
    draft = draft_of(recipe(block(90, 60, 12), CORNERS))
    lines = kinds(draft, "symmetry-line")
    assert {a.direction for a in lines} == {"x", "y"}
    # Drawn half way across the view, past its outline.
    view = draft.document.view(lines[0].view)
    x0, y0, x1, y1 = draft.scene.box(view)
    stroke = next(s for s in compile_sheet(draft.scene).pages[0].strokes if s.owner == lines[0].id)
    k = 0 if lines[0].direction == "x" else 1
    assert stroke.points[:, k] == pytest.approx(((x0 + x1) / 2, (y0 + y1) / 2)[k])
    assert np.ptp(stroke.points[:, 1 - k]) > (x1 - x0, y1 - y0)[1 - k]


def test_one_hole_out_of_place_takes_the_symmetry_away():
    solid = model_of(recipe(block(90, 60, 12), CORNERS)).solids[0]
    assert [mirrored(solid, k) for k in range(3)] == [True, True, True]
    moved = model_of(
        recipe(block(90, 60, 12), hole([[12, 12, 12], [78, 12, 12], [12, 48, 12], [78, 48.05, 12]], 7))
    ).solids[0]
    assert [mirrored(moved, k) for k in range(3)] == [False, False, True]
    assert not kinds(draft_of(recipe(block(90, 60, 12), hole([[12, 12, 12]], 7))), "symmetry-line")


def flat(side):
    plane = {"origin": [0, 0, 8 * side], "x": [1, 0, 0], "normal": [0, 0, 1]}
    return {
        "op": "extrude",
        "mode": "cut",
        "distance": 20 * side,
        "profile": {"plane": plane, "outer": {"rect": [-1, -20, 26, 40]}},
    }


def test_flats_of_a_turned_part_are_crossed_where_they_are_seen_true():
    body = {
        "op": "revolve",
        "angle": 360,
        "axis": {"point": [0, 0, 0], "direction": [1, 0, 0]},
        "profile": {"plane": "XY", "outer": {"polygon": [[0, 0], [0, 10], [40, 10], [40, 15], [80, 15], [80, 0]]}},
    }
    draft = draft_of(recipe(body, flat(1), flat(-1)))
    crosses = kinds(draft, "flat-cross")
    assert crosses
    for cross in crosses:
        toward = frame_of_view(draft.document.view(cross.view)).toward
        assert abs(toward[2]) == pytest.approx(1)
        strokes = [s for p in compile_sheet(draft.scene).pages for s in p.strokes if s.owner == cross.id]
        # 25 long, and as wide as the chord of the circle of 20 at a height of 8.
        assert [np.ptp(s.points, axis=0) for s in strokes] == [
            pytest.approx(np.array([25, 12]) * draft.document.views[0].scale)
        ] * 2


def test_bends_are_marked_by_thin_lines_that_stand_clear_of_the_outline():
    draft = draft_of(recipe(*PARTS["bent bracket"][0]))
    flat_view = next(v for v in draft.document.views if v.kind != "pictorial" and draft.scene.projection(v).smooth)
    strokes = [
        s for s in compile_sheet(draft.scene).pages[0].strokes if s.owner == flat_view.id and s.style == "smooth"
    ]
    line = draft.scene.projection(flat_view).smooth[0]
    assert strokes and line.length * flat_view.scale - np.linalg.norm(
        np.ptp(strokes[0].points, axis=0)
    ) == pytest.approx(2.0)


def revised(draft, letter, change):
    command = read_command(
        {"op": "set", "what": "revision", "value": letter, "change": change, "by": "D. Frey", "date": "2026-11-26"}
    )
    return apply_command(draft.document, command, draft.scene.solids, draft.features, draft.scene.projections)


@pytest.mark.parametrize("style", ["iso", "asme"])
def test_a_revision_has_its_row_joined_to_the_title_block_or_in_the_corner(style):
    draft = draft_of(recipe(block(90, 60, 12), CORNERS), style=style)
    document = revised(draft, "B", "Holes moved in by 2")
    size = document.pages[0].size
    x0, y0, x1, y1 = revision_rect(document, size)
    assert document.title.revision == "B"
    assert y0 == block_rect(size)[3] if style == "iso" else (x1, y1) == frame_rect(size)[2:]
    texts = compile_sheet(draft.scene.on(document)).pages[0].texts
    row = [t for t in texts if t.text == "Holes moved in by 2"]
    assert len(row) == 1 and x0 < row[0].x < x1 and y0 < row[0].y < y1
    # The same letter again corrects its row.
    again = revised(type(draft)(draft.scene.on(document), (), draft.features), "B", "Holes moved in by 2.5")
    assert [r.change for r in again.title.revisions] == ["Holes moved in by 2.5"]


@given(st.integers(210, 5000), st.integers(148, 5000))
def test_own_sheets_have_the_sizes_they_are_named_by(w, h):
    assert size_mm(f"{w}x{h}") == (w, h)


@pytest.mark.parametrize("name", ["A7", "A3 upright", "100x100", "9000x500", "wide", ""])
def test_a_size_that_is_none_is_told_in_a_sentence(name):
    with pytest.raises(BadInput, match=r"not known|out of reach"):
        size_mm(name)


def test_a_draft_fits_a_portrait_sheet():
    draft = draft_of(recipe(block(30, 20, 90), hole([[15, 0, 60]], 8, axis=(0, -1, 0))), size="A3 portrait")
    page = draft.document.pages[0]
    x0, y0, x1, y1 = frame_rect(page.size)
    assert (x1 - x0, y1 - y0) == (297 - 30, 420 - 20)
    for view in draft.document.views:
        a, b, c, d = draft.scene.box(view)
        assert x0 < a and y0 < b and c < x1 and d < y1
