"""Matching a source with a part, measured: clean pairs, models that are wrong from the start, wrong lines, chance values.

The parts are generated (`bench/sourced`), many equal numbers in each. Prices are tuned on the even seeds; the figures are
those of the odd ones. They are parts of our own hand all the same: read them as an upper bound for the field.
"""

import random
import time
from collections import Counter
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from canonis.bench.sourced import Sourced, SourceLine, Writer, draw_part, specification

__all__ = ["bench_matching"]

#: A length slips by these; what does not build, or changes what there is, is left away.
_SLIPS = ("double", "half", "one", "swapped", "sixteenth", "digit", "other")
_WORDS = {
    "double": "twice",
    "half": "half the size",
    "one": "off by one|digit misread",
    "swapped": "digits swapped",
    "sixteenth": "off by 1/16|digit",
    "digit": "digit misread|off by one",
    "other": "",
}


@dataclass
class _Case:
    seed: int
    kind: str
    param: str
    slip: str
    lines: list[str]
    states: list[str]
    right: list[bool]
    wrong: list[int]
    slips: list[str]
    lengths: list[bool]
    seconds: float
    findings: int
    unreached: int
    #: Whether the changed line stands in a plausible place where it fits exactly, all of the part still being reached.
    consistent: bool = False


def _step(written: Writer) -> bytes:
    from canonis.core.recipe import build_recipe
    from canonis.core.solid import write_step

    built = build_recipe(written.recipe(), {}, False)
    made: Any = write_step(built.shape, built.name, built.unit)
    return made if isinstance(made, bytes) else str(made).encode()


def _match(data: bytes, text: str, rivals: bool = True) -> tuple[Any, Any, float]:
    from canonis.core.features import recognise
    from canonis.core.proof import match_source
    from canonis.core.shape import shape_of
    from canonis.core.solid import read_model
    from canonis.core.source import read_specification
    from canonis.core.study import hints_of

    solid = max(read_model(data, "part.step").solids, key=lambda s: s.mass.volume)
    found = hints_of(recognise(solid)).features
    shape, _ = shape_of(solid)
    spec = read_specification(text)
    begun = time.perf_counter()
    made = match_source(shape, found, spec.characteristics, spec.rules.unit, rivals=rivals)
    return made, spec, time.perf_counter() - begun


def _is_right(made: Any, number: str, line: SourceLine, scale: float) -> bool:
    """Whether a verdict's measure is the true place of its line; the same on the other side of the middle counts."""
    v = made.verdicts[number]
    truth = line.truth
    if not v.keys:
        return False
    if truth.axis >= 0:
        ends = [e * scale for e in truth.ends]
        if v.keys[0][0] in ("edge", "pitch") and len(v.levels) >= 2:
            lv = made.levels
            values = [n.value for n in v.levels]
            if v.levels[0].way != truth.axis:
                return False
            total = lv.low[truth.axis].value + lv.high[truth.axis].value
            pairs = [(a, b) for a in values for b in values] if v.keys[0][0] == "pitch" else [(values[0], values[1])]
            for a, b in pairs:
                for x, y in ((a, b), (total - b, total - a)):
                    if abs(x - ends[0]) < 5e-3 and abs(y - ends[1]) < 5e-3:
                        return True
            return False
        # The size of a feature whose sides are these levels.
        return v.keys[0][0] == "size" and abs((v.value or 0) - (ends[1] - ends[0])) < 5e-3
    if truth.points:
        for item in v.items:
            for p in truth.points:
                for line_ in item.lines:
                    gap = np.array(p) * scale - line_.point
                    if float(np.linalg.norm(gap - line_.axis * float(gap @ line_.axis))) < 5e-3:
                        return True
                if any(float(np.linalg.norm(np.array(p) * scale - q)) < 1e-2 for q in item.points) or item.kind in (
                    "groove",
                    "slot",
                ):
                    return True
        return False
    if truth.kind == "lean":
        return str(v.keys[0][0]) in ("lean", "between")
    return any(i.kind == truth.kind for i in v.items)


def _slipped(value: float, slip: str, unit: str, rng: random.Random) -> float | None:
    text = f"{value:g}" if unit == "mm" else f"{value:.4f}".rstrip("0")
    if slip == "double":
        return value * 2
    if slip == "half":
        return value / 2
    if slip == "one":
        return None if unit == "in" else value + rng.choice([-1, 1])
    if slip == "sixteenth":
        return None if unit == "mm" else value + rng.choice([-1, 1]) / 16
    if slip == "other":
        return round(value * rng.choice([0.8, 0.9, 1.1, 1.2]), 0 if unit == "mm" else 3) or None
    places = [k for k, c in enumerate(text) if c.isdigit()]
    if slip == "swapped":
        pairs = [(i, j) for i, j in pairwise(places) if text[i] != text[j] and j - i <= 2]
        if not pairs:
            return None
        i, j = rng.choice(pairs)
        digits = list(text)
        digits[i], digits[j] = digits[j], digits[i]
        return float("".join(digits)) or None
    k = rng.choice(places)
    new = int(text[k]) + rng.choice([-1, 1])
    if not 0 <= new <= 9:
        return None
    return float(text[:k] + str(new) + text[k + 1 :]) or None


