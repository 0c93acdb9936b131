"""Things that are one for who writes them: holes in one line through several walls, journals of one diameter on one axis."""

from dataclasses import replace

import numpy as np

from canonis.core.proof.match.item import Item, Size
from canonis.core.tolerances import ALIGNED, SAME, parallel

__all__ = ["gathered"]


def gathered(items: list[Item]) -> list[Item]:
    """The items of a part, those that are one thing as one."""
    return _merged(_in_line(items))


def _in_line(items: list[Item]) -> list[Item]:
    """Through holes of one size on one axis, in the two walls of a fork, are one for who writes them and two for who counts."""
    out: list[Item] = []
    for item in items:
        same = None
        if item.kind == "hole" and item.value("through") is True and not any(item.seats):
            same = next(
                (
                    k
                    for k, o in enumerate(out)
                    if o.kind == "hole" and not any(o.seats) and o.value("through") is True and _one_line(o, item)
                ),
                None,
            )
        if same is None:
            out.append(item)
            continue
        first = out[same]
        sizes = {
            n: Size(s.value, (*s.rows, *item.sizes[n].rows))
            for n, s in first.sizes.items()
            if n in item.sizes and n != "length"
        }
        out[same] = replace(
            first,
            count=first.count + item.count,
            sizes=sizes,
            faces=first.faces | item.faces,
            lines=first.lines + item.lines,
            points=first.points + item.points,
            also=first.also or first.count,
        )
    return out


def _one_line(a: Item, b: Item) -> bool:
    """Whether every axis of one is an axis of the other, with the same radius."""
    if a.count != b.count or not parallel(a.axis, b.axis, ALIGNED) or abs(a.lines[0].radius - b.lines[0].radius) > SAME:
        return False
    return all(
        any(float(np.linalg.norm(np.cross(p.point - q.point, a.axis))) < SAME for q in a.lines[: a.count])
        for p in b.lines
    )


def _merged(items: list[Item]) -> list[Item]:
    """Journals of one diameter on one axis as one item; the bottoms of grooves are no journals."""
    bottoms = {round(float(v), 3) for i in items if i.kind == "groove" and isinstance(v := i.value("diameter"), float)}
    out: list[Item] = []
    for item in items:
        if item.kind != "shaft":
            out.append(item)
            continue
        size = round(float(item.sizes["diameter"].value), 3)
        if size in bottoms:
            continue
        same = next(
            (
                k
                for k, o in enumerate(out)
                if o.kind == "shaft"
                and round(float(o.sizes["diameter"].value), 3) == size
                and parallel(o.axis, item.axis, ALIGNED)
                and float(np.linalg.norm(np.cross(o.lines[0].point - item.lines[0].point, item.axis))) < SAME
            ),
            None,
        )
        if same is None:
            out.append(item)
            continue
        first = out[same]
        rows = {
            n: Size(s.value, (*s.rows, *item.sizes[n].rows)) if n in item.sizes else s
            for n, s in first.sizes.items()
            if n != "height"
        }
        out[same] = Item(
            first.label,
            "shaft",
            1,
            rows,
            first.axis,
            first.faces | item.faces,
            first.lines,
            first.points,
            words=first.words,
        )
    return out
