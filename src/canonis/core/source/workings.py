"""The workings pad: typed expressions evaluated with their steps shown, so that a person can check them."""

import math
import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path
from typing import Any

from lark import Lark, Token, Tree
from lark.exceptions import UnexpectedCharacters, UnexpectedEOF, UnexpectedInput

from canonis.core.callout import FITS, cap_seat, clearance, degrees_of, read_thread
from canonis.core.faults import BadInput
from canonis.core.grammars import parser_of
from canonis.core.quantity import Unit, fraction_of
from canonis.core.source.amounts import Amount, as_length, matched, shown, unit_amount
from canonis.core.source.formulas import FORMULAS, Formula

__all__ = ["Known", "Working", "work_out"]

_LONGEST = 300
_DEEPEST = 60
_LOOK_UP = re.compile(r"\s*(?:(\w+)\s*=\s*)?(tap\s*drill|clearance|cap\s+screw)\s+(?!\()(\S.*?)\s*$", re.I)


def _grammar() -> Lark:
    return parser_of("workings", Path(__file__).with_name("workings.lark").read_text())


@dataclass(frozen=True)
class Working:
    """A worked-out expression: its name if it was given one, its value, the steps, and points where it made some.

    `values` are several results of one look-up or formula, by name.
    """

    text: str
    name: str
    amount: Amount
    steps: tuple[str, ...]
    points: tuple[tuple[float, float], ...] = ()
    values: tuple[tuple[str, Amount], ...] = ()
    used: tuple[str, ...] = ()

    def as_json(self, unit: Unit) -> dict[str, Any]:
        """The working as plain data; lengths in mm, angles in degrees, masses in grams."""
        a = self.amount
        kind = (
            "angle"
            if a.angle
            else "mass"
            if a.mass
            else {0: "number", 1: "length", 2: "area", 3: "volume"}.get(a.power, "other")
        )
        return {
            "text": self.text,
            "name": self.name,
            "kind": kind,
            "value": float(a.value),
            "shown": shown(a, unit),
            "typed": _typed(a, unit),
            "steps": list(self.steps),
            "points": [list(p) for p in self.points],
            "values": [{"name": n, "value": float(v.value), "shown": shown(v, unit)} for n, v in self.values],
            "used": list(self.used),
        }


def _typed(a: Amount, unit: Unit) -> str:
    """The value as it may be typed into a line of shorthand."""
    text = shown(a, unit, fraction=False)
    return text.removesuffix(f" {unit}")


@dataclass(frozen=True)
class Known:
    """What an expression may refer to: characteristics by number and part, workings by name."""

    unit: Unit
    characteristics: Mapping[str, Mapping[str, Amount]] = field(default_factory=dict)
    workings: Mapping[str, Amount] = field(default_factory=dict)


