"""The source's scheme first: what the source states is said on the sheet as the source says it; the rest follows the rules."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from canonis.core.callout import Callout, Pen, agree, kind_of, of_the_part, together, write_line
from canonis.core.drafting.basis import Basis
from canonis.core.drafting.desk import Desk, next_number
from canonis.core.drafting.kinds.angles import angles
from canonis.core.drafting.kinds.holes import ringed
from canonis.core.drafting.kinds.rounds import seen_true
from canonis.core.drafting.pointing import at_faces, with_exact_sizes
from canonis.core.drafting.struck import Doubt
from canonis.core.quantity import Unit
from canonis.core.shape import Row
from canonis.core.sheet import MUTE, Annotation, Leader, Linear, Note, Ordinate, SheetDocument, View, frame_of_view
from canonis.core.solid import face_reference, parse
from canonis.core.tolerances import FITTED, NOISE, parallel

__all__ = ["Said", "restated"]


@dataclass(frozen=True)
class Said:
    """A line of the source as the sheet is to say it, and what of the part it is about.

    `rows` are what it says as equations, `faces` and `refs` where it belongs; `ring` is what it says of its pitch circle.
    """

    says: Callout
    unit: Unit = Unit.MM
    #: The solid that it is of.
    solid: int = 0
    rows: tuple[Row, ...] = ()
    faces: tuple[int, ...] = ()
    refs: tuple[str, ...] = ()
    ring: Callout | None = None
    reference: bool = False
    #: Whether a thread on a plain hole is noted with the drill that the model carries (house rule).
    drilled: bool = True
    #: Whether its place is certain. A line with several may word a drafted statement; it gets none of its own.
    certain: bool = True

    @property
    def kind(self) -> str:
        """The kind of what it says."""
        return self.says.kind

    @property
    def leans(self) -> bool:
        """Whether what it says is an angle."""
        return self.says.main is not None and self.says.main.name == "angle"

    @property
    def text(self) -> str:
        """What it says, as it is written."""
        return write_line(self.says, Pen(self.unit, sheet=True))

    @property
    def figure(self) -> Callout:
        """What it says on a dimension line, which shows without a word that it is a thickness or a pitch."""
        main = self.says.main
        if main is None or main.name not in ("thickness", "pitch"):
            return self.says
        return Callout(kind="length", parts=(main.model_copy(update={"name": "length"}),))


def restated(desk: Desk, lines: Sequence[Said], doubt: Doubt) -> tuple[SheetDocument, dict[str, tuple[str, ...]]]:
    """The document with the lines of the source on the desk's sheet in their own words, and nothing said twice for it.

    The words of the source go on the sheet only where `doubt`, which measures the statements as they would stand there, has
    nothing against them; else the drafted statement stays. What a line of the source says twice is set in parentheses;
    drafted sizes that it makes needless go. Also the ids of the statements that carry lines, with the texts of those.
    """
    document = desk.scene.document
    mine = [a for a in document.annotations if a.sheet == desk.sheet and not isinstance(a, MUTE)]
    others = tuple(a for a in document.annotations if a.sheet != desk.sheet or isinstance(a, MUTE))
    lines = list(lines)
    while True:
        basis = Basis(document, desk.page, desk.solid)
        first, changed, said = _placed(desk, basis, mine, lines)
        rest = [a for a in mine if a.id not in changed]
        trial = desk.scene.on(document.model_copy(update={"annotations": (*others, *rest, *first)}))
        doubted = [line for name in doubt(trial, [a.id for a in first]) for line in said.get(name, ())]
        if not doubted:
            break
        lines = [line for line in lines if not any(line is other for other in doubted)]
    bare = document.model_copy(update={"annotations": others})
    kept: dict[str, Annotation] = {}
    basis = Basis(bare, desk.page, desk.solid, ringed(desk))
    # Over a round end centre and radius say where it is; the length over it comes last.
    for mark in sorted(first, key=lambda a: (_over_a_round(basis, a), a.feature != "overall")):
        if mark.id in kept:
            continue
        new = not mark.reference and (basis.adds(mark) if isinstance(mark, Linear | Ordinate) else basis.takes(mark))
        kept[mark.id] = mark if new else mark.model_copy(update={"reference": True})
    for mark in sorted(rest, key=_rank):
        made = _left(basis, mark)
        if made is not None:
            kept[mark.id] = made
    families = {(a.view, a.direction) for a in kept.values() if isinstance(a, Ordinate) and a.refs[0] != a.refs[1]}
    order = [*(a.id for a in mine), *(a.id for a in first)]
    marks = [kept[k] for k in dict.fromkeys(order) if k in kept]
    marks = [a for a in marks if not isinstance(a, Ordinate) or (a.view, a.direction) in families]
    carried = {a.id: tuple(line.text for line in said.get(a.id, ())) for a in first}
    return with_exact_sizes(document.model_copy(update={"annotations": (*others, *marks)}), desk.scene), carried


def _over_a_round(basis: Basis, mark: Annotation) -> bool:
    """Whether a length moves with anything but levels."""
    rows = basis.rows(mark) if isinstance(mark, Linear) and mark.kind == "linear" else []
    return any(basis.shape.unknowns[k].kind != "level" for r in rows if r.part == "length" for k in r.row)


def _rank(mark: Annotation) -> int:
    """Notes before lengths, so that what the source makes needless is a length."""
    return 0 if isinstance(mark, Leader | Note) else 1 if mark.feature == "overall" else 2


def _left(basis: Basis, mark: Annotation) -> Annotation | None:
    """A drafted statement after those of the source: as it was, as a reference, or not at all."""
    zero = isinstance(mark, Ordinate) and mark.refs[0] == mark.refs[1]
    if zero or (isinstance(mark, Note) and not mark.refs):
        return mark
    if isinstance(mark, Linear | Ordinate):
        if basis.adds(mark):
            return mark.model_copy(update={"reference": False})
        return mark.model_copy(update={"reference": True}) if mark.feature == "overall" else None
    shorter = _without(mark, basis.said(mark)) if isinstance(mark, Leader) else mark
    return shorter if basis.takes(shorter) else None


def _without(mark: Leader, said: set[str]) -> Leader:
    """A drafted note without the sizes that the source states as lengths of their own: of a groove its diameter is left, of a
    slot its width."""
    parts = {p.name: p for p in mark.says.parts}
    if mark.kind == "groove" and "width" in said and "diameter" in parts.keys() - said:
        left = Callout(kind="diameter", count=mark.says.count, parts=(parts["diameter"],))
        return mark.saying(left, refs=mark.refs[::3])
    if mark.kind == "slot" and "centres" in said and "width" not in said:
        return mark.saying(mark.says.changed(parts=tuple(p for n, p in parts.items() if n != "centres")))
    return mark


def _placed(
    desk: Desk, basis: Basis, mine: Sequence[Annotation], lines: Sequence[Said]
) -> tuple[list[Annotation], set[str], dict[str, list[Said]]]:
    """The statements that carry lines of the source, the ids of those that were there before, and the lines of each."""
    rows = {a.id: key for a in mine if (key := _key(basis, a)) is not None}
    number = next_number(desk.scene.document, "D")
    first: list[Annotation] = []
    taken: set[str] = set()
    said: dict[str, list[Said]] = {}
    for line in lines:
        carriers = _carriers(desk, mine, rows, line, taken)
        if not carriers and not line.refs:
            # The source may give one size of what was drafted as a note of several.
            worked = next((n for n in (_in_a_note(basis, a, line) for a in (*first, *mine)) if n is not None), None)
            if worked is not None:
                taken.add(worked.id)
                said.setdefault(worked.id, []).append(line)
                first = [*(a for a in first if a.id != worked.id), worked]
                continue
        if not carriers:
            made = _made(desk, line) if line.certain else None
            if made is not None:
                first.append(made.model_copy(update={"id": f"D{number}", "reference": line.reference}))
                said.setdefault(f"D{number}", []).append(line)
                number += 1
            continue
        # One line may speak for what was drafted as several notes.
        taken |= {a.id for a in carriers}
        refs = tuple(dict.fromkeys(r for a in carriers for r in a.refs)) if len(carriers) > 1 else carriers[0].refs
        said.setdefault(carriers[0].id, []).append(line)
        worded = _worded(desk, carriers, line)
        if isinstance(worded, Note) and line.kind == "radius":
            worded = _at_an_arc(desk, worded, line)
        first.append(worded)
        ring = next((a for a in mine if a.kind == "bolt-circle" and a.refs == refs), None) if line.ring else None
        if isinstance(ring, Leader) and line.ring is not None:
            taken.add(ring.id)
            said.setdefault(ring.id, []).append(line)
            first.append(ring.saying(_ringed(ring.says, line.ring)))
    return first, taken, said


def _ringed(drafted: Callout, said: Callout) -> Callout:
    """A pitch circle as the source says it. Its members' angles stay as the view has them; those that the source gives as
    well are said as it does, with their tolerances."""
    circle = [p for p in said.parts if p.name == "pitch-circle"]
    return drafted.having(*circle, *(p for p in said.turns if p.nominal == drafted.size(p.name)))


def _in_a_note(basis: Basis, mark: Annotation, line: Said) -> Leader | None:
    """A note with a length of the source in place of its own for that size; None where it has no such size."""
    size = line.figure.main
    if (
        not isinstance(mark, Leader)
        or sum(p.nominal is not None for p in line.says.parts) != 1
        or line.reference
        or len(line.rows) != 1
        or not line.rows[0]
        or size is None
    ):
        return None
    wanted = _normal(line.rows[0])
    for row in basis.rows(mark):
        part = mark.says.part(row.part)
        if part is not None and row.row and _normal(row.row) == wanted and agree(part, size):
            return mark.saying(mark.says.having(size.model_copy(update={"name": row.part})))
    return None


def _at_an_arc(desk: Desk, note: Note, line: Said) -> Annotation:
    """A radius that the source gives by itself stands at an arc, not among the notes, where a view shows one."""
    spot = seen_true(desk, sorted(_named(desk, note)))
    if spot is None:
        return note
    view, face = spot
    return Leader(
        id=note.id,
        sheet=note.sheet,
        view=view.id,
        refs=note.refs,
        says=line.says,
        unit=desk.unit,
        notation=desk.notation,
        feature=note.feature,
        reference=line.reference,
        target=face_reference(face),
    )


def _made(desk: Desk, line: Said) -> Annotation | None:
    """A statement of its own for a line that no drafted one carries."""
    if of_the_part(line.kind):
        return at_faces(desk, line.says, line.faces, "source")
    if len(line.refs) == 2:
        return next(_between(desk, line), None)
    return _turned_to(desk, line) if line.leans and line.faces else None


def _turned_to(desk: Desk, line: Said) -> Annotation | None:
    """An angle of the line's faces that has its value: a slope has one to each of the faces beside it."""
    seen = replace(desk, touched=frozenset(line.faces))
    for candidate in sorted(angles(seen), key=lambda c: c.price):
        if isinstance(candidate.mark, Leader) and _same_angle(candidate.mark, line):
            return candidate.mark.saying(Callout(kind=candidate.mark.says.kind, parts=line.says.parts))
    return None


