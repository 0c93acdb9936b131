"""Reading drafter's shorthand: a text to the callout that it means, or what is wrong with it and where."""

import difflib
import re
from dataclasses import replace
from fractions import Fraction
from typing import Any

from lark.exceptions import UnexpectedCharacters, UnexpectedEOF, UnexpectedInput, VisitError
from pydantic import ValidationError

from canonis.core.callout.callout import Callout
from canonis.core.callout.deviations import without_deviations
from canonis.core.callout.fits import fit_limits
from canonis.core.callout.language import Reader, grammar
from canonis.core.callout.part import Part
from canonis.core.callout.rules import HouseRules
from canonis.core.callout.values import Angle, Item, Misread, Typed, Value
from canonis.core.faults import BadInput
from canonis.core.quantity import MICROINCH, Unit, to_mm

__all__ = ["TRADE_WORDS", "Unread", "read", "why_unread"]

#: Words of the trade that a misspelling may have meant.
TRADE_WORDS = (
    "THRU", "DEEP", "DEPTH", "DIA", "CBORE", "CSK", "CHAMFER", "SLOT", "CENTRES", "PLACES", "TYP", "PCD", "SPOTFACE",
    "UON", "REF", "WIDE", "LONG", "HIGH", "THICK", "ROUNDS", "EQ SP", "OVERALL", "BASIC", "MAX", "MIN", "KEYWAY",
    "GROOVE", "UNDERCUT", "RELIEF", "HEX", "SQUARE", "SPLINE", "WALL", "DRAFT", "TAPER", "PITCH", "GRID", "HOLE",
    "DRILL", "REAM", "BORE", "TAP", "CLEARANCE", "CAP SCREW", "FAR SIDE", "BOTH SIDES", "START", "ARC SLOT", "SPHERE",
    "FULL R", "WOODRUFF", "FROM", "FLAT BOTTOM", "UNC", "UNF", "NPT", "ACME", "CLOSE", "NORMAL", "LOOSE",
)  # fmt: skip
#: No callout that can be built is written in more characters.
_LONGEST = 2000
#: No size of a part is larger, mm or degrees.
_LARGEST = 10_000_000
#: The word that a place begins with, however often it is said.
_FROM = re.compile(r"(?:from\s+)+", re.I)
#: Commas and dashes that only part one statement from the next, and words that say nothing.
_PARTING = re.compile(
    r",(?=\s|[⌀⌴⌵↧])|(?<=\s)[-–](?=\s)|/(?=\s*[⌀øØ∅])|\bwith\b|\band\b(?=\s+(?:c|spot|⌴|⌵|tap))|;", re.I
)


class Unread(Exception):
    """A text that cannot be read: what is wrong, and at which column of it (from 1). `grammar` tells that its words are the
    matter, not what they say."""

    def __init__(self, column: int, message: str, *, grammar: bool = False) -> None:
        super().__init__(message)
        self.column, self.message, self.grammar = column, message, grammar


def read(text: str, rules: HouseRules, unit: Unit | None = None) -> Callout:
    """The callout that a text means; `unit` is that of sizes without a mark where it is not the rules'.

    Raises Unread for a text that means nothing, or nothing that can be.
    """
    if len(text) > _LONGEST:
        raise Unread(_LONGEST, f"a statement may have {_LONGEST} characters; split it")
    try:
        bare_text, beside = without_deviations(text)
        prefixes, item, suffixes = Reader().transform(grammar().parse(_unpunctuated(bare_text)))
        item, fields = _assemble(prefixes, item, suffixes)
        own = unit or _unit_typed(item, rules)
        bare = bool(fields.get("reference") or fields.get("basic"))
        # A mark for the whole line stays with each of its sizes, so that the line can be written again.
        marked = [
            (
                n,
                replace(v, unit=own)
                if isinstance(v, Value)
                and own is not rules.unit
                and v.unit is None
                and not isinstance(v, Angle)
                and not v.plain
                and not v.squares
                else v,
            )
            for n, v in item.parts
        ]
        parts = [_part(n, v, rules, own, bare) for n, v in marked]
        _check_sizes(parts)
        _check_deviations(parts, beside, own)
        return Callout(kind=item.kind, parts=tuple(parts), **fields)
    except UnexpectedInput as fault:
        raise _explained(text, fault) from None
    except VisitError as fault:
        reason = str(fault.orig_exc) if isinstance(fault.orig_exc, Misread) else "a number here cannot be read"
        raise Unread(1, reason) from None
    except Misread as fault:
        raise Unread(1, str(fault)) from None
    except ValidationError as fault:
        raise Unread(1, str(fault.errors()[0]["msg"]).removeprefix("Value error, ")) from None
    except (ValueError, ZeroDivisionError, OverflowError):
        raise Unread(1, "a number here cannot be read") from None


