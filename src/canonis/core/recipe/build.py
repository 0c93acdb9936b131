"""Building a recipe: a written list of steps, each with its mass, into a solid."""

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.quantity.units import Unit
from canonis.core.recipe.numbers import evaluate
from canonis.core.recipe.profiles import Plane, profile_faces
from canonis.core.recipe.selectors import select_edges
from canonis.core.solid.making import (
    chamfer_edges,
    cut,
    exits,
    face_of,
    fuse,
    line_edge,
    mirrored,
    moved,
    prism,
    round_edges,
    turned,
    turned_about,
    wire_of,
)
from canonis.core.solid.materials import density_of
from canonis.core.solid.model import Solid, Vec, unit_vector
from canonis.core.solid.reader import solid_from_shape
from canonis.core.solid.references import face_reference

__all__ = ["Built", "build_recipe"]

#: Longer than any part: what `through` means to the kernel, mm.
_FAR = 1e4


@dataclass(eq=False)
class Built:
    """The result: the kernel body, the unit, the name, the ledger, and each stage when asked for."""

    shape: Any
    unit: Unit
    name: str
    density: float | None
    ledger: list[dict[str, Any]]
    stages: list[tuple[str, Any]] = field(default_factory=list)


@dataclass(eq=False)
class _Bench:
    number: Callable[[Any], float]
    scale: float
    shape: Any = None
    effects: dict[str, list[tuple[str, Any]]] = field(default_factory=dict)
    made: dict[str, set[str]] = field(default_factory=dict)

    def length(self, value: Any) -> float:
        return self.number(value) * self.scale

    def point(self, data: Any) -> Vec:
        return np.array([self.length(c) for c in _three(data)])

    def vector(self, data: Any) -> Vec:
        v = np.array([self.number(c) for c in _three(data)])
        if float(np.linalg.norm(v)) < 1e-12:
            raise BadInput("a direction has no length")
        return unit_vector(v)

    def apply(self, mode: str, tool: Any) -> None:
        if mode == "cut":
            if self.shape is None:
                raise BadInput("there is nothing to cut from yet")
            self.shape = cut(self.shape, tool)
        elif mode == "add":
            self.shape = tool if self.shape is None else fuse(self.shape, tool)
        elif mode == "keep":
            if self.shape is None:
                raise BadInput("there is nothing to keep a part of yet")
            # What both share: the body less what lies outside the tool.
            self.shape = cut(self.shape, cut(self.shape, tool))
        else:
            raise BadInput(f"mode “{mode}” is not add, cut or keep")

    def solid(self) -> Solid:
        if self.shape is None:
            raise BadInput("there is no solid yet")
        return solid_from_shape(self.shape, "stage", merge=False)


def _three(data: Any) -> list[Any]:
    if not isinstance(data, list) or len(data) != 3:
        raise BadInput(f"{data!r} is not a point or direction of three numbers")
    return data


def _extrude(bench: _Bench, step: dict[str, Any]) -> list[tuple[str, Any]]:
    plane, faces = profile_faces(step["profile"], bench.number, bench.scale)
    low, high = 0.0, 0.0
    if step.get("through"):
        low, high = -_FAR, _FAR
    elif "both" in step:
        high, low = (bench.length(v) for v in step["both"])
        low = -low
    elif "symmetric" in step:
        high = bench.length(step["symmetric"]) / 2
        low = -high
    elif "distance" in step:
        high = bench.length(step["distance"])
    else:
        raise BadInput("extrude needs distance, both, symmetric or through")
    shift = bench.length(step.get("start", 0))
    if abs(high - low) < 1e-9:
        raise BadInput("the distance is zero")
    base = plane.normal * (low + shift)
    mode = step.get("mode", "add")
    return [(mode, prism(moved(f, base), plane.normal * (high - low))) for f in faces]


