"""Differences of two lists of features, in words. Works on the entries of the report; knows no kernel."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from canonis.core.tolerances import SAME, parallel

__all__ = ["compare_features", "describe"]

#: Kinds that are what is left over, not things of their own.
_REST = ("flat", "free-form")
#: Keys of an entry that say where it is or what it owns, not how large it is.
_PLACE = {
    "id",
    "faces",
    "positions_mm",
    "axis",
    "pattern",
    "sure",
    "start_deg",
    "tapped_guess",
    "differing",
    "chains",
    "count",
    "islands",
}


def _sizes(entry: dict[str, Any]) -> dict[str, Any]:
    return {k: v for k, v in entry.items() if k not in _PLACE}


def _flat(value: Any) -> Any:
    if isinstance(value, dict):
        return {k: _flat(v) for k, v in value.items()}
    if isinstance(value, list):
        return [_flat(v) for v in value]
    return round(value, 3) + 0.0 if isinstance(value, float) else value


def _number(x: float) -> str:
    return f"{x:.4f}".rstrip("0").rstrip(".") or "0"


def _deep(seat: dict[str, Any]) -> str:
    return f" deep {_number(seat['depth_mm'])}" if "depth_mm" in seat else f" × {_number(seat['angle_deg'])}°"


def describe(entry: dict[str, Any]) -> str:
    """A feature in words, sizes in mm: `4× hole ⌀6.6 through`."""
    n = f"{entry['count']}× " if entry.get("count", 1) > 1 else ""
    kind = str(entry["kind"])
    e = {k: v for k, v in entry.items() if isinstance(v, int | float) and not isinstance(v, bool)}
    if kind == "hole":
        depth = "through" if entry["through"] else f"deep {_number(e['depth_mm'])}"
        seat = "".join(
            f", {word} ⌀{_number(entry[key]['diameter_mm'])}{_deep(entry[key])}"
            for key, word in (("counterbore", "counterbored"), ("countersink", "countersunk"))
            if entry.get(key)
        )
        return f"{n}hole ⌀{_number(e['diameter_mm'])} {depth}{seat}"
    if kind == "fillet":
        size = f"R{_number(e['radius_mm'])}" if "radius_mm" in e else "of varying radius"
        return f"{n}{'round' if entry['convex'] else 'fillet'} {size}"
    if kind == "chamfer":
        return f"{n}chamfer {' × '.join(_number(x) for x in entry['legs_mm'])}"
    if kind in ("boss", "shaft") and "diameter_mm" in e:
        return f"{n}{kind} ⌀{_number(e['diameter_mm'])}, {_number(e['height_mm'])} high"
    words = [
        f"{_number(e[key])} {name}"
        for key, name in (
            ("width_mm", "wide"),
            ("length_mm", "long"),
            ("depth_mm", "deep"),
            ("thickness_mm", "thick"),
            ("height_mm", "high"),
            ("pitch_mm", "pitch"),
            ("teeth", "teeth"),
            ("angle_deg", "degrees"),
        )
        if key in e
    ]
    if "diameter_mm" in e:
        words.insert(0, f"⌀{_number(e['diameter_mm'])}")
    return f"{n}{kind} {', '.join(words)}".strip()


def _places(entry: dict[str, Any]) -> np.ndarray[Any, Any]:
    return np.array(entry.get("positions_mm") or np.zeros((0, 3)), dtype=float).reshape(-1, 3)


def _shift(a: dict[str, Any], b: dict[str, Any]) -> float:
    """Largest distance of a place of `b` from the nearest of `a`, mm; infinite where one has none."""
    p, q = _places(a), _places(b)
    if not len(p) or not len(q):
        return 0.0 if len(p) == len(q) else np.inf
    return float(max(np.linalg.norm(p - x, axis=1).min() for x in q))


def compare_features(old: Sequence[dict[str, Any]], new: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Changes in words: `new`, `gone`, `moved`, `resized`, `count`; features left as they are stay out."""
    left = [e for e in old if e["kind"] not in _REST]
    come = [e for e in new if e["kind"] not in _REST]
    out: list[dict[str, Any]] = []

    def pair(test: Any, change: Any) -> None:
        for b in list(come):
            for a in left:
                if a["kind"] == b["kind"] and test(a, b):
                    left.remove(a)
                    come.remove(b)
                    made = change(a, b)
                    if made:
                        out.append({"before": a["id"], "after": b["id"], "kind": b["kind"], **made})
                    break

    def alike(a: dict[str, Any], b: dict[str, Any]) -> bool:
        return bool(_flat(_sizes(a)) == _flat(_sizes(b)))

    pair(lambda a, b: alike(a, b) and a.get("count") == b.get("count") and _shift(a, b) < SAME, lambda a, b: None)
    pair(
        lambda a, b: alike(a, b) and (_shift(a, b) < SAME or _shift(b, a) < SAME),
        lambda a, b: {"change": "count", "text": f"{describe(a)} → {b.get('count', 1)} of them"},
    )
    pair(
        lambda a, b: _shift(a, b) < SAME and a.get("count") == b.get("count") and _axes_agree(a, b),
        lambda a, b: {"change": "resized", "text": f"{describe(a)} → {describe(b)}"},
    )
    pair(
        lambda a, b: alike(a, b) and a.get("count") == b.get("count") and len(_places(a)) > 0,
        lambda a, b: {"change": "moved", "text": f"{describe(b)} moved by {_number(_shift(a, b))} mm"},
    )
    # Some of its places are the same, but the count and a size are not.
    pair(
        lambda a, b: len(_places(a)) > 0 and (_shift(a, b) < SAME or _shift(b, a) < SAME) and _axes_agree(a, b),
        lambda a, b: {"change": "resized", "text": f"{describe(a)} → {describe(b)}"},
    )
    out += [{"change": "gone", "before": a["id"], "after": None, "kind": a["kind"], "text": describe(a)} for a in left]
    out += [{"change": "new", "before": None, "after": b["id"], "kind": b["kind"], "text": describe(b)} for b in come]
    return out


def _axes_agree(a: dict[str, Any], b: dict[str, Any]) -> bool:
    u, v = a.get("axis"), b.get("axis")
    return u is None or v is None or parallel(np.array(u), np.array(v))
