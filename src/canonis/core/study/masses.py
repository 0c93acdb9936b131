"""Mass properties of solids, each and together, in any frame, and what would explain a difference from a checkpoint."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from canonis.core.mass import differing
from canonis.core.quantity import Unit
from canonis.core.slips import WeightSlip, centre_slips, mass_slips
from canonis.core.solid import DENSITIES, Solid, Vec
from canonis.core.source import Checkpoint
from canonis.core.study.frames import Frame, box_corners
from canonis.core.tolerances import FITTED, NOTHING

__all__ = [
    "SYSTEMS",
    "Body",
    "bodies_of",
    "compare_checkpoint",
    "explain",
    "mass_report",
    "principal",
    "reading_frames",
    "system_of",
    "together",
]


@dataclass(frozen=True, eq=False)
class Body:
    """A homogeneous body or several together: volume mm³, area mm², mass g (None without a density), centre mm, and
    the tensor about the centre in the file's axes (g·mm², or mm⁵ without a density)."""

    name: str
    volume: float
    area: float
    mass: float | None
    centre: Vec
    tensor: Vec
    density: float | None


def bodies_of(solids: Sequence[Solid], densities: Sequence[float | None]) -> list[Body]:
    """Each solid as a body; densities in g/cm³."""
    out = []
    for solid, density in zip(solids, densities, strict=True):
        gram = None if density is None else density / 1000
        m = solid.mass
        tensor = np.asarray(m.moments) * (1.0 if gram is None else gram)
        out.append(
            Body(solid.name, m.volume, m.area, None if gram is None else m.volume * gram, m.centre, tensor, density)
        )
    return out


def _shifted(tensor: Vec, weight: float, arm: Vec) -> Vec:
    """A tensor about a point `arm` away from the centre (parallel axes)."""
    return np.asarray(tensor + weight * (float(arm @ arm) * np.eye(3) - np.outer(arm, arm)))


def together(bodies: Sequence[Body], name: str = "together") -> Body:
    """Several bodies as one; by mass where every one has a density, else by volume."""
    weighed = all(b.mass is not None for b in bodies)
    weights = [float(b.mass) if weighed and b.mass is not None else b.volume for b in bodies]
    total = sum(weights)
    centre = np.asarray(sum((w * b.centre for w, b in zip(weights, bodies, strict=True)), np.zeros(3)) / total)
    tensor = np.zeros((3, 3))
    for w, b in zip(weights, bodies, strict=True):
        own = b.tensor if weighed or b.density is None else b.tensor / (b.density / 1000)
        tensor += _shifted(own, w, b.centre - centre)
    return Body(
        name,
        sum(b.volume for b in bodies),
        sum(b.area for b in bodies),
        total if weighed else None,
        centre,
        tensor,
        None,
    )


def principal(tensor: Vec) -> tuple[list[float], list[Vec]]:
    """Principal moments, ascending, and their axes as a right-handed set."""
    values, vectors = np.linalg.eigh((tensor + tensor.T) / 2)
    axes = [vectors[:, k] for k in range(3)]
    for k in (0, 1):
        lead = int(np.argmax(np.abs(np.round(axes[k], 9))))
        axes[k] = axes[k] if axes[k][lead] > 0 else -axes[k]
    axes[2] = np.cross(axes[0], axes[1])
    return [float(v) for v in values], axes


#: What one g, one mm³, one mm², one mm and one g·mm² are in the unit systems that sources use.
SYSTEMS: dict[str, dict[str, tuple[str, float]]] = {
    "mm g": {"mass": ("g", 1.0), "volume": ("mm³", 1.0), "area": ("mm²", 1.0), "length": ("mm", 1.0), "inertia": ("g·mm²", 1.0)},
    "mm kg": {"mass": ("kg", 1e-3), "volume": ("mm³", 1.0), "area": ("mm²", 1.0), "length": ("mm", 1.0), "inertia": ("kg·mm²", 1e-3)},
    "m kg": {"mass": ("kg", 1e-3), "volume": ("m³", 1e-9), "area": ("m²", 1e-6), "length": ("m", 1e-3), "inertia": ("kg·m²", 1e-9)},
    "in lb": {"mass": ("lb", 1 / 453.59237), "volume": ("in³", 25.4**-3), "area": ("in²", 25.4**-2), "length": ("in", 1 / 25.4),
              "inertia": ("lb·in²", 1 / 453.59237 / 25.4**2)},
    "in oz": {"mass": ("oz", 1 / 28.349523125), "volume": ("in³", 25.4**-3), "area": ("in²", 25.4**-2), "length": ("in", 1 / 25.4),
              "inertia": ("oz·in²", 1 / 28.349523125 / 25.4**2)},
}  # fmt: skip


def _written(value: float, digits: int) -> str:
    return f"{value + 0.0:.{digits}f}" if abs(value) < 1e15 else f"{value:.6g}"


