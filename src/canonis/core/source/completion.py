"""What may come next in a line of shorthand: taken from the grammar itself, so that it is never out of step."""

import re

from lark.exceptions import UnexpectedInput

from canonis.core.source.shorthand import grammar, split_line

__all__ = ["complete"]

#: What each terminal is called when it is offered: the text to put in, and what it means.
_OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "DIA": (("⌀", "diameter"),), "R": (("R", "radius"),), "FULL_R": (("FULL R", "full radius"),),
    "THRU": (("THRU", "through"),), "DEPTH": (("↧", "depth"),), "DEEP": (("DEEP", "depth before it"),),
    "CBORE": (("⌴⌀", "counterbore"),), "CSK": (("⌵⌀", "countersink"),), "SPOTFACE": (("SF ⌀", "spot face"),),
    "RIM": (("RIM", "rim"),), "FAR": (("FAR SIDE", "on the far side"),), "BOTH": (("BOTH SIDES", "on both sides"),),
    "CHAMFER": (("CHAMFER", "chamfer"),), "SLOT": (("SLOT", "slot"),), "ARC_SLOT": (("ARC SLOT", "arc slot"),),
    "CENTRES": (("CENTRES", "between centres"),), "OVERALL": (("OVERALL", "over all"),), "LONG": (("LONG", "length"),),
    "KEYWAY": (("KEYWAY", "keyway"),), "SEGMENT": (("WOODRUFF", "segment keyway"),),
    "GROOVE": (("GROOVE", "groove"), ("UNDERCUT", "undercut"), ("RELIEF", "relief")),
    "POLYGON": (("HEX", "hexagon"),), "SQUARE": (("□", "square"),), "AF": (("AF", "across flats"),),
    "AC": (("AC", "across corners"),), "SPLINE": (("SPLINE", "teeth × minor × major"),), "WALL": (("WALL", "wall"),),
    "DRAFT": (("DRAFT", "draft angle"),), "TAPER": (("TAPER", "taper"),), "PITCH": (("PITCH", "pitch"),),
    "GRID": (("GRID", "columns × rows"),), "HOLE": (("HOLE", "hole"),), "DRILL": (("DRILL", "drill"),),
    "REAM": (("REAM", "reamed hole"),), "POINT": (("POINT", "drill point"),), "FLAT_BOTTOM": (("FLAT BOTTOM", "flat bottom"),),
    "CLEARANCE": (("CLEARANCE", "hole for a screw"),), "CAP_SCREW": (("CAP SCREW", "hole and counterbore"),),
    "FLAT_SCREW": (("FLAT HEAD SCREW", "hole and countersink"),), "TAP_DRILL": (("TAP DRILL", "drill for a thread"),),
    "FIT_WORD": (("CLOSE", "close fit"), ("NORMAL", "normal fit"), ("LOOSE", "loose fit")),
    "METRIC_THREAD": (("M", "metric thread"),), "PCD": (("PCD", "pitch circle"),), "ON": (("ON", "on a circle"),),
    "EQSP": (("EQ SP", "equally spaced"),), "START": (("START", "first at this angle"),), "AT": (("AT", "pitch"),),
    "TYP": (("TYP", "typical"),), "UON": (("UON", "unless noted"),), "REF": (("REF", "reference"),),
    "BASIC": (("BASIC", "basic"),), "COUNT_PLACES": (("PLACES", "count"),), "FOR": (("FOR", "along part of an edge"),),
    "FROM": (("FROM", "from a face"),), "MAX": (("MAX", "at most"),), "MIN": (("MIN", "at least"),), "PM": (("±", "tolerance"),),
    "FIT": (("H7", "fit"), ("g6", "fit")), "ROUNDS": (("ROUNDS AND FILLETS R", "all rounds"),),
    "EDGES": (("BREAK EDGES", "all edges"),), "SPHERE_DIA": (("S⌀", "spherical diameter"),), "SPHERE_R": (("SR", "spherical radius"),),
    "DIMENSION_WORD": (("WIDE", "width"), ("HIGH", "height"), ("THICK", "thickness")), "TIMES": (("×", "by"),),
    "FROM_AXIS": (("FROM AXIS", "from the axis"),), "SWEEP": (("SWEEP", "sweep"),),
}  # fmt: skip
#: How each offer may also be typed.
_TYPED = {
    "⌀": "DIA",
    "↧": "DEPTH",
    "⌴⌀": "CBORE",
    "⌵⌀": "CSK",
    "SF ⌀": "SPOT FACE",
    "±": "+/-",
    "□": "SQUARE",
    "×": "X",
}


def complete(text: str, most: int = 8) -> list[dict[str, str]]:
    """Offers for the end of a line: `put` replaces the last `typed` characters; `says` tells what it means.

    Empty where the line before its last word cannot be read.
    """
    rest = split_line(text).rest
    word = re.search(r"[A-Za-z'][A-Za-z' ]*$", rest)
    tails = [""]
    if word:
        # The last word, or the last two: "EQ" and "EQ S" both lead to EQ SP.
        pieces = word.group(0).split(" ")
        tails = [" ".join(pieces[k:]) for k in range(len(pieces) - 1, -1, -1)][:3]
    out: list[dict[str, str]] = []
    for tail in tails:
        head = rest[: len(rest) - len(tail)]
        if word and not tail.strip():
            continue
        try:
            state = grammar().parse_interactive(head)
            state.exhaust_lexer()
            accepted = state.accepts()
        except UnexpectedInput:
            continue
        for terminal, offers in _OFFERS.items():
            if terminal not in accepted:
                continue
            for put, says in offers:
                names = (put, _TYPED.get(put, put))
                if any(n.upper().startswith(tail.upper()) and n.upper() != tail.upper() for n in names):
                    out.append({"put": put, "says": says, "typed": tail})
    seen: set[str] = set()
    fresh = [o for o in out if not (o["put"] in seen or seen.add(o["put"]))]  # type: ignore[func-returns-value]
    return fresh[:most]
