"""A person's word that a line of the source is where the program says: kept by reference, it falls only where something
changed."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

__all__ = ["TICKABLE", "Tick", "tick_falls", "tick_of"]

#: States of a ledger line that a person can say yes to.
TICKABLE = ("proven", "ambiguous", "not-drawn", "reference")
#: Sizes nearer than this, of what the larger is, are one.
_SAME = 1e-6


@dataclass(frozen=True)
class Tick:
    """What a person saw when they said yes to a line: its text, its place by references, and the sizes (sheet's unit)."""

    number: str
    text: str
    place: str
    model: float | None
    drawn: float | None

    def as_json(self) -> dict[str, Any]:
        """As it is stored."""
        return {"number": self.number, "text": self.text, "place": self.place, "model": self.model, "drawn": self.drawn}


def tick_of(row: Mapping[str, Any]) -> Tick:
    """What a ledger line shows just now."""
    return Tick(str(row["number"]), str(row["text"]), str(row.get("place", "")), row.get("model"), row.get("drawn"))


def _same(a: float | None, b: float | None) -> bool:
    if a is None or b is None:
        return a is b
    return abs(a - b) <= _SAME * max(1.0, abs(a), abs(b))


def tick_falls(tick: Tick, row: Mapping[str, Any]) -> str:
    """Why a tick does not hold for a ledger line any more; empty where it does."""
    if tick.text != row["text"]:
        return "the line was changed"
    if row["state"] in ("differs", "no-place", "unread"):
        return "the line differs now" if row["state"] == "differs" else "the line has lost its place"
    if tick.place != row.get("place", "") and tick.place not in row.get("same_places", ()):
        return "its place is another one"
    if not _same(tick.model, row.get("model")):
        return "the model has another size there"
    if tick.drawn is not None and not _same(tick.drawn, row.get("drawn")):
        return "the sheet says another size there"
    return ""
