"""Prints: what may be shown, what is refused, and the flagged PDF."""

import io
import re
import struct
import zlib

import pytest
from PIL import Image
from pypdf import PdfReader, PdfWriter
from pypdf.generic import DecodedStreamObject, DictionaryObject, NameObject, NumberObject
from reportlab.pdfgen import canvas

from canonis.core.faults import BadInput
from canonis.core.output.source_pdf import flag_print, write_list
from canonis.core.source.prints import inspect_print
from canonis.core.source.specification import read_specification


def pdf(pages=2, rotate=0):
    out = io.BytesIO()
    pen = canvas.Canvas(out, pagesize=(420, 300))
    for k in range(pages):
        pen.drawString(50, 50, f"sheet {k + 1}")
        pen.showPage()
    pen.save()
    if rotate:
        writer = PdfWriter(clone_from=PdfReader(out))
        for page in writer.pages:
            page.rotate(rotate)
        out = io.BytesIO()
        writer.write(out)
    return out.getvalue()


def picture(kind="PNG", size=(400, 300)):
    out = io.BytesIO()
    Image.new("RGB", size, "white").save(out, kind)
    return out.getvalue()


def bomb():
    """A PNG of 60,000 × 60,000 points in a few bytes."""

    def chunk(name, data):
        return struct.pack(">I", len(data)) + name + data + struct.pack(">I", zlib.crc32(name + data))

    head = struct.pack(">IIBBBBB", 60000, 60000, 8, 0, 0, 0, 0)
    return (
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(b"\0" * 1000)) + chunk(b"IEND", b"")
    )


def packed_bomb():
    """A PDF whose page content unpacks to 200 MB."""
    writer = PdfWriter()
    page = writer.add_blank_page(200, 200)

    stream = DecodedStreamObject()
    stream.set_data(b" " * 200_000_000)
    page[NameObject("/Contents")] = stream.flate_encode()
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def picture_in_forms(depth=3):
    """A page that draws a form that draws a form … that draws a picture of 40000 × 40000 points, and itself."""
    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(pdf(1))))
    image = DecodedStreamObject()
    image.set_data(b"\0")
    image.update(
        {
            NameObject("/Type"): NameObject("/XObject"),
            NameObject("/Subtype"): NameObject("/Image"),
            NameObject("/Width"): NumberObject(40000),
            NameObject("/Height"): NumberObject(40000),
        }
    )
    drawn = writer._add_object(image)
    for _ in range(depth):
        form = DecodedStreamObject()
        form.set_data(b"/X Do")
        form.update({NameObject("/Type"): NameObject("/XObject"), NameObject("/Subtype"): NameObject("/Form")})
        mine = writer._add_object(form)
        inside = DictionaryObject({NameObject("/X"): drawn, NameObject("/Self"): mine})
        form[NameObject("/Resources")] = DictionaryObject({NameObject("/XObject"): inside})
        drawn = mine
    holder = DictionaryObject({NameObject("/X"): drawn})
    writer.pages[0][NameObject("/Resources")] = DictionaryObject({NameObject("/XObject"): holder})
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def locked():
    writer = PdfWriter(clone_from=PdfReader(io.BytesIO(pdf())))
    writer.encrypt("secret")
    out = io.BytesIO()
    writer.write(out)
    return out.getvalue()


def test_pages_and_their_sizes():
    assert inspect_print(pdf(), "a.pdf") == {"kind": "pdf", "pages": [{"width": 420.0, "height": 300.0}] * 2}
    assert inspect_print(pdf(1, 90), "a.pdf")["pages"] == [{"width": 300.0, "height": 420.0}]
    assert inspect_print(picture(), "a.png") == {"kind": "png", "pages": [{"width": 400.0, "height": 300.0}]}
    assert inspect_print(picture("JPEG"), "A.JPG")["kind"] == "jpeg"


@pytest.mark.parametrize(
    ("make", "name", "words"),
    [
        (lambda: b"", "a.pdf", "empty"),
        (lambda: b"hello", "a.pdf", "is none"),
        (lambda: picture(), "a.pdf", "PNG with the wrong name"),
        (lambda: pdf(), "a.png", "PDF with the wrong name"),
        (lambda: pdf(), "a.dwx", "not a PDF, PNG or JPEG"),
        (lambda: pdf()[:300], "a.pdf", "broken"),
        (lambda: picture()[:120], "a.png", "broken"),
        (bomb, "a.png", "60000 × 60000"),
        (packed_bomb, "a.pdf", "unpacks to more"),
        (picture_in_forms, "a.pdf", "unpacks to more"),
        (locked, "a.pdf", "password"),
        (lambda: pdf(80), "a.pdf", "80 pages"),
        (lambda: picture(size=(4, 4)), "a.png", "no print"),
    ],
    ids=[
        "empty",
        "text",
        "png-as-pdf",
        "pdf-as-png",
        "suffix",
        "cut-pdf",
        "cut-png",
        "bomb",
        "packed",
        "form",
        "locked",
        "many",
        "tiny",
    ],
)
def test_bad_prints_are_refused_in_one_sentence(make, name, words):
    with pytest.raises(BadInput, match=words) as refused:
        inspect_print(make(), name)
    assert "\n" not in str(refused.value)


@pytest.mark.parametrize(
    ("size", "limit"), [(40 * 1048576 + 1, 40 * 1048576), (1048576 + 50_000, 1048576), (3_000_000, 1048576)]
)
def test_the_limit_is_said_and_never_as_the_size_itself(size, limit):
    with pytest.raises(BadInput, match="the limit is") as refused:
        inspect_print(b"%PDF-" + b" " * (size - 5), "a.pdf", limit)
    has, most = re.findall(r"([\d.]+) MB", str(refused.value))
    assert float(has) > float(most)


@pytest.mark.parametrize(
    ("kind", "make", "turn"),
    [("pdf", pdf, 0), ("pdf", lambda: pdf(2, 90), 90), ("png", picture, 0), ("jpeg", lambda: picture("JPEG"), 270)],
)
def test_flags_print_with_the_print(kind, make, turn):
    data = make()
    pages = [{**p, "turn": turn} for p in inspect_print(data, f"a.{kind}")["pages"]]
    flags = [{"number": "7", "page": 1, "x": 0.25, "y": 0.5}, {"number": "12", "page": len(pages), "x": 0.9, "y": 0.1}]
    made = PdfReader(io.BytesIO(flag_print(data, kind, pages, flags)))
    assert len(made.pages) == len(pages)
    assert "7" in made.pages[0].extract_text() and "12" in made.pages[-1].extract_text()
    if kind == "pdf":
        assert "sheet 1" in made.pages[0].extract_text()


def test_the_list_as_pdf_holds_every_line_and_is_the_same_each_time(cock_spec):
    long = "\n".join(f"{k} | sheet {k} | 12 ±.1" for k in range(30, 130))
    spec = read_specification(cock_spec.replace("[checkpoints]", f"{long}\n{'x' * 300} | | blurb\n[checkpoints]"))
    data = write_list(spec)
    assert data == write_list(spec)
    text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(data)).pages)
    assert (
        "4x ⌀6.6 THRU" in text
        and "counterbored" in text
        and "129" in text
        and "NOT READ" in text
        and "not certified" in text
    )
