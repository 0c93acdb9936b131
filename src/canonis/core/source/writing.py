"""Writing a characteristic as one line of shorthand in its plain form, in symbols or in words, so that it reads back the
same."""

import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Literal

from canonis.core.quantity.units import MM_PER_INCH, Unit
from canonis.core.source.characteristic import Characteristic, Part
from canonis.core.source.deviations import deviations
from canonis.core.source.rules import HouseRules
from canonis.core.source.words import exact_text

__all__ = ["Notation", "same_meaning", "sheet_line", "write_line"]

#: How hole notes are written: ⌀ ⌴ ⌵ ↧, or DIA CBORE CSK DEEP (a house rule).
Notation = Literal["symbols", "words"]


@dataclass(frozen=True)
class _Pen:
    """How sizes are written: in which unit, and hole notes in which notation."""

    rules: HouseRules
    notation: Notation = "symbols"

    @property
    def unit(self) -> Unit:
        return self.rules.unit

    def across(self, part: Part | None) -> str:
        """A diameter."""
        return f"⌀{_value(part, self)}" if self.notation == "symbols" else f"{_value(part, self)} DIA"

    def deep(self, part: Part | None) -> str:
        """A depth."""
        return f"↧{_value(part, self)}" if self.notation == "symbols" else f"{_value(part, self)} DEEP"


def _plain(part: Part, value: Fraction, unit: Unit, decimals: int | None = None) -> str:
    """An exact number that the grammar reads: decimal where it ends, else a fraction of a power of two."""
    if part.plain:
        return exact_text(value)
    if part.angle:
        return _degrees(value)
    exact = value / MM_PER_INCH if unit is Unit.INCH else value
    places = part.decimals if decimals is None else decimals
    whole, left = divmod(exact, 1)
    if places is None and left and left.denominator in (2, 4, 8, 16, 32, 64, 128):
        return f"{f'{whole} ' if whole else ''}{left.numerator}/{left.denominator}"
    for digits in range(places or 0, 16):
        scaled = exact * 10**digits
        if scaled.denominator == 1:
            head, tail = divmod(abs(scaled.numerator), 10**digits)
            return f"{head}.{tail:0{digits}d}" if digits else str(head)
    return f"{float(exact):.9f}"


def _degrees(value: Fraction) -> str:
    for digits in range(7):
        scaled = value * 10**digits
        if scaled.denominator == 1:
            head, tail = divmod(scaled.numerator, 10**digits)
            return f"{head}.{tail:0{digits}d}°" if digits else f"{head}°"
    whole, rest = divmod(value, 1)
    minutes, seconds = divmod(rest * 60, 1)
    return f"{whole}°{minutes}'" + (f'{exact_text(seconds * 60)}"' if seconds else "")


def _value(part: Part | None, pen: _Pen, *, own: bool = True) -> str:
    if part is None or part.nominal is None:
        return ""
    unit = part.unit or pen.unit
    mark = f" {unit}" if part.unit is not None and not part.angle and not part.plain else ""
    if part.limits and part.lower is not None and part.upper is not None:
        return f"{_plain(part, part.lower, unit)}/{_plain(part, part.upper, unit)}{mark}"
    text = _plain(part, part.nominal, unit)
    if part.fit:
        return f"{text} {part.fit}{mark}"
    if part.tolerance != "own" or not own:
        return text + mark
    if part.lower is None or part.upper is None:
        return f"{text}{mark} {'MAX' if part.lower is None else 'MIN'}"
    high, low = part.upper - part.nominal, part.nominal - part.lower
    plus, minus = (_plain(part, x, unit, 0).rstrip("°") for x in (high, low))
    if part.angle:
        return f"{text} ±{_degrees(high)}"
    return f"{text} ±{plus}{mark}" if high == low else f"{text} +{plus} -{minus}{mark}"


def _seats(c: Characteristic, pen: _Pen) -> str:
    out = ""
    for far, side in (("", ""), ("-far", " FAR SIDE")):
        sink, rim = c.part(f"countersink{far}-diameter"), c.part(f"rim{far}-size")
        for inner in ("", "-b", "-c"):
            bore, depth = (c.part(f"counterbore{inner}{far}-{name}") for name in ("diameter", "depth"))
            if bore:
                sign = ("⌴" if pen.notation == "symbols" else "CBORE ") if depth else "SF "
                out += f" {sign}{pen.across(bore)}" + (f" {pen.deep(depth)}" if depth else "") + side
        if sink:
            sign = "⌵" if pen.notation == "symbols" else "CSK "
            out += f" {sign}{pen.across(sink)} × {_value(c.part(f'countersink{far}-angle'), pen)}{side}"
        if c.part(f"rim{far}-radius"):
            out += f" RIM R{_value(c.part(f'rim{far}-radius'), pen)}{side}"
        if rim:
            out += f" RIM {_value(rim, pen)} × {_value(c.part(f'rim{far}-angle'), pen)}{side}"
    return out


