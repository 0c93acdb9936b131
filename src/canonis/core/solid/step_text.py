"""What the text of a STEP file says before the kernel sees it: cheap checks against bad files.

Every scan is linear in the length of the text, whatever stands in it: the patterns never give back what they took.
"""

import re
from pathlib import Path
from typing import Any, Literal

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.plain import check_size, cleaned
from canonis.core.solid.step_names import plain_text
from canonis.settings import settings

__all__ = ["DEFAULT_LIMIT", "StepText", "glance", "inspect", "label"]

#: Largest file taken by default, bytes.
DEFAULT_LIMIT = 100 * 1024 * 1024
#: Mentions of others in an entity, on average.
_MENTIONS = 12
#: No part that anyone drafts is larger than ten kilometres; beyond it a reader may spin for ever.
_ABSURD_MM = 1e7
_STRING = re.compile(rb"'[^']*+'")
_POINT = re.compile(rb"CARTESIAN_POINT\s*+\(\s*+''\s*+,\s*+\(([^()]*+)\)")
#: No size, weight or parameter of a part has twenty digits; the reader may spin on one for ever.
_HUGE = re.compile(rb"[eE](?<=[\d.][eE])\+?0*+(?:[2-9]\d|[1-9]\d\d)")
_PRODUCT = re.compile(rb"PRODUCT(?<![A-Z0-9_]PRODUCT)\s*+\(\s*+'([^']*+)'")
_ROUND = re.compile(
    rb"(CYLINDRICAL_SURFACE|SPHERICAL_SURFACE|TOROIDAL_SURFACE|CONICAL_SURFACE|CIRCLE)"
    rb"\s*+\(\s*+''\s*+,\s*+#\d++\s*+,([^()]*+)\)"
)
_INCH = re.compile(rb"CONVERSION_BASED_UNIT\s*+\(\s*+'INCH'", re.IGNORECASE)
_METRES = re.compile(rb"SI_UNIT\s*+\(\s*+\.([A-Z]++)\.\s*+,\s*+\.METRE\.\s*+\)")
#: Multiples of the metre that nobody draws a part in; a reader's tolerances lose the part in them.
_RARE = {
    "KILO": "kilometres",
    "HECTO": "hectometres",
    "DECA": "decametres",
    "MEGA": "megametres",
    "GIGA": "gigametres",
    "TERA": "terametres",
    "PETA": "petametres",
    "EXA": "exametres",
    "NANO": "nanometres",
    "PICO": "picometres",
    "FEMTO": "femtometres",
    "ATTO": "attometres",
}
#: No face of a part is rounder, in the file's unit.
_LARGEST_RADIUS = 1e9
_AFTER_BLANKS = re.compile(rb"[\t\n\r ]*+=")
_SPACES = (9, 10, 13, 32)
#: Entity numbers have at most this many digits.
_DIGITS = 18


class StepText:
    """The header facts and the raw bytes of a file that looks like STEP."""

    def __init__(self, name: str, data: bytes, schema: str, products: list[str]) -> None:
        self.name, self.data, self.schema, self.products = name, data, schema, products


def _schema(head: str) -> str:
    found = re.search(r"FILE_SCHEMA\s*+\(\s*+\(\s*+'([^']*+)'", head)
    text = found.group(1).upper() if found else ""
    if "AP242" in text:
        return "AP242"
    if "CONFIG_CONTROL" in text or "AP203" in text:
        return "AP203"
    if "AUTOMOTIVE" in text or "AP214" in text:
        return "AP214"
    return cleaned(text.split(" ")[0], 40) or "unknown"


def glance(data: bytes, name: str, limit: int = DEFAULT_LIMIT) -> None:
    """The checks that cost nothing: name, size, first and last line.

    Raises BadInput with one sentence.
    """
    if Path(name).suffix.lower() not in {".step", ".stp"}:
        raise BadInput(f"“{name}” is not named like a STEP file; give a file ending in .step or .stp.")
    if not data[:4096].strip() and not data.strip():
        raise BadInput(f"“{name}” is empty; export the model again.")
    check_size(data, limit, name)
    if not data[:4096].lstrip(b"\xef\xbb\xbf \t\r\n").startswith(b"ISO-10303-21"):
        raise BadInput(f"“{name}” is not a STEP file: it does not begin with ISO-10303-21.")
    if b"END-ISO-10303-21" not in data[-4096:]:
        raise BadInput(f"“{name}” is cut short: its closing line is missing; export or copy it again.")


def _check_count(bare: bytes, name: str) -> None:
    """How much there is to read, before any of it is: each entity takes the kernel's reader some 12 µs and 1 kB, whether
    it belongs to a solid or not."""
    most = settings().max_entities
    count = bare.count(b"=")
    if count > most or bare.count(b"#") > most * _MENTIONS:
        raise BadInput(
            f"“{name}” has {count:,} entities and the limit is {most:,}; export the part alone, without what does not belong to it."
        )


