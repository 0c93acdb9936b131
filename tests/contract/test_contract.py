"""The command-line contract: files, JSON keys, units and exit codes as they are written down."""

import csv
import io
import json
from itertools import pairwise

import pytest
from pypdf import PdfReader

from canonis.cli import kept_child
from tests.commands import canonis
from tests.conftest import block, recipe, step_bytes

MEASURE = {"schema", "file", "solids", "features"}
SOLID = {
    "name",
    "valid",
    "faces",
    "edges",
    "bbox_mm",
    "volume_mm3",
    "area_mm2",
    "mass_g",
    "centroid_mm",
    "inertia_g_mm2",
    "faces_unowned",
}
HOLE = {
    "id",
    "kind",
    "count",
    "axis",
    "diameter_mm",
    "through",
    "depth_mm",
    "bottom",
    "counterbore",
    "countersink",
    "positions_mm",
    "pattern",
}
SHEET = {"schema", "style", "projection", "unit", "sheets", "views", "annotations", "complete", "layout"}
VIEW = {
    "id",
    "sheet",
    "kind",
    "label",
    "scale",
    "origin",
    "right",
    "up",
    "at_mm",
    "box_mm",
    "visible_length_mm",
    "hidden_length_mm",
}
MARK = {
    "id",
    "sheet",
    "view",
    "kind",
    "direction",
    "text",
    "value",
    "measured",
    "unit",
    "count",
    "reference",
    "feature",
    "refs",
    "parts",
    "box_mm",
}
LAYOUT = {"text_on_text", "text_on_line", "crossings", "to_hidden", "foreshortened", "paper_use"}


@pytest.fixture(scope="module", autouse=True)
def warm():
    with kept_child():
        yield


PART = recipe(
    block(80, 50, 12),
    {
        "op": "hole",
        "at": [[10, 10, 12], [70, 10, 12], [10, 40, 12], [70, 40, 12]],
        "axis": [0, 0, 1],
        "diameter": 6.6,
        "through": True,
        "counterbore": {"diameter": 11, "depth": 6.5},
    },
    {"op": "hole", "at": [[40, 25, 12]], "axis": [0, 0, 1], "diameter": 8, "depth": 7, "point": 118},
)


@pytest.fixture(scope="module")
def work(tmp_path_factory):
    folder = tmp_path_factory.mktemp("contract")
    (folder / "plate.step").write_bytes(step_bytes(PART))
    inch = {**PART, "unit": "in", "steps": [{"name": "s", **block(3, 2, 1)}]}
    (folder / "inch.step").write_bytes(step_bytes(inch))
    (folder / "part.json").write_text(json.dumps(PART))
    return folder


def run(work, *arguments):
    code, out, err = canonis(*arguments, cwd=work)
    assert (code, err) == (0, ""), err
    return json.loads(out)


def sheet(work, *options, name="plate.step"):
    folder = work / f"out{abs(hash(options))}"
    code, _, err = canonis("draft", name, "--out", folder, *options, cwd=work)
    assert (code, err) == (0, ""), err
    return folder, json.loads((folder / "sheet.json").read_text())


def test_measure_has_every_key_in_millimetres_and_grams(work):
    data = run(work, "measure", "plate.step", "--density", "7.85", "--json")
    assert set(data) >= MEASURE and data["schema"] == "canonis.measure/1"
    assert set(data["file"]) >= {"name", "sha256", "unit", "step_schema"} and len(data["file"]["sha256"]) == 64
    solid = data["solids"][0]
    assert set(solid) >= SOLID and solid["faces_unowned"] == 0 and solid["valid"]
    assert solid["bbox_mm"] == [[0, 0, 0], [80, 50, 12]] and len(solid["inertia_g_mm2"]) == 3
    assert solid["mass_g"] == pytest.approx(solid["volume_mm3"] * 7.85 / 1000)
    holes = [f for f in data["features"] if f["kind"] == "hole"]
    assert all(set(h) >= HOLE for h in holes) and sorted(h["count"] for h in holes) == [1, 4]
    blind = next(h for h in holes if not h["through"])
    assert (blind["depth_mm"], blind["bottom"], blind["axis"]) == (pytest.approx(7), "cone", [0, 0, 1])
    assert blind["point_angle_deg"] == pytest.approx(118) and blind["positions_mm"] == [[40, 25, 12]]


def test_inch_files_are_measured_in_millimetres(work):
    data = run(work, "measure", "inch.step")
    assert data["file"]["unit"] == "in" and data["solids"][0]["bbox_mm"][1] == pytest.approx([76.2, 50.8, 25.4])
    assert data["solids"][0]["mass_g"] is None and data["solids"][0]["inertia_g_mm2"] is None


