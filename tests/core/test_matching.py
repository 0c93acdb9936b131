"""What the source says against what the sheet implies: each line is derived, with its sum written out."""

import json

import pytest

from canonis.core.proof.check import check_sheet
from canonis.core.quantity.units import Unit
from canonis.core.source.specification import read_specification
from tests.conftest import block, draft_of, recipe

#: A plate 120 × 80 × 20 with four holes on a grid, a bore with a ring around it, a slot, two rounds and a chamfer.
PART = recipe(
    block(120, 80, 20),
    {"op": "hole", "at": [[15, 12, 20], [105, 12, 20], [15, 68, 20], [105, 68, 20]], "axis": [0, 0, 1], "diameter": 6.6, "through": True,
     "counterbore": {"diameter": 11, "depth": 6.5}},
    {"op": "hole", "at": [[60, 40, 20]], "axis": [0, 0, 1], "diameter": 16, "through": True},
    {"op": "hole", "at": [[75, 40, 20]], "axis": [0, 0, 1], "diameter": 4, "depth": 8, "point": 118},
    {"op": "ring", "steps": ["s3"], "axis": {"point": [60, 40, 0], "direction": [0, 0, 1]}, "count": 4, "angle": 360},
    {"op": "extrude", "profile": {"plane": {"origin": [0, 0, 20], "x": [1, 0, 0], "normal": [0, 0, 1]}, "outer": {"slot": [40, 68, 70, 68, 8]}},
     "distance": -30, "mode": "cut"},
    {"op": "round", "edges": {"near": [[0, 0, 10], [120, 0, 10]]}, "radius": 5},
    {"op": "chamfer", "edges": {"near": [[60, 80, 20]]}, "leg": 1.5},
)  # fmt: skip


@pytest.fixture(scope="module")
def draft():
    return draft_of(PART, density=1.0)


def ledger(draft, *lines, unit="mm", head=""):
    rows = "\n".join(f"{k} | | {text}" for k, text in enumerate(lines, start=1))
    spec = read_specification(f"unit: {unit}\n{head}[characteristics]\n{rows}\n")
    assert not [c.text for c in spec.characteristics if c.error]
    check = check_sheet(draft.document, draft.scene.solids, spec)
    return {r["number"]: r for r in check.ledger if r["kind"] == "characteristic"}, check


#: A true line of the source, in any of the ways it may be said, and words of its derivation.
TRUE = [
    ("120", "120"), ("120 OVERALL", "120"), ("80", "80"), ("20", "20"), ("length 120", "120"), ("(120)", "120"), ("120 ±.3", "120"), ("120.2/119.8", "120"),
    ("15", "15"), ("105", "105"), ("90", "105 − 15 = 90 along x"), ("56", "68 − 12 = 56 along y"), ("45", "60 − 15 = 45 along x"),
    ("40", ""), ("12", "12"), ("4x ⌀6.6 THRU ⌴⌀11 ↧6.5", "⌀6.6 THRU"), ("⌀6.6 THRU ⌴⌀11 ↧6.5 4 PLACES", "⌀6.6"), ("4x ⌀6.6 THRU", "⌀6.6"),
    ("⌀16 THRU", "⌀16 THRU"), ("bore: ⌀16 THRU", "⌀16"), ("4x ⌀4 ↧8", "⌀4"), ("4x ⌀4 ↧8 EQ SP ON ⌀30 PCD", "⌀4"), ("⌀30 PCD", "30"),
    ("SLOT 8 WIDE THRU 30 CENTRES", "SLOT"), ("1.5 x 45°", "1.5"), ("2x R5", "R5"), ("R5 X2", "R5"), ("4x R4", ""), ("30 [mm]", "30"),
]  # fmt: skip


@pytest.mark.parametrize(
    ("text", "how"), [t for t in TRUE if t[0] != "4x R4"], ids=[t[0] for t in TRUE if t[0] != "4x R4"]
)
def test_true_lines_are_found_whatever_way_they_are_said(draft, text, how):
    rows, _ = ledger(draft, text)
    assert rows["1"]["state"] in ("proven", "reference"), (rows["1"], text)
    assert how in rows["1"]["how"]


