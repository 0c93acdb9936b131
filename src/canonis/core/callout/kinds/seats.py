"""Seats and rims of holes: `⌴⌀11 ↧6.5`, `SF ⌀18`, `⌵⌀16 × 90°`, `RIM 0.5 × 45°`, each on the near, the far or both sides."""

from collections.abc import Iterator
from itertools import pairwise
from typing import Any

from canonis.core.callout.callout import Callout, Kind, enter
from canonis.core.callout.part import Part
from canonis.core.callout.pen import Pen
from canonis.core.callout.speech import Speech
from canonis.core.callout.values import Angle, Item, Misread, Numbers, Value

__all__ = [
    "GRAMMAR",
    "ITEMS",
    "LETTERS",
    "OFFERS",
    "SEAT",
    "SEATED",
    "SEATS",
    "SEAT_FLAGS",
    "Seats",
    "check_seats",
    "say_seats",
    "write_seats",
]

ITEMS = ("seat_alone",)
GRAMMAR = r"""
seat_alone: cut_seat+ rim_seat*
?seat: cut_seat | rim_seat
?rim_seat: RIM value TIMES angle_value side?         -> seat_rim
     | RIM R value side?                             -> round_rim
?cut_seat: CBORE DIA? value DIA? seat_depth side?    -> counterbore
     | SPOTFACE DIA? value DIA? seat_depth? side?         -> spotface
     | CSK DIA? value DIA? TIMES angle_value side?        -> countersink
     | CSK angle_value (TIMES | TO) DIA value side?        -> countersink
     | CSK angle_value (TIMES | TO) value DIA? side?       -> countersink
side: FAR | NEAR | BOTH
seat_depth: DEPTH value | TIMES value (DEEP | DEPTH)? | value (DEEP | DEPTH)

CBORE.4: /⌴|counter\s*bored?|c['\/ ]?bored?/i
CSK.4: /⌵|counter\s*sunk|counter\s*sink|c['\/ ]?sink|csk/i
SPOTFACE.4: /spot\s*faced?|S\.F\.|SF\b|SF(?=\s*[⌀\d])/i
RIM.4: /rim/i
FAR.3: /far\s+side/i
NEAR.3: /near\s+side/i
BOTH.3: /both\s+(?:sides|ends|edges|faces)|each\s+(?:side|end|edge|face)/i
"""
OFFERS: dict[str, tuple[tuple[str, str], ...]] = {
    "CBORE": (("⌴⌀", "counterbore"),), "CSK": (("⌵⌀", "countersink"),), "SPOTFACE": (("SF ⌀", "spot face"),),
    "RIM": (("RIM", "rim"),), "FAR": (("FAR SIDE", "on the far side"),), "BOTH": (("BOTH SIDES", "on both sides"),),
}  # fmt: skip
#: Of several seats of one sort on a side the widest has no letter, the next one is b, then c.
LETTERS = ("", "-b", "-c")
_SIDES = (("", ""), ("-far", " FAR SIDE"))
_SIZES = {
    "counterbore": ("diameter", "depth", "spot"),
    "countersink": ("diameter", "angle"),
    "rim": ("size", "angle", "radius"),
}
#: The parts of all seats.
SEATS = frozenset(
    f"{kind}{letter}{far}-{name}"
    for kind, names in _SIZES.items()
    for name in names
    for letter in LETTERS
    for far, *_ in _SIDES
)
#: Those of them that have no size.
SEAT_FLAGS = frozenset(name for name in SEATS if name.endswith("-spot"))
#: Sizes of a seat that do not stand without another.
SEATED = tuple(
    (f"{kind}{letter}{far}-{name}", f"{kind}{letter}{far}-{first}")
    for kind, name, first in (
        ("counterbore", "depth", "diameter"),
        ("counterbore", "spot", "depth"),
        ("countersink", "angle", "diameter"),
        ("countersink", "diameter", "angle"),
        ("rim", "angle", "size"),
        ("rim", "size", "angle"),
    )
    for letter in LETTERS
    for far, *_ in _SIDES
) + tuple(
    (f"{kind}{inner}{far}-{name}", f"{kind}{outer}{far}-{name}")
    for kind, names in _SIZES.items()
    for name in (names if kind == "rim" else names[:1])
    for outer, inner in pairwise(LETTERS)
    for far, *_ in _SIDES
)


class Seats(Numbers):
    """Reads seats."""

    def seat_depth(self, items: list[Any]) -> tuple[str, Value]:
        return ("seat-depth", self._first(items))

    def side(self, items: list[Any]) -> str:
        return {"FAR": "far", "BOTH": "both"}.get(items[0].type, "near")

    def _seat(self, items: list[Any], kind: str, sizes: list[tuple[str, Any]]) -> list[tuple[str, Any]]:
        side = next((i for i in items if isinstance(i, str) and i in ("far", "both", "near")), "near")
        ends = {"near": ("",), "far": ("-far",), "both": ("", "-far")}[side]
        return [(f"{kind}{end}-{name}", value) for end in ends for name, value in sizes]

    def counterbore(self, items: list[Any]) -> list[tuple[str, Any]]:
        depth = next(i[1] for i in items if isinstance(i, tuple))
        return self._seat(items, "counterbore", [("diameter", self._first(items)), ("depth", depth)])

    def spotface(self, items: list[Any]) -> list[tuple[str, Any]]:
        depth = [("depth", i[1]) for i in items if isinstance(i, tuple)]
        # Only with a depth could it be taken for a counterbore.
        spot = [("spot", None)] if depth else []
        return self._seat(items, "counterbore", [("diameter", self._first(items)), *depth, *spot])

    def countersink(self, items: list[Any]) -> list[tuple[str, Any]]:
        values = self._values(items)
        size, angle = sorted(values, key=lambda v: isinstance(v, Angle))
        return self._seat(items, "countersink", [("diameter", size), ("angle", angle)])

    def seat_rim(self, items: list[Any]) -> list[tuple[str, Any]]:
        size, angle = self._values(items)
        return self._seat(items, "rim", [("size", size), ("angle", angle)])

    def round_rim(self, items: list[Any]) -> list[tuple[str, Any]]:
        return self._seat(items, "rim", [("radius", self._first(items))])

    def seat_alone(self, items: list[Any]) -> Item:
        return Item("seat", tuple(self._gathered(items)))

    def _gathered(self, items: list[Any]) -> list[tuple[str, Any]]:
        parts: list[tuple[str, Any]] = []
        for item in items:
            if isinstance(item, list):
                parts += item
            elif isinstance(item, tuple):
                parts.append(item)
        return _stacked(parts)


