"""Random parts, the slips people make in modelling them, and what people do to a finished sheet."""

import copy
import random
from collections.abc import Callable, Iterator
from functools import partial
from typing import Any

from canonis.core.sheet import Leader, Linear, Note, Ordinate, SheetDocument, meaning, worded

__all__ = ["MODEL_SLIPS", "SHEET_EDITS", "model_slips", "random_part", "sheet_edits"]

Recipe = dict[str, Any]
#: Slips of the field guide that a model can show, by their numbers.
MODEL_SLIPS = (
    "S01 number", "S04 radius", "S05 half", "S10 missing", "S10 one more", "S11 blind", "S11 shallow", "S12 far face",
    "S12 both faces", "S12 seat left out", "S14 countersink", "S15 round missing", "S16 round more", "S18 off centre", "S07 ten",
)  # fmt: skip
SHEET_EDITS = (
    "number", "count", "THRU", "statement gone", "said twice", "closing member", "scale", "projection", "mass", "note unit",
    "two datums", "wrong geometry",
)  # fmt: skip


def _block(rng: random.Random) -> tuple[Recipe, tuple[int, int, int]]:
    w, d, h = rng.randrange(60, 140, 2), rng.randrange(40, 90, 2), rng.randrange(12, 36, 2)
    return {
        "name": "blank",
        "op": "extrude",
        "profile": {"plane": "XY", "outer": {"rect": [0, 0, w, d]}},
        "distance": h,
    }, (w, d, h)


