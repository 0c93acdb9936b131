"""The notes that a source asks for."""

import re
from fractions import Fraction

from canonis.core.callout import HouseRules, of_the_part
from canonis.core.house import Thru
from canonis.core.source.shorthand import read_line
from canonis.core.source.specification import Specification, rules_of

__all__ = ["default_notes", "in_millimetres", "source_notes"]

_LABEL = re.compile(r"^\s*note\s*:", re.IGNORECASE)


#: A plain number in a note.
_NUMBER = re.compile(r"(?<![\d.,])\d+(?:[.,]\d+)?(?![\d.,°])")
_METRIC, _INCH = rules_of({"unit": "mm"}), rules_of({"unit": "in"})


def in_millimetres(notes: str) -> str:
    """The notes of a set, which are metric, as they stand on an inch sheet: a size says that it is in mm. Clauses that
    state no size stay as they are."""
    return "; ".join(_metric(clause.strip()) for clause in notes.split(";"))


def _metric(clause: str) -> str:
    def sizes(text: str, rules: HouseRules) -> list[Fraction | None]:
        read = read_line(text, rules)
        return [p.nominal for p in read.parts] if read.error is None and read.kind != "note" else []

    meant = sizes(clause, _METRIC)
    if meant == sizes(clause, _INCH):
        return clause
    # What reads the same in inch as it did in mm is right, whichever of the numbers is the size.
    for number in _NUMBER.finditer(clause):
        told = f"{clause[: number.end()]} mm{clause[number.end() :]}"
        if sizes(told, _INCH) == meant:
            return told
    return clause


def default_notes(spec: Specification) -> tuple[str, ...]:
    """The default notes in a source's header, which stand there parted by semicolons."""
    return tuple(t.strip() for t in str(spec.header.get("default", "")).split(";") if t.strip())


def source_notes(spec: Specification) -> tuple[str, ...]:
    """The notes of a source in full: the defaults in its header, which stand there parted by semicolons, then every line
    that was read as a note or asks something of the part that is made, in its own words."""
    lines = (
        _LABEL.sub("", c.text).strip()
        for c in spec.characteristics
        if c.error is None and (c.kind == "note" or of_the_part(c.kind))
    )
    # What the house means by THRU, where the hole notes do not say it.
    means = ("THRU: TO THE NEXT FACE.",) if spec.rules.house.thru is Thru.NEXT else ()
    return tuple(dict.fromkeys(t for t in (*default_notes(spec), *lines, *means) if t))
