"""Reading the text of a chain strip: distances between named levels, and equations between them."""

import re
from dataclasses import dataclass
from fractions import Fraction

from canonis.core.faults import BadInput
from canonis.core.quantity import Unit, fraction_of, to_mm

__all__ = ["Distance", "Equation", "Strip", "read_strip"]

#: A strip with more levels than this is not one a person wrote.
_MOST = 2000


@dataclass(frozen=True)
class Distance:
    """From level `a` to level `b`: exact mm, None where it is asked for; ± mm, None where it has no tolerance."""

    a: str
    b: str
    size: Fraction | None
    tolerance: Fraction | None = None
    typed: str = ""
    number: str = ""

    @property
    def name(self) -> str:
        """How the distance is called: A-B."""
        return f"{self.a}-{self.b}"


@dataclass(frozen=True)
class Equation:
    """Σ times · level = 0, with the words that say it."""

    words: str
    terms: tuple[tuple[str, Fraction], ...]


@dataclass(frozen=True)
class Strip:
    """A strip as written: names in order of appearance, distances, equations."""

    names: tuple[str, ...]
    distances: tuple[Distance, ...]
    equations: tuple[Equation, ...]

    def member(self, k: int) -> str:
        """The name of a member: distances first, then equations."""
        n = len(self.distances)
        return self.distances[k].name if k < n else self.equations[k - n].words


_LEVEL = r"[^\W\d][\w']*"
#: Names may have spaces where what stands around them leaves no doubt: left end -12- bore axis.
_LEVELS = rf"{_LEVEL}(?:\s+{_LEVEL})*"
_SIZE = r"\?|#[\w.]+|[\d.,/ ]+?(?:\s*(?:mm|in|\"))?(?:\s*(?:±|\+/-)\s*[\d.,/]+)?"
_LINK = re.compile(rf"\s*-\s*({_SIZE})\s*-\s*({_LEVELS})")
_RATIO = re.compile(
    rf"\s*({_LEVELS})\s*-\s*({_LEVELS})\s*=\s*(?:(half|double|twice|[\d.]+(?:/\d+)?)\s*[*x×]?\s*(?:of\s+)?({_LEVELS})|({_LEVEL}))"
    rf"\s*-\s*({_LEVELS})\s*$",
    re.I,
)
_ABOUT = re.compile(
    rf"\s*(?:sym(?:metric)?\s+)?(?:({_LEVELS})\s*=\s*({_LEVELS}?)|({_LEVEL})\s+({_LEVEL}))\s+about\s+({_LEVELS})\s*$",
    re.I,
)
_EQUAL = re.compile(rf"\s*equal\s+({_LEVEL}(?:[\s,]+{_LEVEL})+)\s*$", re.I)


def _one(name: str) -> str:
    """A name of a level, however its words are spaced."""
    return " ".join(name.split())


def _size(
    text: str, unit: Unit, lookup: dict[str, tuple[Fraction, Fraction | None]]
) -> tuple[Fraction | None, Fraction | None]:
    if text == "?":
        return None, None
    if text.startswith("#"):
        if text[1:] not in lookup:
            raise BadInput(f"line {text} is not a length of the list")
        return lookup[text[1:]]
    bare, _, tolerance = re.sub(r"\+/-", "±", text).partition("±")
    own = unit
    marked = re.match(r"(.*?)\s*(mm|in|\")\s*$", bare)
    if marked:
        bare, own = marked.group(1), Unit.MM if marked.group(2) == "mm" else Unit.INCH
    size = to_mm(fraction_of(bare), own)
    return size, to_mm(fraction_of(tolerance), own) if tolerance.strip() else None


def _equation(strand: str) -> tuple[list[str], Equation] | None:
    one = Fraction(1)
    found = _ABOUT.match(strand)
    if found:
        a, b, middle = (_one(n) for n in found.groups() if n)
        return [a, b, middle], Equation(f"{a} = {b} about {middle}", ((a, one), (b, one), (middle, Fraction(-2))))
    found = _RATIO.match(strand)
    if found:
        a, b, word, scaled, plain, d = (_one(g or "") for g in found.groups())
        c = scaled or plain
        times = {"half": Fraction(1, 2), "double": Fraction(2), "twice": Fraction(2), "": one}.get(word.lower())
        try:
            times = fraction_of(word) if times is None else times
        except (ValueError, ZeroDivisionError):
            raise BadInput(f"“{word}” is no number of times") from None
        words = f"{a}-{b} = {word + ' ' if word else ''}{c}-{d}"
        return [a, b, c, d], Equation(words, ((b, one), (a, -one), (d, -times), (c, times)))
    return None


def read_strip(text: str, unit: Unit, lookup: dict[str, tuple[Fraction, Fraction | None]]) -> Strip:
    """Read a strip; strands are parted by semicolons.

    Raises BadInput with the reason when a strand cannot be read.
    """
    names: list[str] = []
    distances: list[Distance] = []
    equations: list[Equation] = []
    for strand in text.split(";"):
        if not strand.strip():
            continue
        spread = _EQUAL.match(strand)
        if spread:
            row = re.split(r"[\s,]+", spread.group(1).strip())
            if len(row) < 3:
                raise BadInput(f"“{strand.strip()}” needs three levels or more to be equally spaced")
            for a, b, c in zip(row, row[1:], row[2:], strict=False):
                one = Fraction(1)
                equations.append(Equation(f"{a}-{b} = {b}-{c}", ((a, one), (c, one), (b, Fraction(-2)))))
            names += row
            continue
        made = _equation(strand)
        if made is not None:
            names += made[0]
            equations.append(made[1])
            continue
        head = re.match(rf"\s*({_LEVELS})", strand)
        if not head:
            raise BadInput(f"chain “{strand.strip()[:60]}” must begin with the name of a level")
        here, at = _one(head.group(1)), head.end()
        names.append(here)
        while strand[at:].strip():
            link = _LINK.match(strand, at)
            if not link:
                raise BadInput(f"chain “{strand.strip()[:60]}” cannot be read at “{strand[at:].strip()[:12]}”")
            typed = link.group(1).strip()
            try:
                size, tolerance = _size(typed, unit, lookup)
            except (ValueError, ZeroDivisionError):
                raise BadInput(f"chain “{strand.strip()[:60]}”: “{typed}” is not a distance") from None
            there = _one(link.group(2))
            distances.append(Distance(here, there, size, tolerance, typed, typed[1:] if typed.startswith("#") else ""))
            here, at = there, link.end()
            names.append(here)
    unique = tuple(dict.fromkeys(names))
    if len(unique) > _MOST:
        raise BadInput(f"a chain may have {_MOST} levels; split it")
    return Strip(unique, tuple(distances), tuple(equations))
