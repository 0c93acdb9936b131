"""Numbers of things in addresses: one spelling each, read once, by whoever guards the door."""

import re
from typing import Annotated

from fastapi import Path
from pydantic import BeforeValidator

__all__ = ["GONE", "Id", "id_of"]

#: What is said where an address names something that is not there, by the address's parameter.
GONE = {
    "job_id": "There is no such job; go back to the list.",
    "set_id": "There is no such drawing set; reload the list.",
    "task_id": "There is no such task.",
    "print_id": "There is no such print; reload the list.",
    "state_id": "There is no such state; reload the page.",
    "remark_id": "There is no such remark any more; look at the list again.",
    "person_id": "That account is no longer there; reload the list.",
    "workspace_id": "There is no such workspace; reload the list.",
}
_PLAIN = re.compile("[1-9][0-9]{0,9}")


def id_of(given: object) -> int:
    """The number that an address names: plain digits of ASCII without sign, blank or leading zero, as the program itself
    writes it. Any second spelling would be a second door.

    Raises ValueError for everything else.
    """
    text = str(given)
    if _PLAIN.fullmatch(text) is None or int(text) >= 2**31:
        raise ValueError("not a number of anything here")
    return int(text)


#: The one type of such a number in every route.
Id = Annotated[int, BeforeValidator(id_of), Path()]
