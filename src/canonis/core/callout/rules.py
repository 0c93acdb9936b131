"""House rules that give a reading its unit, tolerance and target."""

import re
from fractions import Fraction

from pydantic import BaseModel, ConfigDict

from canonis.core.faults import BadInput
from canonis.core.house import House, Limits
from canonis.core.quantity import Unit, fraction_of, to_mm

__all__ = ["ISO_2768", "GeneralTolerance", "HouseRules"]

#: ISO 2768-1 linear tolerances, ± mm by upper bound of the size range; confirm with the contract.
ISO_2768: dict[str, tuple[tuple[float, str], ...]] = {
    "f": ((3, "0.05"), (6, "0.05"), (30, "0.1"), (120, "0.15"), (400, "0.2"), (1000, "0.3"), (2000, "0.5")),
    "m": ((3, "0.1"), (6, "0.1"), (30, "0.2"), (120, "0.3"), (400, "0.5"), (1000, "0.8"), (2000, "1.2"), (4000, "2")),
    "c": ((3, "0.2"), (6, "0.3"), (30, "0.5"), (120, "0.8"), (400, "1.2"), (1000, "2"), (2000, "3"), (4000, "4")),
    "v": ((6, "0.5"), (30, "1"), (120, "1.5"), (400, "2.5"), (1000, "4"), (2000, "6"), (4000, "8")),
}
#: ISO 2768-1 radii and chamfers, ± mm by upper bound.
_ISO_ROUNDS: dict[str, tuple[tuple[float, str], ...]] = {
    "f": ((3, "0.2"), (6, "0.5"), (1e9, "1")), "m": ((3, "0.2"), (6, "0.5"), (1e9, "1")),
    "c": ((3, "0.4"), (6, "1"), (1e9, "2")), "v": ((3, "0.4"), (6, "1"), (1e9, "2")),
}  # fmt: skip


class GeneralTolerance(BaseModel):
    """The general tolerance: an ISO 2768 class, or a block by decimals, or none."""

    model_config = ConfigDict(frozen=True)

    text: str = ""
    iso_class: str | None = None
    by_decimals: dict[int, Fraction] = {}
    angle: Fraction | None = None

    @classmethod
    def read(cls, text: str, unit: Unit) -> "GeneralTolerance":
        """Read `ISO 2768-m` or `.X ±.03  .XX ±.01  .XXX ±.005  ANGLES ±1°`.

        Raises BadInput when it is neither.
        """
        text = text.strip()
        if not text:
            return cls()
        iso = re.search(r"2768\s*-?\s*([fmcv])", text, re.I)
        if iso:
            return cls(text=text, iso_class=iso.group(1).lower())
        block = {}
        for places, number in re.findall(r"\.(X+)\s*±\s*([\d.,/]+)", text, re.I):
            block[len(places)] = to_mm(fraction_of(number), unit)
        angle = re.search(r"(?:angles?|∠)\s*±\s*([\d.]+)", text, re.I)
        plain = re.fullmatch(
            r"(?:±|\+/-|\+-)\s*(\d*[.,]?\d+(?:/\d+)?)(?:\s*(?:mm|in))?(?:\s*[,;]?\s*(?:angles?|∠).*)?", text, re.I
        )
        if plain and not block:
            # One tolerance for every size, however it is written.
            size = to_mm(fraction_of(plain.group(1)), unit)
            block = dict.fromkeys(range(7), size)
        if not block and not angle:
            raise BadInput(f"General tolerance “{text}” is neither an ISO 2768 class nor a block such as .XX ±.01.")
        return cls(text=text, by_decimals=block, angle=Fraction(angle.group(1)) if angle else None)

    def of(self, nominal: Fraction, decimals: int | None, kind: str) -> Fraction | None:
        """± tolerance in mm (degrees for angles) of a size without its own, or None."""
        if kind == "angle":
            return self.angle
        if self.iso_class:
            table = (_ISO_ROUNDS if kind in ("radius", "leg") else ISO_2768)[self.iso_class]
            if nominal < Fraction(1, 2):
                return None
            return next((Fraction(t) for bound, t in table if nominal <= bound), None)
        return None if decimals is None else self.by_decimals.get(decimals)


class HouseRules(BaseModel):
    """What the job says once for all lines."""

    model_config = ConfigDict(frozen=True)

    unit: Unit = Unit.MM
    general: GeneralTolerance = GeneralTolerance()
    square_mm: Fraction | None = None
    house: House = House()

    def target(self, nominal: Fraction, lower: Fraction | None, upper: Fraction | None) -> Fraction:
        """The value to model (house rule `limits`)."""
        limits = self.house.limits
        if lower is None or upper is None or limits is Limits.NOMINAL:
            return nominal
        return {Limits.MIDDLE: (lower + upper) / 2, Limits.UPPER: upper, Limits.LOWER: lower}[limits]
