"""The sheet document: what is stored, versioned, edited and exported.

It names geometry by reference and holds placements in paper mm; it never holds coordinates of model
edges. Placements are relative to the view they belong to.
"""

from functools import lru_cache
from typing import Annotated, Any, Literal, Self, get_args

from pydantic import Discriminator, PlainSerializer, Tag

from canonis.core.callout import WORDS, Callout, Notation, Pen, kind_of, write
from canonis.core.callout import Part as Size
from canonis.core.house import House
from canonis.core.quantity import Unit
from canonis.core.sheet.views import Frozen, Triple, View

__all__ = [
    "FORM",
    "Annotation",
    "CentreLine",
    "CentreMark",
    "Leader",
    "Linear",
    "Note",
    "Ordinate",
    "Place",
    "Revision",
    "SheetDocument",
    "SheetPage",
    "Statement",
    "TitleBlock",
    "View",
    "Withdrawn",
]  # fmt: skip


class SheetPage(Frozen):
    """One sheet: number, size name, main scale, the solid it shows and the point its levels count from (mm)."""

    number: int
    size: str
    scale: float
    solid: int = 0
    copies: int = 1
    datum: Triple = (0.0, 0.0, 0.0)
    #: What holds the datum along x, y and z of the file; without them it stays where it is.
    datum_refs: tuple[str, ...] = ()
    #: What stands in the title block of this sheet instead of the document's, where the sheets show different solids.
    title: str = ""
    number_text: str = ""
    mass: str = ""


class Base(Frozen):
    """What all annotations share."""

    id: str
    sheet: int = 1
    view: str | None = None
    refs: tuple[str, ...] = ()
    feature: str | None = None
    reference: bool = False
    by_hand: bool = False

    @property
    def text(self) -> str:
        """What it says, in one line; nothing of a mark."""
        return ""

    @property
    def states(self) -> str:
        """The kind of callout that it states; none of a mark."""
        return ""


def _kept(model: Callout | Size) -> dict[str, Any]:
    return model.model_dump(mode="json", exclude_defaults=True)


@lru_cache(maxsize=8192)
def _written(says: Callout, unit: Unit, notation: Notation) -> tuple[str, ...]:
    return write(says, Pen(unit, notation, sheet=True))


class Statement(Base):
    """What all annotations share that state something: the callout that they say, written in a unit and a notation.

    `drawn` are its lines as an earlier form of the document has them on paper, where they would be written otherwise now:
    what was drawn stays until something else is said.
    """

    says: Annotated[Callout, PlainSerializer(_kept, return_type=dict[str, Any])]
    unit: Unit = Unit.MM
    notation: Notation = "symbols"
    drawn: tuple[str, ...] = ()

    @property
    def lines(self) -> tuple[str, ...]:
        """What it says, in lines."""
        return self.drawn or _written(self.says, self.unit, self.notation)

    @property
    def text(self) -> str:
        """What it says, in one line."""
        return " ".join(self.lines)

    @property
    def framed(self) -> bool:
        """Whether it stands in a frame on paper: an exact size (ISO 1101) that is written in one line."""
        return self.says.basic and self.read and not self.drawn and len(self.lines) == 1

    @property
    def figures(self) -> tuple[str, ...]:
        """Its lines as they stand on paper: an exact size in its frame without the word, a reference in parentheses."""
        lines = self.saying(self.says.changed(basic=False)).lines if self.framed else self.lines
        return tuple(f"({t})" for t in lines) if self.reference else lines

    @property
    def states(self) -> str:
        """The kind of callout that it states."""
        return self.says.kind

    @property
    def read(self) -> bool:
        """Whether it says something that has a meaning, not words alone."""
        return self.says.kind != WORDS

    def saying(self, says: Callout, **fields: Any) -> Self:
        """The same with something else to say, and with other fields."""
        return self.model_copy(update={"says": says, "drawn": (), **fields})


class Linear(Statement):
    """A distance between two references along the view's right (`x`) or up (`y`); of a `pattern` the equal spaces between
    all its references, drawn from the first to the last.

    `row` is the distance of the dimension line from the view's outline on `side`; `along` shifts the text.
    """

    kind: Literal["linear", "pattern"] = "linear"
    direction: Literal["x", "y"]
    side: Literal["above", "below", "left", "right"]
    row: float = 10.0
    along: float = 0.0

    @property
    def ends(self) -> tuple[str, ...]:
        """The references that its dimension line runs between."""
        return self.refs if len(self.refs) < 2 else (self.refs[0], self.refs[-1])


