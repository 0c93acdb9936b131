"""Text and numbers that every part of the program can store, send and show; what people and files bring is checked here."""

import math
import re
import unicodedata
from typing import Any

from canonis.core.faults import BadInput

__all__ = ["cell", "check_plain", "check_size", "cleaned", "look_of", "storable", "uncell"]

#: NUL ends text in the database; a lone surrogate cannot be written as UTF-8.
_UNSTORABLE = re.compile("[\x00\ud800-\udfff]")
_CONTROLS = re.compile("[\x00-\x1f\x7f-\x9f\ud800-\udfff]+")
#: Whole numbers beyond this are no count, size or id of anything (JavaScript's exact range).
_LARGEST = 2**53
#: Nothing that people write is nested deeper.
_DEEPEST = 40


def storable(text: str) -> bool:
    """Whether text can be stored and sent: no NUL and no half of a character."""
    return _UNSTORABLE.search(text) is None


def cleaned(text: str, longest: int = 200) -> str:
    """A name from a file on one line, without control characters, at most `longest` characters."""
    return " ".join(_CONTROLS.sub(" ", text).split())[:longest].rstrip()


#: Letters by their class that are drawn as nothing: fillers, variation selectors, the joiner, an empty Braille cell.
_UNSEEN = re.compile("[\u034f\u115f\u1160\u17b4\u17b5\u2800\u3164\ufe00-\ufe0f\uffa0]")


def look_of(name: str) -> str:
    """What a name looks like to whoever reads it, for telling names apart: compatible letters made one (Unicode NFKC), no
    difference of case or blanks, nothing that takes no room (zero width, marks of direction, controls)."""
    folded = unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", name).casefold())
    seen = "".join(" " if c.isspace() else c for c in folded if unicodedata.category(c) not in ("Cf", "Cc", "Cs"))
    return " ".join(_UNSEEN.sub("", seen).split())


#: What a table program takes for the beginning of a formula, and what a cell that begins so is written after.
_FORMULA = ("=", "+", "-", "@", "\t", "\r")
_NUMBER = re.compile(r"[-+]?[0-9]+(\.[0-9]*)?")


def cell(text: str) -> str:
    """Text as a cell of a table that is given out: what a table program would run as a formula begins with an apostrophe.
    Plain numbers with their sign stay what they are."""
    led = text.startswith("'") and text.lstrip("'").startswith(_FORMULA)
    return "'" + text if led or (text.startswith(_FORMULA) and _NUMBER.fullmatch(text) is None) else text


def uncell(text: str) -> str:
    """The text that `cell` wrote."""
    return text[1:] if text.startswith("'") and text.lstrip("'").startswith(_FORMULA) else text


def check_plain(value: Any, place: str = "request", depth: int = 0) -> None:
    """Refuse what could not be stored: NUL, half characters, numbers without end, nesting without end.

    Raises BadInput with the place in one sentence.
    """
    if depth > _DEEPEST:
        raise BadInput(f"The {place} is nested deeper than {_DEEPEST} levels; write it flat.")
    if isinstance(value, str):
        if not storable(value):
            raise BadInput(f"The {place} has a character that cannot be stored (NUL or half a character); remove it.")
    elif isinstance(value, bool) or value is None:
        return
    elif isinstance(value, int):
        if abs(value) > _LARGEST:
            raise BadInput(f"The {place} has a number that is too large.")
    elif isinstance(value, float):
        if not math.isfinite(value):
            raise BadInput(f"The {place} has a number that is no number (NaN or infinite).")
    elif isinstance(value, dict):
        for key, inner in value.items():
            check_plain(str(key), "name of a field", depth + 1)
            check_plain(inner, cleaned(str(key), 40) or place, depth + 1)
    elif isinstance(value, list | tuple):
        for inner in value:
            check_plain(inner, place, depth + 1)


def check_size(data: bytes, limit: int, name: str) -> None:
    """Refuse a file of more than `limit` bytes.

    Raises BadInput with both sizes, the file's rounded up, so that they never read the same.
    """
    if len(data) > limit:
        size = math.ceil(len(data) / 1048576 * 10) / 10
        raise BadInput(f"“{name}” has {size:.1f} MB and the limit is {limit / 1048576:g} MB.")
