"""Reading STEP into solids."""

import hashlib
import os
import re
import tempfile
from collections.abc import Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from OCP.Bnd import Bnd_Box
from OCP.BRep import BRep_Tool
from OCP.BRepBndLib import BRepBndLib
from OCP.BRepGProp import BRepGProp
from OCP.GProp import GProp_GProps
from OCP.IFSelect import IFSelect_RetDone
from OCP.Message import Message, Message_Gravity
from OCP.ShapeUpgrade import ShapeUpgrade_UnifySameDomain
from OCP.STEPControl import STEPControl_Reader
from OCP.TCollection import TCollection_AsciiString
from OCP.TColStd import TColStd_SequenceOfAsciiString
from OCP.TopAbs import TopAbs_EDGE, TopAbs_FACE, TopAbs_SHELL, TopAbs_SOLID
from OCP.TopExp import TopExp, TopExp_Explorer
from OCP.TopLoc import TopLoc_Location
from OCP.TopoDS import TopoDS
from OCP.TopTools import TopTools_IndexedMapOfShape

from canonis.core.faults import BadInput
from canonis.core.quantity import Unit
from canonis.core.solid.colours import Painted, painted_faces
from canonis.core.solid.model import Face, KernelShapes, MassProperties, Solid
from canonis.core.solid.step_names import BODIES, body_names, is_a_name
from canonis.core.solid.step_text import DEFAULT_LIMIT, inspect
from canonis.core.solid.tables import build_tables
from canonis.core.solid.validity import CROWDED, is_valid
from canonis.core.tolerances import FITTED, NOTHING, ROUNDING, runs_along, same

__all__ = ["Model", "mass_properties", "quiet_kernel", "read_model", "solid_from_shape", "tight_box"]

Progress = Callable[[str], None]
#: No part that anyone drafts is longer, mm.
_LONGEST_MM = 1e7
_FACE = re.compile(rb"ADVANCED_FACE\s*+\(\s*+'[^']*+'\s*+,\s*+\(([^()]*+)\)")


@dataclass(frozen=True, eq=False)
class Model:
    """A STEP file as read: its identity and its solids."""

    name: str
    sha256: str
    unit: Unit
    step_schema: str
    solids: tuple[Solid, ...]
    notes: tuple[str, ...] = field(default=())
    #: Faces that the file gives a colour of their own.
    painted: list[Painted] = field(default_factory=list)


def quiet_kernel() -> None:
    """Stop the kernel from writing its progress to standard output."""
    for printer in Message.DefaultMessenger_s().Printers():
        printer.SetTraceLevel(Message_Gravity.Message_Fail)


def mass_properties(shape: Any) -> MassProperties:
    """Volume, area, centre and second moments of a kernel shape."""
    surface = GProp_GProps()
    BRepGProp.SurfaceProperties_s(shape, surface, 1e-9, False)
    volume, centre, moments = _volume(shape)
    return MassProperties(volume, surface.Mass(), centre, moments)


def _volume(shape: Any) -> tuple[float, Any, Any]:
    """Volume (mm³), centre (mm) and second moments about it (mm⁵)."""
    volume = GProp_GProps()
    BRepGProp.VolumeProperties_s(shape, volume, 1e-9, False, False)
    c, m = volume.CentreOfMass(), volume.MatrixOfInertia()
    moments = np.array([[m.Value(r, k) for k in (1, 2, 3)] for r in (1, 2, 3)])
    return volume.Mass(), np.array([c.X(), c.Y(), c.Z()]), moments


def _snap_box(box: tuple[Any, Any], faces: tuple[Face, ...]) -> tuple[Any, Any]:
    """Strip the kernel's tolerance (1e-7) from a box where a face of the solid gives the exact level."""
    low, high = box[0].copy(), box[1].copy()
    for face in faces:
        k = int(np.argmax(np.abs(face.axis)))
        if not runs_along(face.axis[k], ROUNDING) and face.kind == "plane":
            continue
        for corner in (low, high):
            if face.kind == "plane" and same(corner[k], face.origin[k], FITTED):
                corner[k] = face.origin[k]
            elif face.kind == "cylinder" and runs_along(face.axis[k], ROUNDING):
                for j in range(3):
                    for level in (face.origin[j] - face.radius, face.origin[j] + face.radius):
                        if j != k and same(corner[j], level, FITTED):
                            corner[j] = level
    return low, high


