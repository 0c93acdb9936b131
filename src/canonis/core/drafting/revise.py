"""Edits of a sheet as small commands; each gives a new document and touches nothing else."""

from typing import Any

from canonis.core.callout.measured import a_length
from canonis.core.drafting.commands import (
    Accept,
    AddLinear,
    Command,
    Move,
    MoveView,
    Remove,
    SetHidden,
    SetProjection,
    SetRevision,
    SetScale,
    SetSize,
)
from canonis.core.drafting.draft import Projections, scene_for
from canonis.core.drafting.view_commands import AddSection, ViewCommand
from canonis.core.drafting.view_edits import NoRoom, apply_view_command
from canonis.core.faults import BadInput
from canonis.core.features.callouts import of_hole
from canonis.core.features.model import Feature
from canonis.core.layout.arrange import arrange, place_notes, refresh
from canonis.core.sheet.document import (
    Annotation,
    HoleTable,
    Leader,
    Linear,
    Note,
    Ordinate,
    Place,
    Revision,
    SheetDocument,
)
from canonis.core.sheet.sizes import look_of
from canonis.core.sheet.views import Auxiliary, Detail, Pictorial, View
from canonis.core.solid.model import Solid
from canonis.core.solid.references import parse

__all__ = ["apply_command"]


def _annotation(document: SheetDocument, name: str) -> Annotation:
    try:
        return document.annotation(name)
    except KeyError:
        raise BadInput("That statement is no longer on the sheet; reload to see the present one.") from None


def _replace(document: SheetDocument, changed: dict[str, Annotation]) -> SheetDocument:
    marks = tuple(changed.get(a.id, a) for a in document.annotations)
    return document.model_copy(update={"annotations": marks})


def _outward(side: str, dx: float, dy: float) -> tuple[float, float]:
    """Movement of a row: away from its outline, and along it."""
    return {"above": (dy, dx), "below": (-dy, dx), "left": (-dx, dy), "right": (dx, dy)}[side]


def _move(document: SheetDocument, command: Move) -> SheetDocument:
    mark = _annotation(document, command.id)
    dx, dy = command.dx, command.dy
    size = next(p.size for p in document.pages if p.number == mark.sheet)
    look = look_of(document.style, size)
    if isinstance(mark, Leader):
        at = (round(mark.at[0] + dx, 3), round(mark.at[1] + dy, 3))
        return _replace(document, {mark.id: mark.model_copy(update={"at": at, "by_hand": True})})
    if isinstance(mark, Place):
        offset = (round(mark.offset[0] + dx, 3), round(mark.offset[1] + dy, 3))
        return _replace(document, {mark.id: mark.model_copy(update={"offset": offset, "by_hand": True})})
    if isinstance(mark, Note | HoleTable):
        at = (round(mark.at[0] + dx, 3), round(mark.at[1] + dy, 3))
        return _replace(document, {mark.id: mark.model_copy(update={"at": at, "by_hand": True})})
    if isinstance(mark, Linear):
        out, along = _outward(mark.side, dx, dy)
        # Rows snap: the first stands at the style's distance, the others a row further each.
        steps = max(0, round((mark.row + out - look.first_row) / look.next_row))
        row = look.first_row + steps * look.next_row
        return _replace(document, {mark.id: mark.model_copy(
            update={"row": row, "along": round(mark.along + along, 3), "by_hand": True})})  # fmt: skip
    if isinstance(mark, Ordinate):
        out, _ = _outward(mark.side, dx, dy)
        row = max(look.first_row, round(mark.row + out))
        family = [
            a for a in document.annotations if isinstance(a, Ordinate) and a.view == mark.view and a.side == mark.side
        ]
        return _replace(document, {a.id: a.model_copy(update={"row": row}) for a in family})
    raise BadInput("That mark belongs to what it stands on and moves with it.")


