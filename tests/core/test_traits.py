"""What is true of a whole part: levels, symmetry, turned profiles; hints on holes; random parts against closed forms."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.bench.measure import drilled_plate
from canonis.core.features.recognition import recognise
from canonis.core.features.report import feature_list, measure_model
from canonis.core.solid.mesh import mesh_of
from canonis.core.solid.reader import read_model, solid_from_shape
from canonis.core.solid.references import face_reference, resolve_all
from canonis.core.source.specification import rules_of
from canonis.core.study.cover import covered
from tests.conftest import model_of, real_part, recipe
from tests.core.known_parts import PLATE, block, hole, ring, rod, shape, turned


def report(*steps, **more):
    return measure_model(model_of(recipe(*steps, **more)))


def planes(entry):
    return {tuple(np.round(np.abs(p["normal"]), 4)): p for p in entry["symmetry"]}


def test_levels_and_symmetry_of_a_plate_and_what_breaks_it():
    even = report(PLATE, hole([[20, 25, 12], [60, 25, 12]], 8))["solids"][0]
    assert {tuple(f["levels_mm"]) for f in even["levels"]} == {(0, 80), (0, 50), (0, 12)}
    found = planes(even)
    assert all(found[n]["complete"] for n in ((1, 0, 0), (0, 1, 0), (0, 0, 1)))
    assert found[1, 0, 0]["offset_mm"] == pytest.approx(40)
    odd = report(PLATE, hole([[20, 25, 12], [60.4, 25, 12]], 8))
    broken = planes(odd["solids"][0])[1, 0, 0]
    # The two holes, one off by 0.4 mm, break it, and nothing else does.
    assert not broken["complete"] and broken["broken_by"] == ["H1"]


def test_a_turned_part_has_an_axis_and_steps():
    entry = report(turned((0, 0), (20, 0), (20, 10), (12, 10), (12, 40), (0, 40)))["solids"][0]
    assert entry["turned"]["axis"] == [0, 0, 1]
    assert entry["turned"]["profile"] == [
        {"from_mm": 0, "to_mm": 10, "diameters_mm": [40, 40]},
        {"from_mm": 10, "to_mm": 40, "diameters_mm": [24, 24]},
    ]
    assert report(PLATE)["solids"][0]["turned"] is None


def test_hints_name_tap_drills_centre_drills_and_odd_members():
    features = report(PLATE, hole([[40, 25, 12]], 6.8))["features"]
    assert next(f for f in features if f["kind"] == "hole")["tapped_guess"] == ["M8"]
    centre = hole([[0, 0, 40]], 3.15, depth=4, point=118, countersink={"diameter": 6.7, "angle": 60})
    (drilled,) = [f for f in report(rod(30, 40), centre)["features"] if f["kind"] == "hole"]
    assert drilled["centre_drill"] is True
    features = report(rod(80, 10), {"name": "h", **hole([[30, 0, 10]], 6)}, ring(["h"], 9), hole([[30, 0, 10]], 8))[
        "features"
    ]
    eight = next(f for f in features if f["kind"] == "hole" and f["count"] == 8)
    odd = next(f for f in features if f["kind"] == "hole" and f["count"] == 1)
    assert eight["differing"] == [{"feature": odd["id"], "count": 1}] and eight["pattern"]["missing"] == 1


def test_holes_in_no_other_pattern_can_mirror_one_another():
    spots = [[10, 10, 12], [70, 10, 12], [25, 35, 12], [55, 35, 12]]
    (found,) = [f for f in report(PLATE, hole(spots, 5))["features"] if f["kind"] == "hole"]
    assert found["pattern"] is None and found["mirrored"] == {"normal": [1, 0, 0], "offset_mm": 40}
    (odd,) = [f for f in report(PLATE, hole([*spots[:3], [57, 35, 12]], 5))["features"] if f["kind"] == "hole"]
    assert "mirrored" not in odd


SIZES = st.floats(3, 8).map(lambda x: round(x, 2))


@settings(max_examples=12, deadline=None)
@given(
    st.tuples(st.floats(60, 140), st.floats(40, 90), st.floats(12, 40)), SIZES, SIZES, st.floats(1, 4), st.booleans()
)
def test_random_prismatic_parts_against_closed_forms(box, bore, slot, pocket, through):
    w, d, h = (round(x, 1) for x in box)
    depth = round(h * 0.4, 2)
    steps = [
        block(w, d, h),
        hole([[12, 12, h], [w - 12, 12, h]], bore, **({} if through else {"depth": depth, "point": 0})),
        shape({"slot": [20, d - 12, 30, d - 12, slot]}, h, -depth),
        shape({"rect": [w / 2 - 8, 12, 16, d - 34]}, h, -pocket),
    ]
    model = model_of(recipe(*steps))
    solid = model.solids[0]
    drilled = 2 * math.pi / 4 * bore**2 * (h if through else depth)
    slotted = (10 * slot + math.pi / 4 * slot**2) * depth
    assert solid.mass.volume == pytest.approx(w * d * h - drilled - slotted - 16 * (d - 34) * pocket, rel=1e-9)
    features = {f["kind"]: f for f in measure_model(model)["features"]}
    assert features["hole"]["count"] == 2 and features["hole"]["diameter_mm"] == pytest.approx(bore, rel=1e-6)
    assert features["hole"]["through"] is through
    assert features["slot"]["width_mm"] == pytest.approx(slot) and features["slot"]["centres_mm"] == pytest.approx(10)
    assert features["pocket"]["depth_mm"] == pytest.approx(pocket)
    assert sorted([features["pocket"]["width_mm"], features["pocket"]["length_mm"]]) == pytest.approx(
        sorted([16, d - 34])
    )
    assert set(features) <= {"hole", "slot", "pocket", "flat", "wall"}
    _every_reference_is_itself(solid)


@settings(max_examples=12, deadline=None)
@given(st.lists(st.tuples(st.integers(8, 30), st.integers(5, 30)), min_size=2, max_size=5), st.floats(2, 6))
def test_random_turned_parts_against_closed_forms(steps, bore):
    points, z = [(bore, 0.0)], 0.0
    for k, (radius, length) in enumerate(steps):
        # Neighbouring steps must differ, or they are one.
        r = radius + 0.5 * (k % 2)
        points += [(r, z), (r, z + length)]
        z += length
    model = model_of(recipe(turned(*points, (bore, z))))
    solid = model.solids[0]
    radii = [points[1 + 2 * k][0] for k in range(len(steps))]
    volume = sum(math.pi * (r**2 - bore**2) * length for r, (_, length) in zip(radii, steps, strict=True))
    assert solid.mass.volume == pytest.approx(volume, rel=1e-9)
    report = measure_model(model)
    (hole_found,) = [f for f in report["features"] if f["kind"] == "hole"]
    assert hole_found["diameter_mm"] == pytest.approx(2 * bore) and hole_found["through"]
    shafts = [f for f in report["features"] if f["kind"] in ("shaft", "boss", "groove")]
    assert sorted(f["diameter_mm"] for f in shafts for _ in range(f["count"])) == pytest.approx(
        sorted(2 * r for r in radii)
    )
    profile = report["solids"][0]["turned"]["profile"]
    assert [p["to_mm"] - p["from_mm"] for p in profile] == pytest.approx([length for _, length in steps])
    assert report["solids"][0]["faces_unowned"] == 0
    _every_reference_is_itself(solid)


def _every_reference_is_itself(solid):
    names = {f.index: face_reference(f) for f in solid.faces if f.kind in ("plane", "cylinder", "cone", "torus")}
    resolved = resolve_all(names.values(), solid)
    assert all(resolved[name].status == "same" and resolved[name].faces == (f,) for f, name in names.items())
    owner = recognise(solid).owner
    assert set(owner) == {f.index for f in solid.faces}


def test_default_notes_cover_the_rounds_and_chamfers_they_state():
    rules = rules_of({"unit": "mm"})
    features = [
        {"id": "F1", "kind": "fillet", "radius_mm": 3.0},
        {"id": "F2", "kind": "fillet", "radius_mm": 5.0},
        {"id": "C1", "kind": "chamfer", "legs_mm": [0.5, 0.5]},
        {"id": "H1", "kind": "hole"},
    ]
    got = covered(features, ["rounds R3", " 0.5 x 45°", "deburr"], rules)
    assert [(c["id"], c["note"]) for c in got] == [("F1", "rounds R3"), ("C1", " 0.5 x 45°")]
    assert covered(features, [""], rules) == []


def test_faces_with_colours_of_their_own_are_told_apart():
    model = read_model(real_part("step_boundary_colors.stp"), "cube.stp")
    colours = measure_model(model)["solids"][0]["colours"]
    assert sum(len(c["faces"]) for c in colours) == 6 and colours[0]["rgb"] is None
    assert {tuple(c["rgb"]) for c in colours[1:]} == {(255, 0, 0), (0, 255, 0), (0, 128, 255)}
    assert "colours" not in report(PLATE)["solids"][0]


def test_a_face_with_hundreds_of_holes_is_drawn_whole():
    model = model_of(drilled_plate(150))
    solid = model.solids[0]
    mesh = mesh_of(solid)
    corners = np.array(mesh["positions"]).reshape(-1, 3)[np.array(mesh["triangles"])].reshape(-1, 3, 3)
    crosses = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    owners = np.array(mesh["faces"])
    for f in solid.faces:
        mine = crosses[owners == f.index]
        assert np.linalg.norm(mine, axis=1).sum() / 2 == pytest.approx(f.area, rel=0.03)
        if f.kind == "plane":
            assert np.all(mine @ f.axis > 0)
    # The triangles close: the volume under them is the body's, chords for arcs.
    assert np.einsum("ij,ij->i", corners[:, 0], crosses).sum() / 6 == pytest.approx(solid.mass.volume, rel=0.01)
    assert sorted(mesh["edge_index"]) == [e.index for e in solid.edges if e.dihedral in ("convex", "concave")]


def test_a_round_of_varying_radius_is_named_as_such():
    from OCP.BRepFilletAPI import BRepFilletAPI_MakeFillet

    solid = model_of(recipe(PLATE)).solids[0]
    edge = next(e for e in solid.edges if np.allclose(e.middle, [40, 0, 12]))
    maker = BRepFilletAPI_MakeFillet(solid.shape)
    maker.Add(2.0, 5.0, solid.wire_pieces[edge.index])
    found = feature_list(*(lambda s: (s, recognise(s)))(solid_from_shape(maker.Shape(), "varying")))
    (blend,) = [f for f in found if f["kind"] == "fillet"]
    assert blend["variable"] is True and blend["convex"] is True and blend["radius_mm"] is None
    assert (blend["radius_min_mm"], blend["radius_max_mm"]) == pytest.approx((2, 5), rel=5e-3)
