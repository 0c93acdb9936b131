"""The draft answers to the proof before anybody sees it: what the second route does not bear out is struck out, and the
plan is made again from what is left. The two routes share no code; who stands here hands over nothing but ids."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from canonis.core.callout import of_the_part
from canonis.core.drafting import UNSTRUCK, Draft, DraftWish, Scheme, Struck, draft_model
from canonis.core.features import Feature
from canonis.core.house import Hidden
from canonis.core.layout import refresh
from canonis.core.proof import Judgement, Known, Remeasurer, StatementProof, is_statement, judge_sheets, unshown
from canonis.core.sheet import Annotation, Linear, Ordinate, Parallel, Projections, Scene, SheetDocument, Withdrawn
from canonis.core.solid import Model

__all__ = ["draft_proven", "showing_openings"]

#: Plans that are made at most; what is still not borne out in the last one goes without another.
_ROUNDS = 3
_BORNE_OUT = ("proven", "reference")
#: Repeats that are taken off one sheet at most.
_REPEATS = 8


def draft_proven(
    model: Model,
    wish: DraftWish,
    progress: Callable[[str], None] = lambda _: None,
    features: tuple[Feature, ...] | None = None,
    scheme: Scheme | None = None,
    known: Known | None = None,
) -> Draft:
    """Draft a complete drawing of a model (see `draft_model`) on which no statement is contradicted by its own proof.

    `known` are proofs of statements on the same model by the same code; those made here are added to it. What was planned
    and withdrawn stands in the document's `withdrawn`.
    """
    known = {} if known is None else known

    def doubt(scene: Scene, ids: Sequence[str]) -> dict[str, str]:
        wanted = set(ids)
        return {p.id: _why(p) for p in _proofs(scene.document, scene, known, wanted) if not _stands(p)}

    struck, gone = UNSTRUCK, dict[tuple[object, ...], Withdrawn]()
    projections: Projections = {}
    for left in range(_ROUNDS, 0, -1):
        made = draft_model(model, wish, progress, features, scheme, doubt=doubt, struck=struck, projections=projections)
        features = made.features
        progress("Proving what was drafted")
        bad = doubt(made.scene, [a.id for a in made.document.annotations])
        for mark in made.document.annotations:
            if mark.id in bad:
                one = Withdrawn(text=mark.text, refs=mark.refs, why=bad[mark.id])
                gone[one.text, one.refs] = one
        if not bad:
            break
        more = _with(struck, made, bad)
        if more == struck or left == 1:
            made = _without(made, set(bad))
            break
        struck = more
    # Where the house wants hidden lines off, what they would show is left to a person.
    made = _without_repeats(made if wish.house.hidden is Hidden.NONE else showing_openings(made, known), known)
    document = made.document.model_copy(update={"withdrawn": tuple(gone.values())})
    return replace(made, scene=made.scene.on(document))


def _proofs(document: SheetDocument, scene: Scene, known: Known, ids: set[str]) -> list[StatementProof]:
    one = document.joined()
    measurer = Remeasurer(one, scene.solids, known)
    return [measurer.prove(a) for a in one.annotations if a.id in ids and is_statement(a)]


def _stands(proof: StatementProof) -> bool:
    """Whether a draft may keep a statement; what somebody asks of the part stays also where a datum is not marked yet."""
    asked = proof.reading is not None and of_the_part(proof.reading.kind) and proof.state == "unproven"
    return asked or proof.state in _BORNE_OUT


def _why(proof: StatementProof) -> str:
    """What the second route has against a statement."""
    if proof.note:
        return proof.note
    off = [p for p in proof.parts if not p.ok]
    if not off:
        return proof.state
    part = off[0]

    def told(value: object) -> str:
        return f"{value:.4g}" if isinstance(value, float) else "nothing" if value in (None, False) else str(value)

    return f"{part.name.replace('-', ' ')} {told(part.stated)} measures {told(part.measured)}"


def _with(struck: Struck, made: Draft, bad: dict[str, str]) -> Struck:
    """These struck out as well: where a line of the source was said the line, else the statement."""
    marks = [a for a in made.document.annotations if a.id in bad]
    lines = {text for a in marks for text in made.worded.get(a.id, ())} - struck.lines
    own = [a for a in marks if not (set(made.worded.get(a.id, ())) & lines)]
    return struck.plus(own, lines)


def showing_openings(made: Draft, known: Known) -> Draft:
    """The draft with hidden lines in as few views as show how far its openings go, where without them no view does."""
    document = made.document.joined()
    measurer = Remeasurer(document, made.scene.solids, known)
    for page in document.pages:
        found = measurer.resolutions(page.number)
        solid = made.scene.solids[page.solid]
        open_ = len(unshown(document, page, solid, found))
        for view in document.views:
            if not open_:
                break
            if view.sheet != page.number or not isinstance(view, Parallel) or view.hidden:
                continue
            views = tuple(v.model_copy(update={"hidden": True}) if v is view else v for v in document.views)
            trial = document.model_copy(update={"views": views})
            left = len(unshown(trial, page, solid, found))
            if left < open_:
                document, open_ = trial, left
    hidden = {v.id: v.hidden for v in document.views}
    views = tuple(v.model_copy(update={"hidden": hidden[v.id]}) if v.id in hidden else v for v in made.document.views)
    return replace(made, scene=made.scene.on(made.document.model_copy(update={"views": views})))


def _without_repeats(made: Draft, known: Known) -> Draft:
    """The draft without sizes that the equations of the second route find said twice: a drafted one goes before the source's
    own words, and an overall size becomes a reference (ISO 129-1, 5.9). None goes that something hangs on all the same."""
    judged = _judged(made, known)
    for _ in range(_REPEATS):
        loop = next((x for page in judged for x in page.loops), None)
        if loop is None:
            break
        open_before, loops = sum(len(p.free) for p in judged), sum(len(p.loops) for p in judged)
        marks = {a.id: a for a in made.document.annotations}
        own = [marks[i] for i in (loop.statement, *loop.others) if i in marks]
        own.sort(key=lambda a: (a.id in made.worded, a.feature == "overall", not isinstance(a, Linear | Ordinate)))
        for mark in own:
            plain = mark.id not in made.worded and mark.feature != "overall" and isinstance(mark, Linear | Ordinate)
            trial = _without(made, {mark.id}) if plain else _as_reference(made, mark)
            after = _judged(trial, known)
            if sum(len(p.free) for p in after) <= open_before and sum(len(p.loops) for p in after) < loops:
                made, judged = trial, after
                break
        else:
            break
    return made


def _judged(made: Draft, known: Known) -> list[Judgement]:
    one = made.document.joined()
    measurer = Remeasurer(one, made.scene.solids, known)
    return judge_sheets(
        one, made.scene.solids, measurer, [measurer.prove(a) for a in one.annotations if is_statement(a)]
    )


def _as_reference(made: Draft, mark: Annotation) -> Draft:
    last = mark.model_copy(update={"reference": True})
    told = tuple(last if a.id == mark.id else a for a in made.document.annotations)
    scene = made.scene.on(made.document.model_copy(update={"annotations": told}))
    # Parentheses take room: the rows of the sheet are laid out anew.
    page = next(p for p in scene.document.pages if p.number == mark.sheet)
    return replace(made, scene=scene.on(refresh(scene, page)))


def _without(made: Draft, ids: set[str]) -> Draft:
    """The draft without some statements."""
    marks = tuple(a for a in made.document.annotations if a.id not in ids)
    return replace(made, scene=made.scene.on(made.document.model_copy(update={"annotations": marks})))
