"""Measuring, frames, masses, changes between revisions, twins, sanity and advice, against closed forms."""

import copy
import json
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.features.recognition import recognise
from canonis.core.features.report import feature_list
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import nearest_fraction
from canonis.core.recipe.build import build_recipe
from canonis.core.solid.extrema import thickness_at
from canonis.core.solid.making import moved, turned_about
from canonis.core.solid.reader import solid_from_shape
from canonis.core.source.checkpoints import read_checkpoint
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import rules_of
from canonis.core.study.adopt import lines_of
from canonis.core.study.advice import advise
from canonis.core.study.between import measure_between, measure_one
from canonis.core.study.changes import compare_solids
from canonis.core.study.choices import Limits, Pick
from canonis.core.study.differences import compare_features
from canonis.core.study.frames import FILE, Frame, corner_frame, frame_of_faces, frame_of_points
from canonis.core.study.masses import bodies_of, explain, mass_report, principal, reading_frames, together
from canonis.core.study.picks import target_of
from canonis.core.study.sanity import examine_solids
from canonis.core.study.stand import choose_frame, frame_on
from canonis.core.study.twin import compare_twin
from tests.conftest import PARTS, recipe
from tests.core.known_parts import PLATE, block, hole, near, rod, shape

ROUNDED_BLOCK = [
    block(60, 40, 20),
    {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 5},
    {"op": "chamfer", "edges": near([30, 0, 20]), "legs": [2, 2]},
]


def part(*steps):
    solid = solid_from_shape(build_recipe(recipe(*copy.deepcopy(steps))).shape, "part")
    return solid, recognise(solid)


def face(solid, kind, test):
    return next(f.index for f in solid.faces if f.kind == kind and test(f))


def flat(solid, normal, level):
    n = np.array(normal, dtype=float)
    return face(solid, "plane", lambda f: f.axis @ n > 1 - 1e-6 and abs(f.offset - level) < 1e-6)


def values(result):
    return {r["label"]: r["value"] for r in result["rows"]}


def between(solid, found, a, b, frame=FILE, unit=Unit.MM):
    targets = [target_of(Pick(**p), (solid,), (found,)) for p in (a, b)]
    return measure_between(*targets, frame, unit)


@settings(max_examples=15, deadline=None)
@given(st.floats(10, 80), st.floats(8, 60), st.floats(2, 8))
def test_two_bores_stand_as_far_apart_as_they_were_drilled(dx, dy, d):
    solid, found = part(block(120, 100, 15), hole([[15, 15, 15]], d), hole([[15 + dx, 15 + dy, 15]], d + 1))
    ids = [g.id for g in found.holes]
    got = values(between(solid, found, {"kind": "feature", "id": ids[0]}, {"kind": "feature", "id": ids[1]}))
    assert got["between the axes"] == pytest.approx(math.hypot(dx, dy), abs=1e-7)
    assert (got["along x"], got["along y"]) == pytest.approx((dx, dy), abs=1e-7)
    bores = [g.first.main_faces[0] for g in found.holes]
    walls = values(between(solid, found, {"kind": "face", "index": bores[0]}, {"kind": "face", "index": bores[1]}))
    assert walls["nearest"] == pytest.approx(max(0, math.hypot(dx, dy) - d - 0.5), abs=1e-6)
    assert walls["farthest"] == pytest.approx(math.hypot(math.hypot(dx, dy) + d + 0.5, 15), rel=2e-3)
    assert walls["angle"] == pytest.approx(0, abs=1e-9)


