"""The source specification as a file: header, characteristics, chains, checkpoints, workings; text or JSON."""

import json
import re
from collections import OrderedDict
from typing import Any

from pydantic import BaseModel, ConfigDict

from canonis.core.callout import GeneralTolerance, HouseRules, Part
from canonis.core.faults import BadInput
from canonis.core.finding import Finding
from canonis.core.house import CHOICES, House, MassCheck
from canonis.core.quantity import Unit, fraction_of, to_mm
from canonis.core.source.amounts import Amount
from canonis.core.source.chains import Chain, solve_chain
from canonis.core.source.characteristic import PROVENANCES, Characteristic
from canonis.core.source.checkpoints import Checkpoint, read_checkpoint
from canonis.core.source.doctor import examine, finding
from canonis.core.source.shorthand import read_line
from canonis.core.source.workings import Known, Working, work_out

__all__ = ["Specification", "known_values", "read_specification", "rules_of"]

_HEADER = (
    "number",
    "title",
    "owner",
    "unit",
    "style",
    "material",
    "density",
    "general",
    "default",
    "square",
    "frame",
    "shared",
    "solid",
    *(c.key for c in CHOICES),
)
_SECTIONS = ("characteristics", "chains", "checkpoints", "workings")


class Specification(BaseModel):
    """Everything the source says, read once."""

    model_config = ConfigDict(frozen=True)

    header: dict[str, Any]
    rules: HouseRules
    density: float | None = None
    characteristics: tuple[Characteristic, ...] = ()
    chains: tuple[Chain, ...] = ()
    checkpoints: tuple[Checkpoint, ...] = ()
    workings: tuple[Working, ...] = ()
    findings: tuple[Finding, ...] = ()

    @property
    def weighed(self) -> tuple[Checkpoint, ...]:
        """The checkpoints that the house compares: all, or the last one (house rule `mass-check`)."""
        return self.checkpoints[-1:] if self.rules.house.mass_check is MassCheck.END else self.checkpoints

    @property
    def readiness(self) -> list[str]:
        """What stops a draft from being trustworthy, the gravest first."""
        out = []
        unread = [c.number or "?" for c in self.characteristics if c.error]
        if unread:
            out.append(f"{len(unread)} line{'s' * (len(unread) > 1)} not read: {', '.join(unread[:8])}")
        lost = [f.subject for f in self.findings if f.rule.startswith("working.")]
        if lost:
            out.append(f"workings to look at: {', '.join(lost[:8])}")
        wrong = [f for f in self.findings if f.severity == "error"]
        if wrong:
            subjects = list(dict.fromkeys(f.subject for f in wrong))
            out.append(f"{len(wrong)} contradiction{'s' * (len(wrong) > 1)}: {', '.join(subjects[:8])}")
        out += [f.message for f in self.findings if f.rule.startswith("missing.")]
        loose = [c.number for c in self.characteristics if c.provenance in ("estimated", "assumed")]
        if loose:
            out.append(f"estimated or assumed: {', '.join(loose[:8])}")
        free = [name for c in self.chains for name in c.unsolved]
        if free:
            out.append(f"chains that leave open: {', '.join(free[:8])}")
        return out

    def as_json(self) -> dict[str, Any]:
        """The specification as `canonis source` prints it."""
        return {
            "schema": "canonis.source/1",
            "header": self.header,
            "characteristics": [c.as_json() for c in self.characteristics],
            "chains": [c.as_json() for c in self.chains],
            "checkpoints": [c.as_json() for c in self.checkpoints],
            "workings": [w.as_json(self.rules.unit) for w in self.workings],
            "readiness": self.readiness,
            "rules": self.rules.house.as_json(),
            "findings": [f.as_json(values=False) for f in self.findings],
        }

    def lengths(self) -> list[float]:
        """The plain lengths that the source states, mm."""
        return [
            float(p.target)
            for c in self.characteristics
            if c.kind == "length"
            for p in c.parts[:1]
            if p.target is not None
        ]

    def values(self, unit: Unit) -> dict[str, float]:
        """Target of each characteristic's first size, in `unit`, for expressions such as #12, and of each part by its
        name (#12.counterbore-depth)."""
        out = {}
        for c in self.characteristics:
            for p in c.parts:
                if p.target is not None:
                    out[f"{c.number}.{p.name}"] = float(p.target) / (
                        25.4 if unit is Unit.INCH and not p.angle and not p.plain else 1.0
                    )
            first = next((p for p in c.parts if p.target is not None), None)
            if first is not None and first.target is not None:
                scale = 25.4 if unit is Unit.INCH and not first.angle else 1.0
                out[c.number] = float(first.target) / scale
        return out


