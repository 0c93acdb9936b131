"""Damaged STEP files and lost kernels: whatever the bytes, one sentence, and the next job runs."""

import contextlib
import os
import random
import re
import signal
import time
from pathlib import Path

import pytest

from canonis.core.faults import BadInput
from canonis.core.solid.reader import read_model
from canonis.core.solid.step_text import inspect
from canonis.work.kernel import Cancelled, KernelChild
from tests.conftest import block, recipe, step_bytes


@pytest.fixture(scope="module")
def sound():
    hole = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "depth": 6, "point": 118}
    return step_bytes(recipe(block(40, 30, 12), hole)).decode()


@pytest.fixture(scope="module")
def kernel():
    child = KernelChild()
    yield child
    child.stop()


def damaged(text, rng):
    """One way a file goes wrong: a line lost, two mixed up, a number, a reference or a letter changed, cut short."""
    lines = text.split("\n")
    data = [k for k, line in enumerate(lines) if line.startswith("#")]
    k, other, how = rng.choice(data), rng.choice(data), rng.randrange(6)
    if how == 0:
        del lines[k]
    elif how == 1:
        lines[k] = lines[k].split("=")[0] + "=" + lines[other].split("=", 1)[-1]
    elif how == 2:
        new = rng.choice(["1E308", "-1.", "0.", "1E-300", "7.5", "NAN"])
        lines[k] = re.sub(r"-?\d+\.\d*", new, lines[k], count=1)
    elif how == 3:
        del lines[k:]
    elif how == 4:
        lines[k] = re.sub(r"(?<!^)#\d+", f"#{rng.randint(1, 400)}", lines[k], count=1)
    else:
        at = rng.randrange(len(lines[k]))
        lines[k] = lines[k][:at] + chr(rng.randint(32, 126)) + lines[k][at + 1 :]
    return "\n".join(lines).encode()


def test_any_damage_is_read_or_refused_in_one_sentence(sound, kernel):
    read = refused = 0
    for seed in range(60):
        try:
            found = kernel.run("measure", {"data": damaged(sound, random.Random(seed)), "name": "part.step"})
            assert found["solids"]
            read += 1
        except BadInput as fault:
            said = str(fault)
            assert said.endswith(".") and "\n" not in said and "Traceback" not in said and len(said) < 300
            refused += 1
    assert read > 5 and refused > 5


def test_a_crash_of_the_kernel_costs_one_job(sound, kernel):
    # Two records mixed up can make the reading library end its process.
    crashed = 0
    for seed in range(150):
        data = damaged(sound, random.Random(seed))
        try:
            kernel.run("measure", {"data": data, "name": "part.step"})
        except BadInput as fault:
            if "crashed" in str(fault):
                crashed += 1
                again = kernel.run("measure", {"data": sound.encode(), "name": "part.step"})
                assert again["solids"][0]["bbox_mm"][1] == pytest.approx([40, 30, 12])
                break
    if not crashed:
        pytest.skip("this build of the kernel survives all of these")


def test_a_killed_child_is_replaced(sound, kernel):
    kernel.run("measure", {"data": sound.encode(), "name": "part.step"})
    first = kernel.pid
    kernel._process.kill()
    assert kernel.run("measure", {"data": sound.encode(), "name": "part.step"})["solids"]
    assert kernel.pid != first


def helpers_of(pid):
    """The processes that a process has forked: number and time of birth, which no later one shares."""
    found = set()
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            with contextlib.suppress(OSError):
                # The 2nd and the 20th field after the name (proc(5)): the parent and the time of birth.
                after_name = (entry / "stat").read_text().rpartition(")")[2].split()
                # One that has just been forked, below 30 ms of its own work (12th field), is not yet tied to its parent.
                if int(after_name[1]) == pid and int(after_name[11]) >= 3:
                    found.add((int(entry.name), after_name[19]))
    return found


def lives(pid, born):
    """Whether this very process still runs."""
    try:
        after_name = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    except OSError:
        return False
    return after_name[19] == born and after_name[0] != "Z"


