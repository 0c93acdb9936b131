"""The system of equations of a part: unknowns, rows, rank, span. True values come from closed forms and from parts that
are built again with one size changed."""

import copy
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.proof.measure import Remeasurer, is_statement
from canonis.core.shape.elimination import Elimination
from canonis.core.shape.implied import drawn_levels, implied_rows
from canonis.core.shape.part import PartShape
from canonis.core.shape.placing import places
from canonis.core.shape.rows import added, scaled
from canonis.core.shape.surfaces import is_blend
from canonis.core.sheet.equations import stated_rows
from canonis.core.solid.references import resolve_all
from tests.conftest import block, draft_of, model_of, recipe
from tests.core.known_parts import PARTS as KNOWN

THRU = {"axis": [0, 0, 1], "through": True}
PLATE = recipe(
    block(80, 50, 12),
    {
        "op": "hole",
        "at": [[12, 10, 12], [60, 14, 12]],
        "diameter": 6.6,
        **THRU,
        "counterbore": {"diameter": 11, "depth": 6.5},
    },
    {"op": "hole", "at": [[30, 30, 12]], "axis": [0, 0, 1], "diameter": 8, "depth": 7, "point": 118},
    {"op": "hole", "at": [[48, 35, 12]], "diameter": 5, **THRU, "countersink": {"diameter": 10, "angle": 90}},
)
STEPPED = recipe(
    {
        "op": "revolve",
        "profile": {
            "plane": "XZ",
            "outer": {"polygon": [[0, 0], [20, 0], [20, 18], [14, 18], [14, 40], [9, 40], [9, 55], [0, 55]]},
        },
        "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
        "angle": 360,
    },
)
LEVER = recipe(
    block(60, 40, 10),
    {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 6},
    {
        "op": "extrude",
        "profile": {"plane": "XY", "outer": {"slot": [20, 20, 38, 20, 9]}},
        "distance": 10,
        "mode": "cut",
    },
)
STEP_BLOCK = recipe(
    block(70, 40, 30),
    {"op": "extrude", "profile": {"plane": "XZ", "outer": {"rect": [0, 18, 25, 12]}}, "distance": -40, "mode": "cut"},
    {"op": "chamfer", "edges": {"near": [[70, 20, 30]]}, "legs": [4, 3]},
)
DOVETAILS = {name: recipe(*KNOWN[f"dovetail {name}"][0]) for name in ("slot", "tongue")}
PARTS = {**DOVETAILS, "plate": PLATE, "stepped": STEPPED, "lever": LEVER, "step block": STEP_BLOCK}


def shape_of(data):
    return PartShape(model_of(data).solids[0])


def fixed(shape):
    """An elimination of what the geometry implies."""
    system = Elimination()
    for n, one in enumerate(implied_rows(shape)):
        system.add(one.row, n)
    return system


def test_a_block_has_six_levels_and_three_sizes():
    shape = shape_of(recipe(block(80, 50, 12)))
    assert [u.kind for u in shape.unknowns] == ["level"] * 6 and not implied_rows(shape)
    system = Elimination()
    for u in shape.frame:
        low = min(
            (k for k, x in enumerate(shape.unknowns) if abs(x.direction @ u) > 0.9),
            key=lambda k: shape.unknowns[k].value,
        )
        assert system.add({low: 1.0}, ("datum", low)) is None
    assert len(system.free_columns(6)) == 3


def test_a_part_that_lies_askew_in_its_file_has_its_own_frame():
    c, s = math.cos(0.3), math.sin(0.3)
    corner = [[0, 0], [80 * c, 80 * s], [80 * c - 50 * s, 80 * s + 50 * c], [-50 * s, 50 * c]]
    shape = shape_of(
        recipe({"op": "extrude", "profile": {"plane": "XY", "outer": {"polygon": corner}}, "distance": 12})
    )
    assert sorted(u.kind for u in shape.unknowns) == ["level"] * 6
    sizes = []
    for u in shape.frame:
        values = [x.value for x in shape.unknowns if abs(x.direction @ u) > 1 - 1e-9]
        sizes.append(max(values) - min(values))
    assert sorted(sizes) == pytest.approx([12, 50, 80])


