"""Steps repeated: mirrored, in a row, a grid or a ring."""

from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.recipe.bench import Bench, Effect
from canonis.core.recipe.profiles import Plane
from canonis.core.solid import mirrored, moved, turned_about
from canonis.core.tolerances import NOTHING, same

__all__ = ["repeat"]


def repeat(bench: Bench, step: dict[str, Any]) -> list[Effect]:
    """What earlier steps did, done again elsewhere; the first instance is the original."""
    sources: list[Effect] = []
    for name in step.get("steps", []):
        if name not in bench.effects:
            raise BadInput(f"step “{name}” does not come before it or cannot be repeated")
        sources += bench.effects[name]
    if step.get("whole"):
        if bench.shape is None:
            raise BadInput("there is no body yet to repeat")
        sources = [("add", bench.shape)]
    if not sources:
        raise BadInput("it names no steps to repeat")
    skip = {int(bench.number(k)) for k in step.get("skip", [])}
    op = step["op"]
    out: list[Effect] = []
    if op == "mirror":
        plane = step["plane"]
        if isinstance(plane, str):
            normals = {"XY": (0, 0, 1), "XZ": (0, 1, 0), "YZ": (1, 0, 0)}
            if plane not in normals:
                raise BadInput(f"plane “{plane}” is not XY, XZ or YZ")
            normal, point = np.array(normals[plane], dtype=float), np.zeros(3)
            point = normal * bench.length(step.get("offset", 0))
        else:
            p = Plane(bench.point(plane["origin"]), np.array([0.3, 0.5, 0.7]), bench.vector(plane["normal"]))
            normal, point = p.normal, p.origin
        return [(mode, mirrored(s, point, normal)) for mode, s in sources]
    if op in ("row", "grid"):
        directions = [step["direction"]] if op == "row" else step["directions"]
        pitches = [step["pitch"]] if op == "row" else step["pitch"]
        counts = [step["count"]] if op == "row" else step["count"]
        vectors = [bench.vector(d) * bench.length(p) for d, p in zip(directions, pitches, strict=True)]
        shifts = [np.zeros(3)]
        for vector, count in zip(vectors, counts, strict=True):
            shifts = [s + vector * k for s in shifts for k in range(int(bench.number(count)))]
        # The first instance is the original itself.
        for k, shift in enumerate(shifts):
            if k and k not in skip:
                out += [(mode, moved(s, shift)) for mode, s in sources]
        return out
    axis = step["axis"]
    point, direction = bench.point(axis["point"]), bench.vector(axis["direction"])
    count = int(bench.number(step["count"]))
    angle = bench.number(step.get("angle", 360))
    pitch = angle / count if same(angle, 360, NOTHING) else angle / max(1, count - 1)
    for k in range(1, count):
        if k not in skip:
            out += [(mode, turned_about(s, point, direction, pitch * k)) for mode, s in sources]
    return out