class Ordinate(Statement):
    """A distance from the datum (first reference) to a level (second), written at the row's end of its line; further ones
    are floors that the view shows at the same level."""

    kind: Literal["ordinate"] = "ordinate"
    direction: Literal["x", "y"]
    side: Literal["above", "below", "left", "right"]
    row: float = 14.0
    along: float = 0.0


class Leader(Statement):
    """A note with a leader: hole notes, diameters, radii, chamfers, slots. `at` is relative to the view; `along` is where a symbol
    stands on the line of a flat face that is seen from its edge (0 to 1)."""

    target: str = ""
    along: float = 0.5
    at: tuple[float, float] = (20.0, 20.0)
    right: bool = True
    #: The letter of its holes in the hole table of its view: there the note stands, without a leader.
    letter: str = ""

    @property
    def kind(self) -> str:
        """What sort of statement it is, as files call it."""
        return kind_of(self.says.kind).noted if self.read else WORDS

    @property
    def spots(self) -> tuple[str, ...]:
        """The references that the leader may point at: any of equal members, the target alone where the references are
        parts of one feature or somebody chose the place."""
        one = self.read and kind_of(self.says.kind).one_thing
        return (self.target,) if self.target and (self.by_hand or one) else self.refs


class Place(Base):
    """Where a hole is, as a row of its view's hole table: signed distances right (`x`) and up (`y`) from the datum.

    The references are what the two distances count from, and the hole. `offset` is the middle of the tag beside the hole,
    from its centre, mm on paper.
    """

    kind: Literal["place"] = "place"
    tag: str
    x: Annotated[Size, PlainSerializer(_kept, return_type=dict[str, Any])]
    y: Annotated[Size, PlainSerializer(_kept, return_type=dict[str, Any])]
    unit: Unit = Unit.MM
    offset: tuple[float, float] = (5.0, 5.0)

    @property
    def distances(self) -> tuple[str, str]:
        """Both distances as they are written."""
        pen = Pen(self.unit, sheet=True)
        return pen.value(self.x) or self.x.typed, pen.value(self.y) or self.y.typed

    @property
    def text(self) -> str:
        """Both distances in one line."""
        return "; ".join(t for t in self.distances if t)


class HoleTable(Base):
    """The table of the places in a view; `at` is its upper left corner in sheet mm, its rows go on in further columns."""

    kind: Literal["hole-table"] = "hole-table"
    at: tuple[float, float] = (0.0, 0.0)
    columns: int = 1


class CentreMark(Base):
    """Crossed centre lines on something round that is seen true."""

    kind: Literal["centre-mark"] = "centre-mark"


class CentreLine(Base):
    """The axis of something round that is seen from the side; the references give axis and extent."""

    kind: Literal["centre-line"] = "centre-line"


class SymmetryLine(Base):
    """The line of symmetry of a view between two references, right (`x`) or up (`y`)."""

    kind: Literal["symmetry-line"] = "symmetry-line"
    direction: Literal["x", "y"]


class FlatCross(Base):
    """Thin diagonals on a flat of a round part, or on the side of a square end (ISO 128-3); the reference is the face."""

    kind: Literal["flat-cross"] = "flat-cross"


class DatumMark(Base):
    """The indicator of a datum feature: its letter; `along` the line of a flat face it stands (0 to 1), `reach` is the
    length of its stem, mm. For an axis it hangs on the note of its round face."""

    kind: Literal["datum-mark"] = "datum-mark"
    letter: str
    along: float = 0.5
    reach: float = 4.0


class Note(Statement):
    """A note on the paper; `at` is the upper left corner in sheet mm.

    `laid` are its lines as they stand in the block of notes: with its number, broken to the width of the block, and with
    empty lines where others have theirs.
    """

    kind: Literal["note"] = "note"
    says: Annotated[Callout, PlainSerializer(_kept, return_type=dict[str, Any])] = Callout()
    laid: tuple[str, ...] = ()
    at: tuple[float, float]
    height: float = 3.5

    def saying(self, says: Callout, **fields: Any) -> Self:
        """The same with something else to say; how it is laid follows."""
        return super().saying(says, **{"laid": (), **fields})

    @property
    def lines(self) -> tuple[str, ...]:
        """Its lines in the block of notes."""
        return self.laid or super().lines

    @property
    def text(self) -> str:
        """What it says, in one line, without its number."""
        return " ".join(super().lines)


