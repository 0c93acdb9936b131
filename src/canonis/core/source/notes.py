"""The notes that a source asks for."""

import re

from canonis.core.source.specification import Specification

__all__ = ["source_notes"]

_LABEL = re.compile(r"^\s*note\s*:", re.IGNORECASE)


def source_notes(spec: Specification) -> tuple[str, ...]:
    """The notes of a source in full: the defaults in its header, which stand there parted by semicolons, then every line
    that was read as a note, in its own words."""
    default = (t.strip() for t in str(spec.header.get("default", "")).split(";"))
    lines = (_LABEL.sub("", c.text).strip() for c in spec.characteristics if c.kind == "note" and c.error is None)
    # What the house means by THRU, where the hole notes do not say it.
    means = ("THRU: TO THE NEXT FACE.",) if spec.rules.house.get("thru") == "next" else ()
    return tuple(dict.fromkeys(t for t in (*default, *lines, *means) if t))
