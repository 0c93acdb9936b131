"""A job's source as a specification text, so that the core reads it the same way as from a file."""

import json
from typing import Any

from canonis.store.tables import DrawingSet, Job

__all__ = ["spec_text"]


def spec_text(job: Job, shared: DrawingSet) -> str:
    """The job's source as `canonis.source/1` JSON; the set gives what the job does not say itself."""
    common: dict[str, Any] = dict(shared.shared or {})
    general = common.get("general_inch" if job.unit == "in" else "general_mm", "")
    data = {
        "schema": "canonis.source/1", "number": job.number, "title": job.title, "unit": job.unit, "style": job.style,
        "material": job.material, "limits": job.limits, "general": general, "owner": common.get("owner", ""), "default": common.get("notes", ""),
        "characteristics": job.lines, "chains": job.chains, "checkpoints": job.checkpoints,
    }  # fmt: skip
    if job.density:
        data["density"] = str(job.density)
    return json.dumps(data, ensure_ascii=False)
