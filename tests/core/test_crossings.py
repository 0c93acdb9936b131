"""Where one curve of a view passes under another: points against closed forms, at any height and lean."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from canonis.core.view.crossings import crossings
from canonis.core.view.curves import Maker

CHORD, SAME = 0.01, 1e-4
place = st.floats(-40, 40).map(lambda c: round(c, 3))
spot = st.tuples(place, place)


def line(maker, a, b, low, high):
    maker.line(np.array([*a, low], dtype=float), np.array([*b, high], dtype=float))


def circle(maker, centre, radius, height):
    maker.conic(
        np.array([*centre, height], dtype=float),
        np.array([radius, 0.0, 0.0]),
        np.array([0.0, radius, 0.0]),
        0.0,
        2 * math.pi,
    )


def met(maker, under, over):
    """Where curves are passed under, as points of the plane, in the order of the curve below."""
    curves = maker.made()
    which = [np.array(ks, dtype=np.int64) for ks in (under, over)]
    pieces = [(ks, curves.lo[ks], curves.hi[ks]) for ks in which]
    k, t = crossings(curves, *pieces, CHORD, SAME)
    found = []
    for point in curves.at(pieces[0][0][k], t)[:, :2]:
        # Where two chords of a curve share an end, both may tell of it.
        if all(np.linalg.norm(point - other) > 1e-3 for other in found):
            found.append(point)
    return sorted_points(found)


def sorted_points(points):
    points = np.array(points, dtype=float).reshape(-1, 2)
    return points[np.lexsort((np.round(points[:, 1], 4), np.round(points[:, 0], 4)))]


@settings(max_examples=80, deadline=None)
@given(spot, spot, spot, spot)
def test_two_lines_cross_where_they_do_on_paper(a, b, c, d):
    one, other = shapely.LineString([a, b]), shapely.LineString([c, d])
    assume(one.length > 1 and other.length > 1)
    turn = abs(math.sin(math.atan2(b[1] - a[1], b[0] - a[0]) - math.atan2(d[1] - c[1], d[0] - c[0])))
    assume(turn > 0.05)
    shared = one.intersection(other)
    # What ends on the other is a matter of rounding.
    assume(all(shapely.Point(p).distance(x) > 1e-3 for p, x in ((a, other), (b, other), (c, one), (d, one))))
    maker = Maker()
    line(maker, a, b, 0, 0)
    line(maker, c, d, 5, 9)
    found = met(maker, [0], [1])
    assert len(found) == (0 if shared.is_empty else 1)
    if len(found):
        assert found[0] == pytest.approx((shared.x, shared.y), abs=1e-5)


@settings(max_examples=40, deadline=None)
@given(spot, spot, spot, spot)
def test_what_lies_below_is_not_passed_under(a, b, c, d):
    maker = Maker()
    line(maker, a, b, 4, 4)
    line(maker, c, d, 0, 1)
    assert not len(met(maker, [0], [1]))


@settings(max_examples=60, deadline=None)
@given(spot, st.floats(2, 30), st.floats(0, math.pi), st.floats(-0.9, 0.9))
def test_a_line_crosses_a_circle_in_two_points(centre, radius, turn, off):
    along, across = np.array([math.cos(turn), math.sin(turn)]), np.array([-math.sin(turn), math.cos(turn)])
    middle = np.array(centre) + across * off * radius
    half = math.sqrt(radius**2 * (1 - off**2))
    ends = middle - along * 2 * radius, middle + along * 2 * radius
    maker = Maker()
    line(maker, *ends, 0, 0)
    circle(maker, centre, radius, 3)
    assert met(maker, [0], [1]) == pytest.approx(
        sorted_points([middle - along * half, middle + along * half]), abs=1e-5
    )
    # The other way round the same points are found on the circle.
    maker = Maker()
    circle(maker, centre, radius, 0)
    line(maker, *ends, 3, 3)
    assert met(maker, [0], [1]) == pytest.approx(
        sorted_points([middle - along * half, middle + along * half]), abs=1e-5
    )


@settings(max_examples=40, deadline=None)
@given(spot, st.floats(5, 30), st.floats(5, 30), st.floats(0.1, 0.9), st.floats(0, 2 * math.pi))
def test_two_circles_cross_in_two_points(centre, r, s, share, turn):
    apart = abs(r - s) + share * (r + s - abs(r - s))
    assume(apart > 0.5)
    way = np.array([math.cos(turn), math.sin(turn)])
    x = (apart**2 + r**2 - s**2) / (2 * apart)
    h = math.sqrt(max(0.0, r**2 - x**2))
    assume(h > 0.5)
    side = np.array([-way[1], way[0]])
    wanted = [np.array(centre) + way * x + side * h, np.array(centre) + way * x - side * h]
    maker = Maker()
    circle(maker, centre, r, 0)
    circle(maker, np.array(centre) + way * apart, s, 2)
    assert met(maker, [0], [1]) == pytest.approx(sorted_points(wanted), abs=1e-4)


@settings(max_examples=20, deadline=None)
@given(spot, st.floats(2, 30))
def test_circles_that_stand_over_each_other_cross_nowhere(centre, radius):
    maker = Maker()
    circle(maker, centre, radius, 0)
    circle(maker, centre, radius, 8)
    assert not len(met(maker, [0], [1]))


def test_nothing_is_met_by_nothing():
    maker = Maker()
    line(maker, (0, 0), (10, 0), 0, 0)
    assert not len(met(maker, [0], [])) and not len(met(maker, [], [0]))
