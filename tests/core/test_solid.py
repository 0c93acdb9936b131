import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canonis.core.faults import BadInput
from canonis.core.features.report import in_frame, measure_model
from canonis.core.recipe.build import build_recipe
from canonis.core.solid.making import turned_about, write_step
from canonis.core.solid.reader import read_model
from canonis.core.solid.references import face_reference, parse, resolve_all
from tests.conftest import block, drill, model_of, real_part, recipe, step_bytes


def test_mass_of_a_drilled_block_is_the_closed_form():
    hole = {"op": "hole", "at": [[20, 15, 12]], "axis": [0, 0, 1], "diameter": 8, "depth": 6, "point": 118}
    entry = measure_model(model_of(recipe(block(40, 30, 12), hole)), 7.85)["solids"][0]
    volume = 40 * 30 * 12 - drill(8, 6, 118)
    assert entry["volume_mm3"] == pytest.approx(volume, rel=1e-9)
    assert entry["mass_g"] == pytest.approx(volume * 7.85e-3, rel=1e-9)
    assert entry["bbox_mm"] == [[0, 0, 0], [40, 30, 12]]
    assert entry["faces_unowned"] == 0


def test_inertia_and_centre_of_a_block():
    a, b, c = 40.0, 30.0, 12.0
    entry = measure_model(model_of(recipe(block(a, b, c))), 1.0)["solids"][0]
    mass = a * b * c / 1000
    assert entry["centroid_mm"] == pytest.approx([a / 2, b / 2, c / 2])
    wanted = [mass * (b * b + c * c) / 12, mass * (a * a + c * c) / 12, mass * (a * a + b * b) / 12]
    assert np.diag(entry["inertia_g_mm2"]) == pytest.approx(wanted, rel=1e-6)
    assert in_frame([a / 2, b / 2, c / 2], ([a, 0, 0], [0, 1, 0], [0, 0, 1])) == pytest.approx([b / 2, c / 2, -a / 2])


def test_without_density_there_is_no_mass():
    entry = measure_model(model_of(recipe(block(10, 10, 10))))["solids"][0]
    assert entry["mass_g"] is None and entry["inertia_g_mm2"] is None


def test_inch_files_come_in_millimetres():
    model = model_of(recipe(block(2, 1, "3/8 + 1/16"), unit="in"))
    assert model.unit == "in"
    assert measure_model(model)["solids"][0]["bbox_mm"][1] == pytest.approx([50.8, 25.4, 25.4 * 7 / 16])


@settings(max_examples=15, deadline=None)
@given(st.floats(20, 90), st.floats(3, 12), st.floats(-170, 170))
def test_references_find_themselves_and_survive_a_turn(width, diameter, turn):
    hole = {"op": "hole", "at": [[width / 3, 8, 10]], "axis": [0, 0, 1], "diameter": diameter, "through": True}
    built = build_recipe(recipe(block(width, 30, 10), hole))
    for shape in (built.shape, turned_about(built.shape, np.array([1.0, 2, 3]), np.array([1.0, 1, 0]), turn)):
        solid = read_model(write_step(shape, "t", built.unit), "t.step").solids[0]
        refs = {face_reference(f): f.index for f in solid.faces}
        found = resolve_all(refs, solid)
        assert all(found[r].status == "same" and found[r].faces == (k,) for r, k in refs.items())
        assert all(str(parse(r)) == r for r in refs)


def test_references_follow_what_moved_and_say_what_is_gone():
    def part(x: float, d: float, drilled: bool = True):
        hole = {"op": "hole", "at": [[x, 15, 10]], "axis": [0, 0, 1], "diameter": d, "through": True}
        return model_of(recipe(block(60, 30, 10), *([hole] if drilled else []))).solids[0]

    bore = next(face_reference(f) for f in part(20, 8).faces if f.kind == "cylinder")
    moved = resolve_all([bore], part(23, 8))[bore]
    assert moved.status == "moved" and moved.shift == pytest.approx(3)
    assert resolve_all([bore], part(20, 9))[bore].status == "resized"
    assert resolve_all([bore], part(26, 9))[bore].status == "lost", "another place and another size is another hole"
    assert resolve_all([bore], part(20, 8, drilled=False))[bore].status == "lost"


GOOD = step_bytes(recipe(block(10, 10, 10)))


@pytest.mark.parametrize(
    ("data", "name", "word"),
    [
        (b"", "a.step", "empty"),
        (b"hello", "a.step", "not a STEP"),
        (GOOD, "a.txt", "named"),
        (GOOD[: len(GOOD) // 2], "a.step", "cut short"),
        (GOOD.replace(b"#12,", b"#99999,", 1), "a.step", "#99999"),
        (GOOD.replace(b"10.", b"1.E999", 1), "a.step", "absurd"),
        (b"ISO-10303-21;\nHEADER;\nENDSEC;\nDATA;\nENDSEC;\nEND-ISO-10303-21;\n", "a.step", "no data"),
        (
            b"ISO-10303-21;\nHEADER;ENDSEC;\nDATA;\n#1=PRODUCT('a','b','',());\nENDSEC;\nEND-ISO-10303-21;\n",
            "a.step",
            "no solid|cannot be read",
        ),
    ],
)
def test_bad_files_are_one_sentence(data, name, word):
    with pytest.raises(BadInput, match=word) as fault:
        read_model(data, name)
    assert "\n" not in str(fault.value)


def test_an_open_shell_is_no_solid():
    with pytest.raises(BadInput, match=r"open shell|no solid"):
        read_model(_without_a_face(GOOD), "open.step")


def _without_a_face(data: bytes) -> bytes:
    """The same file with one face taken out of its shell."""
    import re

    text = data.decode()
    shell = re.search(r"CLOSED_SHELL\('',\(([^)]*)\)\)", text, re.S)
    assert shell
    faces = shell.group(1).split(",")
    return text.replace(shell.group(1), ",".join(faces[:-1]), 1).encode()


def test_too_large_a_file_is_refused():
    with pytest.raises(BadInput, match="limit"):
        read_model(GOOD, "a.step", limit=100)


def test_same_recipe_gives_the_same_bytes():
    assert step_bytes(recipe(block(10, 10, 10))) == GOOD


def test_split_free_form_faces_of_a_real_part_are_understood():
    model = read_model(real_part("component8.step"), "component8.step")
    report = measure_model(model)
    hole = next(f for f in report["features"] if f["kind"] == "hole")
    assert hole["through"] and hole["diameter_mm"] == pytest.approx(19.29375)
    assert math.isclose(report["solids"][0]["volume_mm3"], 18384.5045, rel_tol=1e-6)
