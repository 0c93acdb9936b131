"""Random parts with many equal numbers, each with a source that is sufficient to make it and the true place of every line.

A part is built from its parameters; its lines are written from parameters too. A part modelled wrong has one parameter
changed in the model and not in the source.
"""

import random
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import partial
from typing import Any

__all__ = ["FAMILIES", "Sourced", "Truth", "draw_part", "specification"]

Params = dict[str, float]


@dataclass(frozen=True)
class Truth:
    """Where a line belongs: a length along an axis between two levels, or a feature by points of it, or by its size (mm)."""

    axis: int = -1
    ends: tuple[float, float] = (0.0, 0.0)
    points: tuple[tuple[float, float, float], ...] = ()
    kind: str = ""


@dataclass(frozen=True)
class SourceLine:
    """A line as it is written, its parameter, and its truth."""

    where: str
    text: str
    param: str
    truth: Truth
    #: Where in the text the value of the parameter stands, as it is written.
    written: str = ""


@dataclass
class Sourced:
    """A family's part: its parameters, and what makes a recipe and lines from parameters."""

    family: str
    unit: str
    params: Params
    make: Callable[["Writer", Params], None] = field(repr=False, default=lambda w, p: None)
    style: int = 0

    def written(self, params: Params | None = None) -> "Writer":
        """Recipe and lines for these parameters, or for its own."""
        w = Writer(self.unit, self.style)
        self.make(w, self.params if params is None else params)
        return w


class Writer:
    """Collects the steps of a recipe and the lines of its source as a family writes them."""

    def __init__(self, unit: str, style: int) -> None:
        self.unit, self.style = unit, style
        self.steps: list[dict[str, Any]] = []
        self.lines: list[SourceLine] = []

    def n(self, x: float) -> str:
        """A size as this source writes it."""
        if self.unit == "in":
            text = f"{x:.4f}".rstrip("0")
            if len(text.split(".")[1]) < 3:
                text = f"{x:.3f}"
            return text.lstrip("0") if 0 < x < 1 else text
        return f"{x:g}"

    def step(self, op: str, **data: Any) -> None:
        """A step of the recipe."""
        self.steps.append({"name": f"s{len(self.steps)}", "op": op, **data})

    def block(self, x: float, y: float, z: float, w: float, d: float, h: float, mode: str = "add") -> None:
        """A box of material added or cut."""
        self.step(
            "extrude",
            mode=mode,
            distance=h,
            profile={
                "plane": {"origin": [0, 0, z], "x": [1, 0, 0], "normal": [0, 0, 1]},
                "outer": {"rect": [x, y, w, d]},
            },
        )

    def length(self, where: str, value: float, axis: int, a: float, b: float, param: str, words: str = "") -> None:
        """A line that states a length; words stand before it with a colon, or after it."""
        said = self.n(value)
        text = said if not words else f"{words} {said}" if words.endswith(":") else f"{said} {words}"
        self.lines.append(SourceLine(where, text, param, Truth(axis, (min(a, b), max(a, b))), said))

    def feature(self, where: str, text: str, param: str, points: list[list[float]], written: str = "") -> None:
        """A line about a feature."""
        self.lines.append(SourceLine(where, text, param, Truth(points=tuple(tuple(p) for p in points)), written))  # type: ignore[misc]

    def sized(self, where: str, text: str, param: str, kind: str, written: str = "") -> None:
        """A line about rounds or chamfers of one size."""
        self.lines.append(SourceLine(where, text, param, Truth(kind=kind), written))

    def recipe(self) -> dict[str, Any]:
        """The recipe of the part."""
        return {"schema": "canonis.recipe/1", "unit": self.unit, "name": "part", "density": 2.7, "steps": self.steps}


UP, X, Y = [0, 0, 1], [1, 0, 0], [0, 1, 0]


def _menu(rng: random.Random, unit: str, low: float, high: float) -> float:
    """A plain size between two in mm: whole and even numbers mostly, sixteenths in inches."""
    if unit == "in":
        return rng.randint(round(low / 25.4 * 8), max(round(low / 25.4 * 8) + 1, round(high / 25.4 * 8))) / 8
    step = rng.choice([1, 2, 2, 5])
    return float(max(step, rng.randint(round(low / step), round(high / step)) * step))