def test_a_cancelled_draft_leaves_no_process_behind():
    # A comb with so many faces that a second process helps with their views (on one core there is none).
    teeth = [p for k in range(90) for p in ([4 * k, 20], [4 * k + 2, 20], [4 * k + 2, 12], [4 * k + 4, 12])]
    outline = {"plane": "XY", "outer": {"polygon": [[0, 0], *teeth, [360, 0]]}}
    comb = step_bytes(recipe({"op": "extrude", "distance": 10, "profile": outline}))
    child = KernelChild()
    seen = set()

    def cancel_when_helped(stage):
        until = time.monotonic() + 5
        while stage.startswith("Projecting") and time.monotonic() < until:
            if helpers := helpers_of(child.pid):
                seen.update(helpers)
                for pid, _ in helpers:
                    os.kill(pid, signal.SIGSTOP)  # so that it does not end by being done
                raise Cancelled

    for _ in range(3):
        with contextlib.suppress(Cancelled):
            child.run("draft", {"data": comb, "name": "comb.step", "options": {}}, progress=cancel_when_helped)
    assert len(seen) == 3 or len(os.sched_getaffinity(0)) == 1
    assert child.run("measure", {"data": comb, "name": "comb.step"})["solids"]
    child.stop()
    until = time.monotonic() + 5
    while any(lives(*h) for h in seen) and time.monotonic() < until:
        time.sleep(0.05)
    left = [h for h in seen if lives(*h)]
    for pid, _ in left:
        os.kill(pid, signal.SIGKILL)
    assert not left


def test_a_stage_that_takes_too_long_is_said(cock_step, kernel):
    with pytest.raises(BadInput, match="too hard for the kernel"):
        kernel.run("draft", {"data": cock_step, "name": "cock.step", "options": {}}, stage_limit=0.0)


@pytest.mark.parametrize("frame", ["0,0", "a,b,c", "0,0,0;1,0,0;2,0,0", ""])
def test_a_frame_that_is_none_is_refused(sound, kernel, frame):
    try:
        found = kernel.run("measure", {"data": sound.encode(), "name": "part.step", "frame": frame})
        assert frame == "" and found["solids"]
    except BadInput as fault:
        assert "rame" in str(fault)


@pytest.mark.parametrize("number", ["0.", "-3.", "NaN", "INF", "1.E99", "1.E15", "3.E-320", "1E9"])
def test_a_radius_that_no_part_has_is_refused(sound, number):
    bad = re.sub(r"(CYLINDRICAL_SURFACE\('',#\d+,)[^)]*", rf"\g<1>{number}", sound, count=1)
    with pytest.raises(BadInput) as refused:
        read_model(bad.encode(), "a.step")
    assert number in str(refused.value) and len(str(refused.value).splitlines()) == 1


@pytest.mark.parametrize(
    ("prefix", "factor"), [(".MILLI.", 1), (".CENTI.", 10), (".DECI.", 100), ("$", 1000), (".MICRO.", 1e-3)]
)
def test_units_of_length_are_converted(sound, prefix, factor):
    solid = read_model(
        sound.replace("SI_UNIT(.MILLI.,.METRE.)", f"SI_UNIT({prefix},.METRE.)").encode(), "a.step"
    ).solids[0]
    assert solid.size == pytest.approx([40 * factor, 30 * factor, 12 * factor], rel=1e-6)


@pytest.mark.parametrize(("prefix", "name"), [("KILO", "kilometres"), ("MEGA", "megametres"), ("NANO", "nanometres")])
def test_rare_units_are_refused_by_name(sound, prefix, name):
    with pytest.raises(BadInput, match=name):
        read_model(sound.replace(".MILLI.", f".{prefix}.").encode(), "a.step")


def test_a_part_of_a_planets_size_is_refused():
    far = step_bytes(recipe(block(9e6, 10, 10))).decode().replace(".MILLI.", "$,").replace("$,,", "$,")
    with pytest.raises(BadInput, match="9000 km long"):
        read_model(far.encode(), "a.step")


EVIL = [
    "9" * 3_000_000,
    "CARTESIAN_POINT('',(" * 150_000,
    "ADVANCED_FACE('',(" * 150_000,
    "#2" + " " * 3_000_000,
    "#2 " * 900_000,
    "'" * 3_000_001,
    "1E0" + "0" * 3_000_000,
    "PRODUCT ( " * 300_000,
    "CIRCLE('',#2,(" * 200_000,
    "SI_UNIT(.MILLI" * 200_000,
]


@pytest.mark.parametrize("evil", EVIL, ids=[e[:8] for e in EVIL])
def test_every_scan_of_the_text_ends(evil):
    """A scan that goes back over what it took would be at these for days."""
    text = f"ISO-10303-21;\n#1=A();\n#2=B();\n{evil}\nEND-ISO-10303-21;"
    with contextlib.suppress(BadInput):
        inspect(text.encode(), "a.step")
