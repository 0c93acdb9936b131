"""Kernel work outside this process, with limits on time and memory; a crash or a hang costs one job.

Every request carries a number and the hash of its input, and so does everything that a child says about it. A call that
is left early, for whatever reason, ends its child: an answer that comes late finds nobody.
"""

import itertools
import signal
import socket
import time
from collections.abc import Callable
from typing import Any, Protocol

from canonis.core.faults import BadInput
from canonis.work.channel import Channel, ChannelClosed, ChannelStuck
from canonis.work.nursery import Born, Nursery

__all__ = ["NURSERY", "Cancelled", "KernelChild", "KernelCrashed", "KernelFault", "KernelKilled", "Shelf"]

#: Seconds of its own processor time that one stage of a job may take (reading, one view, …) before the child is stopped:
#: what a busy machine lets it wait is not its model's fault.
STAGE_LIMIT = 60.0
#: A stage that waits is given up after so many times its limit.
_WAITING = 5
#: Seconds a whole job may take, however many stages it tells of.
TOTAL_LIMIT = 1800.0
#: Seconds a child has to take a request in (100 MB of STEP among it).
SEND_LIMIT = 30.0
#: Seconds the kernel has to start.
START_LIMIT = 120.0
#: Address space of a child, bytes.
MEMORY_LIMIT = 8 * 1024**3
#: Niceness of a child: the process that answers people comes first when the cores are full.
NICE = 3
#: Seconds between two looks whether a job was cancelled.
_LOOK = 0.5
NURSERY = Nursery()


#: How a process ends by what it did itself; one that only exits did so too late to answer.
_FAULTS = (signal.SIGSEGV, signal.SIGABRT, signal.SIGBUS, signal.SIGFPE, signal.SIGILL)


class KernelFault(Exception):
    """The program itself failed inside the child; carries the trace for the log."""


class KernelKilled(KernelFault):
    """The child was ended from outside in the middle of a job: that says nothing of what it worked on."""


class Cancelled(Exception):
    """The job was cancelled by its owner."""


class KernelCrashed(BadInput):
    """The kernel crashed on the input."""


class _Stuck(Exception):
    """A stage ran over its limit."""

    def __init__(self, stage: str, seconds: float) -> None:
        self.stage, self.seconds = stage, seconds


class _Crashed(Exception):
    """The child is gone in the middle of a stage."""

    def __init__(self, stage: str) -> None:
        self.stage = stage


class Shelf(Protocol):
    """Where a child gets files from and puts what it keeps of them; `kind` is step, tables or shapes."""

    def get(self, kind: str, sha256: str) -> bytes | None:
        """The bytes, or None."""

    def put(self, kind: str, sha256: str, data: bytes) -> None:
        """Keep bytes."""


