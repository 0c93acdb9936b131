"""A measure named by geometry, so that a person's choice and tick hold on the next model: kind, size and references."""

import json
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Protocol

import numpy as np

from canonis.core.proof.match.item import Item
from canonis.core.proof.match.levels import Level, Levels
from canonis.core.solid import Resolution, Solid, extreme_reference, face_reference, parse, resolve_all
from canonis.core.tolerances import parallel

__all__ = ["Chosen", "chosen_from", "level_reference", "references_of", "write_chosen"]


@dataclass(frozen=True)
class Chosen:
    """A measure by the sort of its key, the size of a feature that it is, and the references of what it is about."""

    kind: str
    name: str
    refs: tuple[str, ...]


def chosen_from(text: str) -> Chosen | None:
    """Read a choice back from its text; None where it is none."""
    try:
        data = json.loads(text)
        kind, name, refs = str(data[0]), str(data[1]), tuple(str(r) for r in data[2:])
        for r in refs:
            parse(r)
    except (ValueError, TypeError, IndexError, KeyError):
        return None
    except Exception:  # a reference that is none
        return None
    return Chosen(kind, name, refs) if refs else None


def write_chosen(kind: str, name: str, refs: Sequence[str]) -> str:
    """A choice as text."""
    return json.dumps([kind, name, *refs])


def level_reference(levels: Levels, level: Level) -> str | None:
    """What a level is known by on another model: a flat or round face, else the end of the part."""
    faces = levels.solid.faces
    mine = sorted(
        level.faces, key=lambda f: (faces[f].kind != "plane" or "axis" in level.kinds, faces[f].kind == "free", f)
    )
    flat = [f for f in mine if faces[f].kind == "plane" and parallel(faces[f].axis, levels.frame[level.way])]
    if "axis" in level.kinds and not flat:
        flat = [f for f in mine if faces[f].kind in ("cylinder", "cone", "torus")]
    for f in (*flat, *mine):
        if faces[f].kind != "free":
            return face_reference(faces[f])
    for ends, sense in ((levels.low, -1.0), (levels.high, 1.0)):
        if level is ends[level.way]:
            return extreme_reference(levels.frame[level.way] * sense, level.value * sense)
    return None


def references_of(levels: Levels, solid: Solid, marks: Sequence[Level], faces: Iterable[int]) -> tuple[str, ...]:
    """References of a measure: its levels, or a face of the feature that it is about."""
    if marks:
        return tuple(r for n in marks[:2] if (r := level_reference(levels, n)) is not None)
    return next(((face_reference(solid.faces[f]),) for f in faces), ())


class Measure(Protocol):
    """What has a key and stands somewhere: a candidate, or what a line was given."""

    @property
    def key(self) -> tuple[object, ...]:
        """Its sort, and what tells it from others of that sort."""

    @property
    def levels(self) -> tuple[Level, ...]:
        """Its levels."""

    @property
    def item(self) -> Item | None:
        """Its feature."""


class Places:
    """References on a part, resolved once, and whether a candidate is what they name."""

    def __init__(self, levels: Levels, refs: Iterable[str]) -> None:
        self.levels = levels
        self.found: dict[str, Resolution] = resolve_all(refs, levels.solid)

    def level(self, ref: str) -> Level | None:
        """The end of the part that a reference names."""
        parsed = parse(ref)
        if parsed.kind != "extreme":
            return None
        d = np.array(parsed.vectors[0])
        way = int(np.argmax(np.abs(self.levels.frame @ d)))
        return (self.levels.high if float(self.levels.frame[way] @ d) > 0 else self.levels.low)[way]

    def _stands(self, ref: str, level: Level) -> bool:
        found = self.found[ref]
        if parse(ref).kind == "extreme":
            return self.level(ref) is level
        if found.faces:
            return found.status != "ambiguous" and found.faces[0] in level.faces
        if found.edges:
            edge = self.levels.solid.edges[found.edges[0]]
            points = (edge.centre, edge.middle) if edge.kind == "circle" else (edge.middle,)
            return any(abs(float(p @ self.levels.frame[level.way]) - level.value) < 1e-2 for p in points)
        return False

    def meets(self, chosen: Chosen, candidate: Measure) -> bool:
        """Whether a measure is the one that was chosen."""
        kind = str(candidate.key[0])
        if chosen.kind and kind != chosen.kind:
            return False
        if kind in ("edge", "pitch"):
            if len(chosen.refs) < 2:
                return False
            a, b = chosen.refs[0], chosen.refs[1]
            return any(
                self._stands(a, m) and self._stands(b, n)
                for m in candidate.levels
                for n in candidate.levels
                if m is not n
            )
        if kind == "size" and chosen.name and candidate.key[2] != chosen.name:
            return False
        faces = (
            candidate.item.faces
            if candidate.item is not None
            else frozenset(f for n in candidate.levels for f in n.faces)
        )
        return any(self.found[r].faces and self.found[r].faces[0] in faces for r in chosen.refs)
