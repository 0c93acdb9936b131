"""Which rounds and chamfers a default note of the source covers, so that they need no dimension of their own."""

from collections.abc import Sequence
from typing import Any

from canonis.core.callout import HouseRules
from canonis.core.source import read_line
from canonis.core.tolerances import same

__all__ = ["covered"]


def _sizes(notes: Sequence[str], rules: HouseRules) -> list[tuple[str, str, float]]:
    """(note, kind of feature, size in mm) of every default note that states one."""
    out = []
    for note in notes:
        for text in (note, f"all {note}"):
            read = read_line(text, rules)
            part = next((p for p in read.parts if p.name in ("radius", "leg") and p.nominal is not None), None)
            # One size alone: of a groove or a slot its radius is no round of the part.
            if read.error is None and part is not None and part.nominal is not None and read.main is part:
                out.append((note, "chamfer" if part.name == "leg" else "fillet", float(part.nominal)))
                break
    return out


def covered(features: Sequence[dict[str, Any]], notes: Sequence[str], rules: HouseRules) -> list[dict[str, Any]]:
    """Features that a default note covers: `id`, `solid` and the `note`. Sizes in mm."""
    out = []
    sizes = _sizes(notes, rules)
    for f in features:
        size = f.get("radius_mm") if f["kind"] == "fillet" else f["legs_mm"][0] if f["kind"] == "chamfer" else None
        note = next((n for n, kind, s in sizes if size is not None and kind == f["kind"] and same(s, size)), None)
        if note is not None:
            out.append({"id": f["id"], "solid": f.get("solid", 0), "note": note})
    return out
