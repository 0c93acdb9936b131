"""A job whole."""

from pydantic import BaseModel

from canonis.web.answers.source import SourceRead
from canonis.web.models import ModelCard, TaskState

__all__ = ["JobFull"]


class SharedFields(BaseModel):
    """What the job's drawing set gives."""

    owner: str = ""
    notes: str = ""
    general_mm: str = ""
    general_inch: str = ""


class JobFull(BaseModel):
    """A job with its source and what has become of its models."""

    id: int
    number: str
    title: str
    unit: str
    style: str
    set_name: str
    shared: SharedFields
    source: SourceRead
    models: list[ModelCard]
    model_id: int | None
    sheet_version: int | None
    tasks: list[TaskState]