def _end(c: Characteristic, pen: _Pen) -> str:
    text = " THRU" if c.part("through") else f" {pen.deep(c.part('depth'))}" if c.part("depth") else ""
    if c.part("point-angle"):
        text += f" {_value(c.part('point-angle'), pen)} POINT"
    return text + (" FLAT BOTTOM" if c.part("flat-bottom") else "")


def _hole(c: Characteristic, pen: _Pen) -> str:
    bore = c.part("diameter")
    kinds = {"clearance for": "CLEARANCE", "for a cap screw": "CAP SCREW", "for a flat head screw": "FLAT HEAD SCREW"}
    for start, word in kinds.items():
        if c.detail.startswith(start):
            size, _, fit = c.detail[len(start) :].strip().partition(", ")
            return f"{word} {size} {fit.split()[0].upper()}{_end(c, pen)}"
    if c.detail.startswith("tap drill for"):
        return f"TAP DRILL {c.detail[14:]}{_end(c, pen)}{_seats(c, pen)}"
    bare = not _end(c, pen) and not _seats(c, pen)
    return f"{pen.across(bore)}{' HOLE' if bare or c.part('flat-bottom') or c.part('point-angle') else ''}{_end(c, pen)}{_seats(c, pen)}"


def _thread(c: Characteristic, pen: _Pen) -> str:
    thread = c.part("thread")
    text = thread.designation or "" if thread else ""
    if c.part("length"):
        return f"{text} {_value(c.part('length'), pen)} LONG"
    text += _end(c, pen)
    if c.part("drill-diameter"):
        depth = c.part("drill-depth")
        text += f" DRILL {pen.across(c.part('drill-diameter'))} {pen.deep(depth) if depth else 'THRU'}"
    elif c.part("drill-depth"):
        text += f" DRILL {pen.deep(c.part('drill-depth'))}"
    elif c.part("drill-through"):
        text += " DRILL THRU"
    return text + _seats(c, pen)


def _sized(c: Characteristic, pen: _Pen, word: str, forms: tuple[tuple[str, str], ...]) -> str:
    out = word
    for name, form in forms:
        if c.part(name):
            out += " " + form.format(_value(c.part(name), pen))
    return out


def _item(c: Characteristic, pen: _Pen) -> str:
    forms: tuple[tuple[str, str], ...]
    main = _value(c.main, pen)
    if c.kind == "hole":
        return _hole(c, pen)
    if c.kind == "seat":
        return _seats(c, pen).strip()
    if c.kind == "thread":
        return _thread(c, pen)
    if c.kind == "diameter":
        return f"{'S' if c.part('sphere') else ''}⌀{main}"
    if c.kind == "radius":
        return f"{'S' if c.part('sphere') else ''}R{main}" if c.part("radius") else "FULL R"
    if c.kind == "round":
        return f"ROUNDS AND FILLETS R{main}"
    if c.kind == "chamfer":
        leg, other = _value(c.part("leg"), pen), _value(c.part("angle") or c.part("leg-b"), pen)
        if c.general:
            return f"ALL CHAMFERS {leg} × {other}"
        return f"{leg} × {other}" + ("" if c.part("angle") else " CHAMFER")
    if c.kind == "slot":
        return _sized(
            c, pen, "SLOT", (("width", "{} WIDE"), ("centres", "{} CENTRES"), ("length", "{} OVERALL"))
        ) + _end(c, pen)
    if c.kind == "arc-slot":
        forms = (("width", "{} WIDE"), ("radius", "R{}"), ("angle", "{} SWEEP"), ("start-angle", "START {}"))
        return _sized(c, pen, "ARC SLOT", forms) + _end(c, pen)
    if c.kind == "keyway":
        forms = (
            ("width", "{}"),
            ("depth", "× {} DEEP"),
            ("length", "× {} LONG"),
            ("radius", "R{}"),
            ("from-axis", "× {} FROM AXIS"),
        )
        return _sized(c, pen, "SEGMENT KEYWAY" if c.detail == "segment" else "KEYWAY", forms)
    if c.kind == "groove":
        forms = (("width", "{} WIDE"), ("radius", "R{}"), ("diameter", "× ⌀{}"), ("depth", "{} DEEP"))
        return _sized(c, pen, (c.detail or "groove").upper(), forms)
    if c.kind == "polygon":
        sides = {3: "TRIANGLE ", 4: "SQUARE ", 5: "PENTAGON ", 6: "HEX ", 8: "OCTAGON "}.get(
            int(c.size("sides") or 0), ""
        )
        return f"{sides}{main} {'AC' if c.part('across-corners') else 'AF'}"
    if c.kind == "spline":
        return " × ".join(
            [f"SPLINE {_value(c.part('teeth'), pen)}", _value(c.part("minor"), pen), _value(c.part("major"), pen)]
        )
    if c.kind == "wall":
        return f"WALL {main}"
    if c.kind == "draft":
        ratio = c.size("ratio")
        return f"TAPER {ratio.numerator}:{ratio.denominator}" if ratio else f"{(c.detail or 'draft').upper()} {main}"
    if c.kind == "pattern" and c.part("columns"):
        at = f" AT {_value(c.part('pitch'), pen)} × {_value(c.part('pitch-b'), pen)}" if c.part("pitch") else ""
        return f"GRID {_value(c.part('columns'), pen)} × {_value(c.part('rows'), pen)}{at}"
    if c.kind == "pattern":
        return f"PITCH {main}" if c.part("pitch") else f"⌀{main} PCD"
    return main


