"""What the core is given of a job: its source as a specification text, and the marks of what was computed from it."""

import json
from typing import Any

from canonis.core.code_version import code_version
from canonis.core.source import in_millimetres
from canonis.store.tables import DrawingSet, Job

__all__ = ["belongs", "header_of", "open_causes", "pages_key", "spec_text"]


def belongs(report: dict[str, Any] | None, sha256: str) -> bool:
    """Whether a stored report was measured on the file of this hash."""
    return report is not None and report.get("file", {}).get("sha256") == sha256


def pages_key(model_id: int, source_version: int) -> str:
    """What compiled pages depend on besides their document: the model, the source and the code that compiles."""
    return f"{model_id}.{source_version}.{code_version()}"


def open_causes(proof: dict[str, Any]) -> int:
    """How much of a proof is to be looked at: findings that follow from no other, advice left out."""
    return sum(1 for f in proof["findings"] if not f.get("under") and f["severity"] != "advice")


def header_of(job: Job, shared: DrawingSet) -> dict[str, Any]:
    """The header of the job's specification; the set and the house rules of its workspace give what the job does not say
    itself."""
    common: dict[str, Any] = dict(shared.shared or {})
    head: dict[str, Any] = dict(job.source["head"])
    own = head.get("general")
    general = own or common.get("general_inch" if job.unit == "in" else "general_mm", "")
    shared_notes = common.get("notes", "") if job.unit == "mm" else in_millimetres(common.get("notes", ""))
    notes = "; ".join(n for n in (shared_notes, head.get("notes", "")) if n)
    data = {
        "number": job.number,
        "title": job.title,
        "unit": job.unit,
        "style": job.style,
        "material": head.get("material", ""),
        "density": head.get("density", ""),
        "general": general,
        "owner": common.get("owner", ""),
        "shared": "owner" if own else "owner general",
        "default": notes,
        "square": head.get("square", ""),
        "frame": head.get("frame", ""),
        "solid": head.get("solid", ""),
        **shared.workspace.rules,
        **{k: v for k, v in job.source["rules"].items() if v},
    }
    return {k: v for k, v in data.items() if v != ""}


def spec_text(job: Job, shared: DrawingSet) -> str:
    """The job's source as `canonis.source/1` JSON."""
    source = job.source
    data = {
        "schema": "canonis.source/1",
        **header_of(job, shared),
        "characteristics": source["lines"],
        "chains": source["chains"],
        "checkpoints": source["checkpoints"],
        "workings": source["workings"],
    }
    return json.dumps(data, ensure_ascii=False)
