"""What people choose at the Solid station, as plain data: picks, a frame, limits. Knows no kernel, so that the web can
read it."""

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

__all__ = ["FrameChoice", "Limits", "Pick"]

Triple = tuple[float, float, float]


class Pick(BaseModel):
    """A pick as the screen sends it. `index` is a face or an edge of the solid as it stands; `end` 0 or 1 of an edge."""

    model_config = ConfigDict(extra="forbid")

    kind: Literal["face", "edge", "vertex", "axis", "feature", "sharp", "corner", "point"]
    solid: int = Field(default=0, ge=0, le=10_000)
    index: int = Field(default=0, ge=0, le=10_000_000)
    end: Literal[0, 1] = 0
    id: str = Field(default="", max_length=40)
    member: int = Field(default=0, ge=0, le=100_000)
    at: tuple[float, float, float] | None = None


class FrameChoice(BaseModel):
    """A chosen frame. `refs` are references to faces (corner, axis, faces), `points` places in the file's axes (mm)."""

    model_config = ConfigDict(extra="forbid")

    kind: Literal["file", "box-corner", "sharp-corner", "axis", "points", "faces"] = "file"
    name: str = Field(default="the file's frame", max_length=120)
    solid: int = Field(default=0, ge=0, le=10_000)
    refs: list[str] = Field(default_factory=list, max_length=6)
    points: list[Triple] = Field(default_factory=list, max_length=3)


class Limits(BaseModel):
    """The job's limits for making advice; lengths mm."""

    model_config = ConfigDict(extra="forbid")

    process: Literal["machined", "moulded", "cast", "sheet"] = "machined"
    wall_mm: float = Field(default=1.0, gt=0, le=1000)
    #: Hole centre to edge, in hole diameters.
    edge_diameters: float = Field(default=1.0, ge=0, le=10)
    drill_diameters: float = Field(default=8.0, gt=0, le=1000)
    #: Length of thread, in thread diameters.
    thread_diameters: float = Field(default=1.0, gt=0, le=10)
    draft_deg: float = Field(default=1.0, ge=0, le=30)
    #: Thickest over thinnest wall.
    wall_ratio: float = Field(default=1.5, gt=1, le=100)
