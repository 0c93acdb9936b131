"""The trade's formulas that the workings pad knows. Lengths mm, angles degrees, density g/cm³."""

import math
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from canonis.core.faults import BadInput
from canonis.core.source.amounts import Amount

__all__ = ["FORMULAS", "Formula"]

Result = Amount | list[tuple[float, float]]


@dataclass(frozen=True)
class Formula:
    """A function: what it takes (name, kind), how many are needed at least, and how its step is worded."""

    name: str
    takes: tuple[tuple[str, str], ...]
    least: int
    says: str
    work: Callable[..., Result]

    @property
    def signature(self) -> str:
        """The arguments in words."""
        return ", ".join(f"{n}" if k < self.least else f"[{n}]" for k, (n, _) in enumerate(self.takes)) or "nothing"


def _length(x: float | Fraction) -> Amount:
    return Amount(x, 1)


def _angle(x: float | Fraction) -> Amount:
    return Amount(x, angle=True)


_EXACT_SINES = {0: Fraction(0), 30: Fraction(1, 2), 90: Fraction(1), 150: Fraction(1, 2), 180: Fraction(0)}


def _sin(a: Amount) -> Amount:
    exact = _EXACT_SINES.get(int(a.value)) if a.value == int(a.value) else None
    return Amount(exact if exact is not None else math.sin(math.radians(float(a.value))))


def _cos(a: Amount) -> Amount:
    return (
        _sin(Amount(90 - a.value, angle=True)) if 0 <= a.value <= 90 else Amount(math.cos(math.radians(float(a.value))))
    )


def _tan(a: Amount) -> Amount:
    if abs(float(a.value)) % 180 == 90:
        raise BadInput("the tangent of a right angle has no value")
    return Amount(Fraction(1) if a.value == 45 else math.tan(math.radians(float(a.value))))


def _arc(work: Callable[[float], float]) -> Callable[[Amount], Amount]:
    def inner(a: Amount) -> Amount:
        try:
            return _angle(math.degrees(work(float(a.value))))
        except ValueError:
            raise BadInput("there is no such angle: a sine or cosine lies between -1 and 1") from None

    return inner


