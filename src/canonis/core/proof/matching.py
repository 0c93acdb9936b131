"""Each line of the source against the part and the sheet: its measure, what the drawn statements make of it, its state."""

import hashlib
import re
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from canonis.core.callout import of_the_part
from canonis.core.proof.drawn import Drawn, derived, is_off
from canonis.core.proof.judge import Judgement
from canonis.core.proof.known import meant_by
from canonis.core.proof.match.chosen import Places, chosen_from, references_of, write_chosen
from canonis.core.proof.match.item import Item
from canonis.core.proof.match.items import items_of
from canonis.core.proof.match.levels import Level, Levels
from canonis.core.proof.match.orientation import Orientation
from canonis.core.proof.match.source_match import match_source
from canonis.core.proof.match.tally import Difference, model_size
from canonis.core.proof.match.verdict import Forced, Rival, SourceMatch, Verdict
from canonis.core.proof.match.which import source_solid, which_words
from canonis.core.proof.statement import StatementProof
from canonis.core.quantity import Unit, write_angle, write_length
from canonis.core.shape import shape_of
from canonis.core.sheet import SheetDocument, Statement
from canonis.core.solid import Hints, Solid
from canonis.core.source import Characteristic, Specification
from canonis.core.tolerances import runs_along

__all__ = ["Match", "MatchMemory", "PartMatch", "match_all", "match_part", "write_part"]

#: Sources whose match is kept at hand for one model.
_KEPT = 4


@dataclass(frozen=True)
class PartMatch:
    """One part of a characteristic against the sheet and the model (mm or degrees)."""

    name: str
    source: float | None
    drawn: float | None
    model: float | None
    ok: bool


@dataclass(frozen=True)
class Match:
    """What the sheet and the model say of a characteristic. `how` writes the sum out; `place` names the measure by geometry;
    `rivals` are other measures that it could be: words, value (mm or degrees), place."""

    number: str
    state: str
    statements: tuple[str, ...]
    how: str
    parts: tuple[PartMatch, ...]
    measure: str = ""
    reason: str = ""
    slip: str = ""
    refs: tuple[str, ...] = ()
    place: str = ""
    faces: tuple[int, ...] = ()
    rivals: tuple[dict[str, Any], ...] = ()
    group: tuple[str, ...] = ()
    differences: tuple[Difference, ...] = ()
    limits: tuple[float | None, float | None] | None = None
    #: The model lies inside the limits and off the value that the house rule asks for.
    off_target: bool = False
    #: Another line that states this size differently.
    against: tuple[str, ...] = ()
    #: Confirmed places that name this measure, written on an earlier model.
    same_places: tuple[str, ...] = ()

    @property
    def main(self) -> PartMatch | None:
        """The part that carries the value."""
        return next((p for p in self.parts if p.name != "count" and p.source is not None), None)


@dataclass
class MatchMemory:
    """Matches of one model, kept while it is at hand: its levels, and the sources matched last."""

    levels: dict[int, Levels] = field(default_factory=dict)
    made: OrderedDict[str, SourceMatch] = field(default_factory=OrderedDict)
    #: How often one was made: what is kept elsewhere is kept again then.
    count: int = 0

    def packed(self) -> dict[str, SourceMatch]:
        """The matches without the part."""
        return {key: made.detached() for key, made in self.made.items()}

    def unpacked(self, kept: Mapping[str, SourceMatch]) -> None:
        """Take what was packed; it is put on the part when it is used."""
        for key, made in kept.items():
            self.made.setdefault(key, made)


def match_all(
    spec: Specification,
    proofs: Sequence[StatementProof],
    document: SheetDocument,
    solids: Sequence[Solid],
    judged: Sequence[Judgement],
    *,
    links: Mapping[str, str | None],
    hints: Sequence[Hints],
    memory: MatchMemory | None = None,
    progress: Callable[[str], None] = lambda _: None,
    rivals: bool = True,
    ticked: Mapping[str, str] | None = None,
) -> tuple[dict[str, Match], SourceMatch]:
    """Match every line with the solid that the source is of, and derive it from what is drawn of that solid; where the model
    has several and nobody said which, nothing is said of any line.

    `ticked` are places that persons confirmed, by number: where a line still stands there, its match says so. `links` are a
    person's own choices by number: a statement's id, a place as text, or None for a line without a place.
    """
    lines = list(spec.characteristics)
    if not lines:
        return {}, SourceMatch({})
    index = source_solid(spec, solids)
    if index is None:
        why = which_words(solids)
        asked = {c.number: Match(c.number, "ambiguous", (), why, (), reason=why) for c in lines if c.error is None}
        return asked, SourceMatch({}, note=why)
    solid = solids[index]
    unit = spec.rules.unit
    source = match_part(
        spec, document, solids, links, hints, memory=memory or MatchMemory(), progress=progress, rivals=rivals
    )
    pages = [one for page, one in zip(document.pages, judged, strict=True) if page.solid == index]
    drawn = Drawn(pages, proofs, document.unit)
    against = {n: others for n, others, _ in source.contradictions}
    wishes = {n: wish for n, place in (ticked or {}).items() if (wish := chosen_from(place)) is not None}
    assert source.levels is not None
    places = Places(source.levels, [r for w in wishes.values() for r in w.refs])
    out = {}
    for c in lines:
        if c.error is not None:
            continue
        if c.number in links and links[c.number] is None:
            out[c.number] = Match(c.number, "no-place", (), "unlinked by hand", (), reason="unlinked by hand")
            continue
        if of_the_part(c.kind):
            out[c.number] = _for_the_part(c, document)
            continue
        v = source.verdicts[c.number]
        made = replace(_join(c, v, drawn, source, solid, unit), against=against.get(c.number, ()))
        wish = wishes.get(c.number)
        if (
            wish is not None
            and v.keys
            and places.meets(wish, _At(v.keys[0], v.levels, v.items[0] if v.items else None))
        ):
            made = replace(made, same_places=((ticked or {})[c.number],))
        out[c.number] = made
    return out, source