def _same_angle(mark: Leader | Note, line: Said) -> bool:
    """Whether a drafted angle has the value of a line; one without a figure in degrees has none.

    Drafted ones are written to a hundredth of a degree.
    """
    angles = [c.size("angle") for c in (mark.says, line.says)]
    return angles[0] is not None and angles[1] is not None and abs(float(angles[0] - angles[1])) < 0.0051


def _normal(row: Row) -> tuple[tuple[int, float], ...]:
    """A row without its sense and size."""
    most = max(row.items(), key=lambda kv: (round(abs(kv[1]), 6), -kv[0]))[1]
    return tuple(sorted((k, round(v / most, 5)) for k, v in row.items() if abs(v / most) > FITTED))


def _key(basis: Basis, mark: Annotation) -> tuple[tuple[int, float], ...] | None:
    """What a statement of one size says, as a row."""
    rows = [r.row for r in basis.rows(mark) if r.part in ("length", "pitch", "angle", "radius", "diameter")]
    return _normal(rows[0]) if rows and (len(rows) == 1 or mark.kind == "pattern") else None


def _carriers(
    desk: Desk, mine: Sequence[Annotation], rows: dict[str, tuple[tuple[int, float], ...]], line: Said, taken: set[str]
) -> Sequence[Leader | Note | Linear | Ordinate]:
    """The drafted statements that say what a line says: a note or several of its faces, else a length of its row or ends."""
    kinds = (line.kind, *kind_of(line.kind).carried_by)
    if line.faces:
        whole = set(line.faces) | _beside(desk, line.faces)
        for kind in kinds:
            notes = [
                a
                for a in mine
                if isinstance(a, Leader | Note)
                and a.says.kind == kind
                and a.id not in taken
                and (named := _named(desk, a))
                and named <= whole
            ]
            if line.leans:
                notes = [a for a in notes if _same_angle(a, line)]
            members = sum(len(_named(desk, a)) for a in notes)
            if notes and (members >= line.says.count or kind not in ("hole", "diameter")):
                return sorted(notes, key=lambda a: -len(a.refs))
    lengths = [
        a
        for a in mine
        if isinstance(a, Linear | Ordinate) and a.id not in taken and len(a.refs) > 1 and a.refs[0] != a.refs[1]
    ]
    if len(line.rows) == 1 and line.rows[0]:
        wanted = _normal(line.rows[0])
        same = [a for a in lengths if rows.get(a.id) == wanted]
        if same:
            # A plain length before an ordinate.
            return [min(same, key=lambda a: (a.reference, a.kind != "linear"))]
    ends = _span(desk, line.refs) if len(line.refs) == 2 else None
    return [a for a in lengths if ends is not None and a.kind != "pattern" and _span(desk, a.refs) == ends][:1]


