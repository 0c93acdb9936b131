"""Reading drafter's shorthand: a line of text to a characteristic, or an error at the character."""

import difflib
import re
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from lark import Lark
from lark.exceptions import UnexpectedCharacters, UnexpectedEOF, UnexpectedInput, VisitError

from canonis.core.faults import BadInput
from canonis.core.quantity.units import Unit, to_mm
from canonis.core.source.characteristic import Characteristic, Fault, Part, Provenance
from canonis.core.source.deviations import without_deviations
from canonis.core.source.fits import fit_limits
from canonis.core.source.grammars import parser_of
from canonis.core.source.reader import Reader
from canonis.core.source.rules import HouseRules
from canonis.core.source.values import Angle, Item, Misread, Value
from canonis.core.source.words import say

__all__ = ["WORDS", "grammar", "read_line", "split_line"]

#: Words of the trade that a misspelling may have meant.
WORDS = (
    "THRU", "DEEP", "DEPTH", "DIA", "CBORE", "CSK", "CHAMFER", "SLOT", "CENTRES", "PLACES", "TYP", "PCD", "SPOTFACE",
    "UON", "REF", "WIDE", "LONG", "HIGH", "THICK", "ROUNDS", "EQ SP", "OVERALL", "BASIC", "MAX", "MIN", "KEYWAY",
    "GROOVE", "UNDERCUT", "RELIEF", "HEX", "SQUARE", "SPLINE", "WALL", "DRAFT", "TAPER", "PITCH", "GRID", "HOLE",
    "DRILL", "REAM", "BORE", "TAP", "CLEARANCE", "CAP SCREW", "FAR SIDE", "BOTH SIDES", "START", "ARC SLOT", "SPHERE",
    "FULL R", "WOODRUFF", "FROM", "FLAT BOTTOM", "UNC", "UNF", "NPT", "ACME", "CLOSE", "NORMAL", "LOOSE",
)  # fmt: skip
_TRADE = (
    *{w for phrase in WORDS for w in phrase.split() if len(w) > 2},
    "THROUGH", "COUNTERBORE", "COUNTERSINK", "DIAMETER", "RADIUS", "CENTRE", "CENTER", "SIDES", "ENDS", "EDGE", "EDGES", "FACE",
    "FILLET", "THREAD", "CORNERS", "EACH", "RIB", "BOSS", "HOLES", "SCREW", "BOLT", "LEFT", "RIGHT", "BOTTOM", "INSIDE", "OUTSIDE",
)  # fmt: skip
_LONGEST = 400
#: No size of a part is larger, mm or degrees.
_LARGEST = 10_000_000
_NAME = re.compile(r"\s*([^\W\d][\w '/.-]{0,60}?)\s*:\s+(?=\S)")
_UNIT_MARK = re.compile(r"\s*\[\s*(mm|in|inch)\s*\]\s*$", re.I)
#: The word that a place begins with, however often it is said.
_FROM = re.compile(r"(?:from\s+)+", re.I)
#: Lines the shop reads as text: finish, treatment, flatness and its kin. They are kept as they stand.
_NOTE = re.compile(
    r"\s*(?:note|ra|rz|√|n\d{1,2}|\d+\s*(?:-|–|to)\s*\d+\s*h(?:rc|rb|b|v)\b|h(?:rc|rb|b|v)\b|nitrid|carbur|stress|oil\s|quench|bead"
    r"|sand|shot|induction|tumbl|blast|finish|surface|treat|heat|hard|case\s|anneal|temper|grind|ground|polish|hone|lap|black|blue"
    r"|paint|plat|zinc|chrom|nickel|anodi|galvani|passivat|coat|deburr|remove|stamp|mark|engrave|weld|cast|machin|flat|straight"
    r"|round|circular|cylindric|parallel|perp|square|angular|position|concentric|coaxial|symmetr|run-?out|total|profile|all\s|do\snot"
    r"|material|sharp|scale|[⏥⏤○⌭∥⊥∠⌖◎⌯↗⌰⌒⌓])",
    re.I,
)


def grammar() -> Lark:
    """The parser of the shorthand, made once a process."""
    return parser_of("shorthand.lark", lexer="contextual")


@dataclass(frozen=True)
class _Line:
    """A line without its name and its unit mark; `at` is where the rest begins in the text as typed."""

    name: str
    rest: str
    at: int
    unit: Unit | None


def split_line(text: str) -> _Line:
    """Part a line's name (`pivot bore: …`) and its unit mark (`… [in]`) from the shorthand between them."""
    name, at, unit = "", 0, None
    found = _NAME.match(text)
    if found and found.group(1).lower() not in ("note",):
        name, at = found.group(1), found.end()
    rest = text[at:]
    mark = _UNIT_MARK.search(rest)
    if mark:
        unit = Unit.MM if mark.group(1).lower() == "mm" else Unit.INCH
        rest = rest[: mark.start()]
    return _Line(name, rest, at, unit)


#: Commas and dashes that only part one statement from the next, and words that say nothing.
_PARTING = re.compile(
    r",(?=\s|[⌀⌴⌵↧])|(?<=\s)[-–](?=\s)|/(?=\s*[⌀øØ∅])|\bwith\b|\band\b(?=\s+(?:c|spot|⌴|⌵|tap))|;", re.I
)


