"""The one grammar of callouts, put together from the fragments of the kinds; its tables are kept where Python keeps its
compiled modules."""

import re
from dataclasses import replace
from fractions import Fraction
from functools import lru_cache
from typing import Any

from lark import Lark, Token

from canonis.core.callout.kinds import MODULES, READERS
from canonis.core.callout.values import Angle, Item, Value
from canonis.core.grammars import parser_of
from canonis.core.quantity import fraction_of

__all__ = ["OFFERS", "Reader", "grammar"]

_FRAME = r"""
// Drafter's shorthand: one characteristic a line. Terminals carry the trade's words in any case.

start: "(" body ")" suffix* -> reference
     | "[" body "]" suffix* -> basic
     | body suffix*         -> plain

body: prefix* item

prefix: value TIMES
      | COUNT
      | COUNT_PLACES
      | COUNT_NOUN

?item: ITEMS_OF_THE_KINDS

suffix: COUNT_AFTER          -> count_after
      | COUNT_PAREN          -> count_after
      | COUNT_LAST           -> count_after
      | TIMES COUNT_PLACES   -> count_after
      | AROUND               -> where_shown
      | COUNT_PLACES         -> count_after
      | TYP                  -> typical
      | EQSP                 -> equally_spaced
      | ON? diam PCD         -> on_circle
      | ON? PCD value        -> on_circle
      | START angle_value    -> start_angle
      | AT value PITCH?      -> at_pitch
      | AT angle_value       -> at_angle
      | AT angle_value angle_value+ -> at_angles
      | ANGLE_APART          -> angle_apart
      | BOTH                 -> both_sides
      | FOR value            -> for_length
      | FROM                 -> from_face
      | FROM_AXIS            -> from_face
      | WHERE                -> where_shown
      | UON                  -> unless_noted
      | REF                  -> ref_word
      | BASIC                -> basic_word
      | EST                  -> estimated_word

diam: DIA value INOUT?
    | value (DIA | INOUT)
    | INOUT DIA? value

value: number FIT? tolerance? UNIT?
     | number UNIT tolerance
     | number UNIT? (MAX | MIN)
     | NUMBER SLASH NUMBER UNIT?  -> limits
number: NUMBER | FEET | SQUARES | THOUSANDTHS

angle_value: ANGLE angle_tolerance?
angle_tolerance: PM (ANGLE | MINUTES | NUMBER)
               | PLUS (ANGLE | NUMBER) SLASH? MINUS (ANGLE | NUMBER) -> unequal_angles
tolerance: PM NUMBER
         | PLUS NUMBER SLASH? MINUS NUMBER  -> unequal
         | MINUS NUMBER SLASH? PLUS NUMBER  -> unequal_reversed

// Numbers. A slash counts as a fraction when the lower figure is a power of two up to 128.
NUMBER.5: /\d+[ -]\d+\/(2|4|8|16|32|64|128)(?![\d.])|\d+\/(2|4|8|16|32|64|128)(?![\d.])|\d+[.,]\d+|[.,]\d+|\d+\.?/
FEET.8: /\d+\s*(?:'|′|ft\b|feet\b|foot\b)(?:\s*-?\s*(?:\d+[ -]\d+\/\d+|\d+\/\d+|\d*\.\d+|\d+)\s*(?:"|″|inches|inch|in\b))?/i
SQUARES.8: /(?:\d+\s+\d+\/\d+|\d+\/\d+|\d*[.,]\d+|\d+)\s*(?:squares|square\s+units|boxes)\b/i
THOUSANDTHS.8: /\d+(?:[.,]\d+)?\s*(?:thou|thousandths|mils?)\b/i
ANGLE.9: /\d*[.,]?\d+\s*(?:°|degrees\b|degree\b|deg\b)(?:\s*\d+(?:[.,]\d+)?\s*['′](?:\s*\d+(?:[.,]\d+)?\s*["″])?)?/i
ANGLE_APART.10: /\d*[.,]?\d+\s*(?:°|degrees\b|degree\b|deg\b)(?:\s*(?:±|\+\/-)\s*\d*[.,]?\d+\s*°?)?\s*apart\b/i
MINUTES.8: /\d+\s*['′]/
FIT.7: /(?:JS|[A-HKMNPS]|js|[a-hkmnprs])\d{1,2}(?![\w.,\/])|(?<=\d)R[678](?![\w.,\/])/
TIMES: /[x×]/i
DIA.3: /(?:(?:O\.?D|I\.?D)\b\.?\s*|(?:outside|inside|outer|inner)\s+)?(?:⌀|ø|Ø|∅|diameter|diam\b\.?|dia\b\.?|dia(?=\s*[\d.]))(?:\s*(?:O\.?D|I\.?D)\b\.?)?|O\.?D\b\.?|I\.?D\b\.?/i
INOUT.4: /(?:O\.?D|I\.?D)\b\.?/i
START.4: /start(?:ing)?(?:\s+(?:at|angle))?/i
AROUND.4: /all\s+(?:a)?round|per\s+side|on\s+(?:dia\b|diameter)/i
UNIT.3: /mm\b|inches\b|inch\b|in\b|"|″/i
PM.3: /±|\+\/-|\+-/
PLUS: "+"
MINUS: /-|−/
SLASH: "/"
MAX.4: /max(?:imum)?\b\.?/i
MIN.4: /min(?:imum)?\b\.?/i
// 4x before a size; X4 or 4 PLACES after it. A leg before an angle is no count.
COUNT.6: /\d+[x×](?=\s)/i
COUNT_AFTER.6: /(?<=\s)[x×]\d+(?!\s*[\d.,\/°]|\s*deg|\s*[x×])/i
COUNT_PLACES.8: /\d+\s*(places|place|plcs|pls|pl|off(?!\s+(?:the\s+)?(?:left|right|top|bottom|base|edge|end|front|back|datum|cent))|holes|times|positions|posns?|req'?d|required)\b/i
// 2 UNDERCUTS: a number before the plural of what it counts.
COUNT_NOUN.9: /\d+(?=\s+(?:undercuts|reliefs|grooves|ribs|walls|webs|slots|keyways|chamfers|splines)\b)/i
// (4), (4 PLACES) and 4X at the end.
COUNT_PAREN.8: /(?<=\s)\(\s*\d+\s*(?:places|place|plcs|pls|off|holes|x|×)?\s*\)/i
COUNT_LAST.8: /(?<=\s)\d+\s?[x×](?=\s*$)/i
TYP.4: /typ(ical)?\b\.?/i
EQSP.4: /eq(?:ually|ual)?\.?\s*sp(?:aced|aces|acing)?\b\.?/i
UON.4: /UON|unless\s+(otherwise\s+)?(noted|stated|specified)/i
ON.3: /on\b/i
AT.3: /at\b|@/i
FOR.3: /for\b/i
TO.2: /to(?=\s*⌀|\s+dia)/i
FROM.4: /(?:measured\s+)?(?:(?:up|down|in|out|left|right)\s+)?(?:from|to|above|below|off)\s+(?!depth)[^\d\s][^\d]*$/i
WHERE.4: /where\s.*/i
REF.4: /ref(erence)?\b\.?/i
BASIC.4: /basic|bsc\b/i
EST.4: /est(imated)?\b\.?/i

%import common.WS
%ignore WS
"""
#: What each terminal is called when it is offered: the text to put in, and what it means.
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    **{terminal: offers for module in MODULES for terminal, offers in module.OFFERS.items()},
    "ON": (("ON", "on a circle"),),
    "EQSP": (("EQ SP", "equally spaced"),),
    "START": (("START", "first at this angle"),),
    "AT": (("AT", "pitch"),),
    "TYP": (("TYP", "typical"),),
    "UON": (("UON", "unless noted"),),
    "REF": (("REF", "reference"),),
    "BASIC": (("BASIC", "basic"),),
    "COUNT_PLACES": (("PLACES", "count"),),
    "FOR": (("FOR", "along part of an edge"),),
    "FROM": (("FROM", "from a face"),),
    "MAX": (("MAX", "at most"),),
    "MIN": (("MIN", "at least"),),
    "PM": (("±", "tolerance"),),
    "FIT": (("H7", "fit"), ("g6", "fit")),
    "TIMES": (("×", "by"),),
}


