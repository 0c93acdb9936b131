"""A process that has the kernel loaded and does nothing but fork: what comes out of it is ready in a moment.

Each process of the program that needs kernel children has one. It ends with its process, and its children with it; when
it is gone, the next child starts another.
"""

import contextlib
import gc
import os
import select
import signal
import socket
import subprocess
import sys
import threading

from canonis.work.child import load_jobs, serve

__all__ = ["Born", "Nursery"]

_NUMBER = 8
#: Seconds that the kernel has to load.
_LOAD_LIMIT = 120.0


class Born:
    """A process that a nursery forked."""

    def __init__(self, pid: int) -> None:
        self.pid = pid
        # A number may be given to another process once this one has ended; a descriptor never is.
        self._handle = os.pidfd_open(pid)
        self._lock = threading.Lock()

    def alive(self) -> bool:
        """Whether it has not ended."""
        with self._lock:
            return self._handle >= 0 and not _readable(self._handle, 0)

    def kill(self) -> None:
        """End it at once, and wait until it has ended; a second time does nothing."""
        with self._lock:
            if self._handle < 0:
                return
            with contextlib.suppress(ProcessLookupError):
                signal.pidfd_send_signal(self._handle, signal.SIGKILL)
                _readable(self._handle, None)
            os.close(self._handle)
            self._handle = -1


def _readable(descriptor: int, seconds: float | None) -> bool:
    # Not `select`, which knows only the first thousand descriptors.
    look = select.poll()
    look.register(descriptor, select.POLLIN)
    return bool(look.poll(None if seconds is None else seconds * 1000))


class Nursery:
    """This process's side of it."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._line: socket.socket | None = None
        self._process: subprocess.Popen[bytes] | None = None

    def fork(self, end: socket.socket, memory: int) -> Born:
        """A new child that serves jobs on `end`, with at most `memory` bytes of address space (0: no limit).

        Raises OSError when it does not come up.
        """
        with self._lock:
            for _ in range(2):
                try:
                    return self._ask(end, memory)
                except OSError:  # somebody ended it
                    self._line = None
            return self._ask(end, memory)

    def _ask(self, end: socket.socket, memory: int) -> Born:
        if self._line is None:
            here, there = socket.socketpair()
            with there:
                self._process = subprocess.Popen(
                    [sys.executable, "-m", "canonis.work.nursery", str(there.fileno())],
                    pass_fds=[there.fileno()], stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL,
                )  # fmt: skip
            here.settimeout(_LOAD_LIMIT)
            self._line = here
        socket.send_fds(self._line, [memory.to_bytes(_NUMBER, "big")], [end.fileno()])
        answer = self._line.recv(_NUMBER)
        if not answer:
            raise ConnectionResetError
        return Born(int.from_bytes(answer, "big"))


def _main(line: socket.socket) -> None:
    jobs = load_jobs()
    gc.freeze()  # what is loaded stays shared with the children
    while True:
        asked, ends, _, _ = socket.recv_fds(line, _NUMBER, 1)
        if not asked:
            return
        # The number of one that ended is not given away before whoever asked for it holds its descriptor.
        while _ended():
            pass
        child = os.fork()
        if not child:
            line.close()
            serve(socket.socket(fileno=ends[0]), int.from_bytes(asked, "big"), jobs)
            return
        os.close(ends[0])
        line.sendall(child.to_bytes(_NUMBER, "big"))


def _ended() -> bool:
    try:
        return os.waitpid(-1, os.WNOHANG)[0] != 0
    except ChildProcessError:
        return False


if __name__ == "__main__":
    _main(socket.socket(fileno=int(sys.argv[1])))
