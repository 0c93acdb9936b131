"""The rows of splines."""

from collections.abc import Iterator, Sequence

from canonis.core.shape import Parts, PartShape, Row, added, around_flanks, scaled, turned_row
from canonis.core.sheet.note_rows import Named, says
from canonis.core.tolerances import NOISE

__all__: list[str] = []


@says("spline", on="plane cylinder", least=4)
def _splines(n: Named) -> Iterator[Parts]:
    yield _spline_rows(n.shape, n.numbers)


def _spline_rows(shape: PartShape, faces: Sequence[int]) -> Parts:
    """Root and outside of a spline by its flanks, and that its parallel-sided teeth are alike, evenly spaced and point to the
    axis."""
    solid = shape.solid
    if len(faces) < 4:
        return {}
    faces = around_flanks(solid, faces)
    rounds = [solid.faces[f] for f in faces if solid.faces[f].kind == "cylinder"]
    if not rounds:
        return {}
    wide, thin = max(f.radius for f in rounds), min(f.radius for f in rounds)
    rows: Parts = {"major": [], "minor": [], "teeth": []}
    for face in rounds:
        size = shape.motions[face.index].radius
        if size is not None:
            rows["major" if face.radius > (wide + thin) / 2 else "minor"].append({size: 2.0})
    inner = rounds[0].inner
    tips = [f for f in rounds if (f.radius < (wide + thin) / 2) is inner] if wide - thin > NOISE else rounds
    axis = tips[0].axis
    teeth: list[tuple[Row, Row]] = []
    for tip in tips:
        flanks = sorted({o for _, o in solid.neighbours[tip.index] if o in faces and solid.faces[o].kind == "plane"})
        if len(flanks) != 2:
            continue
        a, b = (solid.faces[f] for f in flanks)
        width = added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre))
        middle = scaled(added(shape.speed(a.index, a.centre), shape.speed(b.index, b.centre), -1.0), 0.5)
        off = added(middle, shape.axis_speed(tip.index, tip.origin, a.axis), -1.0)
        rows["teeth"] += [off] if off else []
        teeth.append((width, turned_row(shape, a.index, axis)))
    for width, turn in teeth[1:]:
        for row in (added(width, teeth[0][0], -1.0), added(turn, teeth[0][1], -1.0)):
            rows["teeth"] += [row] if row else []
    flat = [solid.faces[f] for f in faces if solid.faces[f].kind == "plane"]
    roots = [f for f in flat if not any(o == t.index for t in tips for _, o in solid.neighbours[f.index])]
    rows["minor" if not inner else "major"] += [
        scaled(
            added(shape.speed(f.index, f.centre), shape.axis_speed(tips[0].index, tips[0].origin, f.axis), -1.0), 2.0
        )
        for f in roots
    ]
    return rows
