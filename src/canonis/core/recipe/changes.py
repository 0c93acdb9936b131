"""Steps that change edges or faces of the body: round, chamfer, shell, draft."""

import math
from typing import Any

from canonis.core.faults import BadInput
from canonis.core.recipe.bench import Bench
from canonis.core.recipe.selectors import select_edges, select_faces
from canonis.core.solid import chamfer_edges, drafted, is_valid, round_edges, shelled
from canonis.core.tolerances import FINE, NOTHING

__all__ = ["change"]


def change(bench: Bench, step: dict[str, Any]) -> None:
    """Carry out a round, chamfer, shell or draft."""
    op = step["op"]
    if op in ("round", "chamfer"):
        _blend(bench, step)
    elif op == "shell":
        _shell(bench, step)
    else:
        _draft(bench, step)


def _blend(bench: Bench, step: dict[str, Any]) -> None:
    solid = bench.solid()
    picked = sorted(select_edges(step["edges"], solid, bench.number, bench.scale, bench.made))
    if not picked:
        raise BadInput("the selector finds no edge")
    shapes = [solid.wire_pieces[k] for k in picked]
    if step["op"] == "round":
        bench.shape = round_edges(solid.shape, shapes, bench.length(step["radius"]))
        return
    if "legs" in step:
        a, b = (bench.length(v) for v in step["legs"])
    else:
        a = bench.length(step["leg"])
        b = a * math.tan(math.radians(bench.number(step.get("angle", 45))))
    pairs = [(solid.wire_pieces[k], solid.face_shapes[solid.edges[k].faces[0]]) for k in picked]
    bench.shape = chamfer_edges(solid.shape, pairs, a, b)


def _shell(bench: Bench, step: dict[str, Any]) -> None:
    solid = bench.solid()
    thick = bench.length(step["thickness"])
    if thick <= 0:
        raise BadInput("the thickness must be positive")
    picked = (
        sorted(select_faces(step["open"], solid, bench.number, bench.scale, bench.made)) if step.get("open") else []
    )
    bench.shape = shelled(solid.shape, [solid.face_shapes[k] for k in picked], thick)
    # The kernel may turn a wall that is too thick inside out instead of refusing it.
    now = bench.solid()
    grown = bool((abs(now.size - solid.size) > FINE).any())
    if grown or not is_valid(bench.shape) or now.mass.volume > solid.mass.volume * (1 - NOTHING):
        bench.shape = solid.shape
        raise BadInput(f"no shell of {bench.number(step['thickness']):g} fits that body")


def _draft(bench: Bench, step: dict[str, Any]) -> None:
    solid = bench.solid()
    picked = sorted(select_faces(step["faces"], solid, bench.number, bench.scale, bench.made))
    if not picked:
        raise BadInput("the selector finds no face")
    lean = bench.number(step["angle"])
    if not 0 < abs(lean) < 80:
        raise BadInput("a draft must be above 0° and under 80°")
    pull, neutral = bench.vector(step["direction"]), bench.point(step["neutral"])
    bench.shape = drafted(solid.shape, [solid.face_shapes[k] for k in picked], pull, neutral, lean)