def why_unread(text: str, unit: Unit) -> str:
    """Why a text on a sheet of a unit says nothing that can be proven."""
    try:
        read(text, HouseRules(unit=unit))
    except Unread as fault:
        return f"the text cannot be read: {fault.message}"
    return "it is a note in words"


def _unpunctuated(text: str) -> str:
    """A line without what only parts its statements; every character keeps its place."""
    return _PARTING.sub(lambda m: " " * len(m[0]), text)


def _whole(value: Value) -> int:
    if value.nominal.denominator != 1 or not 1 <= value.nominal <= 10000 or value.unit or value.plus:
        raise Misread(f"“{value.typed}” is not a count")
    return int(value.nominal)


def _legs(prefixes: list[Value], item: Item) -> Item:
    """Settle what `n ×` before an item means where it may be a size: the leg of a chamfer, the width of a slot."""
    parts = item.parts
    if (item.kind == "angle" and prefixes) or item.angle_first:
        if not prefixes:
            raise Misread("a chamfer needs its leg: write 2 × 45°")
        leg = prefixes.pop()
        return Item("chamfer", (("leg", leg), *[p for p in parts if p[0] == "angle"]))
    if item.kind == "chamfer" and len(parts) == 2 and parts[1][0] == "angle" and not item.angle_said:
        two = len(prefixes) == 2 or (len(prefixes) == 1 and not prefixes[0].counts)
        if two:
            # 3 × 2 CHAMFER: two legs; 3x 2 CHAMFER would be a count.
            return Item("chamfer", (("leg", prefixes.pop()), ("leg-b", parts[0][1])))
    if item.note == "width before":
        if not prefixes:
            raise Misread(f"a {item.kind} needs two sizes: write 8 x 28 {item.kind.upper()}")
        return Item(item.kind, (("width", prefixes.pop()), *parts))
    return item


def _assemble(prefixes: list[Value], item: Item, suffixes: list[tuple[str, Any]]) -> tuple[Item, dict[str, Any]]:
    """The item with its sizes settled, and the fields of its callout but for the parts."""
    item = _legs(prefixes, item)
    if len(prefixes) > 1:
        raise Misread("two counts stand before one size")
    count = _whole(prefixes[0]) if prefixes else 1
    flags: set[str] = {n for n, _ in item.parts if n == "unless-noted"}
    said = {"from": "", "where": ""}
    extra: list[tuple[str, Any]] = []
    doubled = False
    for name, value in suffixes:
        if name == "count":
            if count != 1:
                raise Misread("a count stands before and after")
            count = _whole(value)
        elif name == "both-sides":
            doubled = True
        elif name in said:
            said[name] = value
        elif name == "member-angles":
            extra += [(f"member-{n}-angle", angle) for n, angle in enumerate(value, 1)]
        elif name == "equally-spaced" or value is not None:
            if name in [n for n, _ in (*item.parts, *extra)]:
                raise Misread(f"the {name.replace('-', ' ')} is given twice")
            extra.append((name, value))
        else:
            flags.add(name)
    parts = tuple(p for p in item.parts if p[0] != "unless-noted")
    names = [n for n, _ in parts]
    twice = next((n for n in names if names.count(n) > 1), None)
    if twice:
        raise Misread(f"the {twice.replace('-', ' ')} is given twice")
    fields = {
        "count": count * (2 if doubled else 1),
        "general": "unless-noted" in flags or item.kind == "round",
        "detail": item.note if item.note != "width before" else "",
        "direction": _FROM.sub("", said["from"]),
        "shown": said["where"],
        **{name: name in flags for name in ("reference", "basic", "typical", "estimated")},
    }
    return replace(item, parts=(*parts, *extra)), fields


