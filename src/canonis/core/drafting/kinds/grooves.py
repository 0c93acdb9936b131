"""Notes of grooves and undercuts: width by the diameter of the floor, at the floor seen from the side."""

from collections.abc import Iterator

from canonis.core.drafting.desk import ALONG, Candidate, Desk
from canonis.core.drafting.seen import lines_of
from canonis.core.features.model import Form, Piece
from canonis.core.shape.surfaces import torus_floor
from canonis.core.sheet.scene import frame_of_view
from canonis.core.solid.model import Face

__all__ = ["grooves"]


def grooves(desk: Desk) -> Iterator[Candidate]:
    """One note for equal grooves with a flat floor and two walls square to the axis."""
    for n, form in enumerate(desk.found.forms):
        if form.kind != "groove":
            continue
        if form.first.data.get("bottom") == "round":
            yield from _round(desk, form, n)
            continue
        named = [x for x in (_named(desk, p) for p in form.pieces) if x is not None]
        if len(named) != len(form.pieces):
            continue
        floor = named[0][0]
        side = [
            v for v in desk.views
            if abs(float(floor.axis @ frame_of_view(v).toward)) < 1e-6 and any(not x.edges for x in lines_of(desk.scene, v, floor.index))
        ]  # fmt: skip
        if not side:
            continue
        refs = tuple(desk.reference(f.index) for group in named for f in group)
        count = f"{len(named)}× " if len(named) > 1 else ""
        word = "UNDERCUT" if form.first.data.get("relief") else "GROOVE"
        width = abs(float((named[0][2].centre - named[0][1].centre) @ floor.axis))
        text = f"{count}{word} {desk.written(width)} × ⌀{desk.written(2 * floor.radius)}"
        yield Candidate(
            0.35 + 1e-4 * n,
            desk.note("groove", side[0], refs, (text,), form.id, desk.reference(floor.index)),
            note=True,
        )


def _round(desk: Desk, form: Form, n: int) -> Iterator[Candidate]:
    """Equal round-bottomed grooves: radius by the diameter of the bottom, in a view from the side."""
    floors = [f for p in form.pieces for f in p.faces[:1]]
    one = desk.solid.faces[floors[0]]
    for view in desk.views:
        across = abs(float(one.axis @ frame_of_view(view).toward)) < 1e-6
        if across and any(not x.edges for x in lines_of(desk.scene, view, one.index)):
            count = f"{len(floors)}× " if len(floors) > 1 else ""
            side = torus_floor(desk.solid, one)
            text = f"{count}GROOVE R{desk.written(one.minor)} × ⌀{desk.written(2 * (one.radius + side * one.minor))}"
            text += "" if side else f" ↧{desk.written(float(form.first.data['depth_mm']))}"
            refs = tuple(desk.reference(f) for f in floors)
            yield Candidate(0.35 + 1e-4 * n, desk.note("groove", view, refs, (text,), form.id), note=True)
            return


def _named(desk: Desk, piece: Piece) -> tuple[Face, Face, Face] | None:
    """Floor and both walls of a groove."""
    solid = desk.solid
    floor = next((solid.faces[f] for f in piece.faces if solid.faces[f].kind == "cylinder"), None)
    if floor is None:
        return None
    near = [o for _, o in solid.neighbours[floor.index]]
    over = [o for k in near if solid.faces[k].kind == "torus" for _, o in solid.neighbours[k]]
    walls = [
        solid.faces[o] for o in dict.fromkeys((*near, *over))
        if solid.faces[o].kind == "plane" and abs(float(solid.faces[o].axis @ floor.axis)) > ALONG
    ]  # fmt: skip
    facing = [
        w
        for w in walls
        if abs(float((w.centre - floor.origin) @ floor.axis) - sum(floor.span) / 2) < (floor.span[1] - floor.span[0])
    ]
    if len(facing) != 2 or float(facing[0].axis @ facing[1].axis) > 0:
        return None
    low, high = sorted(facing, key=lambda w: float(w.centre @ floor.axis))
    return floor, low, high