def tight_box(shape: Any) -> tuple[Any, Any]:
    """The tight axis-aligned box of a shape."""
    box = Bnd_Box()
    BRepBndLib.AddOptimal_s(shape, box, False, False)
    gap = box.GetGap()
    x0, y0, z0, x1, y1, z1 = box.Get()
    return np.array([x0, y0, z0]) + gap, np.array([x1, y1, z1]) - gap


def _merge_split_faces(shape: Any) -> tuple[Any, bool | None]:
    """Join faces that the exporter split, and whether the result is known valid (None: not looked at).

    The original where there is nothing to join or joining would break it.
    """
    try:
        unify = ShapeUpgrade_UnifySameDomain(shape, True, True, False)
        unify.Build()
        merged = unify.Shape()
        if _count(merged) == _count(shape):
            return shape, None
        explorer = TopExp_Explorer(merged, TopAbs_SOLID)
        if explorer.More() and is_valid(merged):
            return TopoDS.Solid_s(explorer.Current()), True
    except Exception:  # the kernel raises its own untyped faults; the unmerged solid is still right
        pass
    return shape, None


#: Bodies of a file that stand in it several times: the body without its place, merged, and whether it is valid.
_Twins = list[tuple[Any, Any, bool]]


def _merged(shape: Any, twins: _Twins) -> tuple[Any, bool]:
    """A body merged and checked once for all its places in a file."""
    place = shape.Location()
    bare = shape.Located(TopLoc_Location())
    for seen, done, ok in twins:
        if seen.IsEqual(bare):
            return TopoDS.Solid_s(done.Located(place)), ok
    made, valid = _merge_split_faces(bare)
    ok = is_valid(made) if valid is None else valid
    twins.append((bare, made, ok))
    return TopoDS.Solid_s(made.Located(place)), ok


def solid_from_shape(
    shape: Any, name: str, index: int = 0, merge: bool = True, twins: _Twins | None = None, valid: bool | None = None
) -> Solid:
    """The tables of one kernel solid; `twins` gathers the bodies of a file that holds some several times.

    `valid` tells what is known of the body beforehand; looking costs as much as reading a small body.

    Raises BadInput when it encloses no volume.
    """
    raw = shape
    merged = shape
    if merge:
        merged, valid = _merge_split_faces(shape) if twins is None else _merged(shape, twins)
    volume = _volume(merged)
    turned_over = volume[0] < 0
    if turned_over:
        merged, valid = merged.Reversed(), None
        volume = _volume(merged)
    if not volume[0] > NOTHING:
        raise BadInput(f"Solid “{name}” encloses no volume; export it as a solid body.")
    faces, edges, face_shapes, wire_pieces = build_tables(merged)
    mass = MassProperties(volume[0], sum(f.area for f in faces), volume[1], volume[2])
    raw_counts = _count(raw)
    return Solid(
        name=name,
        index=index,
        valid=is_valid(merged) if valid is None else valid,
        faces=faces,
        edges=edges,
        box=_snap_box(tight_box(merged), faces),
        mass=mass,
        raw_faces=raw_counts[0],
        raw_edges=raw_counts[1],
        turned_over=turned_over,
        kernel=KernelShapes(lambda: (merged, face_shapes, wire_pieces)),
    )


def _count(shape: Any) -> tuple[int, int]:
    faces, edges = TopTools_IndexedMapOfShape(), TopTools_IndexedMapOfShape()
    TopExp.MapShapes_s(shape, TopAbs_FACE, faces)
    TopExp.MapShapes_s(shape, TopAbs_EDGE, edges)
    return faces.Extent(), edges.Extent()


def _unit_of(reader: STEPControl_Reader) -> Unit:
    lengths, angles, solid_angles = (TColStd_SequenceOfAsciiString() for _ in range(3))
    reader.FileUnits(lengths, angles, solid_angles)
    names = {lengths.Value(k).ToCString().lower() for k in range(1, lengths.Length() + 1)}
    return Unit.INCH if any("inch" in n or n == "in" for n in names) else Unit.MM


def _names(products: list[str], bodies: list[int | None], data: bytes, stem: str) -> list[str]:
    """The names of the solids, each by the body of the file that it came from; of an assembly only its parts are solids."""
    named = [p.strip() for p in products if is_a_name(p)]
    if len(bodies) == 1:
        return [named[0] if len(set(named)) == 1 else stem]
    called = body_names(data)
    return [
        called[body] if body is not None and body < len(called) and called[body] else f"{stem} {k}"
        for k, body in enumerate(bodies, start=1)
    ]