class KernelChild:
    """One warm child process; for one thread at a time (see `pool` for several)."""

    def __init__(self, memory: int = MEMORY_LIMIT, nice: int = NICE) -> None:
        self.memory, self.nice = memory, nice
        self._process: Born | None = None
        self._channel: Channel | None = None
        self._numbers = itertools.count(1)

    @property
    def pid(self) -> int | None:
        """Process number of the running child."""
        return None if self._process is None else self._process.pid

    def start(self) -> None:
        """Start the child if it is not running.

        Raises KernelFault when it does not come up.
        """
        if self._process is not None and self._process.alive():
            return
        self.stop()
        here, there = socket.socketpair()
        with there:
            try:
                self._process = NURSERY.fork(there, self.memory, self.nice)
            except OSError as fault:
                here.close()
                raise KernelFault(f"the kernel process did not start: {fault}") from None
        self._channel = Channel(here)
        try:
            first = self._channel.receive(START_LIMIT)
        except (ChannelClosed, ChannelStuck):
            first = None
        if first != "ready":
            self.stop()
            raise KernelFault("the kernel process did not start")

    def stop(self) -> None:
        """Stop the child, whatever it is doing."""
        if self._process is not None:
            self._process.kill()
        if self._channel is not None:
            self._channel.close()
        self._process, self._channel = None, None

    def run(
        self,
        job: str,
        arguments: dict[str, Any],
        *,
        subject: str = "",
        stage_limit: float = STAGE_LIMIT,
        total_limit: float = TOTAL_LIMIT,
        shelf: Shelf | None = None,
        what: str = "model",
        progress: Callable[[str], None] = lambda _: None,
        cancelled: Callable[[], bool] = lambda: False,
    ) -> Any:
        """Run a job and return its result; `subject` is the hash of what it works on, `what` its name in a message.

        Raises BadInput for input that cannot be used, also when the kernel crashes or takes too long on
        it; KernelKilled when the child was ended from outside; KernelFault for a fault of the program; Cancelled when `cancelled` turns true. Whatever
        `progress`, `cancelled` or `shelf` raise passes through.
        """
        self.start()
        ident = (next(self._numbers), subject)
        answered = False
        try:
            kind, value = self._converse(
                ident, job, arguments, stage_limit, total_limit, shelf=shelf, progress=progress, cancelled=cancelled
            )
            answered = True
        except _Stuck as fault:
            raise BadInput(
                f"The {what} is too hard for the kernel: {fault.stage} took over {fault.seconds:.0f} s; "
                "simplify it or raise the time limit."
            ) from None
        except _Crashed as fault:
            if not self._crashed():
                raise KernelKilled(f"the kernel process was ended while {fault.stage}") from None
            raise KernelCrashed(
                f"The kernel crashed on this {what} while {fault.stage}; check and export it again."
            ) from None
        finally:
            if not answered:
                self.stop()
        if kind == "done":
            return value
        if kind == "bad":
            raise BadInput(value)
        raise KernelFault(value)

    def _crashed(self) -> bool:
        """Whether the child that is gone ended by a fault of its own: killed from outside it says nothing of its job."""
        if self._process is None:
            return False
        self._process.kill()
        return NURSERY.ended_by(self._process) in _FAULTS

    def _used(self) -> float:
        """Seconds of processor time that the child has used."""
        return 0.0 if self._process is None else self._process.used()

    def _converse(
        self,
        ident: tuple[int, str],
        job: str,
        arguments: dict[str, Any],
        stage_limit: float,
        total_limit: float,
        *,
        shelf: Shelf | None,
        progress: Callable[[str], None],
        cancelled: Callable[[], bool],
    ) -> tuple[str, Any]:
        """Send the request and serve the child until it answers: its kind (done, bad or fault) and value."""
        assert self._channel is not None
        channel = self._channel
        stage, begun = "starting", time.monotonic()
        since, looked, used = begun, begun, self._used()
        try:
            channel.send((ident, job, arguments), SEND_LIMIT)
            while True:
                now = time.monotonic()
                if now - looked >= _LOOK:
                    looked = now
                    if cancelled():
                        raise Cancelled
                if now - begun > total_limit or now - since > _WAITING * stage_limit:
                    raise ChannelStuck
                if now - since > stage_limit and self._used() - used >= stage_limit:
                    raise ChannelStuck
                try:
                    told, kind, value = channel.receive(min(_LOOK, stage_limit))
                except ChannelStuck:
                    continue
                if told != ident:
                    raise KernelFault(f"the kernel answered request {told} while {ident} was asked")
                if kind == "progress":
                    stage, since, used = str(value), time.monotonic(), self._used()
                    progress(stage)
                elif kind == "fetch":
                    channel.send((ident, None if shelf is None else shelf.get(*value)), SEND_LIMIT)
                    since, used = time.monotonic(), self._used()
                elif kind == "keep":
                    if shelf is not None:
                        shelf.put(*value)
                else:
                    return kind, value
        except ChannelStuck:
            raise _Stuck(stage.lower(), time.monotonic() - max(since, begun)) from None
        except ChannelClosed:
            raise _Crashed(stage.lower()) from None
