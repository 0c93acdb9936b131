"""Rows of a hole table measured again: both distances of the hole from what they count from, with their signs."""

from fractions import Fraction
from typing import TYPE_CHECKING

import numpy as np

from canonis.core.callout.callout import WORDS
from canonis.core.callout.part import Part
from canonis.core.proof.statement import PartProof, StatementProof, close
from canonis.core.sheet.document import Place
from canonis.core.source.characteristic import Characteristic
from canonis.core.source.shorthand import read_line

if TYPE_CHECKING:
    from canonis.core.proof.measure import Remeasurer

__all__ = ["prove_place"]


def prove_place(m: "Remeasurer", mark: Place) -> StatementProof:
    """A place by its two distances, right and up in its view."""
    text = mark.text
    view = m.document.view(mark.view or "")
    said = [t.strip() for t in text.split(";")]
    sizes = [_size(m, t) for t in said]
    if len(sizes) != 2 or any(size is None for size in sizes):
        return StatementProof(mark.id, mark.kind, text, "unproven", (), "the text is not two distances such as 12; 30")
    reading = Characteristic(number="", text=text, kind=WORDS, detail=text)
    statuses = [m.resolution(mark.sheet, r).status for r in mark.refs]
    change = next((s for s in ("lost", "ambiguous", "moved") if s in statuses), "same")
    parts = []
    for name, t, part, origin, way in zip(
        ("x", "y"), said, sizes, mark.refs[:2], (np.array(view.right), np.array(view.up)), strict=True
    ):
        levels = [m.point(mark.sheet, r, way) for r in (origin, mark.refs[2])]
        if part is None or part.nominal is None or levels[0] is None or levels[1] is None:
            return StatementProof(mark.id, mark.kind, text, "lost", (), "its geometry is gone", reading, "lost")
        sign = -1.0 if t[:1] in "-−" else 1.0
        stated, measured = sign * float(part.nominal), levels[1] - levels[0]
        # The limits of a row are those of its size without the sign.
        ok = close(float(part.nominal), sign * measured, part, m.document.unit)
        parts.append(PartProof(name, stated, measured, ok))
    state = "proven" if all(p.ok for p in parts) else "contradicted"
    return StatementProof(mark.id, mark.kind, text, state, tuple(parts), "", reading, change)


def _size(m: "Remeasurer", text: str) -> Part | None:
    """A distance without its sign; None where it is none."""
    bare = text.lstrip("-−")
    if bare and not bare.strip("0."):
        return Part(name="length", typed=bare, nominal=Fraction(0))
    read = read_line(bare, m.rules)
    return None if read.error else read.part("length")