def _sqrt(a: Amount) -> Amount:
    if a.value < 0 or a.power % 2 or a.mass % 2 or a.angle:
        raise BadInput("that has no square root")
    root: Fraction | float = math.sqrt(float(a.value))
    if isinstance(a.value, Fraction):
        n, d = math.isqrt(a.value.numerator), math.isqrt(a.value.denominator)
        if n * n == a.value.numerator and d * d == a.value.denominator:
            root = Fraction(n, d)
    return Amount(root, a.power // 2, a.mass // 2)


def _same(name: str, pick: Callable[..., float | Fraction]) -> Callable[..., Amount]:
    def inner(*given: Amount) -> Amount:
        if len({a.dims for a in given}) > 1:
            raise BadInput(f"{name}: all must measure the same")
        return Amount(pick(*[a.value for a in given]), *given[0].dims)

    return inner


def _round_to(a: Amount, places: Amount = Amount(Fraction(0))) -> Amount:
    return Amount(Fraction(round(Fraction(a.value), int(places.value))), *a.dims)


def _ring(d: Amount, n: Amount, start: Amount = Amount(Fraction(0), angle=True)) -> list[tuple[float, float]]:
    count = int(n.value)
    if n.value != count or not 1 <= count <= 360:
        raise BadInput("pcd: the number of holes is a whole number up to 360")
    r = float(d.value) / 2
    angles = [math.radians(float(start.value) + 360 * k / count) for k in range(count)]
    return [(r * math.cos(a), r * math.sin(a)) for a in angles]


def _chord(d: Amount, n: Amount) -> Amount:
    turn = float(n.value) if n.angle else 360 / float(n.value)
    return _length(float(d.value) * math.sin(math.radians(turn / 2)))


def _sagitta(r: Amount, c: Amount) -> Amount:
    rest = float(r.value) ** 2 - float(c.value) ** 2 / 4
    if rest < 0:
        raise BadInput("sagitta: the chord is longer than the diameter")
    return _length(float(r.value) - math.sqrt(rest))


def _corners(flats: Amount, sides: Amount = Amount(Fraction(6))) -> Amount:
    return _length(float(flats.value) / math.cos(math.pi / float(sides.value)))


L, A, N, V, ANY = "length", "angle", "number", "volume", "any"
_LIST: tuple[Formula, ...] = (
    Formula("sin", (("angle", A),), 1, "sine", _sin),
    Formula("cos", (("angle", A),), 1, "cosine", _cos),
    Formula("tan", (("angle", A),), 1, "tangent", _tan),
    Formula("asin", (("number", N),), 1, "angle whose sine is", _arc(math.asin)),
    Formula("acos", (("number", N),), 1, "angle whose cosine is", _arc(math.acos)),
    Formula("atan", (("number", N),), 1, "angle whose tangent is", _arc(math.atan)),
    Formula("sqrt", (("number", ANY),), 1, "square root", _sqrt),
    Formula("abs", (("number", ANY),), 1, "size", _same("abs", abs)),
    Formula("round", (("number", ANY), ("places", N)), 1, "rounding", _round_to),
    Formula("min", tuple((f"value {k}", ANY) for k in range(1, 9)), 1, "smallest", _same("min", min)),
    Formula("max", tuple((f"value {k}", ANY) for k in range(1, 9)), 1, "largest", _same("max", max)),
    Formula(
        "hyp",
        (("side", L), ("side", L)),
        2,
        "long side of a right triangle",
        lambda a, b: _sqrt(Amount(a.value**2 + b.value**2, 2)),
    ),
    Formula("pcd", (("diameter", L), ("holes", N), ("start angle", A)), 2, "points on a pitch circle", _ring),
    Formula("chord", (("diameter", L), ("holes or angle", ANY)), 2, "chord", _chord),
    Formula("sagitta", (("radius", L), ("chord", L)), 2, "height of the arc", _sagitta),
    Formula(
        "arc",
        (("radius", L), ("angle", A)),
        2,
        "length of the arc",
        lambda r, a: _length(math.radians(float(a.value)) * float(r.value)),
    ),
    Formula("comp", (("angle", A),), 1, "complement", lambda a: _angle(90 - a.value)),
    Formula("supp", (("angle", A),), 1, "supplement", lambda a: _angle(180 - a.value)),
    Formula(
        "leg",
        (("leg", L), ("angle", A)),
        2,
        "other leg of the chamfer",
        lambda s, a: Amount(s.value * _tan(a).value, 1),
    ),
    Formula("rim", (("hole", L), ("leg", L)), 2, "rim, hole + 2 × leg,", lambda d, s: _length(d.value + 2 * s.value)),
    Formula(
        "slot",
        (("centres", L), ("width", L)),
        2,
        "length over all, centres + width,",
        lambda c, w: _length(c.value + w.value),
    ),
    Formula(
        "centres",
        (("length over all", L), ("width", L)),
        2,
        "centres, over all − width,",
        lambda o, w: _length(o.value - w.value),
    ),
    Formula("pitch", (("gap", L), ("width", L)), 2, "pitch, gap + width,", lambda g, w: _length(g.value + w.value)),
    Formula(
        "span",
        (("number", N), ("pitch", L)),
        2,
        "first to last, (n − 1) × pitch,",
        lambda n, p: _length((n.value - 1) * p.value),
    ),
    Formula("middle", (("limit", ANY), ("limit", ANY)), 2, "middle", _same("middle", lambda a, b: (a + b) / 2)),
    Formula(
        "keyaxis",
        (("diameter", L), ("depth", L)),
        2,
        "bottom from the axis, ⌀ ÷ 2 − depth,",
        lambda d, t: _length(d.value / 2 - t.value),
    ),
    Formula("corners", (("across flats", L), ("sides", N)), 1, "across corners", _corners),
    Formula(
        "box",
        (("length", L), ("width", L), ("height", L)),
        3,
        "volume of a block",
        lambda a, b, c: Amount(a.value * b.value * c.value, 3),
    ),
    Formula(
        "cyl",
        (("diameter", L), ("length", L)),
        2,
        "volume of a cylinder",
        lambda d, h: Amount(math.pi * float(d.value) ** 2 / 4 * float(h.value), 3),
    ),
    Formula("mass", (("volume", V), ("density", N)), 2, "mass", lambda v, r: Amount(v.value * r.value / 1000, mass=1)),
)
#: All formulas by name.
FORMULAS: dict[str, Formula] = {f.name: f for f in _LIST}
