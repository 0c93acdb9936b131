"""A process that has the kernel loaded and does nothing but fork: what comes out of it is ready in a moment.

The launcher keeps two of them for all processes of the program on a machine (`CANONIS_NURSERIES` names their sockets): one
that is killed is replaced while the other goes on, and a web process that is killed finds the kernel loaded when it is
back. A process that runs alone has one of its own. Children end with the process that asked for them, and with their
nursery.
"""

import contextlib
import gc
import os
import select
import signal
import socket
import struct
import subprocess
import sys
import threading
import time
from pathlib import Path

from canonis.settings import settings
from canonis.work.child import load_jobs, serve

__all__ = ["Born", "Nursery"]

#: A request: memory of a child (bytes) and its niceness; or 0 and the number of one that ended, negative: how it did.
_ASKED = struct.Struct("=Qq")
#: An answer: the number of a child, or the signal that ended one.
_ANSWER = struct.Struct("=q")
#: Seconds that the kernel has to load.
_LOAD_LIMIT = 120.0
#: Children whose end is remembered.
_REMEMBERED = 1000


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

    def used(self) -> float:
        """Seconds of processor time that it has used; 0 where it has ended."""
        try:
            after_name = Path(f"/proc/{self.pid}/stat").read_text().rpartition(")")[2].split()
        except OSError:
            return 0.0
        # The 14th and 15th field (proc(5)): time in its own code and in the kernel's for it.
        return (int(after_name[11]) + int(after_name[12])) / os.sysconf("SC_CLK_TCK")

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

    def start(self) -> None:
        """Begin to load the kernel, without waiting for it: where the launcher keeps no nursery, this process's own."""
        with self._lock, contextlib.suppress(OSError):
            if self._line is None and not settings().nurseries:
                self._line = self._own()

    def fork(self, end: socket.socket, memory: int, nice: int) -> Born:
        """A new child that serves jobs on `end`, with at most `memory` bytes of address space (0: no limit) and so much
        niceness.

        Raises OSError when it does not come up.
        """
        with self._lock:
            for _ in range(2):
                try:
                    return Born(self._ask(_ASKED.pack(memory, nice), end))
                except OSError:  # somebody ended it
                    self._line = None
            return Born(self._ask(_ASKED.pack(memory, nice), end))

    def ended_by(self, born: Born) -> int:
        """The signal that ended a child; 0 where it ended by itself or where nobody knows any more."""
        with self._lock:
            if self._line is None:
                return 0
            try:
                return self._ask(_ASKED.pack(0, -born.pid))
            except OSError:
                self._line = None
                return 0

    def _ask(self, asked: bytes, end: socket.socket | None = None) -> int:
        if self._line is None:
            self._line = _shared() if settings().nurseries else self._own()
        socket.send_fds(self._line, [asked], [] if end is None else [end.fileno()])
        answer = self._line.recv(_ANSWER.size)
        if len(answer) < _ANSWER.size:
            raise ConnectionResetError
        return int(_ANSWER.unpack(answer)[0])

    def _own(self) -> socket.socket:
        here, there = socket.socketpair()
        with there:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "canonis.work.nursery", str(there.fileno())],
                pass_fds=[there.fileno()],
                stdin=subprocess.DEVNULL,
                stdout=subprocess.DEVNULL,
            )
        here.settimeout(_LOAD_LIMIT)
        return here


def _shared() -> socket.socket:
    """A line to one of the launcher's nurseries: to the first that answers."""
    until = time.monotonic() + _LOAD_LIMIT
    while True:
        for path in settings().nurseries.split(":"):
            line = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
            try:
                line.connect(path)
            except OSError:
                line.close()
                continue
            line.settimeout(_LOAD_LIMIT)
            return line
        if time.monotonic() > until:
            raise ConnectionRefusedError("no nursery answers")
        time.sleep(0.1)


class _House:
    """The nursery's own side: who asked for which children, and how they ended."""

    def __init__(self) -> None:
        self.jobs = load_jobs()
        gc.freeze()  # what is loaded stays shared with the children
        self.lines: dict[int, socket.socket] = {}
        self.children: dict[int, int] = {}
        self.ends: dict[int, int] = {}
        self.listener: socket.socket | None = None

    def reap(self) -> None:
        """Take note of children that ended. The number of one is not given away before whoever asked for the next child
        holds its descriptor."""
        with contextlib.suppress(ChildProcessError):
            while True:
                pid, status = os.waitpid(-1, os.WNOHANG)
                if not pid:
                    return
                self.children.pop(pid, None)
                self.ends[pid] = os.WTERMSIG(status) if os.WIFSIGNALED(status) else 0
                while len(self.ends) > _REMEMBERED:
                    del self.ends[next(iter(self.ends))]

    def leave(self, number: int) -> None:
        """Whoever was on a line is gone, and so are their children."""
        self.lines.pop(number).close()
        for pid, owner in list(self.children.items()):
            if owner == number:
                with contextlib.suppress(ProcessLookupError, ChildProcessError):
                    os.kill(pid, signal.SIGKILL)
                    os.waitpid(pid, 0)
                self.children.pop(pid, None)

    def answer(self, number: int) -> None:
        """Serve one request of a line."""
        line = self.lines[number]
        try:
            asked, ends, _, _ = socket.recv_fds(line, _ASKED.size, 1)
        except OSError:
            asked, ends = b"", []
        if len(asked) < _ASKED.size:
            self.leave(number)
            return
        memory, nice = _ASKED.unpack(asked)
        self.reap()
        if nice < 0 and not memory:
            told = self.ends.get(-nice, 0)
        else:
            told = self._fork(number, ends[0], memory, nice)
            os.close(ends[0])
        with contextlib.suppress(OSError):
            line.sendall(_ANSWER.pack(told))

    def _fork(self, number: int, end: int, memory: int, nice: int) -> int:
        child = os.fork()
        if not child:
            for line in self.lines.values():
                line.close()
            if self.listener is not None:
                self.listener.close()
            serve(socket.socket(fileno=end), memory, nice, self.jobs)
            os._exit(0)
        self.children[child] = number
        return child

    def serve(self) -> None:
        """Serve all lines; without a listener until the only one is closed."""
        while self.listener is not None or self.lines:
            look = select.poll()
            for number in [*self.lines, *([] if self.listener is None else [self.listener.fileno()])]:
                look.register(number, select.POLLIN)
            for number, _ in look.poll():
                if self.listener is not None and number == self.listener.fileno():
                    line, _ = self.listener.accept()
                    self.lines[line.fileno()] = line
                elif number in self.lines:
                    self.answer(number)


def _main(where: str) -> None:
    # Ctrl+C is for the launcher, which ends this.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    house = _House()
    if where.isdecimal():
        line = socket.socket(fileno=int(where))
        house.lines[line.fileno()] = line
    else:
        # Only now that the kernel is loaded: who finds nobody listening asks the other nursery.
        Path(where).unlink(missing_ok=True)
        house.listener = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        house.listener.bind(where)
        house.listener.listen(64)
    house.serve()


if __name__ == "__main__":
    _main(sys.argv[1])
