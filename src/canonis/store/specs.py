"""A job's source as a specification text, so that the core reads it the same way as from a file."""

import json
from typing import Any

from canonis.store.tables import DrawingSet, Job

__all__ = ["header_of", "spec_text"]


def header_of(job: Job, shared: DrawingSet) -> dict[str, Any]:
    """The header of the job's specification; the set gives what the job does not say itself."""
    common: dict[str, Any] = dict(shared.shared or {})
    head: dict[str, Any] = dict(job.source["head"])
    general = head.get("general") or common.get("general_inch" if job.unit == "in" else "general_mm", "")
    notes = "; ".join(n for n in (common.get("notes", ""), head.get("notes", "")) if n)
    data = {
        "number": job.number, "title": job.title, "unit": job.unit, "style": job.style,
        "material": head.get("material", ""), "density": head.get("density", ""), "general": general,
        "owner": common.get("owner", ""), "default": notes, "square": head.get("square", ""), "frame": head.get("frame", ""),
        **job.source["rules"],
    }  # fmt: skip
    return {k: v for k, v in data.items() if v != ""}


def spec_text(job: Job, shared: DrawingSet) -> str:
    """The job's source as `canonis.source/1` JSON."""
    source = job.source
    data = {
        "schema": "canonis.source/1", **header_of(job, shared), "characteristics": source["lines"], "chains": source["chains"],
        "checkpoints": source["checkpoints"], "workings": source["workings"],
    }  # fmt: skip
    return json.dumps(data, ensure_ascii=False)
