"""What changed from one model to the next, face by face and feature by feature."""

from typing import Any

import numpy as np

from canonis.core.features import Feature, feature_list
from canonis.core.solid import Face, Solid, face_reference, resolve_all
from canonis.core.study.differences import compare_features

__all__ = ["compare_solids"]


def _loose(face: Face) -> tuple[Any, ...]:
    return (face.kind, round(face.area, 3), tuple(np.round(face.centre, 3) + 0.0))


def compare_solids(old: Solid, old_found: Feature, new: Solid, new_found: Feature) -> dict[str, Any]:
    """What became of every face and feature of `old` in `new`, and what is new.

    `faces` lists (index in `old`, status, index in `new` or None) with status same, moved, resized, ambiguous or lost;
    `new_faces` are indices of `new` that nothing of `old` became.
    """
    names = {f.index: face_reference(f) for f in old.faces if f.kind in ("plane", "cylinder", "cone", "torus")}
    resolved = resolve_all(names.values(), new)
    fates: list[dict[str, Any]] = []
    met: set[int] = set()
    others = {_loose(f): f.index for f in new.faces if f.index not in met}
    for f in old.faces:
        if f.index in names:
            r = resolved[names[f.index]]
            at = r.faces[0] if len(r.faces) == 1 else None
            fates.append(
                {
                    "face": f.index,
                    "status": r.status,
                    "now": at,
                    "shift_mm": round(r.shift, 6),
                    "growth_mm": round(r.growth, 6),
                }
            )
        else:
            at = others.get(_loose(f))
            fates.append(
                {
                    "face": f.index,
                    "status": "lost" if at is None else "same",
                    "now": at,
                    "shift_mm": 0.0,
                    "growth_mm": 0.0,
                }
            )
        if at is not None:
            met.add(at)
    counts = {s: sum(x["status"] == s for x in fates) for s in ("same", "moved", "resized", "ambiguous", "lost")}
    features = compare_features(feature_list(old, old_found), feature_list(new, new_found))
    return {
        "faces": fates,
        "new_faces": [f.index for f in new.faces if f.index not in met],
        "counts": counts,
        "features": features,
        "volume_mm3": new.mass.volume - old.mass.volume,
        "centre_mm": [float(c) for c in new.mass.centre - old.mass.centre],
        "size_mm": [float(c) for c in new.size - old.size],
    }
