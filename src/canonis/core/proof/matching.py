"""Matching the source with the sheet: each characteristic is derived from what the drawn statements imply."""

import math
from dataclasses import dataclass
from itertools import combinations

from canonis.core.proof.measure import StatementProof
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import write_angle, write_length
from canonis.core.source.characteristic import Characteristic, Part

__all__ = ["Match", "match_all"]

_AXES = "xyz"


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
    """What the sheet and the model say of a characteristic. `how` writes the derivation out."""

    number: str
    state: str
    statements: tuple[str, ...]
    how: str
    parts: tuple[PartMatch, ...]

    @property
    def main(self) -> PartMatch | None:
        """The part that carries the value."""
        return next((p for p in self.parts if p.name != "count" and p.source is not None), None)


@dataclass(frozen=True)
class _Implied:
    """A length that the drawn statements imply, with its model value and the sum that gives it."""

    drawn: float
    model: float
    ids: tuple[str, ...]
    how: str
    rank: int


def _room(part: Part) -> tuple[float, float]:
    """Limits a value must lie in to count as this part: its own, or half a unit of what was typed."""
    assert part.nominal is not None
    nominal = float(part.nominal)
    if part.lower is not None or part.upper is not None:
        low = -math.inf if part.lower is None else float(part.lower) - 1e-6
        return low, math.inf if part.upper is None else float(part.upper) + 1e-6
    slack = max(0.01, 0.5 * 10.0 ** -(part.decimals if part.decimals is not None else 4))
    return nominal - slack, nominal + slack


def _fits(part: Part, value: float | None) -> bool:
    """Whether a model value meets a part: inside its limits and at its target when the target is not nominal."""
    if value is None or part.nominal is None:
        return value is None and part.nominal is None
    low, high = _room(part)
    if not low <= value <= high:
        return False
    target = float(part.target if part.target is not None else part.nominal)
    # Inside wide general limits a model that misses the stated size is still a difference to name.
    return abs(value - target) <= max(2e-3, 0.5 * 10.0 ** -(part.decimals or 3) * 1.05)


def _lengths(proofs: list[StatementProof], unit: Unit) -> list[_Implied]:
    """Every length the sheet gives: stated ones, then differences along one direction, halves, doubles."""
    out: list[_Implied] = []
    levels: dict[tuple[int, float], tuple[float, float, str]] = {}

    def w(x: float) -> str:
        return write_length(x, unit)

    for p in proofs:
        part = p.part("length")
        if p.state in ("lost", "unproven") or part is None or not isinstance(part.stated, float):
            continue
        measured = float(part.measured) if isinstance(part.measured, float) else part.stated
        if p.levels and part.stated:
            out.append(_Implied(part.stated, measured, (p.id,), p.text, 0))
            base, level = p.levels
            sign = 1.0 if level[1] >= base[1] else -1.0
            levels.setdefault(level, (base[1] + sign * part.stated, level[1], p.id))
            levels.setdefault(base, (base[1], base[1], p.id))
    by_axis: dict[int, list[tuple[float, float, str]]] = {}
    for (axis, _), entry in levels.items():
        by_axis.setdefault(axis, []).append(entry)
    for axis, entries in sorted(by_axis.items()):
        for a, b in combinations(sorted(entries), 2):
            drawn, model = b[0] - a[0], b[1] - a[1]
            if drawn > 1e-3:
                how = f"{w(b[0])} − {w(a[0])} = {w(drawn)} along {_AXES[axis]}"
                out.append(_Implied(drawn, model, tuple(dict.fromkeys((b[2], a[2]))), how, 1))
    for p in proofs:
        for part in p.parts:
            wanted = part.name in ("depth", "centres", "width", "counterbore-depth")
            if wanted and isinstance(part.stated, float) and isinstance(part.measured, float):
                out.append(_Implied(part.stated, part.measured, (p.id,), f"{part.name} of {p.text}", 2))
    for p in proofs:
        part = p.part("radius")
        if (
            p.kind == "radius"
            and part is not None
            and isinstance(part.stated, float)
            and isinstance(part.measured, float)
        ):
            # A round end is as wide as its diameter.
            how = f"{p.text} × 2 = {w(2 * part.stated)}"
            out.append(_Implied(2 * part.stated, 2 * part.measured, (p.id,), how, 3))
    plain = [o for o in out if o.rank == 0]
    # Nothing on a part is larger than its largest size: a double beyond it is a slip, not a match.
    largest = max((o.drawn for o in plain), default=0.0) + 1e-6
    for one in plain:
        out.append(_Implied(one.drawn / 2, one.model / 2, one.ids, f"{w(one.drawn)} ÷ 2 = {w(one.drawn / 2)}", 3))
        if one.drawn * 2 <= largest:
            out.append(_Implied(one.drawn * 2, one.model * 2, one.ids, f"{w(one.drawn)} × 2 = {w(one.drawn * 2)}", 4))
    return out