def _revolve(bench: _Bench, step: dict[str, Any]) -> list[tuple[str, Any]]:
    _, faces = profile_faces(step["profile"], bench.number, bench.scale)
    axis = step["axis"]
    point, direction = bench.point(axis["point"]), bench.vector(axis["direction"])
    angle = bench.number(step.get("angle", 360))
    return [(step.get("mode", "add"), turned(f, point, direction, angle)) for f in faces]


def _hole_outline(bench: _Bench, step: dict[str, Any], depth: float, closed: bool) -> list[tuple[float, float]]:
    """(radius, distance below the start) points of a hole's half section, seats included."""
    r = bench.length(step["diameter"]) / 2
    points: list[tuple[float, float]] = []
    at = 0.0
    bore, sink = step.get("counterbore"), step.get("countersink")
    if sink:
        rs, half = bench.length(sink["diameter"]) / 2, math.radians(bench.number(sink["angle"]) / 2)
        floor = bench.length(bore["diameter"]) / 2 if bore else r
        at = (rs - floor) / math.tan(half)
        points += [(rs, 0.0), (floor, at)]
    if bore:
        rb, db = bench.length(bore["diameter"]) / 2, bench.length(bore["depth"])
        points += [(rb, at), (rb, db), (r, db)]
    if not points:
        points.append((r, 0.0))
    far_bore, far_sink = step.get("counterbore-far"), step.get("countersink-far")
    if not closed and (far_bore or far_sink):
        if far_sink:
            rs, half = bench.length(far_sink["diameter"]) / 2, math.radians(bench.number(far_sink["angle"]) / 2)
            points += [(r, depth - (rs - r) / math.tan(half)), (rs, depth), (0.0, depth)]
        else:
            assert far_bore is not None
            rb, db = bench.length(far_bore["diameter"]) / 2, bench.length(far_bore["depth"])
            points += [(r, depth - db), (rb, depth - db), (rb, depth + 1.0), (0.0, depth + 1.0)]
    else:
        points.append((r, depth))
        angle = bench.number(step.get("point", 0)) if closed else 0.0
        tip = r / math.tan(math.radians(angle / 2)) if angle else 0.0
        points.append((0.0, depth + tip))
    points.append((0.0, 0.0))
    clean = [points[0]]
    for p in points[1:]:
        if math.dist(p, clean[-1]) > 1e-9:
            clean.append(p)
    return clean


def _hole(bench: _Bench, step: dict[str, Any]) -> list[tuple[str, Any]]:
    axis = bench.vector(step["axis"])
    side = unit_vector(np.cross(axis, [1.0, 0, 0] if abs(axis[0]) < 0.9 else [0, 1.0, 0]))
    out = []
    if bench.shape is None:
        raise BadInput("there is nothing to drill yet")
    if bench.length(step["diameter"]) <= 0:
        raise BadInput("the diameter must be positive")
    for data in step["at"]:
        start = bench.point(data)
        through = bool(step.get("through"))
        if through:
            met = [d for d in exits(bench.shape, start - axis * 1e-4, -axis) if d > 1e-3]
            depth = (met[-1] if met else _FAR) + (1e-4 if met else 0.0)
            has_far = "counterbore-far" in step or "countersink-far" in step
            depth = depth if has_far else depth + 1.0
        else:
            depth = bench.length(step["depth"])
        outline = _hole_outline(bench, step, depth, not through)
        corners = [start + side * r - axis * z for r, z in outline]
        wire = wire_of([line_edge(a, b) for a, b in zip(corners, [*corners[1:], corners[0]], strict=True)])
        out.append(("cut", turned(face_of(wire, []), start, axis, 360)))
    return out


def _blend(bench: _Bench, step: dict[str, Any], name: str) -> None:
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


