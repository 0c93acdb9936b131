"""Reading drafter's shorthand: a line of text to a characteristic, or an error at the character."""

import difflib
import re
from dataclasses import dataclass, replace
from fractions import Fraction
from functools import lru_cache
from pathlib import Path
from typing import Any

from lark import Lark, Token, Transformer
from lark.exceptions import UnexpectedCharacters, UnexpectedEOF, UnexpectedInput, VisitError

from canonis.core.quantity.units import Unit, to_mm
from canonis.core.quantity.written import fraction_of
from canonis.core.source.characteristic import Characteristic, Fault, Part
from canonis.core.source.rules import HouseRules
from canonis.core.source.words import say

__all__ = ["read_line"]

_WORDS = (
    "THRU", "DEEP", "DEPTH", "DIA", "CBORE", "CSK", "CHAMFER", "SLOT", "CENTRES", "PLACES", "TYP", "PCD", "SPOTFACE",
    "UON", "REF", "WIDE", "LONG", "HIGH", "THICK", "ROUNDS", "EQ SP", "OVERALL",
)  # fmt: skip
_LONGEST = 400
#: No size of a part is larger, mm or degrees.
_LARGEST = 10_000_000


@dataclass(frozen=True)
class _Value:
    """A number as typed: exact, with its tolerance; `unit` None takes the job's."""

    nominal: Fraction
    typed: str
    decimals: int | None
    unit: Unit | None = None
    plus: Fraction | None = None
    minus: Fraction | None = None
    counts: bool = False
    limits: tuple[Fraction, Fraction] | None = None


@dataclass(frozen=True)
class _Angle(_Value):
    """A value in degrees, told apart from a length where both may stand."""


@dataclass(frozen=True)
class _Item:
    kind: str
    parts: tuple[tuple[str, Any], ...]
    angle_first: bool = False


class _Misread(Exception):
    """A line that parses but makes no sense; carries the message."""


def _decimals(text: str) -> int | None:
    if "/" in text:
        return None
    return len(re.split(r"[.,]", text)[1]) if re.search(r"[.,]", text) else 0


def _counted(text: str) -> _Value:
    digits = re.sub(r"\D", "", text)
    return _Value(Fraction(int(digits)), digits, 0, counts=True)