class _Pad:
    """One evaluation: walks the tree, writes a step for each operation."""

    def __init__(self, known: Known) -> None:
        self.known = known
        self.steps: list[str] = []
        self.points: tuple[tuple[float, float], ...] = ()
        self.used: list[str] = []

    def say(self, a: Amount) -> str:
        return shown(a, self.known.unit)

    def step(self, text: str, result: Amount) -> Amount:
        if not math.isfinite(float(result.value)) or abs(float(result.value)) > 1e15:
            raise BadInput("the result is out of reach")
        self.steps.append(f"{text} = {self.say(result)}")
        return result

    def walk(self, node: Any, depth: int = 0) -> Amount:
        if depth > _DEEPEST:
            raise BadInput("the expression is nested too deeply")
        rule: str = node.data
        if rule in ("add", "sub"):
            a, b = matched(
                self.walk(node.children[0], depth + 1), self.walk(node.children[-1], depth + 1), self.known.unit
            )
            sign = "+" if rule == "add" else "−"
            value = a.value + b.value if rule == "add" else a.value - b.value
            return self.step(f"{self.say(a)} {sign} {self.say(b)}", Amount(value, *a.dims))
        if rule == "mul":
            a, b = self.walk(node.children[0], depth + 1), self.walk(node.children[-1], depth + 1)
            if (a.angle or b.angle) and not (a.plain or b.plain):
                raise BadInput("an angle can be multiplied by a plain number only")
            made = Amount(a.value * b.value, a.power + b.power, a.mass + b.mass, a.angle or b.angle)
            return self.step(f"{self.say(a)} × {self.say(b)}", made)
        if rule == "div":
            return self._divide(self.walk(node.children[0], depth + 1), self.walk(node.children[-1], depth + 1))
        if rule == "neg":
            a = self.walk(node.children[-1], depth + 1)
            return Amount(-a.value, *a.dims)
        if rule == "pow":
            return self._raise(self.walk(node.children[0], depth + 1), self.walk(node.children[1], depth + 1))
        if rule == "group":
            return self._group(node, depth)
        if rule == "call":
            return self._call(str(node.children[0]), [self.walk(n, depth + 1) for n in node.children[1:]])
        if rule == "name":
            return self._name(str(node.children[0]))
        if rule == "reference":
            return self._reference(str(node.children[0])[1:])
        assert rule == "amount"
        return self._amount([t for t in node.children if isinstance(t, Token)])

    def _divide(self, a: Amount, b: Amount) -> Amount:
        if not b.value:
            raise BadInput("nothing can be divided by zero")
        if b.angle and not a.angle:
            raise BadInput("only an angle can be divided by an angle")
        made = Amount(a.value / b.value, a.power - b.power, a.mass - b.mass, a.angle and not b.angle)
        return self.step(f"{self.say(a)} ÷ {self.say(b)}", made)

    def _raise(self, a: Amount, b: Amount) -> Amount:
        if not b.plain or a.angle:
            raise BadInput("a power must be a plain number")
        n = float(b.value)
        if abs(n) > 12 or (a.value == 0 and n < 0) or (float(a.value) < 0 and n != int(n)):
            raise BadInput("that power is out of reach")
        if not a.plain and (n * a.power != int(n * a.power) or n * a.mass != int(n * a.mass)):
            raise BadInput("that power of a length means nothing")
        value = a.value ** int(n) if n == int(n) else float(a.value) ** n
        return self.step(f"{self.say(a)} ^ {self.say(b)}", Amount(value, int(a.power * n), int(a.mass * n)))

    def _group(self, node: Any, depth: int) -> Amount:
        inner = self.walk(node.children[0], depth + 1)
        if len(node.children) > 1:
            if not inner.plain:
                raise BadInput("that already has a unit")
            unit = unit_amount(str(node.children[1]))
            return Amount(inner.value * unit.value, *unit.dims)
        return inner

    def _amount(self, tokens: list[Token]) -> Amount:
        first = tokens[0]
        text = str(first)
        if first.type == "ANGLE":
            return Amount(degrees_of(text)[0], angle=True)
        if first.type == "FEET":
            feet, inches = re.match(r"(\d+)\s*(?:'|ft)\s*-?\s*(.*?)\s*(?:\"|in)$", text).groups()  # type: ignore[union-attr]
            return Amount((12 * int(feet) + fraction_of(inches)) * unit_amount("in").value, 1)
        value = fraction_of(text)
        if len(tokens) > 1:
            unit = unit_amount(str(tokens[1]))
            return Amount(value * unit.value, *unit.dims)
        return Amount(value)

    def _name(self, name: str) -> Amount:
        name = _apart(name)
        if name in self.known.workings:
            self.used.append(name)
            return self.known.workings[name]
        if name.lower() == "pi":
            return Amount(math.pi)
        raise BadInput(f"“{name}” is no working above and no function; functions take brackets, as in rim(10, 1.5)")

    def _reference(self, text: str) -> Amount:
        number, _, part = text.partition(".")
        parts = self.known.characteristics.get(number)
        if not parts:
            raise BadInput(f"line #{number} is not in the list, or has no size")
        if part and part not in parts:
            raise BadInput(f"line #{number} has no {part}; it has {', '.join(p for p in parts if p)}")
        self.used.append(f"#{number}")
        return parts[part]

    def _call(self, name: str, given: list[Amount]) -> Amount:
        formula = FORMULAS.get(name.lower())
        if formula is None:
            raise BadInput(f"there is no function {name}; there are {', '.join(sorted(FORMULAS))}")
        if not formula.least <= len(given) <= len(formula.takes):
            raise BadInput(f"{name} takes {formula.signature}")
        return self._apply(formula, given)

    def _apply(self, formula: Formula, given: list[Amount]) -> Amount:
        taken = []
        for (what, kind), a in zip(formula.takes, given, strict=False):
            if kind == "length":
                a = as_length(a, self.known.unit)
            elif kind == "angle" and a.plain:
                a = Amount(a.value, angle=True)
            elif kind == "volume" and a.plain:
                a = Amount(a.value * unit_amount(str(self.known.unit)).value ** 3, 3)
            wanted = {
                "length": (1, 0, False),
                "angle": (0, 0, True),
                "number": (0, 0, False),
                "volume": (3, 0, False),
            }.get(kind)
            if wanted is not None and a.dims != wanted:
                raise BadInput(f"{formula.name}: the {what} must be a {kind}")
            taken.append(a)
        made = formula.work(*taken)
        if isinstance(made, list):
            self.points = tuple(made)
            for k, (x, y) in enumerate(made, start=1):
                scale = float(unit_amount(str(self.known.unit)).value)
                self.steps.append(f"point {k}: x {_round(x / scale)}, y {_round(y / scale)}")
            return Amount(Fraction(len(made)))
        return self.step(f"{formula.says} of {', '.join(self.say(a) for a in taken)}", made)


