"""Building a recipe: a written list of steps, each with its mass, into a solid."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from canonis.core.faults import BadInput
from canonis.core.quantity import Unit
from canonis.core.recipe.bench import Bench, Effect
from canonis.core.recipe.bodies import extrude, loft, revolve, rib, sweep
from canonis.core.recipe.changes import change
from canonis.core.recipe.drilling import hole
from canonis.core.recipe.numbers import evaluate
from canonis.core.recipe.repeats import repeat
from canonis.core.solid import Solid, density_of, face_reference

__all__ = ["Built", "build_recipe"]


@dataclass(eq=False)
class Built:
    """The result: the kernel body, the unit, the name, the ledger, and each stage when asked for."""

    shape: Any
    unit: Unit
    name: str
    density: float | None
    ledger: list[dict[str, Any]]
    stages: list[tuple[str, Any]] = field(default_factory=list)


_MAKERS: dict[str, Callable[[Bench, dict[str, Any]], list[Effect]]] = {
    "extrude": extrude,
    "revolve": revolve,
    "loft": loft,
    "sweep": sweep,
    "rib": rib,
    "hole": hole,
    "row": repeat,
    "grid": repeat,
    "ring": repeat,
    "mirror": repeat,
}
_CHANGES = ("round", "chamfer", "shell", "draft")


def _do(bench: Bench, step: dict[str, Any], name: str) -> None:
    op = step.get("op")
    if op in _MAKERS:
        effects = _MAKERS[op](bench, step)
        for mode, tool in effects:
            bench.apply(mode, tool)
        bench.effects[name] = effects
    elif op in _CHANGES:
        change(bench, step)
    else:
        raise BadInput(f"“{op}” is not a step; there are {', '.join([*_MAKERS, *_CHANGES])}")


def _refs(solid: Solid) -> set[str]:
    return {face_reference(f) for f in solid.faces if f.kind in ("plane", "cylinder", "cone", "torus")}


def build_recipe(recipe: Any, characteristics: Mapping[str, float] | None = None, each: bool = False) -> Built:
    """Build a recipe (`canonis.recipe/1`).

    `characteristics` gives the values of `#n`, in the recipe's unit. Raises BadInput naming the step and
    the reason.
    """
    if not isinstance(recipe, dict) or recipe.get("schema") != "canonis.recipe/1":
        raise BadInput("The recipe must be a JSON object with “schema”: “canonis.recipe/1”.")
    if recipe.get("unit", "mm") not in ("mm", "in"):
        raise BadInput("The recipe's unit must be mm or in.")
    unit = Unit(recipe.get("unit", "mm"))
    density = recipe.get("density")
    if density is None and recipe.get("material"):
        density = density_of(str(recipe["material"]))
    if density is not None and not (isinstance(density, int | float) and 0 < density < 100):
        raise BadInput("The recipe's density must be a number of g/cm³.")
    steps = recipe.get("steps")
    if not isinstance(steps, list) or not steps:
        raise BadInput("The recipe has no steps.")
    scale = 25.4 if unit is Unit.INCH else 1.0
    bench = Bench(lambda v: evaluate(v, characteristics, unit), scale)
    built = Built(None, unit, str(recipe.get("name", "part")), density, [])
    before: set[str] = set()
    for k, step in enumerate(steps):
        name = str(step.get("name", f"step {k + 1}")) if isinstance(step, dict) else f"step {k + 1}"
        try:
            if not isinstance(step, dict):
                raise BadInput("it is not an object")
            _do(bench, step, name)
            solid = bench.solid()
        except BadInput as fault:
            raise BadInput(f"Step “{name}”: {fault}.") from None
        except KeyError as fault:
            raise BadInput(f"Step “{name}”: “{fault.args[0]}” is missing.") from None
        except (TypeError, ValueError, AttributeError, IndexError):
            raise BadInput(f"Step “{name}”: a value has the wrong form.") from None
        except Exception:  # the kernel's own untyped faults, e.g. a degenerate shape
            raise BadInput(f"Step “{name}”: the geometry cannot be built.") from None
        now = _refs(solid)
        bench.made[name] = now - before
        before = now
        mass = solid.mass
        grams = None if density is None else mass.volume * density / 1000
        built.ledger.append(
            {
                "name": name,
                "volume_mm3": mass.volume,
                "mass_g": grams,
                "centroid_mm": [round(float(c), 9) for c in mass.centre],
                "faces": len(solid.faces),
            }
        )
        if each:
            built.stages.append((name, bench.shape))
    built.shape = bench.shape
    return built