class _Reader(Transformer):  # type: ignore[type-arg, misc]
    def value(self, items: list[Any]) -> _Value:
        out = _Value(Fraction(0), "", None)
        for item in items:
            if isinstance(item, Token) and item.type == "NUMBER":
                out = replace(out, nominal=fraction_of(str(item)), typed=str(item), decimals=_decimals(str(item)))
            elif isinstance(item, Token) and item.type == "UNIT":
                out = replace(out, unit=Unit.MM if item.lower() == "mm" else Unit.INCH)
            else:
                out = replace(out, plus=item[0], minus=item[1])
        return out

    def limits(self, items: list[Any]) -> _Value:
        a, b = fraction_of(str(items[0])), fraction_of(str(items[2]))
        if a == b:
            raise _Misread("the two limits are equal")
        unit = None
        if len(items) > 3:
            unit = Unit.MM if items[3].lower() == "mm" else Unit.INCH
        places = max((d for d in (_decimals(str(items[0])), _decimals(str(items[2]))) if d is not None), default=None)
        return _Value((a + b) / 2, f"{items[0]}/{items[2]}", places, unit, limits=(min(a, b), max(a, b)))

    def tolerance(self, items: list[Any]) -> tuple[Fraction, Fraction]:
        size = fraction_of(str(items[1]))
        return size, size

    def unequal(self, items: list[Any]) -> tuple[Fraction, Fraction]:
        plus, minus = [fraction_of(str(t)) for t in items if t.type == "NUMBER"]
        return plus, minus

    def unequal_reversed(self, items: list[Any]) -> tuple[Fraction, Fraction]:
        minus, plus = [fraction_of(str(t)) for t in items if t.type == "NUMBER"]
        return plus, minus

    def angle_tolerance(self, items: list[Any]) -> Fraction:
        return fraction_of(str(next(t for t in items if t.type == "NUMBER")))

    def angle_value(self, items: list[Any]) -> "_Angle":
        text = str(items[0])
        tol = next((i for i in items if isinstance(i, Fraction)), None)
        return _Angle(fraction_of(text), text, _decimals(text), plus=tol, minus=tol)

    def _values(self, items: list[Any]) -> list[_Value]:
        return [i for i in items if isinstance(i, _Value)]

    def diam(self, items: list[Any]) -> _Value:
        return self._values(items)[0]

    def length(self, items: list[Any]) -> _Item:
        return _Item("length", (("length", items[0]),))

    def diameter(self, items: list[Any]) -> _Item:
        if len(items) > 1:
            return _Item("pattern", (("pitch-circle", items[0]),))
        return _Item("diameter", (("diameter", items[0]),))

    def radius(self, items: list[Any]) -> _Item:
        values = self._values(items)
        return _Item("radius", (("radius", values[0]),) if values else (("full-radius", None),))

    def default_round(self, items: list[Any]) -> _Item:
        return _Item("round", (("radius", self._values(items)[0]),))

    def angle(self, items: list[Any]) -> _Item:
        return _Item("angle", (("angle", items[0]),))

    def chamfer(self, items: list[Any]) -> _Item:
        values = self._values(items)
        if len(values) == 1:
            return _Item("chamfer", (("leg", values[0]), ("angle", _Value(Fraction(45), "45", 0))))
        second = "angle" if isinstance(values[1], _Angle) else "leg-b"
        return _Item("chamfer", (("leg", values[0]), (second, values[1])))

    def chamfer_after_angle(self, items: list[Any]) -> _Item:
        return _Item("chamfer", (("angle", items[0]),), angle_first=True)

    def rim(self, items: list[Any]) -> _Item:
        leg, angle = self._values(items)
        return _Item("chamfer", (("leg", leg), ("angle", angle)))

    def through(self, items: list[Any]) -> tuple[str, None]:
        return ("through", None)

    def depth(self, items: list[Any]) -> tuple[str, _Value]:
        return ("depth", self._values(items)[0])

    def seat_depth(self, items: list[Any]) -> tuple[str, _Value]:
        return ("seat-depth", self._values(items)[0])

    def _far(self, items: list[Any]) -> str:
        return "-far" if any(isinstance(i, Token) and i.type == "FAR" for i in items) else ""

    def counterbore(self, items: list[Any]) -> list[tuple[str, Any]]:
        far, depth = self._far(items), [i[1] for i in items if isinstance(i, tuple)]
        return [(f"counterbore{far}-diameter", self._values(items)[0]), (f"counterbore{far}-depth", depth[0])]

    def spotface(self, items: list[Any]) -> list[tuple[str, Any]]:
        far, depth = self._far(items), [i[1] for i in items if isinstance(i, tuple)]
        out = [(f"counterbore{far}-diameter", self._values(items)[0])]
        return out + ([(f"counterbore{far}-depth", depth[0])] if depth else [])

    def countersink(self, items: list[Any]) -> list[tuple[str, Any]]:
        far, (size, angle) = self._far(items), self._values(items)
        return [(f"countersink{far}-diameter", size), (f"countersink{far}-angle", angle)]

    def seat_rim(self, items: list[Any]) -> list[tuple[str, Any]]:
        far, (size, angle) = self._far(items), self._values(items)
        return [(f"rim{far}-size", size), (f"rim{far}-angle", angle)]

    def hole(self, items: list[Any]) -> _Item:
        parts: list[tuple[str, Any]] = [("diameter", items[0])]
        for item in items[1:]:
            parts += item if isinstance(item, list) else [item]
        return _Item("hole", tuple(parts))

    def drill(self, items: list[Any]) -> list[tuple[str, Any]]:
        end = next(i for i in items if isinstance(i, tuple))
        name = "drill-depth" if end[0] == "depth" else "through"
        return [("drill-diameter", self._values(items)[0]), (name, end[1])]

    def thread(self, items: list[Any]) -> _Item:
        parts: list[tuple[str, Any]] = [("thread", str(items[0]))]
        for item in items[1:]:
            parts += item if isinstance(item, list) else [item]
        return _Item("thread", tuple(parts))

    def centres(self, items: list[Any]) -> tuple[str, _Value]:
        return ("centres", self._values(items)[0])

    def overall(self, items: list[Any]) -> tuple[str, _Value]:
        return ("length", self._values(items)[0])

    def slot_rest(self, items: list[Any]) -> Any:
        return items[0]

    def slot(self, items: list[Any]) -> _Item:
        rest = [i for i in items if isinstance(i, tuple)]
        return _Item("slot", (("width", self._values(items)[0]), *rest))

    def prefix(self, items: list[Any]) -> _Value:
        if isinstance(items[0], Token):
            return _counted(str(items[0]))
        return self._values(items)[0]

    def body(self, items: list[Any]) -> tuple[list[_Value], _Item]:
        return list(items[:-1]), items[-1]

    def count_after(self, items: list[Any]) -> tuple[str, Any]:
        return ("count", _counted(str(items[0])))

    def typical(self, _: list[Any]) -> tuple[str, Any]:
        return ("typical", None)

    def equally_spaced(self, _: list[Any]) -> tuple[str, Any]:
        return ("equally-spaced", None)

    def on_circle(self, items: list[Any]) -> tuple[str, Any]:
        return ("pitch-circle", self._values(items)[0])

    def unless_noted(self, _: list[Any]) -> tuple[str, Any]:
        return ("unless-noted", None)

    def ref_word(self, _: list[Any]) -> tuple[str, Any]:
        return ("reference", None)

    def reference(self, items: list[Any]) -> tuple[Any, ...]:
        return (*items[0], [("reference", None), *items[1:]])

    def plain(self, items: list[Any]) -> tuple[Any, ...]:
        return (*items[0], items[1:])


