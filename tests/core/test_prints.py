"""Prints: what may be shown, what is refused, and the flagged PDF."""

import io
import struct
import zlib

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from pypdf import PdfReader, PdfWriter
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
    from pypdf.generic import DecodedStreamObject, NameObject

    stream = DecodedStreamObject()
    stream.set_data(b" " * 200_000_000)
    page[NameObject("/Contents")] = stream.flate_encode()
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
        (lambda: b"", "a.pdf", "empty"), (lambda: b"hello", "a.pdf", "is none"), (lambda: picture(), "a.pdf", "PNG with the wrong name"),
        (lambda: pdf(), "a.png", "PDF with the wrong name"), (lambda: pdf(), "a.dwx", "not a PDF, PNG or JPEG"),
        (lambda: pdf()[:300], "a.pdf", "broken"), (lambda: picture()[:120], "a.png", "broken"), (bomb, "a.png", "60000 × 60000"),
        (packed_bomb, "a.pdf", "unpacks to more"), (locked, "a.pdf", "password"), (lambda: pdf(80), "a.pdf", "80 pages"),
        (lambda: picture(size=(4, 4)), "a.png", "no print"),
    ],
    ids=["empty", "text", "png-as-pdf", "pdf-as-png", "suffix", "cut-pdf", "cut-png", "bomb", "packed", "locked", "many", "tiny"],
)  # fmt: skip
def test_bad_prints_are_refused_in_one_sentence(make, name, words):
    with pytest.raises(BadInput, match=words) as refused:
        inspect_print(make(), name)
    assert "\n" not in str(refused.value)


def test_the_limit_is_said():
    with pytest.raises(BadInput, match="limit is 1 MB"):
        inspect_print(b"%PDF-" + b" " * 2_000_000, "a.pdf", 1048576)


GOOD = pdf()


@settings(max_examples=60, deadline=None)
@given(st.lists(st.tuples(st.integers(5, len(GOOD) - 1), st.integers(0, 255)), min_size=1, max_size=40))
def test_a_damaged_print_is_shown_or_refused(damage):
    data = bytearray(GOOD)
    for at, value in damage:
        data[at] = value
    try:
        assert inspect_print(bytes(data), "a.pdf")["pages"]
    except BadInput as refused:
        assert "\n" not in str(refused)


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
