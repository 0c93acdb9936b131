"""Geometrical tolerances: `POSITION ⌀0.2 (M) A B`, `FLATNESS 0.05`, `TOTAL RUNOUT 0.03 A-B` (ISO 1101, ISO 2692, ISO 5459).

The signs of the standard are drawn on paper; in a line they are words, which every face of type has.
"""

import re
from dataclasses import dataclass, replace
from typing import Any

from lark import Token

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Item, Numbers, Value

__all__ = [
    "DATUMS",
    "GRAMMAR",
    "ITEMS",
    "OFFERS",
    "TOLERANCE_FRAME",
    "Tolerance",
    "ToleranceFrames",
    "compartments",
    "tolerance_of",
]


@dataclass(frozen=True)
class Tolerance:
    """A tolerated characteristic: its name, whether it needs datums (None: it may have them) and may have a
    round zone (ISO 1101)."""

    name: str
    datums: bool | None = False
    round: bool = False


_TOLERANCES = {
    t.name: t
    for t in (
        Tolerance("straightness", round=True),
        Tolerance("flatness"),
        Tolerance("roundness"),
        Tolerance("cylindricity"),
        Tolerance("line profile", None),
        Tolerance("surface profile", None),
        Tolerance("parallelism", True, True),
        Tolerance("perpendicularity", True, True),
        Tolerance("angularity", True, True),
        Tolerance("position", None, True),
        Tolerance("coaxiality", True, True),
        Tolerance("symmetry", True),
        Tolerance("runout", True),
        Tolerance("total runout", True),
    )
}
#: How each is written and typed.
_SIGNS = (
    ("straightness", r"straight(?:ness)?|⏤"), ("flatness", r"flat(?:ness)?(?=\W)|⏥"), ("roundness", r"roundness|circularity|○"),
    ("cylindricity", r"cylindricity|⌭"), ("line profile", r"line\s+profile|profile\s+of\s+(?:a\s+)?line|⌒"),
    ("surface profile", r"surface\s+profile|profile\s+of\s+(?:a\s+)?surface|⌓"), ("parallelism", r"parallel(?:ism)?|∥|⫽"),
    ("perpendicularity", r"perp(?:endicular(?:ity)?)?|squareness|⟂|⊥"), ("angularity", r"angularity|∠"),
    ("position", r"(?:true\s+)?position|⌖"), ("coaxiality", r"coaxial(?:ity)?|concentric(?:ity)?|◎"), ("symmetry", r"symmetry|⌯"),
    ("total runout", r"total\s+run-?\s?out|⌰"), ("runout", r"(?:circular\s+)?run-?\s?out|↗"),
)  # fmt: skip
#: The datums of a frame, in their order of precedence.
DATUMS = ("datum-1", "datum-2", "datum-3")