def test_planes_lines_and_angles():
    solid, found = part(
        {
            "op": "extrude",
            "profile": {"plane": "XZ", "outer": {"polygon": [[0, 0], [60, 0], [60, 20], [0, 50]]}},
            "distance": -40,
        }
    )
    slope = face(solid, "plane", lambda f: 0.1 < f.axis[2] < 0.95)
    got = values(
        between(solid, found, {"kind": "face", "index": slope}, {"kind": "face", "index": flat(solid, [0, 0, -1], 0)})
    )
    assert got["angle"] == pytest.approx(math.degrees(math.atan2(30, 60)))
    assert got["the other angle"] == pytest.approx(180 - got["angle"])
    assert got["nearest"] == pytest.approx(20)
    sides = between(
        solid,
        found,
        {"kind": "face", "index": flat(solid, [-1, 0, 0], 0)},
        {"kind": "face", "index": flat(solid, [1, 0, 0], 60)},
    )
    assert values(sides)["between the planes"] == pytest.approx(60) and sides["rows"][0]["main"]
    edge = next(e for e in solid.edges if set(e.faces) == {slope, flat(solid, [0, -1, 0], 0)})
    own = values(measure_one(target_of(Pick(kind="edge", index=edge.index), (solid,), (found,)), FILE, Unit.MM))
    assert own["length"] == pytest.approx(math.hypot(60, 30))


def test_the_true_edge_and_corner_that_a_round_or_a_chamfer_took_away():
    solid, found = part(*ROUNDED_BLOCK)
    chamfer = face(
        solid, "plane", lambda f: abs(f.axis[1] + math.sqrt(0.5)) < 1e-6 and abs(f.axis[2] - math.sqrt(0.5)) < 1e-6
    )
    back = {"kind": "face", "index": flat(solid, [0, 1, 0], 40)}
    assert values(between(solid, found, {"kind": "sharp", "index": chamfer}, back))[
        "from plane to axis"
    ] == pytest.approx(40)
    # The chamfer runs on around the rounded corners, so that the back face ends at z = 18.
    assert values(between(solid, found, {"kind": "face", "index": chamfer}, back))["nearest"] == pytest.approx(
        math.hypot(38, 2)
    )
    vertex = min(solid.edges, key=lambda e: np.linalg.norm(e.start - [0, 0, 0]))
    corner = target_of(Pick(kind="corner", index=vertex.index), (solid,), (found,))
    assert corner.point == pytest.approx([0, 0, 0], abs=1e-9)
    tube, tube_found = part(rod(20, 10))
    with pytest.raises(BadInput, match="between no two flat faces"):
        target_of(Pick(kind="sharp", index=face(tube, "cylinder", lambda f: True)), (tube,), (tube_found,))


def test_fractions_beside_decimals():
    assert nearest_fraction(2.6875 * 25.4, Unit.INCH) == {
        "text": "2 11/16 in",
        "exact": True,
        "off_mm": pytest.approx(0, abs=1e-9),
    }
    assert nearest_fraction(6.35, Unit.MM)["text"] == "1/4 in"
    near_half = nearest_fraction(12.8, Unit.MM)
    assert near_half["text"] == "1/2 in" and not near_half["exact"] and near_half["off_mm"] == pytest.approx(0.1)
    assert nearest_fraction(0.0, Unit.INCH)["text"] == "0 in"


def test_wall_thickness_behind_a_point():
    solid, _ = part(block(60, 40, 30), {"op": "shell", "open": {"normal": [0, 0, 1]}, "thickness": 2.5})
    assert thickness_at(solid, flat(solid, [-1, 0, 0], 0), np.array([0, 20, 15.0])) == pytest.approx(2.5)
    tube, _ = part(rod(50, 30), hole([[0, 0, 30]], 40))
    outside = face(tube, "cylinder", lambda f: not f.inner)
    assert thickness_at(tube, outside, np.array([25 * math.cos(1), 25 * math.sin(1), 15])) == pytest.approx(5)


