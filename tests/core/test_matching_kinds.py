"""Every kind of line against a part that has it, and against one where it is off by a slip."""

import time

import pytest

from canonis.core.proof.check import check_sheet
from canonis.core.source.specification import read_specification
from tests.conftest import block, draft_of, hints_for, recipe
from tests.core.known_parts import PARTS
from tests.core.test_matching import WHOLE, draft, proved  # noqa: F401

Z, UP = {"point": [0, 0, 0], "direction": [0, 0, 1]}, [0, 0, 1]


def turned(*outline, **more):
    return {
        "op": "revolve",
        "angle": 360,
        "axis": Z,
        "profile": {"plane": "XZ", "outer": {"polygon": [list(p) for p in outline]}},
        **more,
    }


def top(z, outer):
    return {"plane": {"origin": [0, 0, z], "x": [1, 0, 0], "normal": UP}, "outer": outer}


SHAFT = recipe(
    turned((0, 0), (30, 0), (30, 20), (20, 20), (20, 60), (0, 60)),
    turned((18, 20), (40, 20), (40, 24), (18, 24), mode="cut"),
    {
        "op": "extrude",
        "mode": "cut",
        "distance": 20,
        "profile": {
            "plane": {"origin": [15, 0, 40], "x": [0, 1, 0], "normal": [1, 0, 0]},
            "outer": {"slot": [0, -6, 0, 10, 8]},
        },
    },
)
HOUSING = recipe(
    block(80, 60, 30),
    {"op": "extrude", "mode": "cut", "distance": -12, "profile": top(30, {"rect": [10, 10, 60, 40]})},
    {"op": "hole", "at": [[5, 5, 30], [75, 55, 30]], "axis": UP, "diameter": 5, "depth": 16, "point": 118},
    {
        "op": "extrude",
        "mode": "add",
        "distance": 15,
        "profile": top(30, {"regular": {"centre": [40, 55], "sides": 6, "across-flats": 8}}),
    },
)
WEDGE = recipe(
    {
        "op": "extrude",
        "distance": -30,
        "profile": {"plane": "XZ", "outer": {"polygon": [[0, 0], [60, 0], [60, 20], [40, 40], [0, 40]]}},
    }
)
CONE = recipe(turned((0, 0), (20, 0), (16, 40), (0, 40)))

JOINT = recipe(*PARTS["dovetail slot"][0])

#: Part, a line that it bears out, the same line off by a slip, and what is said of the difference.
KINDS = {
    "groove": (SHAFT, "UNDERCUT 4 × ⌀36", "UNDERCUT 4 × ⌀32", "diameter"), "keyway": (SHAFT, "KEYWAY 8 × 5 × 24", "KEYWAY 8 × 4 × 24", "depth"),
    "diameter": (SHAFT, "⌀60", "⌀30", "diameter"), "thread in a drill hole": (HOUSING, "2x M6 ↧12", "2x M8 ↧12", "drill diameter"),
    "thread deeper than its drill": (HOUSING, "2x M6 ↧12", "2x M6 ↧21", "shallower"), "polygon": (HOUSING, "HEX 8 A/F", "HEX 9 A/F", "across flats"),
    "angle": (WEDGE, "45°", "40°", "45"), "wall": (HOUSING, "WALL 10", "WALL 12", "10"), "pocket depth": (HOUSING, "12 DEEP POCKET", None, ""),
    "dovetail": (JOINT, "DOVETAIL 20 WIDE 60° 8 DEEP", "DOVETAIL 20 WIDE 55° 8 DEEP", "angle"),
    "dovetail depth": (JOINT, "20 wide dovetail 60° ↧8", "20 wide dovetail 60° ↧10", "depth"),
    "hole count": (HOUSING, "2x ⌀5 ↧16", "3x ⌀5 ↧16", "missing"), "hole side": (HOUSING, "2x ⌀5 ↧16", "2x ⌀5 THRU", "floor"),
}  # fmt: skip


@pytest.mark.parametrize("kind", [k for k in KINDS if KINDS[k][2]])
def test_a_line_of_every_kind_is_compared(kind):
    part, right, wrong, said = KINDS[kind]
    made = draft_of(part)
    rows, check = proved(made, right)
    assert rows["1"]["state"] in ("proven", "not-drawn"), rows["1"]
    assert not [f for f in check.findings if f.rule == "value.source"]
    rows, check = proved(made, wrong)
    assert rows["1"]["state"] in ("differs", "no-place"), rows["1"]
    text = " ".join(f.message for f in check.findings if f.subject == "#1") + rows["1"]["likely"]
    if rows["1"]["state"] == "differs":
        assert said in text


def test_a_taper_is_compared_by_its_ratio():
    made = draft_of(CONE)
    assert proved(made, "TAPER 1:5")[0]["1"]["state"] in ("proven", "not-drawn")
    assert proved(made, "TAPER 1:10")[0]["1"]["state"] in ("differs", "no-place")


def answer(made, text):
    spec = read_specification(text)
    begun = time.monotonic()
    check = check_sheet(made.document, made.scene.solids, spec, hints=hints_for(made))
    return check, {r["number"]: r for r in check.ledger if r["kind"] == "characteristic"}, time.monotonic() - begun


def source(*lines):
    return "unit: mm\n[characteristics]\n" + "\n".join(f"{k} | | {t}" for k, t in enumerate(lines, start=1)) + "\n"


def test_a_source_of_two_thousand_lines_gets_a_clear_answer(draft):  # noqa: F811
    check, rows, _ = answer(draft, source(*[f"{10 + k / 10:.1f}" for k in range(2000)]))
    assert len(rows) == 2000
    (found,) = [f for f in check.findings if f.rule == "source.unmatched"]
    assert "more than" in found.message and "own source" in found.message
    assert not [f for f in check.findings if f.rule in ("value.source", "source.no-place")]


def test_lines_that_repeat_are_told_so(draft):  # noqa: F811
    _, rows, _ = answer(draft, source(*WHOLE, "20", "4x ⌀6.6 THRU ⌴⌀11 ↧6.5"))
    assert (rows["3"]["state"], rows["18"]["state"]) != ("proven", "proven")
    assert rows["19"]["state"] == "ambiguous" and "already" in rows["19"]["reason"]


def test_the_source_of_another_part_is_not_proven(draft):  # noqa: F811
    _, rows, _ = answer(draft, source("61.3", "33.7", "9.45", "⌀23.1 THRU", "R17.3", "3x ⌀2.7 THRU", "14.15"))
    assert not [n for n, r in rows.items() if r["state"] == "proven"]


@pytest.mark.parametrize(
    "lines",
    [("(120)", "(80)", "(20)"), ("NOTE: see picture 1", "NOTE: see picture 2"), ()],
    ids=["references", "pictures", "none"],
)
def test_a_source_that_states_nothing_accuses_nobody(draft, lines):  # noqa: F811
    check, rows, _ = answer(draft, source(*lines))
    assert {r["state"] for r in rows.values()} <= {"reference"}
    assert not [f for f in check.findings if f.rule.startswith(("value.source", "source."))]


def test_limits_upside_down_and_an_unreadable_tolerance_are_unread_lines(draft):  # noqa: F811
    _, rows, _ = answer(draft, source("119.8/120.2", "80 ±", "20 +x/-y"))
    assert rows["2"]["state"] == rows["3"]["state"] == "unread" and rows["2"]["reason"]
    assert rows["1"]["state"] in ("proven", "unread")
