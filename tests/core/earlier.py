"""Documents as earlier forms stored them."""

import json

_NEW = ("says", "unit", "notation", "drawn", "laid", "x", "y")


def form_three(document):
    """A document as it was stored when what a statement says was its text."""
    data = json.loads(document.model_dump_json())
    for old, mark in zip(data["annotations"], document.annotations, strict=True):
        for name in _NEW:
            old.pop(name, None)
        old |= {"text": mark.text, "kind": mark.kind}
        if hasattr(mark, "lines") and "row" not in old:
            old["lines"] = list(mark.lines)
    return {**data, "form": 3, "model_sha256": "0" * 64}
