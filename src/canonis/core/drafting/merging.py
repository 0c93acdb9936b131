"""Edits of several people on one sheet: which of them stand beside each other."""

from canonis.core.drafting.edit import EVERY, Edit

__all__ = ["clash"]


def clash(mine: Edit, theirs: Edit) -> bool:
    """Whether an edit changes something that another one, made meanwhile, changed as well."""
    return any(
        aspect == other and (EVERY in (name, named) or name == named)
        for aspect, name in mine.touches
        for other, named in theirs.touches
    )
