"""The commands as a user types them, through the launcher's own environment."""

import json
import subprocess
import sys

import pytest

from canonis.cli import kept_child
from tests.commands import canonis
from tests.conftest import PARTS


@pytest.fixture(scope="module", autouse=True)
def warm():
    with kept_child():
        yield


@pytest.fixture(scope="module")
def work(tmp_path_factory, cock_step, flawed_step):
    folder = tmp_path_factory.mktemp("cli")
    (folder / "cock.step").write_bytes(cock_step)
    (folder / "flawed.step").write_bytes(flawed_step)
    return folder


def test_the_launcher_hands_over_and_keeps_the_exit_codes(work):
    """One command through a process of its own, as the launcher starts it; the others run in this one."""
    line = [sys.executable, "-m", "canonis.cli", "measure"]
    good = subprocess.run([*line, "cock.step"], capture_output=True, text=True, cwd=work)
    assert (good.returncode, good.stderr) == (0, "") and json.loads(good.stdout)["schema"] == "canonis.measure/1"
    bad = subprocess.run([*line, "none.step"], capture_output=True, text=True, cwd=work)
    assert (bad.returncode, bad.stdout) == (2, "") and len(bad.stderr.strip().splitlines()) == 1


def test_measure(work):
    code, out, err = canonis("measure", "cock.step", "--material", "brass", cwd=work)
    data = json.loads(out)
    assert (code, err, data["schema"]) == (0, "", "canonis.measure/1")
    assert data["solids"][0]["mass_g"] == pytest.approx(495.72, abs=0.01)
    code, out, _ = canonis("measure", "cock.step", "--frame", "48,0,0;0,1,0;0,0,1", cwd=work)
    assert json.loads(out)["solids"][0]["centroid_mm"][2] == pytest.approx(0, abs=1e-6)


def test_draft_then_check_the_flawed_model(work):
    code, _, err = canonis(
        "draft", "cock.step", "--out", "out", "--spec", PARTS / "escapement-cock.spec", "--lines", cwd=work
    )
    assert (code, err) == (0, "")
    made = {p.name for p in (work / "out").iterdir()}
    assert made == {"sheet.json", "sheet-1.svg", "sheet.pdf", "check.json", "dimensions.csv", "lines.json"}
    sheet = json.loads((work / "out" / "sheet.json").read_text())
    assert sheet["complete"] == {"ok": True, "free": [], "redundant": []}
    for a in sheet["annotations"]:
        if a["value"] is not None:
            assert a["measured"] == pytest.approx(a["value"], abs=5e-4)
    hole = next(a for a in sheet["annotations"] if a["text"].startswith("4× ⌀6.6"))
    assert hole["count"] == 4 and {p["name"]: p["stated"] for p in hole["parts"]}["counterbore-depth"] == 6.5
    lines = json.loads((work / "out" / "lines.json").read_text())["views"]
    assert {v["id"] for v in lines} == {v["id"] for v in sheet["views"]}
    code, out, _ = canonis(
        "check", "out/sheet.json", "--model", "flawed.step", "--spec", PARTS / "escapement-cock.spec", cwd=work
    )
    result = json.loads(out)
    # The hole note, the pitch circle, and both pitches, which have lost the hole that is missing.
    assert code == 0 and result["summary"]["contradicted"] == 4
    assert {"count.model", "value.model", "value.source", "mass.source"} <= {f["rule"] for f in result["findings"]}
    next(a for a in sheet["annotations"] if a["feature"] == "overall")["text"] = "97"
    (work / "edited.json").write_text(json.dumps(sheet))
    code, out, _ = canonis("check", "edited.json", "--model", "cock.step", cwd=work)
    assert json.loads(out)["summary"]["contradicted"] == 1


def test_source_and_build(work):
    code, out, _ = canonis("source", PARTS / "valve-block.spec", cwd=work)
    assert code == 0 and len(json.loads(out)["characteristics"]) == 21
    code, out, _ = canonis("build", PARTS / "valve-block.json", "--out", "v.step", "--each", cwd=work)
    steps = json.loads(out)["steps"]
    assert code == 0 and steps[0]["volume_mm3"] == pytest.approx(2.875 * 1.625 * 1.125 * 25.4**3)
    assert len(list(work.glob("v-*.step"))) == len(steps)


@pytest.mark.parametrize(
    "arguments",
    [
        ("measure", "none.step"),
        ("measure", "bad.step"),
        ("measure", "cock.step", "--material", "cheese"),
        ("measure", "cock.step", "--frame", "1,2"),
        ("draft", "bad.step", "--out", "nothing"),
        ("draft", "cock.step", "--out", "nothing", "--size", "A9"),
        ("draft", "cock.step", "--out", "nothing", "--style", "art"),
        ("check", "bad.step", "--model", "cock.step"),
        ("source", "none.spec"),
        ("build", "bad.step", "--out", "x.step"),
        ("build", "bad.json", "--out", "x.step"),
    ],
)
def test_bad_input_is_one_line_and_code_2(work, arguments):
    (work / "bad.step").write_text("no STEP at all")
    (work / "bad.json").write_text('{"schema": "canonis.recipe/1", "steps": [{"op": "loft"}]}')
    code, out, err = canonis(*arguments, cwd=work)
    assert (code, out) == (2, "") and len(err.strip().splitlines()) == 1 and "Traceback" not in err
    assert not list(work.glob("nothing/*")) and not (work / "x.step").exists()


def test_a_kernel_that_hangs_or_crashes_costs_only_its_job(monkeypatch):
    import os
    import signal
    import threading

    from canonis.core.faults import BadInput
    from canonis.work.kernel import KernelChild

    child = KernelChild()
    child.start()
    base = {"op": "extrude", "profile": {"outer": {"circle": [0, 0, 9]}}, "distance": 1}
    drilled = {"op": "hole", "at": [[0, 0, 1]] * 4000, "axis": [0, 0, 1], "diameter": 1, "depth": 0.5}
    busy = json.dumps({"schema": "canonis.recipe/1", "steps": [base, drilled]})
    with pytest.raises(BadInput, match="too hard"):
        child.run("build", {"recipe": busy}, stage_limit=1.0)
    child.start()
    threading.Timer(0.5, lambda: os.kill(child._process.pid, signal.SIGSEGV)).start()
    with pytest.raises(BadInput, match="crashed"):
        child.run("build", {"recipe": busy})
    small = json.dumps(
        {
            "schema": "canonis.recipe/1",
            "steps": [{"op": "extrude", "profile": {"outer": {"rect": [0, 0, 2, 3]}}, "distance": 1}],
        }
    )
    assert child.run("build", {"recipe": small})["ledger"]["steps"][0]["volume_mm3"] == pytest.approx(6)
    child.stop()