def _hole(w: Writer, p: Params, name: str) -> str:
    return f"⌀{w.n(p[name])}"


def _plate(rng: random.Random, unit: str) -> tuple[Params, Callable[[Writer, Params], None]]:
    m = partial(_menu, rng, unit)
    k = 1.0 if unit == "mm" else 1 / 24
    p: Params = {
        "w": m(112, 150),
        "d": m(50, 90),
        "h": m(14, 30),
        "ex": m(8, 16),
        "ey": m(8, 16),
        "d1": rng.choice([5.5, 6.6, 7, 9]) * k,
        "bx": m(30, 46),
        "bd": rng.choice([12, 16, 20]) * k,
        "sw": rng.choice([6, 8]) * k,
        "sc": m(10, 18),
        "sx": m(48, 58),
        "ch": rng.choice([1, 1.5, 2]) * k,
        "r": rng.choice([3, 4, 5, 6]) * k,
    }
    p["by"] = m(22, p["d"] * (1 if unit == "mm" else 25.4) - 22) if rng.random() < 0.6 else p["d"] / 2
    seat = rng.random() < 0.5
    p |= {"cd": p["d1"] + 4 * k, "cz": rng.choice([3, 4, 5]) * k} if seat else {}
    slot, bevel, blind = rng.random() < 0.5, rng.random() < 0.5, rng.random() < 0.4
    p |= {"td": 5 * k, "tz": m(6, 10), "tx": m(60, 68)} if blind else {}
    spaced = rng.random() < 0.5

    def make(w: Writer, q: Params) -> None:
        w.block(0, 0, 0, q["w"], q["d"], q["h"])
        w.length("front", q["w"], 0, 0, q["w"], "w", rng_words[0])
        w.length("top", q["d"], 1, 0, q["d"], "d")
        w.length("front", q["h"], 2, 0, q["h"], "h", rng_words[1])
        x0, x1, y0, y1 = q["ex"], q["w"] - q["ex"], q["ey"], q["d"] - q["ey"]
        hole = {
            "at": [[x, y, q["h"]] for x in (x0, x1) for y in (y0, y1)],
            "axis": UP,
            "diameter": q["d1"],
            "through": True,
        }
        if seat:
            hole["counterbore"] = {"diameter": q["cd"], "depth": q["cz"]}
        w.step("hole", **hole)
        said = f"4x ⌀{w.n(q['d1'])} THRU" + (f" ⌴⌀{w.n(q['cd'])} ↧{w.n(q['cz'])}" if seat else "")
        w.feature("top", said, "d1", [[x0, y0, 0]], w.n(q["d1"]))
        if spaced:
            w.length("top", x1 - x0, 0, x0, x1, "ex")
            w.length("top", y1 - y0, 1, y0, y1, "ey")
        w.length("top", q["ex"], 0, 0, x0, "ex")
        w.length("top", q["ey"], 1, 0, y0, "ey")
        if not spaced:
            w.length("top", x1 - x0, 0, x0, x1, "ex", "CRS")
            w.length("top", y1 - y0, 1, y0, y1, "ey", "CRS")
        w.step("hole", at=[[q["bx"], q["by"], q["h"]]], axis=UP, diameter=q["bd"], through=True)
        w.feature("top", f"⌀{w.n(q['bd'])} THRU", "bd", [[q["bx"], q["by"], 0]], w.n(q["bd"]))
        w.length("top", q["bx"], 0, 0, q["bx"], "bx")
        w.length("top", q["by"], 1, 0, q["by"], "by")
        if slot:
            y = y1
            w.step(
                "extrude",
                mode="cut",
                distance=-2 * q["h"],
                profile={
                    "plane": {"origin": [0, 0, q["h"] * 1.5], "x": X, "normal": UP},
                    "outer": {"slot": [q["sx"], y, q["sx"] + q["sc"], y, q["sw"]]},
                },
            )
            w.feature(
                "top",
                f"SLOT {w.n(q['sw'])} WIDE THRU {w.n(q['sc'])} CENTRES",
                "sc",
                [[q["sx"], y, 0], [q["sx"] + q["sc"] / 2, y, 0]],
                w.n(q["sc"]),
            )
            w.length("top", q["sx"], 0, 0, q["sx"], "sx")
        if blind:
            w.step("hole", at=[[q["tx"], q["ey"], q["h"]]], axis=UP, diameter=q["td"], depth=q["tz"], point=118)
            w.feature("top", f"⌀{w.n(q['td'])} ↧{w.n(q['tz'])}", "tz", [[q["tx"], q["ey"], 0]], w.n(q["tz"]))
            w.length("top", q["tx"], 0, 0, q["tx"], "tx")
        if bevel:
            w.step("chamfer", edges={"near": [[q["w"], q["d"] / 2, q["h"]]]}, leg=q["ch"])
            w.sized("front", f"{w.n(q['ch'])} × 45°", "ch", "chamfer", w.n(q["ch"]))
        else:
            w.step(
                "round",
                edges={
                    "near": [
                        [0, 0, q["h"] / 2],
                        [q["w"], 0, q["h"] / 2],
                        [0, q["d"], q["h"] / 2],
                        [q["w"], q["d"], q["h"] / 2],
                    ]
                },
                radius=q["r"],
            )
            w.sized("top", f"4x R{w.n(q['r'])}", "r", "fillet", w.n(q["r"]))

    rng_words = [rng.choice(["", "OVERALL"]), rng.choice(["", "THICK"])]
    return p, make


