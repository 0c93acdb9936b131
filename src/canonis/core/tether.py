"""A process that ends when the one that started it does."""

import contextlib
import ctypes
import os
import signal

__all__ = ["end_with"]

_PARENT_DEATH_SIGNAL = 1  # PR_SET_PDEATHSIG of prctl(2)


def end_with(parent: int | None = None, by: signal.Signals = signal.SIGKILL) -> None:
    """Let this process end by signal `by` when its parent does, which is process `parent` unless that ended already;
    where the system has no such thing, nothing happens.
    The system takes the thread that started it for the parent: it must be one that stays."""
    with contextlib.suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(_PARENT_DEATH_SIGNAL, by)
    if parent is not None and os.getppid() != parent:
        os._exit(1)  # it ended before the line above