def _named(desk: Desk, mark: Annotation) -> set[int]:
    """The faces that a statement names."""
    return {f for r in mark.refs for f in desk.scene.resolution(desk.sheet, r).faces}


def _span(desk: Desk, refs: Sequence[str]) -> tuple[int, float, float] | None:
    """The axis of the file that two references lie apart along in the views, and their levels along it, mm."""
    for view in desk.views:
        anchors = [desk.scene.anchor(view, r) for r in (refs[0], refs[-1])]
        for direction, way, _ in desk.ways(view):
            levels = [None if a is None else a.level(direction) for a in anchors]
            if levels[0] is None or levels[1] is None or abs(levels[0] - levels[1]) < NOISE or not desk.square(way):
                continue
            k = int(abs(way).argmax())
            low, high = sorted(round(float(x) * float(way[k]), 3) + 0.0 for x in levels if x is not None)
            return k, low, high
    return None


def _beside(desk: Desk, faces: Sequence[int]) -> set[int]:
    """Faces of the same round things: a bore that is cut in two is one."""
    mine = {_round(desk, f) for f in faces if desk.solid.faces[f].kind == "cylinder"}
    return {f.index for f in desk.solid.faces if f.kind == "cylinder" and _round(desk, f.index) in mine}


def _round(desk: Desk, face: int) -> tuple[float, ...]:
    """The axis and the radius of a cylinder, comparable."""
    f = desk.solid.faces[face]
    foot = f.origin - f.axis * float(f.origin @ f.axis)
    return (*(round(float(c), 3) + 0.0 for c in (*foot, *abs(f.axis))), round(f.radius, 4))