def _bracket(rng: random.Random, unit: str) -> tuple[Params, Callable[[Writer, Params], None]]:
    m = partial(_menu, rng, unit)
    k = 1.0 if unit == "mm" else 1 / 24
    p: Params = {
        "w": m(60, 110),
        "d": m(40, 64),
        "t": m(8, 14),
        "z": m(50, 90),
        "u": m(8, 14),
        "ex": m(8, 14),
        "fy": m(24, 30),
        "d1": rng.choice([5.5, 6.6, 9]) * k,
        "hz": m(34, 40),
        "bd": rng.choice([10, 12, 16]) * k,
        "r": rng.choice([3, 5, 8]) * k,
    }
    p["bx"] = p["w"] / 2 if rng.random() < 0.6 else m(24, 30)
    rib = rng.random() < 0.5
    p |= {"rt": m(5, 8), "rx": m(14, 20), "rz": m(24, 30)} if rib else {}
    names = rng.random() < 0.5

    def make(w: Writer, q: Params) -> None:
        w.block(0, 0, 0, q["w"], q["d"], q["t"])
        w.block(0, q["d"] - q["u"], 0, q["w"], q["u"], q["z"])
        w.length("front", q["w"], 0, 0, q["w"], "w")
        w.length("side", q["d"], 1, 0, q["d"], "d")
        w.length("side", q["z"], 2, 0, q["z"], "z")
        w.length("side", q["t"], 2, 0, q["t"], "t", "foot:" if names else "")
        w.length("side", q["u"], 1, q["d"] - q["u"], q["d"], "u", "web:" if names else "")
        x0, x1 = q["ex"], q["w"] - q["ex"]
        w.step("hole", at=[[x, q["fy"] - 10 * k, q["t"]] for x in (x0, x1)], axis=UP, diameter=q["d1"], through=True)
        w.feature("top", f"2x ⌀{w.n(q['d1'])} THRU", "d1", [[x0, q["fy"] - 10 * k, 0]], w.n(q["d1"]))
        w.length("top", x1 - x0, 0, x0, x1, "ex")
        w.length("top", q["ex"], 0, 0, x0, "ex")
        w.length("top", q["fy"] - 10 * k, 1, 0, q["fy"] - 10 * k, "fy")
        w.step("hole", at=[[q["bx"], q["d"] - q["u"], q["hz"]]], axis=[0, -1, 0], diameter=q["bd"], through=True)
        w.feature("front", f"⌀{w.n(q['bd'])} THRU", "bd", [[q["bx"], 0, q["hz"]]], w.n(q["bd"]))
        w.length("front", q["bx"], 0, 0, q["bx"], "bx")
        w.length("front", q["hz"], 2, 0, q["hz"], "hz", "TO CENTRE" if names else "")
        if rib:
            y = q["d"] - q["u"]
            w.step(
                "extrude",
                mode="add",
                distance=q["rt"],
                profile={
                    "plane": {"origin": [q["rx"], 0, 0], "x": Y, "normal": X},
                    "outer": {"polygon": [[y - 14 * k, q["t"]], [y, q["t"]], [y, q["rz"]]]},
                },
            )
            w.length("front", q["rt"], 0, q["rx"], q["rx"] + q["rt"], "rt", "rib:" if names else "")
            w.length("front", q["rx"], 0, 0, q["rx"], "rx")
            w.length("side", q["rz"], 2, 0, q["rz"], "rz")
            w.length("side", q["u"] + 14 * k, 1, y - 14 * k, q["d"], "u")
        else:
            w.step("round", edges={"near": [[q["w"] / 2, q["d"] - q["u"], q["t"]]]}, radius=q["r"])
            w.sized("side", f"R{w.n(q['r'])}", "r", "fillet", w.n(q["r"]))

    return p, make


