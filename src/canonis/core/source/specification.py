"""The source specification as a file: header, characteristics, chains, checkpoints; text or JSON."""

import json
import re
from typing import Any

from pydantic import BaseModel, ConfigDict

from canonis.core.faults import BadInput
from canonis.core.quantity.units import Unit, to_mm
from canonis.core.quantity.written import fraction_of
from canonis.core.source.chains import Chain, solve_chain
from canonis.core.source.characteristic import Characteristic
from canonis.core.source.rules import GeneralTolerance, HouseRules
from canonis.core.source.shorthand import read_line

__all__ = ["Checkpoint", "Specification", "read_checkpoint", "read_specification"]

_HEADER = (
    "number",
    "title",
    "owner",
    "unit",
    "style",
    "material",
    "density",
    "limits",
    "general",
    "default",
    "projection",
)
_SECTIONS = ("characteristics", "chains", "checkpoints")


class Checkpoint(BaseModel):
    """A mass checkpoint: grams, centre in mm in its own frame, and how many decimals were given."""

    model_config = ConfigDict(frozen=True)

    step: str
    mass_g: float | None = None
    mass_half: float = 0.05
    centre_mm: tuple[float, float, float] | None = None
    centre_half: float = 0.05
    frame_mm: tuple[float, float, float] = (0.0, 0.0, 0.0)
    text: str = ""

    def as_json(self) -> dict[str, Any]:
        """The checkpoint as plain data."""
        return {
            "step": self.step, "mass_g": self.mass_g, "centre_mm": self.centre_mm, "frame_mm": list(self.frame_mm),
            "mass_half_g": self.mass_half, "centre_half_mm": self.centre_half,
        }  # fmt: skip


class Specification(BaseModel):
    """Everything the source says, read once."""

    model_config = ConfigDict(frozen=True)

    header: dict[str, Any]
    rules: HouseRules
    density: float | None = None
    characteristics: tuple[Characteristic, ...] = ()
    chains: tuple[Chain, ...] = ()
    checkpoints: tuple[Checkpoint, ...] = ()
    findings: tuple[dict[str, Any], ...] = ()

    def as_json(self) -> dict[str, Any]:
        """The specification as `canonis source` prints it."""
        return {
            "schema": "canonis.source/1", "header": self.header,
            "characteristics": [c.as_json() for c in self.characteristics],
            "chains": [c.as_json() for c in self.chains], "checkpoints": [c.as_json() for c in self.checkpoints],
            "findings": list(self.findings),
        }  # fmt: skip

    def values(self, unit: Unit) -> dict[str, float]:
        """Target of each characteristic's first size, in `unit`, for expressions such as #12."""
        out = {}
        for c in self.characteristics:
            first = next((p for p in c.parts if p.target is not None), None)
            if first is not None and first.target is not None:
                scale = 25.4 if unit is Unit.INCH and not first.angle else 1.0
                out[c.number] = float(first.target) / scale
        return out


_MASS_UNITS = {"g": 1.0, "kg": 1000.0, "lb": 453.59237, "": 1.0}


def _half(text: str) -> float:
    digits = re.sub(r"[^\d.]", "", text)
    return 0.5 * 10.0 ** -(len(digits.split(".")[1]) if "." in digits else 0)


def _triple(text: str, unit: Unit) -> tuple[float, float, float]:
    values = [float(to_mm(fraction_of(t), unit)) for t in text.split(",")]
    if len(values) != 3:
        raise ValueError
    return (values[0], values[1], values[2])


