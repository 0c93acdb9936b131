"""A model against its as-specified twin: the volume that is in one and not in the other, located."""

from typing import Any

from canonis.core.faults import BadInput
from canonis.core.features import Feature
from canonis.core.solid import Solid, lumps, shape_mesh
from canonis.core.solid.extrema import Lump

__all__ = ["compare_twin"]


def _near(lump: Lump, solid: Solid, found: Feature) -> str:
    """The feature whose face is nearest to a lump's centre."""
    best, name = float("inf"), ""
    for f in solid.faces:
        inside = [max(0.0, float(f.centre[k] - lump.box[1][k]), float(lump.box[0][k] - f.centre[k])) for k in range(3)]
        far = sum(c * c for c in inside)
        if far < best:
            best, name = far, found.owner.get(f.index, "")
    return name


def _as_json(lump: Lump, side: str, solid: Solid, found: Feature) -> dict[str, Any]:
    return {
        "side": side,
        "volume_mm3": lump.mass.volume,
        "centre_mm": [round(float(c), 6) + 0.0 for c in lump.mass.centre],
        "box_mm": [[round(float(c), 6) + 0.0 for c in corner] for corner in lump.box],
        "near": _near(lump, solid, found),
        "mesh": shape_mesh(lump.shape, solid.diagonal),
    }


def compare_twin(model: Solid, model_found: Feature, twin: Solid, twin_found: Feature) -> dict[str, Any]:
    """Pieces of material that only the model or only the twin has, the largest first (mm³).

    Raises BadInput when the kernel cannot take the difference.
    """
    try:
        more = lumps(model.shape, twin.shape, 1e-6 * model.mass.volume)
        less = lumps(twin.shape, model.shape, 1e-6 * twin.mass.volume)
    except Exception:  # the kernel's untyped failure means the same to the user
        raise BadInput("The kernel cannot take the difference of these two bodies; check both for validity.") from None
    found = [_as_json(p, "model", model, model_found) for p in more[:50]]
    found += [_as_json(p, "twin", twin, twin_found) for p in less[:50]]
    return {
        "same": not more and not less,
        "only_model_mm3": sum(p.mass.volume for p in more),
        "only_twin_mm3": sum(p.mass.volume for p in less),
        "model_mm3": model.mass.volume,
        "twin_mm3": twin.mass.volume,
        "lumps": sorted(found, key=lambda p: -p["volume_mm3"]),
    }
