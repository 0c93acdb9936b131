"""Made-up sources, sound or with one slip planted, for the tests of the source doctor."""

import math
import random
from dataclasses import dataclass, field
from fractions import Fraction
from itertools import pairwise

F = Fraction


@dataclass
class Source:
    """Lines by key, as (name, shorthand), and chains by direction, as lists of (from, to, size)."""

    rng: random.Random
    unit: str
    lines: dict[str, tuple[str, str]] = field(default_factory=dict)
    chains: dict[str, list[tuple[str, str, Fraction]]] = field(default_factory=dict)
    facts: dict[str, Fraction] = field(default_factory=dict)

    def write(self, size: Fraction, *, fraction: bool = True) -> str:
        """A size as a drafter writes it in this unit."""
        whole, left = divmod(size, 1)
        if self.unit == "in" and fraction and left and left.denominator <= 16:
            return f"{whole} {left.numerator}/{left.denominator}" if whole else f"{left.numerator}/{left.denominator}"
        if self.unit == "in":
            return f"{float(size):.4f}".lstrip("0")
        return f"{float(size):.4f}".rstrip("0").rstrip(".")

    def text(self) -> str:
        """The specification as a file."""
        head = [
            f"unit: {self.unit}",
            "material: brass",
            "general: ISO 2768-m" if self.unit == "mm" else "general: .XXX ±.005 .XXXX ±.002",
            "default: break edges 0.3",
        ]
        rows = [
            f"{k} | sheet {1 + k % 3} | {name}: {text}" for k, (name, text) in enumerate(self.lines.values(), start=1)
        ]
        chains = [
            f"{d}: "
            + "; ".join(
                f"{a} -{self.write(s, fraction=False) if self.unit == 'mm' else self.write(s)}- {b}"
                for a, b, s in links
            )
            for d, links in self.chains.items()
        ]
        return "\n".join([*head, "[characteristics]", *rows, "[chains]", *chains, ""])

    def number(self, *keys: str) -> set[str]:
        """The numbers of the lines with these keys."""
        names = list(self.lines)
        return {str(names.index(k) + 1) for k in keys}


def _size(source: Source, low: int, high: int) -> Fraction:
    """A size between two bounds given in mm: half millimetres, or sixteenths of an inch."""
    if source.unit == "mm":
        return F(source.rng.randint(2 * low, 2 * high), 2)
    return F(source.rng.randint(max(1, round(low * 16 / 25.4)), round(high * 16 / 25.4)), 16)


