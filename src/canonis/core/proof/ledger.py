"""The ledger: a line for each characteristic, each drawn statement and each mass, with what source, sheet and model say."""

from collections.abc import Mapping, Sequence
from typing import Any

from canonis.core.callout import of_the_part
from canonis.core.proof.match.tally import Difference
from canonis.core.proof.matching import Match, PartMatch, write_part
from canonis.core.proof.statement import PartProof, StatementProof
from canonis.core.quantity import Unit, from_mm
from canonis.core.sheet import Annotation
from canonis.core.source import Specification
from canonis.core.tolerances import NOISE

__all__ = ["ledger_lines", "said"]

#: What a proof's own words for a statement's state are in the ledger.
_STATES = {
    "proven": "proven",
    "unproven": "unproven",
    "contradicted": "differs-model",
    "lost": "lost",
    "reference": "reference",
}
_MASS_STATES = {"proven": "proven", "unproven": "unproven", "differs": "differs"}


def ledger_lines(
    spec: Specification | None,
    statements: Sequence[StatementProof],
    matches: Mapping[str, Match],
    unit: Unit,
    mass_rows: Sequence[dict[str, Any]],
    drawn: Mapping[str, Annotation],
) -> list[dict[str, Any]]:
    """Every line of the ledger; numbers are in the sheet's unit (degrees for angles), `…_text` as they are written."""
    rows = [] if spec is None else [_characteristic(c, matches.get(c.number), unit) for c in spec.characteristics]
    named: dict[str, list[str]] = {}
    for number, match in matches.items():
        for s in match.statements:
            named.setdefault(s, []).append(number)
    rows += [_statement(p, named.get(p.id, []), unit, drawn[p.id]) for p in statements]
    return rows + [_mass(r) for r in mass_rows]


def said(part: PartProof | None, unit: Unit) -> tuple[str, str]:
    """What a part of a statement states and what the model has, as written."""

    def one(value: Any) -> str:
        if isinstance(value, bool):
            return "yes" if value else "no"
        if isinstance(value, str):
            return value
        return write_part(part.name if part else "", value, unit) if isinstance(value, float) else "nothing"

    return ("", "nothing") if part is None else (one(part.stated), one(part.measured))


def _number(name: str, value: float | None, unit: Unit) -> float | None:
    if value is None or name == "count" or name.endswith("angle") or name == "ratio":
        return value
    return round(from_mm(value, unit), 9)


def _gap(name: str, gap: float | None, unit: Unit) -> str | None:
    if gap is None or abs(gap) < NOISE / 2:
        return None
    if name == "count":
        return f"{gap:+g}"
    scale = 25.4 if unit is Unit.INCH and not name.endswith("angle") else 1.0
    return f"{gap / scale:+.4g}"


def _telling(match: Match | None) -> PartMatch | None:
    """The part that tells most: one that differs, else the first."""
    if match is None:
        return None
    bad = next((p for p in match.parts if not p.ok and p.source is not None), None)
    return bad or match.main


def _characteristic(c: Any, match: Match | None, unit: Unit) -> dict[str, Any]:
    main = _telling(match)
    name = main.name if main else "length"
    gap = None
    if main and main.model is not None and main.source is not None:
        gap = main.model - main.source
    row = {
        "key": f"c:{c.number}",
        "kind": "characteristic",
        "number": c.number,
        "text": c.text,
        "words": c.words,
        "where": c.where,
        "state": "unread" if c.error else match.state if match else "unread",
        "source": _number(name, main.source, unit) if main else None,
        "drawn": _number(name, main.drawn, unit) if main else None,
        "model": _number(name, main.model, unit) if main else None,
        "source_text": write_part(name, main.source, unit) if main and main.source is not None else c.text,
        "drawn_text": None if main is None or main.drawn is None else write_part(name, main.drawn, unit),
        "model_text": None if main is None or main.model is None else write_part(name, main.model, unit),
        "difference": _gap(name, gap, unit),
        "statements": list(match.statements) if match else [],
        "how": match.how if match else "",
        "measure": match.measure if match else "",
        "refs": list(match.refs) if match else [],
        "place": match.place if match else "",
        "faces": list(match.faces) if match else [],
        "rivals": [],
        "limits": None,
        "group": list(match.group) if match else [],
        "reason": c.error.message if c.error else match.reason if match else "",
        "likely": match.slip if match else "",
        "ticked": None,
        "same_places": list(match.same_places) if match else [],
    }
    if match is not None:
        if match.limits is not None:
            row["limits"] = [_number(name, x, unit) for x in match.limits]
        row["rivals"] = [
            {**r, "value": _number(name, r["value"], unit), "value_text": write_part(name, r["value"], unit)}
            for r in match.rivals
        ]
        if not row["likely"]:
            row["likely"] = "; ".join(_words(d) for d in match.differences if d.slip)
    return row


def _words(d: Difference) -> str:
    return d.slip


def _statement(p: StatementProof, matched: Sequence[str], unit: Unit, mark: Annotation) -> dict[str, Any]:
    part = next((x for x in p.parts if not x.ok), None) or p.main or (p.parts[0] if p.parts else None)
    stated, measured = said(part, unit) if part else (p.text, "nothing")
    if p.reading is not None and of_the_part(p.reading.kind) and p.state != "contradicted":
        part, stated, measured = None, "asked", "–"
    name = part.name if part else ""
    values = [
        x if isinstance(x, float) and not isinstance(x, bool) else None
        for x in ((part.stated, part.measured) if part else (None, None))
    ]
    gap = None if values[0] is None or values[1] is None else values[1] - values[0]
    return {
        "key": f"s:{p.id}",
        "kind": "statement",
        "number": p.id,
        "text": p.text,
        "words": p.kind,
        "source": None,
        "drawn": _number(name, values[0], unit),
        "model": _number(name, values[1], unit),
        "source_text": ", ".join(f"#{n}" for n in matched) or None,
        "drawn_text": stated,
        "model_text": measured,
        "difference": _gap(name, gap, unit),
        "state": _STATES[p.state],
        "statements": [p.id],
        "how": p.note,
        "change": p.change,
        "view": mark.view or "",
        "feature": mark.feature or "",
    }


def _mass(r: dict[str, Any]) -> dict[str, Any]:
    return {
        **r,
        "source": r.get("source_value"),
        "drawn": None,
        "model": r.get("model_value"),
        "source_text": r["source"],
        "drawn_text": r["drawn"],
        "model_text": r["model"],
        "state": _MASS_STATES[r["state"]],
        "statements": [],
    }