def test_frames_hold_on_a_moved_revision_and_say_when_they_are_lost():
    solid, found = part(*ROUNDED_BLOCK, hole([[30, 20, 20]], 10))
    vertex = min(solid.edges, key=lambda e: np.linalg.norm(e.start - [60, 40, 0]))
    sharp = choose_frame("sharp-corner", [Pick(kind="vertex", index=vertex.index)], "", (solid,), (found,))
    frame, status = frame_on(sharp, (solid,))
    assert (
        status == "same"
        and frame.origin == pytest.approx([60, 40, 0])
        and frame.point([30, 20, 0]) == pytest.approx([-30, -20, 0])
    )
    axis = choose_frame("axis", [Pick(kind="feature", id=found.holes[0].id)], "", (solid,), (found,))
    assert frame_on(axis, (solid,))[0].origin == pytest.approx([30, 20, 20])
    wider, _ = part(
        block(62, 40, 20), {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 5}, hole([[30, 20, 20]], 10)
    )
    moved_frame, status = frame_on(sharp, (wider,))
    assert status == "moved" and moved_frame.origin == pytest.approx([62, 40, 0])
    lost, status = frame_on(axis, (part(block(5, 5, 5))[0],))
    assert status == "lost" and lost is FILE
    faces = [flat(solid, [-1, 0, 0], 0), flat(solid, [0, -1, 0], 0), flat(solid, [0, 0, -1], 0)]
    three = frame_of_faces(solid, faces)
    assert three.origin == pytest.approx([0, 0, 0]) and three.point([1, 2, 3]) == pytest.approx([1, 2, 3])
    for bad in ([faces[0]] * 3, [faces[0], flat(solid, [1, 0, 0], 60), faces[1]]):
        with pytest.raises(BadInput):
            frame_of_faces(solid, bad)
    with pytest.raises(BadInput, match="one line"):
        frame_of_points([np.zeros(3), np.ones(3), 2 * np.ones(3)])


@settings(max_examples=15, deadline=None)
@given(st.floats(10, 60), st.floats(10, 60), st.floats(10, 60), st.floats(-90, 90))
def test_moments_of_a_turned_block_about_centre_and_corner(w, d, h, turn):
    bare = build_recipe(recipe(block(w, d, h))).shape
    shape_ = moved(turned_about(bare, np.zeros(3), np.array([0, 0, 1.0]), turn), np.array([5.0, -7, 11]))
    (body,) = bodies_of([solid_from_shape(shape_, "block")], [2.0])
    m = w * d * h * 2 / 1000
    own = sorted([m / 12 * (d * d + h * h), m / 12 * (w * w + h * h), m / 12 * (w * w + d * d)])
    assert body.mass == pytest.approx(m) and principal(body.tensor)[0] == pytest.approx(own, rel=1e-6)
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    frame = frame_of_points([np.array([5.0, -7, 11]), np.array([5 + c, -7 + s, 11]), np.array([5 - s, -7 + c, 11])])
    entry = mass_report([body], frame, "mm g", 2)["bodies"][0]
    assert entry["centre_mm"] == pytest.approx([w / 2, d / 2, h / 2], abs=1e-6)
    assert entry["tensor_origin"][2][2] == pytest.approx(m / 3 * (w * w + d * d), rel=1e-6)
    assert entry["tensor_origin"][0][1] == pytest.approx(-m * w * d / 4, rel=1e-6)


def test_solids_together_with_their_own_materials_and_other_units():
    a, _ = part(block(10, 10, 10))
    b, _ = part({**block(10, 10, 10), "profile": {"plane": "XY", "outer": {"rect": [30, 0, 10, 10]}}})
    bodies = bodies_of([a, b], [8.0, 2.0])
    both = together(bodies)
    assert both.mass == pytest.approx(10.0) and both.centre == pytest.approx([0.8 * 5 + 0.2 * 35, 5, 5])
    rows = mass_report(bodies, FILE, "in lb", 4)["bodies"]
    assert len(rows) == 3 and rows[2]["rows"][2] == {"label": "Mass", "text": f"{10 / 453.59237:.4f}", "unit": "lb"}
    assert together(bodies_of([a, b], [8.0, None])).mass is None


