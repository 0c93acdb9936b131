"""The notes that a source asks for."""

import re

from canonis.core.source.specification import Specification

__all__ = ["default_notes", "source_notes"]

_LABEL = re.compile(r"^\s*note\s*:", re.IGNORECASE)


def default_notes(spec: Specification) -> tuple[str, ...]:
    """The default notes in a source's header, which stand there parted by semicolons."""
    return tuple(t.strip() for t in str(spec.header.get("default", "")).split(";") if t.strip())


def source_notes(spec: Specification) -> tuple[str, ...]:
    """The notes of a source in full: the defaults in its header, which stand there parted by semicolons, then every line
    that was read as a note, in its own words."""
    lines = (_LABEL.sub("", c.text).strip() for c in spec.characteristics if c.kind == "note" and c.error is None)
    # What the house means by THRU, where the hole notes do not say it.
    means = ("THRU: TO THE NEXT FACE.",) if spec.rules.house.get("thru") == "next" else ()
    return tuple(dict.fromkeys(t for t in (*default_notes(spec), *lines, *means) if t))