def _worded(desk: Desk, carriers: Sequence[Leader | Note | Linear | Ordinate], line: Said) -> Annotation:
    """A statement in the words of a line; what several were drafted to say is said by the first of them."""
    refs = tuple(dict.fromkeys(r for a in carriers for r in a.refs)) if len(carriers) > 1 else carriers[0].refs
    mark = carriers[0].model_copy(update={"refs": refs})
    if isinstance(mark, Linear) and mark.kind == "pattern":
        pitch = line.figure.main
        return mark if pitch is None else mark.saying(mark.says.having(pitch.model_copy(update={"name": "pitch"})))
    if isinstance(mark, Linear | Ordinate):
        return mark.saying(line.figure, reference=line.reference)
    # What notes that go into one say is alike but for their counts.
    one = mark.says.changed(count=sum(a.says.count for a in carriers))
    both = together(one, line.says, line.drilled)
    return mark.saying(line.says if both is None else both.stated, reference=line.reference)


def _between(desk: Desk, line: Said) -> Iterator[Linear]:
    """A length between the two places of a line: first in views that show both, round ones from the end, then in those that
    show both, then where one is hidden."""
    for hidden, true in ((False, True), (False, False), (True, False)):
        for view in desk.views:
            if true and not all(_from_the_end(view, ref) for ref in line.refs):
                continue
            anchors = [desk.scene.anchor(view, r) for r in line.refs]
            for k, (direction, way, _) in enumerate(desk.ways(view)):
                low, high = (None if a is None else a.level(direction) for a in anchors)
                if low is None or high is None or abs(low - high) < NOISE or not desk.square(way):
                    continue
                places = zip(line.refs, (low, high), strict=True)
                if hidden or all(_shown(desk, view, ref, k, level) for ref, level in places):
                    refs = line.refs if low < high else line.refs[::-1]
                    yield desk.length(view, direction, refs, line.figure, "source")


def _from_the_end(view: View, ref: str) -> bool:
    """Whether a view looks along the axis of a bore or shaft; other things have no end to be seen from."""
    parsed = parse(ref)
    if parsed.kind not in ("bore", "shaft"):
        return True
    return parallel(np.array(parsed.vectors[1]), frame_of_view(view).toward)


def _shown(desk: Desk, view: View, ref: str, k: int, level: float) -> bool:
    """Whether visible lines of what a reference names, or its centre mark, stand at a level of a view."""
    marks = (a for a in desk.scene.document.annotations if a.view == view.id and isinstance(a, MUTE))
    if any(ref in a.refs for a in marks):
        return True
    for line in desk.scene.projection(view).visible:
        if float(abs(line.polyline(0.01)[:, k] - level).min()) < 0.02:
            return True
    return False
