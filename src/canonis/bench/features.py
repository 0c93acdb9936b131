"""What recognition finds, misses and makes up on random compositions of touching features."""

from collections import Counter
from typing import Any

from canonis.bench.compositions import Expected, compose

__all__ = ["bench_features", "judged"]

#: Kinds that would be wrong where nothing of the kind was made.
_FALSE = ("chamfer", "bend", "thread", "keyway")
_NEAR = 2e-3


def _fits(entry: dict[str, Any], want: Expected) -> bool:
    kind = {"corner": "pocket", "unequal": "chamfer"}.get(want.kind, want.kind)
    if entry["kind"] != kind:
        return False
    for name, value in want.sizes.items():
        have: Any = entry.get(name)
        if name in ("counterbore", "countersink"):
            have = (entry.get(name) or {}).get("diameter_mm")
        if name == "legs_mm":
            have = have[0] if have else None
        if isinstance(value, bool):
            if have is not value:
                return False
        elif have is None or abs(float(have) - value) > _NEAR:
            return False
    return True


def judged(seed: int) -> tuple[list[tuple[str, bool]], list[str]]:
    """For each feature of a composition its kind and whether it was found; and what was found that is not there."""
    from canonis.core.features import feature_list, recognise
    from canonis.core.recipe import build_recipe
    from canonis.core.solid import read_model, write_step

    c = compose(seed)
    built = build_recipe(c.recipe())
    solid = read_model(write_step(built.shape, built.name, built.unit), "part.step").solids[0]
    entries = feature_list(solid, recognise(solid))
    rows, used = [], Counter[int]()
    for want in sorted(c.expected, key=lambda w: -len(w.sizes)):
        # Features that happen to be of one size are one entry with their count.
        met = next((k for k, e in enumerate(entries) if used[k] < int(e.get("count", 1)) and _fits(e, want)), None)
        if met is None and want.kind == "corner":
            met = next((k for k, e in enumerate(entries) if _fits(e, want)), None)
        if met is not None and want.kind != "corner":
            used[met] += 1
        rows.append((want.kind, met is not None))
    wrong = []
    kinds = {w.kind for w in c.expected}
    for k, e in enumerate(entries):
        seats = [n for n in ("counterbore", "countersink", "counterbore_far", "countersink_far") if e.get(n)]
        if e["kind"] in _FALSE and k not in used:
            wrong.append(e["kind"])
        elif e["kind"] == "hole" and k not in used:
            wrong.append("hole")
        elif e["kind"] == "hole" and seats and not any(w.kind == "hole" and seats[0] in w.sizes for w in c.expected):
            wrong.append("seat")
        elif e["kind"] in ("boss", "groove") and e["kind"] not in kinds:
            wrong.append(e["kind"])
    return rows, wrong


def bench_features(count: int = 100) -> dict[str, Any]:
    """Over random compositions: found, missed and made up, by kind."""
    found: Counter[str] = Counter()
    missed: Counter[str] = Counter()
    wrong: Counter[str] = Counter()
    for seed in range(count):
        rows, made_up = judged(seed)
        for kind, ok in rows:
            (found if ok else missed)[kind] += 1
        wrong.update(made_up)
        lost = [kind for kind, ok in rows if not ok]
        if lost or made_up:
            print(f"{seed:4}  {', '.join(compose(seed).names) or 'turned'}: missed {lost}, not there {made_up}")
    kinds = sorted({*found, *missed, *wrong})
    print(f"{'kind':12}{'found':>8}{'missed':>8}{'not there':>11}")
    for kind in kinds:
        print(f"{kind:12}{found[kind]:8}{missed[kind]:8}{wrong[kind]:11}")
    total = sum(found.values()) + sum(missed.values())
    share = sum(found.values()) / max(total, 1)
    print(
        f"{sum(found.values())} of {total} features found ({100 * share:.1f} %), {sum(wrong.values())} that are not there"
    )
    return {"bench": "features", "parts": count, "features": total, "share": round(share, 4), "not_there": dict(wrong)}
