"""A job's stored source with everything it means, as the browser shows it."""

from typing import Any

from canonis.core.callout import tolerance_words
from canonis.core.faults import BadInput
from canonis.core.source.specification import known_values, read_specification
from canonis.core.source.workings import work_out

__all__ = ["read_stored", "work_out_in"]


def read_stored(source: dict[str, Any], text: str) -> dict[str, Any]:
    """Lines, chains, workings and checkpoints as read, the findings, and what stops a draft from being trustworthy.

    `source` is the stored source (see `editing`), `text` the specification made of it and of what its set gives.
    """
    try:
        spec = read_specification(text)
    except BadInput as fault:
        # A set's tolerance block, say, that no longer fits: the list is shown as it stands, with the reason.
        bare = [{**line, "words": "", "error": None, "kind": "note", "parts": []} for line in source["lines"]]
        return {
            "lines": bare,
            "chains": [],
            "workings": [],
            "checkpoints": [],
            "rules": source["rules"],
            "findings": [],
            "readiness": [str(fault)],
            "fault": str(fault),
        }
    lines = [
        {
            **c.as_json(),
            "id": line["id"],
            "rev": line["rev"],
            "flag": line["flag"],
            "tolerance": tolerance_words(c.main, spec.rules.unit),
        }
        for c, line in zip(spec.characteristics, source["lines"], strict=True)
    ]
    solved = {c.text: c.as_json() for c in spec.chains}
    worked = {w.text: w.as_json(spec.rules.unit) for w in spec.workings}
    weighed = {c.text: c.as_json() for c in spec.checkpoints}
    return {
        "lines": lines,
        "chains": [{**c, "solved": solved.get(c["text"].strip())} for c in source["chains"]],
        "workings": [{"text": t, "made": worked.get(t.strip())} for t in source["workings"]],
        "checkpoints": [{"text": t, "read": weighed.get(t.strip())} for t in source["checkpoints"]],
        "rules": spec.rules.house.as_json(),
        "findings": [f.as_json(values=False) for f in spec.findings],
        "readiness": spec.readiness,
        "fault": "",
    }


def work_out_in(text: str, expression: str) -> dict[str, Any]:
    """The value of an expression that may name the sizes and workings of a specification, with its steps.

    What is typed half-way is no failure: it comes back with its `fault`.
    """
    spec = read_specification(text)
    named = {w.name or f"W{k}": w.amount for k, w in enumerate(spec.workings, start=1)}
    named |= {f"W{k}": w.amount for k, w in enumerate(spec.workings, start=1)}
    try:
        made = work_out(expression, known_values(list(spec.characteristics), spec.rules.unit, named))
    except BadInput as fault:
        return {"fault": str(fault)}
    return made.as_json(spec.rules.unit)