def read_checkpoint(line: str, unit: Unit) -> Checkpoint:
    """Read ``step | mass | centre | frame origin``; mass in g, kg or lb, lengths in the job's unit.

    Raises BadInput when a cell cannot be read.
    """
    cells = [c.strip() for c in line.split("|")] + ["", "", ""]
    mass, half = None, 0.05
    if cells[1]:
        found = re.fullmatch(r"([\d.,]+)\s*(g|kg|lb|)", cells[1], re.I)
        if not found:
            raise BadInput(f"“{cells[1]}” is not a mass such as 412.7 g")
        factor = _MASS_UNITS[found.group(2).lower()]
        mass, half = float(fraction_of(found.group(1))) * factor, _half(found.group(1)) * factor
    try:
        centre = _triple(cells[2], unit) if cells[2] else None
        frame = _triple(cells[3], unit) if cells[3] else (0.0, 0.0, 0.0)
    except (ValueError, ZeroDivisionError):
        raise BadInput(f"“{cells[2] or cells[3]}” is not a point of three numbers") from None
    scale = 25.4 if unit is Unit.INCH else 1.0
    centre_half = max((_half(t) for t in cells[2].split(",")), default=0.05) * scale if cells[2] else 0.05
    return Checkpoint(step=cells[0], mass_g=mass, mass_half=half, centre_mm=centre, centre_half=centre_half,
                      frame_mm=frame, text=line.strip())  # fmt: skip


def _from_text(text: str, findings: list[dict[str, Any]]) -> dict[str, Any]:
    data: dict[str, Any] = {"header": {}, "characteristics": [], "chains": [], "checkpoints": []}
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
            cells = [c.strip() for c in line.split("|", 2)]
            if len(cells) == 3:
                data["characteristics"].append(
                    {"number": cells[0], "where": cells[1], "text": cells[2], "line": number}
                )
            else:
                findings.append(_unread(number, "the line is no “number | where | shorthand”", line))
        elif section == "chains":
            direction, colon, rest = line.partition(":")
            if not colon:
                findings.append(_unread(number, "the line is no “direction: chain”", line))
            else:
                data["chains"].append({"direction": direction.strip(), "text": rest, "line": number})
        elif section == "checkpoints":
            data["checkpoints"].append({"text": line, "line": number})
        else:
            findings.append(_unread(number, "the line stands in an unknown section", line))
    return data


def _unread(number: int, reason: str, line: str) -> dict[str, Any]:
    return {"rule": "source.unread", "severity": "warning", "subject": f"line {number}",
            "message": f"Line {number}: {reason}: {line[:80]}"}  # fmt: skip


def _from_json(text: str, findings: list[dict[str, Any]]) -> dict[str, Any]:
    try:
        raw = json.loads(text)
    except (json.JSONDecodeError, RecursionError) as fault:
        line = getattr(fault, "lineno", 1)
        raise BadInput(f"The specification begins like JSON but is not: line {line} cannot be read.") from None
    if not isinstance(raw, dict) or raw.get("schema") != "canonis.source/1":
        raise BadInput("The JSON specification needs “schema”: “canonis.source/1”.")
    header = dict(raw.get("header") or {})
    header |= {k: v for k, v in raw.items() if k in _HEADER}
    for key in raw:
        if key not in (*_HEADER, *_SECTIONS, "schema", "header", "findings"):
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
        return {"direction": str(row.get("direction", "")), "text": str(row.get("text", ""))}

    def checkpoint(row: Any) -> dict[str, Any]:
        return {"text": row if isinstance(row, str) else str(row.get("text", ""))}

    lines = []
    for k, row in enumerate(rows("characteristics"), start=1):
        if isinstance(row, str):
            row = {"number": str(k), "text": row}
        if isinstance(row, dict):
            lines.append({"number": str(row.get("number", k)), "where": str(row.get("where", "") or ""),
                          "text": str(row.get("text", ""))})  # fmt: skip
    return {
        "header": header, "characteristics": lines, "chains": [chain(r) for r in rows("chains")],
        "checkpoints": [checkpoint(r) for r in rows("checkpoints")],
    }  # fmt: skip