def _from_text(text: str, findings: list[Finding]) -> dict[str, Any]:
    data: dict[str, Any] = {"header": {}, "characteristics": [], "chains": [], "checkpoints": [], "workings": []}
    section = "header"
    for number, raw in enumerate(text.splitlines(), start=1):
        # A comment starts a line, or follows two spaces after a header value.
        line = raw.strip()
        if not line or line.startswith("#"):
            continue
        heading = re.match(r"\[(\w+)\]", line)
        if heading:
            section = heading.group(1).lower()
            if section not in _SECTIONS:
                findings.append(_unread(number, f"section [{heading.group(1)}] is not known", line))
            continue
        if section == "header":
            key, colon, value = line.partition(":")
            value = re.split(r"\s{2,}#", value)[0].strip()
            if not colon:
                findings.append(_unread(number, "the line is no “key: value”", line))
            else:
                data["header"][key.strip().lower()] = value
                if key.strip().lower() not in _HEADER:
                    findings.append(_unread(number, f"key “{key.strip()}” is not known; it is kept", line))
        elif section == "characteristics":
            cells = [c.strip() for c in line.split("|")]
            if len(cells) >= 3:
                data["characteristics"].append(
                    {
                        "number": cells[0],
                        "where": cells[1],
                        "text": cells[2],
                        "line": number,
                        "provenance": cells[3] if len(cells) > 3 else "",
                        "working": cells[4] if len(cells) > 4 else "",
                    }
                )
            else:
                findings.append(_unread(number, "the line is no “number | where | shorthand”", line))
        elif section == "chains":
            direction, colon, rest = line.partition(":")
            if not colon:
                findings.append(_unread(number, "the line is no “direction: chain”", line))
            else:
                data["chains"].append({"direction": direction.strip(), "text": rest, "line": number})
        elif section in ("checkpoints", "workings"):
            data[section].append({"text": line, "line": number})
        else:
            findings.append(_unread(number, "the line stands in an unknown section", line))
    return data


def _unread(number: int, reason: str, line: str) -> Finding:
    return Finding("source.unread", "warning", f"line {number}", f"Line {number}: {reason}: {line[:80]}")


def _from_json(text: str, findings: list[Finding]) -> dict[str, Any]:
    try:
        raw = json.loads(text)
    except (ValueError, RecursionError) as fault:
        line = getattr(fault, "lineno", 1)
        raise BadInput(f"The specification begins like JSON but is not: line {line} cannot be read.") from None
    if not isinstance(raw, dict) or raw.get("schema") != "canonis.source/1":
        raise BadInput("The JSON specification needs “schema”: “canonis.source/1”.")
    given = raw.get("header") or {}
    if not isinstance(given, dict):
        raise BadInput("The header of the JSON specification must be given by name.")
    header = dict(given)
    header |= {k: v for k, v in raw.items() if k in _HEADER}
    for key in raw:
        if key not in (*_HEADER, *_SECTIONS, "schema", "header", "findings", "readiness", "rules"):
            findings.append(_unread(1, f"key “{key}” is not known; it is kept", key))
            header[key] = raw[key]

    def rows(name: str) -> list[Any]:
        value = raw.get(name) or []
        if isinstance(value, dict):
            return [{"direction": k, "text": v} for k, v in value.items()]
        return list(value) if isinstance(value, list) else []

    def chain(row: Any) -> dict[str, Any]:
        if isinstance(row, str):
            direction, _, rest = row.partition(":")
            return {"direction": direction.strip(), "text": rest}
        named = row if isinstance(row, dict) else {"text": row}
        return {"direction": str(named.get("direction", "")), "text": str(named.get("text", ""))}

    def checkpoint(row: Any) -> dict[str, Any]:
        return {"text": str(row.get("text", "") if isinstance(row, dict) else row)}

    lines = []
    for k, row in enumerate(rows("characteristics"), start=1):
        if isinstance(row, str):
            row = {"number": str(k), "text": row}
        if isinstance(row, dict):
            lines.append(
                {
                    "number": str(row.get("number", k)),
                    "where": str(row.get("where", "") or ""),
                    "text": str(row.get("text", "")),
                    "provenance": str(row.get("provenance", "") or ""),
                    "working": str(row.get("working", "") or ""),
                }
            )
    return {
        "header": header,
        "characteristics": lines,
        "chains": [chain(r) for r in rows("chains")],
        "checkpoints": [checkpoint(r) for r in rows("checkpoints")],
        "workings": [checkpoint(r) for r in rows("workings")],
    }