@lru_cache(maxsize=1)
def grammar() -> Lark:
    """The parser of the shorthand, made once a process."""
    items = " | ".join(item for module in MODULES for item in getattr(module, "ITEMS", ()))
    text = "\n".join([_FRAME.replace("ITEMS_OF_THE_KINDS", items), *(module.GRAMMAR for module in MODULES)])
    return parser_of("callouts", text, lexer="contextual")


class Reader(*READERS):  # type: ignore[misc]
    """Turns each rule of the grammar into values, parts and items; raises Misread for nonsense."""

    def _counted(self, text: str) -> Value:
        digits = re.sub(r"\D", "", text)
        return Value(Fraction(int(digits)), digits, 0, counts=True)

    def prefix(self, items: list[Any]) -> Value:
        return self._counted(str(items[0])) if isinstance(items[0], Token) else self._first(items)

    def body(self, items: list[Any]) -> tuple[list[Value], Item]:
        return list(items[:-1]), items[-1]

    def count_after(self, items: list[Any]) -> tuple[str, Any]:
        return ("count", self._counted(str(items[-1])))

    def typical(self, _: list[Any]) -> tuple[str, Any]:
        return ("typical", None)

    def equally_spaced(self, _: list[Any]) -> tuple[str, Any]:
        return ("equally-spaced", None)

    def on_circle(self, items: list[Any]) -> tuple[str, Any]:
        return ("pitch-circle", self._first(items))

    def start_angle(self, items: list[Any]) -> tuple[str, Any]:
        return ("start-angle", self._first(items))

    def at_pitch(self, items: list[Any]) -> tuple[str, Any]:
        return ("pitch", self._first(items))

    def at_angle(self, items: list[Any]) -> tuple[str, Any]:
        return ("pitch-angle", self._first(items))

    def at_angles(self, items: list[Any]) -> tuple[str, Any]:
        return ("member-angles", self._values(items))

    def angle_apart(self, items: list[Any]) -> tuple[str, Any]:
        said = re.fullmatch(r"(.*?)\s*(?:(?:±|\+/-)\s*(\S+?)°?)?\s*apart", str(items[0]), re.I)
        assert said is not None
        angle: Angle = self.angle_value([said.group(1)])
        if said.group(2):
            room = fraction_of(said.group(2))
            angle = replace(angle, plus=room, minus=room)
        return ("pitch-angle", angle)

    def both_sides(self, _: list[Any]) -> tuple[str, Any]:
        return ("both-sides", None)

    def for_length(self, items: list[Any]) -> tuple[str, Any]:
        return ("length", self._first(items))

    def from_face(self, items: list[Any]) -> tuple[str, Any]:
        return ("from", " ".join(str(items[0]).split()[1:]))

    def where_shown(self, items: list[Any]) -> tuple[str, Any]:
        return ("where", " ".join(str(items[0]).split()))

    def unless_noted(self, _: list[Any]) -> tuple[str, Any]:
        return ("unless-noted", None)

    def ref_word(self, _: list[Any]) -> tuple[str, Any]:
        return ("reference", None)

    def estimated_word(self, _: list[Any]) -> tuple[str, Any]:
        return ("estimated", None)

    def basic_word(self, _: list[Any]) -> tuple[str, Any]:
        return ("basic", None)

    def reference(self, items: list[Any]) -> tuple[Any, ...]:
        return (*items[0], [("reference", None), *items[1:]])

    def basic(self, items: list[Any]) -> tuple[Any, ...]:
        return (*items[0], [("basic", None), *items[1:]])

    def plain(self, items: list[Any]) -> tuple[Any, ...]:
        return (*items[0], items[1:])
