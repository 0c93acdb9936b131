"""From the parse tree of a line of shorthand to its parts as typed."""

import re
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from typing import Any

from lark import Token

from canonis.core.faults import BadInput
from canonis.core.quantity.units import Unit
from canonis.core.quantity.written import fraction_of
from canonis.core.source.screws import cap_seat, clearance, flat_seat
from canonis.core.source.threads import read_thread
from canonis.core.source.values import Angle, Item, Misread, Numbers, Value

__all__ = ["Reader"]


def _table(mm: Fraction, typed: str) -> Value:
    return Value(mm, typed, None, unit=Unit.MM, table=True)


def _asked(table: Callable[..., Any], *arguments: Any) -> Any:
    """A look-up whose refusal becomes the line's error."""
    try:
        return table(*arguments)
    except BadInput as fault:
        raise Misread(str(fault)) from None


_SIDES = {"hex": 6, "oct": 8, "pen": 5, "tri": 3, "squ": 4, "sq": 4, "□": 4}


def _stacked(parts: list[tuple[str, Any]]) -> list[tuple[str, Any]]:
    """Counterbores that stand in one another, told apart by their width: the widest has no letter, the next one is b."""
    out = list(parts)
    for far in ("", "-far"):
        wide, deep = (f"counterbore{far}-{n}" for n in ("diameter", "depth"))
        widths = [k for k, (name, _) in enumerate(parts) if name == wide]
        if len(widths) not in (2, 3) or [name for name, _ in parts].count(deep) != len(widths):
            continue
        order = sorted(widths, key=lambda k: -parts[k][1].nominal)
        if len({parts[k][1].nominal for k in widths}) < len(widths):
            continue
        for letter, k in zip("bc", order[1:], strict=False):
            # A counterbore is read as its diameter and then its depth.
            for place, name in ((k, "diameter"), (k + 1, "depth")):
                out[place] = (f"counterbore-{letter}{far}-{name}", parts[place][1])
    return out