def _body_json(body: Body, frame: Frame, system: str, decimals: int) -> dict[str, Any]:
    s = SYSTEMS[system]
    turned = frame.matrix @ body.tensor @ frame.matrix.T
    weight = body.mass if body.mass is not None else body.volume
    origin = frame.matrix @ _shifted(body.tensor, weight, body.centre - frame.origin) @ frame.matrix.T
    moments, axes = principal(body.tensor)
    place = frame.point(body.centre)
    unit, factor = s["inertia"]
    if body.mass is None:
        # Without a density the tensor is one of volume.
        unit, factor = f"{s['length'][0]}⁵", s["length"][1] ** 5
    return {
        "name": body.name,
        "volume_mm3": body.volume,
        "area_mm2": body.area,
        "mass_g": body.mass,
        "density": body.density,
        "centre_mm": [float(c) for c in place],
        "rows": [
            {
                "label": "Volume",
                "text": _written(body.volume * s["volume"][1], max(decimals, 0))
                if s["volume"][1] > 10 * NOTHING
                else f"{body.volume * s['volume'][1]:.6e}",
                "unit": s["volume"][0],
            },
            {
                "label": "Area",
                "text": _written(body.area * s["area"][1], decimals)
                if s["area"][1] > FITTED
                else f"{body.area * s['area'][1]:.6e}",
                "unit": s["area"][0],
            },
            {
                "label": "Mass",
                "text": "no material" if body.mass is None else _written(body.mass * s["mass"][1], decimals),
                "unit": "" if body.mass is None else s["mass"][0],
            },
            {
                "label": "Centre",
                "text": ", ".join(_written(float(c) * s["length"][1], max(decimals, 2)) for c in place),
                "unit": s["length"][0],
            },
        ],
        "tensor": [[float(x) for x in row] for row in turned],
        "tensor_origin": [[float(x) for x in row] for row in origin],
        "principal": [
            {
                "moment": m,
                "text": f"{m * factor:.6g}",
                "unit": unit,
                "axis": [round(float(c), 6) + 0.0 for c in frame.vector(a)],
            }
            for m, a in zip(moments, axes, strict=True)
        ],
        "inertia_factor": factor,
        "inertia_unit": unit,
    }


def mass_report(bodies: Sequence[Body], frame: Frame, system: str, decimals: int) -> dict[str, Any]:
    """Masses of each body and together, said in one frame; tensors as negative products off the diagonal."""
    rows = [_body_json(b, frame, system, decimals) for b in bodies]
    if len(bodies) > 1:
        rows.append(_body_json(together(bodies), frame, system, decimals))
    return {"frame": frame.as_json(), "system": system, "bodies": rows}


def explain(
    volume: float, centre: Vec, density: float | None, checkpoint: Checkpoint, frame: Frame, others: Mapping[str, Frame]
) -> list[WeightSlip]:
    """What would explain a difference from a checkpoint without any change of shape: another density, another frame or
    sign, mm for inches, swapped figures. The likeliest first; empty where the figures agree or nothing fits.

    `centre` in the file's axes; `others` are the frames that a person may have read in.
    """
    out: list[WeightSlip] = []
    if checkpoint.mass_g is not None:
        out += mass_slips(volume, density, checkpoint.mass_g, checkpoint.mass_half, DENSITIES)
    if checkpoint.centre_mm is not None:
        seen = {name: other.point(centre) for name, other in others.items() if other is not frame}
        out += centre_slips(frame.point(centre), np.array(checkpoint.centre_mm), checkpoint.centre_half, seen)
    return sorted(out, key=lambda e: -e.weight)


def compare_checkpoint(
    bodies: Sequence[Body], checkpoint: Checkpoint, frame: Frame, others: Mapping[str, Frame]
) -> dict[str, Any]:
    """Bodies, together, against a checkpoint in its frame: what is off (g, mm), and what would explain it."""
    whole = together(bodies) if len(bodies) > 1 else bodies[0]
    here = frame.point(whole.centre)
    mass_off = None if checkpoint.mass_g is None or whole.mass is None else whole.mass - checkpoint.mass_g
    centre_off = None if checkpoint.centre_mm is None else [float(c) for c in here - np.array(checkpoint.centre_mm)]
    fits = not {"mass", "centre"} & set(differing(checkpoint, whole.volume, whole.area, whole.mass, here))
    reasons = [] if fits else explain(whole.volume, whole.centre, bodies[0].density, checkpoint, frame, others)
    return {
        **checkpoint.as_json(),
        "fits": fits,
        "mass_off_g": mass_off,
        "centre_off_mm": centre_off,
        "centre_here_mm": [float(c) for c in here],
        "frame": frame.name,
        "reasons": [r.text for r in reasons[:4]],
    }


def reading_frames(solid: Solid) -> dict[str, Frame]:
    """Frames that figures are often read in by mistake: the file's, and each outer corner."""
    out = {"the file's origin": Frame("the file's frame", np.zeros(3), *np.eye(3))}
    for name, point in box_corners(solid).items():
        out[f"the corner {name}"] = Frame(f"corner {name}", point, *np.eye(3))
    return out


def system_of(unit: Unit) -> str:
    """The unit system that a job of this unit starts with."""
    return "in lb" if unit is Unit.INCH else "mm g"
