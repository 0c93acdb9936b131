"""Making advice: what a shop is likely to object to. Advice only; the limits are the job's and the shop decides."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from canonis.core.callout import tapped_as
from canonis.core.features import Feature, Hole, extent, form_of, pull_directions, wall_pairs
from canonis.core.solid import Face, Solid
from canonis.core.study.choices import Limits
from canonis.core.study.flaw import Flaw, flaw
from canonis.core.tolerances import NOISE, NOTHING, parallel, square

__all__ = ["advise"]


def _length(hole: Hole) -> float:
    return hole.depth if hole.depth is not None else hole.length


def _holes(found: Feature) -> list[tuple[str, Hole]]:
    return [(g.id, h) for g in found.holes for h in g.holes]


def _broken(solid: Solid, found: Feature) -> list[Flaw]:
    """Bores that a slot, a pocket or another bore breaks into along their length."""
    # A keyway or a groove in a bore is cut after it; a slot may have been cut before.
    open_kinds = {f.id for f in found.forms if form_of(f.kind).opens} | {s.id for s in found.slots}
    out = []
    for name, hole in _holes(found):
        for f in hole.main_faces:
            hits = {
                found.owner.get(k, "")
                for e, k in solid.neighbours[f]
                if solid.edges[e].dihedral == "convex" and _midway(solid, e, hole)
            }
            for other in sorted(hits & open_kinds):
                out.append(
                    flaw(
                        "make.broken-bore",
                        "advice",
                        f"{name} (⌀{hole.diameter:.4g}) is broken into by {other}: drill it before that cut, or the drill wanders.",
                        solid=solid.index,
                        faces=hole.faces,
                        point=hole.start,
                    )
                )
    return out


def _midway(solid: Solid, index: int, hole: Hole) -> bool:
    """Whether an edge lies between the ends of a bore rather than at its mouth."""
    depth = -float((solid.edges[index].middle - hole.start) @ hole.axis)
    return 0.02 * _length(hole) < depth < 0.98 * max(_length(hole), hole.length)


def _thin(solid: Solid, found: Feature, limits: Limits) -> list[Flaw]:
    out = []
    for pair in wall_pairs(solid, limits.wall_mm):
        out.append(
            flaw(
                "make.thin-wall",
                "advice",
                f"A wall of {pair.thickness:.4g} mm is thinner than {limits.wall_mm:g}.",
                solid=solid.index,
                faces=[pair.a.index, pair.b.index],
                point=pair.a.centre,
            )
        )
    holes = _holes(found)
    for k, (name, a) in enumerate(holes):
        for other, b in holes[k + 1 :]:
            if not parallel(a.axis, b.axis):
                continue
            rel = b.start - a.start
            across = float(np.linalg.norm(rel - a.axis * float(rel @ a.axis)))
            left = across - (a.diameter + b.diameter) / 2
            if NOISE < left < limits.wall_mm and _overlap(a, b):
                out.append(
                    flaw(
                        "make.thin-wall",
                        "advice",
                        f"Only {left:.4g} mm is left between {name} and {other}.",
                        solid=solid.index,
                        faces=(*a.faces, *b.faces),
                        point=a.start,
                    )
                )
    return out


def _overlap(a: Hole, b: Hole) -> bool:
    """Whether two parallel holes run side by side for a part of their depth."""
    at = float((b.start - a.start) @ a.axis)
    low_a = sorted((0.0, -_length(a)))
    low_b = sorted((at, at - _length(b) * float(np.sign(b.axis @ a.axis))))
    return min(low_a[1], low_b[1]) - max(low_a[0], low_b[0]) > NOISE


def _edge_gap(solid: Solid, face: Face, hole: Hole) -> float | None:
    """Distance from a hole's axis to an outer wall that runs along it, mm; None where it stands elsewhere."""
    low, high = extent(solid, [face.index], hole.axis)
    at = float(hole.start @ hole.axis)
    if at < low - NOISE or at - _length(hole) > high + NOISE:
        return None
    if face.kind == "cylinder":
        rel = hole.start - face.origin
        across = float(np.linalg.norm(rel - face.axis * float(rel @ face.axis)))
        # On its own axis a hole has no edge beside it.
        return face.radius - across if parallel(face.axis, hole.axis) and NOISE < across < face.radius else None
    if not square(face.axis, hole.axis):
        return None
    gap = face.offset - float(face.axis @ hole.start)
    foot = hole.start + face.axis * gap
    low, high = extent(solid, [face.index], np.cross(face.axis, hole.axis))
    inside = low - NOISE <= float(foot @ np.cross(face.axis, hole.axis)) <= high + NOISE
    return gap if gap > NOISE and inside else None


