"""Mass checkpoints of the source: what the part must weigh after a step, and in which frame."""

import re
from fractions import Fraction
from typing import Any

from pydantic import BaseModel, ConfigDict

from canonis.core.faults import BadInput
from canonis.core.quantity import MM_PER_INCH, Unit, fraction_of, to_mm

__all__ = ["Checkpoint", "read_checkpoint", "read_table"]

Triple = tuple[float, float, float]
_MASS_UNITS = {"g": 1.0, "kg": 1000.0, "lb": 453.59237, "oz": 28.349523125, "": 1.0}
#: Corner words of a named frame, by axis and side, in the file's axes.
_CORNER = {"left": (0, 0), "right": (0, 1), "front": (1, 0), "back": (1, 1), "bottom": (2, 0), "top": (2, 1)}


class Checkpoint(BaseModel):
    """A mass checkpoint: grams, mm³, mm², and the centre in mm in its own frame.

    Each `half` is half a unit of the last place given. `frame_name` names a corner (`sharp` where a later round removes
    it) or an axis instead of an origin in numbers; the name is resolved on the solid.
    """

    model_config = ConfigDict(frozen=True)

    step: str
    mass_g: float | None = None
    mass_half: float = 0.05
    volume_mm3: float | None = None
    volume_half: float = 0.05
    area_mm2: float | None = None
    area_half: float = 0.05
    centre_mm: Triple | None = None
    centre_half: float = 0.05
    frame_mm: Triple = (0.0, 0.0, 0.0)
    frame_axes: tuple[Triple, Triple] | None = None
    frame_name: str = ""
    text: str = ""

    def as_json(self) -> dict[str, Any]:
        """The checkpoint as plain data."""
        return {
            "step": self.step,
            "mass_g": self.mass_g,
            "volume_mm3": self.volume_mm3,
            "area_mm2": self.area_mm2,
            "centre_mm": self.centre_mm,
            "frame_mm": list(self.frame_mm),
            "frame_name": self.frame_name,
            "frame_axes": self.frame_axes,
            "mass_half_g": self.mass_half,
            "centre_half_mm": self.centre_half,
            "text": self.text,
        }

    def origin(self, low: Triple, high: Triple, axes: dict[str, Triple]) -> Triple:
        """The frame's origin, mm: a named corner of the box from `low` to `high`, a named hole's axis, or the numbers.

        Raises BadInput for an axis that is not there.
        """
        if not self.frame_name:
            return self.frame_mm
        if self.frame_name.startswith("axis"):
            name = self.frame_name.split()[1]
            if name not in axes:
                raise BadInput(
                    f"The checkpoint “{self.step}” counts from the axis of {name}, which this part does not have."
                )
            return axes[name]
        point = [0.0, 0.0, 0.0]
        for word in re.split(r"[-\s]+", self.frame_name):
            if word in _CORNER:
                axis, side = _CORNER[word]
                point[axis] = (low, high)[side][axis]
        return point[0], point[1], point[2]


def _half(text: str) -> float:
    digits = re.sub(r"[^\d.,]", "", text).replace(",", ".")
    return 0.5 * 10.0 ** -(len(digits.split(".")[1]) if "." in digits else 0)


def _written_half(cells: list[str]) -> float:
    """Half of the last place of a point's numbers. A table drops the places of a whole number: a bare 0 beside 12.31 is as
    exact as that; only where all are whole are they whole."""
    places = [_half(c) for c in cells if "." in c or "," in c]
    return max(places) if places else 0.5


def _number(text: str) -> Fraction:
    value = fraction_of(text)
    if abs(value) > 10**15:
        raise ValueError
    return value


def _triple(text: str, unit: Unit | None) -> Triple:
    parts = re.split(r"\s*;\s*|\s*,\s+|,|\s+", text.strip())
    values = [float(to_mm(_number(t), unit) if unit else _number(t)) for t in parts]
    if len(values) != 3:
        raise ValueError
    return (values[0], values[1], values[2])


def _mass(text: str) -> tuple[float, float]:
    found = re.fullmatch(r"(?:mass\s+)?([\d.,]+)\s*(g|kg|lb|oz|)", text, re.I)
    if not found:
        raise BadInput(f"“{text}” is not a mass such as 412.7 g")
    factor = _MASS_UNITS[found.group(2).lower()]
    return float(_number(found.group(1))) * factor, _half(found.group(1)) * factor


def _measure(text: str, power: int, unit: Unit, what: str) -> tuple[float, float]:
    """An area or a volume with its unit, mm and in to a power; without a unit, the job's."""
    found = re.fullmatch(
        rf"(?:{what}\s+)?([\d.,]+)\s*(?:(mm|cm|in)\s*(?:\^?{power}|{'²' if power == 2 else '³'}))?", text, re.I
    )
    if not found:
        raise BadInput(
            f"“{text}” is not {'an' if what == 'area' else 'a'} {what} such as 1200 mm{'²' if power == 2 else '³'}"
        )
    size = {"mm": 1.0, "cm": 10.0, "in": float(MM_PER_INCH)}[(found.group(2) or str(unit)).lower()]
    return float(_number(found.group(1))) * size**power, _half(found.group(1)) * size**power


