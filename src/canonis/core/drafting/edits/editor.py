"""A sheet under an edit: what it is about is looked up here, and what it changes is put here."""

from collections.abc import Collection
from typing import Any

from canonis.core.drafting.draft import Projections, scene_for
from canonis.core.drafting.letters import next_letter
from canonis.core.drafting.new_views import NoRoom, text_boxes
from canonis.core.drafting.notes import write_notes
from canonis.core.faults import BadInput
from canonis.core.features import Feature
from canonis.core.layout import arrange, beside, elsewhere, place_notes, place_rows, refresh, taken_by
from canonis.core.sheet import Annotation, Look, Scene, SheetDocument, SheetPage, View, look_of
from canonis.core.solid import Solid

__all__ = ["Editor"]


class Editor:
    """The document of a sheet on its model; every change makes another document, what it was made from stays as it is."""

    def __init__(
        self, document: SheetDocument, solids: tuple[Solid, ...], features: tuple[Feature, ...], cache: Projections
    ) -> None:
        self.document, self.solids, self.features, self.cache = document, solids, features, cache

    def scene(self, document: SheetDocument | None = None) -> Scene:
        """The scene of the document as it is now, or of another one of this sheet."""
        return scene_for(self.document if document is None else document, self.solids, self.features, self.cache)

    def mark(self, name: str) -> Annotation:
        """A statement by its id.

        Raises BadInput where it has gone.
        """
        try:
            return self.document.annotation(name)
        except KeyError:
            raise BadInput("That statement is no longer on the sheet; reload to see the present one.") from None

    def view(self, name: str) -> View:
        """A view by its id.

        Raises BadInput where it has gone.
        """
        try:
            return self.document.view(name)
        except KeyError:
            raise BadInput("That view is no longer on the sheet; reload to see the present one.") from None

    def page(self, number: int) -> SheetPage:
        """A sheet by its number."""
        return next(p for p in self.document.pages if p.number == number)

    def look(self, number: int) -> Look:
        """How a sheet is drawn."""
        return look_of(self.document.style, self.page(number).size)

    def new_id(self) -> str:
        """The id of a further statement."""
        return f"D{1 + max((int(a.id[1:]) for a in self.document.annotations if a.id[1:].isdigit()), default=0)}"

    def new_view(self) -> tuple[str, str]:
        """The id of a further view, and its letter."""
        number = 1 + max((int(v.id[1:]) for v in self.document.views if v.id[1:].isdigit()), default=0)
        return f"V{number}", next_letter(self.document)

    def update(self, **fields: Any) -> None:
        """Change fields of the document."""
        self.document = self.document.model_copy(update=fields)

    def put(self, *marks: Annotation) -> None:
        """Put statements in place of those of their ids; new ones come last."""
        new = {m.id: m for m in marks}
        kept = tuple(new.pop(a.id, a) for a in self.document.annotations)
        self.update(annotations=(*kept, *new.values()))

    def put_view(self, view: View) -> None:
        """Put a view in place of the one of its id."""
        self.update(views=tuple(view if v.id == view.id else v for v in self.document.views))

    def refresh(self, number: int, *, notes: bool = False, new: Collection[str] = ()) -> None:
        """Place the rows of a sheet anew, and its notes, or those of the ids in `new` alone."""
        self.document = refresh(self.scene(), self.page(number), notes=notes, new=new)

    def arrange(self, number: int, size: str, scale: str) -> None:
        """Lay a sheet out anew."""
        self.document = arrange(self.scene(), self.page(number), size, scale)

    def write_notes(self) -> None:
        """The general notes anew: what is drawn at its place does not stand among them; those of before stay as they were."""
        if self.document.note_form == "numbered":
            written = write_notes(self.document)
            if written != self.document:
                self.document = written
                self.place_notes()

    def place_notes(self) -> None:
        """Put the notes of every sheet above its title block."""
        for page in self.document.pages:
            self.document = place_notes(self.document, page)

    def add_view(self, view: View, *, aligned: bool) -> None:
        """Put a further view in a free place: in projection with its parent where it can be `aligned`, else anywhere.

        Raises BadInput where nothing is to be seen, NoRoom where the sheet has no free place.
        """
        self.update(views=(*self.document.views, view))
        scene = self.scene()
        if not scene.projection(view).visible:
            raise BadInput("Nothing of the part is to be seen there; the sheet stays as it was.")
        # Rows make room for the letters on the parent before a free place is looked for.
        rows = place_rows(scene, self.look(view.sheet))
        marks = tuple(rows.get(a.id, a) for a in self.document.annotations)
        dressed = scene.on(self.document.model_copy(update={"annotations": marks}))
        taken = taken_by(scene, view.sheet, text_boxes(dressed, view.sheet), but=view.id)
        at = beside(scene, view, taken) if aligned else None
        stays = at is not None
        at = at or elsewhere(scene, view, taken)
        if at is None:
            raise NoRoom(
                "There is no room for that view on this sheet; take a larger sheet, a smaller scale or another sheet.",
                self.document,
            )
        self.put_view(view.model_copy(update={"at": at, "aligned": stays}))
