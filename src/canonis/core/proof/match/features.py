"""A line about a feature against one feature of the part: what agrees, what differs, and what that costs."""

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass

from canonis.core.callout import Part, is_drilled_for
from canonis.core.proof.known import meant_by, thing_of
from canonis.core.proof.match.item import Item
from canonis.core.proof.match.near import EXACT, SLIP, wanted
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.tally import Difference, Tally, model_size, rows_of
from canonis.core.proof.match.words import SIDES, Words
from canonis.core.quantity import Unit
from canonis.core.shape import Row
from canonis.core.source import Characteristic
from canonis.core.tolerances import same

__all__ = ["FeatureMatch", "feature_candidate", "seat_candidate", "wrong_side"]

#: Parts that say how something is meant and are no size to compare.
_UNCOMPARED = ("sphere", "point-angle", "full-radius", "pitch-angle", "start-angle", "lead", "taper")


@dataclass(frozen=True)
class FeatureMatch:
    """The price of a line meaning a feature, its state, and its differing parts."""

    price: float
    state: int
    value: float
    words: str
    rows: tuple[Row, ...]
    differences: tuple[Difference, ...]


def feature_candidate(
    c: Characteristic, item: Item, unit: Unit, words: Words, elsewhere: Sequence[float] = ()
) -> FeatureMatch | None:
    """The price of line `c` being about `item`; None where it cannot be. `elsewhere` are diameters (mm) that other lines
    state: a seat that one of them is about is said."""
    line = meant_by(c.kind)
    if item.kind not in line.things:
        return None
    if c.kind == "polygon" and not item.polygon:
        return None
    if c.kind == "pattern" and "pitch-circle" not in item.sizes:
        return None
    if (c.part("sphere") is not None) is not (item.kind == "sphere"):
        return None
    if words.labels and not any(item.label in labels for labels in words.labels) and not line.free_words:
        return None
    if _other_side(words.text, item):
        return None
    if item.kind == "hole" and line.rim:
        rim = _rim(c, item, unit)
        if rim is not None or c.kind == "chamfer":
            return rim
    tally = Tally()
    tally.price += line.things[item.kind]
    if c.kind == "thread":
        _thread(c, item, unit, tally)
    else:
        _plain_parts(c, item, unit, tally)
    if item.kind == "hole" and line.seats:
        _seats(c, item, tally, elsewhere)
        _drilled(c, item, tally)
    if c.kind == "diameter" and item.kind == "cylinder" and item.words.get("inner"):
        tally.price += 0.5
    state = max((d.state for d in tally.differences), default=EXACT)
    main = c.main
    value = next((float(v) for n in ([main.name] if main else []) if (v := model_size(item, n)) is not None), 0.0)
    name = {"fillet": "round", "cylinder": "round face"}.get(item.kind, item.kind)
    label = item.label if not item.label.startswith("round ") else "without a label"
    return FeatureMatch(tally.price, state, value, f"{name} {label}", tuple(tally.rows), tuple(tally.differences))


_VOID = re.compile(r"\bi\.?d\b|\binside\b|\binner\b|\bbores?\b|\bholes?\b")
_SOLID = re.compile(r"\bo\.?d\b|\boutside\b|\bouter\b|\bshafts?\b|\bjournals?\b|\bspigots?\b")


def _other_side(text: str, item: Item) -> bool:
    """Whether a line names a void and the feature is material, or the reverse."""
    void, solid = bool(_VOID.search(text)), bool(_SOLID.search(text))
    return void is not solid and item.kind in (("shaft", "boss") if void else ("hole",))


