"""Designations of modelled metric threads (ISO 6410-1); another thread's sizes are left to whoever reads what is free."""

from collections.abc import Iterator

from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.quantity.units import Unit
from canonis.core.sheet.scene import frame_of_view

__all__ = ["threads"]


def threads(desk: Desk) -> Iterator[Candidate]:
    """M, the major diameter and the pitch, in the first view that looks across the thread."""
    if desk.unit is not Unit.MM:
        return
    for form in desk.found.forms:
        if form.kind != "thread":
            continue
        for piece in form.pieces:
            major, pitch = float(piece.data["major_mm"]), float(piece.data["pitch_mm"])
            strips = [f for f in piece.owns if desk.solid.faces[f].kind == "cylinder"]
            if abs(major - round(major)) > 0.01 * major or piece.data["starts"] != 1 or not strips:
                continue
            side = [v for v in desk.views if abs(float(piece.axis @ frame_of_view(v).toward)) < 1e-6]
            if not side:
                continue
            text = f"M{round(major)}×{desk.written(round(pitch, 3))}"
            text += " LH" if piece.data["hand"] == "left" else ""
            refs = tuple(desk.reference(f) for f in strips)
            yield Candidate(0.25, desk.note("thread", side[0], refs, (text,), form.id), note=True)
