"""What carries out an edit: a function for each class of edit, which enters itself."""

from collections.abc import Callable
from typing import Any

from canonis.core.drafting.edit import Edit
from canonis.core.drafting.edits.editor import Editor

__all__ = ["DOES", "Does", "does"]

Does = Callable[[Editor, Any], None]
DOES: dict[type[Edit], Does] = {}


def does(*edits: type[Edit]) -> Callable[[Does], Does]:
    """Enter a function that carries out edits of some classes on an editor; it raises BadInput with one sentence when it cannot.

    Raises ValueError for a second one.
    """

    def enter(function: Does) -> Does:
        for edit in edits:
            if edit in DOES:
                raise ValueError(f"two functions carry out {edit.__name__}")
            DOES[edit] = function
        return function

    return enter