def test_what_explains_a_mass_that_differs():
    solid, _ = part(PLATE)
    frames = reading_frames(solid)
    brass = 48 * 8.5

    def kinds(line, density=2.7, frame=FILE):
        return [
            e.kind
            for e in explain(
                solid.mass.volume, solid.mass.centre, density, read_checkpoint(line, Unit.MM), frame, frames
            )
        ]

    assert kinds(f"x | {48 * 2.7:.1f} g | 40, 25, 6") == []
    assert kinds(f"x | {brass:.1f} g") == ["S24"]
    assert "S22" in kinds("x | | -40, 25, 6")
    assert kinds("x | | -40.0, -25.0, 6.0", frame=FILE)[0] in ("S22", "S23")
    corner = corner_frame(solid, "right-back-top")
    assert "S23" in kinds("x | | 40.0, 25.0, 6.0", frame=corner)
    assert "S06" in kinds(f"x | {48 * 2.7 * 25.4**3:.0f} g")


def test_a_revision_says_what_changed_feature_by_feature_and_face_by_face():
    first = [
        PLATE,
        hole([[10, 10, 12], [70, 10, 12]], 6),
        hole([[40, 25, 12]], 10),
        shape({"rect": [20, 15, 12, 12]}, 12, -3),
    ]
    second = [
        PLATE,
        hole([[10, 10, 12], [70, 10, 12]], 7),
        hole([[42, 25, 12]], 10),
        {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": 4},
    ]
    (a, fa), (b, fb) = part(*first), part(*second)
    got = compare_solids(a, fa, b, fb)
    by = {c["change"]: c for c in got["features"]}
    assert "⌀6" in by["resized"]["text"] and "⌀7" in by["resized"]["text"]
    assert by["moved"]["text"] == "hole ⌀10 through moved by 2 mm"
    assert by["gone"]["kind"] == "pocket" and by["new"]["kind"] == "fillet"
    assert got["counts"]["lost"] >= 4 and got["counts"]["resized"] == 2 and len(got["new_faces"]) >= 4
    same = compare_solids(a, fa, a, fa)
    assert same["features"] == [] and same["counts"]["same"] == len(a.faces) and same["new_faces"] == []


def test_a_pattern_that_grows_is_a_change_of_count():
    (a, fa), (b, fb) = (
        part(PLATE, hole([[10, 10, 12], [70, 10, 12]], 6)),
        part(PLATE, hole([[10, 10, 12], [70, 10, 12], [10, 40, 12]], 6)),
    )
    (change,) = compare_features(feature_list(a, fa), feature_list(b, fb))
    assert change["change"] == "count" and change["text"].endswith("→ 3 of them")


def test_a_twin_shows_the_volume_that_only_one_has():
    (a, fa), (b, fb) = (
        part(PLATE, hole([[20, 25, 12]], 8)),
        part(PLATE, hole([[20, 25, 12]], 8), hole([[60, 25, 12]], 6), block(4, 4, 5, 0, 0, 12)),
    )
    got = compare_twin(a, fa, b, fb)
    assert got["only_model_mm3"] == pytest.approx(math.pi * 9 * 12, rel=1e-6) and got["only_twin_mm3"] == pytest.approx(
        80, rel=1e-6
    )
    lump = next(p for p in got["lumps"] if p["side"] == "model")
    assert lump["centre_mm"] == pytest.approx([60, 25, 6], abs=1e-4)
    assert compare_twin(a, fa, a, fa)["same"]


def rules_found(solids, found, **more):
    return [f.rule for f in examine_solids(solids, found, **more)]


def test_sanity_of_the_solid():
    plate, found = part(PLATE, hole([[20, 25, 12]], 8))
    assert rules_found([plate], [found]) == []
    assert rules_found([plate, solid_from_shape(plate.shape, "again", 1)], [found, found]) == ["solid.duplicate"]
    away = solid_from_shape(moved(plate.shape, np.array([2e5, 0, 0])), "away")
    assert "solid.far" in rules_found([away], [recognise(away)])
    sliver, f2 = part(
        PLATE, {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [80, 10, 0.004, 20]}}, "distance": 12}
    )
    assert "solid.sliver" in rules_found([sliver], [f2])
    assert rules_found([plate], [found], stated_mm=[80, 50, 12]) == []
    assert rules_found([plate], [found], stated_mm=[80 / 25.4, 50 / 25.4, 12 / 25.4]) == ["unit.factor"]