def _stacked(parts: list[tuple[str, Any]]) -> list[tuple[str, Any]]:
    """Seats of one sort that stand in one another get letters: counterbores by their width, the widest first, rims and
    countersinks in the order in which they are said, from the mouth inwards."""
    out = list(parts)
    for far, *_ in _SIDES:
        for kind, first, names in (
            ("counterbore", "diameter", ("diameter", "depth", "spot")),
            ("countersink", "diameter", ("diameter", "angle")),
            ("rim", "size", ("size", "angle")),
            ("rim", "radius", ("radius",)),
        ):
            at = [k for k, (name, _) in enumerate(parts) if name == f"{kind}{far}-{first}"]
            if len(at) < 2:
                continue
            if len(at) > len(LETTERS):
                raise Misread(f"a hole has at most {len(LETTERS)} {kind}s on a side")
            if kind == "counterbore":
                if len({parts[k][1].nominal for k in at}) < len(at):
                    raise Misread("two counterbores of one width on one side")
                at.sort(key=lambda k: -parts[k][1].nominal)
            for letter, k in zip(LETTERS[1:], at[1:], strict=False):
                # The sizes of a seat are read one after the other.
                for n, name in enumerate(names):
                    if k + n < len(parts) and parts[k + n][0] == f"{kind}{far}-{name}":
                        out[k + n] = (f"{kind}{letter}{far}-{name}", parts[k + n][1])
    return out


def _each(c: Callout) -> Iterator[tuple[str, dict[str, Part | None], str]]:
    """What seats there are, those of the near side first: sort, sizes, and the side as it is written."""
    for far, written in _SIDES:
        for kind in _SIZES:
            for letter in LETTERS:
                parts = {name: c.part(f"{kind}{letter}{far}-{name}") for name in _SIZES[kind]}
                if any(parts.values()):
                    yield kind, parts, written


def write_seats(c: Callout, pen: Pen) -> list[str]:
    """A line for each seat."""
    out = []
    for kind, parts, side in _each(c):
        if kind == "counterbore":
            bored = parts["depth"] and not parts["spot"]
            sign = ("⌴" if pen.notation == "symbols" else "CBORE ") if bored else "SF "
            deep = f" {pen.deep(parts['depth'])}" if parts["depth"] else ""
            out.append(f"{sign}{pen.across(parts['diameter'])}{deep}{side}")
        elif kind == "countersink":
            sign = "⌵" if pen.notation == "symbols" else "CSK "
            out.append(f"{sign}{pen.across(parts['diameter'])} × {pen.value(parts['angle'])}{side}")
        else:
            if parts["radius"]:
                out.append(f"RIM R{pen.value(parts['radius'])}{side}")
            if parts["size"]:
                out.append(f"RIM {pen.value(parts['size'])} × {pen.value(parts['angle'])}{side}")
    return out


def say_seats(c: Callout, speech: Speech) -> str:
    """The seats in words, each after a comma."""
    out = []
    for kind, parts, side in _each(c):
        where = " on the far side" if side else ""
        if kind == "counterbore":
            deep = f" deep {speech.size(parts['depth'])}" if parts["depth"] else ""
            out.append(
                f"{'spot-faced' if parts['spot'] else 'counterbored'} ⌀{speech.size(parts['diameter'])}{deep}{where}"
            )
        elif kind == "countersink":
            out.append(f"countersunk ⌀{speech.size(parts['diameter'])} at {speech.size(parts['angle'])}{where}")
        else:
            if parts["size"]:
                out.append(f"rim broken {speech.size(parts['size'])}{where}")
            if parts["radius"]:
                out.append(f"rim rounded {speech.size(parts['radius'])}{where}")
    return "".join(f", {s}" for s in out)


def check_seats(c: Callout) -> str | None:
    """What is wrong with seats that stand in one another; None for nothing."""
    for far, _ in _SIDES:
        widths = [c.size(f"counterbore{letter}{far}-diameter") for letter in LETTERS]
        wide = [w for w in widths if w is not None]
        if any(b >= a for a, b in pairwise(wide)):
            return "of counterbores in one another each is narrower than the one before"
    return None


def _write(c: Callout, pen: Pen) -> list[str]:
    # Rims last: alone before another seat one would be a chamfer.
    return [" ".join(sorted(write_seats(c, pen), key=lambda line: line.startswith("RIM")))]


SEAT = enter(
    Kind(
        "seat",
        SEATS,
        _write,
        lambda c, speech: f"{speech.first}hole{speech.s} of a size not said here{say_seats(c, speech)}",
        needs=(tuple(sorted(name for name in SEATS if not name.startswith("rim"))),),
        together=SEATED,
        check=check_seats,
        flags=SEAT_FLAGS,
        carried_by=("hole",),
    )
)
