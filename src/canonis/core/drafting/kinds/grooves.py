"""Notes of grooves and undercuts: width by the diameter of the bottom, at the bottom seen from the side or cut."""

from collections.abc import Iterator

from canonis.core.callout import Callout
from canonis.core.drafting.desk import Candidate, Desk
from canonis.core.drafting.registry import states
from canonis.core.drafting.seen import lines_of
from canonis.core.features import Form
from canonis.core.shape import torus_floor
from canonis.core.sheet import frame_of_view
from canonis.core.solid import Face
from canonis.core.tolerances import parallel, square

__all__ = ["grooves"]


@states(100)
def grooves(desk: Desk) -> Iterator[Candidate]:
    """One note for equal grooves around a shaft, for each sort of groove in a bore, and for round-bottomed ones."""
    for n, form in enumerate(desk.found.forms):
        if form.kind != "groove":
            continue
        if form.first.data.get("bottom") == "round":
            yield from _round(desk, form, n)
            continue
        floors = [f for p in form.pieces for f in _floor(desk, p.faces)]
        if len(floors) == len(form.pieces):
            yield from _flat(desk, floors, form.id, "undercut" if form.first.data.get("relief") else "", n)
    for n, group in enumerate(desk.found.holes):
        for _, grooved in group.inner_grooves:
            floors = [f for _, faces in grooved for f in _floor(desk, faces)]
            yield from _flat(desk, floors, group.id, "", n)


def _floor(desk: Desk, faces: tuple[int, ...]) -> list[Face]:
    """The cylinder at the bottom of a groove."""
    return [f for f in (desk.solid.faces[k] for k in faces) if f.kind == "cylinder"][:1]


def _flat(desk: Desk, floors: list[Face], feature: str, word: str, n: int) -> Iterator[Candidate]:
    """Width by the diameter of the bottom of equal grooves with two walls square to the axis, in a view from the side."""
    named = [x for x in (_named(desk, f) for f in floors) if x is not None]
    if not named or len(named) != len(floors):
        return
    floor = named[0][0]
    for view in desk.views:
        across = square(floor.axis, frame_of_view(view).toward)
        if across and any(not x.edges for x in lines_of(desk.scene, view, floor.index)):
            refs = tuple(desk.reference(f.index) for group in named for f in group)
            width = abs(float((named[0][2].centre - named[0][1].centre) @ floor.axis))
            parts = (desk.sizes.length("width", width), desk.sizes.length("diameter", 2 * floor.radius))
            says = Callout(kind="groove", count=len(named), detail=word, parts=parts)
            note = desk.note(view, refs, says, feature, desk.reference(floor.index))
            yield Candidate(0.35 + 1e-4 * n, note, note=True)
            return


def _round(desk: Desk, form: Form, n: int) -> Iterator[Candidate]:
    """Equal round-bottomed grooves: radius by the diameter of the bottom, in a view from the side."""
    floors = [f for p in form.pieces for f in p.faces[:1]]
    one = desk.solid.faces[floors[0]]
    for view in desk.views:
        across = square(one.axis, frame_of_view(view).toward)
        if across and any(not x.edges for x in lines_of(desk.scene, view, one.index)):
            side = torus_floor(desk.solid, one)
            size = desk.sizes
            parts = [size.length("radius", one.minor), size.length("diameter", 2 * (one.radius + side * one.minor))]
            parts += [] if side else [size.length("depth", float(form.first.data["depth_mm"]))]
            says = Callout(kind="groove", count=len(floors), parts=tuple(parts))
            refs = tuple(desk.reference(f) for f in floors)
            yield Candidate(0.35 + 1e-4 * n, desk.note(view, refs, says, form.id), note=True)
            return


def _named(desk: Desk, floor: Face) -> tuple[Face, Face, Face] | None:
    """Floor and both walls of a groove."""
    solid = desk.solid
    near = [o for _, o in solid.neighbours[floor.index]]
    over = [o for k in near if solid.faces[k].kind == "torus" for _, o in solid.neighbours[k]]
    walls = [
        solid.faces[o]
        for o in dict.fromkeys((*near, *over))
        if solid.faces[o].kind == "plane" and parallel(solid.faces[o].axis, floor.axis)
    ]
    facing = [
        w
        for w in walls
        if abs(float((w.centre - floor.origin) @ floor.axis) - sum(floor.span) / 2) < (floor.span[1] - floor.span[0])
    ]
    if len(facing) != 2 or float(facing[0].axis @ facing[1].axis) > 0:
        return None
    low, high = sorted(facing, key=lambda w: float(w.centre @ floor.axis))
    return floor, low, high
