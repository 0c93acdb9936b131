"""Geometrical tolerances: what a model of nominal size can say of them. It has no error of form or place, so that the zone is measured
on the part; but datums must be there, and the nominal shape must be what is tolerated."""

import re
from collections.abc import Iterator

import numpy as np

from canonis.core.callout import DATUMS, Callout, tolerance_of
from canonis.core.proof.measurer import Measurer
from canonis.core.proof.registry import measures
from canonis.core.proof.statement import PartProof
from canonis.core.sheet import DatumMark, Leader, Linear, Ordinate, Statement
from canonis.core.solid import Face, Vec
from canonis.core.tolerances import ROUNDING, parallel

__all__ = ["measure_frame"]

#: Kinds of face that each tolerance of form can be of.
_FORMS = {
    "straightness": ("plane", "cylinder", "cone"), "flatness": ("plane",), "roundness": ("cylinder", "cone", "sphere", "torus"),
    "cylindricity": ("cylinder",),
}  # fmt: skip
#: Faces that stand about an axis.
_ROUND = ("cylinder", "cone", "torus")
#: Within what directions are the same, as the sine of their angle, and axes, mm.
_ALONG, _OFF = 1e-6, 1e-4


@measures("tolerance-frame", sheet=True)
def measure_frame(m: Measurer, mark: Leader, alive: list[str], reading: Callout) -> list[PartProof]:
    """The datums that a frame names, whether the nominal faces are what is tolerated, and that the sizes are exact that say where
    something with a tolerance of position is."""
    faces = [m.solid(mark.sheet).faces[f] for f in m.faces(mark.sheet, alive)]
    tolerance = tolerance_of(reading)
    out = []
    datums: list[Face] = []
    for name in DATUMS:
        part = reading.part(name)
        if part is None:
            continue
        for letter in re.findall(r"[A-Z](?!\))", part.designation or ""):
            face = _datum(m, mark, letter)
            why = "" if face is not None else f"no datum {letter} is marked on the sheet"
            out.append(PartProof(name, part.designation, letter if face else None, face is not None, why=why))
            datums += [] if face is None else [face]
    fits = _fits(tolerance.name, faces, datums)
    if fits is not None:
        out.append(PartProof("tolerance", tolerance.name, fits or tolerance.name, not fits))
    if tolerance.name == "position":
        loose = sorted({a.text for a in _locating(m, mark, {f.index for f in faces}) if not a.says.basic})
        why = f"{', '.join(loose)} say where it is and are no exact sizes (BASIC)" if loose else ""
        out.append(PartProof("exact-sizes", True, not loose, not loose, why=why))
    return out


def _datum(m: Measurer, mark: Leader, letter: str) -> Face | None:
    """The face of the datum of a letter, where the sheet marks it and the model still has it."""
    for other in m.document.annotations:
        if isinstance(other, DatumMark) and other.letter == letter and other.sheet == mark.sheet:
            found = m.faces(mark.sheet, other.refs[:1])
            return m.solid(mark.sheet).faces[found[0]] if found else None
    return None


def _locating(m: Measurer, mark: Leader, faces: set[int]) -> Iterator[Statement]:
    """The statements that say where some faces are."""
    for other in m.document.annotations:
        where = isinstance(other, Linear | Ordinate) or (isinstance(other, Leader) and other.says.part("pitch-circle"))
        if where and isinstance(other, Statement) and other.sheet == mark.sheet and not other.reference:
            zero = isinstance(other, Ordinate) and other.refs[0] == other.refs[-1]
            refs = other.refs[1:] if isinstance(other, Ordinate) else other.refs
            if not zero and faces & set(m.faces(mark.sheet, list(refs))):
                yield other


def _fits(name: str, faces: list[Face], datums: list[Face]) -> str | None:
    """What of the nominal shape is otherwise than the tolerance takes for granted; empty where nothing is, None where the model
    does not say."""
    if name in _FORMS:
        other = next((f for f in faces if f.kind not in _FORMS[name]), None)
        return "" if other is None else f"a {other.kind} face"
    if not datums or not faces:
        return None
    first = datums[0]
    if name in ("parallelism", "perpendicularity"):
        return next((off for f in faces if (off := _turned(f, first, name == "parallelism")) is None or off), "")
    if name in ("coaxiality", "runout", "total runout"):
        return next((off for f in faces if (off := _off_axis(f, first, name != "coaxiality")) is None or off), "")
    return None


def _turned(face: Face, datum: Face, to_be_parallel: bool) -> str | None:
    """By how much a face is not parallel, or square, to a datum."""
    if any(f.kind not in ("plane", *_ROUND) for f in (face, datum)):
        return None
    lean = min(1.0, abs(float(face.axis @ datum.axis)))
    # The direction of a flat face is the one square to it.
    alike = (face.kind == "plane") == (datum.kind == "plane")
    between = np.degrees(np.arccos(lean))
    angle = between if alike else 90 - between
    off = angle if to_be_parallel else 90 - angle
    return "" if abs(np.sin(np.radians(off))) < _ALONG else f"{angle:.3g}° between them"


def _off_axis(face: Face, datum: Face, square_too: bool) -> str | None:
    """By how much a face does not stand about the axis of a datum; a flat one may stand square to it where it runs out."""
    if datum.kind not in _ROUND:
        return None
    if face.kind == "plane" and square_too:
        return "" if parallel(face.axis, datum.axis, ROUNDING) else "a face that is not square to the axis"
    if face.kind not in _ROUND:
        return None
    if not parallel(face.axis, datum.axis, ROUNDING):
        return "another direction of its axis"
    off: Vec = face.origin - datum.origin
    apart = float(np.linalg.norm(off - datum.axis * float(off @ datum.axis)))
    return "" if apart < _OFF else f"{apart:.4g} mm between the axes"
