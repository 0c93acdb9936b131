"""Sheet documents as they were stored over time, read as the program knows them now.

Every change of the stored form that a default cannot bridge gets a step here and a number; documents carry the number
of the form that they were written in. Documents of before there were numbers count as form 1.
"""

from collections.abc import Callable
from typing import Any

from canonis.core.callout import Callout, Pen, write
from canonis.core.faults import BadInput
from canonis.core.quantity import Unit
from canonis.core.sheet.document import FORM, SheetDocument
from canonis.core.sheet.wording import distances, meaning

__all__ = ["read_document"]

Raw = dict[str, Any]


def _one_to_two(data: Raw) -> Raw:
    """Views were all of one kind: pictorials always drew their transitions thin, and nothing hung on another view."""
    views = []
    for view in data.get("views", ()):
        made = dict(view)
        if made.get("kind") == "pictorial":
            made.setdefault("transitions", "thin")
            made["hidden"] = False
        views.append(made)
    return {**data, "views": views}


def _two_to_three(data: Raw) -> Raw:
    """Title blocks did not say which of their fields follow the source, and notes had no numbers: both stay as they were
    drawn."""
    return {**data, "title": {**data.get("title", {}), "linked": []}, "note_form": "plain"}


#: What the notes with a leader were called that are called by what they say now.
_LEADERS = {
    "hole", "diameter", "radius", "chamfer", "slot", "arc-slot", "thread", "bolt-circle", "angle", "groove", "polygon", "draft", "wall",
    "spline", "free-form",
}  # fmt: skip


def _three_to_four(data: Raw) -> Raw:
    """What a statement says was its text: it is read to what it means. A text that nobody can read stays as words, and a
    line that would be written otherwise now stays as it was drawn."""
    unit, notation = Unit(data.get("unit", "mm")), data.get("notation", "symbols")
    marks = []
    for mark in data.get("annotations", ()):
        old = dict(mark)
        text, lines = str(old.pop("text", "")), tuple(old.pop("lines", ()))
        if old.get("kind") == "place":
            x, y = distances(text, unit)
            old |= {"x": x, "y": y, "unit": unit}
        elif old.get("kind") == "note":
            says = meaning(text, unit) if old.get("refs") else Callout(detail=text)
            old |= {"says": says, "unit": unit, "notation": notation, "laid": lines}
            old["drawn"] = _as_drawn(says, (text,), unit, notation)
        elif old.get("kind") in ("linear", "pattern", "ordinate") or old.get("kind") in _LEADERS:
            says = meaning(text, unit)
            if old["kind"] in _LEADERS:
                del old["kind"]
            old |= {"says": says, "unit": unit, "notation": notation}
            old["drawn"] = _as_drawn(says, lines or (text,), unit, notation)
        marks.append(old)
    # What model a sheet was drafted on is known to who keeps it; nothing asked the sheet.
    return {k: v for k, v in data.items() if k != "model_sha256"} | {"annotations": marks}


def _as_drawn(says: Callout, lines: tuple[str, ...], unit: Unit, notation: Any) -> tuple[str, ...]:
    """The lines of a statement where they would be written otherwise now."""
    return () if write(says, Pen(unit, notation, sheet=True)) == lines else lines


#: What leads from each form to the next.
_STEPS: dict[int, Callable[[Raw], Raw]] = {1: _one_to_two, 2: _two_to_three, 3: _three_to_four}


def read_document(data: Raw) -> SheetDocument:
    """A stored document of any form up to the present one.

    Raises BadInput for one of a later form, and ValueError (pydantic) for one that is damaged.
    """
    form = data.get("form", 1) if isinstance(data, dict) else 1
    if not isinstance(form, int) or form > FORM:
        raise BadInput("This sheet was written by a later version of the program; open it there, or update this one.")
    while form < FORM:
        data = _STEPS[form](data)
        form += 1
    return SheetDocument.model_validate({**data, "form": FORM})
