"""Parts of callouts from sizes of the model, as a sheet writes them: what is stated is what stands there, not what was
measured."""

from dataclasses import dataclass
from fractions import Fraction
from functools import lru_cache

from canonis.core.callout.callout import Callout
from canonis.core.callout.part import Part
from canonis.core.callout.threads import read_thread
from canonis.core.quantity import Unit, fraction_of, to_mm, write_angle, write_length

__all__ = ["Measured", "a_length", "flag", "plain", "turn"]


@dataclass(frozen=True)
class Measured:
    """Makes parts for a sheet of one unit."""

    unit: Unit

    def length(self, name: str, mm: float) -> Part:
        """A length of the model, mm, to the places of the sheet."""
        text = write_length(mm, self.unit)
        decimals = len(text.partition(".")[2])
        return Part(name=name, nominal=to_mm(fraction_of(text), self.unit), typed=text, decimals=decimals)

    def thread(self, designation: str, *, outside: bool = False) -> tuple[Part, ...]:
        """A thread by its designation, with the sizes that are looked up for it; no drill belongs to one that is `outside`.

        Raises BadInput for one that no table has.
        """
        known = read_thread(designation)
        sizes = {"major": known.major, "pitch": known.pitch}
        if known.starts > 1:
            sizes["lead"] = known.pitch * known.starts
        if known.drill is not None and not outside:
            sizes["tap-drill"] = known.drill
        unit = Unit.MM if self.unit is not Unit.MM else None
        return (
            Part(name="thread", designation=designation),
            *(Part(name=n, nominal=v, typed=designation, table=True, unit=unit) for n, v in sizes.items()),
        )


@lru_cache(maxsize=4096)
def a_length(mm: float, unit: Unit) -> Callout:
    """A length of the model, mm, to be stated on a sheet of a unit."""
    return Callout(kind="length", parts=(Measured(unit).length("length", mm),))


def turn(name: str, degrees: float) -> Part:
    """An angle, to the places of a sheet."""
    text = write_angle(degrees)
    number = text.removesuffix("°")
    decimals = len(number.partition(".")[2])
    return Part(name=name, nominal=fraction_of(number), angle=True, typed=text, decimals=decimals)


def plain(name: str, number: int) -> Part:
    """A number that is no size: teeth, sides."""
    return Part(name=name, nominal=Fraction(number), plain=True, typed=str(number), decimals=0)


def flag(name: str, typed: str = "") -> Part:
    """A part without a size: that it is there says all."""
    return Part(name=name, typed=typed)
