"""The rows of notes: one function a kind, which tells from what a note names and says which sizes of the part it fixes."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from canonis.core.shape import (
    ON_CENTRE_LINE,
    Parts,
    PartShape,
    angle_rows,
    arc_slot_rows,
    chamfer_rows,
    dovetail_rows,
    draft_rows,
    groove_rows,
    hole_rows,
    is_plain_hole,
    polygon_rows,
    rim_rows,
    ring_rows,
    round_groove_rows,
    round_rows,
    slot_rows,
    spline_rows,
    tapped_rows,
    thread_rows,
    wall_rows,
)
from canonis.core.sheet.document import Leader, Note, SheetDocument
from canonis.core.solid import Resolution, Vec, parse
from canonis.core.tolerances import parallel

__all__ = ["note_rows"]


@dataclass(frozen=True, eq=False)
class _Named:
    """A note on its part: what it says, and the faces and edges that its references still name, each once."""

    shape: PartShape
    document: SheetDocument
    mark: Leader | Note
    found: dict[str, Resolution]
    equally_spaced: bool

    @property
    def faces(self) -> list[tuple[str, int]]:
        """Each face once, with the reference that names it."""
        out: dict[int, str] = {}
        for ref in dict.fromkeys(self.mark.refs):
            if self.found[ref].faces and self.found[ref].status != "ambiguous":
                out.setdefault(self.found[ref].faces[0], ref)
        return [(ref, face) for face, ref in out.items()]

    @property
    def numbers(self) -> list[int]:
        """The faces alone."""
        return [face for _, face in self.faces]

    @property
    def cylinders(self) -> list[int]:
        """The cylinders among them."""
        return [f for f in self.numbers if self.shape.solid.faces[f].kind == "cylinder"]

    def out(self, ref: str) -> tuple[Vec, bool]:
        """The direction out of a bore's start, and whether the view says so: it looks along the bore. Else the reference
        points that way, and the larger seat may."""
        axis = np.array(parse(ref).vectors[1])
        view = next((v for v in self.document.views if v.id == self.mark.view and v.kind != "pictorial"), None)
        toward = axis if view is None else np.cross(np.array(view.right), np.array(view.up))
        along = view is not None and parallel(toward, axis)
        return (toward, True) if along else (axis, False)


_Rows = Callable[[_Named], Iterator[Parts]]
_KINDS: dict[str, _Rows] = {}


def _says(*kinds: str, on: str = "", least: int = 1, seen: bool = False) -> Callable[[_Rows], _Rows]:
    """Enter what notes of some kinds say: of faces of the kinds `on` (any, where none is named), of so many at least, and,
    where directions are read off it, in a view."""
    wanted = set(on.split())

    def enter(function: _Rows) -> _Rows:
        def guarded(n: _Named) -> Iterator[Parts]:
            there = {n.shape.solid.faces[f].kind for f in n.numbers}
            if len(n.numbers) >= least and (not wanted or there <= wanted) and (not seen or n.mark.view):
                yield from function(n)

        _KINDS.update(dict.fromkeys(kinds, guarded))
        return function

    return enter


@_says("hole")
def _holes(n: _Named) -> Iterator[Parts]:
    for ref, face in n.faces:
        if n.shape.solid.faces[face].kind == "cylinder":
            yield hole_rows(n.shape, face, *n.out(ref))
    if n.mark.says.part("pitch-circle"):
        yield from _rings(n)


@_says("slot", on="cylinder", least=2)
def _slots(n: _Named) -> Iterator[Parts]:
    ends = n.numbers
    for k in range(0, len(ends) - 1, 2):
        yield slot_rows(n.shape, (ends[k], ends[k + 1]))


@_says("arc-slot", on="cylinder", least=4, seen=True)
def _arc_slots(n: _Named) -> Iterator[Parts]:
    """Start and end of each slot in turn, then the outer and the inner wall, which slots of a ring share."""
    view = n.document.view(n.mark.view or "")
    *ends, outer, inner = n.numbers
    toward = np.cross(np.array(view.right), np.array(view.up))
    for k in range(0, len(ends) - 1, 2):
        yield arc_slot_rows(n.shape, ends[k : k + 2], (outer, inner), toward)


@_says("chamfer", on="plane cone")
def _chamfers(n: _Named) -> Iterator[Parts]:
    for face in n.numbers:
        yield chamfer_rows(n.shape, face)


@_says("pattern", on="cylinder")
def _rings(n: _Named) -> Iterator[Parts]:
    rows = ring_rows(n.shape, n.cylinders, n.equally_spaced or n.mark.says.part("equally-spaced") is not None)
    if n.mark.says.turns:
        # Where they stand is said, not drawn.
        rows.pop(ON_CENTRE_LINE, None)
    yield rows


@_says("thread", on="cylinder")
def _threads(n: _Named) -> Iterator[Parts]:
    plain = [(ref, f) for ref, f in n.faces if is_plain_hole(n.shape.solid, f)]
    for ref, face in plain:
        out, fixed = n.out(ref)
        yield tapped_rows(n.shape, face, out, n.mark.says.part("drill-diameter") is not None, fixed)
    if not plain and n.cylinders:
        yield thread_rows(n.shape, n.cylinders)


@_says("groove", on="plane cylinder torus")
def _grooves(n: _Named) -> Iterator[Parts]:
    faces = n.numbers
    if faces and n.shape.solid.faces[faces[0]].kind == "torus":
        yield from (round_groove_rows(n.shape, f) for f in faces)
        return
    for k in range(0, len(faces) - 2, 3):
        yield groove_rows(n.shape, faces[k], faces[k + 1 : k + 3])


@_says("spline", on="plane cylinder", least=4)
def _splines(n: _Named) -> Iterator[Parts]:
    yield spline_rows(n.shape, n.numbers)


@_says("wall", on="plane", least=2)
def _walls(n: _Named) -> Iterator[Parts]:
    # A long face may back several others: it is named once for each.
    for one, other in zip(n.mark.refs[::2], n.mark.refs[1::2], strict=False):
        pair = [f for r in (one, other) if n.found[r].status != "ambiguous" for f in n.found[r].faces[:1]]
        if len(pair) == 2:
            yield wall_rows(n.shape, *pair)


@_says("polygon", on="plane", least=3)
def _polygons(n: _Named) -> Iterator[Parts]:
    yield polygon_rows(n.shape, n.numbers)


@_says("dovetail", on="plane", least=4)
def _dovetails(n: _Named) -> Iterator[Parts]:
    # Two may stand on one face: it is named with each.
    faces = [f for r in n.mark.refs if n.found[r].status != "ambiguous" for f in n.found[r].faces[:1]]
    for k in range(0, len(faces) - 3, 4):
        yield dovetail_rows(n.shape, faces[k : k + 4])


@_says("draft", on="plane cone", least=2)
def _drafts(n: _Named) -> Iterator[Parts]:
    base, *faces = n.numbers
    yield draft_rows(n.shape, base, faces)


@_says("angle", seen=True)
def _angles(n: _Named) -> Iterator[Parts]:
    view = n.document.view(n.mark.view or "")
    yield angle_rows(n.shape, n.numbers, np.cross(np.array(view.right), np.array(view.up)))


@_says("diameter", "radius", "round", least=0)
def _rounds(n: _Named) -> Iterator[Parts]:
    for face in n.numbers:
        yield round_rows(n.shape, face)
    for ref in dict.fromkeys(n.mark.refs):
        if n.found[ref].edges and n.found[ref].status != "ambiguous":
            yield rim_rows(n.shape, n.shape.solid.edges[n.found[ref].edges[0]])


def note_rows(
    shape: PartShape,
    document: SheetDocument,
    mark: Leader | Note,
    found: dict[str, Resolution],
    equally_spaced: bool,
) -> Iterator[Parts]:
    """The rows of a note by the names of the parts that a text can state, thing by thing."""
    if mark.states in _KINDS:
        yield from _KINDS[mark.states](_Named(shape, document, mark, found, equally_spaced))
