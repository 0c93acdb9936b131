"""House rules of a job: where practitioners disagree, each with its choices; the first is the default."""

from dataclasses import dataclass
from typing import Any

from canonis.core.faults import BadInput

__all__ = ["CHOICES", "Choice", "house_rules"]


@dataclass(frozen=True)
class Choice:
    """One rule: its key in a specification's header, its question, its options with their meaning."""

    key: str
    title: str
    options: tuple[tuple[str, str], ...]

    @property
    def default(self) -> str:
        """What holds unless the job says otherwise."""
        return self.options[0][0]

    def as_json(self) -> dict[str, Any]:
        """The choice as plain data."""
        return {
            "key": self.key,
            "title": self.title,
            "options": [{"value": v, "says": s} for v, s in self.options],
        }


CHOICES: tuple[Choice, ...] = (
    Choice("limits", "Value to model from limits or a tolerance",
           (("middle", "the middle"), ("nominal", "nominal as written"), ("upper", "the upper limit"), ("lower", "the lower limit"))),
    Choice("projection", "Projection",
           (("style", "first in metric, third in inch style"), ("first", "first angle"), ("third", "third angle"))),
    Choice("locations", "Locations", (("ordinate", "ordinate from one datum"), ("baseline", "baseline"), ("chain", "chain"), ("symmetric", "across the lines of symmetry, else from the datum"))),
    Choice("datum", "Datum",
           (("auto", "lower left front corner, or the axis"), ("left-front-bottom", "lower left front corner"),
            ("right-front-bottom", "lower right front corner"), ("left-back-bottom", "lower left back corner"))),
    Choice("hole-table", "Holes in no pattern",
           (("from-16", "in a table, from 16 on"), ("from-8", "in a table, from 8 on"), ("never", "by ordinates, always"))),
    Choice("repeats", "Repeats", (("count", "4×"), ("typ", "TYP (has no count to check)"))),
    Choice("hidden", "Hidden lines",
           (("auto", "off where they are too many"), ("all", "all on"), ("none", "all off"))),
    Choice("mass-check", "Mass check", (("each", "after every step"), ("end", "at the end"))),
    Choice("thru", "THRU means",
           (("wall", "through its wall, proven at the far face"), ("all", "through all"), ("next", "to the next face"))),
    Choice("threads", "Threads are",
           (("tap-drill", "noted on a plain hole of tap drill size"), ("nominal", "noted on a plain hole of nominal size"),
            ("modelled", "modelled as a helix"))),
    Choice("pictorial", "Sizes on a pictorial", (("none", "not dimensioned there"), ("reference", "true overall sizes under it, in parentheses"))),
    Choice("datums", "Two datums in the source", (("kept", "kept and named"), ("one", "re-based to one, worked out"))),
    Choice("unstated", "Unstated sizes", (("open", "left open and asked"), ("estimated", "taken from the model and marked EST"))),
    Choice("notation", "Hole notes", (("symbols", "symbols ⌀ ⌴ ⌵ ↧"), ("words", "words DIA, CBORE, CSK, DEEP"))),
    Choice("final-check", "Final check", (("all", "statements, mass and a look at the page"), ("one", "any one of them"),
                                          ("ticked", "all three, and every line of the source ticked"))),
)  # fmt: skip


def house_rules(header: dict[str, Any]) -> dict[str, str]:
    """The value of every rule, from a header that names some.

    Raises BadInput for a value that is no option of its rule.
    """
    out = {}
    for choice in CHOICES:
        value = str(header.get(choice.key) or choice.default).strip().lower()
        known = [v for v, _ in choice.options]
        if choice.key == "datum" and value not in known:
            known.append(value)  # any corner, a point or an axis; the draft checks it
        if value not in known:
            raise BadInput(f"{choice.key.capitalize()} “{value}” is not {', '.join(known[:-1])} or {known[-1]}.")
        out[choice.key] = value
    return out