def write_line(c: Characteristic, rules: HouseRules, notation: Notation = "symbols") -> str:
    """The characteristic in shorthand; a note or an unread line as it was typed."""
    if c.error is not None or c.kind == "note":
        return c.text
    pen = _Pen(rules, notation)
    text = _item(c, pen)
    if c.count > 1:
        text = f"{c.count}× {text}"
    if c.kind == "chamfer" and c.part("length"):
        text += f" FOR {_value(c.part('length'), pen)}"
    if c.kind not in ("pattern", "thread") and c.part("pitch"):
        text += f" AT {_value(c.part('pitch'), pen)} PITCH"
    if c.part("pitch-angle"):
        text += f" {_value(c.part('pitch-angle'), pen)} APART"
    if members := [p for p in c.parts if p.name.startswith("member-")]:
        text += f" AT {', '.join(_value(p, pen) for p in members)}"
    if c.part("equally-spaced"):
        text += " EQ SP"
    if c.kind != "pattern" and c.part("pitch-circle"):
        text += f" ON ⌀{_value(c.part('pitch-circle'), pen)} PCD"
    if c.part("start-angle") and c.kind != "arc-slot":
        text += f" START {_value(c.part('start-angle'), pen)}"
    text += (" TYP" if c.typical else "") + (" UON" if c.general and c.kind not in ("round", "chamfer") else "")
    text += (" BASIC" if c.basic else "") + (" REF" if c.reference else "")
    text += f" FROM {c.direction}" if c.direction else ""
    return f"{c.name}: {text}" if c.name else text


def sheet_line(c: Characteristic, rules: HouseRules, notation: Notation = "symbols") -> str:
    """A characteristic as a sheet writes it: without its name, fits with their deviations, inches without a leading zero
    (ASME Y14.5, 1.6.2)."""
    bare = c.model_copy(update={"name": "", "direction": "", "typical": False, "reference": False})
    text = write_line(bare, rules, notation)
    for part in c.parts:
        if part.fit:
            text = text.replace(f" {part.fit}", f" {part.fit} {deviations(part, rules.unit)}", 1)
    return re.sub(r"(?<![\d.,/])0(?=\.\d)", "", text) if rules.unit is Unit.INCH else text


def same_meaning(a: Characteristic, b: Characteristic) -> bool:
    """Whether two readings say the same: kind, count, marks, and every part's exact value and limits."""

    def meaning(c: Characteristic) -> tuple[object, ...]:
        parts = sorted((p.name, p.nominal, p.lower, p.upper, p.designation or "", p.angle) for p in c.parts)
        return (c.kind, c.count, c.reference, c.basic, c.typical, c.general, c.name, c.direction.lower(), bool(c.error),
                tuple(map(str, parts)))  # fmt: skip

    return meaning(a) == meaning(b)