def _prismatic(rng: random.Random) -> list[Recipe]:
    blank, (w, d, h) = _block(rng)
    steps = [blank]
    up = [0, 0, 1]
    edge = 12
    kinds = rng.sample(["corner", "row", "blind", "sunk", "slot", "step", "rounds", "bevel"], rng.randrange(3, 6))
    if "step" in kinds:
        deep = rng.randrange(4, h // 2 + 1)
        steps.append(
            {
                "name": "step",
                "op": "extrude",
                "mode": "cut",
                "distance": -d,
                "profile": {"plane": "XZ", "outer": {"rect": [0, h - deep, w // 4, deep]}},
            }
        )
    if "corner" in kinds:
        seat = rng.choice([None, {"diameter": 11, "depth": rng.choice([3, 5, 6.5])}])
        left = w // 4 + edge if "step" in kinds else edge
        hole = {
            "name": "corner",
            "op": "hole",
            "at": [[x, y, h] for x in (left, w - edge) for y in (edge, d - edge)],
            "axis": up,
            "diameter": rng.choice([5.5, 6.6, 7]),
            "through": True,
        }
        steps.append({**hole, **({"counterbore": seat} if seat else {})})
    middle = d / 2 + rng.choice([0, 1.5, -2])
    if "row" in kinds:
        n = rng.randrange(2, 4)
        steps.append(
            {
                "name": "row",
                "op": "hole",
                "at": [[w / 2 - 9 + 9 * k, middle, h] for k in range(n)],
                "axis": up,
                "diameter": 4.2,
                "through": True,
            }
        )
    if "blind" in kinds:
        steps.append(
            {
                "name": "blind",
                "op": "hole",
                "at": [[w - edge - 14, middle, h]],
                "axis": up,
                "diameter": 8,
                "depth": rng.randrange(4, h - 4),
                "point": rng.choice([0, 118]),
            }
        )
    if "sunk" in kinds:
        steps.append(
            {
                "name": "sunk",
                "op": "hole",
                "at": [[w / 2 - 20, middle, h]],
                "axis": up,
                "diameter": 5,
                "through": True,
                "countersink": {"diameter": rng.choice([9, 10]), "angle": 90},
            }
        )
    if "slot" in kinds:
        steps.append(
            {
                "name": "slot",
                "op": "extrude",
                "mode": "cut",
                "distance": -rng.randrange(3, h - 4),
                "profile": {
                    "plane": {"origin": [0, 0, h], "x": [1, 0, 0], "normal": up},
                    "outer": {"slot": [w / 2 - 6, d - 9, w / 2 + rng.randrange(6, 14), d - 9, 6]},
                },
            }
        )
    if "rounds" in kinds:
        corners = [[w, 0, h / 2], [w, d, h / 2]] + ([] if "step" in kinds else [[0, 0, h / 2], [0, d, h / 2]])
        steps.append({"name": "rounds", "op": "round", "edges": {"near": corners}, "radius": rng.choice([3, 4, 5])})
    elif "bevel" in kinds:
        steps.append(
            {"name": "bevel", "op": "chamfer", "edges": {"near": [[w, d / 2, h]]}, "leg": rng.choice([1.5, 2, 3])}
        )
    return steps


def _turned(rng: random.Random) -> list[Recipe]:
    n = rng.randrange(2, 5)
    radii = sorted(rng.sample(range(6, 30), n), reverse=True)
    if n > 2 and rng.random() < 0.5:
        radii[0], radii[1] = radii[1], radii[0]
    z, outline = 0.0, [[0.0, 0.0]]
    for r in radii:
        outline.append([float(r), z])
        z += rng.randrange(6, 24)
        outline.append([float(r), z])
    outline.append([0.0, z])
    steps: list[Recipe] = [
        {
            "name": "blank",
            "op": "revolve",
            "angle": 360,
            "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
            "profile": {"plane": "XZ", "outer": {"polygon": outline}},
        }
    ]
    if rng.random() < 0.7:
        bore = {
            "name": "bore",
            "op": "hole",
            "at": [[0, 0, z]],
            "axis": [0, 0, 1],
            "diameter": float(rng.randrange(3, min(radii[-1], 9))),
        }
        steps.append({**bore, **({"through": True} if rng.random() < 0.5 else {"depth": z / 3, "point": 0})})
    flange = max(radii)
    if flange > 20 and radii[0] == flange and radii[1] < flange - 9:
        at = (flange + radii[1]) / 2
        top = outline[2][1]
        steps.append(
            {"name": "bolts", "op": "hole", "at": [[at, 0, top]], "axis": [0, 0, 1], "diameter": 4, "through": True}
        )
        steps.append(
            {
                "name": "ring",
                "op": "ring",
                "axis": {"point": [0, 0, 0], "direction": [0, 0, 1]},
                "count": rng.choice([4, 6]),
                "angle": 360,
                "steps": ["bolts"],
            }
        )
    return steps


def random_part(seed: int) -> Recipe:
    """A recipe: every third one turned, every fourth one in inches."""
    rng = random.Random(seed)
    steps = _turned(rng) if seed % 3 == 2 else _prismatic(rng)
    unit = "in" if seed % 4 == 3 else "mm"
    made: Recipe = {"schema": "canonis.recipe/1", "unit": unit, "name": f"part {seed}", "density": 2.7, "steps": steps}
    return _in_inches(made) if unit == "in" else made


def _in_inches(node: Any, key: str = "") -> Any:
    """The same part with its lengths in eighths of an inch for every 3 mm, so that its sizes stay plain."""
    if isinstance(node, dict):
        return {
            k: v
            if k in ("axis", "direction", "normal", "x", "angle", "point", "density", "count") and not _is_place(k, v)
            else _in_inches(v, k)
            for k, v in node.items()
        }
    if isinstance(node, list):
        return [_in_inches(v, key) for v in node]
    return node / 24 if isinstance(node, int | float) and not isinstance(node, bool) else node


def _is_place(key: str, value: Any) -> bool:
    return key == "axis" and isinstance(value, dict) and any(value["point"])


def _set(steps: list[Recipe], n: int, **values: Any) -> None:
    steps[n].update(values)


def _thicker(steps: list[Recipe], by: float) -> None:
    """Another thickness of the blank; what stands on its top face goes with it."""
    top = steps[0]["distance"]
    steps[0]["distance"] += by
    for step in steps[1:]:
        places = [*step.get("at", []), *(step.get("edges") or {}).get("near", [])]
        plane = (step.get("profile") or {}).get("plane")
        if isinstance(plane, dict):
            places.append(plane["origin"])
        for place in places:
            if abs(place[2] - top) < 1e-9:
                place[2] += by
            elif abs(place[2] - top / 2) < 1e-9:
                place[2] += by / 2
        rect = (step.get("profile") or {}).get("outer", {}).get("rect")
        if step["name"] == "step":
            rect[1] += by


def _fewer(steps: list[Recipe], n: int) -> None:
    steps[n]["edges"]["near"].pop()


def model_slips(part: Recipe) -> Iterator[tuple[str, Recipe]]:
    """The part with one slip each, by the name of the slip."""
    k = 1 / 24 if part["unit"] == "in" else 1.0

    def made(name: str, change: Callable[[list[Recipe]], None]) -> Iterator[tuple[str, Recipe]]:
        other = copy.deepcopy(part)
        change(other["steps"])
        yield name, other

    for n, step in enumerate(part["steps"]):
        if step["op"] == "extrude" and n == 0:
            yield from made("S01 number", partial(_thicker, by=k))
            yield from made("S05 half", partial(_thicker, by=-step["distance"] / 2))
        if step["op"] == "revolve":

            def longer(s: list[Recipe]) -> None:
                outline = s[0]["profile"]["outer"]["polygon"]
                top = max(p[1] for p in outline)
                for p in outline:
                    p[1] += k * (p[1] == top)

            yield from made("S01 number", longer)
        if step["op"] == "hole":
            yield from _hole_slips(step, n, k, made)
        if step["op"] == "round":
            yield from made("S15 round missing", partial(_fewer, n=n))
            yield from made("S04 radius", partial(_set, n=n, radius=step["radius"] / 2))
        if step["op"] == "chamfer":
            yield from made("S01 number", partial(_set, n=n, leg=step["leg"] + k / 2))
        if step["name"] == "slot":
            yield from made("S01 number", partial(_set, n=n, distance=step["distance"] - k))
    if part["steps"][0]["op"] == "extrude" and not any(s["op"] in ("round", "chamfer") for s in part["steps"]):
        w, d = part["steps"][0]["profile"]["outer"]["rect"][2:]
        h = part["steps"][0]["distance"]
        rounded = {"name": "extra", "op": "round", "edges": {"near": [[w, d, h / 2]]}, "radius": 3 * k}
        yield from made("S16 round more", lambda s: s.append(rounded))


def _hole_slips(step: Recipe, n: int, k: float, made: Any) -> Iterator[tuple[str, Recipe]]:
    first = step["at"][0]
    yield from made("S04 radius", lambda s: s[n].update(diameter=s[n]["diameter"] / 2))
    yield from made("S07 ten", lambda s: s[n].update(diameter=s[n]["diameter"] / 10))
    yield from made("S18 off centre", lambda s: s[n]["at"].__setitem__(0, [first[0] + 0.6 * k, *first[1:]]))
    if len(step["at"]) > 1:
        yield from made("S10 missing", lambda s: s[n]["at"].pop())
        a, b = step["at"][0], step["at"][-1]
        between = [(x + 2 * y) / 3 for x, y in zip(a, b, strict=True)]
        if step["name"] == "corner":
            yield from made("S10 one more", lambda s: s[n]["at"].append(between))
    if step.get("through"):
        for name, depth in (("S11 blind", 7.0), ("S11 shallow", 1.0)):

            def shut(s: list[Recipe], depth: float = depth) -> None:
                s[n].pop("through")
                deepest = max((s[n].get("counterbore") or {}).get("depth", 0.0), 0.0)
                s[n].update(depth=deepest + depth * k)

            if "countersink" not in step:
                yield from made(name, shut)
    if "counterbore" in step:
        yield from made("S12 far face", lambda s: s[n].update({"counterbore-far": s[n].pop("counterbore")}))
        yield from made("S12 both faces", lambda s: s[n].update({"counterbore-far": dict(s[n]["counterbore"])}))
        yield from made("S12 seat left out", lambda s: s[n].pop("counterbore"))
    if "countersink" in step:
        yield from made("S14 countersink", lambda s: s[n]["countersink"].update(angle=82))
        yield from made("S12 seat left out", lambda s: s[n].pop("countersink"))
    if "depth" in step:
        yield from made("S01 number", lambda s: s[n].update(depth=s[n]["depth"] + k))


def sheet_edits(document: SheetDocument, rng: random.Random) -> Iterator[tuple[str, SheetDocument]]:
    """The sheet with one thing done to it, by the name of what was done."""
    marks = document.annotations

    def put(name: str, *changed: Any, gone: tuple[str, ...] = ()) -> Iterator[tuple[str, SheetDocument]]:
        by_id = {c.id: c for c in changed}
        new = [c for c in changed if c.id not in {m.id for m in marks}]
        kept = tuple(by_id.get(m.id, m) for m in marks if m.id not in gone)
        yield name, document.model_copy(update={"annotations": (*kept, *new)})

    lengths = [m for m in marks if isinstance(m, Linear | Ordinate) and m.text.strip("0.") and not m.reference]
    if lengths:
        mark = rng.choice(lengths)
        digit = next(c for c in mark.text if c in "123456789")
        yield from put("number", worded(mark, mark.text.replace(digit, str(int(digit) % 9 + 1), 1)))
        yield from put("statement gone", gone=(rng.choice(lengths).id,))
        yield from put("said twice", mark.model_copy(update={"id": "D901"}))
    ordinates = [m for m in lengths if isinstance(m, Ordinate)]
    for a in ordinates:
        b = next((o for o in ordinates if o is not a and (o.view, o.direction) == (a.view, a.direction)), None)
        if b is None:
            continue
        value = abs(float(a.text) - float(b.text))
        text = f"{value:.4f}".lstrip("0") if document.unit.value == "in" else f"{value:.3f}".rstrip("0").rstrip(".")
        side = "below" if a.direction == "x" else "left"
        yield from put(
            "closing member",
            Linear(
                id="D900",
                sheet=a.sheet,
                view=a.view,
                direction=a.direction,
                side=side,  # type: ignore[arg-type]
                refs=(a.refs[1], b.refs[1]),
                says=meaning(text, a.unit),
                unit=a.unit,
            ),
        )
        yield from put("wrong geometry", a.model_copy(update={"refs": b.refs}))
        yield from put("two datums", a.model_copy(update={"refs": (b.refs[1], a.refs[1])}))
        break
    notes = [m for m in marks if isinstance(m, Leader) and m.kind == "hole"]
    for note in notes[:1]:
        head = note.text.split()[0]
        text = note.text.replace(head, f"{int(head[:-1]) + 1}×", 1) if head.endswith("×") else f"2× {note.text}"
        yield from put("count", worded(note, text))
        blind = next((m for m in notes if "THRU" not in m.text and "↧" in m.text and "⌴" not in m.text), None)
        if blind is not None:
            size = blind.text.split("↧")
            yield from put("THRU", worded(blind, f"{size[0]}THRU"))
        yield from put("statement gone", gone=(note.id,))
    views = list(document.views)
    views[1] = views[1].model_copy(update={"scale": views[1].scale * 2})
    yield "scale", document.model_copy(update={"views": tuple(views)})
    other = "third" if document.projection == "first" else "first"
    yield "projection", document.model_copy(update={"projection": other})
    yield "mass", document.model_copy(update={"title": document.title.model_copy(update={"mass": "1.234 kg"})})
    general = next((m for m in marks if isinstance(m, Note) and "DIMENSIONS IN" in m.text), None)
    if general is not None:
        words = ("MILLIMETRES", "INCHES") if document.unit.value == "mm" else ("INCHES", "MILLIMETRES")
        yield from put("note unit", worded(general, general.text.replace(*words)))