def _for_the_part(c: Characteristic, document: SheetDocument) -> Match:
    """A line that asks something of the part that is made: where the sheet says it."""
    wanted = c.bare.stated.said
    ids = tuple(a.id for a in document.annotations if isinstance(a, Statement) and a.says.stated.said == wanted)
    where = "" if ids else "; it stands among the notes: select it and press N on the sheet to put it at its face"
    return Match(c.number, "reference", ids, "", (), reason=f"for the part, not the model{where}")


@dataclass(frozen=True)
class _At:
    """What a line was given."""

    key: tuple[object, ...]
    levels: tuple[Level, ...]
    item: Item | None


def match_part(
    spec: Specification,
    document: SheetDocument,
    solids: Sequence[Solid],
    links: Mapping[str, str | None],
    hints: Sequence[Hints],
    *,
    memory: MatchMemory,
    progress: Callable[[str], None] = lambda _: None,
    rivals: bool = True,
) -> SourceMatch:
    """Match the lines of a source with the solid that it is of, whatever the sheet says; kept in `memory`.

    Raises LookupError where nobody said which of several that is.
    """
    lines = list(spec.characteristics)
    index = source_solid(spec, solids)
    if index is None:
        raise LookupError(which_words(solids))
    shape, _ = shape_of(solids[index])
    if index not in memory.levels:
        memory.levels[index] = Levels(shape, items_of(shape, hints[index].features if index < len(hints) else ()))
    levels = memory.levels[index]
    front = _front(document, index, levels)
    forced = _forced(links, document)
    defaults = _defaults(spec)
    said = [c.model_dump_json(exclude={"words", "working"}) for c in lines]
    key = hashlib.sha256(
        repr((index, said, str(spec.rules.unit), front, sorted(forced.items(), key=str), defaults)).encode()
    ).hexdigest()
    known = memory.made.get(key)
    if known is None or (rivals and not known.asked):
        before = known or next(reversed(memory.made.values()), None)
        memory.made[key] = match_source(
            shape,
            (),
            lines,
            spec.rules.unit,
            front=front,
            defaults=defaults,
            forced=forced,
            before=before,
            progress=progress,
            rivals=rivals,
            kept=levels,
        )
        memory.count += 1
        while len(memory.made) > _KEPT:
            memory.made.popitem(last=False)
    elif known.levels is None:
        memory.made[key] = known.attached(levels)
    memory.made.move_to_end(key)
    return memory.made[key]


def _front(document: SheetDocument, index: int, levels: Levels) -> Orientation | None:
    """How a solid lies in the front view of its sheet."""
    own = next((p.number for p in document.pages if p.solid == index), None)
    view = next((v for v in document.views if v.kind == "front" and v.sheet == own), None)
    if view is None:
        return None
    right, up = np.array(view.right), np.array(view.up)
    found = []
    for d in (np.cross(right, up), up):
        shares = levels.frame @ d
        way = int(np.argmax(np.abs(shares)))
        if not runs_along(float(shares[way])):
            return None
        found.append((way, 1 if shares[way] > 0 else -1))
    return Orientation(found[0], found[1])


def _forced(links: Mapping[str, str | None], document: SheetDocument) -> dict[str, Forced]:
    """A person's choices as places in the part."""
    marks = {a.id: a for a in document.annotations}
    out: dict[str, Forced] = {}
    for number, link in links.items():
        if link is None:
            continue
        chosen = chosen_from(link) if link.startswith("[") else None
        if chosen is not None:
            out[number] = (chosen.kind, chosen.name, chosen.refs)
        elif link in marks and marks[link].refs:
            length = marks[link].kind in ("linear", "ordinate")
            out[number] = (
                "edge" if length else "",
                "",
                tuple(marks[link].refs[:2]) if length else tuple(marks[link].refs),
            )
    return out