def test_the_unknowns_of_a_hole_are_its_axis_radius_and_floor():
    plain, drilled = (
        shape_of(recipe(block(80, 50, 12))),
        shape_of(
            recipe(
                block(80, 50, 12), {"op": "hole", "at": [[30, 20, 12]], "axis": [0, 0, 1], "diameter": 8, "depth": 5}
            )
        ),
    )
    more = [u for u in drilled.unknowns if u.holder in ("axis", "floor") or u.kind == "radius"]
    assert len(drilled.unknowns) == len(plain.unknowns) + 4
    assert sorted(round(u.value, 6) for u in more) == [4, 7, 20, 30]


def test_equal_radii_and_depths_are_not_merged():
    shape = shape_of(
        recipe(
            block(80, 50, 12),
            {"op": "hole", "at": [[20, 20, 12], [60, 20, 12]], "axis": [0, 0, 1], "diameter": 8, "depth": 5},
        )
    )
    assert sum(u.kind == "radius" for u in shape.unknowns) == 2
    assert sum(u.holder == "floor" for u in shape.unknowns) == 2


def measured(measurer, mark):
    """The sizes that the second route finds for a statement, by part; lengths mm, angles degrees."""
    proof = measurer.prove(mark)
    return {p.name: p.measured for p in proof.parts if isinstance(p.measured, float) and p.name != "count"}


def changes(data):
    """The same part with one number of one step changed a little: every length and angle that may be."""

    unlike = {"angle", "density", "point", "axis", "direction", "near", "parallel", "normal"}

    def walk(node, path):
        items = node.items() if isinstance(node, dict) else enumerate(node)
        for key, value in items:
            if isinstance(value, dict | list):
                yield from walk(value, [*path, key])
            elif (
                isinstance(value, float | int)
                and not isinstance(value, bool)
                and abs(value) > 1
                and not unlike & {key, *path}
            ):
                yield [*path, key]

    for path in walk(data["steps"], []):
        other = copy.deepcopy(data)
        node = other["steps"]
        for key in path[:-1]:
            node = node[key]
        before = node[path[-1]]
        if "polygon" in path:
            # Neighbouring corners at one level stay at one level.
            for point in other["steps"][path[0]]["profile"]["outer"]["polygon"]:
                point[path[-1]] += 0.01 * (point[path[-1]] == before)
        else:
            node[path[-1]] += 0.01
        yield path, other


def _moved(a, b, middle, diagonal):
    """How far an unknown moved, mm; an angle by its arc at one diagonal. A leaning level counts from the middle of the part,
    about which its direction turns."""
    if a.kind == "level":
        return (b.value - float(b.direction @ middle)) - (a.value - float(a.direction @ middle))
    return (b.value - a.value) * (diagonal if a.kind in ("angle", "half-angle") else 1.0)


