"""Faces as they are read from the kernel: kind, size, side, sweep and area against closed forms, wherever the part lies."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.solid import face_reference, parse, resolve_all
from canonis.core.tolerances import parallel, same_place
from tests.conftest import model_of, recipe

sizes = st.integers(4, 60).map(lambda n: n / 2)


def turned(outline, at=(0.0, 0.0)):
    """A body turned about the x axis: an outline of (along, radius) corners, moved along by `at`."""
    points = [[x + at[0], r] for x, r in outline]
    return recipe(
        {
            "op": "revolve",
            "profile": {"plane": "XY", "outer": {"polygon": points}},
            "axis": {"point": [0, 0, 0], "direction": [1, 0, 0]},
        }
    )


def tube(r, wall, length, at=0.0):
    return turned([(0, r), (length, r), (length, r + wall), (0, r + wall)], (at, 0))


def of(solid, kind):
    return [f for f in solid.faces if f.kind == kind]


@settings(max_examples=15, deadline=None)
@given(sizes, sizes, sizes, st.integers(-50, 50))
def test_a_tube_has_a_wall_inside_and_one_outside(r, wall, length, at):
    solid = model_of(tube(r, wall, length, at)).solids[0]
    inside, outside = sorted(of(solid, "cylinder"), key=lambda f: f.radius)
    assert (inside.inner, outside.inner) == (True, False)
    for face, radius in ((inside, r), (outside, r + wall)):
        assert face.radius == pytest.approx(radius) and face.area == pytest.approx(2 * math.pi * radius * length)
        assert face.sweep == pytest.approx(2 * math.pi)
        assert parallel(face.axis, np.array([1.0, 0, 0]))
        low, high = sorted(float(face.origin @ [1, 0, 0]) + s * float(face.axis[0]) for s in face.span)
        assert (low, high) == (pytest.approx(at, abs=1e-6), pytest.approx(at + length, abs=1e-6))
    ends = of(solid, "plane")
    assert sorted(round(float(f.origin[0]), 6) for f in ends) == pytest.approx([at, at + length])
    for face in ends:
        # A flat face looks out of the material.
        assert float(face.axis[0]) == pytest.approx(1 if face.origin[0] > at + length / 2 else -1)
        assert face.area == pytest.approx(math.pi * ((r + wall) ** 2 - r**2))
        assert len(face.inner_loops) == 1


@settings(max_examples=12, deadline=None)
@given(sizes, st.integers(1, 20), sizes)
def test_a_cone_opens_from_its_apex(small, more, length):
    solid = model_of(turned([(0, 0), (length, 0), (length, small + more), (0, small)])).solids[0]
    (cone,) = of(solid, "cone")
    half = math.atan2(more, length)
    assert cone.half_angle == pytest.approx(half) and not cone.inner
    apex = np.array([-small / math.tan(half), 0, 0])
    assert same_place(cone.origin, apex, 1e-5)
    assert float(cone.axis[0]) == pytest.approx(1)
    assert cone.span == (pytest.approx(-apex[0], abs=1e-5), pytest.approx(length - apex[0], abs=1e-5))
    slant = math.hypot(more, length)
    assert cone.area == pytest.approx(math.pi * (2 * small + more) * slant)


@settings(max_examples=12, deadline=None)
@given(sizes, sizes, sizes, st.tuples(*[st.integers(-20, 20)] * 3))
def test_a_face_is_found_again_by_its_reference_wherever_it_stands(w, d, h, at):
    part = recipe(
        {
            "op": "extrude",
            "profile": {"plane": "XY", "outer": {"rect": [at[0], at[1], w, d]}, "offset": at[2]},
            "distance": h,
        }
    )
    solid = model_of(part).solids[0]
    refs = [face_reference(f) for f in solid.faces]
    assert len(set(refs)) == 6
    found = resolve_all(refs, solid)
    for face, ref in zip(solid.faces, refs, strict=True):
        assert found[ref].status == "same" and found[ref].faces == (face.index,)
        assert parse(ref).kind == "plane"
        assert face.area == pytest.approx({0: d * h, 1: w * h, 2: w * d}[int(np.argmax(np.abs(face.axis)))])
    assert solid.size == pytest.approx((w, d, h))
    assert solid.mass.volume == pytest.approx(w * d * h) and solid.valid


@settings(max_examples=10, deadline=None)
@given(st.integers(20, 60), st.integers(2, 8))
def test_a_rounded_edge_is_a_quarter_turn_outside_and_a_fillet_inside(size, r):
    ell = [[0, 0], [2 * size, 0], [2 * size, size], [size, size], [size, 2 * size], [0, 2 * size]]
    part = recipe(
        {"op": "extrude", "profile": {"plane": "XY", "outer": {"polygon": ell}}, "distance": 10},
        {"op": "round", "edges": {"parallel": [0, 0, 1]}, "radius": r},
    )
    solid = model_of(part).solids[0]
    rounds = of(solid, "cylinder")
    assert len(rounds) == 6
    assert sum(f.inner for f in rounds) == 1
    for face in rounds:
        assert face.radius == pytest.approx(r) and face.sweep == pytest.approx(math.pi / 2)
        assert face.area == pytest.approx(math.pi / 2 * r * 10)
    corner = (1 - math.pi / 4) * r * r * 10
    assert solid.mass.volume == pytest.approx(3 * size * size * 10 - 4 * corner)