def _stepped(rng: random.Random, unit: str) -> tuple[Params, Callable[[Writer, Params], None]]:
    m = partial(_menu, rng, unit)
    k = 1.0 if unit == "mm" else 1 / 24
    p: Params = {
        "w": m(70, 120),
        "d": m(36, 60),
        "h": m(36, 56),
        "x1": m(16, 24),
        "z1": m(14, 22),
        "x2": m(40, 52),
        "z2": m(24, 32),
        "d1": rng.choice([6, 8, 10]) * k,
        "hy": m(12, 20),
        "hx": m(8, 11),
        "sd": rng.choice([8, 10]) * k,
        "sz": m(8, 11),
        "sy": m(14, 24),
        "sdep": m(14, 24),
        "gz": m(5, 8),
        "gw": m(6, 10),
        "gx": m(56, 60),
    }
    groove, chain = rng.random() < 0.6, rng.random() < 0.4

    def make(w: Writer, q: Params) -> None:
        w.step(
            "extrude",
            mode="add",
            distance=-q["d"],
            profile={
                "plane": "XZ",
                "outer": {
                    "polygon": [
                        [0, 0],
                        [q["w"], 0],
                        [q["w"], q["h"]],
                        [q["x2"], q["h"]],
                        [q["x2"], q["z2"]],
                        [q["x1"], q["z2"]],
                        [q["x1"], q["z1"]],
                        [0, q["z1"]],
                    ]
                },
            },
        )
        w.length("front", q["w"], 0, 0, q["w"], "w", "OVERALL")
        w.length("side", q["d"], 1, 0, q["d"], "d")
        w.length("front", q["h"], 2, 0, q["h"], "h")
        w.length("front", q["x1"], 0, 0, q["x1"], "x1")
        w.length("front", q["x2"] - q["x1"] if chain else q["x2"], 0, q["x1"] if chain else 0, q["x2"], "x2")
        w.length("front", q["z1"], 2, 0, q["z1"], "z1")
        w.length("front", q["z2"] - q["z1"] if chain else q["z2"], 2, q["z1"] if chain else 0, q["z2"], "z2")
        w.step("hole", at=[[q["hx"], q["hy"], q["z1"]]], axis=UP, diameter=q["d1"], through=True)
        w.feature("top", f"⌀{w.n(q['d1'])} THRU", "d1", [[q["hx"], q["hy"], 0]], w.n(q["d1"]))
        w.length("top", q["hx"], 0, 0, q["hx"], "hx")
        w.length("top", q["hy"], 1, 0, q["hy"], "hy")
        w.step("hole", at=[[q["w"], q["sy"], q["sz"]]], axis=X, diameter=q["sd"], depth=q["sdep"], point=118)
        w.feature("right", f"⌀{w.n(q['sd'])} ↧{w.n(q['sdep'])}", "sdep", [[0, q["sy"], q["sz"]]], w.n(q["sdep"]))
        w.length("right", q["sy"], 1, 0, q["sy"], "sy")
        w.length("right", q["sz"], 2, 0, q["sz"], "sz")
        if groove:
            w.block(q["gx"], -k, q["h"] - q["gz"], q["gw"], q["d"] + 2 * k, 2 * q["gz"], "cut")
            w.length("front", q["gx"], 0, 0, q["gx"], "gx")
            w.length("front", q["gw"], 0, q["gx"], q["gx"] + q["gw"], "gw", rng_word)
            w.length("front", q["gz"], 2, q["h"] - q["gz"], q["h"], "gz", rng_deep)

    rng_word, rng_deep = rng.choice(["", "WIDE"]), rng.choice(["", "DEEP"])
    rng_deep = ""
    rng_word = ""
    return p, make


