"""How the sizes of a line stand to those of a thing of the part, size by size."""

import math
from dataclasses import dataclass

from canonis.core.callout import Part
from canonis.core.proof.match.item import Item
from canonis.core.proof.match.near import EXACT, LIMITS, NEAR, ROUNDED, SLIP, wanted
from canonis.core.quantity import Unit
from canonis.core.shape import Row

__all__ = ["Difference", "Tally", "model_size", "rows_of"]


@dataclass(frozen=True)
class Difference:
    """A part of a line that the feature does not show as the line says (mm, degrees; None: has none)."""

    part: str
    source: float | None
    model: float | None
    slip: str = ""
    state: int = NEAR


class Tally:
    """Price, differences and rows as the parts of a line are gone through."""

    def __init__(self) -> None:
        self.price = 0.0
        self.differences: list[Difference] = []
        self.rows: list[Row] = []
        self.compared = 0

    def differs(
        self, price: float, part: str, source: float | None, model: float | None, slip: str = "", state: int = NEAR
    ) -> None:
        self.price += price
        self.differences.append(Difference(part, source, model, slip, state))

    def size(self, part: Part, value: float | None, rows: tuple[Row, ...], unit: Unit) -> None:
        """Compare one size."""
        first = self.compared == 0
        self.compared += 1
        want = wanted(part, unit)
        if want is None:
            return
        if value is None:
            self.differs(20.0 if first else 6.0, part.name, want.target, None)
            return
        self.rows += rows
        near = want.of(value)
        if near.state in (EXACT, ROUNDED):
            self.price += near.price
        elif near.state == LIMITS:
            self.price += near.price
            self.differences.append(Difference(part.name, want.target, value, near.slip, LIMITS))
        elif near.state == SLIP:
            self.differs(near.price if not first else near.price + 0.5, part.name, want.target, value, near.slip, SLIP)
        elif part.angle:
            self.differs(5.5, part.name, want.target, value)
        else:
            ratio = abs(math.log(max(value, 1e-6) / max(want.target, 1e-6)))
            self.differs(
                min(5.5 + (6.0 if first else 3.0) * min(1.0, 1.2 * ratio), 11.5), part.name, want.target, value
            )


def model_size(item: Item, name: str) -> float | None:
    """A size of a feature by the name of a line's part."""
    alias = {
        "spotface-diameter": "counterbore-diameter",
        "spotface-depth": "counterbore-depth",
        "drill-diameter": "diameter",
        "drill-depth": "depth",
    }
    names = [name, alias.get(name, "")]
    if item.kind == "arc-slot" and name == "angle":
        names.append("sweep")
    for n in names:
        value = item.value(n)
        if isinstance(value, float):
            return value
    if name == "radius" and isinstance(d := item.value("diameter"), float):
        return d / 2
    if name == "diameter" and isinstance(r := item.value("radius"), float):
        return 2 * r
    if name == "leg-b" and isinstance(v := item.value("leg"), float):
        return v
    return None


def rows_of(item: Item, name: str) -> tuple[Row, ...]:
    for n, factor in (
        (name, 1.0),
        ("diameter", 0.5) if name == "radius" else ("radius", 2.0) if name == "diameter" else ("", 1.0),
    ):
        size = item.sizes.get(n)
        if size is not None and size.rows:
            return tuple({k: v * factor for k, v in r.items()} for r in size.rows)
    return ()
