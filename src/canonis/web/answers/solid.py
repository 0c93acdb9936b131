"""A measured model and what the Solid station works out of it; mm, degrees, grams, the file's axes unless said."""

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field, JsonValue

from canonis.core.study import Limits
from canonis.web.answers.masses import CheckpointEntry
from canonis.web.models import StateCard

__all__ = [
    "FeatureEntry",
    "LedgerResult",
    "Measured",
    "NameOn",
    "SolidData",
    "SolidFinding",
    "StationState",
    "TwinResult",
]

Vector = list[float]


class Seat(BaseModel):
    """A counterbore or countersink of a hole."""

    diameter_mm: float
    depth_mm: float | None = None
    angle_deg: float | None = None


class Rim(BaseModel):
    """A chamfered or rounded rim of a hole."""

    model_config = ConfigDict(extra="allow")

    kind: str
    size_mm: float


class PatternEntry(BaseModel):
    """How the members of a feature stand; a grid has two counts and pitches."""

    model_config = ConfigDict(extra="allow")

    kind: str
    count: int | list[int] | None = None
    missing: int | None = None
    pitch_mm: float | Vector | None = None
    centre_mm: Vector | None = None
    diameter_mm: float | None = None


class Differing(BaseModel):
    """The feature at the odd place of a pattern."""

    model_config = ConfigDict(extra="allow")

    feature: str


class FeatureEntry(BaseModel):
    """A feature that was found; which sizes it has depends on its kind (see COMMANDS.md)."""

    model_config = ConfigDict(extra="allow")

    id: str
    kind: str
    count: int | None = None
    faces: list[int] | None = None
    solid: int | None = None
    sure: str | None = None
    axis: Vector | None = None
    positions_mm: list[Vector] | None = None
    pattern: PatternEntry | None = None
    through: bool | None = None
    counterbore: Seat | None = None
    counterbore_far: Seat | None = None
    countersink: Seat | None = None
    countersink_far: Seat | None = None
    rim: Rim | None = None
    rim_far: Rim | None = None
    diameter_mm: float | None = None
    depth_mm: float | None = None
    radius_mm: float | None = None
    radius_min_mm: float | None = None
    radius_max_mm: float | None = None
    legs_mm: Vector | None = None
    angle_deg: float | None = None
    sweep_deg: float | None = None
    width_mm: float | None = None
    length_mm: float | None = None
    height_mm: float | None = None
    thickness_mm: float | None = None
    inner_radius_mm: float | None = None
    large_mm: float | None = None
    small_mm: float | None = None
    minor_mm: float | None = None
    major_mm: float | None = None
    corner_radius_mm: float | None = None
    across_flats_mm: float | None = None
    centres_mm: float | None = None
    from_axis_mm: float | None = None
    teeth: int | None = None
    sides: int | None = None
    partial: int | None = None
    convex: bool | None = None
    internal: bool | None = None
    shell: bool | None = None
    open: bool | None = None
    hand: str | None = None
    form: str | None = None
    outline: str | None = None
    tapped_guess: list[str] | None = None
    differing: list[Differing] | None = None


class Colour(BaseModel):
    """Faces of one colour, the largest first."""

    rgb: list[float] | None
    faces: list[int]


class Mirror(BaseModel):
    """A mirror plane, or a near one with the features that break it."""

    normal: Vector
    offset_mm: float
    share: float
    complete: bool
    broken_by: list[str]
    broken_faces: list[int]


class Levels(BaseModel):
    """The levels of flat faces along a direction."""

    direction: Vector
    levels_mm: Vector


class SolidEntry(BaseModel):
    """A solid as measured."""

    model_config = ConfigDict(extra="allow")

    name: str
    valid: bool
    faces: int
    edges: int
    volume_mm3: float
    area_mm2: float
    mass_g: float | None = None
    centroid_mm: Vector
    bbox_mm: list[Vector]
    levels: list[Levels]
    symmetry: list[Mirror] = []
    turned: JsonValue = None
    colours: list[Colour] = []


class ModelFile(BaseModel):
    """The file a model was read from."""

    name: str
    sha256: str
    unit: str
    step_schema: str


class FeatureChange(BaseModel):
    """A feature that came, went or became another."""

    change: str
    text: str
    before: str | None = None
    after: str | None = None
    kind: str = ""


class FaceFate(BaseModel):
    """What became of a face: its index now, where it still is one."""

    face: int
    status: Literal["same", "moved", "resized", "ambiguous", "lost"]
    now: int | None
    shift_mm: float
    growth_mm: float


class SolidChanges(BaseModel):
    """What changed of one solid."""

    faces: list[FaceFate]
    new_faces: list[int]
    counts: dict[Literal["same", "moved", "resized", "ambiguous", "lost"], int]
    features: list[FeatureChange]
    volume_mm3: float
    centre_mm: Vector
    size_mm: Vector