def _turned(rng: random.Random, unit: str) -> tuple[Params, Callable[[Writer, Params], None]]:
    m = partial(_menu, rng, unit)
    k = 1.0 if unit == "mm" else 1 / 24
    p: Params = {
        "d1": m(50, 70),
        "l1": m(10, 16),
        "d2": m(28, 36),
        "l2": m(34, 46),
        "d3": m(16, 24),
        "l3": m(60, 80),
        "b": rng.choice([6, 8, 10]) * k,
        "bz": m(16, 24),
        "pc": m(42, 46),
        "hd": rng.choice([4, 5]) * k,
        "gw": rng.choice([2, 3, 4]) * k,
        "gd": 0.0,
        "c": rng.choice([1, 1.5, 2]) * k,
    }
    p["gd"] = p["d2"] - rng.choice([2, 3, 4]) * k
    ring, groove, thru, shoulder = rng.random() < 0.6, rng.random() < 0.5, rng.random() < 0.5, rng.random() < 0.4
    count = rng.choice([3, 4, 6])

    def make(w: Writer, q: Params) -> None:
        ls = [0, q["l1"], q["l2"], q["l3"]]
        w.step(
            "revolve",
            angle=360,
            axis={"point": [0, 0, 0], "direction": UP},
            profile={
                "plane": "XZ",
                "outer": {
                    "polygon": [
                        [0, 0],
                        [q["d1"] / 2, 0],
                        [q["d1"] / 2, ls[1]],
                        [q["d2"] / 2, ls[1]],
                        [q["d2"] / 2, ls[2]],
                        [q["d3"] / 2, ls[2]],
                        [q["d3"] / 2, ls[3]],
                        [0, ls[3]],
                    ]
                },
            },
        )
        w.feature("front", f"⌀{w.n(q['d1'])}", "d1", [[0, 0, q["l1"] / 2]], w.n(q["d1"]))
        w.feature("front", f"⌀{w.n(q['d2'])}", "d2", [[0, 0, (ls[1] + ls[2]) / 2]], w.n(q["d2"]))
        w.feature("front", f"⌀{w.n(q['d3'])}", "d3", [[0, 0, (ls[3] + ls[2]) / 2]], w.n(q["d3"]))
        w.length("front", q["l3"], 2, 0, ls[3], "l3")
        w.length("front", q["l1"], 2, 0, ls[1], "l1")
        w.length("front", q["l2"] - q["l1"] if shoulder else q["l2"], 2, ls[1] if shoulder else 0, ls[2], "l2")
        bore: dict[str, Any] = {"at": [[0, 0, ls[3]]], "axis": UP, "diameter": q["b"]}
        w.step("hole", **bore, **({"through": True} if thru else {"depth": q["bz"], "point": 0}))
        w.feature(
            "front",
            f"⌀{w.n(q['b'])} THRU" if thru else f"⌀{w.n(q['b'])} ↧{w.n(q['bz'])}",
            "b",
            [[0, 0, ls[3] - k]],
            w.n(q["b"]),
        )
        if ring:
            w.step("hole", at=[[q["pc"] / 2, 0, ls[1]]], axis=UP, diameter=q["hd"], through=True)
            w.step(
                "ring", axis={"point": [0, 0, 0], "direction": UP}, count=count, angle=360, steps=[w.steps[-1]["name"]]
            )
            w.feature(
                "top",
                f"{count}x ⌀{w.n(q['hd'])} THRU EQ SP ON ⌀{w.n(q['pc'])} PCD",
                "pc",
                [[q["pc"] / 2, 0, 0]],
                w.n(q["pc"]),
            )
        if groove:
            w.step(
                "revolve",
                mode="cut",
                angle=360,
                axis={"point": [0, 0, 0], "direction": UP},
                profile={"plane": "XZ", "outer": {"rect": [q["gd"] / 2, ls[1], q["d2"], q["gw"]]}},
            )
            w.feature(
                "front", f"UNDERCUT {w.n(q['gw'])} × ⌀{w.n(q['gd'])}", "gw", [[0, 0, ls[1] + q["gw"] / 2]], w.n(q["gw"])
            )
        w.step("chamfer", edges={"near": [[-q["d3"] / 2, 0, ls[3]]]}, leg=q["c"])
        w.sized("front", f"{w.n(q['c'])} × 45°", "c", "chamfer", w.n(q["c"]))

    return p, make


