"""Arrangements of holes: rows, grids, rings, staggered, with members missing, in any position."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.features.patterns import find_pattern

UP = np.array([0.0, 0, 1])


def turned(points, angle, shift):
    a = math.radians(angle)
    m = np.array([[math.cos(a), -math.sin(a), 0], [math.sin(a), math.cos(a), 0], [0, 0, 1]])
    return np.array(points) @ m.T + shift


def grid(columns, rows, px, py, skip=()):
    return [[px * c, py * r, 0.0] for r in range(rows) for c in range(columns) if (c, r) not in skip]


def ring(count, diameter, start=0.0, skip=()):
    return [
        [
            diameter / 2 * math.cos(math.radians(start + 360 * k / count)),
            diameter / 2 * math.sin(math.radians(start + 360 * k / count)),
            0.0,
        ]
        for k in range(count)
        if k not in skip
    ]


@settings(max_examples=25, deadline=None)
@given(st.integers(2, 7), st.integers(5, 40), st.sampled_from([0, 90, 30, 45]))
def test_rows(count, pitch, angle):
    found = find_pattern(turned([[pitch * k, 0, 0] for k in range(count)], angle, [3, 4, 5]), UP)
    assert found.kind == "linear" and found.data["count"] == count and found.data["pitch_mm"] == pytest.approx(pitch)


@settings(max_examples=25, deadline=None)
@given(st.integers(3, 7), st.integers(3, 5), st.integers(5, 30), st.integers(6, 30))
def test_grids(columns, rows, px, py):
    found = find_pattern(np.array(grid(columns, rows, px, py)), UP)
    assert found.kind == "grid" and found.data["missing"] == 0
    said = sorted(zip(found.data["count"], [round(p, 6) for p in found.data["pitch_mm"]], strict=True))
    assert said == sorted([(columns, px), (rows, py)])


def test_a_grid_with_a_member_missing_is_still_that_grid():
    found = find_pattern(np.array(grid(5, 4, 12, 10, skip={(2, 1)})), UP)
    assert (found.kind, found.data["missing"], sorted(found.data["count"])) == ("grid", 1, [4, 5])


@settings(max_examples=25, deadline=None)
@given(st.integers(3, 12), st.integers(20, 90), st.integers(0, 89))
def test_rings(count, diameter, start):
    found = find_pattern(turned(ring(count, diameter, start), 0, [7, -3, 2]), UP)
    if count == 4:
        # Four on a circle may be called a square grid as well.
        assert found.kind in ("circular", "grid")
        return
    assert found.kind == "circular" and found.data["count"] == count and found.data["missing"] == 0
    assert found.data["diameter_mm"] == pytest.approx(diameter) and found.data["centre_mm"] == pytest.approx([7, -3, 2])


@pytest.mark.parametrize(("count", "skip"), [(6, {2}), (8, {0, 3}), (9, {4})])
def test_rings_with_members_missing(count, skip):
    found = find_pattern(np.array(ring(count, 50, 10, skip)), UP)
    assert (found.kind, found.data["count"], found.data["missing"]) == ("circular", count - len(skip), len(skip))


def test_what_has_no_order_has_no_pattern():
    found = find_pattern(np.array([[0.0, 0, 0], [11, 3, 0], [29, 17, 0], [5, 31, 0], [40, 2, 0]]), UP)
    assert found is None
    assert find_pattern(np.array([[0.0, 0, 0]]), UP) is None
