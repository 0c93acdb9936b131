"""Designations of modelled threads (ISO 6410-1); another thread's sizes are left to whoever reads what is free."""

import math
from collections.abc import Iterator

import numpy as np

from canonis.core.callout import Callout, designation_of
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.features import Piece
from canonis.core.quantity import Unit
from canonis.core.sheet import frame_of_view
from canonis.core.solid import face_normals
from canonis.core.tolerances import SAME, parallel, square

__all__ = ["threads"]

#: A thread that stops this many pitches before the end of its shaft has a length of its own.
_SHORT = 1.5


@states(160)
def threads(desk: Desk) -> Iterator[Candidate]:
    """The designation, and the length where the thread ends before its shaft does, in the first view that looks across."""
    for form in desk.found.forms:
        if form.kind != "thread":
            continue
        for piece in form.pieces:
            strips = [f for f in piece.owns if desk.solid.faces[f].kind == "cylinder"]
            side = [v for v in desk.views if square(piece.axis, frame_of_view(v).toward)]
            data = piece.data
            named = designation_of(
                float(data["major_mm"]),
                float(data["pitch_mm"]),
                int(data["starts"]),
                _flanks(desk, piece),
                desk.unit is Unit.INCH,
            )
            if named is None or not strips or not side:
                continue
            length = None if data["internal"] else _length(desk, piece)
            known = desk.sizes.thread(named + (" LH" if data["hand"] == "left" else ""), outside=length is not None)
            long = () if length is None else (desk.sizes.length("length", length),)
            says = Callout(kind="thread", detail="outside" if long else "", parts=(*known[:1], *long, *known[1:]))
            refs = tuple(desk.reference(f) for f in strips)
            yield Candidate(0.25, desk.note(side[0], refs, says, form.id), note=True)


def _flanks(desk: Desk, piece: Piece) -> float:
    """The angle between the flanks of a thread, degrees."""
    leans = [
        math.acos(min(1.0, abs(float(n @ piece.axis))))
        for f in piece.owns
        if desk.solid.faces[f].kind == "free"
        for n in face_normals(desk.solid, f, 3)[1]
    ]
    return 2 * math.degrees(float(np.median(leans))) if leans else 60.0


def _length(desk: Desk, piece: Piece) -> float | None:
    """The length of full thread, mm, in half millimetres: how far a thread runs out is not said. None where it runs over all
    of its shaft."""
    wide, core, length, pitch = (float(piece.data[k]) for k in ("major_mm", "minor_mm", "length_mm", "pitch_mm"))
    levels = [
        float((f.origin + f.axis * s) @ piece.axis)
        for f in desk.solid.faces
        if f.kind == "cylinder"
        and not f.inner
        and core - 5 * SAME < 2 * f.radius < wide + 5 * SAME
        and parallel(f.axis, piece.axis)
        for s in f.span
    ]
    if not levels or max(levels) - min(levels) < length + _SHORT * pitch:
        return None
    step = 0.5 if desk.unit is Unit.MM else 25.4 / 16
    return math.floor(length / step + 1e-6) * step
