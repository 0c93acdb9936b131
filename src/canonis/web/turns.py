"""Turns at one job: whoever edits it in this process waits for the one before, so that no work is done for nothing. Who
waits holds no thread: those are for whoever is at work."""

import asyncio
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from weakref import WeakValueDictionary

from fastapi import HTTPException

__all__ = ["turn"]

#: Seconds that an edit waits for its turn.
_LONGEST = 45.0
_turns: WeakValueDictionary[int, asyncio.Lock] = WeakValueDictionary()


@asynccontextmanager
async def turn(job_id: int) -> AsyncIterator[None]:
    """Wait for the turn at a job and keep it for the block; 503 when that takes too long."""
    mine = _turns.setdefault(job_id, asyncio.Lock())
    try:
        async with asyncio.timeout(_LONGEST):
            await mine.acquire()
    except TimeoutError:
        raise HTTPException(
            503, "Many people edit this sheet just now; this edit is tried again in a moment."
        ) from None
    try:
        yield
    finally:
        mine.release()
