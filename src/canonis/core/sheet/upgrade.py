"""Sheet documents as they were stored over time, read as the program knows them now.

Every change of the stored form that a default cannot bridge gets a step here and a number; documents carry the number
of the form that they were written in. Documents of before there were numbers count as form 1.
"""

from collections.abc import Callable
from typing import Any

from canonis.core.faults import BadInput
from canonis.core.sheet.document import FORM, SheetDocument

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


#: What leads from each form to the next.
_STEPS: dict[int, Callable[[Raw], Raw]] = {1: _one_to_two, 2: _two_to_three}


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
