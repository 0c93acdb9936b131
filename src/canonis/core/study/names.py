"""Names that people give to features (often the source's own), kept across revisions of the model."""

from collections.abc import Sequence
from typing import Any

from canonis.core.study.differences import compare_features

__all__ = ["Named", "names_on"]

#: A name with the feature's entry as it was when it got the name.
Named = dict[str, Any]


def names_on(stored: Sequence[Named], features: Sequence[dict[str, Any]]) -> list[dict[str, Any]]:
    """Where each name stands on a model: (`name`, `id`, `solid`, `status`) with status same, moved, resized or lost.

    `stored` items are {"name", "entry"}; `features` the entries of the present model.
    """
    out = []
    for item in stored:
        entry = item["entry"]
        solid = entry.get("solid", 0)
        there = [f for f in features if f.get("solid", 0) == solid]
        same = next((f for f in there if not compare_features([entry], [f]) and f["kind"] == entry["kind"]), None)
        if same is not None:
            out.append({"name": item["name"], "id": same["id"], "solid": solid, "status": "same"})
            continue
        changes = [c for c in compare_features([entry], there) if c["before"] and c["after"]]
        if changes:
            out.append(
                {"name": item["name"], "id": changes[0]["after"], "solid": solid, "status": changes[0]["change"]}
            )
        else:
            out.append({"name": item["name"], "id": None, "solid": solid, "status": "lost"})
    return out