@pytest.mark.parametrize("name", PARTS)
def test_rows_foretell_what_the_second_route_measures_on_a_changed_part(name):
    """For every statement of a draft and every size of the part: the row times what moved is what the measure moved by."""
    data = PARTS[name]
    draft = draft_of(data)
    document, before = draft.document, model_of(data).solids
    marks = [a for a in document.annotations if is_statement(a) and a.refs]
    shape = PartShape(before[0])
    found = resolve_all([r for a in marks for r in a.refs], before[0])
    compared, now = 0, Remeasurer(document, before)
    for path, other in changes(data):
        after = model_of(other).solids
        then = Remeasurer(document, after)
        moved = PartShape(after[0])
        if [u.kind for u in moved.unknowns] != [u.kind for u in shape.unknowns]:
            continue
        diagonal = before[0].diagonal
        shift = [_moved(a, b, shape.middle, diagonal) for a, b in zip(shape.unknowns, moved.unknowns, strict=True)]
        if max(abs(s) for s in shift) > 0.5:
            continue  # faces came in another order
        for mark in marks:
            first, second = measured(now, mark), measured(then, mark)
            reading = now.prove(mark).reading
            for row in stated_rows(shape, document, mark, found):
                if row.part not in first or row.member or second.get(row.part) is None or reading is None:
                    continue
                foretold = sum(v * shift[k] for k, v in row.row.items())
                got = second[row.part] - first[row.part]
                if row.part.endswith("angle"):
                    got = math.radians(got) * diagonal
                if mark.kind in ("linear", "ordinate"):
                    foretold = abs(foretold) * np.sign(got or 1)
                assert foretold == pytest.approx(got, abs=2e-4), (path, mark.text, row)
                compared += abs(got) > 1e-3
    assert compared > 3


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_elimination_agrees_with_dense_rank_and_sums_are_true(data):
    count = data.draw(st.integers(2, 9))
    coefficient = st.integers(-3, 3).map(float)
    rows = data.draw(st.lists(st.lists(coefficient, min_size=count, max_size=count), min_size=1, max_size=12))
    system, kept = Elimination(), {}
    for n, dense in enumerate(rows):
        row = {k: v for k, v in enumerate(dense) if v}
        shares = system.add(row, n)
        kept[n] = np.array(dense)
        if shares is not None:
            assert sum((x * kept[m] for m, x in shares.items()), np.zeros(count)) == pytest.approx(kept[n], abs=1e-6)
    assert system.rank == np.linalg.matrix_rank(np.array(rows), tol=1e-6)
    for unknown, moves in system.free(count):
        way = np.array([moves.get(k, 0.0) for k in range(count)])
        assert way[unknown] == 1.0 and np.array(rows) @ way == pytest.approx(np.zeros(len(rows)), abs=1e-6)


@given(
    st.dictionaries(st.integers(0, 5), st.floats(-5, 5)),
    st.dictionaries(st.integers(0, 5), st.floats(-5, 5)),
    st.floats(-3, 3),
)
def test_rows_add_up(a, b, share):
    total = added(a, b, share)
    for k in set(a) | set(b):
        assert total.get(k, 0.0) == pytest.approx(a.get(k, 0.0) + share * b.get(k, 0.0), abs=1e-9)
    assert scaled(a, 0.0) == {}


def test_tangency_ties_a_round_to_its_walls():
    shape = shape_of(recipe(block(60, 40, 10), {"op": "round", "edges": {"near": [[60, 40, 5]]}, "radius": 6}))
    face = next(f for f in shape.solid.faces if f.kind == "cylinder")
    assert is_blend(shape.solid, face)
    system = fixed(shape)
    walls = {round(u.value): k for k, u in enumerate(shape.unknowns) if u.holder == "plane"}
    radius = shape.motions[face.index].radius
    # The axis stands one radius inside either wall: fixed by them and the radius, by nothing less.
    for u, unknown in shape.motions[face.index].axes:
        wall = walls[60] if abs(u[0]) > 0.9 else walls[40]
        assert system.spans({unknown: 1.0, wall: -1.0, radius: 1.0}) is not None
        assert system.spans({unknown: 1.0}) is None


def test_two_rounds_are_never_drawn_level_with_each_other():
    shape = shape_of(recipe(block(60, 40, 10), {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 6}))
    for level in drawn_levels(shape):
        assert not all(shape.unknowns[k].holder == "blend" for k in level.row)


def test_one_round_that_holes_interrupt_is_one_place():
    # A rounded edge that three slots cross: four pieces of one surface.
    cuts = [
        {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [x, 30, 6, 20]}}, "distance": 20, "mode": "cut"}
        for x in (15, 40, 65)
    ]
    solid = model_of(
        recipe(block(90, 40, 20), {"op": "round", "edges": {"near": [[45, 40, 20]]}, "radius": 4}, *cuts)
    ).solids[0]
    pieces = [f.index for f in solid.faces if f.kind == "cylinder"]
    assert len(pieces) == 4 and len(places(solid, pieces)) == 1


def test_three_thousand_unknowns_are_judged_in_one_go():
    """A chain of three thousand levels with a closing member: its whole sum comes back."""
    system = Elimination()
    system.add({0: 1.0}, "datum")
    for k in range(3000):
        assert system.add({k + 1: 1.0, k: -1.0}, k) is None
    assert not system.free_columns(3001)
    loop = system.add({3000: 1.0, 0: -1.0}, "overall")
    assert loop is not None and len([n for n in loop if n != "datum"]) == 3000