def _defaults(spec: Specification) -> tuple[tuple[str, float], ...]:
    """Default rounds and edges of the source: kind and size, mm."""
    scale = 25.4 if spec.rules.unit is Unit.INCH else 1.0
    text = " ; ".join(
        [str(spec.header.get("default", "")), *(c.text for c in spec.characteristics if not meant_by(c.kind).places)]
    )
    out = []
    for kind, pattern in (("round", r"R\s*(\d*\.?\d+)"), ("edge", r"edges?\s*(?:of|by)?\s*(?:R|C)?\s*(\d*\.?\d+)")):
        for value in re.findall(pattern, text, re.I):
            out.append((kind, float(value) * scale))
    return tuple(out)


def _rival_entry(rival: Rival, refs: tuple[str, ...]) -> dict[str, Any]:
    """Another place of a line, to be chosen by hand."""
    key = rival.key
    return {
        "measure": rival.words,
        "value": rival.value,
        "refs": list(refs),
        "faces": list(rival.faces),
        "place": write_chosen(str(key[0]), str(key[2]) if key[0] == "size" else "", refs),
    }


def _join(c: Characteristic, v: Verdict, drawn: Drawn, source: SourceMatch, solid: Solid, unit: Unit) -> Match:
    """A verdict on the part with what the sheet says."""
    levels = source.levels
    assert levels is not None
    main = c.main
    limits = None
    if main is not None and (main.lower is not None or main.upper is not None):
        limits = (None if main.lower is None else float(main.lower), None if main.upper is None else float(main.upper))
    refs = references_of(levels, solid, v.levels if v.keys and v.keys[0][0] in ("edge", "pitch") else (), v.faces)
    place = (
        ""
        if not v.keys or not refs
        else write_chosen(str(v.keys[0][0]), str(v.keys[0][2]) if v.keys[0][0] == "size" else "", refs)
    )
    rivals = tuple(_rival_entry(r, references_of(levels, solid, r.levels, r.faces)) for r in v.rivals)
    state = {"fits": "proven"}.get(v.state, v.state)
    statements: tuple[str, ...] = ()
    how = v.reason
    value_drawn: float | None = None
    missing = ""
    if v.rows or v.items:
        statements, how, value_drawn, missing = derived(v, drawn)
        if state == "proven" and missing:
            state = "not-drawn"
    parts = _parts(c, v, value_drawn, drawn, statements)
    if state == "proven" and value_drawn is not None and main is not None and is_off(value_drawn, main, v, drawn, unit):
        # The model is as the source says; a drawn statement is not.
        state = "differs"
    off = bool(
        state in ("proven", "not-drawn")
        and v.value is not None
        and v.target is not None
        and abs(v.value - v.target) > 5e-3
        and limits is not None
    )
    return Match(
        c.number,
        state,
        statements,
        how or missing or v.reason,
        parts,
        v.measure,
        missing if state == "not-drawn" else v.reason,
        v.slip,
        refs,
        place,
        v.faces,
        rivals,
        v.group,
        v.differences,
        limits,
        off,
    )


def _parts(
    c: Characteristic, v: Verdict, value_drawn: float | None, drawn: Drawn, statements: tuple[str, ...]
) -> tuple[PartMatch, ...]:
    bad = {d.part: d for d in v.differences}
    out: list[PartMatch] = []
    if "count" in bad:
        off = bad["count"]
        out.append(PartMatch("count", off.source, None, off.model, False))
    if not v.items or (v.keys and v.keys[0][0] in ("size", "grid")):
        name = c.main.name if c.main is not None else "length"
        out.append(PartMatch(name, v.target, value_drawn, v.value, v.state != "differs"))
        return tuple(out)
    proofs = [drawn.by_id[s] for s in statements]
    for part in c.parts:
        if part.plain or part.table or part.designation is not None:
            continue
        d = bad.get(part.name)
        if part.nominal is None:
            if d is not None:
                out.append(PartMatch(part.name, None, None, None, False))
            continue
        stated = next(
            (p.stated for s in proofs if (p := s.part(part.name)) is not None and isinstance(p.stated, float)), None
        )
        model = d.model if d is not None else model_size(v.items[0], part.name)
        target = float(part.target if part.target is not None else part.nominal)
        out.append(PartMatch(part.name, target, stated, model, d is None))
    return tuple(out)


def write_part(name: str, value: float | None, unit: Unit) -> str:
    """A part's value as the ledger shows it."""
    if value is None:
        return "–"
    if name == "count":
        return f"{value:g}×"
    return write_angle(value) if name.endswith("angle") else write_length(value, unit)
