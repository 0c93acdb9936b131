"""Source prints: what a file is, how many pages it has, and whether it is safe to show. Runs under limits."""

import io
import re
from typing import Any

from canonis.core.faults import BadInput
from canonis.core.plain import check_size

__all__ = ["PRINT_LIMIT", "inspect_print"]

#: Largest print taken by default, bytes.
PRINT_LIMIT = 40 * 1024 * 1024
#: Pictures beyond this many points, and pages beyond this many unpacked bytes, are refused unopened.
_MOST_POINTS = 100_000_000
_MOST_UNPACKED = 120_000_000
_MOST_PAGES = 60

_KINDS = {"pdf": b"%PDF-", "png": b"\x89PNG\r\n\x1a\n", "jpeg": b"\xff\xd8\xff"}
_SUFFIXES = {"pdf": "pdf", "png": "png", "jpg": "jpeg", "jpeg": "jpeg"}


def _kind(data: bytes, name: str) -> str:
    suffix = _SUFFIXES.get(name.rsplit(".", 1)[-1].lower() if "." in name else "")
    if suffix is None:
        raise BadInput(f"“{name}” is not a PDF, PNG or JPEG; save the print as one of them.")
    found = next((k for k, mark in _KINDS.items() if data.lstrip(b"\r\n \t")[:1024].startswith(mark)), None)
    if found is None and b"%PDF-" in data[:1024]:
        found = "pdf"
    if found is None:
        raise BadInput(f"“{name}” is named like a {suffix.upper()} but is none; save the print again.")
    if found != suffix:
        raise BadInput(f"“{name}” is a {found.upper()} with the wrong name; rename it to end in .{found}.")
    return found


def _picture(data: bytes, name: str, kind: str) -> list[dict[str, Any]]:
    from PIL import Image

    Image.MAX_IMAGE_PIXELS = None  # the check below speaks for itself
    try:
        with Image.open(io.BytesIO(data), formats=[kind.upper()]) as picture:
            width, height = picture.size
            if width * height > _MOST_POINTS:
                raise BadInput(
                    f"“{name}” has {width} × {height} points, more than {_MOST_POINTS // 10**6} million; scan it more coarsely."
                )
            if width < 8 or height < 8:
                raise BadInput(f"“{name}” has only {width} × {height} points; that is no print.")
            picture.load()
    except BadInput:
        raise
    except Exception:  # the decoder raises many kinds for broken data
        raise BadInput(f"“{name}” is broken: its picture cannot be decoded; save it again.") from None
    return [{"width": float(width), "height": float(height)}]


def _drawn_bytes(holder: Any, met: set[Any]) -> int:
    """Bytes that the pictures and forms which a page (or a form) draws unpack to, those inside other forms too."""
    total = 0
    resources = holder.get("/Resources")
    drawn = (resources.get_object() if resources is not None else {}).get("/XObject")
    for entry in (drawn.get_object() if drawn is not None else {}).values():
        mark = getattr(entry, "idnum", id(entry))
        if mark in met:
            continue
        met.add(mark)
        item = entry.get_object()
        if item.get("/Subtype") == "/Image":
            total += int(item.get("/Width", 0)) * int(item.get("/Height", 0)) // 2
        elif item.get("/Subtype") == "/Form":
            total += len(item.get_data()) + _drawn_bytes(item, met)
        if total > _MOST_UNPACKED:
            break
    return total


def _pages(data: bytes, name: str) -> list[dict[str, Any]]:
    from pypdf import PdfReader
    from pypdf.errors import LimitReachedError

    try:
        reader = PdfReader(io.BytesIO(data))
        if reader.is_encrypted:
            raise BadInput(f"“{name}” is locked with a password; save it without one.")
        count = len(reader.pages)
        if count > _MOST_PAGES:
            raise BadInput(f"“{name}” has {count} pages; give the {_MOST_PAGES} or fewer that show the part.")
        out, unpacked = [], 0
        for page in reader.pages:
            contents = page.get_contents()
            unpacked += len(contents.get_data()) if contents is not None else 0
            unpacked += _drawn_bytes(page, set())
            if unpacked > _MOST_UNPACKED:
                raise BadInput(
                    f"“{name}” unpacks to more than {_MOST_UNPACKED // 10**6} MB; print it to PDF again at a lower resolution."
                )
            box = page.cropbox
            width, height = float(box.width), float(box.height)
            if int(page.get("/Rotate", 0) or 0) % 180:
                width, height = height, width
            out.append({"width": width, "height": height})
    except BadInput:
        raise
    except (MemoryError, LimitReachedError):
        raise BadInput(
            f"“{name}” unpacks to more than the limit allows; print it to PDF again at a lower resolution."
        ) from None
    except Exception:  # a broken file raises whatever its first broken part raises
        raise BadInput(f"“{name}” is broken: its pages cannot be read; save it as PDF again.") from None
    if not out or any(not 1 <= v <= 20000 for page in out for v in page.values()):
        raise BadInput(f"“{name}” has no page that can be shown; save it as PDF again.")
    return out


def inspect_print(data: bytes, name: str, limit: int = PRINT_LIMIT) -> dict[str, Any]:
    """Kind (`pdf`, `png`, `jpeg`) and pages (width and height: points of the page or the picture).

    Raises BadInput with one sentence for a file that is empty, too large, misnamed, broken, locked or a bomb.
    """
    name = re.sub(r"[\x00-\x1f]", "", name)[-120:]
    if not data:
        raise BadInput(f"“{name}” is empty; choose the file again.")
    check_size(data, limit, name)
    kind = _kind(data, name)
    return {"kind": kind, "pages": _pages(data, name) if kind == "pdf" else _picture(data, name, kind)}