def _yoke(rng: random.Random, unit: str) -> tuple[Params, Callable[[Writer, Params], None]]:
    m = partial(_menu, rng, unit)
    k = 1.0 if unit == "mm" else 1 / 24
    p: Params = {
        "w": m(50, 80),
        "d": m(36, 56),
        "h": m(44, 64),
        "t": m(8, 14),
        "b": m(10, 16),
        "pd": rng.choice([10, 12, 14]) * k,
        "pz": m(30, 36),
        "sx": 0.0,
        "d1": rng.choice([5, 6, 8]) * k,
        "hy": m(10, 14),
        "r": rng.choice([4, 5, 6]) * k,
    }
    p["py"] = p["d"] / 2 if rng.random() < 0.6 else m(14, 18)
    gap_said, taps = rng.random() < 0.5, rng.random() < 0.5
    p |= {"tz": m(6, 8)} if taps else {}

    def make(w: Writer, q: Params) -> None:
        w.block(0, 0, 0, q["w"], q["d"], q["h"])
        w.block(q["t"], -k, q["b"], q["w"] - 2 * q["t"], q["d"] + 2 * k, q["h"], "cut")
        w.length("front", q["w"], 0, 0, q["w"], "w")
        w.length("side", q["d"], 1, 0, q["d"], "d")
        w.length("front", q["h"], 2, 0, q["h"], "h", "OVERALL")
        w.length("front", q["t"], 0, 0, q["t"], "t")
        if gap_said:
            w.length("front", q["w"] - 2 * q["t"], 0, q["t"], q["w"] - q["t"], "t")
        else:
            w.length("front", q["t"], 0, q["w"] - q["t"], q["w"], "t")
        w.length("front", q["b"], 2, 0, q["b"], "b")
        w.step("hole", at=[[q["w"], q["py"], q["pz"]]], axis=X, diameter=q["pd"], through=True)
        w.feature("side", f"⌀{w.n(q['pd'])} THRU", "pd", [[0, q["py"], q["pz"]]], w.n(q["pd"]))
        w.length("side", q["py"], 1, 0, q["py"], "py")
        w.length("side", q["pz"], 2, 0, q["pz"], "pz")
        x = q["w"] / 2
        at = [[x, q["hy"], q["b"]], [x, q["d"] - q["hy"], q["b"]]]
        w.step(
            "hole",
            at=at,
            axis=UP,
            diameter=q["d1"],
            **({"depth": q["tz"], "point": 118} if taps else {"through": True}),
        )
        w.feature(
            "top", f"2x ⌀{w.n(q['d1'])} ↧{w.n(q['tz'])}" if taps else f"2x ⌀{w.n(q['d1'])} THRU", "d1", at, w.n(q["d1"])
        )
        w.length("top", x, 0, 0, x, "w", "TO CENTRE")
        w.length("top", q["hy"], 1, 0, q["hy"], "hy")
        w.length("top", q["d"] - 2 * q["hy"], 1, q["hy"], q["d"] - q["hy"], "hy")
        w.step(
            "round",
            edges={
                "near": [
                    [q["t"] / 2, 0, q["h"]],
                    [q["t"] / 2, q["d"], q["h"]],
                    [q["w"] - q["t"] / 2, 0, q["h"]],
                    [q["w"] - q["t"] / 2, q["d"], q["h"]],
                ]
            },
            radius=q["r"],
        )
        w.sized("side", f"4x R{w.n(q['r'])}", "r", "fillet", w.n(q["r"]))

    return p, make


