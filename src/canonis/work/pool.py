"""Kernel children shared by the threads of a process: first come, first served, and where possible the child that has
the model at hand."""

import os
import threading
from collections import OrderedDict
from typing import Any

from canonis.work.kernel import NICE, KernelChild, KernelCrashed, KernelFault, KernelKilled

__all__ = ["Busy", "KernelPool", "cores"]

#: How often a job is begun again whose child was ended from outside.
_KILLED = 5
#: Models a child is taken to have at hand; see `jobs.load`.
_AT_HAND = 32


def cores() -> int:
    """Cores that this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1


class Busy(Exception):
    """No child became free in time."""


class _Seat:
    """A child, whether it is at work, and what it has at hand."""

    def __init__(self, nice: int) -> None:
        self.child = KernelChild(nice=nice)
        self.taken = False
        self.slow = False
        self.known: OrderedDict[str, None] = OrderedDict()

    def learned(self, subject: str) -> None:
        if subject:
            self.known[subject] = None
            self.known.move_to_end(subject)
            while len(self.known) > _AT_HAND:
                self.known.popitem(last=False)


class _Waiter:
    """A thread in the queue for a child."""

    def __init__(self, subject: str, slow: bool) -> None:
        self.subject, self.slow = subject, slow
        self.seat: _Seat | None = None
        self.ready = threading.Event()


class KernelPool:
    """As many children as are asked for; slow jobs never take the last one, so that a quick one always finds a child."""

    def __init__(self, size: int, nice: int = NICE) -> None:
        self._lock = threading.Lock()
        self._seats = [_Seat(nice) for _ in range(size)]
        self._queue: list[_Waiter] = []

    def __len__(self) -> int:
        return len(self._seats)

    def warm(self) -> None:
        """Start the children in the background, so that the first jobs need not wait for the kernel to load."""
        for seat in self._seats:
            seat.taken = True
            threading.Thread(target=self._warm_one, args=(seat,), daemon=True).start()

    def _warm_one(self, seat: _Seat) -> None:
        try:
            seat.child.start()
        except KernelFault:  # the job that needs it tells its person
            pass
        finally:
            self._release(seat)

    def stop(self) -> None:
        """Stop all children."""
        for seat in self._seats:
            seat.child.stop()

    def _settle(self) -> None:
        """Give free children to those who wait, in their order; the lock is held."""
        for waiter in list(self._queue):
            free = [s for s in self._seats if not s.taken]
            if not free:
                return
            slow_now = sum(s.taken and s.slow for s in self._seats)
            if waiter.slow and len(self._seats) > 1 and slow_now >= len(self._seats) - 1:
                continue
            seat = next((s for s in free if waiter.subject and waiter.subject in s.known), free[0])
            seat.taken, seat.slow, waiter.seat = True, waiter.slow, seat
            self._queue.remove(waiter)
            waiter.ready.set()

    def _take(self, subject: str, slow: bool, limit: float) -> _Seat:
        waiter = _Waiter(subject, slow)
        with self._lock:
            self._queue.append(waiter)
            self._settle()
        if not waiter.ready.wait(limit):
            with self._lock:
                if waiter.seat is None:
                    self._queue.remove(waiter)
                    raise Busy
        assert waiter.seat is not None
        return waiter.seat

    def _release(self, seat: _Seat) -> None:
        with self._lock:
            seat.taken = seat.slow = False
            self._settle()

    @staticmethod
    def _persist(seat: _Seat, job: str, arguments: dict[str, Any], **more: Any) -> Any:
        crashed = killed = 0
        while True:
            try:
                return seat.child.run(job, arguments, **more)
            except KernelCrashed:
                # An input that crashes the kernel does so again.
                crashed += 1
                if crashed > 1:
                    raise
            except KernelKilled:
                killed += 1
                if killed > _KILLED:
                    raise

    def run(
        self,
        job: str,
        arguments: dict[str, Any],
        *,
        subject: str = "",
        slow: bool = False,
        wait_limit: float = 60.0,
        **more: Any,
    ) -> Any:
        """Run a job in a child (see `KernelChild.run`), again when the child is gone in the middle of it: once more when
        the kernel crashed, a few times when it was ended from outside. `slow` ones leave a child to the others.

        Raises Busy when none becomes free within `wait_limit` seconds, and what the child's `run` raises.
        """
        seat = self._take(subject, slow, wait_limit)
        began = seat.child.pid
        try:
            result = self._persist(seat, job, arguments, subject=subject, **more)
            if seat.child.pid != began:
                seat.known.clear()
            seat.learned(subject)
            return result
        finally:
            if seat.child.pid is None:
                seat.known.clear()
            self._release(seat)
