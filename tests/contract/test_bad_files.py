"""Files that are not what they say: every command answers with one line and code 2, and writes nothing."""

import json

import pytest

from canonis.cli import kept_child
from tests.commands import canonis
from tests.conftest import block, recipe, step_bytes

HUGE = "9" * 6000


@pytest.fixture(scope="module", autouse=True)
def warm():
    with kept_child():
        yield


@pytest.fixture(scope="module")
def work(tmp_path_factory):
    folder = tmp_path_factory.mktemp("bad")
    (folder / "good.step").write_bytes(step_bytes(recipe(block(30, 20, 10))))
    code, _, err = canonis("draft", "good.step", "--out", "sheet", cwd=folder)
    assert (code, err) == (0, "")
    return folder


def one_line(code, out, err):
    assert (code, out) == (2, ""), (code, out[:200], err[:400])
    assert len(err.strip().splitlines()) == 1 and "Traceback" not in err and err.strip()


SHEETS = {
    "empty": "",
    "text": "no sheet",
    "list": "[1, 2]",
    "null": "null",
    "number": "5",
    "cut": '{"schema": "canonis.sheet/1", ',
    "schema": '{"schema": "canonis.sheet/9"}',
    "bare": '{"schema": "canonis.sheet/1"}',
    "deep": "[" * 100_000,
    "huge": '{"schema": ' + HUGE + "}",
    "nan": '{"schema": "canonis.sheet/1", "views": NaN}',
    "views": '{"schema": "canonis.sheet/1", "views": [5], "annotations": 7, "sheets": {}}',
}


@pytest.mark.parametrize("text", SHEETS.values(), ids=list(SHEETS))
def test_a_sheet_that_is_none(work, text):
    (work / "sheet.json").write_text(text)
    one_line(*canonis("check", "sheet.json", "--model", "good.step", cwd=work))


def broken(work, change):
    data = json.loads((work / "sheet" / "sheet.json").read_text())
    change(data)
    (work / "changed.json").write_text(json.dumps(data))
    return canonis("check", "changed.json", "--model", "good.step", cwd=work)


@pytest.mark.parametrize(
    "change",
    [
        lambda d: d.pop("annotations"),
        lambda d: d.pop("views"),
        lambda d: d.update(unit="cubits"),
        lambda d: d.update(sheets=[]),
        lambda d: d["annotations"].append(5),
        lambda d: d["annotations"][0].update(kind="poem"),
        lambda d: d["views"][0].update(right=[1, 0]),
        lambda d: d["annotations"][0].update(refs="none"),
        lambda d: d["views"][0].update(kind="inside"),
    ],
    ids=["no annotations", "no views", "unit", "no sheets", "number", "kind", "right", "refs", "view kind"],
)
def test_a_sheet_with_something_missing_or_of_another_kind_is_one_line_or_judged(work, change):
    code, out, err = broken(work, change)
    if code == 0:
        assert json.loads(out)["schema"] == "canonis.check/1"
    else:
        one_line(code, out, err)


RECIPES = {
    "empty": "",
    "list": "[]",
    "deep": "[" * 100_000,
    "steps": '{"schema": "canonis.recipe/1", "steps": {}}',
    "huge": '{"schema": "canonis.recipe/1", "steps": [{"op": "extrude", "distance": ' + HUGE + "}]}",
    "op": '{"schema": "canonis.recipe/1", "steps": [{"op": "conjure"}]}',
    "number": '{"schema": "canonis.recipe/1", "steps": [5]}',
    "nan": '{"schema": "canonis.recipe/1", "steps": [{"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, NaN, 5]}}, "distance": 5}]}',
    "zero": '{"schema": "canonis.recipe/1", "steps": [{"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, 5, 5]}}, "distance": 0}]}',
    "density": '{"schema": "canonis.recipe/1", "density": -1, "steps": [{"op": "extrude"}]}',
}


@pytest.mark.parametrize("text", RECIPES.values(), ids=list(RECIPES))
def test_a_recipe_that_builds_nothing(work, text):
    (work / "recipe.json").write_text(text)
    one_line(*canonis("build", "recipe.json", "--out", "made.step", cwd=work))
    assert not (work / "made.step").exists()


SPECS = {
    "nul": "unit: mm\n\x00",
    "json": '{"schema": "canonis.source/1", ',
    "schema": '{"schema": "other"}',
    "unit": "unit: cubits\n",
    "density": "density: heavy\n",
    "general": "general: tight\n",
    "header": '{"schema": "canonis.source/1", "header": [1]}',
    "deep": "{" * 100_000,
    "huge": '{"schema": "canonis.source/1", "density": ' + HUGE + "}",
}


@pytest.mark.parametrize("text", SPECS.values(), ids=list(SPECS))
def test_a_source_that_is_none(work, text):
    (work / "part.spec").write_text(text)
    one_line(*canonis("source", "part.spec", cwd=work))
    one_line(*canonis("draft", "good.step", "--out", "never", "--spec", "part.spec", cwd=work))
    assert not list(work.glob("never/*"))


def test_a_source_in_another_coding_and_one_that_is_a_folder(work):
    (work / "latin.spec").write_bytes("title: Gehäuse\n".encode("latin-1"))
    one_line(*canonis("source", "latin.spec", cwd=work))
    one_line(*canonis("source", ".", cwd=work))
    one_line(*canonis("source", "nowhere.spec", cwd=work))


@pytest.mark.parametrize(
    "arguments",
    [
        ("--density", "0"),
        ("--density", "-2"),
        ("--density", "1e9"),
        ("--density", "nan"),
        ("--frame", "0,0"),
        ("--frame", "a,b,c"),
        ("--frame", "0,0,0;1,0,0;2,0,0"),
    ],
)
def test_measure_with_options_out_of_reach(work, arguments):
    one_line(*canonis("measure", "good.step", *arguments, cwd=work))


@pytest.mark.parametrize(
    "arguments",
    [
        ("--scale", "big"),
        ("--scale", "0:1"),
        ("--scale", "1:0"),
        ("--size", "A7"),
        ("--projection", "second"),
        ("--unit", "ft"),
        ("--datum", "H9"),
        ("--datum", "1,2"),
        ("--datum", "axis:H9"),
        ("--front", "up"),
        ("--views", "most"),
    ],
)
def test_draft_with_options_out_of_reach(work, arguments):
    one_line(*canonis("draft", "good.step", "--out", "none", *arguments, cwd=work))
    assert not list(work.glob("none/*"))


def test_a_file_over_the_limit_says_both_sizes(work, monkeypatch):
    monkeypatch.setenv("CANONIS_MAX_FILE_MB", "1")
    (work / "large.step").write_bytes(b"ISO-10303-21;" + b" " * 1_100_000)
    code, out, err = canonis("measure", "large.step", cwd=work)
    one_line(code, out, err)
    assert "1.1 MB" in err and "limit is 1 MB" in err