def _volumes(part: Sourced, params: dict[str, float]) -> bytes | None:
    """The part with other parameters, when it is one valid solid with the same features still."""
    from canonis.core.faults import BadInput
    from canonis.core.solid import read_model

    try:
        data = _step(part.written(params))
        solids = read_model(data, "part.step").solids
    except (BadInput, ArithmeticError, ValueError):
        return None
    return data if len(solids) == 1 and solids[0].valid else None


def _faces(data: bytes) -> int:
    from canonis.core.solid import read_model

    return len(read_model(data, "part.step").solids[0].faces)


def _case(
    seed: int,
    kind: str,
    param: str,
    slip: str,
    data: bytes,
    lines: list[SourceLine],
    text: str,
    wrong: list[int],
    unit: str,
    true: list[SourceLine],
) -> _Case:
    made, _, seconds = _match(data, text)
    scale = 25.4 if unit == "in" else 1.0
    numbers = [str(k) for k in range(1, len(lines) + 1)]
    verdicts = [made.verdicts[n] for n in numbers]
    named = {n for one in made.contradictions for n in (one[0],)}
    states = [
        ("contradiction" if n in named and v.state == "differs" else v.state)
        for n, v in zip(numbers, verdicts, strict=True)
    ]
    alike = [
        [
            j
            for j in range(len(lines))
            if lines[j].written == line.written and (true[j].truth.axis >= 0) is (true[k].truth.axis >= 0)
        ]
        or [k]
        for k, line in enumerate(lines)
    ]
    # Lines of one value may change places.
    right = [any(_is_right(made, numbers[j], true[k], scale) for j in {*alike[k], k}) for k in range(len(lines))]
    for k in wrong:
        if states[k] == "fits":
            twin = next((j for j in alike[k] if j not in wrong and states[j] != "fits"), None)
            if twin is not None:
                states[k], states[twin] = states[twin], "group"
    slips = [v.slip + "|" + "|".join(d.slip for d in v.differences) for v in verdicts]
    findings = sum(s in ("differs", "no-place") for s in states) + bool(made.unreached) + len(made.unexplained)
    return _Case(
        seed,
        kind,
        param,
        slip,
        [line.text for line in lines],
        states,
        right,
        wrong,
        slips,
        [t.truth.axis >= 0 for t in true],
        seconds,
        findings,
        len(made.unreached),
        bool(wrong) and not made.unreached and not made.unexplained,
    )


def _cases(seed: int, tries: int) -> Iterator[_Case]:
    """All cases of one part."""
    rng = random.Random(seed * 7919 + 1)
    part = draw_part(seed)
    base = part.written()
    data = _volumes(part, part.params)
    if data is None:
        return
    count = _faces(data)
    text = specification(base)
    clean = _case(seed, "clean", "", "", data, base.lines, text, [], part.unit, base.lines)
    yield clean
    params = [k for k in part.params if k not in ("n", "sx")]
    done = 0
    for _ in range(tries * 6):
        if done >= tries:
            break
        param, slip = rng.choice(params), rng.choice(_SLIPS)
        value = _slipped(part.params[param], slip, part.unit, rng)
        if value is None or abs(value - part.params[param]) < 1e-6 or (param == "a" and not 15 < value < 75):
            continue
        wrong_params = {**part.params, param: value}
        other = part.written(wrong_params)
        wrong = [k for k, (a, b) in enumerate(zip(base.lines, other.lines, strict=False)) if a.text != b.text]
        made = _volumes(part, wrong_params) if wrong and len(other.lines) == len(base.lines) else None
        if made is None or _faces(made) != count:
            continue
        done += 1
        yield _case(seed, "model", param, slip, made, base.lines, text, wrong, part.unit, other.lines)
    # One line of the source written wrong, the model right.
    for kind in ("source", "chance"):
        done = 0
        for _ in range(tries * 6):
            if done >= tries:
                break
            k = rng.randrange(len(base.lines))
            line = base.lines[k]
            if not line.written or (kind == "chance" and line.truth.axis < 0):
                continue
            old = float(line.written.rstrip("°")) if line.written[0].isdigit() or line.written[0] == "." else None
            if old is None:
                continue
            slip = rng.choice(_SLIPS) if kind == "source" else "chance"
            new = _slipped(old, slip, part.unit, rng) if kind == "source" else _chance(base, rng)
            if new is None or abs(new - old) < 1e-3 or new <= 0:
                continue
            lines = list(base.lines)
            text = f"{new:g}°" if line.written.endswith("°") else base.n(new)
            lines[k] = SourceLine(line.where, line.text.replace(line.written, text, 1), line.param, line.truth, text)
            writer = Writer(part.unit, 0)
            writer.lines = lines
            done += 1
            yield _case(seed, kind, line.param, slip, data, lines, specification(writer), [k], part.unit, base.lines)


