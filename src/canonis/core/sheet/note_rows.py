"""The rows of notes: which sizes of a part a note fixes, by what it names and says; each kind enters its own (`rows/`)."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from canonis.core.folder import modules_of
from canonis.core.shape import Parts, PartShape
from canonis.core.sheet.document import Leader, Note, SheetDocument
from canonis.core.solid import Resolution, Vec, parse
from canonis.core.tolerances import parallel

__all__ = ["Named", "note_rows", "says"]


@dataclass(frozen=True, eq=False)
class Named:
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


_Rows = Callable[[Named], Iterator[Parts]]
_KINDS: dict[str, _Rows] = {}


def says(*kinds: str, on: str = "", least: int = 1, seen: bool = False) -> Callable[[_Rows], _Rows]:
    """Enter what notes of some kinds say: of faces of the kinds `on` (any, where none is named), of so many at least, and,
    where directions are read off it, in a view."""
    wanted = set(on.split())

    def enter(function: _Rows) -> _Rows:
        def guarded(n: Named) -> Iterator[Parts]:
            there = {n.shape.solid.faces[f].kind for f in n.numbers}
            if len(n.numbers) >= least and (not wanted or there <= wanted) and (not seen or n.mark.view):
                yield from function(n)

        _KINDS.update(dict.fromkeys(kinds, guarded))
        return function

    return enter


@lru_cache(maxsize=1)
def _entered() -> None:
    modules_of("canonis.core.sheet.rows")


def note_rows(
    shape: PartShape,
    document: SheetDocument,
    mark: Leader | Note,
    found: dict[str, Resolution],
    equally_spaced: bool,
) -> Iterator[Parts]:
    """The rows of a note by the names of the parts that a text can state, thing by thing."""
    _entered()
    if mark.states in _KINDS:
        yield from _KINDS[mark.states](Named(shape, document, mark, found, equally_spaced))