def rules_of(header: dict[str, Any]) -> HouseRules:
    """The house rules that a header states.

    Raises BadInput for a value out of its range.
    """
    unit_text = str(header.get("unit") or "mm").lower().strip()
    if unit_text not in ("mm", "in", "inch"):
        raise BadInput(f"Unit “{header.get('unit')}” is not mm or in.")
    unit = Unit.MM if unit_text == "mm" else Unit.INCH
    house = House.read(header)
    general = GeneralTolerance.read(str(header.get("general", "") or ""), unit)
    square = None
    if header.get("square"):
        try:
            square = to_mm(fraction_of(str(header["square"])), unit)
        except (ValueError, ZeroDivisionError):
            square = None
        if square is None or not 0 < square < 10000:
            raise BadInput(f"Square “{header['square']}” is not the size of a square of the print, such as 5.")
    return HouseRules.model_validate({"unit": unit, "general": general, "square_mm": square, "house": house})


def known_values(lines: list[Characteristic], unit: Unit, workings: dict[str, Amount] | None = None) -> Known:
    """What an expression may refer to: every size of every read line, and earlier workings."""
    values: dict[str, dict[str, Amount]] = {}
    for c in lines:
        if c.error is not None or not c.number:
            continue
        parts: dict[str, Amount] = {}
        for p in c.parts:
            size = p.target if p.target is not None else p.nominal
            if size is not None:
                amount = Amount(size, angle=p.angle) if p.angle or p.plain else Amount(size, 1)
                parts[p.name] = amount
                if not p.plain:
                    parts.setdefault("", amount)
        if parts:
            values[c.number] = parts
    return Known(unit, values, workings or {})


#: Readings of late, by rules and text: every edit of a list reads all its other lines again.
_met: OrderedDict[tuple[str, str], Characteristic] = OrderedDict()
_MOST_MET = 8000


#: A line that only says how the hole of the line above it ends.
_BARE_THRU = re.compile(r"(THRU|THROUGH)(\s+ALL)?\.?", re.I)


def _joined(lines: list[Characteristic]) -> list[Characteristic]:
    """A bare THRU under a hole belongs to that hole: prints write it on a line of its own."""
    out: list[Characteristic] = []
    for c in lines:
        above = out[-1] if out else None
        ended = above is not None and any(p.name in ("through", "depth") for p in above.parts)
        if (
            above is not None
            and c.error is not None
            and _BARE_THRU.fullmatch(c.text.strip())
            and above.kind in ("hole", "diameter", "thread")
            and above.error is None
            and not ended
        ):
            kind = "hole" if above.kind == "diameter" else above.kind
            parts = (*above.parts, Part(name="through"))
            out[-1] = above.model_copy(
                update={"kind": kind, "parts": parts, "words": f"{above.words}, through (line {c.number})"}
            )
            c = c.model_copy(update={"error": None, "words": f"through: the end of line {above.number}"})
        out.append(c)
    return out


def _read_lines(rows: list[dict[str, Any]], rules: HouseRules) -> list[Characteristic]:
    key = rules.model_dump_json()
    out = []
    for row in rows:
        found = _met.get((key, row["text"]))
        if found is None:
            found = _met[(key, row["text"])] = read_line(row["text"], rules)
            if len(_met) > _MOST_MET:
                _met.popitem(last=False)
        provenance = row["provenance"] if row["provenance"] in PROVENANCES else "read"
        own = {"number": row["number"], "where": row["where"], "provenance": provenance, "working": row["working"]}
        out.append(found.model_copy(update=own))
    return out


