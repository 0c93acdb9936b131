"""What a new draft keeps of the sheet it replaces: the choices made on it and what was added to it by hand."""

from typing import Any

import numpy as np

from canonis.core.drafting.commands import Command
from canonis.core.drafting.draft import Draft, projection_of
from canonis.core.drafting.letters import next_letter
from canonis.core.drafting.new_views import BY_HAND, text_boxes
from canonis.core.drafting.pointing import with_exact_sizes
from canonis.core.layout import arrange, beside, elsewhere, refresh, taken_by
from canonis.core.sheet import (
    Annotation,
    Auxiliary,
    DatumMark,
    Detail,
    Linear,
    Scene,
    Section,
    SheetDocument,
    View,
    build_scene,
)

__all__ = ["carried", "carry_over", "kept_choices"]


def kept_choices(before: SheetDocument, style: str = "") -> dict[str, Any]:
    """Front view, datum and projection of a sheet, as draft options for a sheet of `style`. A projection that only
    followed from another style was chosen by nobody, and goes with that style."""
    followed = style not in ("", before.style) and before.projection == projection_of(before.style)
    projection = None if followed else before.projection
    return {"front": before.front or None, "datum": before.datum_name or None, "projection": projection}


def carry_over(before: SheetDocument, draft: Draft) -> SheetDocument:
    """The drafted document with its revision and author, the views that people had asked for, and what they
    had added, in the views that look the same way."""
    mine = {name: getattr(before.title, name) for name in ("revision", "revisions", "created_by")}
    document = draft.document.model_copy(update={"title": draft.document.title.model_copy(update=mine)})
    document = _with_views_by_hand(before, document, draft.scene)
    stated = {_said(a) for a in document.annotations}
    added: list[Annotation] = []
    number = 1 + max((int(a.id[1:]) for a in document.annotations if a.id[1:].isdigit()), default=0)
    for mark in before.annotations:
        if mark.feature != "added":
            continue
        old = before.view(mark.view or "")
        view = next(
            (
                v
                for v in document.views
                if v.sheet == old.sheet
                and v.kind != "pictorial"
                and np.allclose((*v.right, *v.up), (*old.right, *old.up))
            ),
            None,
        )
        if view is None or _said(kept := mark.model_copy(update={"view": view.id})) in stated:
            continue
        added.append(kept.model_copy(update={"id": f"{mark.id[:1]}{number + len(added)}", "by_hand": False}))
    if not added:
        return document
    document = document.model_copy(update={"annotations": (*document.annotations, *added)})
    scene = draft.scene
    document = with_exact_sizes(document, scene)
    for page in document.pages:
        made: Scene = build_scene(document, scene.solids, scene.marks, scene.projections)
        document = refresh(made, page)
    return document


def _said(mark: Annotation) -> tuple[object, ...]:
    """What tells a statement that somebody added from another: a length by where it runs, a note by its words, a datum by its
    letter."""
    if isinstance(mark, Linear):
        return frozenset(mark.refs), mark.view, mark.direction
    return (mark.letter,) if isinstance(mark, DatumMark) else (mark.refs, mark.text)


def carried(command: Command, before: SheetDocument, after: SheetDocument) -> Command | None:
    """An edit that was made on one draft of a sheet, as it is made on the next: ids are labels that a draft gives anew, so
    that a statement is found by what it names and a view by the way it looks. None where there is no such thing any more."""
    changes: dict[str, str] = {}
    for field in ("id", "view"):
        named = getattr(command, field, None)
        if named is None:
            continue
        if any(v.id == named for v in before.views):
            view = _same(before.view(named), after)
            found = None if view is None else view.id
        else:
            old = next((a for a in before.annotations if a.id == named), None)
            same = [] if old is None else [a for a in after.annotations if a.kind == old.kind and a.refs == old.refs]
            found = next((a.id for a in same if a.id == named), same[0].id if same else None)
        if found is None:
            return None
        changes[field] = found
    return command.model_copy(update=changes)


def _with_views_by_hand(before: SheetDocument, document: SheetDocument, scene: Scene) -> SheetDocument:
    """The new draft with the sections, details and auxiliary views that people had asked for, where their parents still
    are; each in a free place, or on the sheet arranged anew."""
    for old in before.views:
        if not isinstance(old, Section | Detail | Auxiliary) or old.reason != BY_HAND:
            continue
        parent = _same(before.view(old.parent or ""), document)
        if parent is None or any(_again(old, v, parent.id) for v in document.views):
            continue
        number = 1 + max((int(v.id[1:]) for v in document.views if v.id[1:].isdigit()), default=0)
        used = {getattr(v, "letter", "") for v in document.views}
        kept = old.model_copy(
            update={
                "id": f"V{number}",
                "parent": parent.id,
                "letter": old.letter if old.letter not in used else next_letter(document),
                "scale": old.scale if isinstance(old, Detail) else parent.scale,
            }
        )
        document = document.model_copy(update={"views": (*document.views, kept)})
        made = build_scene(document, scene.solids, scene.marks, scene.projections)
        taken = taken_by(made, kept.sheet, text_boxes(made, kept.sheet), but=kept.id)
        at = (beside(made, kept, taken) if isinstance(kept, Section) else None) or elsewhere(made, kept, taken)
        if at is None:
            page = next(p for p in document.pages if p.number == kept.sheet)
            document = arrange(made, page)
            continue
        placed = kept.model_copy(update={"at": at})
        document = document.model_copy(
            update={"views": tuple(placed if v.id == kept.id else v for v in document.views)}
        )
    return document


def _same(old: View, document: SheetDocument) -> View | None:
    """The view of a document that looks the same way at the same sheet's solid."""
    return next(
        (
            v
            for v in document.views
            if v.sheet == old.sheet and v.kind == old.kind and np.allclose((*v.right, *v.up), (*old.right, *old.up))
        ),
        None,
    )


def _again(old: View, new: View, parent: str) -> bool:
    """Whether a draft has made by itself what somebody had asked for."""
    return isinstance(old, Section) and isinstance(new, Section) and new.parent == parent and new.line == old.line
