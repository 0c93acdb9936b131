"""The second route looks for itself: one more, one fewer or one elsewhere shows, and so does everything a note leaves out."""

import pytest

from canonis.core.proof.check import check_sheet
from canonis.core.sheet.wording import worded
from tests.conftest import block, draft_of, model_of, recipe

UP, DOWN = [0, 0, 1], [0, 0, -1]
FOUR = [[12, 10, 20], [68, 10, 20], [12, 40, 20], [68, 40, 20]]
BASE = block(80, 50, 20)


def hole(at, d=6.6, axis=UP, **more):
    return {
        "op": "hole",
        "at": at,
        "axis": axis,
        "diameter": d,
        **({"through": True} if "depth" not in more else {}),
        **more,
    }


def part(*steps):
    return recipe(BASE, *steps)


def on(drawn, real, **title):
    """The proof of the draft of one part on another."""
    document = draft_of(drawn).document
    return check_sheet(document, model_of(real).solids, density=1.0)


def wrong_parts(check):
    return {(s.text, p.name): p for s in check.statements for p in s.parts if not p.ok}


def names(check):
    return {name for _, name in wrong_parts(check)}


SEAT = {"counterbore": {"diameter": 11, "depth": 6}}
FAR = {"counterbore-far": {"diameter": 11, "depth": 6}}
RING = {"op": "ring", "axis": {"point": [40, 25, 0], "direction": UP}, "steps": ["s1"]}


def ring(count, angle=360, at=(58, 25, 20)):
    return part(hole([list(at)], 5), {**RING, "count": count, "angle": angle})


@pytest.mark.parametrize(
    ("drawn", "real", "part_name", "measured"),
    [
        # One more, one fewer, among equal ones.
        (part(hole(FOUR)), part(hole([*FOUR, [40, 25, 20]])), "count", 5),
        (part(hole(FOUR)), part(hole(FOUR[:3])), "count", 3),
        (part(hole(FOUR, **SEAT)), part(hole([*FOUR, [40, 25, 20]], **SEAT)), "count", 5),
        (part(hole(FOUR, depth=8)), part(hole([*FOUR, [40, 25, 20]], depth=8)), "count", 5),
        # THRU on a blind hole, however shallow or deep.
        (part(hole([[40, 25, 20]])), part(hole([[40, 25, 20]], depth=1)), "through", False),
        (part(hole([[40, 25, 20]])), part(hole([[40, 25, 20]], depth=19.5)), "through", False),
        # The other face.
        (part(hole(FOUR, **SEAT)), part(hole(FOUR, **FAR)), "counterbore-diameter", None),
        (part(hole(FOUR, **SEAT)), part(hole(FOUR, **SEAT, **FAR)), "counterbore-far-diameter", 11),
        (part(hole(FOUR)), part(hole(FOUR, **SEAT)), "counterbore-diameter", 11),
        (part(hole([[40, 25, 20]], depth=8)), part(hole([[40, 25, 0]], axis=DOWN, depth=8)), "side", "the far side"),
        # Rings.
        (ring(6), ring(6, 180), "equally-spaced", False),
    ],
)
def test_what_differs_is_seen(drawn, real, part_name, measured):
    assert not wrong_parts(on(drawn, drawn))
    bad = wrong_parts(on(drawn, real))
    hit = [p for (_, name), p in bad.items() if name == part_name]
    assert hit, bad
    assert hit[0].measured == (pytest.approx(measured, abs=1e-4) if isinstance(measured, float) else measured)


def test_a_seat_that_the_note_leaves_out_is_named():
    drawn = draft_of(part(hole(FOUR, **SEAT))).document
    marks = tuple(worded(a, "4× ⌀6.6 THRU") if a.kind == "hole" else a for a in drawn.annotations)
    check = check_sheet(drawn.model_copy(update={"annotations": marks}), model_of(part(hole(FOUR, **SEAT))).solids)
    assert "counterbore-diameter" in names(check)


def test_a_ring_turned_from_its_centre_line_has_no_start_angle():
    check = on(ring(6), ring(6, at=(40 + 18 * 0.8090169944, 25 + 18 * 0.5877852523, 20)))
    assert not check.complete["ok"] and any("⌀5" in f for f in check.complete["free"])


def test_three_rounds_are_not_eight():
    corners = [[0, 0, 10], [80, 0, 10], [80, 50, 10]]
    data = part({"op": "round", "edges": {"near": corners}, "radius": 9})
    draft = draft_of(data).document
    mark = next(a for a in draft.annotations if a.kind == "radius")
    assert mark.text == "3× R9"
    eight = worded(mark, "8× R9")
    check = check_sheet(
        draft.model_copy(update={"annotations": tuple(eight if a.id == mark.id else a for a in draft.annotations)}),
        model_of(data).solids,
    )
    count = next(s for s in check.statements if s.id == mark.id).part("count")
    assert not count.ok and count.measured == 3


def test_a_fourth_round_is_counted():
    corners = [[0, 0, 10], [80, 0, 10], [80, 50, 10], [0, 50, 10]]

    def rounded(n):
        return part({"op": "round", "edges": {"near": corners[:n]}, "radius": 9})

    bad = wrong_parts(on(rounded(3), rounded(4)))
    assert bad[("3× R9", "count")].measured == 4


def test_a_chamfer_without_a_count_states_one():
    edges = [[0, 25, 20], [80, 25, 20]]

    def bevelled(n):
        return part({"op": "chamfer", "edges": {"near": edges[:n]}, "leg": 3})

    check = on(bevelled(1), bevelled(2))
    assert wrong_parts(check)[("3 × 45°", "count")].measured == 2


def test_a_drawn_20_does_not_accept_20_2():
    check = on(recipe(block(80, 50, 20)), recipe(block(80, 50, 20.2)))
    assert wrong_parts(check)[("20", "length")].measured == pytest.approx(20.2)


