"""What a proof says of one statement, and of each part of it."""

from dataclasses import dataclass, field
from typing import Any

from canonis.core.callout import Callout, Part
from canonis.core.quantity import Unit, half_last_place

__all__ = ["FINEST_MM", "PartProof", "StatementProof", "close", "compared", "designated", "worst"]

#: Metric text drops trailing zeros, so that it claims the finest place a sheet writes, mm; likewise angles, degrees.
FINEST_MM, _FINEST_DEGREES = 0.5e-3, 0.5e-2
#: What a file's own rounding can add, mm.
_NOISE = 1e-6
#: The same as a share of the size, where coordinates were written in single precision, and the most that is let pass so.
_SINGLE, _MOST_NOISE = 1e-7, 1e-5


#: Parts that are numbers and no size.
_NO_SIZE = ("count", "free-form-faces")


@dataclass(frozen=True)
class PartProof:
    """One part of a statement: what the text states and what the model shows (mm or degrees; bool for yes/no)."""

    name: str
    stated: float | bool | str | None
    measured: float | bool | str | None
    ok: bool
    #: Faces of the places that the statement does not name and the census found.
    more: tuple[int, ...] = ()
    #: What is missing for a proof, where nothing is wrong.
    why: str = ""


@dataclass(frozen=True)
class StatementProof:
    """The proof of one statement. State: proven, unproven, contradicted, lost or reference."""

    id: str
    kind: str
    text: str
    state: str
    parts: tuple[PartProof, ...]
    note: str = ""
    #: What it says; None where nothing that can be proven.
    reading: Callout | None = None
    change: str = "same"
    levels: tuple[tuple[int, float], ...] = field(default=())
    #: The sense of the view's direction along the file's axis that `levels` are told along.
    sense: float = 1.0

    def part(self, name: str) -> PartProof | None:
        """A part by name."""
        return next((p for p in self.parts if p.name == name), None)

    @property
    def unread(self) -> bool:
        """Whether nobody can read what it says."""
        return self.state == "unproven" and self.reading is None

    @property
    def main(self) -> PartProof | None:
        """The part that carries the statement's value."""
        return next((p for p in self.parts if isinstance(p.stated, float) and p.name not in _NO_SIZE), None)


def close(stated: float, measured: float, part: Part, unit: Unit) -> bool:
    """Whether a measured size is what a text says: to its last written place in inches, to the finest place of the
    sheet in millimetres and degrees, where trailing zeros are not written (ISO 129-1, ASME Y14.5 1.6.2)."""
    if part.tolerance in ("own", "fit") and part.lower is not None and part.upper is not None:
        # The text says between which limits the size may lie.
        return float(part.lower) - _NOISE <= measured <= float(part.upper) + _NOISE
    half = half_last_place(part.typed) if part.typed else FINEST_MM
    if part.angle:
        room = min(half, _FINEST_DEGREES)
    elif unit is Unit.INCH:
        room = half * 25.4
    else:
        room = min(half, FINEST_MM)
    return abs(stated - measured) <= room + max(_NOISE, min(_SINGLE * abs(measured), _MOST_NOISE))


def compared(reading: Callout, name: str, measured: float | None, unit: Unit) -> PartProof:
    """A part of a reading against its measure."""
    part: Any = reading.part(name)
    stated = None if part is None or part.nominal is None else float(part.nominal)
    ok = stated is not None and measured is not None and close(stated, measured, part, unit)
    return PartProof(name, stated, measured, ok)


def designated(reading: Callout, ok: bool) -> PartProof:
    """The designation of a thread, which is there or not."""
    thread = reading.part("thread")
    name = None if thread is None else thread.designation
    return PartProof("thread", name, name, ok)


def worst(proofs: list[PartProof]) -> PartProof:
    """The member that differs speaks for all; of several, the one that differs most."""
    bad = [p for p in proofs if not p.ok]

    def apart(p: PartProof) -> float:
        if isinstance(p.stated, float) and isinstance(p.measured, float):
            return abs(p.stated - p.measured)
        return float("inf")

    return max(bad, key=apart) if bad else proofs[0]
