"""All features of a solid, each face with one owner."""

import math
from dataclasses import replace

import numpy as np

from canonis.core.features.blends import find_chamfers, find_rounds
from canonis.core.features.forms import find_forms
from canonis.core.features.holes import find_holes, group_holes
from canonis.core.features.members import find_members
from canonis.core.features.model import Feature, Hole
from canonis.core.features.pockets import find_face_grooves
from canonis.core.features.registry import form_of
from canonis.core.features.shafts import find_shafts
from canonis.core.features.slots import find_slots
from canonis.core.solid import Solid
from canonis.core.tolerances import NOISE, parallel

__all__ = ["recognise"]


def recognise(solid: Solid) -> Feature:
    """Recognise simple to compound; whatever is left over is named flat or free form, never dropped."""
    bores = find_holes(solid)
    # A bore around an island is a ring groove: no drill leaves that.
    rings = find_face_grooves(solid, bores)
    ringed = {f for piece in rings for f in piece.owns}
    holes = group_holes([b for b in bores if not set(b.faces) <= ringed])
    owner: dict[int, str] = {f: g.id for g in holes for h in g.holes for f in h.faces}
    for group in holes:
        for hole in group.holes:
            _own_floors(solid, hole, owner, group.id)
    slots = find_slots(solid, set(owner) | ringed)
    owner |= {f: s.id for s in slots for f in s.faces}
    rounds = find_rounds(solid, set(owner) | ringed)
    owner |= {f: b.id for b in rounds for f in b.faces}
    chamfers = find_chamfers(solid, set(owner) | ringed)
    owner |= {f: b.id for b in chamfers for f in b.faces}
    shafts = [s for s in find_shafts(solid) if not set(s.faces) & (set(owner) | ringed)]
    owner |= {f: s.id for s in shafts for f in s.faces}
    rest = [f for f in solid.faces if f.index not in owner]
    flat = tuple(f.index for f in rest if f.kind == "plane")
    free = tuple(f.index for f in rest if f.kind != "plane")
    owner |= {f: "flat" for f in flat} | {f: "free" for f in free}
    found = Feature(tuple(holes), tuple(rounds + chamfers), tuple(slots), tuple(shafts), flat, free, owner)
    forms = find_forms(solid, found, rings)
    named = [form for form in forms if not form_of(form.kind).plain]
    said = {f for form in named for piece in form.pieces for f in piece.owns}
    alike = find_members(solid, said | {f for f, name in owner.items() if name not in ("flat", "free")})
    owner = owner | {f: form.id for form in forms for piece in form.pieces for f in piece.owns}
    return replace(found, forms=forms, owner=owner, alike=alike)


def _own_floors(solid: Solid, hole: Hole, owner: dict[int, str], name: str) -> None:
    """Floors of blind holes and of seats belong to their hole: flat faces that touch nothing else, or that lie
    within its bore (another hole may have broken into them)."""
    mine = set(hole.faces)
    for f in hole.faces:
        for _, other in solid.neighbours[f]:
            face = solid.faces[other]
            if face.kind != "plane":
                continue
            aside = face.centre - hole.start
            aside = aside - hole.axis * float(aside @ hole.axis)
            square = parallel(face.axis, hole.axis)
            within = (
                float(np.linalg.norm(aside)) < hole.diameter / 2 and face.area < math.pi / 4 * hole.diameter**2 + NOISE
            )
            if all(n in mine for _, n in solid.neighbours[other]) or (square and within):
                owner.setdefault(other, name)
