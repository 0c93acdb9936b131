"""A sheet that is begun: what is decided about it before anything is drawn."""

from dataclasses import dataclass, field
from typing import Any

from canonis.core.drafting.datums import datum_of, turned_face
from canonis.core.drafting.desk import Datum, Desk
from canonis.core.drafting.front import Front, choose_front, turned_axis
from canonis.core.drafting.roundness import corner_name
from canonis.core.drafting.struck import Struck
from canonis.core.drafting.wish import DraftWish
from canonis.core.features import Feature
from canonis.core.sheet import Scene, SheetPage
from canonis.core.solid import Model, Solid, Vec

__all__ = ["Begun", "begun", "page_of"]


@dataclass(frozen=True, eq=False, kw_only=True)
class Begun:
    """A sheet with its number, the solid that it shows and how many there are of it, its front view and its datum."""

    number: int
    index: int
    copies: int
    solid: Solid
    found: Feature
    front: Front
    datum: Datum
    datum_name: str
    #: The axis of a turned part; `on_axis` tells whether the datum lies on it.
    axis: Vec | None
    on_axis: bool
    wish: DraftWish
    struck: Struck
    plans: dict[object, Any] = field(default_factory=dict)

    def desk(self, scene: Scene, touched: frozenset[int] | None = None) -> Desk:
        """A desk for the sheet as the scene has it."""
        return Desk(
            scene,
            page_of(scene, self.number),
            self.found,
            self.datum,
            turned=self.axis if self.on_axis else None,
            locations=self.wish.house.locations,
            table_from=self.wish.house.hole_table.least,
            struck=self.struck,
            touched=touched,
            plans=self.plans,
        )


def page_of(scene: Scene, number: int) -> SheetPage:
    """The sheet of a number as the scene has it."""
    return next(p for p in scene.document.pages if p.number == number)


def begun(model: Model, found: Feature, shown: tuple[int, int], number: int, wish: DraftWish, struck: Struck) -> Begun:
    """A sheet of a solid of a model; `shown` is which one and how many there are of it."""
    index, copies = shown
    solid = model.solids[index]
    front = choose_front(solid, found, wish.front)
    axis = turned_axis(solid) if turned_face(solid) is not None else None
    name, unit = wish.datum, wish.unit or model.unit
    if name == "auto":
        name = "axis" if axis is not None else corner_name(solid, found, front.frame, unit)
    return Begun(
        number=number,
        index=index,
        copies=copies,
        solid=solid,
        found=found,
        front=front,
        datum=datum_of(solid, found, front.frame, name, unit),
        datum_name=name,
        axis=axis,
        on_axis=name == "axis",
        wish=wish,
        struck=struck,
    )
