"""What the proof says of the lines of a source: one finding for one difference, its cause named where the figures allow."""

from collections.abc import Mapping
from typing import Any

from canonis.core.finding import About, Finding, Severity
from canonis.core.proof.match.chosen import level_reference, references_of
from canonis.core.proof.match.verdict import SourceMatch
from canonis.core.proof.matching import Match, write_part
from canonis.core.quantity import Unit, from_mm
from canonis.core.source import Specification

__all__ = ["source_findings", "unexplained_sizes"]


def _finding(
    rule: str,
    severity: Severity,
    subject: str,
    expected: Any,
    found: Any,
    *,
    message: str,
    part: str = "",
    about: About | None = None,
) -> Finding:
    return Finding(rule, severity, subject, message, expected, found, part, about=about or About())


def source_findings(
    spec: Specification, matches: Mapping[str, Match], source: SourceMatch, unit: Unit
) -> list[Finding]:
    """Findings on every line that is not proven, and on what the source leaves unsaid."""
    out: list[Finding] = []
    if source.note:
        out.append(_finding("source.unmatched", "warning", "source", None, None, message=source.note))
        return out
    for c in spec.characteristics:
        match = matches.get(c.number)
        if match is not None:
            out += _line(c, match, unit)
    if _says_something(source):
        out += _gaps(source, unit)
    return out


def _says_something(source: SourceMatch) -> bool:
    """Whether any line of the source says where something of the part is; notes, references and estimates do not."""
    return any(v.keys and v.state != "reference" for v in source.verdicts.values())


def _line(c: Any, match: Match, unit: Unit) -> list[Finding]:
    subject, said = f"#{c.number}", f"#{c.number} “{c.text}”"
    if match.state in ("proven", "not-drawn") and match.off_target:
        return [*_off_target(subject, said, match, unit), *_undrawn(c, subject, said, match)]
    if match.state == "not-drawn":
        return _undrawn(c, subject, said, match)
    if match.state == "no-place":
        if match.reason == "unlinked by hand":
            return [
                _finding(
                    "source.undrawn",
                    "warning",
                    subject,
                    c.text,
                    None,
                    message=f"{said} is not on the sheet: unlinked by hand.",
                )
            ]
        return [
            _finding(
                "source.no-place", "error", subject, c.text, None, message=f"{said}: nothing in the model is like it."
            )
        ]
    if match.state == "ambiguous":
        rivals = "".join(f"; or {r['measure']} ({write_part('length', r['value'], unit)})" for r in match.rivals[:3])
        return [
            _finding(
                "source.ambiguous",
                "advice",
                subject,
                c.text,
                None,
                message=f"{said}: likely the {match.measure}{rivals}: {match.reason}.",
            )
        ]
    if match.state != "differs":
        return []
    if match.against:
        others = ", ".join(f"#{n}" for n in match.against)
        return [
            _finding(
                "source.contradiction",
                "warning",
                subject,
                c.text,
                None,
                message=f"{said} and {others} state one size differently ({match.measure}): the source contradicts itself.",
            )
        ]
    return [_differs(c, subject, said, match, unit)]


def _undrawn(c: Any, subject: str, said: str, match: Match) -> list[Finding]:
    if match.state != "not-drawn":
        return []
    return [
        _finding(
            "source.undrawn", "warning", subject, c.text, None, message=f"{said} is not on the sheet: {match.reason}."
        )
    ]


def _off_target(subject: str, said: str, match: Match, unit: Unit) -> list[Finding]:
    main = match.main
    if main is None or main.model is None or match.limits is None:
        return []
    lower, upper = match.limits
    place = "inside its limits"
    for limit, word in ((lower, "at its lower limit"), (upper, "at its upper limit")):
        if limit is not None and abs(main.model - limit) < 5e-3:
            place = word
    return [
        _finding(
            "limits.target",
            "advice",
            subject,
            main.source,
            main.model,
            message=f"{said}: the model has {write_part(main.name, main.model, unit)}, {place}; the house rule asks for "
            f"{write_part(main.name, main.source, unit)}.",
        )
    ]