class Changes(BaseModel):
    """What changed from the model before, solid by solid."""

    before: str
    after: str
    solids: list[SolidChanges]
    solids_more: int


class Report(BaseModel):
    """A model as measured."""

    schema_: str = Field(default="canonis.measure/1", alias="schema")
    file: ModelFile
    solids: list[SolidEntry]
    features: list[FeatureEntry]
    changes: Changes | None = None


class Mesh(BaseModel):
    """A solid to look at: corners, triangles with the face of each, and edges as polylines with the edge of each."""

    positions: list[float]
    triangles: list[int]
    faces: list[int]
    edges: list[list[float]]
    edge_index: list[int]


class NameOn(BaseModel):
    """A name given to a feature, and where it stands on this model."""

    name: str
    id: str | None
    solid: int
    status: str


class Covered(BaseModel):
    """A round or chamfer that a default note of the source covers."""

    id: str
    solid: int
    note: str


class SolidData(BaseModel):
    """Measurements, features and the picture of a model."""

    name: str
    report: Report
    meshes: list[Mesh]
    names: list[NameOn]
    covered: list[Covered]


class Fraction(BaseModel):
    """A length as a fraction of an inch, and how far that is off."""

    text: str
    exact: bool
    off_mm: float


class MeasuredRow(BaseModel):
    """One measured size."""

    label: str
    unit: Literal["mm", "deg", "mm2"]
    value: float
    text: str
    fraction: Fraction | None = None
    main: bool = False


class Measured(BaseModel):
    """What was measured of one pick or between two."""

    names: list[str]
    rows: list[MeasuredRow]
    points: list[Vector]
    frame: str
    frame_status: str


class SolidFinding(BaseModel):
    """A fault of the solid or making advice, and where."""

    rule: str
    severity: Literal["error", "warning", "advice"]
    message: str
    solid: int
    faces: list[int]
    edges: list[int]
    point: Vector | None


class SlipGuess(BaseModel):
    """A slip that would explain a difference, and how many of the figures agree."""

    kind: str
    text: str
    agree: int
    of: int


class FirstDifference(BaseModel):
    """The first step that differs, what it added, and the likely slips."""

    step: int
    name: str
    added: list[str]
    slips: list[SlipGuess]


class Saved(BaseModel):
    """Material between the first and the last state."""

    from_: str = Field(alias="from")
    to: str
    ratio: float
    saved_mm3: float
    parts_from_same: float


class StepRow(BaseModel):
    """A state of the part as weighed, against what the source says of it."""

    name: str
    note: str
    faces: int
    faces_more: int
    frame: str | None = None
    state: Literal["none", "proven", "unproven", "differs"]
    mass_g: float | None
    mass_more_g: float | None
    volume_mm3: float
    volume_more_mm3: float
    area_mm2: float
    centre_mm: Vector
    centre_in_frame_mm: Vector | None = None
    changes: list[FeatureChange]
    differs: list[str]
    expected: CheckpointEntry | None


class LedgerResult(BaseModel):
    """The states weighed one after the other."""

    schema_: str = Field(default="canonis.ledger/1", alias="schema")
    rows: list[StepRow]
    first: FirstDifference | None
    saved: Saved | None
    density: float | None
    expected_by: str = ""


class LumpMesh(BaseModel):
    """A piece of material to look at."""

    model_config = ConfigDict(extra="allow")

    positions: list[float]
    triangles: list[int]


class Lump(BaseModel):
    """A piece that only one side has."""

    side: str
    volume_mm3: float
    centre_mm: Vector
    box_mm: list[Vector]
    near: str
    mesh: LumpMesh


class TwinResult(BaseModel):
    """The model against the twin that the source describes."""

    same: bool
    only_model_mm3: float
    only_twin_mm3: float
    model_mm3: float
    twin_mm3: float
    lumps: list[Lump]


class LedgerDone(BaseModel):
    """The last weighing, and whether what it was made from has changed since."""

    result: LedgerResult
    stale: bool


class TwinDone(BaseModel):
    """The last comparison with the twin, and whether what it was made from has changed since."""

    result: TwinResult
    stale: bool


class MaterialEntry(BaseModel):
    """A material by name, g/cm³; `own` ones are the job's."""

    name: str
    density: float
    own: bool


class FrameOn(BaseModel):
    """The chosen frame: references to faces, places in the file's axes."""

    kind: Literal["file", "box-corner", "sharp-corner", "axis", "points", "faces"]
    name: str
    solid: int
    refs: list[str]
    points: list[Vector]


class StationState(BaseModel):
    """What the job keeps for its solid."""

    frame: FrameOn
    system: str
    decimals: int
    materials: list[MaterialEntry]
    solid_materials: dict[str, str]
    limits: Limits
    recipe: dict[str, Any] | None
    states: list[StateCard]
    ledger: LedgerDone | None
    twin: TwinDone | None