def clean(seed: int) -> Source:
    """A sound source: sizes said twice on different sheets, halves, sums, angles from two faces, limits, counts."""
    rng = random.Random(seed)
    s = Source(rng, rng.choice(["mm", "in"]))
    long_, wide, foot, boss, seat = (_size(s, *b) for b in ((80, 160), (40, 70), (30, 60), (8, 20), (6, 12)))
    s.facts = {"long": long_, "wide": wide, "foot": foot, "boss": boss, "seat": seat}
    w = s.write
    s.lines["long"] = ("overall length", f"{w(long_)} OVERALL")
    s.lines["long again"] = ("overall length", f"{w(long_)} OVERALL")
    s.lines["wide"] = ("overall width", f"{w(wide)} OVERALL")
    s.lines["foot"] = ("foot width", w(foot))
    s.lines["half"] = ("half foot width", w(foot / 2))
    s.lines["boss r"] = ("boss end", f"R{w(boss)}")
    s.lines["boss d"] = ("boss end", f"⌀{w(2 * boss)}")
    s.lines["seat"] = ("seat", w(seat))
    s.lines["seat again"] = ("seat", w(seat))
    n = rng.choice([4, 6, 8])
    s.facts["n"] = F(n)
    bore = "⌀6.6 THRU ⌴⌀11 ↧6.5" if s.unit == "mm" else "⌀.265 THRU ⌴⌀.438 ↧.250"
    s.lines["holes"] = ("fixing holes", f"{n}x {bore}")
    s.lines["holes again"] = ("fixing holes", f"{n}x {bore}")
    s.lines["ring"] = ("ring", f"{n}x ⌀{w(_size(s, 2, 4))} THRU EQ SP ON ⌀{w(wide / 2)} PCD AT {360 // n}°")
    rows, columns = rng.randint(2, 4), rng.randint(3, 5)
    s.facts |= {"grid": F(rows * columns)}
    s.lines["grid"] = ("dowels", f"GRID {columns} x {rows} AT {w(_size(s, 8, 12))} x {w(_size(s, 8, 12))}")
    s.lines["dowels"] = ("dowels", f"{rows * columns}x ⌀{w(_size(s, 2, 3))} THRU")
    deep, drilled = (16, 20) if s.unit == "mm" else (F(5, 8), F(3, 4))
    s.facts |= {"deep": F(deep), "drilled": F(drilled)}
    thread, drill = ("M8", "6.8") if s.unit == "mm" else ("3/8-16 UNC", ".3125")
    s.lines["thread"] = ("clamp thread", f"2x {thread} ↧{w(F(deep))} DRILL ⌀{drill} ↧{w(F(drilled))}")
    lean = rng.choice([12, 15, 20, 25, 30, 35, 40])
    s.facts["lean"] = F(lean)
    s.lines["flank"] = ("flank", f"{lean}° from base")
    s.lines["flank again"] = ("flank", f"{90 - lean}° from axis")
    s.lines["lean"] = ("rib", f"{lean + 3}°")
    s.lines["lean again"] = ("rib", f"{lean + 3}°")
    flats = _size(s, 12, 24)
    s.facts["flats"] = flats
    s.lines["nut"] = ("nut", f"HEX {w(flats)} AF")
    s.lines["nut again"] = ("nut", f"HEX {float(flats) / math.cos(math.pi / 6):.{3 if s.unit == 'mm' else 4}f} AC")
    pivot = F(12) if s.unit == "mm" else F(1, 2)
    half = F(2, 100) if s.unit == "mm" else F(1, 1000)
    s.facts |= {"high": pivot + half, "low": pivot - half, "pivot": pivot}
    limits = f"⌀{w(pivot + half, fraction=False)}/{w(pivot - half, fraction=False)}"
    s.lines["pivot"] = ("pivot", limits)
    s.lines["pivot again"] = ("pivot", limits)
    cut = sorted(rng.sample(range(1, int(long_ * (2 if s.unit == "mm" else 16))), 4))
    at = [F(0), *[F(c, 2 if s.unit == "mm" else 16) for c in cut], long_]
    steps = [b - a for a, b in pairwise(at)]
    names = "ABCDEF"
    s.chains["x"] = [(names[k], names[k + 1], d) for k, d in enumerate(steps)]
    # Sub-totals and the whole are stated too, as prints do.
    s.chains["x"] += [("A", "C", at[2]), ("C", "F", long_ - at[2]), ("A", "F", long_), ("B", "D", at[3] - at[1])]
    return s


def _other(s: Source, size: Fraction) -> Fraction:
    """A neighbouring value, as misread."""
    step = F(1, 2) if s.unit == "mm" else F(1, 16)
    return size + s.rng.choice([1, 2, 3]) * step


def _link(s: Source, change: dict[int, Fraction]) -> None:
    s.chains["x"] = [(a, b, change.get(k, size)) for k, (a, b, size) in enumerate(s.chains["x"])]