def _near_edges(solid: Solid, found: Feature, limits: Limits) -> list[Flaw]:
    """Holes whose centre is close to an outer wall, or whose rim is close to a bend."""
    out = []
    outer = [
        f for f in solid.faces if f.kind == "plane" or (f.kind == "cylinder" and not f.inner and f.sweep > math.pi)
    ]
    bends = [p for f in found.forms if f.kind == "bend" for p in f.pieces]
    for name, hole in _holes(found):
        room = limits.edge_diameters * hole.diameter
        gaps = [_edge_gap(solid, f, hole) for f in outer]
        gap = min((g for g in gaps if g is not None), default=room)
        if gap < room - NOTHING:
            out.append(
                flaw(
                    "make.near-edge",
                    "advice",
                    f"{name} (⌀{hole.diameter:.4g}) stands {gap:.4g} mm from an edge, less than {limits.edge_diameters:g} × ⌀.",
                    solid=solid.index,
                    faces=hole.faces,
                    point=hole.start,
                )
            )
        for bend in bends:
            rel = hole.start - bend.place
            away = float(np.linalg.norm(rel - bend.axis * float(rel @ bend.axis)))
            reach = float(bend.data["inner_radius_mm"]) + 3 * float(bend.data["thickness_mm"])
            if away - hole.diameter / 2 < reach:
                out.append(
                    flaw(
                        "make.near-bend",
                        "advice",
                        f"{name} (⌀{hole.diameter:.4g}) lies within {reach:.4g} mm of a bend and will be drawn out of round.",
                        solid=solid.index,
                        faces=hole.faces,
                        point=hole.start,
                    )
                )
                break
    return out


def _drilling(solid: Solid, found: Feature, limits: Limits) -> list[Flaw]:
    out = []
    for group in found.holes:
        hole = group.first
        ratio = _length(hole) / hole.diameter
        if ratio > limits.drill_diameters + NOTHING:
            out.append(
                flaw(
                    "make.deep-drill",
                    "advice",
                    f"{group.id} is {ratio:.3g} diameters deep (limit {limits.drill_diameters:g}): it needs a long drill and pecking.",
                    solid=solid.index,
                    faces=hole.faces,
                    point=hole.start,
                )
            )
        guess = tapped_as(hole.diameter)
        if hole.depth is not None and guess and hole.depth < limits.thread_diameters * hole.diameter:
            out.append(
                flaw(
                    "make.shallow-thread",
                    "advice",
                    f"{group.id} (⌀{hole.diameter:.4g}), if tapped as {guess[0]}, holds less than {limits.thread_diameters:g} diameters of thread.",
                    solid=solid.index,
                    faces=hole.faces,
                    point=hole.start,
                )
            )
    return out


def _sharp_inside(solid: Solid, found: Feature) -> list[Flaw]:
    """Upright inner corners of pockets that no rotating cutter leaves sharp."""
    out = []
    for form in found.forms:
        if form.kind != "pocket":
            continue
        for piece in form.pieces:
            mine = set(piece.faces)
            corners = [
                e
                for e in solid.edges
                if e.kind == "line"
                and e.dihedral == "concave"
                and set(e.faces) <= mine
                and parallel(e.axis, piece.axis)
            ]
            if corners:
                out.append(
                    flaw(
                        "make.sharp-inside",
                        "advice",
                        f"{form.id} has {len(corners)} sharp inner corner{'s' * (len(corners) > 1)}: a cutter leaves its own radius there.",
                        solid=solid.index,
                        faces=piece.faces,
                        edges=[e.index for e in corners],
                        point=corners[0].middle,
                    )
                )
    return out


def _moulding(solid: Solid, limits: Limits) -> list[Flaw]:
    """Draft missing or the wrong way, uneven walls and sharp corners, for moulded and cast parts."""
    return [*_drafts(solid, limits), *_uneven(solid, limits), *_sharp_corners(solid)]