def test_draft_writes_its_files_with_every_key(work):
    folder, data = sheet(work)
    assert {p.name for p in folder.iterdir()} == {
        "sheet.json",
        "sheet-1.svg",
        "sheet.pdf",
        "check.json",
        "dimensions.csv",
    }
    assert (
        set(data) >= SHEET
        and data["schema"] == "canonis.sheet/1"
        and (data["style"], data["projection"], data["unit"]) == ("iso", "first", "mm")
    )
    assert set(data["layout"]) >= LAYOUT and set(data["complete"]) == {"ok", "free", "redundant"}
    kinds = [v["kind"] for v in data["views"]]
    assert "pictorial" in kinds and len(kinds) >= 3 and all(set(v) >= VIEW for v in data["views"])
    every = [v["kind"] for v in sheet(work, "--views", "all")[1]["views"]]
    assert "pictorial" in every and len(every) >= 4 and "section" not in every
    for mark in data["annotations"]:
        assert set(mark) >= MARK
        assert (mark["direction"] in ("x", "y")) == (mark["kind"] in ("linear", "ordinate"))
        if mark["kind"] in ("centre-mark", "centre-line"):
            assert mark["value"] is None and mark["measured"] is None
        x0, y0, x1, y1 = mark["box_mm"] or (0, 0, 1, 1)
        assert 0 <= x0 <= x1 <= 420 and 0 <= y0 <= y1 <= 297
    width = data["sheets"][0]["size_mm"]
    svg = (folder / "sheet-1.svg").read_text()
    assert f'width="{width[0]:g}mm"' in svg and f'height="{width[1]:g}mm"' in svg
    check = json.loads((folder / "check.json").read_text())
    assert set(check) >= {"schema", "summary", "findings", "mass"} and set(check["summary"]) == {
        "proven",
        "unproven",
        "contradicted",
    }
    table = list(csv.DictReader(io.StringIO((folder / "dimensions.csv").read_text())))
    assert {r["id"] for r in table} == {m["id"] for m in data["annotations"] if m["state"]}


def test_hole_notes_list_their_parts(work):
    _, data = sheet(work)
    note = next(m for m in data["annotations"] if m["kind"] == "hole" and m["count"] == 4)
    assert note["text"].startswith("4× ⌀6.6") and note["value"] == pytest.approx(6.6)
    parts = {p["name"]: (p["stated"], p["measured"]) for p in note["parts"]}
    assert set(parts) >= {"count", "diameter", "through", "counterbore-diameter", "counterbore-depth"}
    assert all(p["stated"] == pytest.approx(p["measured"]) for p in note["parts"] if p["name"] != "location")


@pytest.mark.parametrize(
    ("options", "wanted"),
    [
        (("--style", "asme"), {"style": "asme", "projection": "third"}),
        (("--projection", "third"), {"style": "iso", "projection": "third"}),
        (("--style", "asme", "--projection", "first"), {"style": "asme", "projection": "first"}),
        (("--unit", "in"), {"unit": "in"}),
    ],
)
def test_styles_projections_and_units(work, options, wanted):
    _, data = sheet(work, *options)
    assert {k: data[k] for k in wanted} == wanted
    overall = sorted(m["value"] for m in data["annotations"] if m["kind"] == "linear" and m["feature"] == "overall")
    scale = 25.4 if wanted.get("unit") == "in" else 1.0
    assert overall == pytest.approx([12 / scale, 50 / scale, 80 / scale], abs=1e-3)


def test_size_scale_title_material_and_datum(work):
    _, data = sheet(
        work,
        "--size",
        "A2",
        "--scale",
        "2:1",
        "--title",
        "Bell plate",
        "--material",
        "brass",
        "--datum",
        "right-back-top",
    )
    assert (data["sheets"][0]["size"], data["sheets"][0]["scale"]) == ("A2", "2:1")
    title = data["document"]["title"]
    assert (title["title"], title["material"]) == ("Bell plate", "brass") and title["mass"].endswith("g")
    # Measured from the far corner: the row's zero is the right end of the part.
    row = [m for m in data["annotations"] if m["kind"] == "ordinate" and m["direction"] == "x"]
    assert {"10", "40"} <= {m["text"] for m in row} and {m["refs"][0] for m in row} == {"extreme;1,0,0;80"}
    _, named = sheet(work, "--datum", "axis:H1")
    _, typed = sheet(work, "--datum", "40,25,0")
    assert named["document"]["datum_name"] == "axis:H1" and typed["document"]["datum_name"] == "40,25,0"
    assert {"30", "15"} <= {m["text"] for m in typed["annotations"] if m["kind"] == "ordinate"}