_PLAIN = (Linear, Ordinate, Place, HoleTable, CentreMark, CentreLine, SymmetryLine, FlatCross, DatumMark, Note)
#: Which of them an annotation is, by its kind; what is called by what it says is a note with a leader.
_SORTS = {kind: cls.__name__ for cls in _PLAIN for kind in get_args(cls.model_fields["kind"].annotation)}


def _sort(value: Any) -> str:
    kind = value.get("kind") if isinstance(value, dict) else None
    return _SORTS.get(str(kind), "Leader") if isinstance(value, dict) else type(value).__name__


Annotation = Annotated[
    Annotated[Linear, Tag("Linear")]
    | Annotated[Ordinate, Tag("Ordinate")]
    | Annotated[Leader, Tag("Leader")]
    | Annotated[Place, Tag("Place")]
    | Annotated[HoleTable, Tag("HoleTable")]
    | Annotated[CentreMark, Tag("CentreMark")]
    | Annotated[CentreLine, Tag("CentreLine")]
    | Annotated[SymmetryLine, Tag("SymmetryLine")]
    | Annotated[FlatCross, Tag("FlatCross")]
    | Annotated[DatumMark, Tag("DatumMark")]
    | Annotated[Note, Tag("Note")],
    Discriminator(_sort),
]
#: Marks that state nothing.
MUTE = (CentreMark, CentreLine, SymmetryLine, FlatCross, HoleTable, DatumMark)


class Revision(Frozen):
    """One row of the revision block: its letter, what changed, when and by whom."""

    letter: str
    change: str = ""
    date: str = ""
    by: str = ""


class Withdrawn(Frozen):
    """A statement that a draft had planned and the second route did not bear out: what it said, of what, and why it went.
    Nothing of it is on paper."""

    text: str
    refs: tuple[str, ...] = ()
    why: str = ""


class TitleBlock(Frozen):
    """Fields of the title block (ISO 7200); those the source or the model gives are linked, not typed."""

    owner: str = ""
    number: str = ""
    title: str = ""
    revision: str = "A"
    date: str = ""
    created_by: str = "Drafter"
    approved_by: str = ""
    document_type: str = "Part drawing"
    material: str = ""
    mass: str = "–"
    general: str = ""
    #: The fields that the source gives; they follow it and are marked as linked.
    linked: tuple[str, ...] = ()
    revisions: tuple[Revision, ...] = ()


#: The number of the form in which documents are stored now (see `upgrade`).
FORM = 4


class SheetDocument(Frozen):
    """The whole sheet document."""

    form: int = FORM

    style: Literal["iso", "asme"] = "iso"
    projection: Literal["first", "third"] = "first"
    unit: Unit = Unit.MM
    pages: tuple[SheetPage, ...]
    views: tuple[View, ...]
    annotations: tuple[Annotation, ...] = ()
    title: TitleBlock = TitleBlock()
    notes: tuple[str, ...] = ()
    #: How the general notes are written: `plain` ones stand on sheets of before they had numbers, and stay so.
    note_form: Literal["numbered", "plain"] = "numbered"
    datum_name: str = "left-front-bottom"
    notation: Notation = "symbols"
    #: The rules of the house by which it was drafted.
    house: House = House()
    front: str = ""
    front_reason: str = ""
    withdrawn: tuple[Withdrawn, ...] = ()

    def joined(self) -> "SheetDocument":
        """The document with the sheets that show one solid laid together: what is said of a part is said on any of them."""
        first: dict[int, int] = {}
        for page in self.pages:
            first.setdefault(page.solid, page.number)
        of = {page.number: first[page.solid] for page in self.pages}
        if all(number == one for number, one in of.items()):
            return self
        return self.model_copy(
            update={
                "pages": tuple(p for p in self.pages if of[p.number] == p.number),
                "views": tuple(v.model_copy(update={"sheet": of[v.sheet]}) for v in self.views),
                "annotations": tuple(a.model_copy(update={"sheet": of[a.sheet]}) for a in self.annotations),
            }
        )

    def view(self, view_id: str) -> View:
        """The view with this id.

        Raises KeyError when there is none.
        """
        for view in self.views:
            if view.id == view_id:
                return view
        raise KeyError(view_id)

    def annotation(self, annotation_id: str) -> Annotation:
        """The statement with this id.

        Raises KeyError when there is none.
        """
        for annotation in self.annotations:
            if annotation.id == annotation_id:
                return annotation
        raise KeyError(annotation_id)