def _drafts(solid: Solid, limits: Limits) -> list[Flaw]:
    out = []
    pull = pull_directions(solid)[0] if any(f.kind == "plane" for f in solid.faces) else None
    if pull is not None:
        upright, wrong = [], []
        middle = float(solid.mass.centre @ pull)
        for f in solid.faces:
            if f.kind != "plane":
                continue
            lean = math.degrees(math.asin(float(np.clip(f.axis @ pull, -1, 1))))
            if abs(lean) < limits.draft_deg - NOISE:
                upright.append(f)
            elif abs(lean) < 15 and _faces_away(solid, f.index, pull, middle, lean):
                wrong.append(f)
        if upright:
            out.append(
                flaw(
                    "make.draft",
                    "advice",
                    f"{len(upright)} wall{'s' * (len(upright) > 1)} along the pull direction with less than {limits.draft_deg:g}° of draft.",
                    solid=solid.index,
                    faces=[f.index for f in upright],
                    point=upright[0].centre,
                )
            )
        if wrong:
            out.append(
                flaw(
                    "make.draft-way",
                    "advice",
                    f"{len(wrong)} wall{'s' * (len(wrong) > 1)} lean against the pull: the part would lock in its mould.",
                    solid=solid.index,
                    faces=[f.index for f in wrong],
                    point=wrong[0].centre,
                )
            )
    return out


def _uneven(solid: Solid, limits: Limits) -> Iterator[Flaw]:
    pairs = [p for p in wall_pairs(solid, 0.25 * solid.diagonal) if min(p.a.area, p.b.area) > 4 * p.thickness**2]
    if len(pairs) > 1:
        thin, thick = min(p.thickness for p in pairs), max(p.thickness for p in pairs)
        if thick > limits.wall_ratio * thin:
            fat = max(pairs, key=lambda p: p.thickness)
            yield flaw(
                "make.uneven-walls",
                "advice",
                f"Walls from {thin:.4g} to {thick:.4g} mm: thick ones cool late and sink.",
                solid=solid.index,
                faces=[fat.a.index, fat.b.index],
                point=fat.a.centre,
            )


def _sharp_corners(solid: Solid) -> Iterator[Flaw]:
    sharp = [e for e in solid.edges if e.dihedral in ("convex", "concave") and e.kind in ("line", "circle")]
    inner = [e for e in sharp if e.dihedral == "concave"]
    if inner:
        yield flaw(
            "make.sharp-corner",
            "advice",
            f"{len(inner)} sharp inner corner{'s' * (len(inner) > 1)}: stress and hot spots gather there; give them a radius.",
            solid=solid.index,
            edges=[e.index for e in inner[:400]],
            point=inner[0].middle,
        )


def _faces_away(solid: Solid, face: int, pull: Any, middle: float, lean: float) -> bool:
    """Whether a leaning wall narrows toward the parting plane: above it it must look up, below it down."""
    low, high = extent(solid, [face], pull)
    return (low >= middle and lean < 0) or (high <= middle and lean > 0)


def advise(solids: Sequence[Solid], found: Sequence[Feature], limits: Limits) -> list[Flaw]:
    """Making advice on every solid, by the job's limits and process."""
    out: list[Flaw] = []
    for solid, features in zip(solids, found, strict=True):
        out += _broken(solid, features) + _thin(solid, features, limits) + _near_edges(solid, features, limits)
        out += _drilling(solid, features, limits)
        if limits.process == "machined":
            out += _sharp_inside(solid, features)
        if limits.process in ("moulded", "cast"):
            out += _moulding(solid, limits)
    return _gathered(out)


def _gathered(found: list[Flaw]) -> list[Flaw]:
    """The same objection at several members of a pattern once, with its number of places."""
    alike: dict[tuple[str, int, str], list[Flaw]] = {}
    for f in found:
        alike.setdefault((f.rule, f.solid, f.message), []).append(f)
    return [
        fs[0]
        if len(fs) == 1
        else replace(
            fs[0],
            faces=tuple(dict.fromkeys(x for f in fs for x in f.faces)),
            message=f"{fs[0].message[:-1]} (in {len(fs)} places).",
        )
        for fs in alike.values()
    ]