def _repeat(bench: _Bench, step: dict[str, Any]) -> list[tuple[str, Any]]:
    sources: list[tuple[str, Any]] = []
    for name in step.get("steps", []):
        if name not in bench.effects:
            raise BadInput(f"step “{name}” does not come before it or cannot be repeated")
        sources += bench.effects[name]
    if not sources:
        raise BadInput("it names no steps to repeat")
    skip = {int(bench.number(k)) for k in step.get("skip", [])}
    op = step["op"]
    out: list[tuple[str, Any]] = []
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
    pitch = angle / count if abs(angle - 360) < 1e-9 else angle / max(1, count - 1)
    for k in range(1, count):
        if k not in skip:
            out += [(mode, turned_about(s, point, direction, pitch * k)) for mode, s in sources]
    return out


_MAKERS = {"extrude": _extrude, "revolve": _revolve, "hole": _hole}
_REPEATS = ("row", "grid", "ring", "mirror")


def _do(bench: _Bench, step: dict[str, Any], name: str) -> None:
    op = step.get("op")
    if op in _MAKERS:
        effects = _MAKERS[op](bench, step)
        for mode, tool in effects:
            bench.apply(mode, tool)
        bench.effects[name] = effects
    elif op in _REPEATS:
        effects = _repeat(bench, step)
        for mode, tool in effects:
            bench.apply(mode, tool)
        bench.effects[name] = effects
    elif op in ("round", "chamfer"):
        _blend(bench, step, name)
    else:
        raise BadInput(f"“{op}” is not a step this version builds")


def _refs(solid: Solid) -> set[str]:
    return {face_reference(f) for f in solid.faces if f.kind in ("plane", "cylinder", "cone", "torus")}


def build_recipe(recipe: Any, characteristics: Mapping[str, float] | None = None, each: bool = False) -> Built:
    """Build a recipe (`canonis.recipe/1`).

    `characteristics` gives the values of `#n`, in the recipe's unit. Raises BadInput naming the step and
    the reason.
    """
    if not isinstance(recipe, dict) or recipe.get("schema") != "canonis.recipe/1":
        raise BadInput("The recipe must be a JSON object with “schema”: “canonis.recipe/1”.")
    if recipe.get("unit", "mm") not in ("mm", "in"):
        raise BadInput("The recipe's unit must be mm or in.")
    unit = Unit(recipe.get("unit", "mm"))
    density = recipe.get("density")
    if density is None and recipe.get("material"):
        density = density_of(str(recipe["material"]))
    if density is not None and not (isinstance(density, int | float) and 0 < density < 100):
        raise BadInput("The recipe's density must be a number of g/cm³.")
    steps = recipe.get("steps")
    if not isinstance(steps, list) or not steps:
        raise BadInput("The recipe has no steps.")
    scale = 25.4 if unit is Unit.INCH else 1.0
    bench = _Bench(lambda v: evaluate(v, characteristics, unit), scale)
    built = Built(None, unit, str(recipe.get("name", "part")), density, [])
    before: set[str] = set()
    for k, step in enumerate(steps):
        name = str(step.get("name", f"step {k + 1}")) if isinstance(step, dict) else f"step {k + 1}"
        try:
            if not isinstance(step, dict):
                raise BadInput("it is not an object")
            _do(bench, step, name)
            solid = bench.solid()
        except BadInput as fault:
            raise BadInput(f"Step “{name}”: {fault}.") from None
        except KeyError as fault:
            raise BadInput(f"Step “{name}”: “{fault.args[0]}” is missing.") from None
        except (TypeError, ValueError, AttributeError, IndexError):
            raise BadInput(f"Step “{name}”: a value has the wrong form.") from None
        except Exception:  # the kernel's own untyped faults, e.g. a degenerate shape
            raise BadInput(f"Step “{name}”: the geometry cannot be built.") from None
        now = _refs(solid)
        bench.made[name] = now - before
        before = now
        mass = solid.mass
        grams = None if density is None else mass.volume * density / 1000
        built.ledger.append(
            {"name": name, "volume_mm3": mass.volume, "mass_g": grams,
             "centroid_mm": [round(float(c), 9) for c in mass.centre], "faces": len(solid.faces)}
        )  # fmt: skip
        if each:
            built.stages.append((name, bench.shape))
    built.shape = bench.shape
    return built
