"""What may come next in a line of shorthand: taken from the grammar itself, so that it is never out of step."""

import re

from lark.exceptions import UnexpectedInput

from canonis.core.callout.language import OFFERS, grammar

__all__ = ["complete"]

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
    word = re.search(r"[A-Za-z'][A-Za-z' ]*$", text)
    tails = [""]
    if word:
        # The last word, or the last two: "EQ" and "EQ S" both lead to EQ SP.
        pieces = word.group(0).split(" ")
        tails = [" ".join(pieces[k:]) for k in range(len(pieces) - 1, -1, -1)][:3]
    out: list[dict[str, str]] = []
    for tail in tails:
        head = text[: len(text) - len(tail)]
        if word and not tail.strip():
            continue
        try:
            state = grammar().parse_interactive(head)
            state.exhaust_lexer()
            accepted = state.accepts()
        except UnexpectedInput:
            continue
        for terminal, offers in OFFERS.items():
            if terminal not in accepted:
                continue
            for put, says in offers:
                names = (put, _TYPED.get(put, put))
                if any(n.upper().startswith(tail.upper()) and n.upper() != tail.upper() for n in names):
                    out.append({"put": put, "says": says, "typed": tail})
    seen: set[str] = set()
    fresh = [o for o in out if not (o["put"] in seen or seen.add(o["put"]))]  # type: ignore[func-returns-value]
    return fresh[:most]
