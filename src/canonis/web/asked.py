"""What every request of the web API has in common."""

from typing import Any

from pydantic import BaseModel, model_validator

from canonis.core.plain import check_plain

__all__ = ["Asked"]


class Asked(BaseModel):
    """What a request brings: text that can be stored and numbers that are some."""

    @model_validator(mode="before")
    @classmethod
    def _plain(cls, value: Any) -> Any:
        check_plain(value)
        return value