def _plain_parts(c: Characteristic, item: Item, unit: Unit, tally: Tally) -> None:
    through = item.value("through") is True
    for part in c.parts:
        if part.name in _UNCOMPARED or part.name.startswith("member-") or part.designation is not None or part.table:
            continue
        if part.name == "pitch" and not isinstance(item.value("pitch"), float):
            continue  # of several features that are not one group nothing measures it: see `Judge`
        if part.name in ("sides", "teeth", "starts"):
            have = item.value(part.name)
            if isinstance(have, float) and part.nominal is not None and abs(have - float(part.nominal)) > 0.5:
                tally.differs(6.0, part.name, float(part.nominal), have)
            continue
        if part.plain and part.name != "ratio":
            continue
        if part.nominal is None:
            if part.name in ("through", "flat-bottom", "equally-spaced") and thing_of(item.kind).ended:
                tally.compared += part.name == "through"
                if part.name == "through" and not through:
                    tally.differs(
                        5.0, "through", None, model_size(item, "depth"), "a floor where the source says THRU (S11)"
                    )
                elif part.name != "through" and item.value(part.name) is not True:
                    tally.differs(3.0, part.name, None, None)
            continue
        if part.name == "ratio":
            half = item.value("half-angle" if item.kind == "taper" else "angle")
            ratio = 2 * math.tan(math.radians(float(half))) if isinstance(half, float) else None
            if ratio is None or not same(ratio, float(part.nominal)):
                tally.differs(6.0, part.name, float(part.nominal), ratio)
            continue
        if part.name == "angle" and c.kind == "draft" and item.kind == "taper":
            tally.size(part, model_size(item, "half-angle"), rows_of(item, "half-angle"), unit)
            continue
        if part.name == "angle" and c.kind == "chamfer" and c.part("leg-b") is None:
            _bevel_angle(part, item, unit, tally)
            continue
        if part.name == "leg" and c.kind == "chamfer":
            _leg(c, part, item, unit, tally)
            continue
        if part.name in ("depth", "drill-depth") and through and thing_of(item.kind).ended:
            tally.differs(5.0, "depth", float(part.nominal), None, "right through where the source gives a depth (S11)")
            continue
        tally.size(part, model_size(item, part.name), rows_of(item, part.name), unit)


def _rim(c: Characteristic, item: Item, unit: Unit) -> FeatureMatch | None:
    """A chamfer or a round that breaks the mouth of a hole."""
    tally = Tally()
    tally.price += 0.8
    for side in ("", "-far"):
        size, angle = item.sizes.get(f"rim{side}-size"), item.value(f"rim{side}-angle")
        radius = item.sizes.get(f"rim{side}-radius")
        part = c.part("leg") if c.kind == "chamfer" else c.part("radius")
        found = size if c.kind == "chamfer" else radius
        if part is None or found is None or not isinstance(found.value, float):
            continue
        tally.size(part, found.value, found.rows, unit)
        lean = c.part("angle")
        if lean is not None and isinstance(angle, float):
            tally.size(lean, angle, (), unit)
        state = max((d.state for d in tally.differences), default=EXACT)
        return FeatureMatch(
            tally.price, state, found.value, f"rim of {item.label}", tuple(tally.rows), tuple(tally.differences)
        )
    return None


def _leg(c: Characteristic, part: Part, item: Item, unit: Unit, tally: Tally) -> None:
    """The leg of a chamfer: the longer one first, unless the other fits."""
    a, b = item.value("leg"), item.value("leg-b")
    want = wanted(part, unit)
    use = "leg"
    if (
        isinstance(a, float)
        and isinstance(b, float)
        and want is not None
        and want.of(b).price < want.of(a).price
        and c.part("leg-b") is None
    ):
        use = "leg-b"
    tally.size(part, model_size(item, use), rows_of(item, use), unit)


def _bevel_angle(part: Part, item: Item, unit: Unit, tally: Tally) -> None:
    """The angle of a chamfer, from the face of the leg that is stated."""
    angle = item.value("angle")
    want = wanted(part, unit)
    if not isinstance(angle, float) or want is None:
        return
    value = min((angle, 90 - angle), key=lambda v: abs(v - want.target))
    tally.size(part, value, rows_of(item, "leg-b"), unit)