class Reader(Numbers):
    """Turns each rule of the grammar into values, parts and items; raises Misread for nonsense."""

    # -- plain sizes -----------------------------------------------------------------------------

    def length(self, items: list[Any]) -> Item:
        return Item("length", (("length", self._first(items)),))

    def diameter(self, items: list[Any]) -> Item:
        return Item("diameter", (("diameter", items[0]),))

    def pitch_circle(self, items: list[Any]) -> Item:
        return Item("pattern", (("pitch-circle", self._first(items)),))

    def sphere_diameter(self, items: list[Any]) -> Item:
        return Item("diameter", (("diameter", self._first(items)), ("sphere", None)))

    def sphere_radius(self, items: list[Any]) -> Item:
        return Item("radius", (("radius", self._first(items)), ("sphere", None)))

    def radius(self, items: list[Any]) -> Item:
        values = self._values(items)
        return Item("radius", (("radius", values[0]),) if values else (("full-radius", None),))

    def default_round(self, items: list[Any]) -> Item:
        return Item("round", (("radius", self._first(items)),))

    def default_edge(self, items: list[Any]) -> Item:
        values = self._values(items)
        angle = values[1] if len(values) > 1 else Angle(Fraction(45), "45°", 0)
        return Item("chamfer", (("leg", values[0]), ("angle", angle), ("unless-noted", None)))

    def angle(self, items: list[Any]) -> Item:
        return Item("angle", (("angle", items[0]),))

    def chamfer(self, items: list[Any]) -> Item:
        values = self._values(items)
        if len(values) == 1:
            return Item("chamfer", (("leg", values[0]), ("angle", Angle(Fraction(45), "45°", 0))))
        second = "angle" if isinstance(values[1], Angle) else "leg-b"
        return Item("chamfer", (("leg", values[0]), (second, values[1])), angle_said=second == "angle")

    def chamfer_from_angle(self, items: list[Any]) -> Item:
        angle, leg = self._values(items)
        return Item("chamfer", (("leg", leg), ("angle", angle)), angle_said=True)

    def chamfer_after_angle(self, items: list[Any]) -> Item:
        return Item("chamfer", (("angle", items[0]),), angle_first=True)

    def rim(self, items: list[Any]) -> Item:
        leg, angle = self._values(items)
        return Item("chamfer", (("leg", leg), ("angle", angle)))

    def wall(self, items: list[Any]) -> Item:
        return Item("wall", (("thickness", self._first(items)),))

    def draft(self, items: list[Any]) -> Item:
        return Item("draft", (("angle", self._first(items)),), note="taper" if self._has(items, "TAPER") else "")

    def taper_ratio(self, items: list[Any]) -> Item:
        said = next(str(t) for t in items if isinstance(t, Token) and t.type.startswith("RATIO"))
        rise, run = (fraction_of(t) for t in re.split(r"\s*(?::|in|to)\s*", said, flags=re.I))
        if not run:
            raise Misread("a taper of 1:0 cannot be made")
        ratio = Value(rise / run, f"{rise}:{run}", None, plain=True)
        return Item("draft", (("ratio", ratio),), note="taper")

    def polygon(self, items: list[Any]) -> Item:
        word = next((str(i).lower() for i in items if isinstance(i, Token) and i.type in ("POLYGON", "SQUARE")), "")
        sides = next((n for k, n in _SIDES.items() if word.startswith(k)), None)
        name = "across-corners" if self._has(items, "AC") else "across-flats"
        parts: list[tuple[str, Any]] = [(name, self._first(items))]
        if sides:
            parts.append(("sides", Value(Fraction(sides), str(sides), 0, plain=True)))
        return Item("polygon", tuple(parts))

    def _sided(self, items: list[Any], name: str) -> Item:
        word = next(str(i).lower() for i in items if isinstance(i, Token) and i.type in ("POLYGON", "SQUARE"))
        sides = next((n for k, n in _SIDES.items() if word.startswith(k)), 6)
        count = Value(Fraction(sides), str(sides), 0, plain=True)
        return Item("polygon", ((name, self._first(items)), ("sides", count)))

    def inscribed(self, items: list[Any]) -> Item:
        # In a circle stand the corners, about one lie the flats.
        return self._sided(items, "across-corners")

    def circumscribed(self, items: list[Any]) -> Item:
        return self._sided(items, "across-flats")

    def spline_size(self, items: list[Any]) -> tuple[str, Value]:
        kind = "minor" if self._has(items, "ROOT") else "major" if self._has(items, "OUTSIDE") else ""
        return (kind, self._first(items))

    def spline_said(self, items: list[Any]) -> Item:
        teeth = self._first(items)
        sizes = [i for i in items if isinstance(i, tuple)]
        low, high = sorted((v for _, v in sizes), key=lambda v: v.nominal)
        named: dict[str, Value] = dict(sizes)
        if ("minor" in named and named["minor"] is not low) or ("major" in named and named["major"] is not high):
            raise Misread("the root of a spline is smaller than its outside")
        return self.spline([teeth, low, high])

    def spline(self, items: list[Any]) -> Item:
        teeth, minor, major = self._values(items)
        if teeth.nominal.denominator != 1:
            raise Misread(f"“{teeth.typed}” is no number of teeth")
        return Item("spline", (("teeth", replace(teeth, plain=True)), ("minor", minor), ("major", major)))

    def pattern(self, items: list[Any]) -> Item:
        return Item("pattern", (("pitch", self._first(items)),))

    def grid(self, items: list[Any]) -> Item:
        counts = [fraction_of(str(t)) for t in items if isinstance(t, Token) and t.type == "NUMBER"]
        if any(c.denominator != 1 or c < 1 for c in counts):
            raise Misread("a grid needs two whole numbers, such as GRID 3 x 4")
        parts: list[tuple[str, Any]] = [
            (n, Value(c, str(c), 0, plain=True)) for n, c in zip(("columns", "rows"), counts, strict=True)
        ]
        parts += zip(("pitch", "pitch-b"), self._values(items), strict=False)
        return Item("pattern", tuple(parts))

    # -- holes and threads -----------------------------------------------------------------------

    def through(self, _: list[Any]) -> tuple[str, None]:
        return ("through", None)

    def depth(self, items: list[Any]) -> tuple[str, Value]:
        return ("depth", self._first(items))

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
        return self._seat(items, "counterbore", [("diameter", self._first(items)), *depth])

    def countersink(self, items: list[Any]) -> list[tuple[str, Any]]:
        values = self._values(items)
        size, angle = sorted(values, key=lambda v: isinstance(v, Angle))
        return self._seat(items, "countersink", [("diameter", size), ("angle", angle)])

    def seat_rim(self, items: list[Any]) -> list[tuple[str, Any]]:
        size, angle = self._values(items)
        return self._seat(items, "rim", [("size", size), ("angle", angle)])

    def round_rim(self, items: list[Any]) -> list[tuple[str, Any]]:
        return self._seat(items, "rim", [("radius", self._first(items))])

    def drilled(self, items: list[Any]) -> Value:
        return self._first(items)

    def point(self, items: list[Any]) -> tuple[str, Value]:
        return ("point-angle", self._first(items))

    def flat_bottom(self, _: list[Any]) -> tuple[str, None]:
        return ("flat-bottom", None)

    def _gathered(self, items: list[Any]) -> list[tuple[str, Any]]:
        parts: list[tuple[str, Any]] = []
        for item in items:
            if isinstance(item, list):
                parts += item
            elif isinstance(item, tuple):
                parts.append(item)
        return _stacked(parts)

    def hole(self, items: list[Any]) -> Item:
        return Item("hole", (("diameter", self._first(items)), *self._gathered(items)))

    def seat_first(self, items: list[Any]) -> Item:
        # The seat stands before the hole it belongs to.
        bore = next(i for i in items if isinstance(i, Value))
        ends = [i for i in items if isinstance(i, tuple)]
        seats = self._gathered([i for i in items if isinstance(i, list)])
        return Item("hole", (("diameter", bore), *ends, *seats))

    def drilled_through(self, items: list[Any]) -> Item:
        return Item("hole", (("diameter", self._first(items)), ("through", None)))

    def seat_alone(self, items: list[Any]) -> Item:
        return Item("seat", tuple(self._gathered(items)))

    def screw(self, items: list[Any]) -> str:
        item = items[0]
        return item.typed if isinstance(item, Value) else str(item)

    def thread_name(self, items: list[Any]) -> str:
        return " ".join(str(items[0]).split())

    def _fit(self, items: list[Any]) -> str:
        word = next((str(i).lower() for i in items if isinstance(i, Token) and i.type == "FIT_WORD"), "normal")
        return {"medium": "normal", "free": "loose"}.get(word, word)

    def _screw_hole(self, items: list[Any], seats: list[tuple[str, Any]], what: str) -> Item:
        size, fit = str(items[1]), self._fit(items)
        bore = _table(_asked(clearance, size, fit), f"{size} {fit}")
        ends = [i for i in items if isinstance(i, tuple)] or [("through", None)]
        return Item("hole", (("diameter", bore), *ends, *seats), note=f"{what} {size}, {fit} fit")

    def clearance_hole(self, items: list[Any]) -> Item:
        return self._screw_hole(items, [], "clearance for")

    def clearance_after(self, items: list[Any]) -> Item:
        return self._screw_hole([None, *items], [], "clearance for")

    def cap_hole(self, items: list[Any]) -> Item:
        diameter, depth = _asked(cap_seat, str(items[1]))
        seats = [
            ("counterbore-diameter", _table(diameter, str(items[1]))),
            ("counterbore-depth", _table(depth, str(items[1]))),
        ]
        return self._screw_hole(items, seats, "for a cap screw")

    def flat_hole(self, items: list[Any]) -> Item:
        diameter = _asked(flat_seat, str(items[1]))
        seats = [("countersink-diameter", _table(diameter, str(items[1]))),
                 ("countersink-angle", Angle(Fraction(90), "90°", 0, table=True))]  # fmt: skip
        return self._screw_hole(items, seats, "for a flat head screw")

    def tap_drill(self, items: list[Any]) -> Item:
        thread = _asked(read_thread, str(items[1]))
        if thread.drill is None:
            raise Misread(f"no tap drill is tabled for {thread.designation}; write its diameter")
        ends = self._gathered(items[2:])
        return Item("hole", (("diameter", _table(thread.drill, thread.designation)), *ends),
                    note=f"tap drill for {thread.designation}")  # fmt: skip

    def drill(self, items: list[Any]) -> list[tuple[str, Any]]:
        end = next(i for i in items if isinstance(i, tuple))
        return [("drill-diameter", self._first(items)), self._drill_end(end)]

    def drill_depth(self, items: list[Any]) -> list[tuple[str, Any]]:
        return [self._drill_end(next(i for i in items if isinstance(i, tuple)))]

    def _drill_end(self, end: tuple[str, Any]) -> tuple[str, Any]:
        return ("drill-depth" if end[0] == "depth" else "drill-through", end[1])

    def _thread(self, text: str) -> list[tuple[str, Any]]:
        thread = _asked(read_thread, text)
        parts: list[tuple[str, Any]] = [
            ("thread", text), ("major", _table(thread.major, text)), ("pitch", _table(thread.pitch, text)),
        ]  # fmt: skip
        if thread.starts > 1:
            parts.append(("lead", _table(thread.pitch * thread.starts, text)))
        return parts + ([("tap-drill", _table(thread.drill, text))] if thread.drill is not None else [])

    def thread(self, items: list[Any]) -> Item:
        name = next(i for i in items if isinstance(i, str) and not isinstance(i, Token))
        parts = self._two_depths(self._gathered(items))
        known = self._thread(name)
        if any(n == "drill-diameter" for n, _ in parts):
            known = [p for p in known if p[0] != "tap-drill"]
        return Item("thread", (known[0], *parts, *known[1:]))

    def _two_depths(self, parts: list[tuple[str, Any]]) -> list[tuple[str, Any]]:
        """16/20 deep after a thread: how deep it is cut, then how deep it is drilled."""
        names = [n for n, _ in parts]
        out: list[tuple[str, Any]] = []
        for name, value in parts:
            if name == "depth" and isinstance(value, Value) and value.limits and "drill-depth" not in names:
                low, high = sorted(value.limits)
                for what, size in (("depth", low), ("drill-depth", high)):
                    out.append((what, replace(value, nominal=size, limits=None, typed=str(size))))
            else:
                out.append((name, value))
        return out

    def thread_to(self, items: list[Any]) -> Item:
        name = next(i for i in items if isinstance(i, str) and not isinstance(i, Token))
        return self.thread([name, ("depth", self._first(items))])

    def drilled_thread(self, items: list[Any]) -> Item:
        bore = next(i for i in items if isinstance(i, Value))
        name = next(i for i in items if isinstance(i, str) and not isinstance(i, Token))
        first, *rest = [i for i in items if isinstance(i, tuple)]
        drill = [("drill-diameter", bore), self._drill_end(first)]
        return self.thread([name, *rest, drill])

    def outside_thread(self, items: list[Any]) -> Item:
        known = [p for p in self._thread(str(items[0])) if p[0] != "tap-drill"]
        return Item("thread", (known[0], ("length", self._first(items)), *known[1:]), note="outside")

    # -- slots, keyways, grooves -------------------------------------------------------------------

    def centres(self, items: list[Any]) -> tuple[str, Value]:
        return ("centres", self._first(items))

    def overall(self, items: list[Any]) -> tuple[str, Value]:
        return ("length", self._first(items))

    def slot_rest(self, items: list[Any]) -> Any:
        return items[0]

    def slot(self, items: list[Any]) -> Item:
        return Item("slot", (("width", self._first(items)), *self._gathered(items)))

    def slot_after(self, items: list[Any]) -> Item:
        rest = self._gathered(items)
        if any(n == "centres" for n, _ in rest):
            # 8 SLOT 14 CENTRES: its length is said, so that what stands before is the width.
            return Item("slot", (("width", self._first(items)), *rest))
        # 8 x 28 SLOT: the width stands before, as a count would.
        return Item("slot", (("length", self._first(items)), *rest), note="width before")

    def arc_rest(self, items: list[Any]) -> Any:
        return items[0]

    def arc_radius(self, items: list[Any]) -> tuple[str, Value]:
        return ("radius", self._first(items))

    def sweep(self, items: list[Any]) -> tuple[str, Value]:
        return ("angle", self._first(items))

    def arc_slot(self, items: list[Any]) -> Item:
        return Item("arc-slot", (("width", self._first(items)), *self._gathered(items)))

    def key_size(self, items: list[Any]) -> tuple[str, Value]:
        return ("size", self._first(items))

    def key_depth(self, items: list[Any]) -> tuple[str, Value]:
        return ("depth", self._first(items))

    def key_length(self, items: list[Any]) -> tuple[str, Value]:
        return ("length", self._first(items))

    def key_from_axis(self, items: list[Any]) -> tuple[str, Value]:
        return ("from-axis", self._first(items))

    def key_diameter(self, items: list[Any]) -> tuple[str, Value]:
        wide = self._first(items)
        return ("radius", replace(wide, nominal=wide.nominal / 2, decimals=None))

    def key_radius(self, items: list[Any]) -> tuple[str, Value]:
        return ("radius", self._first(items))

    def keyway(self, items: list[Any]) -> Item:
        parts: list[tuple[str, Any]] = [("width", self._first(items))]
        order = ["depth", "length"]
        for name, value in self._gathered(items):
            if name == "size":
                if not order:
                    raise Misread("a keyway has a width, a depth and a length")
                name = order.pop(0)
            elif name in order:
                order.remove(name)
            parts.append((name, value))
        return Item("keyway", tuple(parts), note="segment" if self._has(items, "SEGMENT") else "")

    def segment_radius(self, items: list[Any]) -> Item:
        round_, wide = self._values(items)
        return Item("keyway", (("width", wide), ("radius", round_)), note="segment")

    def segment_diameter(self, items: list[Any]) -> Item:
        round_, wide = self._values(items)
        half = replace(round_, nominal=round_.nominal / 2, decimals=None)
        return Item("keyway", (("width", wide), ("radius", half)), note="segment")

    def groove_after(self, items: list[Any]) -> Item:
        return Item("groove", (("depth", self._first(items)),), note="width before")

    def groove_depth(self, items: list[Any]) -> tuple[str, Value]:
        return ("depth", self._first(items))

    def groove_diameter(self, items: list[Any]) -> tuple[str, Value]:
        return ("diameter", self._first(items))

    def groove(self, items: list[Any]) -> Item:
        said = next(str(i) for i in items if isinstance(i, Token) and i.type == "GROOVE")
        word = " ".join(said.lower().split()).removesuffix("s")
        return Item(
            "groove", (("width", self._first(items)), *self._gathered(items)), note="" if word == "groove" else word
        )

    def round_groove(self, items: list[Any]) -> Item:
        return Item("groove", (("radius", self._first(items)), *self._gathered(items)))

    # -- counts, suffixes ----------------------------------------------------------------------------

    def _counted(self, text: str) -> Value:
        digits = re.sub(r"\D", "", text)
        return Value(Fraction(int(digits)), digits, 0, counts=True)

    def prefix(self, items: list[Any]) -> Value:
        return self._counted(str(items[0])) if isinstance(items[0], Token) else self._first(items)

    def body(self, items: list[Any]) -> tuple[list[Value], Item]:
        return list(items[:-1]), items[-1]

    def count_after(self, items: list[Any]) -> tuple[str, Any]:
        return ("count", self._counted(str(items[-1])))

    def typical(self, _: list[Any]) -> tuple[str, Any]:
        return ("typical", None)

    def equally_spaced(self, _: list[Any]) -> tuple[str, Any]:
        return ("equally-spaced", None)

    def on_circle(self, items: list[Any]) -> tuple[str, Any]:
        return ("pitch-circle", self._first(items))

    def start_angle(self, items: list[Any]) -> tuple[str, Any]:
        return ("start-angle", self._first(items))

    def at_pitch(self, items: list[Any]) -> tuple[str, Any]:
        return ("pitch", self._first(items))

    def at_angle(self, items: list[Any]) -> tuple[str, Any]:
        return ("pitch-angle", self._first(items))

    def at_angles(self, items: list[Any]) -> tuple[str, Any]:
        return ("member-angles", self._values(items))

    def angle_apart(self, items: list[Any]) -> tuple[str, Any]:
        said = re.fullmatch(r"(.*?)\s*(?:(?:±|\+/-)\s*(\S+?)°?)?\s*apart", str(items[0]), re.I)
        assert said is not None
        angle = self.angle_value([said.group(1)])
        if said.group(2):
            room = fraction_of(said.group(2))
            angle = replace(angle, plus=room, minus=room)
        return ("pitch-angle", angle)

    def both_sides(self, _: list[Any]) -> tuple[str, Any]:
        return ("both-sides", None)

    def for_length(self, items: list[Any]) -> tuple[str, Any]:
        return ("length", self._first(items))

    def from_face(self, items: list[Any]) -> tuple[str, Any]:
        return ("from", " ".join(str(items[0]).split()[1:]))

    def where_shown(self, _: list[Any]) -> tuple[str, Any]:
        return ("where", None)

    def unless_noted(self, _: list[Any]) -> tuple[str, Any]:
        return ("unless-noted", None)

    def ref_word(self, _: list[Any]) -> tuple[str, Any]:
        return ("reference", None)

    def estimated_word(self, _: list[Any]) -> tuple[str, Any]:
        return ("estimated", None)

    def basic_word(self, _: list[Any]) -> tuple[str, Any]:
        return ("basic", None)

    def reference(self, items: list[Any]) -> tuple[Any, ...]:
        return (*items[0], [("reference", None), *items[1:]])

    def basic(self, items: list[Any]) -> tuple[Any, ...]:
        return (*items[0], [("basic", None), *items[1:]])

    def plain(self, items: list[Any]) -> tuple[Any, ...]:
        return (*items[0], items[1:])