def _part(name: str, value: Any, rules: HouseRules, unit: Unit, bare: bool) -> Part:
    """One part with its exact value, limits and target; `bare` ones (basic, reference) have no general tolerance."""
    if value is None:
        return Part(name=name)
    if isinstance(value, Typed):
        return Part(name=name, typed=value.text)
    if isinstance(value, str):
        return Part(name=name, designation=value)
    angle = isinstance(value, Angle)
    if value.plain:
        return Part(name=name, nominal=value.nominal, plain=True, typed=value.typed, decimals=value.decimals)
    own_unit = value.unit or unit
    if value.fine:
        return Part(
            name=name,
            nominal=value.nominal * (MICROINCH if own_unit is Unit.INCH else 1),
            plain=True,
            typed=value.typed,
            decimals=value.decimals,
            unit=value.unit if value.unit not in (None, rules.unit) else None,
        )

    def mm(x: Any) -> Any:
        return x if angle else to_mm(x, own_unit)

    nominal = mm(value.nominal)
    if value.squares:
        if rules.square_mm is None:
            raise Misread("say in the house rules how large a square of the print is")
        nominal = value.nominal * rules.square_mm
    lower, upper, origin = _limits(name, value, nominal, mm, rules, bare)
    return Part(
        name=name,
        nominal=nominal,
        lower=lower,
        upper=upper,  # A general tolerance says how far a part may stray, not where it is meant to lie.
        target=nominal if origin == "general" else rules.target(nominal, lower, upper),
        tolerance=origin,
        angle=angle,
        typed=value.typed,
        decimals=value.decimals,
        fit=value.fit,
        limits=value.limits is not None,
        table=value.table,
        unit=value.unit if value.unit not in (None, rules.unit) else None,
    )


def _limits(
    name: str, value: Value, nominal: Fraction, mm: Any, rules: HouseRules, bare: bool
) -> tuple[Fraction | None, Fraction | None, str | None]:
    """The limits of a size and where they come from."""
    if value.limits:
        return mm(value.limits[0]), mm(value.limits[1]), "own"
    if value.plus is not None and value.minus is not None:
        return nominal - mm(value.minus), nominal + mm(value.plus), "own"
    if value.fit:
        try:
            lower, upper = fit_limits(value.fit, nominal)
        except BadInput as fault:
            raise Misread(str(fault)) from None
        return lower, upper, "fit"
    if value.bound:
        return (nominal, None, "own") if value.bound == "min" else (None, nominal, "own")
    if not bare and not value.table and not value.exact:
        angle = isinstance(value, Angle)
        kind = "angle" if angle else "radius" if name == "radius" else "leg" if name.startswith("leg") else "length"
        general = rules.general.of(nominal, value.decimals, kind)
        if general is not None:
            return nominal - general, nominal + general, "general"
    return None, None, None


def _check_sizes(parts: list[Part]) -> None:
    for part in parts:
        size, free = part.nominal, part.name in ("length", "start-angle") or part.name.startswith("member-")
        if size == 0 and not free:
            raise Misread(f"a {part.name.replace('-', ' ')} cannot be zero")
        if size is not None and abs(size) > _LARGEST:
            raise Misread(f"“{part.typed[:24]}” is larger than any part; check the number")


def _check_deviations(parts: list[Part], beside: list[tuple[Fraction, Fraction]], unit: Unit) -> None:
    """What stands beside a fit must be what its table gives, to the places that a sheet writes it."""
    room = Fraction(1, 10_000) if unit is Unit.MM else Fraction(254, 10) / 20_000
    for part, (upper, lower) in zip([p for p in parts if p.fit], beside, strict=False):
        if part.nominal is None or part.lower is None or part.upper is None:
            continue
        for said, limit in ((upper, part.upper), (lower, part.lower)):
            if abs(to_mm(said, unit) - (limit - part.nominal)) > room:
                raise Misread(f"the deviations beside {part.fit} are not those of its table for this size")