def _wedge(rng: random.Random, unit: str) -> tuple[Params, Callable[[Writer, Params], None]]:
    m = partial(_menu, rng, unit)
    k = 1.0 if unit == "mm" else 1 / 24
    import math

    p: Params = {
        "w": m(60, 100),
        "d": m(30, 50),
        "h": m(36, 50),
        "x1": m(20, 30),
        "a": float(rng.choice([30, 35, 40, 50, 60])),
        "d1": rng.choice([6, 8]) * k,
        "hx": m(8, 12),
        "hy": m(10, 14),
        "d2": rng.choice([5, 6]) * k,
        "cz": m(4, 6),
    }
    by_angle = rng.random() < 0.6
    pocket = rng.random() < 0.5
    p |= {"pw": m(14, 20), "pl": m(14, 20), "pz": m(4, 6), "px": m(4, 8)} if pocket else {}

    def make(w: Writer, q: Params) -> None:
        rise = (q["w"] - q["x1"]) / math.tan(math.radians(q["a"]))
        low = q["h"] - min(rise, q["h"] * 0.7)
        x1 = q["w"] - (q["h"] - low) * math.tan(math.radians(q["a"]))
        w.step(
            "extrude",
            mode="add",
            distance=-q["d"],
            profile={
                "plane": "XZ",
                "outer": {"polygon": [[0, 0], [q["w"], 0], [q["w"], low], [x1, q["h"]], [0, q["h"]]]},
            },
        )
        w.length("front", q["w"], 0, 0, q["w"], "w")
        w.length("side", q["d"], 1, 0, q["d"], "d")
        w.length("front", q["h"], 2, 0, q["h"], "h")
        w.length("front", round(x1, 3), 0, 0, x1, "x1")
        if by_angle:
            said = f"{q['a']:g}°"
            w.lines.append(SourceLine("front", said, "a", Truth(kind="lean"), said))
        else:
            w.length("front", round(low, 3), 2, 0, low, "a")
        w.step("hole", at=[[q["hx"], q["hy"], q["h"]]], axis=UP, diameter=q["d1"], through=True)
        w.feature("top", f"⌀{w.n(q['d1'])} THRU", "d1", [[q["hx"], q["hy"], 0]], w.n(q["d1"]))
        w.length("top", q["hx"], 0, 0, q["hx"], "hx")
        w.length("top", q["hy"], 1, 0, q["hy"], "hy")
        if pocket:
            w.block(q["px"] + q["hx"] + 6 * k, -k, -k, q["pl"], q["d"] + 2 * k, q["pz"] + k, "cut")
            a = q["px"] + q["hx"] + 6 * k
            w.length("front", q["pl"], 0, a, a + q["pl"], "pl")
            w.length("front", a, 0, 0, a, "px")
            w.length("front", q["pz"], 2, 0, q["pz"], "pz")

    return p, make