def plant(s: Source, slip: str) -> tuple[set[str], set[str]]:
    """Plant one slip; the rules that may name it and the subjects they must stand at."""
    rng, w, f = s.rng, s.write, s.facts
    twice = rng.choice(["long", "seat"])
    size = f[twice]
    tail = " OVERALL" if twice == "long" else ""
    key = f"{twice} again"
    k = rng.randrange(5)
    step = s.chains["x"][k][2]
    if slip == "S05":
        form = rng.choice(["half", "boss", "whole"])
        if form == "half":
            s.lines["half"] = ("half foot width", w(f["foot"]))
            return {"half.differs"}, s.number("half")
        if form == "boss":
            s.lines["boss d"] = ("boss end", f"⌀{w(f['boss'])}")
            return {"radius.diameter"}, s.number("boss r", "boss d")
        s.lines[key] = (s.lines[key][0], w(size / 2) + tail)
        return {"half.differs", "precision.rounded"}, s.number(key)
    if slip in ("S06", "S07"):
        factor = rng.choice([F(254, 10), F(10, 254)]) if slip == "S06" else rng.choice([F(10), F(1, 10)])
        rules = {"unit.factor", "unit.style", "size.over"} if slip == "S06" else {"size.factor", "size.over"}
        if rng.random() < 0.5:
            s.lines[key] = (s.lines[key][0], f"{float(size * factor):.{3 if s.unit == 'mm' else 4}f}{tail}")
            return rules | {"precision.rounded"}, s.number(key, twice)
        _link(s, {k: F(round(float(step * factor), 4)).limit_denominator(10**4)})
        return {"chain.gap"}, {"x"}
    if slip == "S08":
        which = rng.choice(["flank again", "lean again"])
        lean = f["lean"] if which == "flank again" else 90 - (f["lean"] + 3)
        s.lines[which] = (s.lines[which][0], f"{lean}°" + (" from axis" if which == "flank again" else ""))
        return {"angle.differs"}, s.number(which)
    if slip == "S09":
        _link(s, {k: _other(s, step)})
        return {"chain.gap"}, {"x"}
    if slip == "S10":
        which = rng.choice(["holes again", "dowels", "ring"])
        name, text = s.lines[which]
        count, rest = text.split("x", 1)
        s.lines[which] = (name, f"{int(count) + rng.choice([-1, 1])}x{rest}")
        return {"count.differs", "count.angle"}, s.number(which)
    if slip == "S13":
        name, text = s.lines["thread"]
        a, b = w(f["deep"]), w(f["drilled"])
        s.lines["thread"] = (name, text.replace(f"↧{a}", "↧#").replace(f"↧{b}", f"↧{a}").replace("↧#", f"↧{b}"))
        return {"thread.depth"}, s.number("thread")
    if slip == "S19":
        odd = size + (F(3, 8) if s.unit == "mm" else F(1, 16) if size.denominator != 16 else F(0))
        exact, rounded = (
            (f"{float(odd):.3f}", f"{float(odd):.1f}") if s.unit == "mm" else (f"{float(odd):.4f}", f"{float(odd):.2f}")
        )
        s.lines[twice], s.lines[key] = (s.lines[twice][0], exact + tail), (s.lines[key][0], rounded + tail)
        return {"precision.rounded", "precision.coarse"}, s.number(key, twice)
    if slip == "S25":
        s.lines["pivot again"] = ("pivot", f"⌀{w(rng.choice([f['high'], f['low']]), fraction=False)}")
        return {"limits.mixed"}, s.number("pivot again")
    if slip == "S36":
        s.lines[key] = (s.lines[key][0], w(_other(s, size)) + tail)
        return {"same.differs", "precision.rounded"}, s.number(key)
    if slip == "S37":
        # Two members wrong by the same amount, so that the whole still agrees.
        off = F(1, 2) if s.unit == "mm" else F(1, 16)
        _link(s, {0: s.chains["x"][0][2] + off, 1: s.chains["x"][1][2] - off})
        return {"chain.gap"}, {"x"}
    assert slip == "S41"
    s.lines["nut again"] = ("nut", f"HEX {w(f['flats'])} AC")
    return {"polygon.across"}, s.number("nut again")


SLIPS = ("S05", "S06", "S07", "S08", "S09", "S10", "S13", "S19", "S25", "S36", "S37", "S41")