def _add_linear(document: SheetDocument, solids: tuple[Solid, ...], features: tuple[Feature, ...], cache: Projections,
                command: AddLinear) -> SheetDocument:  # fmt: skip
    if command.refs[0] == command.refs[1]:
        raise BadInput("A dimension needs two different edges, points or centres.")
    for ref in command.refs:
        parse(ref)
    try:
        view = document.view(command.view)
    except KeyError:
        raise BadInput("That view is no longer on the sheet; reload to see the present one.") from None
    if view.kind == "pictorial":
        raise BadInput("A pictorial view shows no true lengths; dimension another view.")
    number = 1 + max((int(a.id[1:]) for a in document.annotations if a.id[1:].isdigit()), default=0)
    trial = Linear(
        id=f"D{number}", sheet=view.sheet, view=view.id, direction="x", side="above", refs=command.refs,
        says=a_length(0.0, document.unit), unit=document.unit,
    )  # fmt: skip
    scene = scene_for(
        document.model_copy(update={"annotations": (*document.annotations, trial)}), solids, features, cache
    )
    options = []
    for direction in ("x", "y"):
        anchors = [scene.anchor(view, r) for r in trial.refs]
        levels = [None if a is None else a.level(direction) for a in anchors]
        if levels[0] is not None and levels[1] is not None and abs(levels[0] - levels[1]) > 1e-6:
            options.append((abs(levels[1] - levels[0]), direction))
    options = [o for o in options if command.direction in (None, o[1])]
    if not options:
        raise BadInput("Those two do not lie apart squarely in this view; pick two that do.")
    length, direction = max(options)
    made = trial.model_copy(
        update={"direction": direction, "side": "above" if direction == "x" else "right",
                "says": a_length(length, document.unit), "feature": "added"}
    )  # fmt: skip
    document = document.model_copy(update={"annotations": (*document.annotations, made)})
    scene = scene_for(document, solids, features, cache)
    page = next(p for p in document.pages if p.number == view.sheet)
    return refresh(scene, page)


def _set_revision(document: SheetDocument, command: SetRevision) -> SheetDocument:
    update: dict[str, Any] = {"revision": command.value}
    if command.change.strip():
        # The same letter again corrects its row.
        row = Revision(letter=command.value, change=command.change.strip(), date=command.date, by=command.by)
        others = [r for r in document.title.revisions if r.letter != command.value]
        update["revisions"] = (*others, row)
    document = document.model_copy(update={"title": document.title.model_copy(update=update)})
    for page in document.pages:
        document = place_notes(document, page)
    return document


def _set_hidden(document: SheetDocument, command: SetHidden) -> SheetDocument:
    if command.view not in {v.id for v in document.views}:
        raise BadInput("That view is no longer on the sheet; reload to see the present one.")
    views = tuple(v.model_copy(update={"hidden": command.value}) if v.id == command.view else v for v in document.views)
    return document.model_copy(update={"views": views})


def _arrange_anew(document: SheetDocument, solids: tuple[Solid, ...], features: tuple[Feature, ...], cache: Projections,
                  command: SetSize | SetScale | SetProjection) -> SheetDocument:  # fmt: skip
    if isinstance(command, SetProjection):
        document = document.model_copy(update={"projection": command.value})
    for page in document.pages:
        size = command.value if isinstance(command, SetSize) else page.size
        scale = command.value if isinstance(command, SetScale) else "auto"
        document = arrange(scene_for(document, solids, features, cache), page, size, scale)
    return document


def _move_view(document: SheetDocument, command: MoveView) -> SheetDocument:
    moved = next((v for v in document.views if v.id == command.id), None)
    if moved is None:
        raise BadInput("That view is no longer on the sheet; reload to see the present one.")
    views = []
    for v in document.views:
        dx, dy = (command.dx, command.dy) if v.id == moved.id else (0.0, 0.0)
        # Views stay in projection: those beside the moved one share its level, those above its position.
        if v.id != moved.id and v.sheet == moved.sheet and _keeps(v) and _keeps(moved):
            dx = command.dx if abs(v.at[0] - moved.at[0]) < 1e-6 else 0.0
            dy = command.dy if abs(v.at[1] - moved.at[1]) < 1e-6 else 0.0
        views.append(v.model_copy(update={"at": (round(v.at[0] + dx, 3), round(v.at[1] + dy, 3))}))
    return document.model_copy(update={"views": tuple(views)})