def _differs(c: Any, subject: str, said: str, match: Match, unit: Unit) -> Finding:
    """One finding for a line that differs, with all of its parts."""
    bad = [p for p in match.parts if not p.ok]
    first = bad[0] if bad else None
    group = f" (or {', '.join('#' + n for n in match.group)}, which says the same)" if match.group else ""
    likely = "; ".join(dict.fromkeys(filter(None, [match.slip, *(d.slip for d in match.differences)])))
    tail = f" Likely: {likely}." if likely else ""
    if first is not None and first.name in ("length", "angle", "thickness", "pitch") and not match.differences:
        model = write_part(first.name, first.model, unit)
        message = f"{said}{group} fits best here, as {model}: {match.measure}.{tail}"
    else:
        pieces = []
        for p in bad:
            name = p.name.replace("-", " ")
            if p.source is None:
                pieces.append(f"the source says {name}, the model does not show it")
            else:
                have = write_part(p.name, p.model, unit) if p.model is not None else "none"
                pieces.append(f"the source says {name} {write_part(p.name, p.source, unit)}, the model has {have}")
        told = {p.name for p in bad}
        for d in match.differences:
            if d.part not in told:
                what = d.slip or f"{d.part.replace('-', ' ')} differs"
                pieces.append(what if d.model is None else f"{what} ({write_part(d.part, d.model, unit)})")
                tail = ""
        if not pieces and match.main is not None and match.main.drawn is not None:
            pieces.append(
                f"the sheet says {write_part(match.main.name, match.main.drawn, unit)}, source and model {write_part(match.main.name, match.main.model, unit)}"
            )
        message = f"{said}{group}, {match.measure}: {'; '.join(pieces) or 'it differs'}.{tail}"
    return _finding(
        "value.source",
        "error",
        subject,
        first.source if first else None,
        first.model if first else None,
        message=message,
        part=first.name if first else "length",
        about=About(statements=match.statements, faces=frozenset(match.faces)),
    )


def _gaps(source: SourceMatch, unit: Unit) -> list[Finding]:
    """What no line of the source reaches: said once, and nobody accused for it."""
    levels = source.levels
    out = []
    if levels is not None and source.unreached:
        words = [levels.words(n) for n in source.unreached]
        more = f" and {len(words) - 6} more" if len(words) > 6 else ""
        out.append(
            _finding(
                "source.insufficient",
                "advice",
                "source",
                None,
                None,
                message=f"The source leaves unsaid where {len(words)} level{'s' * (len(words) > 1)} of the part lie{'s' * (len(words) == 1)}: "
                f"{', '.join(words[:6])}{more}.",
            )
        )
    for item in source.unexplained[:12]:
        out.append(
            _finding(
                "source.unexplained",
                "warning",
                item.label,
                None,
                None,
                message=f"No line of the source says the {_item_words(item, unit)}.",
            )
        )
    return out


def _item_words(item: Any, unit: Unit) -> str:
    name = {"fillet": "round", "cylinder": "round face"}.get(item.kind, item.kind)
    count = f"{item.count} × " if item.count > 1 else ""
    for size, sign in (("diameter", "⌀"), ("radius", "R"), ("width", ""), ("leg", ""), ("thickness", "")):
        value = item.value(size)
        if isinstance(value, float):
            return f"{name} {item.label} ({count}{sign}{write_part(size, value, unit)})"
    return f"{name} {item.label}"


def unexplained_sizes(source: SourceMatch, unit: Unit, solid: Any) -> list[dict[str, Any]]:
    """Sizes that the model has and no line of the source implies: in words, value in the sheet's unit, references."""

    levels = source.levels
    if levels is None or source.note or not _says_something(source):
        return []
    out = []
    for n in source.unreached:
        ref = level_reference(levels, n)
        out.append(
            {
                "measure": levels.words(n),
                "value": round(from_mm(n.value - levels.low[n.way].value, unit), 9),
                "refs": [ref] if ref else [],
                "faces": sorted(n.faces),
            }
        )
    for item in source.unexplained:
        value = next(
            (v for k in ("diameter", "radius", "width", "leg", "thickness") if isinstance(v := item.value(k), float)),
            None,
        )
        out.append(
            {
                "measure": _item_words(item, unit),
                "value": None if value is None else round(from_mm(value, unit), 9),
                "refs": list(references_of(levels, solid, (), sorted(item.faces))),
                "faces": sorted(item.faces),
            }
        )
    return out
