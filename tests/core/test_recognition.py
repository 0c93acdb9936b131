"""Parts of known features are recognised completely, in any position, unit and face splitting."""

import json
import math
from functools import cache

import numpy as np
import pytest

from canonis.core.features.report import measure_model
from canonis.core.quantity.units import Unit
from canonis.core.recipe.build import build_recipe
from canonis.core.solid.making import mirrored, moved, turned_about, write_step
from canonis.core.solid.reader import read_model
from tests.conftest import recipe
from tests.core.known_parts import PARTS

#: Kinds that may turn up beside what a part was made for: a plate is a wall to somebody.
INCIDENTAL = {"flat", "wall", "draft"}
POSES = ("as built", "turned", "mirrored", "inch", "split")


def _split(shape):
    """The same body as exporters write it that split faces: cut in two and sewn without merging."""
    from OCP.BRepAlgoAPI import BRepAlgoAPI_Common, BRepAlgoAPI_Cut, BRepAlgoAPI_Fuse
    from OCP.BRepPrimAPI import BRepPrimAPI_MakeBox
    from OCP.gp import gp_Pnt

    half = BRepPrimAPI_MakeBox(gp_Pnt(-500, -500, -500), gp_Pnt(13.7, 500, 500)).Shape()
    return BRepAlgoAPI_Fuse(BRepAlgoAPI_Common(shape, half).Shape(), BRepAlgoAPI_Cut(shape, half).Shape()).Shape()


def _turn(axis, degrees):
    x, y, z = np.asarray(axis) / np.linalg.norm(axis)
    c, s = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    k = np.array([[0, -z, y], [z, 0, -x], [-y, x, 0]])
    return np.eye(3) * c + s * k + (1 - c) * np.outer([x, y, z], [x, y, z])


@cache
def body(name):
    return build_recipe(recipe(*json.loads(json.dumps(PARTS[name][0])))).shape


def posed(name, pose):
    """The features of a part in a pose, and the pose as matrix and shift."""
    shape, unit, matrix, shift = body(name), Unit.MM, np.eye(3), np.zeros(3)
    if pose == "turned":
        matrix, shift = _turn([1, 2, 3], 37), np.array([140.0, -60.0, 25.0])
        shape = moved(turned_about(shape, np.zeros(3), np.array([1.0, 2, 3]), 37), shift)
    elif pose == "mirrored":
        matrix = np.diag([1.0, -1.0, 1.0]) @ _turn([0, 1, 0], 90)
        shape = mirrored(
            turned_about(shape, np.zeros(3), np.array([0, 1.0, 0]), 90), np.zeros(3), np.array([0, 1.0, 0])
        )
    elif pose == "inch":
        unit = Unit.INCH
    elif pose == "split":
        shape = _split(shape)
    model = read_model(write_step(shape, "part", unit), "part.step")
    return measure_model(model)["features"], matrix, shift


def _same(want, got):
    if isinstance(want, dict):
        return isinstance(got, dict) and all(_same(v, got.get(k)) for k, v in want.items())
    if isinstance(want, list):
        return isinstance(got, list) and len(want) == len(got) and all(map(_same, want, got))
    if isinstance(want, bool) or want is None or isinstance(want, str):
        return want == got
    return isinstance(got, int | float) and got == pytest.approx(want, rel=1e-5, abs=1e-4)


def _matches(want, got, matrix, shift, mirror):
    for key, value in want.items():
        have = got.get(key)
        if key == "pattern":
            good = have is not None and have["kind"] == value
        elif key == "axis":
            good = _same(list(matrix @ np.array(value, dtype=float)), have)
        elif key == "positions_mm":
            wanted = [list(matrix @ np.array(p) + shift) for p in value]
            good = len(wanted) == len(have) and all(any(_same(w, h) for h in have) for w in wanted)
        elif key == "hand" and mirror:
            good = {"right": "left", "left": "right"}[value] == have
        else:
            good = _same(value, have)
        if not good:
            return False
    return True


def differences(name, pose):
    """What a part was made with and is not found, and what is found beside it."""
    features, matrix, shift = posed(name, pose)
    left = list(features)
    missing = []
    for want in PARTS[name][1]:
        hit = next((f for f in left if _matches(want, f, matrix, shift, pose == "mirrored")), None)
        if hit:
            left.remove(hit)
        else:
            missing.append(want)
    return missing, [f for f in left if f["kind"] not in INCIDENTAL]


@pytest.mark.parametrize("name", PARTS)
def test_a_known_part_is_recognised_completely(name):
    # Each part in one pose by its place in the list: over all parts every pose comes up many times.
    pose = POSES[list(PARTS).index(name) % len(POSES)]
    missing, extra = differences(name, pose)
    assert not missing and not extra, f"{pose}: missing {missing}, extra {extra}"