def _thread(c: Characteristic, item: Item, unit: Unit, tally: Tally) -> None:
    """A thread on a plain hole or shaft, or a modelled one: which diameter the model carries is a rule of the job."""
    major, pitch, drill = (
        None if (p := c.part(n)) is None or p.nominal is None else float(p.nominal)
        for n in ("major", "pitch", "tap-drill")
    )
    said = c.part("drill-diameter")
    tally.compared += 1
    if item.kind == "thread":
        tally.rows += rows_of(item, "major")
        for name, value in (("major", major), ("pitch", pitch)):
            have = item.value(name)
            if value is not None and isinstance(have, float) and abs(have - value) > 0.03 * value:
                tally.differs(5.5, name, value, have)
    elif item.kind == "hole":
        have = model_size(item, "diameter")
        tally.rows += rows_of(item, "diameter")
        if said is not None:
            tally.compared -= 1
            tally.size(said, have, (), unit)
        elif have is not None and major is not None:
            if is_drilled_for(have, major, pitch or 0.0, drill):
                tally.price += 0.0
            elif abs(have - major) <= 5e-3:
                tally.price += 0.6
            else:
                ratio = abs(math.log(have / (drill or major)))
                tally.differs(min(5.0 + 6.0 * min(1.0, 1.2 * ratio), 11.5), "drill-diameter", drill or major, have)
    else:
        have = model_size(item, "diameter")
        tally.rows += rows_of(item, "diameter")
        tally.price += 1.5
        if have is None or major is None or abs(have - major) > 0.15:
            tally.differs(9.0, "major", major, have)
    if item.kind == "hole":
        _thread_depth(c, item, unit, tally, pitch or 1.0)


def _thread_depth(c: Characteristic, item: Item, unit: Unit, tally: Tally, pitch: float) -> None:
    """How deep a hole is under what its thread and its drill need."""
    depth, drilled = c.part("depth"), c.part("drill-depth")
    have, through = model_size(item, "depth"), item.value("through") is True
    if c.part("through") is not None and not through:
        tally.differs(5.0, "through", None, have, "a floor where the source says THRU (S11)")
    if drilled is not None:
        if through:
            tally.differs(
                5.0,
                "drill-depth",
                float(drilled.nominal or 0),
                None,
                "right through where the source gives a depth (S11)",
            )
        else:
            tally.size(drilled, have, rows_of(item, "depth"), unit)
    elif depth is not None and depth.nominal is not None:
        want = float(depth.nominal)
        if through:
            tally.price += 1.0
        elif have is not None and have < want - 5e-3:
            slip = wanted(depth, unit)
            near = None if slip is None else slip.of(have)
            tally.differs(
                5.0,
                "depth",
                want,
                have,
                near.slip if near is not None and near.state == SLIP else "the hole is shallower than its thread",
            )
        elif have is not None and have > 2.2 * want + 4 * pitch:
            tally.price += 1.5


def _drilled(c: Characteristic, item: Item, tally: Tally) -> None:
    """Neither depth nor THRU said: a through hole is likelier."""
    if c.kind == "hole" and c.part("through") is None and c.part("depth") is None and item.value("through") is not True:
        tally.price += 0.3