def _unit_typed(item: Item, rules: HouseRules) -> Unit:
    """The unit of unmarked sizes: the one that is typed beside others, or the job's."""
    typed = {v.unit for _, v in item.parts if isinstance(v, Value) and v.unit is not None and not v.table}
    return typed.pop() if len(typed) == 1 else rules.unit


def _explained(text: str, fault: UnexpectedInput) -> Unread:
    if isinstance(fault, UnexpectedCharacters):
        at = fault.pos_in_stream
    elif isinstance(fault, UnexpectedEOF) or getattr(getattr(fault, "token", None), "type", "") == "$END":
        return Unread(len(text.rstrip()) + 1, "the line ends too early; a value or a word is missing", grammar=True)
    else:
        at = fault.pos_in_stream or 0
    # Begin at the start of the word, so that the whole of it is named.
    while at and text[at - 1].isalpha() and text[at : at + 1].isalpha():
        at -= 1
    rest = text[at:]
    word = re.match(r"[A-Za-z']+", rest)
    shown = word.group(0) if word else rest.split()[0][:12] if rest.split() else rest[:1]
    message = f"“{shown}” cannot be read here"
    if word:
        near = difflib.get_close_matches(word.group(0).upper(), TRADE_WORDS, 1, 0.6)
        if near and near[0] != word.group(0).upper():
            return Unread(at + 1, f"{message}; did you mean {near[0]}?", grammar=True)
    form = _nearest_form(text)
    return Unread(at + 1, f"{message}; a line like “{form}” is read" if form else message, grammar=True)


#: One line of each kind, as it is read.
_FORMS = (
    "4x ⌀6.6 THRU ⌴⌀11 ↧6.5", "⌀5 ↧8", "⌀12 THRU ⌵⌀16 × 90°", "M8 ↧16 DRILL ⌀6.8 ↧20", "M8 THRU", "2 × 45°", "3 × 2 CHAMFER", "R6",
    "SLOT 8 WIDE 14 CENTRES THRU", "8 × 28 SLOT", "KEYWAY 6 × 3.5 × 25", "SEGMENT KEYWAY 5 WIDE R9.5", "GROOVE 3 × ⌀24",
    "UNDERCUT 2 × 0.5", "HEX 19 AF", "SPLINE 6 × 23 × 26", "WALL 3", "TAPER 1:10", "3° DRAFT", "PITCH 20", "GRID 3 × 4 AT 20 × 15",
    "⌀20 PCD", "12 FROM LEFT EDGE", "96 OVERALL", "12 ±.1", "40 WIDE", "ARC SLOT 8 WIDE R40 60°", "CLEARANCE M6 CLOSE",
    "CAP SCREW M5", "ALL ROUNDS R2", "BREAK EDGES 0.3", "12 SQUARE", "76 CENTRES",
)  # fmt: skip


def _tokens(text: str) -> list[str]:
    """The words and signs of a line, numbers alike."""
    return ["0" if t[0].isdigit() else t.upper() for t in re.findall(r"\d+(?:[.,]\d+)?|[^\W\d_]+|[⌀⌴⌵↧×°±:]", text)]


def _nearest_form(text: str) -> str:
    """The form that an unread line is most like, or an empty text where it is like none."""
    said = _tokens(text)
    if not any(t in form for form in map(_tokens, _FORMS) for t in said if t != "0"):
        return ""
    first = next((t for t in said if t.isalpha() and len(t) > 1), "")
    like = {
        f: (0.3 if first in _tokens(f) else 0.0)
        + difflib.SequenceMatcher(None, said, _tokens(f), autojunk=False).ratio()
        for f in _FORMS
    }
    best = max(like, key=lambda f: like[f])
    return best if like[best] >= 0.4 else ""