@lru_cache(maxsize=1)
def _parser() -> Lark:
    grammar = (Path(__file__).parent / "shorthand.lark").read_text()
    return Lark(grammar, parser="lalr", maybe_placeholders=False, lexer="contextual")


def _whole(value: _Value) -> int:
    if value.nominal.denominator != 1 or not 1 <= value.nominal <= 10000 or value.unit or value.plus:
        raise _Misread(f"“{value.typed}” is not a count")
    return int(value.nominal)


def _assemble(prefixes: list[_Value], item: _Item, suffixes: list[tuple[str, Any]]) -> tuple[_Item, int, set[str]]:
    """Settle what `n ×` before an item means: a count, or the leg of a chamfer."""
    parts = item.parts
    kind = item.kind
    if (kind == "angle" and prefixes) or item.angle_first:
        if not prefixes:
            raise _Misread("a chamfer needs its leg: write 2 × 45°")
        parts, kind = (("leg", prefixes.pop()), *[p for p in parts if p[0] == "angle"]), "chamfer"
    elif kind == "chamfer" and len(prefixes) == 2 and len(parts) == 2 and parts[1][0] == "angle":
        # 4x 3 × 2 CHAMFER: two legs before the word.
        parts = (("leg", prefixes.pop()), ("leg-b", parts[0][1]))
    elif kind == "chamfer" and len(prefixes) == 1 and not prefixes[0].counts and parts[-1][0] == "angle":
        # 3 × 2 CHAMFER: two legs; 3x 2 CHAMFER would be a count.
        parts = (("leg", prefixes.pop()), ("leg-b", parts[0][1]))
    if len(prefixes) > 1:
        raise _Misread("two counts stand before one size")
    count = _whole(prefixes[0]) if prefixes else 1
    flags = set()
    extra: list[tuple[str, Any]] = []
    for name, value in suffixes:
        if name == "count":
            if count != 1:
                raise _Misread("a count stands before and after")
            count = _whole(value)
        elif name == "pitch-circle":
            extra.append((name, value))
        else:
            flags.add(name)
    return _Item(kind, (*parts, *extra)), count, flags


_ANGLES = ("angle", "countersink-angle", "countersink-far-angle", "rim-angle", "rim-far-angle")