def _frame(text: str, unit: Unit) -> dict[str, Any]:
    """Origin in numbers, with directions after semicolons, or a name: `sharp left-front-bottom`, `axis H1`."""
    bare = text.strip().lower()
    axis = re.fullmatch(r"axis\s*:?\s*(?:of\s+)?(h\d+)", bare)
    if axis:
        return {"frame_name": f"axis {axis.group(1).upper()}"}
    words = [w for w in re.split(r"[-\s]+", bare) if w not in ("corner", "the")]
    if words and any(w in _CORNER for w in words):
        if len([w for w in words if w in _CORNER]) != 3 or any(w not in _CORNER and w != "sharp" for w in words):
            raise BadInput(f"“{text}” is not a corner such as sharp left-front-bottom")
        return {"frame_name": " ".join(["sharp"] * ("sharp" in words) + ["-".join(w for w in words if w in _CORNER)])}
    pieces = [p for p in text.split(";") if p.strip()]
    if len(pieces) == 3 and "," in pieces[0]:
        return {
            "frame_mm": _triple(pieces[0], unit),
            "frame_axes": (_triple(pieces[1], None), _triple(pieces[2], None)),
        }
    return {"frame_mm": _triple(text, unit)}


def read_checkpoint(line: str, unit: Unit, frame: str = "") -> Checkpoint:
    """Read ``step | mass | centre | frame | volume | area``; later cells may be missing.

    Mass in g, kg, lb or oz; lengths in the job's unit; `frame` is the job's, for lines that name none.
    Raises BadInput when a cell cannot be read.
    """
    cells = [c.strip() for c in line.split("|")] + [""] * 5
    made: dict[str, Any] = {"step": cells[0], "text": line.strip()}
    try:
        if cells[1]:
            made["mass_g"], made["mass_half"] = _mass(cells[1])
        if cells[2]:
            made["centre_mm"] = _triple(cells[2], unit)
            scale = 25.4 if unit is Unit.INCH else 1.0
            made["centre_half"] = _written_half(re.split(r"\s*;\s*|,\s+|,|\s+", cells[2])) * scale
        if cells[3] or frame.strip():
            made |= _frame(cells[3] or frame, unit)
        if cells[4]:
            made["volume_mm3"], made["volume_half"] = _measure(cells[4], 3, unit, "volume")
        if cells[5]:
            made["area_mm2"], made["area_half"] = _measure(cells[5], 2, unit, "area")
    except (ValueError, ZeroDivisionError, OverflowError):
        bad = cells[2] or cells[3] or cells[1]
        raise BadInput(f"“{bad[:60]}” is not a point of three numbers") from None
    return Checkpoint(**made)


_COLUMNS = {
    "mass": "mass",
    "weight": "mass",
    "volume": "volume",
    "vol": "volume",
    "area": "area",
    "surface": "area",
    "x": "x",
    "cx": "x",
    "xc": "x",
    "y": "y",
    "cy": "y",
    "yc": "y",
    "z": "z",
    "cz": "z",
    "zc": "z",
    "step": "step",
    "feature": "step",
    "state": "step",
    "centre": "centre",
    "center": "centre",
    "frame": "frame",
}


def _cells(row: str) -> list[str]:
    for mark in ("|", "\t"):
        if mark in row:
            return [c.strip() for c in row.split(mark)]
    return [c for c in re.split(r"\s{2,}", row.strip()) if c]


def read_table(text: str) -> list[str]:
    """Checkpoint lines from a pasted table: columns by tabs, bars or wide gaps, with or without a row of names.

    Raises BadInput when no row can be understood.
    """
    rows = [_cells(r) for r in text.splitlines() if r.strip(" |\t-+=")]
    if not rows:
        raise BadInput("The pasted table is empty.")
    order: list[str] | None = None
    units: list[str] = []
    heads = [re.match(r"([a-z]+)", c.lower()) for c in rows[0]]
    named = [_COLUMNS.get(h.group(1), "") if h else "" for h in heads]
    if sum(bool(n) for n in named) >= 2:
        order = named
        units = [(re.search(r"[\[(]\s*([^\])]+?)\s*[\])]", c) or re.match(r"()$", "")).group(1) for c in rows.pop(0)]  # type: ignore[union-attr]
    lines = []
    for row in rows:
        names = order or ["step", "mass", *(["x", "y", "z"] if len(row) >= 5 else ["centre", "frame"])]
        got: dict[str, str] = {}
        for k, (name, cell) in enumerate(zip(names, row, strict=False)):
            mark = units[k] if k < len(units) else ""
            fits = name in ("mass", "volume", "area") and re.fullmatch(r"[\d.,]+", cell)
            got[name] = f"{cell} {mark}".strip() if mark and fits else cell
        if not any(got.get(n) for n in ("mass", "volume", "x", "centre", "area")):
            continue
        centre = got.get("centre") or ", ".join(got[n] for n in ("x", "y", "z") if got.get(n))
        cells = [
            got.get("step", ""),
            got.get("mass", ""),
            centre,
            got.get("frame", ""),
            got.get("volume", ""),
            got.get("area", ""),
        ]
        while len(cells) > 2 and not cells[-1]:
            cells.pop()
        lines.append(" | ".join(cells))
    if not lines:
        raise BadInput("The pasted table has no row with a mass, a volume or a centre.")
    return lines