def _keeps(view: View) -> bool:
    """Whether a view keeps in projection with its neighbours."""
    return view.aligned and not isinstance(view, Pictorial | Detail | Auxiliary)


def _accept(document: SheetDocument, solids: tuple[Solid, ...], features: tuple[Feature, ...], cache: Projections,
            command: Accept) -> SheetDocument:  # fmt: skip
    """Take over the model's present value into the text of a statement."""
    mark = _annotation(document, command.id)
    scene = scene_for(document, solids, features, cache)
    if isinstance(mark, Linear | Ordinate):
        view = document.view(mark.view or "")
        anchors = [scene.anchor(view, r) for r in mark.refs]
        levels = [None if a is None else a.level(mark.direction) for a in anchors]
        if levels[0] is None or levels[1] is None:
            raise BadInput("Its geometry is gone from this model; delete the statement.")
        says = a_length(abs(levels[1] - levels[0]), document.unit)
        return _replace(document, {mark.id: mark.saying(says)})
    if isinstance(mark, Leader) and mark.kind == "hole":
        alive = [r for r in mark.refs if scene.resolution(mark.sheet, r).faces]
        by_wall = {f: h for g in features[scene.solid_of(mark.sheet)].holes for h in g.holes for f in h.main_faces}
        holes = [by_wall.get(scene.resolution(mark.sheet, r).faces[0]) for r in alive]
        found = [h for h in holes if h is not None]
        if not found:
            raise BadInput("Its geometry is gone from this model; delete the statement.")
        spaced = mark.says.part("equally-spaced") is not None
        says = of_hole(found[0], len(found), document.unit, equally_spaced=spaced)
        return _replace(document, {mark.id: mark.saying(says, refs=tuple(alive), target=alive[0])})
    raise BadInput("This statement cannot take over the model's value by itself; delete it and draft again.")


def apply_command(
    document: SheetDocument, command: Command, solids: tuple[Solid, ...], features: tuple[Feature, ...],
    cache: Projections,
) -> SheetDocument:  # fmt: skip
    """The document after one command.

    Raises BadInput with one sentence when the command cannot be carried out.
    """
    if isinstance(command, Move):
        return _move(document, command)
    if isinstance(command, MoveView):
        return _move_view(document, command)
    if isinstance(command, Remove):
        mark = _annotation(document, command.id)
        left = tuple(a for a in document.annotations if a.id != mark.id)
        if isinstance(mark, Ordinate):
            # The zero of a row goes with the last value that counts from it.
            row = [a for a in left if isinstance(a, Ordinate) and (a.view, a.direction) == (mark.view, mark.direction)]
            if not any(a.refs[0] != a.refs[-1] for a in row):
                gone = {a.id for a in row}
                left = tuple(a for a in left if a.id not in gone)
        return document.model_copy(update={"annotations": left})
    if isinstance(command, AddLinear):
        return _add_linear(document, solids, features, cache, command)
    if isinstance(command, Accept):
        return _accept(document, solids, features, cache, command)
    if isinstance(command, SetHidden):
        return _set_hidden(document, command)
    if isinstance(command, SetRevision):
        return _set_revision(document, command)
    if isinstance(command, SetSize | SetScale | SetProjection):
        return _arrange_anew(document, solids, features, cache, command)
    if isinstance(command, ViewCommand):
        before = document
        try:
            document = apply_view_command(document, command, lambda made: scene_for(made, solids, features, cache))
        except NoRoom as fault:
            # A full sheet is arranged anew with the view on it, larger or at a smaller scale where it must.
            page = next(p for p in fault.document.pages if p.number == fault.document.views[-1].sheet)
            return arrange(scene_for(fault.document, solids, features, cache), page)
        # What a new view puts on its parent may stand where a note stood.
        known = {v.id: v for v in before.views}
        for number in {v.sheet for v in document.views if known.get(v.id) != v}:
            page = next(p for p in document.pages if p.number == number)
            document = refresh(
                scene_for(document, solids, features, cache), page, notes=isinstance(command, AddSection)
            )
        return document
    for page in document.pages:
        document = refresh(scene_for(document, solids, features, cache), page, notes=True)
    return document
