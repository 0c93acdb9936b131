"""How round a size is: what somebody chose is a round figure, what came of it seldom is (METHODS: round numbers come first)."""

from canonis.core.features import Feature
from canonis.core.quantity import Unit
from canonis.core.solid import Solid, Vec
from canonis.core.tolerances import FITTED, on_axis, parallel, same, square
from canonis.core.view import ViewFrame

__all__ = ["ROUGH", "corner_name", "roughness"]

#: What a length costs by the places that it needs: none, one, two and three in mm; in inches the first is free too.
_PLACES = {Unit.MM: (0.0, 0.05, 0.15, 0.6), Unit.INCH: (0.0, 0.0, 0.05, 0.15, 0.6)}
_ENDLESS = 2.5
#: From this price on nobody would have chosen a length.
ROUGH = 0.6
#: A datum on the other side must save so much, or the custom of the trade holds.
_WORTH = 1.0


def roughness(mm: float, unit: Unit) -> float:
    """What a length, mm, costs for the places that it needs in a unit: 0 for a whole number, 2.5 for one without end; a 64th of
    an inch is as good as a whole one."""
    size, noise = (mm, FITTED) if unit is Unit.MM else (mm / 25.4, FITTED / 25.4)
    if unit is Unit.INCH and same(size * 64, round(size * 64), 64 * noise):
        return 0.0
    for places, price in enumerate(_PLACES[unit]):
        if same(size * 10**places, round(size * 10**places), 10**places * noise):
            return price
    return _ENDLESS


def corner_name(solid: Solid, found: Feature, front: ViewFrame, unit: Unit) -> str:
    """The corner of a part from which most of its levels are round figures, as it is named in its front view; the lower left
    front one where no other is clearly rounder."""
    names = []
    for way, low, high in (
        (front.right, "left", "right"),
        (-front.toward, "front", "back"),
        (front.up, "bottom", "top"),
    ):
        ends = sorted(float(way @ corner) for corner in solid.box)
        levels = _levels(solid, found, way)
        first, last = (sum(roughness(abs(x - end), unit) for x in levels) for end in ends)
        names.append(high if last < first - _WORTH else low)
    return "-".join(names)


def _levels(solid: Solid, found: Feature, way: Vec) -> set[float]:
    """The levels of flat faces, and of the axes of holes, along a direction that runs along an axis of the file."""
    if not on_axis(way):
        return set()
    flat = (f.origin for f in solid.faces if f.kind == "plane" and parallel(f.axis, way))
    axes = (h.start for g in found.holes for h in g.holes if square(h.axis, way))
    return {round(float(p @ way), 6) for p in (*flat, *axes)}
