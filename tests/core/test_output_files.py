"""Files of a sheet: true size, named layers, bookmarks and properties, pictures at a resolution, cut faces in lines.json."""

import io
import re
import shutil
import subprocess

import numpy as np
import pytest
from PIL import Image
from pypdf import PdfReader

from canonis.core.drafting.commands import read_command
from canonis.core.drafting.draft import scene_for
from canonis.core.drafting.revise import apply_command
from canonis.core.faults import BadInput
from canonis.core.output.pdf import write_pdf, write_png
from canonis.core.output.sheet_json import lines_json
from canonis.core.output.svg import write_svg
from canonis.core.sheet.compile import compile_sheet
from canonis.core.sheet.layers import LAYERS
from tests.conftest import block, draft_of, recipe

PLATE = recipe(
    block(80, 50, 12),
    {
        "op": "hole",
        "at": [[20, 25, 12], [60, 25, 12]],
        "axis": [0, 0, 1],
        "diameter": 8,
        "through": True,
        "counterbore": {"diameter": 14, "depth": 5},
    },
)


@pytest.fixture(scope="module")
def cut():
    """The plate's sheet with a section through both holes, and its scene."""
    draft = draft_of(PLATE)
    view = next(v for v in draft.document.views if v.kind in ("front", "top") and abs(np.cross(v.right, v.up)[2]) > 0.9)
    command = read_command({"op": "add-section", "view": view.id, "across": "y", "level": 25})
    document = apply_command(draft.document, command, draft.scene.solids, draft.features, draft.scene.projections)
    return document, scene_for(document, draft.scene.solids, draft.features, draft.scene.projections)


@pytest.fixture(scope="module")
def pdf(cut):
    return write_pdf(compile_sheet(cut[1]))


def test_the_pdf_is_true_size_with_layers_bookmarks_and_properties(cut, pdf):
    reader = PdfReader(io.BytesIO(pdf))
    size = cut[0].pages[0].size
    page = reader.pages[0]
    wide, high = (float(x) * 25.4 / 72 for x in (page.mediabox.width, page.mediabox.height))
    assert (wide, high) == pytest.approx({"A3": (420, 297), "A4": (297, 210)}[size], abs=0.01)
    names = [g.get_object()["/Name"] for g in reader.trailer["/Root"]["/OCProperties"]["/OCGs"]]
    assert names == list(LAYERS.values())
    assert [entry.title for entry in reader.outline] == [f"Sheet 1/{len(cut[0].pages)}"]
    assert reader.metadata.title and "Drawing" in reader.metadata.subject


def test_a_known_length_on_the_page_is_true(cut, pdf):
    document, _ = cut
    data = PdfReader(io.BytesIO(pdf)).pages[0].get_contents().get_data().decode("latin-1")
    visible = data[data.index("/OC /visible BDC") : data.index("EMC", data.index("/OC /visible BDC"))]
    lengths = []
    for x0, y0, x1, y1 in re.findall(r"([\d.]+) ([\d.]+) m ([\d.]+) ([\d.]+) l", visible):
        lengths.append(float(np.hypot(float(x1) - float(x0), float(y1) - float(y0))) * 25.4 / 72)
    scale = document.pages[0].scale
    assert min(abs(x - 80 * scale) for x in lengths) < 0.01 and min(abs(x - 12 * scale) for x in lengths) < 0.01


def test_the_file_is_sound(pdf, tmp_path):
    if shutil.which("qpdf") is None:
        pytest.skip("qpdf is not installed")
    (tmp_path / "sheet.pdf").write_bytes(pdf)
    told = subprocess.run(["qpdf", "--check", str(tmp_path / "sheet.pdf")], capture_output=True, text=True)
    assert told.returncode == 0 and "WARNING" not in told.stdout + told.stderr


def test_the_svg_has_the_same_layers(cut):
    drawing = compile_sheet(cut[1])
    text = write_svg(drawing.pages[0], drawing.title, drawing.views)
    keys = re.findall(r'<g id="(\w+)" data-layer=', text)
    assert keys == [k for k in LAYERS if k in keys] and {"visible", "hatching", "cutting", "statements"} <= set(keys)
    hatching = text[text.index('<g id="hatching"') : text.index("</g>", text.index('<g id="hatching"'))]
    assert 'class="hatch"' in hatching and 'class="visible"' not in hatching


def test_a_picture_has_the_resolution_asked_for(pdf):
    picture = Image.open(io.BytesIO(write_png(pdf, 1, 100)))
    page = PdfReader(io.BytesIO(pdf)).pages[0]
    assert picture.size == pytest.approx(
        (float(page.mediabox.width) / 0.72, float(page.mediabox.height) / 0.72), abs=1.1
    )
    with pytest.raises(BadInput, match="20 to 1200"):
        write_png(pdf, 1, 5000)


def test_lines_of_a_section_carry_the_cut_faces(cut):
    document, scene = cut
    section = next(v for v in document.views if v.kind == "section")
    entry = next(v for v in lines_json(scene)["views"] if v["id"] == section.id)
    area = 0.0
    for outer, *holes in entry["cut"]:
        for ring, sign in ((outer, 1), *((h, -1) for h in holes)):
            p = np.array(ring)
            area += sign * abs(float((p[:-1, 0] * p[1:, 1] - p[1:, 0] * p[:-1, 1]).sum())) / 2
    # Two holes of 8, each with a seat of 14 to a depth of 5.
    assert area == pytest.approx(80 * 12 - 2 * (8 * 12 + 6 * 5), rel=1e-6)
    assert all("cut" not in v for v in lines_json(scene)["views"] if v["id"] != section.id)


def test_a_shaded_pictorial_is_a_picture_of_its_outline_in_every_file(cut):
    document, scene = cut
    pictorial = next(v for v in document.views if v.kind == "pictorial")
    shaded = scene.on(
        document.model_copy(
            update={
                "views": tuple(v.model_copy(update={"shaded": True}) if v == pictorial else v for v in document.views)
            }
        )
    )
    drawing = compile_sheet(shaded)
    (picture,) = drawing.pages[0].pictures
    # The solid fills the picture as it fills its outline: the box of the lines, clear at the corners.
    assert picture.box == pytest.approx(scene.box(pictorial), abs=0.1)
    dots = np.asarray(Image.open(io.BytesIO(picture.png)).convert("LA"))
    assert dots[0, 0, 1] == 0 and dots[dots.shape[0] // 2, dots.shape[1] // 2, 1] == 255
    assert len(np.unique(dots[..., 0][dots[..., 1] > 0])) > 2
    assert 'href="data:image/png;base64,' in write_svg(drawing.pages[0], "x", drawing.views)
    images = PdfReader(io.BytesIO(write_pdf(drawing))).pages[0].images
    assert len(images) == 1
