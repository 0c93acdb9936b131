"""The source's own scheme for the planner: each line that fits the part, as the sheet is to say it."""

from collections.abc import Callable, Mapping, Sequence

import numpy as np

from canonis.core.callout import Callout, of_the_part
from canonis.core.drafting import Said
from canonis.core.house import Datums, Threads
from canonis.core.proof import (
    Levels,
    MatchMemory,
    Verdict,
    chosen_from,
    match_part,
    meant_by,
    references_of,
    source_solid,
)
from canonis.core.sheet import Scene
from canonis.core.solid import (
    Hints,
    Solid,
    edge_reference,
    parse,
    resolve_all,
)
from canonis.core.source import Characteristic, Specification
from canonis.core.tolerances import FINE, parallel, same, square

__all__ = ["scheme_of"]


def scheme_of(
    spec: Specification,
    scene: Scene,
    hints: Sequence[Hints],
    memory: MatchMemory | None = None,
    progress: Callable[[str], None] = lambda _: None,
    links: Mapping[str, str | None] | None = None,
) -> list[Said]:
    """The lines of a source that fit the solid that it is of, in their order; lines of another unit are left alone.

    `links` are places that persons chose, by number (see `matching`); a line without a place by hand has none.
    """
    document = scene.document
    lines = [c for c in spec.characteristics if c.error is None and meant_by(c.kind).places]
    if spec.rules.unit is not document.unit:
        return []
    index = source_solid(spec, scene.solids)
    if index is None:
        return []
    asked = _for_the_part(spec, scene.solids[index], index, links or {})
    if not lines:
        return asked
    match = match_part(
        spec, document, scene.solids, links or {}, hints, memory=memory or MatchMemory(), progress=progress
    )
    out = []
    for c in lines:
        verdict = match.verdicts.get(c.number)
        if verdict is None or match.levels is None or (c.number in (links or {}) and (links or {})[c.number] is None):
            continue
        # A line that was held back keeps the place at which it differs: there its words would be wrong.
        if verdict.state not in ("fits", "ambiguous") or verdict.differences or verdict.slip:
            continue
        solid = scene.solids[index]
        # Re-based to one datum (house rule), a length of the source only words what the sheet states from there.
        kept = spec.rules.house.datums is not Datums.ONE or c.kind != "length"
        refs = _ends(match.levels, solid, verdict) if kept and _is_length(c, verdict) else ()
        # Where members stand is said by a note of its own, but for a line that says nothing else.
        rest = tuple(p for p in c.parts if p.name != "pitch-circle" and p not in c.turns)
        bare = c.bare if c.kind == "pattern" else c.bare.changed(parts=rest)
        circle = c.part("pitch-circle") if c.kind == "hole" else None
        ring = None if circle is None else Callout(kind="pattern", parts=(circle, *c.turns)).stated
        out.append(
            Said(
                says=bare.stated,
                unit=spec.rules.unit,
                solid=index,
                rows=verdict.rows,
                faces=verdict.faces,
                refs=refs if len(refs) == 2 else (),
                ring=ring,
                reference=c.reference,
                drilled=spec.rules.house.threads is not Threads.NOMINAL and not _nominal(c, solid, verdict),
                certain=verdict.state == "fits",
            )
        )
    return out + asked


def _for_the_part(spec: Specification, solid: Solid, index: int, links: Mapping[str, str | None]) -> list[Said]:
    """The lines that ask something of the part that is made, at the faces that a person chose for them."""
    chosen = {n: place for n, link in links.items() if link and (place := chosen_from(link)) is not None}
    found = resolve_all([r for place in chosen.values() for r in place.refs], solid)
    out = []
    for c in spec.characteristics:
        refs = chosen[c.number].refs if c.error is None and of_the_part(c.kind) and c.number in chosen else ()
        faces = tuple(dict.fromkeys(f for r in refs for f in found[r].faces[:1] if found[r].status != "ambiguous"))
        if faces:
            out.append(Said(says=c.bare.stated, unit=spec.rules.unit, solid=index, faces=faces))
    return out


def _nominal(c: Characteristic, solid: Solid, verdict: Verdict) -> bool:
    """Whether a thread is noted on bores of its nominal size: nothing was drilled for it."""
    major = c.size("major")
    bores = [solid.faces[f].radius for f in verdict.faces if solid.faces[f].kind == "cylinder"]
    return major is not None and bool(bores) and min(abs(2 * r - float(major)) for r in bores) < 5e-3


def _ends(levels: Levels, solid: Solid, verdict: Verdict) -> tuple[str, ...]:
    """References of both levels of a length; a corner is known by the longest edge that runs along it."""
    out: list[str] = []
    for level in verdict.levels[:2]:
        known = references_of(levels, solid, (level,), ())
        way = levels.frame[level.way]
        parsed = parse(known[0]) if known else None
        if parsed is None or (parsed.kind == "plane" and not parallel(np.array(parsed.vectors[0]), way)):
            edges = [
                e
                for e in solid.edges
                if e.kind == "line"
                and e.dihedral != "smooth"
                and square(e.axis, way)
                and same(float(e.middle @ way), level.value, FINE)
            ]
            known = (edge_reference(max(edges, key=lambda e: e.length)),) if edges else ()
        out += known
    return tuple(out)


def _is_length(c: Characteristic, verdict: Verdict) -> bool:
    return meant_by(c.kind).places in ("length", "pattern") and c.count == 1 and len(verdict.levels) == 2