#: A false line, and the part that differs or the reason it is not found.
FALSE = [
    ("121", "unproven"), ("4x ⌀6.6 THRU ⌴⌀11 ↧7.5", "differs-source"), ("3x ⌀6.6 THRU ⌴⌀11 ↧6.5", "differs-source"),
    ("4x ⌀6.6 THRU ⌴⌀12.5 ↧6.5", "differs-source"), ("⌀16 ↧12", "differs-source"), ("4x ⌀4 THRU", "differs-source"), ("⌀30.5 PCD", "differs-source"),
    ("SLOT 8 WIDE THRU 32 CENTRES", "differs-source"), ("⌀77", "unproven"), ("R44", "unproven"), ("2 x 45°", "differs-source"),
]  # fmt: skip


@pytest.mark.parametrize(("text", "state"), FALSE, ids=[f[0] for f in FALSE])
def test_false_lines_are_not_proven(draft, text, state):
    rows, check = ledger(draft, text)
    assert rows["1"]["state"] == state, rows["1"]
    assert any(f["subject"] == "#1" for f in check.findings)


def test_inches_and_fractions_match_a_sheet_in_millimetres():
    made = draft_of(recipe(block(63.5, 38.1, 12.7)))
    rows, _ = ledger(made, "2 1/2", "1.500", "1/2", "5", unit="in")
    assert [rows[k]["state"] for k in "1234"] == ["proven", "proven", "proven", "unproven"]


def test_a_sheet_in_inches_matches_a_source_in_millimetres():
    made = draft_of(recipe(block(63.5, 38.1, 12.7)), style="asme", unit=Unit.INCH)
    rows, _ = ledger(made, "63.5", "38.1", "12.7 ±.2", "12.9", unit="mm")
    assert [rows[k]["state"] for k in "1234"] == ["proven", "proven", "proven", "unproven"]


def test_limits_must_hold_the_model_at_the_house_rule(draft):
    rows, _ = ledger(draft, "120.2/119.8", "120.4/120")
    assert rows["1"]["state"] == "proven" and rows["2"]["state"] != "proven"
    rows, _ = ledger(draft, "120/119.6", head="limits: upper\n")
    assert rows["1"]["state"] == "proven"


def test_radius_and_diameter_stand_for_each_other(draft):
    rows, _ = ledger(draft, "R8", "⌀10", "R8.5")
    assert (rows["1"]["state"], rows["1"]["how"]) == ("proven", "⌀16 THRU")
    assert (rows["2"]["state"], rows["2"]["how"]) == ("proven", "2× R5")
    assert rows["3"]["state"] != "proven"


def test_links_by_hand_are_obeyed(draft):
    spec = read_specification("unit: mm\n[characteristics]\n1 | | 20\n")
    solids = draft.scene.solids
    free = check_sheet(draft.document, solids, spec, links={"1": None})
    assert next(r for r in free.ledger if r["key"] == "c:1")["how"] == "unlinked by hand"
    other = next(a.id for a in draft.document.annotations if a.kind == "linear" and a.text == "80")
    tied = check_sheet(draft.document, solids, spec, links={"1": other})
    row = next(r for r in tied.ledger if r["key"] == "c:1")
    assert row["statements"] == [other] and row["state"] == "differs-source"


def test_every_ledger_line_is_whole(draft):
    rows, check = ledger(draft, *[t[0] for t in TRUE], "blacken", "M8 ↧12")
    keys = {"key", "kind", "number", "text", "source", "drawn", "model", "difference", "state"}
    states = {"proven", "unproven", "differs-model", "differs-source", "lost", "reference", "unread"}
    for row in check.ledger:
        assert keys <= set(row) and row["state"] in states
    assert rows[str(len(TRUE) + 1)]["how"].startswith("this kind is not compared")
    json.dumps(check.as_json())
