"""What solids weigh, and how that compares with a checkpoint of the source; mm, grams."""

from pydantic import BaseModel, JsonValue

Vector = list[float]

__all__ = ["CheckpointEntry", "CheckpointFit", "MassBody", "MassFrame", "MassRow", "Masses", "PrincipalMoment"]


class MassRow(BaseModel):
    """A mass property as written."""

    label: str
    text: str
    unit: str


class PrincipalMoment(BaseModel):
    """A principal moment with its axis."""

    moment: float
    text: str
    unit: str
    axis: Vector


class MassBody(BaseModel):
    """What a solid, or all together, weighs."""

    name: str
    volume_mm3: float
    area_mm2: float
    mass_g: float | None
    density: float | None
    centre_mm: Vector
    rows: list[MassRow]
    tensor: list[Vector]
    tensor_origin: list[Vector]
    principal: list[PrincipalMoment]
    inertia_factor: float
    inertia_unit: str


class MassFrame(BaseModel):
    """The frame that is weighed in."""

    name: str
    origin: Vector
    x: Vector
    y: Vector
    z: Vector


class CheckpointEntry(BaseModel):
    """A checkpoint of the source."""

    step: str
    text: str
    mass_g: float | None
    volume_mm3: float | None
    area_mm2: float | None
    centre_mm: Vector | None
    frame_mm: Vector | None
    frame_name: str
    frame_axes: JsonValue
    mass_half_g: float | None
    centre_half_mm: float | None


class CheckpointFit(CheckpointEntry):
    """A checkpoint compared with the model."""

    fits: bool
    mass_off_g: float | None
    centre_off_mm: Vector | None
    centre_here_mm: Vector | None
    volume_off_mm3: float | None = None
    area_off_mm2: float | None = None
    frame: str
    reasons: list[str]


class Masses(BaseModel):
    """Mass properties by solid and together, in the chosen frame."""

    frame: MassFrame
    frame_status: str
    system: str
    bodies: list[MassBody]
    densities: list[float | None]
    checkpoint: CheckpointFit | None
