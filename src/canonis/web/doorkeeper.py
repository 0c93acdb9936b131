"""Sign-in under pressure: few passwords are hashed at once; wrong ones close their name to their address. A name that is
guessed from everywhere stays open to the address its owner came from before, and to one that has not guessed."""

import asyncio
from collections import Counter, OrderedDict
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager

from fastapi import HTTPException
from limits import RateLimitItemPerMinute, RateLimitItemPerSecond
from limits.storage import MemoryStorage
from limits.strategies import MovingWindowRateLimiter

from canonis.core.plain import look_of

__all__ = ["Doorkeeper"]

#: Wrong passwords for one name from one address; and for one name from anywhere, beyond which only those are let try
#: who have not guessed wrong within the minute, one after the other.
_NAME_HERE, _NAME = RateLimitItemPerMinute(6), RateLimitItemPerMinute(30)
#: Beyond this many wrong ones in half a minute an address hashes one after the other, behind everybody else.
_SUSPECT = RateLimitItemPerSecond(5, 30)
#: Passwords hashed at once, and tries of suspect addresses that may wait.
_AT_ONCE, _WAITING = 2, 4
#: Names and addresses that went together, the last ones.
_MOST_KNOWN = 10_000


class Doorkeeper:
    """Counts the wrong tries that this process has seen."""

    def __init__(self) -> None:
        self._limiter = MovingWindowRateLimiter(MemoryStorage())
        self._lane = asyncio.Semaphore(_AT_ONCE)
        self._slow_lane = asyncio.Semaphore(1)
        self._slow = 0
        self._under_way: Counter[tuple[str, str]] = Counter()
        self._known: OrderedDict[tuple[str, str], None] = OrderedDict()

    def wrong(self, name: str, address: str) -> None:
        """A wrong password."""
        name = look_of(name)
        self._limiter.hit(_NAME_HERE, "both", name, address)
        self._limiter.hit(_NAME, "name", name)
        self._limiter.hit(_SUSPECT, "from", address)

    def right(self, name: str, address: str) -> None:
        """A right password: whoever guesses this name elsewhere does not close it to this address."""
        self._known[look_of(name), address] = None
        self._known.move_to_end((look_of(name), address))
        while len(self._known) > _MOST_KNOWN:
            self._known.popitem(last=False)

    def _hot(self, name: str, address: str) -> bool:
        """Whether a name is guessed from everywhere, and this address is not its owner's."""
        return (name, address) not in self._known and not self._limiter.test(_NAME, "name", name)

    def _spent(self, name: str, address: str) -> bool:
        """Whether the tries of a name are used up, those under way counted as wrong."""
        here = self._limiter.get_window_stats(_NAME_HERE, "both", name, address).remaining
        guessed = here < _NAME_HERE.amount
        return here <= self._under_way[name, address] or (guessed and self._hot(name, address))

    @asynccontextmanager
    async def turn(self, name: str, address: str) -> AsyncIterator[None]:
        """Wait for a turn to hash a password.

        Raises HTTPException 429 when the name or the address tried too often.
        """
        name = look_of(name)
        if self._spent(name, address):
            raise _too_many()
        self._under_way[name, address] += 1
        try:
            async with self._lane:
                if self._limiter.test(_SUSPECT, "from", address) and not self._hot(name, address):
                    yield
                    return
            if self._slow >= _WAITING:
                raise _too_many()
            self._slow += 1
            try:
                async with self._slow_lane, self._lane:
                    yield
            finally:
                self._slow -= 1
        finally:
            self._under_way[name, address] -= 1
            if not self._under_way[name, address]:
                del self._under_way[name, address]


def _too_many() -> HTTPException:
    return HTTPException(429, "Too many sign-ins that failed; wait a minute, then try again.", {"Retry-After": "60"})