def _match_length(c: Characteristic, part: Part, implied: list[_Implied], link: str | None) -> Match:
    assert part.nominal is not None
    target = float(part.target if part.target is not None else part.nominal)
    pool = [i for i in implied if link is None or link in i.ids]
    close = [i for i in pool if abs(i.drawn - target) <= max(2e-3, 0.51 * 10.0 ** -(part.decimals or 4))]
    close.sort(key=lambda i: (i.rank, abs(i.drawn - target)))
    if not close and link is not None and pool:
        close = [min((i for i in pool if i.rank == 0), key=lambda i: abs(i.drawn - target), default=pool[0])]
    if not close:
        return Match(c.number, "unproven", (), "no drawn statement or sum gives this size",
                     (PartMatch("length", target, None, None, False),))  # fmt: skip
    # A sum that the model bears out speaks before one that it does not.
    best = next((i for i in close if i.rank == close[0].rank and _fits(part, i.model)), close[0])
    ok = _fits(part, best.model)
    match = PartMatch("length", target, best.drawn, best.model, ok)
    return Match(c.number, "proven" if ok else "differs", best.ids, best.how, (match,))


#: Parts that say how something is meant; nothing on a sheet is measured for them yet.
_NOT_DRAWN = ("equally-spaced", "sphere", "flat-bottom", "point-angle", "start-angle", "pitch-angle", "full-radius")


def _stated(p: StatementProof, name: str) -> tuple[float | None, float | None, bool]:
    """Drawn and model value of a part of a statement, radius and diameter converted; whether it has one."""
    part = p.part(name)
    factor = 1.0
    if part is None and name in ("diameter", "radius"):
        part = p.part("radius" if name == "diameter" else "diameter")
        factor = 2.0 if name == "diameter" else 0.5
    if part is None:
        return None, None, False
    drawn = part.stated * factor if isinstance(part.stated, float) else None
    model = part.measured * factor if isinstance(part.measured, float) else None
    return drawn, model, True


def _score(c: Characteristic, p: StatementProof) -> float:
    """How well a statement could be what a characteristic means; 0 when it cannot."""
    first = next((x for x in c.parts if x.nominal is not None), None)
    if first is None or first.nominal is None:
        return 0.0
    drawn, model, has = _stated(p, first.name)
    if not has:
        return 0.0
    low, high = _room(first)
    near = [v for v in (drawn, model) if v is not None]
    if not any(low - 0.02 * abs(high) <= v <= high + 0.02 * abs(high) for v in near):
        return 0.0
    score = 1.0 + (1.0 if any(low <= v <= high for v in near) else 0.0)
    for part in c.parts[1:]:
        d, m, there = _stated(p, part.name)
        if there and part.nominal is None:
            score += 0.5
        elif there and any(v is not None and _room(part)[0] <= v <= _room(part)[1] for v in (d, m)):
            score += 1.0
        elif not there and part.name not in ("pitch-circle", "equally-spaced"):
            score -= 0.4
    count = p.part("count")
    if count is not None and count.stated == float(c.count):
        score += 0.6
    kinds = {"hole": ("hole",), "round": ("note", "radius"), "pattern": ("bolt-circle",)}
    if p.kind in kinds.get(c.kind, (c.kind,)):
        score += 0.5
    return max(score, 0.0)


