"""Cut faces and sections: areas against closed forms and the kernel's own, lines that know their faces, nothing behind lost."""

import math

import numpy as np
import pytest
import shapely
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from canonis.core.solid.cutting import kernel_cut_area
from canonis.core.view.clip import Clip, Patch
from canonis.core.view.frames import frame_of, front_frame
from canonis.core.view.projection import project, section
from canonis.core.view.slices import cut_face
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import PARTS
from tests.core.parts import random_part

FRONT = front_frame(np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))
FAR = 1e4
EVERYWHERE = ((-FAR, -FAR), (FAR, -FAR), (FAR, FAR), (-FAR, FAR))
#: Threads are cut by thousands of facets; the kernel needs minutes for them.
CUT = sorted(name for name in PARTS if "thread" not in name)


def solid_of(*steps):
    return model_of(recipe(*steps)).solids[0]


def axes_of(normal):
    right = np.cross(normal, np.eye(3)[int(np.argmin(np.abs(normal)))])
    right = right / np.linalg.norm(right)
    return np.array([right, np.cross(normal, right), normal])


def middle(solid, direction):
    return float((solid.box[0] + solid.box[1]) / 2 @ direction)


@pytest.mark.parametrize("name", CUT[::4])
def test_a_cut_through_the_middle_has_the_kernels_area(name):
    solid = solid_of(*PARTS[name][0])
    for normal in np.eye(3):
        depth = middle(solid, normal)
        found = cut_face(solid, axes_of(normal), depth)
        # What lies in the plane is cut off: just below it is compared, where the area is the limit from there.
        below = kernel_cut_area(solid, normal, depth - 1e-7 * solid.diagonal)
        assert found.area == pytest.approx(below, rel=1e-5, abs=1e-3 * solid.diagonal)
        assert found.polygon(1e-3).area == pytest.approx(found.area, rel=2e-3)


@settings(max_examples=25, deadline=None)
@given(st.integers(0, 500), st.floats(0, 6.28), st.floats(-1.5, 1.5), st.floats(-0.3, 0.3))
def test_a_part_put_together_at_random_is_cut_anywhere(seed, around, up, aside):
    solid = model_of(random_part(seed)).solids[0]
    normal = np.array([math.cos(around) * math.cos(up), math.sin(around) * math.cos(up), math.sin(up)])
    depth = middle(solid, normal) + aside * solid.diagonal
    found = cut_face(solid, axes_of(normal), depth)
    area = kernel_cut_area(solid, normal, depth)
    assume(area > 1.0)
    # A rough cut says so and keeps to the tessellation's own accuracy.
    assert found.area == pytest.approx(area, rel=5e-3 if found.rough else 1e-6, abs=1e-4)


@pytest.mark.parametrize("above", [0.02, 0.05, 0.4])
@pytest.mark.parametrize("tilt", [0.05, 0.15])
def test_a_slanting_cut_goes_around_the_tip_of_a_drilled_hole(tilt, above):
    solid = solid_of(
        block(60, 40, 30),
        {"op": "hole", "at": [[25, 20, 30]], "axis": [0, 0, 1], "diameter": 9, "depth": 12, "point": 118},
    )
    tip = np.array([25, 20, 30 - 12 - 4.5 / math.tan(math.radians(59))])
    normal = np.array([math.sin(tilt), 0, math.cos(tilt)])
    # A plane z = z0 + m·x over the tip of a cone x² + y² = t²·z² cuts it in an ellipse.
    t, m, z0 = math.tan(math.radians(59)), math.tan(tilt), above / math.cos(tilt)
    ellipse = math.pi * t**2 * z0**2 / (1 - t**2 * m**2) ** 1.5
    found = cut_face(solid, axes_of(normal), float(tip @ normal) + above)
    assert not found.rough and found.area == pytest.approx((60 * 40 - ellipse) / math.cos(tilt), rel=1e-7)
    # The opening alone, whose curve is followed by points on the cone.
    assert 60 * 40 - found.area * math.cos(tilt) == pytest.approx(ellipse, rel=1e-3)


