"""A part to show things on: a plate of 80 × 50 × 12 with a through hole ⌀8 in its middle."""

from typing import Any

from canonis.core.recipe.build import build_recipe
from canonis.core.solid import Model, Solid, read_model, write_step

__all__ = ["PLATE", "plate", "plate_model"]

PLATE: dict[str, Any] = {
    "schema": "canonis.recipe/1",
    "unit": "mm",
    "name": "plate",
    "steps": [
        {"op": "extrude", "profile": {"plane": "XY", "outer": {"rect": [0, 0, 80, 50]}}, "distance": 12},
        {"op": "hole", "at": [[40, 25, 12]], "axis": [0, 0, 1], "diameter": 8, "through": True},
    ],
}


def plate_model() -> Model:
    """The plate as it is read from a file."""
    built = build_recipe(PLATE)
    return read_model(write_step(built.shape, built.name, built.unit), "plate.step")


def plate() -> Solid:
    """The plate alone."""
    return plate_model().solids[0]