def _worked(
    rows: list[dict[str, Any]], lines: list[Characteristic], unit: Unit, findings: list[Finding]
) -> list[Working]:
    made: list[Working] = []
    named: dict[str, Amount] = {}
    for k, row in enumerate(rows, start=1):
        try:
            working = work_out(row["text"], known_values(lines, unit, named))
        except BadInput as fault:
            findings.append(
                finding("working.unread", f"W{k}", f"Working {k}, “{row['text'][:60]}”: {fault}.", "warning")
            )
            continue
        made.append(working)
        named[working.name or f"W{k}"] = working.amount
        named[f"W{k}"] = working.amount
    for c in lines:
        if not c.working or c.main is None or c.main.nominal is None:
            continue
        if c.working not in named:
            message = f"Line {c.number} is worked out by {c.working}, which is no longer on the pad."
            findings.append(finding("working.lost", c.number, message, "warning"))
            continue
        got = named[c.working]
        value = (
            got.value
            if got.power or got.angle
            else to_mm(got.value, unit)
            if not isinstance(got.value, float)
            else got.value
        )
        if abs(float(value) - float(c.main.nominal)) > 5e-4 * max(1.0, 10.0 ** -(c.main.decimals or 3) * 1000):
            message = f"Line {c.number} says {c.main.typed}, and its working {c.working} now gives another value."
            findings.append(finding("working.stale", c.number, message))
    return made


def _missing(header: dict[str, Any], lines: list[Characteristic], checkpoints: list[Checkpoint]) -> list[Finding]:
    """What a source should say once, and this one does not."""
    out: list[Finding] = []
    if not lines:
        return out
    if not header.get("unit"):
        out.append(finding("missing.unit", "header", "The source does not say its unit; mm is taken.", "advice"))
    if not header.get("material") and not header.get("density"):
        message = "No material or density is given; without it the mass means nothing."
        out.append(finding("missing.material", "header", message, "advice"))
    if not header.get("general") and not all(
        p.tolerance for c in lines for p in c.parts if p.nominal is not None and not p.plain
    ):
        out.append(
            finding("missing.general", "header", "No general tolerance is given for sizes without their own.", "advice")
        )
    if not header.get("default") and not any(c.general or (c.kind == "note" and c.error is None) for c in lines):
        message = "No default notes are given (rounds, edges, treatment); are there none on the print?"
        out.append(finding("missing.notes", "header", message, "advice"))
    holes = [c for c in lines if c.kind in ("hole", "thread")]
    places = [c for c in lines if c.kind in ("length", "pattern") or c.part("pitch-circle") or c.part("pitch")]
    if holes and not places:
        message = f"Hole notes without any location: lines {', '.join(c.number for c in holes[:6])}."
        out.append(finding("missing.location", holes[0].number, message, "warning"))
    return out


def read_specification(text: str) -> Specification:
    """Read a specification; lines that cannot be read are kept and reported.

    Raises BadInput for a header value out of its range, or JSON that is none.
    """
    if "\x00" in text:
        raise BadInput("The specification is not text; save it as UTF-8.")
    findings: list[Finding] = []
    text = text.lstrip("\ufeff")
    data = _from_json(text, findings) if text.lstrip().startswith("{") else _from_text(text, findings)
    header = data["header"]
    rules = rules_of(header)
    density = None
    if header.get("density"):
        try:
            density = float(str(header["density"]).split()[0].replace(",", "."))
        except (ValueError, IndexError):
            raise BadInput(f"Density “{header['density']}” is not a number of g/cm³.") from None
        if not 0 < density < 100:
            raise BadInput(f"Density “{header['density']}” is out of reach; give g/cm³.")
    lines = _joined(_read_lines(data["characteristics"], rules))
    lookup = {
        c.number: (p.nominal, None if p.upper is None or p.lower is None else (p.upper - p.lower) / 2)
        for c in lines
        if (p := c.main) is not None and p.nominal is not None and not p.angle and c.number
    }
    chains: list[Chain] = []
    checkpoints: list[Checkpoint] = []
    for row in data["chains"]:
        try:
            chains.append(solve_chain(row["direction"], row["text"], rules.unit, lookup))
        except BadInput as fault:
            findings.append(_unread(row.get("line", 0), str(fault), row["text"]))
    for row in data["checkpoints"]:
        try:
            checkpoints.append(read_checkpoint(row["text"], rules.unit, str(header.get("frame") or "")))
        except BadInput as fault:
            findings.append(_unread(row.get("line", 0), str(fault), row["text"]))
    workings = _worked(data["workings"], lines, rules.unit, findings)
    findings += examine(lines, chains, rules)
    findings += _missing(header, lines, checkpoints)
    return Specification(
        header=header,
        rules=rules,
        density=density,
        characteristics=tuple(lines),
        chains=tuple(chains),
        checkpoints=tuple(checkpoints),
        workings=tuple(workings),
        findings=tuple(findings),
    )