def _seats(c: Characteristic, item: Item, tally: Tally, elsewhere: Sequence[float]) -> None:
    """Seats that the model has and the source does not say, or has at the wrong end, or at one end only."""
    near, far = ({k for k in side if k in ("counterbore", "countersink")} for side in item.seats)
    names = {p.name for p in c.parts}
    said_near = {
        k for k in ("counterbore", "countersink") if any(n.startswith(f"{k}-") and "-far" not in n for n in names)
    }
    said_near |= {"counterbore"} if any(n.startswith("spotface") for n in names) else set()
    said_far = {k for k in ("counterbore", "countersink") if any(n.startswith(f"{k}-far") for n in names)}
    if c.kind == "seat":
        return
    for kind in sorted((near | far) - said_near - said_far):
        wide = model_size(item, f"{kind}-diameter") or model_size(item, f"{kind}-far-diameter")
        if wide is not None and any(abs(wide - said) <= _SAID_ELSEWHERE * wide for said in elsewhere):
            continue
        if kind == "countersink" and _breaks_an_edge(item):
            tally.price += 0.5
            continue
        tally.differs(
            PRICES.seat,
            kind,
            None,
            wide,
            "the model has a seat that the source does not say",
        )
    for kind in sorted(said_near - said_far):
        if kind in near and kind in far:
            tally.differs(
                PRICES.seat,
                f"{kind}-far",
                None,
                model_size(item, f"{kind}-far-diameter"),
                "a seat at both ends where the source asks for one (S12)",
            )
    for kind in sorted(said_far):
        if kind not in far:
            tally.differs(
                PRICES.seat, f"{kind}-far", None, None, "a seat at one end only where the source asks for both (S12)"
            )


#: A diameter of another line is meant for a seat within this share of it, right or wrong: that line is judged by itself.
_SAID_ELSEWHERE = 0.12


def _says_bore(c: Characteristic) -> bool:
    """Whether a line gives the diameter of a hole."""
    return meant_by(c.kind).bore and c.part("diameter") is not None


def seat_candidate(c: Characteristic, item: Item, unit: Unit, words: Words) -> FeatureMatch | None:
    """The price of a bore of the source being the wider part of a hole: what the recogniser calls its counterbore. None
    where it cannot be."""
    if item.kind != "hole" or not _says_bore(c) or _other_side(words.text, item):
        return None
    if any(p.name.startswith(("counterbore", "countersink", "rim")) for p in c.parts):
        return None
    best: FeatureMatch | None = None
    for place in ("", "-b", "-c", "-far", "-b-far"):
        wide = item.sizes.get(f"counterbore{place}-diameter")
        main = c.part("diameter")
        if wide is None or main is None or not isinstance(wide.value, float):
            continue
        tally = Tally()
        tally.price += 0.3
        tally.size(main, wide.value, wide.rows, unit)
        depth = c.part("depth")
        if depth is not None:
            deep = item.sizes.get(f"counterbore{place}-depth")
            tally.size(
                depth,
                deep.value if deep is not None and isinstance(deep.value, float) else None,
                () if deep is None else deep.rows,
                unit,
            )
        state = max((d.state for d in tally.differences), default=EXACT)
        made = FeatureMatch(
            tally.price,
            state,
            wide.value,
            f"the wider part of hole {item.label}",
            tuple(tally.rows),
            tuple(tally.differences),
        )
        if best is None or made.price < best.price:
            best = made
    return best


#: A cone at a mouth up to this much wider than its hole, at 45° to the axis, may be an edge that is broken unsaid.
_BROKEN = 1.35


def _breaks_an_edge(item: Item) -> bool:
    """Whether the cones at the mouths of a hole are no more than broken edges: nobody needs to state those on a source."""
    bore = model_size(item, "diameter")
    for side in ("", "-far"):
        wide, angle = item.value(f"countersink{side}-diameter"), item.value(f"countersink{side}-angle")
        if isinstance(wide, float) and (
            bore is None or wide > _BROKEN * bore or (isinstance(angle, float) and abs(angle - 90) > 1)
        ):
            return False
    return True


def wrong_side(c: Characteristic, item: Item) -> tuple[str, int] | None:
    """The side of the part that a line's view shows its seats on, as an axis of the source's views and a sense; None where
    the line names no side or the feature has none."""
    if (
        item.kind != "hole"
        or not (item.seats[0] or item.seats[1] or item.value("depth") is not None)
        or "far" in c.text.lower()
    ):
        return None
    where = f"{c.where} {c.direction}".lower()
    return next(
        (
            SIDES[w]
            for w in ("top", "bottom", "front", "back", "rear", "left", "right")
            if re.search(rf"\b{w}\b", where)
        ),
        None,
    )
