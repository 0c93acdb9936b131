"""What a job keeps for the study of its solid: frame, materials, units, limits, names and the recipe of its twin."""

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator

from canonis.core.faults import BadInput
from canonis.core.solid import DENSITIES, density_of
from canonis.core.source import Specification
from canonis.core.study.choices import FrameChoice, Limits

__all__ = ["Look", "Station"]


class Look(BaseModel):
    """Somebody's look at every page of one version of the sheet, on one model."""

    version: int
    model: int | None = None
    by: str
    at: str


class Station(BaseModel):
    """The state of a job's Solid station. `materials` are the job's own densities, g/cm³; `solid_materials` the material
    of a solid by its number where it is not the job's."""

    model_config = ConfigDict(extra="forbid")

    frame: FrameChoice = Field(default_factory=FrameChoice)
    system: Literal["", "mm g", "mm kg", "m kg", "in lb", "in oz"] = ""
    decimals: int = Field(default=2, ge=0, le=9)
    materials: dict[str, float] = Field(default_factory=dict)
    solid_materials: dict[str, str] = Field(default_factory=dict)
    limits: Limits = Field(default_factory=Limits)
    names: list[dict[str, Any]] = Field(default_factory=list, max_length=500)
    recipe: dict[str, Any] | None = None
    look: Look | None = None

    @field_validator("materials")
    @classmethod
    def _sensible(cls, value: dict[str, float]) -> dict[str, float]:
        if len(value) > 200:
            raise ValueError("there are more than 200 own materials")
        for name, density in value.items():
            if not name.strip() or len(name) > 80 or not 0 < density < 100:
                raise ValueError(f"“{name[:40]}” needs a density between 0 and 100 g/cm³")
        return value

    def density(self, material: str) -> float | None:
        """Density of a material by name, the job's own first; None for an empty or unknown name."""
        own = {k.strip().lower(): v for k, v in self.materials.items()}
        if material.strip().lower() in own:
            return own[material.strip().lower()]
        try:
            return density_of(material) if material.strip() else None
        except BadInput:
            return None

    def common_density(self, spec: Specification) -> float | None:
        """Density of the job, g/cm³: what the source states, else that of its material, the job's own ones first."""
        return spec.density if spec.density is not None else self.density(str(spec.header.get("material", "")))

    def densities(self, count: int, common: float | None) -> list[float | None]:
        """Density of each solid: its own material's, else the job's."""
        return [self.density(self.solid_materials.get(str(k), "")) or common for k in range(count)]

    def known_materials(self) -> list[dict[str, Any]]:
        """All materials to choose from, the job's own first."""
        own = [{"name": n, "density": d, "own": True} for n, d in self.materials.items()]
        return own + [{"name": n, "density": d, "own": False} for n, d in DENSITIES.items()]