def _unpunctuated(text: str) -> str:
    """A line without what only parts its statements; every character keeps its place."""
    return _PARTING.sub(lambda m: " " * len(m[0]), text)


#: Letters of scripts that the trade's words here are not written in.
_OTHER_SCRIPT = "[\u0370-\u1fff\u2c80-\u2dff\u3040-\ud7ff\ufb1d-\ufdff\ufe70-\ufefc]"


def _is_other_language(text: str) -> bool:
    """Whether a line is words that are none of the trade's here, so that it is kept as it is written. One that has a number
    needs more of them: a misspelt size must stay an error."""
    words = re.findall(r"[^\W\d_]{3,}", text)
    numbers = len(re.findall(r"\d+(?:[.,]\d+)?", text))
    if numbers > 1 or re.search(r"[⌀⌴⌵↧□±°]", text):
        return False
    if not numbers and re.search(_OTHER_SCRIPT, text):
        return True
    if len(words) < (4 if numbers else 2):
        # One word alone is more likely misspelt, unless its letters are those of another language.
        bare = text.strip()
        return not numbers and words == [bare] and len(bare) > 4 and not bare.isascii()
    return not any(w.upper() in _TRADE or difflib.get_close_matches(w.upper(), _TRADE, 1, 0.8) for w in words)


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


def _assemble(
    prefixes: list[Value], item: Item, suffixes: list[tuple[str, Any]]
) -> tuple[Item, int, set[str], dict[str, str]]:
    """The item with its sizes settled, its count, its flags, and what is said in words."""
    item = _legs(prefixes, item)
    if len(prefixes) > 1:
        raise Misread("two counts stand before one size")
    count = _whole(prefixes[0]) if prefixes else 1
    flags: set[str] = {n for n, v in item.parts if n == "unless-noted"}
    said: dict[str, str] = {}
    extra: list[tuple[str, Any]] = []
    doubled = False
    for name, value in suffixes:
        if name == "count":
            if count != 1:
                raise Misread("a count stands before and after")
            count = _whole(value)
        elif name == "both-sides":
            doubled = True
        elif name == "from":
            said["from"] = value
        elif name == "member-angles":
            extra += [(f"member-{n}-angle", angle) for n, angle in enumerate(value, 1)]
        elif value is not None:
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
    return replace(item, parts=(*parts, *extra)), count * (2 if doubled else 1), flags, said


def _part(name: str, value: Any, rules: HouseRules, unit: Unit, bare: bool) -> Part:
    """One part with its exact value, limits and target; `bare` ones (basic, reference) have no general tolerance."""
    if value is None:
        return Part(name=name)
    if isinstance(value, str):
        return Part(name=name, designation=value)
    angle = isinstance(value, Angle)
    if value.plain:
        return Part(name=name, nominal=value.nominal, plain=True, typed=value.typed, decimals=value.decimals)
    own_unit = value.unit or unit

    def mm(x: Any) -> Any:
        return x if angle else to_mm(x, own_unit)

    nominal = mm(value.nominal)
    if value.squares:
        if rules.square_mm is None:
            raise Misread("say in the house rules how large a square of the print is")
        nominal = value.nominal * rules.square_mm
    lower = upper = None
    origin = None
    if value.limits:
        lower, upper, origin = mm(value.limits[0]), mm(value.limits[1]), "own"
    elif value.plus is not None and value.minus is not None:
        lower, upper, origin = nominal - mm(value.minus), nominal + mm(value.plus), "own"
    elif value.fit:
        try:
            lower, upper = fit_limits(value.fit, nominal)
        except BadInput as fault:
            raise Misread(str(fault)) from None
        origin = "fit"
    elif value.bound:
        lower, upper = (nominal, None) if value.bound == "min" else (None, nominal)
        origin = "own"
    elif not bare and not value.table:
        kind = "angle" if angle else "radius" if name == "radius" else "leg" if name.startswith("leg") else "length"
        general = rules.general.of(nominal, value.decimals, kind)
        if general is not None:
            lower, upper, origin = nominal - general, nominal + general, "general"
    return Part(
        name=name, nominal=nominal, lower=lower, upper=upper, # A general tolerance says how far a part may stray, not where it is meant to lie.
        target=nominal if origin == "general" else rules.target(nominal, lower, upper),
        tolerance=origin, angle=angle, typed=value.typed, decimals=value.decimals, fit=value.fit,
        limits=value.limits is not None, table=value.table,
        unit=value.unit if value.unit not in (None, rules.unit) else None,
    )  # fmt: skip


def _check_deviations(parts: list[Part], beside: list[tuple[Fraction, Fraction]], unit: Unit) -> None:
    """What stands beside a fit must be what its table gives, to the places that a sheet writes it."""
    room = Fraction(1, 10_000) if unit is Unit.MM else Fraction(254, 10) / 20_000
    for part, (upper, lower) in zip([p for p in parts if p.fit], beside, strict=False):
        if part.nominal is None or part.lower is None or part.upper is None:
            continue
        for said, limit in ((upper, part.upper), (lower, part.lower)):
            if abs(to_mm(said, unit) - (limit - part.nominal)) > room:
                raise Misread(f"the deviations beside {part.fit} are not those of its table for this size")


