"""Kernel work outside this process, with limits on time and memory; a crash or a hang costs one job."""

import os
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable
from multiprocessing.connection import Connection
from typing import Any

from canonis.core.faults import BadInput

__all__ = ["Cancelled", "KernelChild", "KernelFault"]

#: Seconds one stage of a job may take (reading, one view, …) before the child is stopped.
STAGE_LIMIT = 60.0
#: Address space of a child, bytes.
MEMORY_LIMIT = 8 * 1024**3


class KernelFault(Exception):
    """The program itself failed inside the child; carries the trace for the log."""


class Cancelled(Exception):
    """The job was cancelled by its owner."""


class KernelChild:
    """One warm child process. Not for use by two threads at once; see `lock`."""

    def __init__(self, memory: int = MEMORY_LIMIT) -> None:
        self.memory = memory
        self.lock = threading.Lock()
        self._process: subprocess.Popen[bytes] | None = None
        self._pipe: Connection | None = None

    def start(self) -> None:
        """Start the child if it is not running."""
        if self._process is not None and self._process.poll() is None:
            return
        self.stop()
        here, there = socket.socketpair()
        os.set_inheritable(there.fileno(), True)
        self._process = subprocess.Popen(
            [sys.executable, "-m", "canonis.work.child", str(there.fileno()), str(self.memory)],
            pass_fds=[there.fileno()], stdin=subprocess.DEVNULL, stdout=subprocess.DEVNULL,
        )  # fmt: skip
        there.close()
        self._pipe = Connection(here.detach())
        if not self._pipe.poll(120) or self._receive()[0] != "ready":
            self.stop()
            raise KernelFault("the kernel process did not start")

    def warm(self) -> None:
        """Start the child in the background, so that the first job need not wait for the kernel to load."""

        def work() -> None:
            with self.lock:
                self.start()

        threading.Thread(target=work, daemon=True).start()

    def _receive(self) -> tuple[str, Any]:
        assert self._pipe is not None
        try:
            kind, value = self._pipe.recv()
            return str(kind), value
        except (EOFError, OSError):
            return "gone", None

    def stop(self) -> None:
        """Stop the child, whatever it is doing."""
        if self._process is not None:
            self._process.kill()
            self._process.wait()
        if self._pipe is not None:
            self._pipe.close()
        self._process, self._pipe = None, None

    def run(
        self, job: str, arguments: dict[str, Any], *, stage_limit: float = STAGE_LIMIT,
        progress: Callable[[str], None] = lambda _: None, cancelled: Callable[[], bool] = lambda: False,
    ) -> Any:  # fmt: skip
        """Run a job and return its result.

        Raises BadInput for input that cannot be used, also when the kernel crashes or takes too long on
        it; KernelFault for a fault of the program; Cancelled when `cancelled` turns true.
        """
        with self.lock:
            self.start()
            assert self._pipe is not None
            self._pipe.send((job, arguments))
            stage, since = "starting", time.monotonic()
            while True:
                if cancelled():
                    self.stop()
                    raise Cancelled
                if not self._pipe.poll(0.2):
                    if time.monotonic() - since > stage_limit:
                        self.stop()
                        raise BadInput(f"The model is too hard for the kernel: {stage.lower()} took over "
                                       f"{stage_limit:.0f} s; simplify it or raise the time limit.")  # fmt: skip
                    continue
                kind, value = self._receive()
                if kind == "progress":
                    stage, since = value, time.monotonic()
                    progress(value)
                elif kind == "done":
                    return value
                elif kind == "bad":
                    raise BadInput(value)
                elif kind == "gone":
                    self.stop()
                    raise BadInput(
                        f"The kernel crashed on this model while {stage.lower()}; check and export it again."
                    )
                else:
                    raise KernelFault(value)
