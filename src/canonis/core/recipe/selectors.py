"""Selectors: which edges or faces a step means, said by geometry."""

from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.recipe.profiles import Number
from canonis.core.solid import Solid, face_reference, unit_vector
from canonis.core.tolerances import parallel, same, same_way

__all__ = ["Made", "select_edges", "select_faces"]

#: References of the faces that each earlier step made.
Made = dict[str, set[str]]


def _vector(data: Any, number: Number, scale: float = 1.0) -> np.ndarray[Any, Any]:
    if not isinstance(data, list) or len(data) != 3:
        raise BadInput("a selector's point or direction needs three numbers")
    return np.array([number(c) for c in data]) * scale


def _names(solid: Solid) -> dict[int, str]:
    return {f.index: face_reference(f) for f in solid.faces if f.kind in ("plane", "cylinder", "cone", "torus")}


def select_faces(
    data: dict[str, Any], solid: Solid, number: Number, scale: float, made: dict[str, set[str]]
) -> set[int]:
    """Indices of the faces a selector means."""
    if not isinstance(data, dict) or not data:
        raise BadInput('a selector must be an object such as {"near": [[x, y, z]]}')
    everything = {f.index for f in solid.faces}
    if "all" in data:
        return set.intersection(*(select_faces(d, solid, number, scale, made) for d in data["all"]))
    if "any" in data:
        return set.union(*(select_faces(d, solid, number, scale, made) for d in data["any"]))
    if "not" in data:
        return everything - select_faces(data["not"], solid, number, scale, made)
    if "of" in data:
        wanted = _made(made, data["of"])
        return {k for k, name in _names(solid).items() if name in wanted}
    if "near" in data:
        points = [_vector(p, number, scale) for p in data["near"]]
        return {min(solid.faces, key=lambda f: float(np.linalg.norm(f.centre - p))).index for p in points}
    if "normal" in data:
        n = unit_vector(_vector(data["normal"], number))
        found = {f.index for f in solid.faces if f.kind == "plane" and same_way(f.axis, n)}
        if "at" in data:
            at = number(data["at"]) * scale
            found = {k for k in found if same(float(solid.faces[k].origin @ n), at)}
        return found
    raise BadInput(f"selector “{next(iter(data))}” is not known for faces")


def select_edges(
    data: dict[str, Any], solid: Solid, number: Number, scale: float, made: dict[str, set[str]]
) -> set[int]:
    """Indices of the edges a selector means.

    Raises BadInput when the selector is unknown.
    """
    if not isinstance(data, dict) or not data:
        raise BadInput('a selector must be an object such as {"near": [[x, y, z]]}')
    everything = {e.index for e in solid.edges if e.dihedral != "seam"}
    if "all" in data:
        return set.intersection(*(select_edges(d, solid, number, scale, made) for d in data["all"]))
    if "any" in data:
        return set.union(*(select_edges(d, solid, number, scale, made) for d in data["any"]))
    if "not" in data:
        return everything - select_edges(data["not"], solid, number, scale, made)
    if "near" in data:
        points = [_vector(p, number, scale) for p in data["near"]]
        live = [e for e in solid.edges if e.dihedral != "seam"]
        return {min(live, key=lambda e: float(np.linalg.norm(e.middle - p))).index for p in points}
    if "parallel" in data:
        d = unit_vector(_vector(data["parallel"], number))
        return {e.index for e in solid.edges if e.kind == "line" and parallel(e.axis, d)} & everything
    if "on" in data or "of" in data:
        faces = select_faces(data.get("on", data), solid, number, scale, made)
        return {e.index for e in solid.edges if set(e.faces) & faces} & everything
    raise BadInput(f"selector “{next(iter(data))}” is not known for edges")


def _made(made: Made, step: str) -> set[str]:
    if step not in made:
        raise BadInput(f"selector names step “{step}”, which does not come before it")
    return made[step]