def _explain(text: str, fault: UnexpectedInput) -> Fault:
    if isinstance(fault, UnexpectedCharacters):
        at = fault.pos_in_stream
    elif isinstance(fault, UnexpectedEOF) or getattr(getattr(fault, "token", None), "type", "") == "$END":
        return Fault(column=len(text.rstrip()) + 1, message="the line ends too early; a value or a word is missing")
    else:
        at = fault.pos_in_stream or 0
    # Begin at the start of the word, so that the whole of it is named.
    while at and text[at - 1].isalpha() and text[at : at + 1].isalpha():
        at -= 1
    rest = text[at:]
    word = re.match(r"[A-Za-z']+", rest)
    shown = word.group(0) if word else rest.split()[0][:12] if rest.split() else rest[:1]
    message = f"“{shown}” cannot be read here"
    near: list[str] = []
    if word:
        near = difflib.get_close_matches(word.group(0).upper(), WORDS, 1, 0.6)
        if near and near[0] != word.group(0).upper():
            message += f"; did you mean {near[0]}?"
            return Fault(column=at + 1, message=message)
    form = _nearest_form(text)
    return Fault(column=at + 1, message=f"{message}; a line like “{form}” is read" if form else message)


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


def _units(item: Item, line: _Line, rules: HouseRules) -> Unit:
    """The unit of the line's unmarked sizes: its mark, the one unit that is typed on it, or the job's."""
    if line.unit is not None:
        return line.unit
    typed = {v.unit for _, v in item.parts if isinstance(v, Value) and v.unit is not None and not v.table}
    return typed.pop() if len(typed) == 1 else rules.unit


def read_line(
    text: str, rules: HouseRules, number: str = "", where: str = "", provenance: Provenance = "read", working: str = ""
) -> Characteristic:
    """Read one line of shorthand. Never raises: an unread line comes back with its error."""
    same: dict[str, Any] = {
        "number": number,
        "where": where,
        "text": text,
        "provenance": provenance,
        "working": working,
    }

    def failed(column: int, message: str) -> Characteristic:
        return Characteristic(**same, kind="note", error=Fault(column=column, message=message))

    if not text.strip():
        return failed(1, "the line is empty")
    if len(text) > _LONGEST:
        return failed(_LONGEST, f"a line may have {_LONGEST} characters; split it")
    line = split_line(text)
    try:
        bare_text, beside = without_deviations(line.rest)
        prefixes, item, suffixes = Reader().transform(grammar().parse(_unpunctuated(bare_text)))
        item, count, flags, said = _assemble(prefixes, item, suffixes)
        unit = _units(item, line, rules)
        bare = bool(flags & {"reference", "basic"})
        # A mark for the whole line stays with each of its sizes, so that the line can be written again.
        marked = [(n, replace(v, unit=unit) if isinstance(v, Value) and unit is not rules.unit and v.unit is None
                   and not isinstance(v, Angle) and not v.plain and not v.squares else v) for n, v in item.parts]  # fmt: skip
        parts = [_part(n, v, rules, unit, bare) for n, v in marked]
        for part in parts:
            if (
                part.nominal is not None
                and part.nominal == 0
                and part.name not in ("length", "start-angle")
                and not part.name.startswith("member-")
            ):
                raise Misread(f"a {part.name.replace('-', ' ')} cannot be zero")
            if part.nominal is not None and abs(part.nominal) > _LARGEST:
                raise Misread(f"“{part.typed[:24]}” is larger than any part; check the number")
        _check_deviations(parts, beside, unit)
    except UnexpectedInput as fault:
        if _NOTE.match(line.rest) or _is_other_language(line.rest):
            return Characteristic(**same, name=line.name, kind="note", words="note, kept as it is written")
        found = _explain(line.rest, fault)
        keep = "; begin it with “note:” to keep it as text" if len(re.findall(r"[^\W\d_]{3,}", line.rest)) > 1 else ""
        return failed(found.column + line.at, found.message + keep)
    except VisitError as fault:
        reason = str(fault.orig_exc) if isinstance(fault.orig_exc, Misread) else "a number here cannot be read"
        return failed(line.at + 1, reason)
    except Misread as fault:
        return failed(line.at + 1, str(fault))
    except (ValueError, ZeroDivisionError, OverflowError):
        return failed(line.at + 1, "a number here cannot be read")
    if "equally-spaced" in flags:
        parts.append(Part(name="equally-spaced"))
    made = Characteristic(
        **same, name=line.name, kind=item.kind, count=count, reference="reference" in flags, basic="basic" in flags,
        typical="typical" in flags, general="unless-noted" in flags or item.kind == "round", detail=item.note if item.note != "width before" else "",
        direction=_FROM.sub("", said.get("from", "")), parts=tuple(parts),
    )  # fmt: skip
    return made.model_copy(update={"words": say(made, rules.unit)})
