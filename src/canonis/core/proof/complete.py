"""Is the sheet complete, and is anything said twice? Levels and features against what is stated."""

from collections import defaultdict
from typing import Any

import numpy as np

from canonis.core.features.model import Feature
from canonis.core.proof.measure import StatementProof
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import write_length
from canonis.core.sheet.document import Leader, Note, SheetDocument
from canonis.core.solid.model import Solid
from canonis.core.solid.references import parse

__all__ = ["completeness", "unlocated"]

_AXES = "xyz"
_SAME = 2e-3


def _stated_levels(proofs: list[StatementProof]) -> dict[int, list[float]]:
    levels: dict[int, list[float]] = defaultdict(list)
    for p in proofs:
        if p.state in ("proven", "reference", "contradicted"):
            for axis, level in p.levels:
                levels[axis].append(level)
    return levels


def _page_levels(document: SheetDocument, proofs: list[StatementProof], sheet: int) -> dict[int, list[float]]:
    """Stated levels of one sheet by axis; the datum itself needs no statement."""
    page = next(p for p in document.pages if p.number == sheet)
    marks = {a.id for a in document.annotations if a.sheet == sheet}
    levels = _stated_levels([p for p in proofs if p.id in marks])
    for axis, level in enumerate(page.datum):
        levels[axis].append(level)
    return levels


def _sloped_between(solid: Solid, face: int, levels: dict[int, list[float]]) -> bool:
    """Whether both ends of a face that is square to one axis only are given by stated levels."""
    normal = solid.faces[face].axis
    corners = np.array([p for e in solid.faces[face].edges for p in (solid.edges[e].start, solid.edges[e].end)])
    across = [k for k in range(3) if abs(float(normal[k])) > 1e-9]
    return len(across) == 2 and all(
        _has(levels, k, float(level)) for k in across for level in (corners[:, k].min(), corners[:, k].max())
    )


def _has(levels: dict[int, list[float]], axis: int, value: float) -> bool:
    return any(abs(x - value) < _SAME for x in levels[axis])


def _ring_members(document: SheetDocument) -> set[str]:
    return {r for a in document.annotations if a.kind == "bolt-circle" for r in a.refs}


def unlocated(document: SheetDocument, proofs: list[StatementProof], mark: Leader) -> list[str]:
    """Which members of a hole note no drawn statement locates: their references."""
    levels = _page_levels(document, proofs, mark.sheet)
    ring = _ring_members(document)
    out = []
    for ref in mark.refs:
        if ref in ring:
            continue
        parsed = parse(ref)
        point, axis = np.array(parsed.vectors[0]), np.array(parsed.vectors[1])
        across = [k for k in range(3) if abs(axis[k]) < 1e-6]
        if len(across) < 2 or not all(_has(levels, k, float(point[k])) for k in across):
            out.append(ref)
    return out


def completeness(
    document: SheetDocument, proofs: list[StatementProof], solids: tuple[Solid, ...], features: tuple[Feature, ...]
) -> dict[str, Any]:
    """What the drawn dimensions leave free, and what they state twice without a reference mark."""
    free: list[str] = []
    redundant: list[str] = []
    unit = document.unit
    for page in document.pages:
        solid, found = solids[page.solid], features[page.solid]
        marks = {a.id for a in document.annotations if a.sheet == page.number}
        mine = [p for p in proofs if p.id in marks]
        levels = _page_levels(document, proofs, page.number)
        noted = {a.feature for a in document.annotations if a.sheet == page.number and isinstance(a, Leader | Note)}
        noted_refs = {r for a in document.annotations if a.sheet == page.number for r in a.refs}
        for f in found.flat:
            face = solid.faces[f]
            k = int(np.argmax(np.abs(face.axis)))
            if abs(face.axis[k]) < 1 - 1e-9:
                if not _sloped_between(solid, f, levels):
                    free.append(
                        f"sloped face at {_where(face.centre, unit)}: neither its ends nor its angle are stated"
                    )
            elif not _has(levels, k, float(face.origin[k])):
                free.append(f"level {_AXES[k]} = {write_length(float(face.origin[k]), unit)}")
        free += [f"hole {g.id}: no note" for g in found.holes if g.id not in noted]
        free += [f"slot {s.id}: no note" for s in found.slots
                 if s.id not in noted and not _refs_in(solid, s.end_faces, noted_refs)]  # fmt: skip
        free += [f"{b.kind} {b.id}: no note" for b in found.blends
                 if b.id not in noted and not _refs_in(solid, b.faces, noted_refs)]  # fmt: skip
        free += [f"diameter {s.id}: no note" for s in found.shafts
                 if s.id not in noted and not _refs_in(solid, s.faces, noted_refs)]  # fmt: skip
        if found.free:
            free.append(f"{len(found.free)} free-form or conical faces: their shape is not dimensioned")
        seen: dict[tuple[int, float, float], str] = {}
        for p in mine:
            if p.state == "reference" or len(p.levels) != 2 or p.levels[0][1] == p.levels[1][1]:
                continue
            a, b = sorted((p.levels[0][1], p.levels[1][1]))
            key = (p.levels[0][0], round(a, 2), round(b, 2))
            if key in seen:
                redundant.append(f"{p.id} states what {seen[key]} states")
            seen.setdefault(key, p.id)
    free = list(dict.fromkeys(free))
    return {"ok": not free and not redundant, "free": free, "redundant": redundant}


def _where(point: Any, unit: Unit) -> str:
    return "(" + ", ".join(write_length(float(c), unit) for c in point) + ")"


def _refs_in(solid: Solid, faces: tuple[int, ...], refs: set[str]) -> bool:
    from canonis.core.solid.references import face_reference

    named = ("plane", "cylinder", "cone", "torus")
    return any(face_reference(solid.faces[f]) in refs for f in faces if solid.faces[f].kind in named)