def _round(x: float) -> str:
    text = f"{x:.4f}".rstrip("0").rstrip(".")
    return "0" if text in ("-0", "") else text


def _look_up(text: str, name: str, what: str, size: str, unit: Unit) -> Working:
    """A look-up in the tables of threads and screws, written in words."""
    what = " ".join(what.lower().split())
    values: list[tuple[str, Amount]]
    if what.replace(" ", "") == "tapdrill":
        thread = read_thread(size)
        if thread.drill is None:
            raise BadInput(f"no tap drill is tabled for {size}")
        values = [
            ("tap drill", Amount(thread.drill, 1)),
            ("major", Amount(thread.major, 1)),
            ("pitch", Amount(thread.pitch, 1)),
        ]
    else:
        words = size.split()
        fit = words.pop().lower() if words[-1].lower() in FITS else "normal"
        values = [("clearance hole", Amount(clearance(" ".join(words), fit), 1))]
        if what.startswith("cap"):
            wide, deep = cap_seat(" ".join(words))
            values += [("counterbore", Amount(wide, 1)), ("counterbore depth", Amount(deep, 1))]
    steps = tuple(f"{n} {shown(v, unit)}" for n, v in values)
    return Working(text, name, values[0][1], steps, values=tuple(values))


#: Joins the words of a name while an expression is read; nobody types it.
_JOINT = "\u203f"
_NAME = re.compile(r"\s*([A-Za-z_]\w*(?:[ \t]+\w+){1,5})[ \t]*=(?!=)")


def _in_one_word(text: str, known: Known) -> str:
    """An expression with every name of several words in one: its own, and those of earlier workings."""
    own = _NAME.match(text)
    names = {own.group(1)} if own else set()
    names |= {n for n in known.workings if " " in n}
    for name in sorted(names, key=len, reverse=True):
        words = r"[ \t]+".join(map(re.escape, name.split()))
        text = re.sub(rf"(?<![\w.#]){words}(?!\w)", _JOINT.join(name.split()), text)
    return text


def _apart(name: str) -> str:
    """A name as it is read."""
    return name.replace(_JOINT, " ")


def work_out(text: str, known: Known) -> Working:
    """Evaluate an expression such as ``wall = 2 1/2 - 2 * 3/8`` or ``tap drill M8``.

    A plain number that meets a length is one in the job's unit. Raises BadInput with the reason.
    """
    text = text.strip()
    if not text:
        raise BadInput("the expression is empty")
    if len(text) > _LONGEST:
        raise BadInput(f"an expression may have {_LONGEST} characters; split it")
    found = _LOOK_UP.match(text)
    if found:
        return _look_up(text, found.group(1) or "", found.group(2), found.group(3), known.unit)
    typed, text = text, _in_one_word(text, known)
    try:
        tree = _grammar().parse(text.replace(",", ", ") if "(" in text else text.replace(",", "."))
    except UnexpectedInput as fault:
        if isinstance(fault, UnexpectedEOF) or getattr(getattr(fault, "token", None), "type", "") == "$END":
            raise BadInput("the expression ends too early") from None
        at = fault.pos_in_stream or 0
        shown_ = text[at : at + 10] if isinstance(fault, UnexpectedCharacters) else str(getattr(fault, "token", ""))
        raise BadInput(f"“{shown_.strip()}” cannot be read there") from None
    children = list(tree.children)
    name = _apart(str(children.pop(0))) if isinstance(children[0], Token) else ""
    if name.lower() in FORMULAS or name.lower() == "pi":
        raise BadInput(f"“{name}” is a function; choose another name")
    pad = _Pad(known)
    root = children[0]
    assert isinstance(root, Tree)
    try:
        result = pad.walk(root)
        if not math.isfinite(float(result.value)):
            raise BadInput("the result is out of reach")
    except (OverflowError, ZeroDivisionError, ValueError):
        raise BadInput("the result is out of reach") from None
    if not pad.steps:
        pad.steps.append(shown(result, known.unit))
    return Working(typed, name, result, tuple(pad.steps), pad.points, used=tuple(dict.fromkeys(pad.used)))
