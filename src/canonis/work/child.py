"""The kernel child: a process of its own that keeps the kernel warm and works one job at a time."""

import contextlib
import os
import resource
import socket
import traceback
from typing import Any

from canonis.core.faults import BadInput
from canonis.core.tether import end_with
from canonis.work.channel import Channel, ChannelClosed


class Caller:
    """The side that asked: it is told the progress, and asked for files and kept packets."""

    def __init__(self, channel: Channel) -> None:
        self._channel = channel
        self.ident: tuple[int, str] = (0, "")

    def tell(self, kind: str, value: Any) -> None:
        """Send something about the present request."""
        self._channel.send((self.ident, kind, value))

    def __call__(self, stage: str) -> None:
        """Tell the stage that begins."""
        self.tell("progress", stage)

    def fetch(self, kind: str, sha256: str) -> bytes | None:
        """A file or packet of the caller's shelf, or None."""
        self.tell("fetch", (kind, sha256))
        ident, data = self._channel.receive()
        if ident != self.ident:
            raise ChannelClosed
        return data  # type: ignore[no-any-return]

    def keep(self, kind: str, sha256: str, data: bytes) -> None:
        """Put a packet on the caller's shelf."""
        self.tell("keep", (kind, sha256, data))


def load_jobs() -> dict[str, Any]:
    """What a child can be asked to do, by name; loads the kernel and makes the parser."""
    from canonis.core.callout import HouseRules
    from canonis.core.source import read_line
    from canonis.work import desk, jobs, study

    read_line("1", HouseRules())
    return jobs.JOBS | desk.JOBS | study.JOBS


def serve(end: socket.socket, memory: int, nice: int, jobs: dict[str, Any]) -> None:
    """Serve jobs that arrive on `end` until it closes; `memory` limits the address space, bytes (0: no limit)."""
    end_with()
    # The process that answers people comes first when the cores are full.
    os.nice(nice)
    if memory:
        resource.setrlimit(resource.RLIMIT_AS, (memory, memory))
    with contextlib.suppress(ChannelClosed, KeyboardInterrupt):
        _serve(Channel(end), jobs)


def _serve(channel: Channel, jobs: dict[str, Any]) -> None:
    caller = Caller(channel)
    channel.send("ready")
    while True:
        caller.ident, name, arguments = channel.receive()
        try:
            caller.tell("done", jobs[name](caller, **arguments))
        except BadInput as fault:
            caller.tell("bad", str(fault))
        except MemoryError:
            caller.tell("bad", "The model needs more memory than the limit allows; simplify it or raise the limit.")
        except (ChannelClosed, KeyboardInterrupt):
            raise
        except BaseException as fault:
            caller.tell("fault", f"{type(fault).__name__}: {fault}\n{traceback.format_exc()}")
