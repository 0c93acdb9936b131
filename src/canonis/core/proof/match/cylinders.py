"""Round faces that no feature explains, as things of the part."""

from canonis.core.proof.match.item import Item, Line, Size
from canonis.core.shape import Parts, PartShape, places, round_rows

__all__ = ["plain_cylinders"]


def plain_cylinders(shape: PartShape, taken: set[int]) -> list[Item]:
    """Round faces that no feature has: ends of lugs, lobes, parts of a bore."""
    solid = shape.solid
    rest = [f.index for f in solid.faces if f.kind == "cylinder" and f.index not in taken]
    out = []
    for group in places(solid, rest):
        face = solid.faces[group[0]]
        rows: Parts = {"radius": [], "diameter": []}
        for f in group:
            for name, more in round_rows(shape, f).items():
                rows[name].extend(more)
        sizes = {
            "radius": Size(face.radius, tuple(rows["radius"])),
            "diameter": Size(2 * face.radius, tuple(rows["diameter"])),
        }
        line = Line(face.index, face.origin, face.axis, face.radius)
        out.append(
            Item(
                f"round {face.index}",
                "cylinder",
                1,
                sizes,
                face.axis,
                frozenset(group),
                (line,),
                (face.centre,),
                words={"inner": "yes" if face.inner else ""},
                weight=0.3,
            )
        )
    return out
