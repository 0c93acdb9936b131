"""The frame a job measures from, kept as geometry so that it holds on the next revision of the model."""

from collections.abc import Sequence

import numpy as np

from canonis.core.faults import BadInput
from canonis.core.features import Feature, same_axis
from canonis.core.solid import Solid, Vec, face_reference, resolve_all
from canonis.core.study.choices import FrameChoice, Pick
from canonis.core.study.frames import FILE, Frame, corner_frame, frame_of_faces, frame_of_points, sharp_corner
from canonis.core.study.picks import target_of
from canonis.core.tolerances import ALIGNED, runs_along

__all__ = ["choose_frame", "frame_on"]

Triple = tuple[float, float, float]


def _solid(solids: Sequence[Solid], k: int) -> Solid:
    if k >= len(solids):
        raise BadInput("That solid is not in this model; choose the frame again.")
    return solids[k]


def choose_frame(
    kind: str, picks: Sequence[Pick], name: str, solids: tuple[Solid, ...], features: tuple[Feature, ...]
) -> FrameChoice:
    """A frame from picks: one corner or vertex (`sharp-corner`), one round face or feature (`axis`), three points or
    three faces; `box-corner` by its name alone.

    Raises BadInput when the picks do not make a frame.
    """
    if kind == "file":
        return FrameChoice()
    k = picks[0].solid if picks else 0
    solid = _solid(solids, k)
    if kind == "box-corner":
        corner_frame(solid, name)
        return FrameChoice(kind="box-corner", name=name, solid=k)
    if kind == "sharp-corner":
        if len(picks) != 1:
            raise BadInput("Pick one corner for the frame.")
        at = target_of(picks[0], solids, features).point
        found = sharp_corner(solid, at)
        if found is None:
            raise BadInput("No three flat faces meet near this corner; pick another.")
        refs = [face_reference(solid.faces[f]) for f in found[1]]
        return FrameChoice(kind="sharp-corner", name="sharp corner", solid=k, refs=refs)
    if kind == "axis":
        if len(picks) != 1:
            raise BadInput("Pick one bore or shaft for the frame.")
        target = target_of(picks[0], solids, features)
        if target.line is None:
            raise BadInput("What you picked has no axis; pick a bore or a shaft.")
        face = _face_on(solid, target.point, target.line)
        return FrameChoice(
            kind="axis",
            name=target.name if "axis" in target.name else f"axis of {target.name}",
            solid=k,
            refs=[face],
            points=[_triple(target.point)],
        )
    targets = [target_of(p, solids, features) for p in picks]
    if kind == "points":
        frame_of_points([t.point for t in targets])
        return FrameChoice(kind="points", name="three points", solid=k, points=[_triple(t.point) for t in targets])
    if kind == "faces":
        faces = [p.index for p in picks if p.kind == "face"]
        frame_of_faces(solid, faces)
        return FrameChoice(
            kind="faces", name="three faces", solid=k, refs=[face_reference(solid.faces[f]) for f in faces]
        )
    raise BadInput(f"“{kind}” is no way to choose a frame.")


def _triple(p: Vec) -> Triple:
    return (float(p[0]), float(p[1]), float(p[2]))


def _face_on(solid: Solid, point: Vec, line: Vec) -> str:
    """Reference of a round face about an axis."""
    for f in sorted((f for f in solid.faces if f.kind in ("cylinder", "cone", "torus")), key=lambda f: -f.area):
        if same_axis(point, line, f.origin, f.axis):
            return face_reference(f)
    raise BadInput("No round face lies about that axis; pick a bore or a shaft.")


def frame_on(choice: FrameChoice, solids: Sequence[Solid]) -> tuple[Frame, str]:
    """The frame on these solids, and what became of its geometry: same, moved, resized, ambiguous or lost.

    A lost frame falls back to the file's, and says so.
    """
    if choice.kind == "file" or choice.solid >= len(solids):
        return FILE, "same" if choice.kind == "file" else "lost"
    solid = solids[choice.solid]
    if choice.kind == "box-corner":
        return corner_frame(solid, choice.name), "same"
    if choice.kind == "points":
        return frame_of_points([np.array(p) for p in choice.points], choice.name), "same"
    resolved = resolve_all(choice.refs, solid)
    states = [resolved[r].status for r in choice.refs]
    worst = max(states, key=["same", "resized", "moved", "ambiguous", "lost"].index)
    faces = [resolved[r].faces[0] for r in choice.refs if len(resolved[r].faces) == 1]
    if worst in ("ambiguous", "lost") or len(faces) != len(choice.refs):
        return FILE, worst if worst in ("ambiguous", "lost") else "lost"
    try:
        if choice.kind == "axis":
            face = solid.faces[faces[0]]
            origin = np.array(choice.points[0])
            foot = face.origin + face.axis * float((origin - face.origin) @ face.axis)
            x = np.eye(3)[int(np.argmin(np.abs(face.axis)))]
            x = x - face.axis * float(x @ face.axis)
            x = x / np.linalg.norm(x)
            along = np.argmax(np.abs(face.axis))
            if runs_along(face.axis[along], ALIGNED):
                # The file's own directions, moved to the axis.
                return Frame(choice.name, foot, *np.eye(3)), worst
            return Frame(choice.name, foot, x, np.cross(face.axis, x), face.axis), worst
        frame = frame_of_faces(solid, faces, choice.name)
        if choice.kind == "sharp-corner":
            return Frame(choice.name, frame.origin, *np.eye(3)), worst
        return frame, worst
    except BadInput:
        return FILE, "lost"
