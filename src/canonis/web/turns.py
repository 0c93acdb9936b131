"""Turns at one job: whoever edits it in this process waits for the one before, so that no work is done for nothing."""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from weakref import WeakValueDictionary

from fastapi import HTTPException

__all__ = ["turn"]

#: Seconds that an edit waits for its turn.
_LONGEST = 45.0


class _Turn:
    """A lock that can be held weakly."""

    def __init__(self) -> None:
        self.lock = threading.Lock()


_turns: WeakValueDictionary[int, _Turn] = WeakValueDictionary()
_making = threading.Lock()


@contextmanager
def turn(job_id: int) -> Iterator[None]:
    """Wait for the turn at a job and keep it for the block; 503 when that takes too long."""
    with _making:
        mine = _turns.setdefault(job_id, _Turn())
    if not mine.lock.acquire(timeout=_LONGEST):
        raise HTTPException(503, "Many people edit this sheet just now; this edit is tried again in a moment.")
    try:
        yield
    finally:
        mine.lock.release()