ITEMS = ("tolerance_frame",)
GRAMMAR = rf"""
tolerance_frame: TOLERANCE BAR? TOLERANCE_WITHIN? frame_zone frame_datum*
frame_zone: (BALL_ZONE | DIA)? number UNIT? MODIFIER*
frame_datum: BAR? DATUM_LETTER MODIFIER?

TOLERANCE.10: /(?:{"|".join(pattern for _, pattern in _SIGNS)})\s*:?(?=[\s|\d.,⌀øØ∅S]*(?:within|to|of|dia|diameter|⌀|ø|Ø|∅|S|\||\s)*[\d.,])/i
TOLERANCE_WITHIN.4: /within\b|to\s+within\b|of\b/i
BALL_ZONE.6: /S\s?[⌀øØ∅]/i
BAR.7: /\||(?:to|with\s+respect\s+to|wrt\b|re(?:l|f)?\.?\s+to)(?=\s+(?:datum\s+)?[A-Z]\b)/
DATUM_LETTER.5: /(?:datums?\s+|DATUMS?\s+)?[A-HJ-NPR-Z](?:\s*-\s*[A-HJ-NPR-Z])?(?![A-Za-z\d])/
MODIFIER.6: /\([MLPFER]\)|[ⓂⓁⓅⒻⒺⓇ]|MMC\b|LMC\b|RFS\b/
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "TOLERANCE": tuple((n.upper(), "geometrical tolerance") for n, _ in _SIGNS),
    "MODIFIER": (("(M)", "maximum material"), ("(L)", "least material")),
    "DATUM_LETTER": (("A", "datum"),),
}
_MARKS = dict(zip("ⓂⓁⓅⒻⒺⓇ", "MLPFER", strict=True)) | {"MMC": "M", "LMC": "L"}


def _modifiers(items: list[Any]) -> str:
    marks = [str(t) for t in items if isinstance(t, Token) and t.type == "MODIFIER" and str(t) != "RFS"]
    return "".join(f" ({_MARKS.get(m, m.strip('()'))})" for m in marks).strip()


class ToleranceFrames(Numbers):
    """Reads geometrical tolerances."""

    def frame_zone(self, items: list[Any]) -> tuple[Value, str, str]:
        unit = next((t for t in items if isinstance(t, Token) and t.type == "UNIT"), None)
        zone = replace(self.value([self._first(items), *([unit] if unit is not None else [])]), exact=True)
        shape = "ball" if self._has(items, "BALL_ZONE") else "round" if self._has(items, "DIA") else ""
        return zone, shape, _modifiers(items)

    def frame_datum(self, items: list[Any]) -> tuple[str, str]:
        letter = next(str(t) for t in items if isinstance(t, Token) and t.type == "DATUM_LETTER")
        letter = re.sub(r"\s+", "", re.sub(r"^datums?\s+", "", letter, flags=re.I))
        return "datum", f"{letter} {_modifiers(items)}".strip()

    def tolerance_frame(self, items: list[Any]) -> Item:
        said = next(str(t) for t in items if isinstance(t, Token) and t.type == "TOLERANCE")
        name = next(n for n, pattern in _SIGNS if re.match(rf"(?:{pattern})\s*:?\s*$", said, re.I))
        zone, shape, modifiers = next(i for i in items if isinstance(i, tuple) and len(i) == 3)
        parts: list[tuple[str, Any]] = [("tolerance", name), ("zone", zone)]
        parts += [("round-zone" if shape == "round" else "ball-zone", None)] if shape else []
        parts += [("modifier", modifiers)] if modifiers else []
        letters = [i[1] for i in items if isinstance(i, tuple) and len(i) == 2]
        parts += [(f"datum-{n}", letter) for n, letter in enumerate(letters, 1)]
        return Item("tolerance-frame", tuple(parts))


def tolerance_of(c: Callout) -> Tolerance:
    """What a frame tolerates."""
    part = c.part("tolerance")
    assert part is not None
    return _TOLERANCES[part.designation or ""]


def _check(c: Callout) -> str | None:
    name = c.part("tolerance")
    known = None if name is None else _TOLERANCES.get(name.designation or "")
    if known is None:
        return "no such geometrical tolerance is known"
    there = c.part(DATUMS[0]) is not None
    if known.datums and not there:
        return f"a tolerance of {known.name} needs a datum: write its letter after it, such as A"
    if known.datums is False and there:
        return f"a tolerance of {known.name} has no datum"
    if c.part("round-zone") and not known.round:
        return f"the zone of {known.name} has no ⌀"
    if c.part("ball-zone") and known.name != "position":
        return f"the zone of {known.name} has no S⌀"
    letters = [letter for n in DATUMS if (p := c.part(n)) for letter in re.findall(r"[A-Z](?!\))", p.designation or "")]
    twice = next((x for x in letters if letters.count(x) > 1), None)
    return f"datum {twice} stands twice in the frame" if twice else None


def compartments(c: Callout, pen: Pen) -> list[str]:
    """What stands in the compartments of a frame after its sign: the zone, then the datums, modifiers in parentheses."""
    zone = pen.value(c.part("zone"))
    if c.part("round-zone"):
        zone = f"⌀{zone}" if pen.notation == "symbols" else f"DIA {zone}"
    elif c.part("ball-zone"):
        zone = f"S⌀{zone}"
    modifier = c.part("modifier")
    zone += f" {modifier.designation}" if modifier else ""
    return [zone, *(p.designation or "" for n in DATUMS if (p := c.part(n)))]


def _write(c: Callout, pen: Pen) -> list[str]:
    return [" ".join([tolerance_of(c).name.upper(), *compartments(c, pen)])]


def _say(c: Callout, speech: Speech) -> str:
    zone = speech.size(c.part("zone"))
    shape = "a cylinder of ⌀" if c.part("round-zone") else "a ball of ⌀" if c.part("ball-zone") else ""
    text = f"{tolerance_of(c).name} within {shape}{zone}"
    if modifier := c.part("modifier"):
        text += f" {modifier.designation}"
    datums = [p.designation or "" for n in DATUMS if (p := c.part(n))]
    text += f" to {', '.join(datums)}" if datums else ""
    return text + (f", of {speech.lead.strip()}" if speech.lead else "")


TOLERANCE_FRAME = enter(
    Kind(
        "tolerance-frame",
        frozenset({"tolerance", "zone", "round-zone", "ball-zone", "modifier", *DATUMS}),
        _write,
        _say,
        needs=(("tolerance",), ("zone",)),
        apart=(("round-zone", "ball-zone"),),
        together=(("datum-2", "datum-1"), ("datum-3", "datum-2")),
        flags=frozenset({"round-zone", "ball-zone"}),
        check=_check,
        of_the_part=True,
    )
)
