"""What counts as parallel, level and the same place is said in one module, and asked by name."""

import ast
import math
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core import tolerances
from canonis.core.tolerances import (
    ALIGNED,
    FINE,
    JOINED,
    NOISE,
    NOTHING,
    PARALLEL,
    ROUNDING,
    SAME,
    SQUARE,
    ZERO,
    faces_along,
    on_axis,
    opposed,
    parallel,
    runs_across,
    runs_along,
    same,
    same_place,
    same_way,
    square,
)

CORE = Path(tolerances.__file__).parent
#: Folders that read and write numbers rather than measure geometry.
WRITING = ("callout", "quantity", "source", "slips")
#: The strongest comparisons that are of lengths or cosines and not of shares.
LEAST = 2e-3


def turned(way, degrees):
    """A direction, and the same turned by an angle about some axis across it."""
    way = way / np.linalg.norm(way)
    seed = np.eye(3)[int(np.argmin(np.abs(way)))]
    across = np.cross(way, seed)
    across /= np.linalg.norm(across)
    a = math.radians(degrees)
    return way, way * math.cos(a) + across * math.sin(a)


directions = st.tuples(*[st.floats(-1, 1)] * 3).filter(lambda v: math.hypot(*v) > 0.1).map(np.array)


@given(directions, st.floats(0, 0.07))
def test_a_careless_hand_is_still_parallel(way, degrees):
    a, b = turned(way, degrees)
    assert parallel(a, b) and parallel(a, -b) and same_way(a, b) and opposed(a, -b)
    assert not same_way(a, -b) and not opposed(a, b) and not square(a, b)
    assert runs_along(float(a @ b)) and faces_along(float(a @ b)) and not faces_along(-float(a @ b))


@given(directions, st.floats(0.1, 89.9))
def test_the_least_taper_is_neither_parallel_nor_square(way, degrees):
    a, b = turned(way, degrees)
    assert not parallel(a, b) and not same_way(a, b) and not opposed(a, -b) and not square(a, b)
    assert not runs_along(float(a @ b)) and not runs_across(float(a @ b))


@given(directions)
def test_a_right_angle_is_square(way):
    a, b = turned(way, 90)
    assert square(a, b) and runs_across(float(a @ b)) and not parallel(a, b)


@given(directions, st.floats(0.004, 0.07))
def test_a_level_is_not_read_along_what_leans(way, degrees):
    a, b = turned(way, degrees)
    assert parallel(a, b) and not parallel(a, b, ALIGNED)


@pytest.mark.parametrize("k", range(3))
@pytest.mark.parametrize("sense", (1.0, -1.0))
def test_the_model_s_axes(k, sense):
    way = np.eye(3)[k] * sense
    assert on_axis(way) and on_axis(way, ROUNDING)
    assert not on_axis(turned(way, 0.2)[1])


@given(st.floats(-5000, 5000), st.floats(0, 1.9), st.sampled_from((SAME, JOINED, FINE, NOISE)))
def test_sizes_are_one_within_what_is_said_and_not_beyond(size, share, within):
    # Doubles of some metres are themselves a billionth of a millimetre apart.
    assert share > 0.99 or same(size, size + share * within, within)
    assert share < 1.01 or not same(size, size + share * within, within)
    here = np.array([size, 0.0, -size])
    assert share > 0.99 or same_place(here, here + np.array([0.0, share * within, 0.0]), within)
    assert share < 1.01 or not same_place(here, here + np.array([0.0, share * within, 0.0]), within)


def test_each_strength_is_stronger_than_the_one_before():
    assert SAME > JOINED > FINE > NOISE > NOTHING > ZERO
    assert PARALLEL > ALIGNED > ROUNDING
    assert SQUARE <= PARALLEL


def bare(tree):
    """The lines where a small number stands in a comparison and is no share of something."""
    parents = {child: node for node in ast.walk(tree) for child in ast.iter_child_nodes(node)}
    for node in ast.walk(tree):
        if not isinstance(node, ast.Constant) or not isinstance(node.value, float) or not 0 < node.value <= LEAST:
            continue
        above, share = parents[node], False
        while not isinstance(above, ast.Compare | ast.stmt | ast.Call):
            share |= isinstance(above, ast.BinOp) and isinstance(above.op, ast.Mult | ast.Div | ast.Pow)
            above = parents[above]
        if isinstance(above, ast.Compare) and not share:
            yield node.lineno


def test_the_search_finds_what_it_looks_for():
    assert list(bare(ast.parse("a = abs(x - y) < 1e-6"))) == [1]
    assert list(bare(ast.parse("a = x > top - 1e-6"))) == [1]
    assert not list(bare(ast.parse("a = abs(x - y) < 1e-6 * y")))
    assert not list(bare(ast.parse("a = x > 0.5")))


def test_no_module_of_the_core_holds_itself_to_a_number_of_its_own():
    found = [
        f"{path.relative_to(CORE)}:{line}"
        for path in sorted(CORE.rglob("*.py"))
        if path.parent.name not in WRITING and path.parents[1].name not in WRITING and path.name != "tolerances.py"
        for line in bare(ast.parse(path.read_text()))
    ]
    assert not found, found