def _bossed(rng: random.Random, unit: str) -> tuple[Params, Callable[[Writer, Params], None]]:
    m = partial(_menu, rng, unit)
    k = 1.0 if unit == "mm" else 1 / 24
    p: Params = {
        "w": m(80, 120),
        "d": m(60, 80),
        "h": m(10, 16),
        "bd": m(24, 32),
        "bz": m(24, 36),
        "bx": m(28, 36),
        "b": rng.choice([10, 12, 14]) * k,
        "n": float(rng.choice([3, 4, 5])),
        "pi": m(10, 14),
        "d1": rng.choice([4, 5, 5.5]) * k,
        "rx": m(54, 60),
        "ry": m(10, 14),
        "r": rng.choice([2, 3, 4]) * k,
    }
    p["by"] = p["d"] / 2 if rng.random() < 0.5 else m(26, 34)
    while p["rx"] + (p["n"] - 1) * p["pi"] > p["w"] - 6 * k:
        p["n"] -= 1
    if p["n"] < 3:
        p["n"], p["pi"] = 3.0, 8 * k if unit == "mm" else 0.25
        p["rx"] = p["w"] - p["pi"] * 2 - (10 if unit == "mm" else 0.375)
    sunk = rng.random() < 0.5

    def make(w: Writer, q: Params) -> None:
        n = int(q["n"])
        w.block(0, 0, 0, q["w"], q["d"], q["h"])
        w.step(
            "extrude",
            mode="add",
            distance=q["bz"] - q["h"],
            profile={
                "plane": {"origin": [0, 0, q["h"]], "x": X, "normal": UP},
                "outer": {"circle": [q["bx"], q["by"], q["bd"]]},
            },
        )
        w.length("front", q["w"], 0, 0, q["w"], "w", "overall")
        w.length("top", q["d"], 1, 0, q["d"], "d")
        w.length("front", q["h"], 2, 0, q["h"], "h", "THICK")
        w.length("front", q["bz"], 2, 0, q["bz"], "bz")
        w.feature("top", f"⌀{w.n(q['bd'])}", "bd", [[q["bx"], q["by"], (q["h"] + q["bz"]) / 2]], w.n(q["bd"]))
        w.step("hole", at=[[q["bx"], q["by"], q["bz"]]], axis=UP, diameter=q["b"], through=True)
        w.feature("top", f"⌀{w.n(q['b'])} THRU", "b", [[q["bx"], q["by"], 0]], w.n(q["b"]))
        w.length("top", q["bx"], 0, 0, q["bx"], "bx")
        w.length("top", q["by"], 1, 0, q["by"], "by")
        at = [[q["rx"] + i * q["pi"], q["ry"], q["h"]] for i in range(n)]
        w.step(
            "hole",
            at=at,
            axis=UP,
            diameter=q["d1"],
            through=True,
            **({"countersink": {"diameter": 2 * q["d1"], "angle": 90}} if sunk else {}),
        )
        w.feature(
            "top",
            f"{n}x ⌀{w.n(q['d1'])} THRU" + (f" ⌵⌀{w.n(2 * q['d1'])} × 90°" if sunk else ""),
            "d1",
            at,
            w.n(q["d1"]),
        )
        w.length("top", q["rx"], 0, 0, q["rx"], "rx")
        w.length("top", q["ry"], 1, 0, q["ry"], "ry")
        w.length("top", q["pi"], 0, q["rx"], q["rx"] + q["pi"], "pi", "PITCH")
        w.step("round", edges={"near": [[q["bx"] - q["bd"] / 2, q["by"], q["h"]]]}, radius=q["r"])
        w.sized("front", f"R{w.n(q['r'])}", "r", "fillet", w.n(q["r"]))

    return p, make


FAMILIES: dict[str, Callable[[random.Random, str], tuple[Params, Callable[[Writer, Params], None]]]] = {
    "plate": _plate,
    "bracket": _bracket,
    "stepped": _stepped,
    "turned": _turned,
    "yoke": _yoke,
    "wedge": _wedge,
    "bossed": _bossed,
}


def draw_part(seed: int) -> Sourced:
    """A random part of a random family; every fourth in inches."""
    rng = random.Random(seed)
    family = list(FAMILIES)[seed % len(FAMILIES)]
    unit = "in" if rng.random() < 0.25 else "mm"
    params, make = FAMILIES[family](rng, unit)
    return Sourced(family, unit, params, make, seed % 3)


def specification(written: Writer, general: str = "") -> str:
    """The source of a part as text."""
    head = f"unit: {written.unit}\n" + (f"general: {general}\n" if general else "")
    rows = [f"{k} | sheet 1 {line.where} | {line.text}" for k, line in enumerate(written.lines, start=1)]
    return head + "[characteristics]\n" + "\n".join(rows) + "\n"