def _match_feature(c: Characteristic, proofs: list[StatementProof], link: str | None) -> Match:
    pool = [p for p in proofs if p.parts and p.state != "lost" and (link is None or p.id == link)]
    scored = sorted(((_score(c, p), -k, p) for k, p in enumerate(pool)), key=lambda s: s[:2], reverse=True)
    scored = [s for s in scored if s[0] > 0.9 or link is not None]
    if not scored:
        return Match(c.number, "unproven", (), "no drawn statement gives this", ())
    best = scored[0][2]
    same = [best]
    stated_count = best.part("count")
    if c.count > 1 and stated_count is not None and stated_count.stated != float(c.count):
        # One line of the source may be drawn as several notes (other faces, other levels).
        same += [s[2] for s in scored[1:] if s[0] >= scored[0][0] - 0.7 and s[2].kind == best.kind]
        total = 0.0
        kept = []
        for p in same:
            n = p.part("count")
            if total < c.count and n is not None and isinstance(n.stated, float):
                total += n.stated
                kept.append(p)
        same = kept if total == c.count else [best]
    parts: list[PartMatch] = []
    drawn_n = sum(float(n.stated) for p in same if (n := p.part("count")) and isinstance(n.stated, float))
    model_n = sum(float(n.measured) for p in same if (n := p.part("count")) and isinstance(n.measured, float))
    if drawn_n and not c.typical:
        ok = drawn_n == model_n == c.count or (c.count == 1 and c.kind in ("radius", "diameter") and model_n >= 1)
        parts.append(PartMatch("count", float(c.count), drawn_n, model_n, ok))
    for part in c.parts:
        if part.name in _NOT_DRAWN or part.plain or (part.table and part.name in ("major", "pitch", "tap-drill")):
            continue
        owner = next((p for p in same if _stated(p, part.name)[2]), None)
        if part.name == "pitch-circle" and owner is None:
            owner = next((p for p in proofs if p.kind == "bolt-circle"), None)
        drawn, model, _ = _stated(owner, part.name) if owner else (None, None, False)
        if part.nominal is None:
            held = owner.part(part.name) if owner else None
            good = held is not None and held.ok
            parts.append(PartMatch(part.name, None, None, None, good))
            continue
        if part.name == "angle" and c.kind == "chamfer" and owner is None:
            continue
        target = float(part.target if part.target is not None else part.nominal)
        parts.append(PartMatch(part.name, target, drawn, model, _fits(part, model)))
    state = "proven" if all(p.ok for p in parts) else "differs"
    how = " + ".join(p.text for p in same)
    return Match(c.number, state, tuple(p.id for p in same), how, tuple(parts))


_NOT_COMPARED = ("note", "thread", "arc-slot", "keyway", "groove", "draft", "wall", "polygon", "spline")


def match_all(
    characteristics: list[Characteristic], proofs: list[StatementProof], unit: Unit, links: dict[str, str | None]
) -> dict[str, Match]:
    """Match every read characteristic; `links` are a person's own: a statement's id, or None for unlinked."""
    implied = _lengths(proofs, unit)
    out = {}
    for c in characteristics:
        if c.error is not None:
            continue
        if c.number in links and links[c.number] is None:
            out[c.number] = Match(c.number, "unproven", (), "unlinked by hand", ())
            continue
        link = links.get(c.number)
        length = c.part("length")
        if c.kind == "length" and length is not None and length.nominal is not None:
            match = _match_length(c, length, implied, link)
        elif c.kind in _NOT_COMPARED:
            match = Match(c.number, "unproven", (), "this kind is not compared with the model yet", ())
        else:
            match = _match_feature(c, proofs, link)
        out[c.number] = Match(match.number, "reference", match.statements, match.how, match.parts) if (
            c.reference and match.state == "proven") else match  # fmt: skip
    return out


def write_part(name: str, value: float | None, unit: Unit) -> str:
    """A part's value as the ledger shows it."""
    if value is None:
        return "–"
    if name == "count":
        return f"{value:g}×"
    return write_angle(value) if name.endswith("angle") else write_length(value, unit)