def _chance(base: Writer, rng: random.Random) -> float:
    """Another difference of two levels of the part along one direction."""
    axis = rng.randrange(3)
    levels = sorted({round(e, 4) for line in base.lines if line.truth.axis == axis for e in line.truth.ends})
    if len(levels) < 2:
        return 0.0
    a, b = rng.sample(levels, 2)
    return round(abs(a - b), 4)


def _part_cases(job: tuple[int, int]) -> list[_Case]:
    try:
        return list(_cases(*job))
    except Exception as fault:  # one part must not end the run; it is printed
        print(f"part {job[0]}: {type(fault).__name__}: {fault}", flush=True)
        return []


def _share(part: int, whole: int) -> str:
    return f"{part} of {whole} ({100 * part / whole:.0f} %)" if whole else "none"


def bench_matching(
    quick: bool = False, first: int = 1, parts: int = 0, step: int = 2, verbose: bool = False
) -> dict[str, Any]:
    """Match generated sources with generated parts; prints the tables and gives the shares."""
    parts = parts or (14 if quick else 42)
    tries = 3 if quick else 5
    seeds = [first + step * k for k in range(parts)]
    with ProcessPoolExecutor(2) as pool:
        cases = [c for made in pool.map(_part_cases, [(s, tries) for s in seeds]) for c in made]
    clean = [c for c in cases if c.kind == "clean"]
    lines = sum(len(c.lines) for c in clean)
    placed = sum(r for c in clean for r in c.right)
    firm = sum(s == "fits" and r for c in clean for s, r in zip(c.states, c.right, strict=True))
    differs = sum(s in ("differs", "no-place", "contradiction") for c in clean for s in c.states)
    out: dict[str, Any] = {
        "parts": len(clean),
        "lines": lines,
        "clean_right": placed / max(lines, 1),
        "clean_firm": firm / max(lines, 1),
        "clean_differs": differs,
    }
    print(
        f"Clean pairs: {len(clean)} parts, {lines} lines; right place {_share(placed, lines)}, of these unaided {_share(firm, lines)}, "
        f"wrongly accused {differs}"
    )
    model = [c for c in cases if c.kind == "model"]
    for name, lengths in (("lengths", True), ("features", False)):
        mine = [(c, k) for c in model for k in c.wrong if c.lengths[k] is lengths]
        silent = sum(c.states[k] == "fits" for c, k in mine)
        out[f"model_silent_{name}"] = silent / max(len(mine), 1)
        print(
            f"Model wrong, {name}: wrong line proven {_share(silent, len(mine))}; ambiguous {_share(sum(c.states[k] == 'ambiguous' for c, k in mine), len(mine))}"
        )
    quiet = sum(all(c.states[k] == "fits" for k in c.wrong) for c in model)
    accused = sum(any(s in ("differs", "no-place") for k, s in enumerate(c.states) if k not in c.wrong) for c in model)
    named_of = [(c, k) for c in model for k in c.wrong if c.states[k] == "differs" and c.slip != "other"]
    named = sum(any(w in c.slips[k] for w in _WORDS[c.slip].split("|")) for c, k in named_of)
    many = sum(c.findings > 3 for c in model)
    out |= {
        "model_quiet": quiet / max(len(model), 1),
        "model_accused": accused / max(len(model), 1),
        "model_named": named / max(len(named_of), 1),
    }
    print(
        f"Model wrong: {len(model)} cases; nothing said {_share(quiet, len(model))}; another line accused {_share(accused, len(model))}; "
        f"cause named {_share(named, len(named_of))}; more than 3 findings {_share(many, len(model))}"
    )
    for kind in ("source", "chance"):
        mine_cases = [c for c in cases if c.kind == kind]
        missed = [c for c in mine_cases if c.states[c.wrong[0]] == "fits"]
        accused = sum(
            any(s in ("differs", "no-place") for k, s in enumerate(c.states) if k not in c.wrong) for c in mine_cases
        )
        out[f"{kind}_missed"] = len(missed) / max(len(mine_cases), 1)
        print(
            f"{'Source line wrong' if kind == 'source' else 'Chance value'}: {len(mine_cases)} cases; passed without a mark {_share(len(missed), len(mine_cases))}; "
            f"another line accused {_share(accused, len(mine_cases))}"
        )
    seconds = sorted(c.seconds for c in cases)
    out["seconds_median"], out["seconds_worst"] = seconds[len(seconds) // 2], seconds[-1]
    print(f"Seconds a match with rivals: median {out['seconds_median']:.2f}, worst {out['seconds_worst']:.2f}")
    chance = [c for c in cases if c.kind == "chance" and c.states[c.wrong[0]] == "fits"]
    whole = sum(c.consistent for c in chance)
    print(
        f"Of the chance values that passed {_share(whole, len(chance))} make a sufficient and consistent source of the same part: no program can refute them"
    )
    for count in (60, 100):
        with ProcessPoolExecutor(1) as alone:
            speed = alone.submit(_speed, count).result()
        out[f"lines_{count}"] = speed
        print(
            f"{count} lines: {speed['seconds']:.2f} s (measures {speed['listed']:.2f} s), one line changed {speed['again']:.2f} s, "
            f"{speed['fits']:.0f} fit, {'proven optimal' if speed['optimal'] else 'NOT proven optimal'}, {speed['megabytes']:.0f} MB"
        )
    by_family = Counter(list(_families())[c.seed % len(_families())] for c in clean)
    print("Parts by family: " + ", ".join(f"{n} {f}" for f, n in sorted(by_family.items())))
    if verbose:
        _tell(cases)
    return out


def _long_source(lines: int) -> tuple[bytes, str]:
    """A plate with as many holes as fill a source of so many lines, each with its place."""
    rng = random.Random(lines)
    written = Writer("mm", 0)
    written.block(0, 0, 0, 400, 300, 20)
    written.length("front", 400, 0, 0, 400, "w")
    written.length("top", 300, 1, 0, 300, "d")
    written.length("front", 20, 2, 0, 20, "h")
    places = [(x, y) for x in range(20, 390, 30) for y in range(20, 290, 30)]
    for n, (x, y) in enumerate(rng.sample(places, (lines - 3) // 3)):
        x, y, d = x + rng.choice([0, 3, 5]), y + rng.choice([0, 2, 5]), 4 + (n % 9)
        written.step("hole", at=[[x, y, 20]], axis=[0, 0, 1], diameter=d, through=True)
        written.feature("top", f"⌀{d} THRU", "d", [[x, y, 0]])
        written.length("top", x, 0, 0, x, "x")
        written.length("top", y, 1, 0, y, "y")
    return _step(written), specification(written)


def _speed(lines: int) -> dict[str, float]:
    """Seconds to match a long source, and again after one line changed; the memory of the process, MB."""
    import resource

    from canonis.core.features import recognise
    from canonis.core.proof import Levels, items_of, match_source
    from canonis.core.shape import shape_of
    from canonis.core.solid import read_model
    from canonis.core.source import read_specification
    from canonis.core.study import hints_of

    data, text = _long_source(lines)
    solid = read_model(data, "part.step").solids[0]
    shape, _ = shape_of(solid)
    begun = time.perf_counter()
    levels = Levels(shape, items_of(shape, hints_of(recognise(solid)).features))
    listed = time.perf_counter() - begun
    spec = read_specification(text)
    begun = time.perf_counter()
    first = match_source(shape, (), spec.characteristics, spec.rules.unit, kept=levels, rivals=False)
    took = time.perf_counter() - begun
    changed = read_specification(text.replace("| 300", "| 301", 1))
    begun = time.perf_counter()
    match_source(shape, (), changed.characteristics, changed.rules.unit, kept=levels, rivals=False, before=first)
    again = time.perf_counter() - begun
    right = sum(v.state == "fits" for v in first.verdicts.values())
    return {
        "lines": len(spec.characteristics),
        "listed": listed,
        "seconds": took,
        "again": again,
        "fits": right,
        "optimal": float(first.optimal),
        "megabytes": resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024,
    }


def _families() -> list[str]:
    from canonis.bench.sourced import FAMILIES

    return list(FAMILIES)


def _tell(cases: list[_Case]) -> None:
    """Every case that went wrong, one line each."""
    for c in cases:
        if c.kind == "clean":
            for k, (text, state, right) in enumerate(zip(c.lines, c.states, c.right, strict=True)):
                if state != "fits" or not right:
                    print(f"  clean {c.seed} #{k + 1} {text}: {state}, {'right' if right else 'WRONG place'}")
            continue
        others = [
            f"#{k + 1} {c.lines[k]} {s}"
            for k, s in enumerate(c.states)
            if k not in c.wrong and s in ("differs", "no-place")
        ]
        silent = [f"#{k + 1} {c.lines[k]}" for k in c.wrong if c.states[k] == "fits"]
        if others or silent:
            print(f"  {c.kind} {c.seed} {c.param} {c.slip}: silent {silent}; accused {others}")
