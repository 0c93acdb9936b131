"""What the words of a line say of its place: demands that a candidate meets or not, each at a price."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

from canonis.core.proof.known import named_by, naming_words
from canonis.core.proof.match.item import Item
from canonis.core.proof.match.prices import PRICES
from canonis.core.source import Characteristic

__all__ = ["Place", "Words", "words_of"]

#: What a side of the part is called, as a view direction of the source: (axis of the view, sense).
SIDES = {
    "left": ("right", -1), "right": ("right", 1), "front": ("toward", 1), "back": ("toward", -1), "rear": ("toward", -1),
    "top": ("up", 1), "upper": ("up", 1), "bottom": ("up", -1), "base": ("up", -1), "underside": ("up", -1),
    "lower": ("up", -1), "foot": ("up", -1),
}  # fmt: skip
_HOLE = re.compile(r"\b(holes?|dowels?|taps?|tapped|bores?|bolts?|screws?|drill(ed)?|reamed?)\b")
_SOLID = re.compile(
    r"\b(ledge|step|rib|shoulder|body|seat|flange|hub|foot|leg|web|block|plate|base|arm|head|body|lug|wall)\b"
)
_THICK = re.compile(r"thick|\bwall\b|\bplate\b|\bflange\b|\bbase\b|\bweb\b|\bfoot\b")
_PITCH = re.compile(
    r"pitch|spac|\bcentres\b|\bcenters\b|centre to centre|center to center|apart|\brow\b|\bctrs\b|\bcrs\b|c/c|c-c|c to c"
)
_TO_AXIS = re.compile(r"\bto (the )?(centre|center)( ?line)?\b")
_OVERALL = re.compile(r"\boverall\b|\bo/a\b|\btotal\b|\bover all\b")
_SIZE_WORDS = re.compile(r"\bdeep\b|\bdepth\b|\bdrill\b|\bwide\b|\bwidth\b|↧")


@dataclass(frozen=True)
class Place:
    """Where a candidate of a length stands, for words: which ends it has, of which sort."""

    way: int
    low: bool
    high: bool
    axis: tuple[bool, bool]
    flat: tuple[bool, bool]
    same_row: bool
    wall: bool
    middle: bool
    owners: frozenset[str]


@dataclass(frozen=True)
class Words:
    """The demands of one line."""

    text: str
    overall: bool
    thick: bool
    #: A wall outright: material between two faces.
    wall: bool
    pitch: bool
    edge: bool
    half: bool
    to_axis: bool
    hole: bool
    solid: bool
    size: bool
    #: Direction named outright: x, y or z as 0, 1, 2.
    way: int | None
    #: A side that the distance is taken from: axis of the source's views and sense.
    side: tuple[str, int] | None
    #: Axis of the source's views that the line's own view looks along: its sizes cannot lie along it.
    view: tuple[str, int] | None
    tall: bool
    long: bool
    labels: tuple[frozenset[str], ...]

    def price(self, at: Place) -> float:
        """What the words say against a place (less than nothing where they speak for it)."""
        p = PRICES
        out = 0.0
        over = at.low and at.high
        if self.overall and not over:
            out += p.overall
        if self.thick and not (at.wall and not over):
            out += 0.5 if all(at.flat) and not self.wall else p.against
        if self.pitch and not at.same_row:
            out += 1.5 if all(at.axis) else p.against
        if self.edge and not (at.low or at.high):
            out += p.against + 1
        if self.way is not None and at.way != self.way:
            out += p.against + 1
        if self.to_axis and not any(at.axis) and not at.middle:
            out += p.against
        if self.half and at.middle:
            out -= 2.0
        if self.hole and not any(at.axis):
            out += 3.0
        elif self.solid and not self.hole and not all(at.flat):
            out += 2.5
        for labels in self.labels:
            if labels and not (at.owners & labels):
                out += p.owner
        return out


_VIEWS = {
    "front": ("toward", 1),
    "back": ("toward", -1),
    "rear": ("toward", -1),
    "top": ("up", 1),
    "plan": ("up", 1),
    "bottom": ("up", -1),
    "left": ("right", -1),
    "right": ("right", 1),
    "side": ("right", 1),
    "end": ("right", 1),
}


def words_of(c: Characteristic, items: Sequence[Item]) -> Words:
    """The demands that a line's text, name, detail, direction and `where` make."""
    text = f" {c.text} {c.name} {c.detail} ".lower()
    direction = c.direction.lower()
    full = f"{text} {direction} "
    way = re.search(r"(?:^|\s)([xyz])\s*[:=]|\balong ([xyz])\b|\bin ([xyz])\b", f"{full} {c.where.lower()}")
    side = next(
        (
            SIDES[w]
            for w in SIDES
            if re.search(rf"\b(from|above|below|to|off)\b[^.;]*\b{w}\b", full) or re.search(rf"\b{w}\b", direction)
        ),
        None,
    )
    if side is None and re.search(r"\babove\b|\bup from\b", full) and re.search(r"\bbase\b", full):
        side = ("up", -1)
    view = next((_VIEWS[w] for w in _VIEWS if re.search(rf"\b{w}\b", c.where.lower())), None)
    labels = tuple(
        frozenset(i.label for i in items if i.kind in named_by(word))
        for word in naming_words()
        if re.search(rf"\b{word}s?\b", text)
    )
    return Words(
        text=full,
        overall=bool(_OVERALL.search(full)),
        thick=(bool(_THICK.search(text)) or c.kind == "wall") and side is None,
        wall=c.kind == "wall",
        pitch=bool(_PITCH.search(text)),
        edge=side is None
        and bool(
            re.search(r"\bfrom (the |each |an? )?(edge|end|side)\b", full)
            or re.search(r"\b(edge|end|side)\b", direction)
        ),
        half=bool(re.search(r"\bhalf\b|\bcentre ?line\b|\bcenter ?line\b", full)),
        to_axis=bool(_TO_AXIS.search(full)) or direction in ("centre", "center", "centreline"),
        hole=bool(_HOLE.search(text)),
        solid=bool(_SOLID.search(text)),
        size=bool(_SIZE_WORDS.search(full)),
        way=None if way is None else "xyz".index(next(g for g in way.groups() if g)),
        side=side,
        view=view,
        tall=bool(re.search(r"\bheight\b|\bhigh\b|\btall\b", text)),
        long=bool(re.search(r"\blength\b|\blong\b", text)),
        labels=labels,
    )
