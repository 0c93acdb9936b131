"""What a new draft keeps of the sheet it replaces: the choices made on it and the dimensions added by hand."""

from typing import Any

import numpy as np

from canonis.core.drafting.draft import Draft
from canonis.core.layout.arrange import refresh
from canonis.core.sheet.document import Annotation, Linear, SheetDocument
from canonis.core.sheet.scene import Scene, build_scene

__all__ = ["carry_over", "kept_choices"]


def kept_choices(before: SheetDocument) -> dict[str, Any]:
    """Front view, datum and projection of a sheet, as draft options."""
    return {"front": before.front or None, "datum": before.datum_name or None, "projection": before.projection}


def carry_over(before: SheetDocument, draft: Draft) -> SheetDocument:
    """The drafted document with its revision and author, and the dimensions that people had added, in the views that
    look the same way."""
    mine = {name: getattr(before.title, name) for name in ("revision", "revisions", "created_by")}
    document = draft.document.model_copy(update={"title": draft.document.title.model_copy(update=mine)})
    stated = {frozenset(a.refs) for a in document.annotations if isinstance(a, Linear)}
    added: list[Annotation] = []
    number = 1 + max((int(a.id[1:]) for a in document.annotations if a.id[1:].isdigit()), default=0)
    for mark in before.annotations:
        if not isinstance(mark, Linear) or mark.feature != "added" or frozenset(mark.refs) in stated:
            continue
        old = before.view(mark.view or "")
        view = next(
            (v for v in document.views if v.sheet == old.sheet and v.kind != "pictorial"
             and np.allclose((*v.right, *v.up), (*old.right, *old.up))), None,
        )  # fmt: skip
        if view is not None:
            added.append(mark.model_copy(update={"id": f"D{number + len(added)}", "view": view.id, "by_hand": False}))
    if not added:
        return document
    document = document.model_copy(update={"annotations": (*document.annotations, *added)})
    scene = draft.scene
    for page in document.pages:
        made: Scene = build_scene(document, scene.solids, scene.marks, scene.projections)
        document = refresh(made, page)
    return document
