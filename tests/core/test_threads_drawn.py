"""Modelled threads drawn by convention (ISO 6410-1): as their plain twins, with the root as a narrow line."""

import math

import numpy as np
import pytest

from canonis.bench.views import uncovered
from canonis.core.features.marks import marks_of
from canonis.core.features.recognition import recognise
from canonis.core.view.clip import Clip, Patch
from canonis.core.view.frames import frame_of, front_frame
from canonis.core.view.projection import project, section
from tests.conftest import block, model_of, recipe
from tests.core.known_parts import hole

FRONT = front_frame(np.array([1.0, 0, 0]), np.array([0.0, 0, 1]))
FAR = 1e4
EVERYWHERE = ((-FAR, -FAR), (FAR, -FAR), (FAR, FAR), (-FAR, FAR))
#: A screw of ⌀16 with a chamfer, and the groove of its thread of pitch 2 and ⌀13.8 at the root.
BLANK = {
    "op": "revolve", "angle": 360, "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
    "profile": {
        "plane": {"origin": [0, 0, 0], "x": [1, 0, 0], "normal": [0, -1, 0]},
        "outer": {"polygon": [[0, 0], [6.5, 0], [8, 1.5], [8, 30], [13, 30], [13, 40], [0, 40]]},
    },
}  # fmt: skip


def groove(at, outline, turns):
    """A helical groove of pitch 2 about the z axis from a height on."""
    return {
        "op": "sweep",
        "mode": "cut",
        "profile": {
            "plane": {"origin": [0, 0, at], "x": [1, 0, 0], "normal": [0, -1, 0]},
            "outer": {"polygon": outline},
        },
        "path": {
            "helix": {"axis": {"point": [0, 0, at], "direction": [0, 0, 1]}, "pitch": 2, "turns": turns, "diameter": 16}
        },
    }


OUTER = groove(-2, [[6.9, -0.15], [8.5, -0.85], [8.5, 0.85], [6.9, 0.15]], 13)
INNER = groove(12, [[6.5, -0.85], [8, -0.15], [8, 0.15], [6.5, 0.85]], 7)
BORED = (block(30, 30, 30), hole([[15, 15, 30]], 13.8, depth=24))


def solid_of(*steps):
    return model_of(recipe(*steps)).solids[0]


def threads_of(solid):
    return marks_of(solid, recognise(solid)).threads


@pytest.fixture(scope="module")
def screw():
    return solid_of(BLANK, OUTER)


@pytest.mark.parametrize("kind", ["front", "bottom", "top", "pictorial"])
def test_a_threaded_part_is_drawn_like_its_plain_twin(screw, kind):
    frame = frame_of(kind, FRONT)
    plain = project(solid_of(BLANK), frame)
    drawn = project(screw, frame, threads=threads_of(screw))
    lost, _, where = uncovered(plain.visible, drawn.visible, 0.02, screw.diagonal)
    assert lost == pytest.approx(0, abs=1e-9), where
    extra, _, _ = uncovered(drawn.visible, plain.visible, 0.02, screw.diagonal)
    # Beside it only the end of the full thread is drawn: across from the side, on the outline from the end.
    assert extra == pytest.approx(16.0 if kind == "front" else 0.0 if kind in ("top", "bottom") else extra, rel=2e-3)
    assert extra < math.pi * 16


def test_its_root_is_two_narrow_lines_and_three_quarters_of_a_circle(screw):
    threads = threads_of(screw)
    side = project(screw, frame_of("front", FRONT), threads=threads).thread
    assert sorted(round(float(line.points[0][0]), 3) for line in side) == [-6.9, 6.9]
    end = project(screw, frame_of("bottom", FRONT), threads=threads).thread
    assert [line.kind for line in end] == ["arc"]
    assert end[0].radius == pytest.approx(6.9, abs=1e-4)
    assert 0.7 < (end[0].a1 - end[0].a0) / (2 * math.pi) < 0.75


def test_on_request_every_turn_is_drawn(screw):
    frame = frame_of("front", FRONT)
    assert len(project(screw, frame).visible) > 5 * len(project(screw, frame, threads=threads_of(screw)).visible)


def test_a_section_is_hatched_to_the_crest(screw):
    frame = frame_of("front", FRONT)
    cut = section(screw, frame, Clip((Patch(EVERYWHERE, 0.0),)), threads=threads_of(screw))
    # Half the outline of the blank, twice.
    area = 2 * (8 * 30 - 1.5 * 1.5 / 2 + 13 * 10)
    assert cut.cut[0].region.area == pytest.approx(area, rel=2e-3)
    assert sorted(round(float(line.points[0][0]), 3) for line in cut.thread) == [-6.9, 6.9]


def test_a_tapped_hole_in_section_is_hatched_to_the_bore():
    solid = solid_of(
        *(BORED),
        {
            **INNER,
            "profile": {**INNER["profile"], "plane": {"origin": [15, 15, 12], "x": [1, 0, 0], "normal": [0, -1, 0]}},
            "path": {"helix": {**INNER["path"]["helix"], "axis": {"point": [15, 15, 12], "direction": [0, 0, 1]}}},
        },
    )
    threads = threads_of(solid)
    assert [t.internal for t in threads] == [True]
    cut = section(solid, FRONT, Clip((Patch(EVERYWHERE, -15.0),)), threads=threads)
    plain = section(solid_of(*BORED), FRONT, Clip((Patch(EVERYWHERE, -15.0),)))
    assert cut.cut[0].region.area == pytest.approx(plain.cut[0].region.area, rel=1e-6)
    upright = [line for line in cut.thread if abs(line.points[0][0] - line.points[1][0]) < 1e-6]
    assert sorted(round(float(line.points[0][0]), 3) for line in upright) == [7.0, 23.0]
    top = project(solid, frame_of("top", FRONT), threads=threads)
    assert [round(line.radius, 3) for line in top.thread] == [8.0]
