"""Numbers of a recipe: plain, or expressions such as ``3/8 + 1/16`` and ``#12 / 2``."""

import ast
import operator
import re
from collections.abc import Callable, Mapping
from typing import Any

from canonis.core.faults import BadInput

__all__ = ["evaluate"]

_OPS: dict[type, Callable[[Any, Any], Any]] = {
    ast.Add: operator.add, ast.Sub: operator.sub, ast.Mult: operator.mul, ast.Div: operator.truediv,
}  # fmt: skip


def evaluate(value: Any, characteristics: Mapping[str, float] | None = None) -> float:
    """The value of a number or an expression, in the recipe's unit.

    `#12` stands for characteristic 12 of the specification. Raises BadInput when it cannot be read.
    """
    if isinstance(value, bool) or not isinstance(value, int | float | str):
        raise BadInput(f"{value!r} is not a number")
    if isinstance(value, int | float):
        if not abs(float(value)) < 1e7:
            raise BadInput(f"{value!r} is out of reach")
        return float(value)
    if len(value) > 200:
        raise BadInput("an expression has more than 200 characters")
    text = re.sub(r"#([\w.-]+)", lambda m: _characteristic(m.group(1), characteristics or {}), value)
    # A mixed number such as 2 11/16.
    text = re.sub(r"(\d+)\s+(\d+)/(\d+)", r"(\1 + \2/\3)", text)
    text = re.sub(r"(?<![\d.])\.(\d)", r"0.\1", text)
    try:
        result = _walk(ast.parse(text, mode="eval").body)
    except (SyntaxError, ZeroDivisionError, RecursionError, OverflowError):
        raise BadInput(f"“{value}” is not an expression") from None
    if not abs(result) < 1e7:
        raise BadInput(f"“{value}” is out of reach")
    return result


def _characteristic(number: str, characteristics: Mapping[str, float]) -> str:
    if number not in characteristics:
        raise BadInput(f"characteristic #{number} is not in the specification")
    return repr(characteristics[number])


def _walk(node: ast.AST) -> float:
    if isinstance(node, ast.Constant) and isinstance(node.value, int | float) and not isinstance(node.value, bool):
        return float(node.value)
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.USub):
        return -_walk(node.operand)
    if isinstance(node, ast.BinOp) and type(node.op) in _OPS:
        return float(_OPS[type(node.op)](_walk(node.left), _walk(node.right)))
    raise SyntaxError