def _part(name: str, value: Any, rules: HouseRules) -> Part:
    if value is None:
        return Part(name=name)
    if isinstance(value, str):
        return Part(name=name, designation=value)
    angle = name in _ANGLES
    unit = value.unit or rules.unit

    def mm(x: Fraction) -> Fraction:
        return x if angle else to_mm(x, unit)

    nominal = mm(value.nominal)
    lower = upper = None
    origin = None
    if value.limits:
        lower, upper, origin = mm(value.limits[0]), mm(value.limits[1]), "own"
    elif value.plus is not None and value.minus is not None:
        lower, upper, origin = nominal - mm(value.minus), nominal + mm(value.plus), "own"
    else:
        kind = "angle" if angle else "radius" if name == "radius" else "leg" if name.startswith("leg") else "length"
        general = rules.general.of(nominal, value.decimals, kind)
        if general is not None:
            lower, upper, origin = nominal - general, nominal + general, "general"
    return Part(
        name=name, nominal=nominal, lower=lower, upper=upper, target=rules.target(nominal, lower, upper),
        tolerance=origin, angle=angle, typed=value.typed, decimals=value.decimals,
    )  # fmt: skip


def _explain(text: str, fault: UnexpectedInput) -> Fault:
    if isinstance(fault, UnexpectedCharacters):
        at = fault.pos_in_stream
    elif isinstance(fault, UnexpectedEOF) or getattr(getattr(fault, "token", None), "type", "") == "$END":
        return Fault(column=len(text.rstrip()) + 1, message="the line ends too early; a value or a word is missing")
    else:
        at = fault.pos_in_stream or 0
    rest = text[at:]
    word = re.match(r"[A-Za-z']+", rest)
    shown = word.group(0) if word else rest.split()[0][:12] if rest.split() else rest[:1]
    message = f"“{shown}” cannot be read here"
    if word:
        near = difflib.get_close_matches(word.group(0).upper(), _WORDS, 1, 0.6)
        if near and near[0] != word.group(0).upper():
            message += f"; did you mean {near[0]}?"
    return Fault(column=at + 1, message=message)


def read_line(text: str, rules: HouseRules, number: str = "", where: str = "") -> Characteristic:
    """Read one line of shorthand. Never raises: an unread line comes back with its error."""

    def failed(fault: Fault) -> Characteristic:
        return Characteristic(number=number, where=where, text=text, words="", kind="note", error=fault)

    if not text.strip():
        return failed(Fault(column=1, message="the line is empty"))
    if len(text) > _LONGEST:
        return failed(Fault(column=_LONGEST, message=f"a line may have {_LONGEST} characters; split it"))
    try:
        prefixes, item, suffixes = _Reader().transform(_parser().parse(text))
        item, count, flags = _assemble(prefixes, item, suffixes)
        parts = tuple(_part(n, v, rules) for n, v in item.parts)
        for part in parts:
            if part.nominal is not None and part.nominal == 0 and part.name != "length":
                raise _Misread(f"a {part.name.replace('-', ' ')} cannot be zero")
            if part.nominal is not None and abs(part.nominal) > _LARGEST:
                raise _Misread(f"“{part.typed[:24]}” is larger than any part; check the number")
    except UnexpectedInput as fault:
        return failed(_explain(text, fault))
    except VisitError as fault:
        reason = str(fault.orig_exc) if isinstance(fault.orig_exc, _Misread) else "a number here cannot be read"
        return failed(Fault(column=1, message=reason))
    except _Misread as fault:
        return failed(Fault(column=1, message=str(fault)))
    except (ValueError, ZeroDivisionError):
        return failed(Fault(column=1, message="a number here cannot be read"))
    if "equally-spaced" in flags:
        parts = (*parts, Part(name="equally-spaced"))
    made = Characteristic(
        number=number, where=where, text=text, kind=item.kind, count=count, reference="reference" in flags,
        typical="typical" in flags, parts=parts,
    )  # fmt: skip
    return made.model_copy(update={"words": say(made, rules.unit)})