def test_a_bored_plate_is_cut_into_two_rectangles():
    bore = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "through": True}
    solid = solid_of(block(40, 30, 12), bore)
    frame = frame_of("front", FRONT)
    seen = section(solid, frame, Clip((Patch(EVERYWHERE, -15.0),)), hidden=False)
    assert [c.region.area for c in seen.cut] == pytest.approx([(40 - 8) * 12])
    assert not seen.cut[0].rough
    # The outline and both edges of the bore; behind the cut nothing else is to be seen.
    assert seen.length("visible") == pytest.approx(2 * (40 + 12) + 2 * 12)


def test_a_half_section_stops_at_the_centre_line():
    bore = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "through": True}
    solid = solid_of(block(40, 30, 12), bore)
    frame = frame_of("front", FRONT)
    right = ((20, -FAR), (FAR, -FAR), (FAR, FAR), (20, FAR))
    seen = section(solid, frame, Clip((Patch(right, -15.0),)), hidden=False)
    assert seen.cut[0].region.area == pytest.approx(16 * 12)
    # One edge of the bore is seen in the cut half; no line stands where the halves meet.
    upright = [line for line in seen.visible if line.kind == "line" and np.ptp(line.points[:, 0]) < 1e-9]
    assert sorted(float(line.points[0, 0]) for line in upright) == pytest.approx([0, 24, 40])


def test_a_stepped_cut_shows_bores_on_two_levels_as_one():
    bores = {"op": "hole", "at": [[10, 10, 12], [40, 30, 12]], "axis": [0, 0, 1], "diameter": 6, "through": True}
    solid = solid_of(block(60, 40, 12), bores)
    left = ((-FAR, -FAR), (25, -FAR), (25, FAR), (-FAR, FAR))
    right = ((25, -FAR), (FAR, -FAR), (FAR, FAR), (25, FAR))
    seen = section(solid, frame_of("front", FRONT), Clip((Patch(left, -10.0), Patch(right, -30.0))), hidden=False)
    assert sum(c.region.area for c in seen.cut) == pytest.approx((60 - 12) * 12)
    upright = sorted(float(x.points[0, 0]) for x in seen.visible if np.ptp(x.points[:, 0]) < 1e-9)
    assert upright == pytest.approx([0, 7, 13, 37, 43, 60])


def test_a_window_broken_into_a_view_opens_only_there():
    pocket = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "depth": 6}
    solid = solid_of(block(40, 30, 12), pocket)
    window = ((12, 4), (28, 4), (28, 14), (12, 14))
    seen = section(solid, frame_of("front", FRONT), Clip((Patch(window, -15.0),)), hidden=False)
    assert shapely.union_all([c.region for c in seen.cut]).area == pytest.approx(16 * 8 - 8 * 6)
    assert seen.box == pytest.approx((0, 0, 40, 12))


def test_a_cut_that_misses_the_part_leaves_the_view_as_it_is():
    solid = solid_of(block(40, 30, 12))
    frame = frame_of("front", FRONT)
    seen = section(solid, frame, Clip((Patch(EVERYWHERE, 5.0),)), hidden=False)
    assert seen.cut[0].region.is_empty and seen.length("visible") == pytest.approx(
        project(solid, frame).length("visible")
    )


def test_lines_of_a_cut_know_their_faces():
    bore = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "depth": 6}
    solid = solid_of(block(40, 30, 12), bore)
    seen = section(solid, frame_of("front", FRONT), Clip((Patch(EVERYWHERE, -15.0),)), hidden=False)
    wall = next(f.index for f in solid.faces if f.kind == "cylinder")
    sides = [line for line in seen.visible if wall in line.faces and np.ptp(line.points[:, 0]) < 1e-9]
    assert sorted(float(line.points[0, 0]) for line in sides) == pytest.approx([16, 24])
    assert [line.length for line in sides] == pytest.approx([6, 6])