def test_a_hole_that_moved_and_whose_text_was_corrected_is_located():
    moved = part(hole([[30, 25, 20]]))
    document = draft_of(part(hole([[26, 25, 20]]))).document
    marks = tuple(worded(a, "30") if a.text == "26" else a for a in document.annotations)
    check = check_sheet(document.model_copy(update={"annotations": marks}), model_of(moved).solids)
    note = next(s for s in check.statements if s.kind == "hole")
    assert note.part("location").ok and check.complete["ok"]


def test_a_bore_with_an_inner_groove_has_no_counterbore():
    ring = recipe(
        {
            "op": "revolve",
            "angle": 360,
            "axis": {"point": [0, 0, 0], "direction": UP},
            "profile": {
                "plane": "XZ",
                "outer": {"polygon": [[10, 0], [25, 0], [25, 30], [10, 30], [10, 20], [13, 20], [13, 16], [10, 16]]},
            },
        },
    )
    check = on(ring, ring)
    assert not wrong_parts(check)
    # The note of the bore does not give the groove: that is what the sheet leaves open.
    assert any("⌀26" in f for f in check.complete["free"])


def test_a_ring_that_misses_a_member_says_where_each_one_stands():
    six = part(hole([[58, 25, 20]], 5), {**RING, "count": 6, "angle": 360, "skip": [2]})
    check = on(six, six)
    assert check.complete["ok"] and not wrong_parts(check)


def typed(data, text):
    """The proof of a draft whose hole note says something else."""
    drawn = draft_of(data).document
    marks = tuple(worded(a, text) if a.kind == "hole" else a for a in drawn.annotations)
    check = check_sheet(drawn.model_copy(update={"annotations": marks}), model_of(data).solids, density=1.0)
    (name,) = [a.id for a in drawn.annotations if a.kind == "hole"]
    return next(s for s in check.statements if s.id == name)


DRILLED = part(hole([[40, 25, 20]], 8, depth=12, point=118))
FLAT = part(hole([[40, 25, 20]], 8, depth=12, point=0))
#: A counterbore in a counterbore.
STACKED = part(
    hole([[40, 25, 20]], 6), hole([[40, 25, 20]], 11, depth=9, point=0), hole([[40, 25, 20]], 18, depth=4, point=0)
)
#: A blind bore that another one crosses on its way.
CROSSED = recipe(
    block(60, 60, 60),
    hole([[30, 30, 60]], 16),
    {"op": "hole", "at": [[60, 30, 30]], "axis": [1, 0, 0], "diameter": 10, "depth": 48, "point": 0},
)


@pytest.mark.parametrize(
    ("data", "text", "state", "bad"),
    [
        (DRILLED, "⌀8 ↧12 118° POINT", "proven", set()),
        (DRILLED, "⌀8 ↧12 90° POINT", "contradicted", {"point-angle"}),
        (DRILLED, "⌀8 ↧12 FLAT BOTTOM", "contradicted", {"flat-bottom"}),
        (FLAT, "⌀8 ↧12 FLAT BOTTOM", "proven", set()),
        (FLAT, "⌀8 ↧12 118° POINT", "contradicted", {"point-angle"}),
        (ring(6), "6× ⌀5 THRU EQ SP ON ⌀36 PCD", "proven", set()),
        (ring(6), "6× ⌀5 THRU EQ SP ON ⌀35 PCD", "contradicted", {"pitch-circle"}),
        (STACKED, "⌀6 THRU ⌴⌀11 ↧9 ⌴⌀18 ↧4", "proven", set()),
        (STACKED, "⌀6 THRU ⌴⌀18 ↧4 ⌴⌀11 ↧8", "contradicted", {"counterbore-b-depth"}),
        (STACKED, "⌀6 THRU ⌴⌀18 ↧4", "contradicted", {"counterbore-b-diameter"}),
        # What nothing measures is not proven, whatever else holds.
        (DRILLED, "M10 ↧12", "contradicted", {"thread", "major", "pitch", "tap-drill"}),
        (DRILLED, "M8 ↧13", "contradicted", {"depth"}),
    ],
)
def test_every_part_of_a_typed_note_is_measured(data, text, state, bad):
    statement = typed(data, text)
    assert {p.name for p in statement.parts if not p.ok} - {"location"} == bad
    assert statement.state == state


def test_a_part_that_nothing_measures_is_not_proven():
    said = typed(part(hole([[40, 25, 20]], 8)), "⌀8 THRU 118° POINT")
    assert said.state != "proven"


@pytest.mark.parametrize("depth", [46, 48, 50])
def test_a_bore_is_measured_behind_what_crosses_it(depth):
    check = on(CROSSED, recipe(*CROSSED["steps"][:2], {**CROSSED["steps"][2], "depth": depth}))
    deep = next(s for s in check.statements if s.text.startswith("⌀10")).part("depth")
    assert deep.measured == pytest.approx(depth) and deep.ok is (depth == 48)


@pytest.mark.parametrize("rims", ["RIM 1 × 45° RIM 0.5 × 45°", "RIM 0.5 × 45° RIM 1 × 45°"])
def test_rims_in_one_another_are_not_told_apart_and_so_neither_proven_nor_accused(rims):
    data = part(
        hole([[40, 25, 20]], 10, counterbore={"diameter": 20, "depth": 6}),
        {"op": "chamfer", "edges": {"near": [[40, 35, 20]]}, "leg": 1},
        {"op": "chamfer", "edges": {"near": [[40, 30, 14]]}, "leg": 0.5},
    )
    statement = typed(data, f"⌀10 THRU ⌴⌀20 ↧6 {rims}")
    assert statement.state == "unproven" and "rim" in statement.note
