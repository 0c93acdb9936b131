"""Numbers of a recipe: plain, or expressions such as ``3/8 + 1/16`` and ``#12 / 2``, as on the workings pad."""

from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from canonis.core.faults import BadInput
from canonis.core.quantity import Unit
from canonis.core.source import Amount, Known, unit_amount, work_out

__all__ = ["evaluate"]


def evaluate(value: Any, characteristics: Mapping[str, float] | None = None, unit: Unit = Unit.MM) -> float:
    """The value of a number or an expression, in the recipe's unit (degrees for an angle).

    `#12` stands for characteristic 12 of the specification, `#12.depth` for one of its parts. Raises BadInput when it cannot be read.
    """
    if isinstance(value, bool) or not isinstance(value, int | float | str):
        raise BadInput(f"{value!r} is not a number")
    if isinstance(value, int | float):
        result = float(value)
    else:
        known: dict[str, dict[str, Amount]] = {}
        for name, size in (characteristics or {}).items():
            number, _, part = name.partition(".")
            known.setdefault(number, {})[part] = Amount(Fraction(size))
        try:
            made = work_out(value, Known(unit, known)).amount
        except BadInput as fault:
            raise BadInput(f"“{value[:60]}” is not an expression: {fault}") from None
        if made.mass or made.power > 1:
            raise BadInput(f"“{value[:60]}” is no length and no angle")
        result = float(made.value / unit_amount(str(unit)).value if made.power == 1 else made.value)
    if not abs(result) < 1e7:
        raise BadInput(f"{value!r} is out of reach")
    return result
