"""Planning: of everything that could be said, the cheapest statements that fix the part, each once.

The statements of a drawing are a basis of the part's unknowns (METHODS: planning is choosing a basis). Candidates come
from the registered kinds, are sorted by price, and one is made when it says something new.
"""

from collections.abc import Iterable

import numpy as np

from canonis.core.callout import a_length
from canonis.core.drafting.basis import Basis
from canonis.core.drafting.desk import Candidate, Desk, next_number
from canonis.core.drafting.registry import States
from canonis.core.drafting.roundness import ROUGH, roughness
from canonis.core.sheet import Annotation, CentreLine, CentreMark, Linear, Ordinate, Scene, SheetDocument, frame_of_view
from canonis.core.solid import parse
from canonis.core.tolerances import parallel

__all__ = ["plan"]


def plan(desk: Desk, basis: Basis, kinds: Iterable[States]) -> SheetDocument:
    """The document with what the kinds say of the desk's sheet, beyond what the basis holds already."""
    document = desk.scene.document
    wanted = (c for kind in kinds for c in kind(desk) if not desk.struck.forbids(c.mark))
    candidates = [
        c for c in wanted if not (isinstance(c.mark, Linear | Ordinate) and desk.echo_refs.intersection(c.mark.refs))
    ]
    number, marked = next_number(document, "D"), next_number(document, "M")
    families = {(a.view, a.direction) for a in document.annotations if isinstance(a, Ordinate)}
    out: list[Annotation] = []
    before = list(document.annotations)
    # Where the value of each place in a row stands: in which list, and as which of it.
    rows = {
        _place(desk, a): (before, k) for k, a in enumerate(before) if isinstance(a, Ordinate) and a.sheet == desk.sheet
    }
    for candidate in sorted(candidates, key=_order):
        place = candidate.mark
        if isinstance(place, Ordinate) and (held := rows.get(_place(desk, place))) is not None:
            _drawn_level(basis, *held, place)
            continue
        made = _made(candidate, basis, f"D{number}")
        if made is None:
            continue
        if isinstance(made, Ordinate) and (made.view, made.direction) not in families:
            families.add((made.view, made.direction))
            out.append(
                made.model_copy(
                    update={
                        "id": f"D{number}",
                        "refs": (made.refs[0], made.refs[0]),
                        "says": a_length(0.0, document.unit),
                        "feature": "datum",
                    }
                )
            )
            mark = _axis_mark(desk.scene, made, f"M{marked}")
            if mark is not None:
                out.append(mark)
                marked += 1
            number += 1
        if isinstance(made, Ordinate):
            rows[_place(desk, made)] = (out, len(out))
        out.append(made.model_copy(update={"id": f"D{number}"}))
        number += 1
    settled = [_settled(desk, a) for a in out]
    return document.model_copy(update={"annotations": (*before, *settled)})


def _drawn_level(basis: Basis, made: list[Annotation], k: int, mark: Ordinate) -> None:
    """Take what is drawn level with a value of a row as said by it; of floors, corners and mouths the value must say which.
    Another sort of thing is said in another way."""
    one = made[k]
    kinds = parse(one.refs[1]).kind, parse(mark.refs[-1]).kind
    if "mouth" not in kinds and basis.levelled(mark) and basis.levelled(one):
        basis.adds(mark)
    elif ("mouth" in kinds or kinds[0] == kinds[1] in ("plane", "line")) and basis.adds(mark):
        made[k] = one.model_copy(update={"refs": (*one.refs, mark.refs[-1])})


def _place(desk: Desk, mark: Ordinate) -> tuple[str, str, float]:
    """Where an ordinate points: its view, its direction, and the level there, mm."""
    anchor = desk.scene.anchor(desk.scene.document.view(mark.view or ""), mark.refs[-1])
    level = None if anchor is None else anchor.level(mark.direction)
    return mark.view or "", mark.direction, round(level or 0.0, 3)


def _order(candidate: Candidate) -> tuple[float, str, tuple[str, ...]]:
    return candidate.price, candidate.mark.view or "", candidate.mark.refs


def _made(candidate: Candidate, basis: Basis, name: str) -> Annotation | None:
    """The statement of a candidate, where it is worth making."""
    mark = candidate.mark.model_copy(update={"id": name})
    if basis.takes(mark) if candidate.note else basis.adds(mark):
        return mark
    # What was left to the others and needs many places is nothing that anybody would look up.
    wanted = candidate.always and isinstance(mark, Linear) and not _rough(mark)
    return mark.model_copy(update={"reference": True}) if wanted else None


def _rough(mark: Linear) -> bool:
    size = mark.says.parts[0].nominal
    return size is not None and roughness(float(size), mark.unit) >= ROUGH


def _settled(desk: Desk, mark: Annotation) -> Annotation:
    """An ordinate starts at the nearest of the features that share its level."""
    if not isinstance(mark, Ordinate) or mark.refs[0] == mark.refs[1] or len(mark.refs) > 2:
        return mark
    spots = [s for s in desk.located.get(_place(desk, mark), []) if parse(s[1]).kind != "mouth"]
    if not any(s[1] == mark.refs[1] for s in spots):
        return mark
    _, ref, feature = min(spots, key=lambda s: (round(s[0], 3), s[1] != mark.refs[1]))
    return mark.model_copy(update={"refs": (mark.refs[0], ref, *mark.refs[2:]), "feature": feature})


def _axis_mark(scene: Scene, row: Ordinate, name: str) -> Annotation | None:
    """The centre mark or centre line of the axis that a row counts from, where its view has none."""
    ref = row.refs[0]
    if parse(ref).kind not in ("bore", "shaft"):
        return None
    marks = [a for a in scene.document.annotations if isinstance(a, CentreMark | CentreLine)]
    if any(a.view == row.view and ref in a.refs for a in marks):
        return None
    view = scene.document.view(row.view or "")
    end_on = parallel(np.array(parse(ref).vectors[1]), frame_of_view(view).toward)
    made = CentreMark if end_on else CentreLine
    return made(id=name, sheet=row.sheet, view=row.view, refs=(ref,))