def _bodies(reader: STEPControl_Reader) -> list[Any]:
    """The entities of a file that are bodies, in the order of the file."""
    model = reader.WS().Model()
    kinds = {"StepShape_" + "".join(w.capitalize() for w in name.split("_")) for name in BODIES}
    entities = (model.Value(k) for k in range(1, model.NbEntities() + 1))
    return [e for e in entities if e.DynamicType().Name() in kinds]


def _body_of(reader: STEPControl_Reader, shape: Any, bodies: list[Any]) -> int | None:
    """Which body of the file a solid came from; it may stand in several places."""
    found = reader.WS().TransferReader().EntityFromShapeResult(shape.Located(TopLoc_Location()), 1)
    # The kernel's own look-up of an entity's number does not find what it hands out here.
    return next((k for k, body in enumerate(bodies) if body is found), None)


def read_model(
    data: bytes, name: str, *, limit: int = DEFAULT_LIMIT, progress: Progress = lambda _: None, merge: bool = True
) -> Model:
    """Read the solids of a STEP file (AP203, AP214, AP242), scaled to millimetres.

    Raises BadInput when the file is not usable: see `step_text.inspect`; also for no solid inside,
    an open shell, or a solid of no volume.
    """
    progress("Checking the file")
    text = inspect(data, name, limit)
    quiet_kernel()
    progress("Reading the model")
    handle, path = tempfile.mkstemp(suffix=".step")
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
        reader = STEPControl_Reader()
        if reader.ReadFile(path) != IFSelect_RetDone:
            raise BadInput(f"“{name}” cannot be read as STEP; export the model again.")
        unit = _unit_of(reader)
        if _crowded(data):
            # The kernel's repair of a face compares each of its boundaries with every other.
            mend = reader.GetShapeFixParameters()
            mend.Bind(TCollection_AsciiString("FixShape.FixFaceMode"), TCollection_AsciiString("0"))
            reader.SetShapeFixParameters(mend)
        reader.TransferRoots()
        shape = reader.OneShape()
    finally:
        Path(path).unlink(missing_ok=True)
    if shape is None or shape.IsNull():
        raise BadInput(f"“{name}” holds no solid; export the part as a solid body.")
    shapes = []
    explorer = TopExp_Explorer(shape, TopAbs_SOLID)
    while explorer.More():
        shapes.append(TopoDS.Solid_s(explorer.Current()))
        explorer.Next()
    if not shapes:
        if TopExp_Explorer(shape, TopAbs_SHELL).More():
            raise BadInput(f"“{name}” holds only an open shell, not a solid; close it and export it as a solid body.")
        raise BadInput(f"“{name}” holds no solid; export the part as a solid body.")
    for k, one in enumerate(shapes):
        if not _closed(one):
            raise BadInput(f"“{name}”: solid {k + 1} has an open shell; close the gap and export it again.")
    progress("Measuring the solids")
    bodies = _bodies(reader) if len(shapes) > 1 else []
    names = _names(text.products, [_body_of(reader, s, bodies) for s in shapes], data, Path(name).stem)
    twins: _Twins = []
    solids = tuple(
        solid_from_shape(s, n, k, merge, twins if len(shapes) > 1 else None)
        for k, (s, n) in enumerate(zip(shapes, names, strict=True))
    )
    for solid in solids:
        longest = float(solid.size.max())
        if longest > _LONGEST_MM:
            raise BadInput(f"“{name}” is {longest / 1e6:.4g} km long; check the unit it was exported in.")
    painted = painted_faces(data.decode("latin-1")) if len(shapes) == 1 else []
    return Model(name, hashlib.sha256(data).hexdigest(), unit, text.schema, solids, painted=painted)


def _crowded(data: bytes) -> bool:
    """Whether a face of the file has more boundaries than the kernel repairs in reasonable time."""
    return any(m.group(1).count(b"#") > CROWDED for m in _FACE.finditer(data))


def _closed(shape: Any) -> bool:
    """Whether every edge of the solid has two sides (a seam counts twice)."""
    uses: dict[int, int] = {}
    explorer = TopExp_Explorer(shape, TopAbs_EDGE)
    index = TopTools_IndexedMapOfShape()
    while explorer.More():
        edge = TopoDS.Edge_s(explorer.Current())
        if not BRep_Tool.Degenerated_s(edge):
            k = index.Add(edge)
            uses[k] = uses.get(k, 0) + 1
        explorer.Next()
    return all(n >= 2 for n in uses.values())