def _rules(header: dict[str, Any]) -> HouseRules:
    unit_text = str(header.get("unit", "mm")).lower().strip()
    if unit_text not in ("mm", "in", "inch"):
        raise BadInput(f"Unit “{header.get('unit')}” is not mm or in.")
    unit = Unit.MM if unit_text == "mm" else Unit.INCH
    limits = str(header.get("limits", "middle") or "middle").lower()
    if limits not in ("middle", "nominal", "upper", "lower"):
        raise BadInput(f"Limits “{limits}” is not middle, nominal, upper or lower.")
    general = GeneralTolerance.read(str(header.get("general", "") or ""), unit)
    return HouseRules.model_validate({"unit": unit, "limits": limits, "general": general})


def _doctor(characteristics: list[Characteristic], chains: list[Chain]) -> list[dict[str, Any]]:
    """Contradictions that the lines themselves show."""
    out: list[dict[str, Any]] = []

    def say(rule: str, subject: str, message: str, severity: str = "error") -> None:
        out.append({"rule": rule, "severity": severity, "subject": subject, "message": message})

    numbers: dict[str, int] = {}
    for c in characteristics:
        numbers[c.number] = numbers.get(c.number, 0) + 1
        if c.error:
            reason = f"{c.error.message} (column {c.error.column})"
            say("source.unread", c.number, f"Line {c.number or '?'} is not read: {reason}.", "warning")
        bore, hole = c.part("counterbore-diameter"), c.part("diameter")
        if bore and hole and bore.nominal is not None and hole.nominal is not None and bore.nominal <= hole.nominal:
            say("seat.size", c.number, f"Line {c.number}: the counterbore is not larger than its hole.")
        depth, seat = c.part("depth"), c.part("counterbore-depth")
        if depth and seat and depth.nominal is not None and seat.nominal is not None and seat.nominal >= depth.nominal:
            say("seat.depth", c.number, f"Line {c.number}: the counterbore is as deep as the hole or deeper.")
        if c.typical:
            message = f"Line {c.number}: TYP has no count to check; write the number of places."
            say("count.typ", c.number, message, "warning")
    for number, times in numbers.items():
        if number and times > 1:
            say("number.twice", number, f"Number {number} stands on {times} lines; give each line its own.")
    for chain in chains:
        for gap in chain.gaps:
            loop = ", ".join(gap["loop"])
            say("chain.gap", chain.direction, f"Chain {chain.direction}: {loop} do not close by {gap['gap_mm']:g} mm.")
    return out


def read_specification(text: str) -> Specification:
    """Read a specification; lines that cannot be read are kept and reported.

    Raises BadInput for a header value out of its range, or JSON that is none.
    """
    if "\x00" in text:
        raise BadInput("The specification is not text; save it as UTF-8.")
    findings: list[dict[str, Any]] = []
    text = text.lstrip("\ufeff")
    data = _from_json(text, findings) if text.lstrip().startswith("{") else _from_text(text, findings)
    header = data["header"]
    rules = _rules(header)
    density = None
    if header.get("density"):
        try:
            density = float(str(header["density"]).split()[0].replace(",", "."))
        except (ValueError, IndexError):
            raise BadInput(f"Density “{header['density']}” is not a number of g/cm³.") from None
        if not 0 < density < 100:
            raise BadInput(f"Density “{header['density']}” is out of reach; give g/cm³.")
    lines = [read_line(r["text"], rules, r["number"], r["where"]) for r in data["characteristics"]]
    chains, checkpoints = [], []
    for row in data["chains"]:
        try:
            chains.append(solve_chain(row["direction"], row["text"], rules.unit))
        except BadInput as fault:
            findings.append(_unread(row.get("line", 0), str(fault), row["text"]))
    for row in data["checkpoints"]:
        try:
            checkpoints.append(read_checkpoint(row["text"], rules.unit))
        except BadInput as fault:
            findings.append(_unread(row.get("line", 0), str(fault), row["text"]))
    findings += _doctor(lines, chains)
    return Specification(
        header=header, rules=rules, density=density, characteristics=tuple(lines), chains=tuple(chains),
        checkpoints=tuple(checkpoints), findings=tuple(findings),
    )  # fmt: skip