def test_a_body_that_cuts_through_itself_is_found():
    # Two crossing bars written as one shell set: their faces pass through one another.
    from OCP.BRep import BRep_Builder
    from OCP.TopAbs import TopAbs_SHELL
    from OCP.TopExp import TopExp_Explorer
    from OCP.TopoDS import TopoDS, TopoDS_Solid

    from canonis.core.solid.validity import intersects_itself

    made, builder = TopoDS_Solid(), BRep_Builder()
    builder.MakeSolid(made)
    for steps in ([block(60, 10, 10)], [block(10, 60, 10, 20, -20, 3)]):
        builder.Add(made, TopoDS.Shell_s(TopExp_Explorer(build_recipe(recipe(*steps)).shape, TopAbs_SHELL).Current()))
    assert intersects_itself(made, 12)
    assert not intersects_itself(build_recipe(recipe(block(10, 10, 10))).shape, 6)


@pytest.mark.parametrize(
    ("steps", "limits", "rule"),
    [
        (
            [block(60, 40, 30), hole([[60, 20, 15]], 10, axis=(1, 0, 0)), shape({"rect": [25, 0, 10, 40]}, 30, -18)],
            {},
            "make.broken-bore",
        ),
        ([PLATE, shape({"rect": [10, 10, 60, 30]}, 12, -11.4)], {}, "make.thin-wall"),
        ([PLATE, hole([[20, 25, 12]], 8), hole([[28.5, 25, 12]], 8)], {}, "make.thin-wall"),
        ([PLATE, shape({"rect": [20, 15, 40, 20]}, 12, -5)], {}, "make.sharp-inside"),
        ([PLATE, hole([[5, 25, 12]], 8)], {}, "make.near-edge"),
        ([block(30, 30, 90), hole([[15, 15, 90]], 5, depth=60)], {}, "make.deep-drill"),
        ([PLATE, hole([[40, 25, 12]], 6.8, depth=4)], {}, "make.shallow-thread"),
        ([PLATE], {"process": "moulded"}, "make.draft"),
        (
            [block(60, 40, 30), {"op": "shell", "open": {"normal": [0, 0, 1]}, "thickness": 2}],
            {"process": "cast"},
            "make.sharp-corner",
        ),
        ([block(60, 40, 6), block(60, 3, 30), block(3, 40, 30)], {"process": "moulded"}, "make.uneven-walls"),
    ],
)
def test_making_advice(steps, limits, rule):
    solid, found = part(*steps)
    advice = advise([solid], [found], Limits(**limits))
    assert rule in [a.rule for a in advice] and {a.severity for a in advice} == {"advice"}


def test_a_sound_part_gets_no_advice():
    solid, found = part(block(80, 50, 20), hole([[20, 25, 20], [60, 25, 20]], 9))
    assert advise([solid], [found], Limits()) == []


@pytest.mark.parametrize("name", ["escapement-cock", "valve-block"])
def test_a_model_taken_for_the_source_gives_lines_that_read(name):
    data = json.loads((PARTS / f"{name}.json").read_text())
    solid = solid_from_shape(build_recipe(data).shape, name)
    unit = Unit(data["unit"])
    lines = lines_of(solid, recognise(solid), unit)
    read = [read_line(line["text"], rules_of({"unit": str(unit)})) for line in lines]
    assert len(lines) > 12 and [r.text for r in read if r.error] == []
    sizes = {round(float(p.nominal), 4) for r in read for p in r.parts if p.nominal is not None and not p.angle}
    assert {round(float(c), 4) for c in solid.size} <= sizes


def test_a_frame_turns_points_and_directions():
    frame = Frame("f", np.array([1.0, 2, 3]), np.array([0, 1.0, 0]), np.array([-1.0, 0, 0]), np.array([0, 0, 1.0]))
    assert frame.point([1, 5, 3]) == pytest.approx([3, 0, 0]) and frame.vector([1, 0, 0]) == pytest.approx([0, -1, 0])
