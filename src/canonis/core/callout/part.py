"""One size of a callout: its exact value with its tolerance, limits or fit."""

from fractions import Fraction
from typing import Any, Self

from pydantic import BaseModel, ConfigDict, model_validator

from canonis.core.quantity import Unit

__all__ = ["Part"]


class Part(BaseModel):
    """One part of a callout. Exact values: mm for lengths, degrees for angles, plain numbers for `plain`.

    `tolerance` says where the limits come from: own, general or fit. `unit` is the one typed when it is not the
    job's; `table` marks a value looked up, not written.
    """

    model_config = ConfigDict(frozen=True)

    name: str
    nominal: Fraction | None = None
    lower: Fraction | None = None
    upper: Fraction | None = None
    target: Fraction | None = None
    tolerance: str | None = None
    angle: bool = False
    plain: bool = False
    designation: str | None = None
    typed: str = ""
    decimals: int | None = None
    unit: Unit | None = None
    fit: str | None = None
    limits: bool = False
    table: bool = False

    @model_validator(mode="after")
    def _whole(self) -> Self:
        """What no writing could tell apart from something else is not built."""
        if self.tolerance == "own" and self.lower is None and self.upper is None:
            raise ValueError(f"the {self.name} has a tolerance of its own without a limit")
        if self.lower is not None and self.upper is not None and self.lower > self.upper:
            raise ValueError(f"the lower limit of the {self.name} lies above its upper one")
        if self.limits and (self.lower is None or self.upper is None):
            raise ValueError(f"the {self.name} is said by its limits but has none")
        return self

    @property
    def said(self) -> tuple[object, ...]:
        """What it says, whatever way it was typed."""
        return (self.name, self.nominal, self.lower, self.upper, self.designation or "", self.angle)

    def as_json(self) -> dict[str, Any]:
        """The part as COMMANDS.md writes it."""
        if self.designation is not None:
            return {"name": self.name, "designation": self.designation}
        if self.nominal is None:
            return {"name": self.name}

        def n(x: Fraction | None) -> float | None:
            return None if x is None else float(x)

        if self.plain:
            return {"name": self.name, "value": n(self.nominal)}
        unit = "deg" if self.angle else "mm"
        out = {
            "name": self.name,
            f"nominal_{unit}": n(self.nominal),
            f"lower_{unit}": n(self.lower),
            f"upper_{unit}": n(self.upper),
            f"target_{unit}": n(self.target),
            "tolerance": self.tolerance,
        }
        if self.fit:
            out["fit"] = self.fit
        if self.table:
            out["looked_up"] = True
        return out
