"""Rows of a hole table measured again: both distances of the hole from what they count from, with their signs."""

import numpy as np

from canonis.core.proof.measurer import Measurer
from canonis.core.proof.statement import PartProof, StatementProof, close
from canonis.core.sheet.document import Place

__all__ = ["prove_place"]


def prove_place(m: Measurer, mark: Place) -> StatementProof:
    """A place by its two distances, right and up in its view."""
    text = mark.text
    view = m.document.view(mark.view or "")
    if mark.x.nominal is None or mark.y.nominal is None:
        return StatementProof(mark.id, mark.kind, text, "unproven", (), "the text is not two distances such as 12; 30")
    statuses = [m.resolution(mark.sheet, r).status for r in mark.refs]
    change = next((s for s in ("lost", "ambiguous", "moved") if s in statuses), "same")
    parts = []
    for part, origin, way in zip(
        (mark.x, mark.y), mark.refs[:2], (np.array(view.right), np.array(view.up)), strict=True
    ):
        levels = [m.point(mark.sheet, r, way) for r in (origin, mark.refs[2])]
        if part.nominal is None or levels[0] is None or levels[1] is None:
            return StatementProof(mark.id, mark.kind, text, "lost", (), "its geometry is gone", None, "lost")
        stated, measured = float(part.nominal), levels[1] - levels[0]
        parts.append(PartProof(part.name, stated, measured, close(stated, measured, part, m.document.unit)))
    state = "proven" if all(p.ok for p in parts) else "contradicted"
    return StatementProof(mark.id, mark.kind, text, state, tuple(parts), "", None, change)
