"""Callouts put together from the ways in which people say each of their pieces: a hundred a family, with what they mean.

The families and pieces were written down before any rule was changed for them; every third callout of a family is kept
aside. They combine pieces that nobody wrote down together, which is what they are for.
"""

import random
from collections.abc import Callable, Iterator
from itertools import product

__all__ = ["spoken_callouts"]

Piece = tuple[str, str]

#: A count before what it counts, or after it: text with the rest in the braces, and the number.
_BEFORE = (("{}", 1), ("4x {}", 4), ("2X {}", 2), ("3 x {}", 3), ("4 OFF {}", 4))
_AFTER = (
    ("{} 4 PLACES", 4),
    ("{}, 2 PLACES", 2),
    ("{} (4)", 4),
    ("{} X4", 4),
    ("{} 3 OFF", 3),
    ("{} 2 REQD", 2),
    ("{} - 4 PLACES", 4),
    ("{} 4X", 4),
)
_COUNTS = (*_BEFORE, *_AFTER)


def _round(size: str) -> tuple[str, ...]:
    return (f"⌀{size}", f"{size} DIA", f"DIA {size}", f"Ø{size}", f"dia. {size}", f"⌀ {size}")


def _deep(size: str) -> tuple[str, ...]:
    return (f"↧{size}", f"{size} DEEP", f"x {size} DEEP", f"DEPTH {size}", f"{size} DEPTH", f"TO DEPTH {size}")


_THRU = ("THRU", "THROUGH", "THRU ALL", "thru")


def _bored(d: str, z: str) -> tuple[str, ...]:
    forms = []
    for word in ("CBORE", "C/BORE", "COUNTERBORE", "⌴", "C'BORE", "c bore"):
        forms += [f"{word} ⌀{d} ↧{z}", f"{word} ⌀{d} x {z} DEEP", f"{word} {d} DIA {z} DEEP"]
    return (*forms, f"COUNTERBORE {d} x {z}", f"CBORE ⌀{d} DEPTH {z}", f"SPOTFACE ⌀{d} x {z} DEEP")


def _sunk(d: str, a: str) -> tuple[str, ...]:
    forms = []
    for word in ("CSK", "C/SINK", "COUNTERSINK", "⌵", "CSINK"):
        forms += [f"{word} ⌀{d} x {a}°", f"{word} ⌀{d} × {a}°", f"{word} {d} DIA x {a}°"]
    return (*forms, f"CSK {d} x {a}°", f"CSK {a}° TO ⌀{d}")


def _counted(bodies: Iterator[tuple[str, str]], kind: str) -> Iterator[Piece]:
    for (text, meaning), (form, count) in product(list(bodies), _COUNTS):
        yield form.format(text), f"{kind} ; {count} ; {meaning}"


def _seated() -> Iterator[Piece]:
    def bodies() -> Iterator[tuple[str, str]]:
        bore = "diameter=33/5 through counterbore-diameter=11 counterbore-depth=13/2"
        sink = "diameter=5 through countersink-diameter=10 countersink-angle=90"
        for hole, thru, seat in product(_round("6.6"), _THRU[:2], _bored("11", "6.5")):
            meaning = bore + (" counterbore-spot" if seat.startswith("SPOTFACE") else "")
            yield f"{hole} {thru} {seat}", meaning
            yield f"{hole} {thru}, {seat}", meaning
            yield f"{seat}, {hole} {thru}", meaning
        for hole, thru, seat in product(_round("5"), _THRU[:2], _sunk("10", "90")):
            yield f"{hole} {thru} {seat}", sink
            yield f"{hole} {thru}, {seat}", sink
            yield f"{seat}, {hole} {thru}", sink

    return _counted(bodies(), "hole")


def _drilled() -> Iterator[Piece]:
    def bodies() -> Iterator[tuple[str, str]]:
        for word, end in product(("DRILL", "REAM", "BORE", "DRILLED", "drill"), _THRU):
            yield f"8 {word} {end}", "diameter=8 through"
            yield f"⌀8 {word} {end}", "diameter=8 through"
            yield f"{word} ⌀8 {end}", "diameter=8 through"
        for size, deep in product(_round("8"), _deep("20")):
            yield f"{size} {deep}", "diameter=8 depth=20"
            yield f"{size} DRILL {deep}", "diameter=8 depth=20"

    return _counted(bodies(), "hole")


def _rounds() -> Iterator[Piece]:
    def bodies() -> Iterator[tuple[str, str]]:
        for form in (
            "R{}",
            "R {}",
            "{} R",
            "{}R",
            "RADIUS {}",
            "{} RADIUS",
            "RAD {}",
            "{} RAD",
            "R{} FILLET",
            "FILLET R{}",
            "ROUND R{}",
            "R{} ROUND",
            "CORNER R{}",
            "R{} CORNERS",
            "{} FILLET",
            "blend R{}",
            "R{} TYP",
        ):
            for size in ("3", "12", "2.5"):
                yield form.format(size), f"radius={size.replace('2.5', '5/2')}"

    return _counted(bodies(), "radius")


def _threads() -> Iterator[Piece]:
    def bodies() -> Iterator[tuple[str, str]]:
        base = "thread:{} depth=16 {}major=8 pitch=5/4 tap-drill=34/5"
        for name in ("M8", "M8x1.25", "M8 x 1.25"):
            said = name.replace(" ", "")
            for deep in (*_deep("16"), "- 16 DEEP", "THREAD DEPTH 16", "THREAD 16 DEEP", "TAP 16 DEEP"):
                yield f"{name} {deep}", base.format(said, "")
            for both in (
                "THREAD DEPTH 16 DRILL DEPTH 20",
                "↧16 / 20",
                "16/20 DEEP",
                "16 DEEP, DRILL 20 DEEP",
                "↧16 DRILL ↧20",
                "THREAD 16 DEEP, DRILL 20 DEEP",
            ):
                yield f"{name} {both}", base.format(said, "drill-depth=20 ")

    return _counted(bodies(), "thread")