def test_lines_have_every_view_at_one_to_one(work):
    folder, data = sheet(work, "--lines")
    lines = json.loads((folder / "lines.json").read_text())
    assert [v["id"] for v in lines["views"]] == [v["id"] for v in data["views"]]
    for view, facts in zip(lines["views"], data["views"], strict=True):
        assert set(view) == {"id", "visible", "hidden", "smooth"}
        length = sum(
            sum(((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2) ** 0.5 for a, b in pairwise(p)) for p in view["visible"]
        )
        assert length == pytest.approx(facts["visible_length_mm"], rel=2e-4)


def test_same_input_same_bytes_in_every_file(work):
    one, _ = sheet(work, "--title", "Same")
    two = work / "again"
    assert canonis("draft", "plate.step", "--out", two, "--title", "Same", cwd=work)[0] == 0
    for path in one.iterdir():
        assert path.read_bytes() == (two / path.name).read_bytes(), path.name


def test_check_reads_texts_and_ignores_stored_values(work):
    folder, data = sheet(work)
    assert run(work, "check", folder / "sheet.json", "--model", "plate.step")["summary"]["contradicted"] == 0
    for mark in data["annotations"]:
        mark["value"] = mark["measured"] = 999.0
    (work / "lies.json").write_text(json.dumps(data))
    assert run(work, "check", "lies.json", "--model", "plate.step")["summary"]["contradicted"] == 0
    next(m for m in data["annotations"] if m["text"] == "80")["text"] = "81"
    (work / "wrong.json").write_text(json.dumps(data))
    result = run(work, "check", "wrong.json", "--model", "plate.step")
    found = next(f for f in result["findings"] if f["rule"] == "value.model")
    assert (found["severity"], found["expected"], found["found"]) == (
        "error",
        81.0,
        pytest.approx(80.0),
    ) and "81" in found["message"]


def test_source_prints_what_was_read(work):
    (work / "valve.spec").write_text(
        "unit: in\nlimits: middle\ngeneral: .XX ±.01  .XXX ±.005\n[characteristics]\n2 | sheet 1 front | 4x ⌀.265 THRU ⌴⌀.438 ↧.250\n"
        "3 | | 3/8-16 UNC-2B ↧.75\n4 | | 4x ⌀.26 blurb\n[chains]\nx: A -1.0625- B -?- C; A -2.875- C\n[checkpoints]\nblank | 412.7 g | 1.4375, .8, .55 | 0,0,0\n"
    )
    data = run(work, "source", "valve.spec")
    hole, thread, unread = data["characteristics"]
    first = {p["name"]: p for p in hole["parts"]}
    assert (
        hole["kind"] == "hole"
        and hole["count"] == 4
        and hole["where"] == "sheet 1 front"
        and hole["words"].startswith("four holes")
    )
    assert (
        first["diameter"]["nominal_mm"],
        first["diameter"]["lower_mm"],
        first["diameter"]["upper_mm"],
    ) == pytest.approx((6.731, 6.604, 6.858))
    assert (
        first["diameter"]["target_mm"] == pytest.approx(6.731)
        and first["diameter"]["tolerance"] == "general"
        and first["through"] == {"name": "through"}
    )
    assert (first["counterbore-diameter"]["nominal_mm"], first["counterbore-depth"]["nominal_mm"]) == pytest.approx(
        (11.1252, 6.35)
    )
    assert thread["kind"] == "thread" and thread["parts"][0] == {"name": "thread", "designation": "3/8-16 UNC-2B"}
    assert unread["error"]["column"] == 9 and unread["parts"] == []
    assert data["chains"][0]["levels_mm"] == {"A": 0, "B": 26.9875, "C": 73.025} and data["chains"][0]["solved"] == [
        "B-C"
    ]
    assert data["checkpoints"][0]["mass_g"] == 412.7 and all(
        set(f) >= {"rule", "subject", "message"} for f in data["findings"]
    )


def test_build_prints_the_ledger_and_writes_the_file(work):
    data = run(work, "build", "part.json", "--out", "built.step")
    assert data["schema"] == "canonis.ledger/1"
    assert all(set(s) == {"name", "volume_mm3", "mass_g", "centroid_mm", "faces"} for s in data["steps"])
    assert data["steps"][0]["volume_mm3"] == pytest.approx(80 * 50 * 12) and data["steps"][0]["faces"] == 6
    assert run(work, "measure", "built.step")["solids"][0]["volume_mm3"] == pytest.approx(
        data["steps"][-1]["volume_mm3"]
    )


def test_several_solids_are_one_drawing_with_a_sheet_for_each_different_one(work):
    two = {
        **PART,
        "steps": [
            {"name": "a", **block(20, 10, 5)},
            {
                "name": "b",
                "op": "extrude",
                "distance": 5,
                "profile": {"plane": "XY", "outer": {"rect": [40, 0, 20, 10]}},
            },
            {
                "name": "c",
                "op": "extrude",
                "distance": 9,
                "profile": {"plane": "XY", "outer": {"rect": [80, 0, 30, 30]}},
            },
        ],
    }
    (work / "three.step").write_bytes(step_bytes(two))
    data = run(work, "measure", "three.step")
    assert len(data["solids"]) == 3 and {f["solid"] for f in data["features"]} == {0, 1, 2}
    folder, drawn = sheet(work, name="three.step")
    assert sorted(s["count"] for s in drawn["sheets"]) == [1, 2]
    assert len(PdfReader(folder / "sheet.pdf").pages) == 2 and (folder / "sheet-2.svg").exists()
