"""Views that are put on a sheet: their names, the frames they look along, and the free place that they get."""

import math

import numpy as np

from canonis.core.drafting.sectioning import triple
from canonis.core.faults import BadInput
from canonis.core.layout import Rect
from canonis.core.sheet import (
    Auxiliary,
    Page,
    Scene,
    SheetDocument,
    View,
    compile_annotation,
    frame_of_view,
    look_of,
    size_mm,
)
from canonis.core.solid import Vec
from canonis.core.tolerances import NOTHING
from canonis.core.view import ViewFrame

__all__ = ["BY_HAND", "NoRoom", "auxiliary_of", "corner_frame", "text_boxes"]

#: The reason of a view that somebody asked for.
BY_HAND = "asked for by hand"


class NoRoom(BadInput):
    """A view finds no free place on its sheet; `document` has it, without a place."""

    def __init__(self, message: str, document: SheetDocument) -> None:
        super().__init__(message)
        self.document = document


def text_boxes(scene: Scene, sheet: int) -> list[Rect]:
    """The boxes of all statements on a sheet, paper mm."""
    size = next(p.size for p in scene.document.pages if p.number == sheet)
    look = look_of(scene.document.style, size)
    page = Page(sheet, size, size_mm(size))
    for mark in scene.document.annotations:
        if mark.sheet == sheet:
            compile_annotation(page, scene, mark, look)
    return [text.box() for text in page.texts]


def auxiliary_of(
    scene: Scene, parent: View, face: str, normal: Vec, letter: str, *, name: str, reason: str = ""
) -> Auxiliary:
    """A view square to a face that its parent shows from the side."""
    frame = frame_of_view(parent)
    toward = normal / float(np.linalg.norm(normal))
    # Folded about the line in which the face is seen: what is toward the viewer of the parent lies across it.
    across = np.cross(frame.toward, toward)
    up = across / float(np.linalg.norm(across))
    made = ViewFrame(np.cross(up, toward), up)
    if abs(float(up @ frame.up)) < abs(float(made.right @ frame.up)):
        made = ViewFrame(up, np.cross(toward, up))
    if float(made.up @ frame.up) < -NOTHING:
        made = ViewFrame(-made.right, -made.up)
    return Auxiliary(
        id=name,
        sheet=parent.sheet,
        scale=parent.scale,
        origin=parent.origin,
        right=triple(made.right),
        up=triple(made.up),
        at=parent.at,
        hidden=False,
        parent=parent.id,
        aligned=False,
        letter=letter,
        face=face,
        reason=reason,
    )


def corner_frame(front: ViewFrame, corner: str, below: bool) -> ViewFrame:
    """The isometric frame from a corner of the part, named from the front view, above or below it (ISO 5456-3)."""
    depth, side = corner.split("-")
    x = front.right * (1.0 if side == "right" else -1.0)
    z = front.toward * (1.0 if depth == "front" else -1.0)
    toward = (x + z + front.up * (-1.0 if below else 1.0)) / math.sqrt(3)
    right = np.cross(front.up, toward)
    right = right / float(np.linalg.norm(right))
    return ViewFrame(right, np.cross(toward, right))
