"""Whether a solid is sound: each fault a finding that says where and what to do. Nothing here certifies a part."""

import math
from collections.abc import Iterator, Sequence
from typing import Any

import numpy as np

from canonis.core.features import Feature
from canonis.core.solid import Solid, faulty_faces, intersects_itself
from canonis.core.study.flaw import Flaw, flaw
from canonis.core.tolerances import FINE, same_place

__all__ = ["examine_solids"]

#: Shorter than this an edge is a leftover of modelling, not a shape, mm.
_TINY = 0.01


def _at(point: Any) -> str:
    return ", ".join(f"{float(c):.4g}" for c in point)


def _one(solid: Solid) -> list[Flaw]:
    return [*_unsound(solid), *_leftovers(solid), *_far_off(solid)]


def _unsound(solid: Solid) -> Iterator[Flaw]:
    """What makes a body none."""
    if not solid.valid:
        bad = faulty_faces(solid.face_shapes)
        where = f" at face {', '.join(str(f + 1) for f in bad[:5])}" if bad else ""
        yield flaw(
            "solid.invalid",
            "error",
            f"The kernel finds “{solid.name}” invalid{where}: heal it in the modeller and export it again.",
            solid=solid.index,
            faces=bad,
        )
    if solid.turned_over:
        yield flaw(
            "solid.inside-out",
            "warning",
            f"The faces of “{solid.name}” looked inward; they were turned. Check the export.",
            solid=solid.index,
        )
    elif intersects_itself(solid.shape, len(solid.faces)):
        yield flaw(
            "solid.self-intersecting",
            "error",
            f"“{solid.name}” cuts through itself: its volume and its views cannot be trusted.",
            solid=solid.index,
        )


def _leftovers(solid: Solid) -> Iterator[Flaw]:
    """Edges and faces too small to have been meant."""
    limit = min(_TINY, 2e-4 * solid.diagonal)
    short = [e for e in solid.edges if e.length < limit and e.dihedral != "seam"]
    if short:
        first = short[0]
        yield flaw(
            "solid.tiny-edge",
            "warning",
            f"{len(short)} edge{'s' * (len(short) > 1)} shorter than {limit:.2g} mm, the first at {_at(first.middle)}: "
            "a leftover of modelling; it can stop rounds and offsets.",
            solid=solid.index,
            edges=[e.index for e in short[:200]],
            point=first.middle,
        )
    slivers = []
    for f in solid.faces:
        round_it = sum(solid.edges[e].length for e in f.edges)
        if round_it > 0 and 2 * f.area / round_it < limit:
            slivers.append(f)
    if slivers:
        yield flaw(
            "solid.sliver",
            "warning",
            f"{len(slivers)} face{'s' * (len(slivers) > 1)} narrower than {limit:.2g} mm, the first at "
            f"{_at(slivers[0].centre)}.",
            solid=solid.index,
            faces=[f.index for f in slivers[:200]],
            point=slivers[0].centre,
        )


def _far_off(solid: Solid) -> Iterator[Flaw]:
    """A body too far out for figures that count from the origin."""
    middle = (solid.box[0] + solid.box[1]) / 2
    away = float(np.linalg.norm(middle))
    if away > max(1000.0, 20 * solid.diagonal):
        yield flaw(
            "solid.far",
            "warning",
            f"“{solid.name}” lies {away:.5g} mm from the origin, {away / solid.diagonal:.0f} times its own size: "
            "figures that count from the origin lose precision; check the export's coordinate system.",
            solid=solid.index,
            point=middle,
        )


def _twins(solids: Sequence[Solid]) -> list[Flaw]:
    out = []
    for i, a in enumerate(solids):
        for b in solids[i + 1 :]:
            same = (
                abs(a.mass.volume - b.mass.volume) < 1e-6 * a.mass.volume
                and abs(a.mass.area - b.mass.area) < 1e-6 * a.mass.area
                and same_place(a.mass.centre, b.mass.centre, FINE)
            )
            if same and np.allclose(a.mass.moments, b.mass.moments, rtol=1e-6, atol=1e-3):
                out.append(
                    flaw(
                        "solid.duplicate",
                        "error",
                        f"“{a.name}” stands in the file twice in the same place (solids {a.index + 1} and {b.index + 1}): "
                        "mass counts it twice; remove one.",
                        solid=b.index,
                        point=b.mass.centre,
                    )
                )
    return out


def _units(solids: Sequence[Solid], found: Sequence[Feature], stated_mm: Sequence[float]) -> list[Flaw]:
    """Suspicion that the file's unit is wrong: against the source's sizes, else by what parts usually measure."""
    low, high = np.min([s.box[0] for s in solids], axis=0), np.max([s.box[1] for s in solids], axis=0)
    size = [float(c) for c in high - low]
    if stated_mm:
        for factor, words in (
            (25.4, "25.4 times larger"),
            (1 / 25.4, "25.4 times smaller"),
            (10.0, "ten times larger"),
            (0.1, "ten times smaller"),
        ):
            hits = sum(any(abs(s - x * factor) < 2e-4 * s for x in stated_mm) for s in size)
            plain = sum(any(abs(s - x) < 2e-4 * s for x in stated_mm) for s in size)
            if hits >= 2 and hits > plain:
                return [
                    flaw(
                        "unit.factor",
                        "error",
                        f"The model is {words} than the source says (in {hits} of 3 overall sizes): its unit is wrong.",
                    )
                ]
        return []
    bores = [g.first.diameter for f in found for g in f.holes]
    if max(size) > 2000 and bores and min(bores) > 50:
        return [
            flaw(
                "unit.large",
                "warning",
                f"The part is {max(size):.5g} mm long and its smallest hole ⌀{min(bores):.4g}: is it 25.4 times too large "
                "(inches read as millimetres twice)?",
            )
        ]
    if max(size) < 5 and (not bores or max(bores) < 0.5):
        return [
            flaw(
                "unit.small",
                "warning",
                f"The part is only {max(size):.4g} mm long: was an inch file written without its unit?",
            )
        ]
    return []


def examine_solids(solids: Sequence[Solid], found: Sequence[Feature], stated_mm: Sequence[float] = ()) -> list[Flaw]:
    """Every finding on the soundness of the solids of a file. `stated_mm` are lengths that the source states."""
    out = [f for s in solids for f in _one(s)]
    out += _twins(solids)
    out += _units(solids, found, [x for x in stated_mm if x and math.isfinite(x)])
    return out