def _bevels() -> Iterator[Piece]:
    def bodies() -> Iterator[tuple[str, str]]:
        for form in (
            "{} x 45°",
            "{} × 45°",
            "{}x45°",
            "{} x 45 DEG",
            "45° x {}",
            "CHAMFER {} x 45°",
            "{} x 45° CHAMFER",
            "CHAM {} x 45°",
            "{} X 45° CHAM",
        ):
            for size in ("2", "0.5", "1.5"):
                yield form.format(size), f"leg={ {'2': '2', '0.5': '1/2', '1.5': '3/2'}[size] } angle=45"

    return _counted(bodies(), "chamfer")


def _apart() -> Iterator[Piece]:
    for form in (
        "{} CRS",
        "{} C/C",
        "{} CTRS",
        "{} c-c",
        "{} CENTRES",
        "{} CENTERS",
        "{} BETWEEN CENTRES",
        "{} CENTRE TO CENTRE",
        "CRS {}",
        "CENTRES {}",
        "{} C TO C",
        "HOLES {} CRS",
        "{} hole centres",
        "{} CENTRE DISTANCE",
    ):
        for size in ("76", "44", "14", "62.5", "8"):
            yield form.format(size), f"length ; 1 ; length={size.replace('62.5', '125/2')}"


def _from() -> Iterator[Piece]:
    for where in (
        "LEFT",
        "RIGHT",
        "TOP",
        "BOTTOM",
        "BASE",
        "EDGE",
        "END",
        "LEFT EDGE",
        "TOP FACE",
        "RIGHT END",
        "FRONT",
        "BACK FACE",
        "DATUM A",
        "CENTRE",
    ):
        for form in (
            "{} FROM {}",
            "{} FROM THE {}",
            "{} TO {}",
            "HOLE {} FROM {}",
            "{} OFF {}",
            "{} IN FROM {}",
            "SLOT {} FROM {}",
            "{} MEASURED FROM {}",
        ):
            yield form.format("12", where), "length ; 1 ; length=12"


def _outside() -> Iterator[Piece]:
    for form in (
        "{} OD",
        "OD {}",
        "⌀{} OD",
        "OD ⌀{}",
        "{} O.D.",
        "O.D. {}",
        "OUTSIDE DIA {}",
        "OUTER DIAMETER {}",
        "{} OUTSIDE DIAMETER",
        "{} ID",
        "ID ⌀{}",
        "⌀{} ID",
        "I.D. {}",
        "{} I.D.",
        "INSIDE DIA {}",
        "INNER DIAMETER {}",
        "{} INSIDE DIA",
        "outside diameter {}",
        "o.d. ⌀{}",
    ):
        for size in ("30", "22.5", "48", "16"):
            yield form.format(size), f"diameter ; 1 ; diameter={size.replace('22.5', '45/2')}"


def _slots() -> Iterator[Piece]:
    def bodies() -> Iterator[tuple[str, str]]:
        for form in (
            "SLOT 8 WIDE 14 CENTRES",
            "SLOT 8 x 14 C/C",
            "8 WIDE SLOT 14 CTRS",
            "SLOT 8 WIDE 14 CRS",
            "8 SLOT 14 CENTRES",
            "SLOT 8 WIDE, 14 CENTRES",
        ):
            for end, more in (("", ""), (" THRU", " through"), (" ↧5", " depth=5"), (" 5 DEEP", " depth=5")):
                yield form + end, f"width=8 centres=14{more}"

    return _counted(bodies(), "slot")


def _cut() -> Iterator[Piece]:
    def bodies() -> Iterator[tuple[str, str]]:
        for word in ("UNDERCUT", "RELIEF", "GROOVE", "THREAD RELIEF", "undercut"):
            yield f"{word} 2 x 0.5", "width=2 depth=1/2"
            yield f"{word} 2 WIDE x 0.5 DEEP", "width=2 depth=1/2"
            yield f"{word} 2 WIDE 0.5 DEEP", "width=2 depth=1/2"
            yield f"{word} 3 x ⌀18", "width=3 diameter=18"
            yield f"{word} 3 WIDE ⌀18", "width=3 diameter=18"
            yield f"3 WIDE {word} ⌀18", "width=3 diameter=18"

    return _counted(bodies(), "groove")


FAMILIES: dict[str, Callable[[], Iterator[Piece]]] = {
    "seats before and after their holes": _seated,
    "drill sizes and depths": _drilled,
    "fillets and rounds, counted": _rounds,
    "threads and their depths": _threads,
    "chamfers, counted": _bevels,
    "distances between centres": _apart,
    "distances from something": _from,
    "outside and inside": _outside,
    "slots": _slots,
    "undercuts and reliefs": _cut,
}


def spoken_callouts(each: int = 100) -> dict[str, list[tuple[str, bool]]]:
    """Rows of every family (text ; kind ; count ; parts) and whether they are kept aside: `each` of each."""
    out = {}
    for name, family in FAMILIES.items():
        rows = list(dict(family()).items())
        chosen = random.Random(name).sample(rows, min(each, len(rows)))
        out[name] = [(f"{text} ; {meaning}", k % 3 == 2) for k, (text, meaning) in enumerate(chosen)]
    return out
