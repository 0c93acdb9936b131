"""A line of the source read: its name, its unit mark and the callout between them, or an error at the character."""

import difflib
import re
from dataclasses import dataclass
from typing import Any

from canonis.core.callout import TRADE_WORDS, HouseRules, Speech, Unread, read, say
from canonis.core.quantity import Unit
from canonis.core.source.characteristic import Characteristic, Fault, Provenance

__all__ = ["read_line", "split_line"]

_TRADE = (
    *{w for phrase in TRADE_WORDS for w in phrase.split() if len(w) > 2},
    "THROUGH",
    "COUNTERBORE",
    "COUNTERSINK",
    "DIAMETER",
    "RADIUS",
    "CENTRE",
    "CENTER",
    "SIDES",
    "ENDS",
    "EDGE",
    "EDGES",
    "FACE",
    "FILLET",
    "THREAD",
    "CORNERS",
    "EACH",
    "RIB",
    "BOSS",
    "HOLES",
    "SCREW",
    "BOLT",
    "LEFT",
    "RIGHT",
    "BOTTOM",
    "INSIDE",
    "OUTSIDE",
)
_LONGEST = 400
_NAME = re.compile(r"\s*([^\W\d][\w '/.-]{0,60}?)\s*:\s+(?=\S)")
_UNIT_MARK = re.compile(r"\s*\[\s*(mm|in|inch)\s*\]\s*$", re.I)
#: Lines the shop reads as text: finish, treatment, flatness and its kin. They are kept as they stand.
_NOTE = re.compile(
    r"\s*(?:note|ra|rz|√|n\d{1,2}|\d+\s*(?:-|–|to)\s*\d+\s*h(?:rc|rb|b|v)\b|h(?:rc|rb|b|v)\b|nitrid|carbur|stress|oil\s|quench|bead"
    r"|sand|shot|induction|tumbl|blast|finish|surface|treat|heat|hard|case\s|anneal|temper|grind|ground|polish|hone|lap|black|blue"
    r"|paint|plat|zinc|chrom|nickel|anodi|galvani|passivat|coat|deburr|remove|stamp|mark|engrave|weld|cast|machin|flat|straight"
    r"|round|circular|cylindric|parallel|perp|square|angular|position|concentric|coaxial|symmetr|run-?out|total|profile|all\s|do\snot"
    r"|material|sharp|scale|[⏥⏤○⌭∥⊥∠⌖◎⌯↗⌰⌒⌓])",
    re.I,
)


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
        return Characteristic(**same, error=Fault(column=column, message=message))

    if not text.strip():
        return failed(1, "the line is empty")
    if len(text) > _LONGEST:
        return failed(_LONGEST, f"a line may have {_LONGEST} characters; split it")
    line = split_line(text)
    try:
        callout = read(line.rest, rules, line.unit)
    except Unread as fault:
        if not fault.grammar:
            return failed(line.at + fault.column, fault.message)
        if _NOTE.match(line.rest) or _is_other_language(line.rest):
            return Characteristic(**same, name=line.name, words="note, kept as it is written")
        keep = "; begin it with “note:” to keep it as text" if len(re.findall(r"[^\W\d_]{3,}", line.rest)) > 1 else ""
        return failed(line.at + fault.column, fault.message + keep)
    made = Characteristic.of(callout, **same, name=line.name)
    return made.model_copy(update={"words": say(made, Speech(rules.unit, made.count))})