def _entities(bare: bytes) -> tuple[Any, Any]:
    """Entity numbers that the text defines, and all that it mentions; sorted, each once."""
    text = np.frombuffer(bare + b"\x00" * (_DIGITS + 2), dtype=np.uint8)
    marks = np.flatnonzero(text == ord("#"))
    numbers = np.zeros(len(marks), dtype=np.int64)
    at = marks + 1
    open_ones = np.arange(len(marks))
    for _ in range(_DIGITS):
        digit = text[at[open_ones]].astype(np.int64) - 48
        open_ones = open_ones[(digit >= 0) & (digit <= 9)]
        if not len(open_ones):
            break
        numbers[open_ones] = numbers[open_ones] * 10 + text[at[open_ones]] - 48
        at[open_ones] += 1
    named = at > marks + 1
    space = np.zeros(256, dtype=bool)
    space[list(_SPACES)] = True
    before = text[np.maximum(marks - 1, 0)]
    first = named & ((marks == 0) | space[before] | (before == ord(";")))
    # Blanks before “=” are rare: those runs alone are looked through.
    ends, own = at[first], numbers[first]
    blank = space[text[ends]]
    follows = text[ends] == ord("=")
    follows[blank] = [_AFTER_BLANKS.match(bare, int(end)) is not None for end in ends[blank]]
    return np.unique(own[follows]), np.unique(numbers[named])


def _check_points(bare: bytes, name: str) -> None:
    for mark in _POINT.finditer(bare):
        numbers = mark.group(1).split(b",")
        # Two numbers are a place on a surface, which may reach as far as the surface does.
        for number in numbers if len(numbers) != 2 else ():
            shown = cleaned(number[:40].decode("latin-1"))
            try:
                value = abs(float(number))
            except ValueError:
                raise BadInput(f"“{name}” has a coordinate that is no number: {shown}.") from None
            if not value < _ABSURD_MM:
                raise BadInput(f"“{name}” has an absurd coordinate ({shown}); check the export.")


def _check_rounds(bare: bytes, name: str) -> None:
    """Radii: a round face or edge without one is none. A cone may start at its apex; its second number is an angle."""
    for mark in _ROUND.finditer(bare):
        kind = mark.group(1).decode().lower().replace("_", " ")
        for number in mark.group(2).split(b","):
            if number.strip() in (b".T.", b".F."):
                continue  # which half of a torus that meets itself
            shown = cleaned(number[:40].decode("latin-1"))
            try:
                value = float(number)
            except ValueError:
                value = float("nan")
            least = 0.0 if kind == "conical surface" else 1e-9
            if not least <= value < _LARGEST_RADIUS:
                raise BadInput(f"“{name}” has a {kind} of radius {shown}, which no part has; check the export.")


def _check_unit(bare: bytes, name: str) -> None:
    for mark in _METRES.finditer(bare):
        rare = _RARE.get(mark.group(1).decode())
        if rare:
            raise BadInput(f"“{name}” measures in {rare}; export the model in millimetres or inches.")


def label(data: bytes) -> tuple[str, Literal["mm", "in"]]:
    """What a STEP file calls its part, and the unit it is drawn in; both as far as the text says so."""
    product = _PRODUCT.search(data)
    title = plain_text(product.group(1))[:200].strip() if product else ""
    return title, "in" if _INCH.search(data) else "mm"


def inspect(data: bytes, name: str, limit: int = DEFAULT_LIMIT) -> StepText:
    """Check that `data` is a whole, sane STEP file and read its header.

    Raises BadInput with one sentence for an empty, oversized, foreign, truncated or dangling file.
    """
    glance(data, name, limit)
    bare = _STRING.sub(b"''", data)
    _check_count(bare, name)
    defined, mentioned = _entities(bare)
    if not len(defined):
        raise BadInput(f"“{name}” holds no data; export the model again.")
    missing = np.setdiff1d(mentioned, defined, assume_unique=True)
    if len(missing):
        raise BadInput(
            f"“{name}” refers to entity #{missing.min()}, which it does not contain; export the model again."
        )
    _check_points(bare, name)
    _check_rounds(bare, name)
    _check_unit(bare, name)
    huge = _HUGE.search(bare)
    if huge:
        shown = re.search(rb"[-+\d.]*\Z", bare[max(0, huge.start() - 30) : huge.start()])
        text = ((shown.group(0) if shown else b"") + huge.group(0)).decode("latin-1")
        raise BadInput(f"“{name}” has an absurd number ({text[:40]}); check the export.")
    products = [plain_text(p) for p in _PRODUCT.findall(data)]
    return StepText(name, data, _schema(data[:20000].decode("latin-1")), products)
