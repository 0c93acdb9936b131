"""Several views of one solid at once, on the cores this process may use."""

import ctypes
import multiprocessing
import os
import pickle
import signal
import sys
from collections.abc import Sequence

from canonis.core.solid.model import Solid
from canonis.core.view.frames import ViewFrame
from canonis.core.view.projection import Projection, project

__all__ = ["project_all"]

Wish = tuple[ViewFrame, bool]


def _cores() -> int:
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else 1


def project_all(solid: Solid, wishes: Sequence[Wish]) -> list[Projection]:
    """Project every (frame, hidden wanted); the results stand in the order of the wishes.

    Shares the work with forked helpers, which inherit the solid as it is. A helper that fails is
    not missed: its views are projected here.
    """
    helpers = min(_cores(), len(wishes)) - 1
    if helpers < 1 or multiprocessing.parent_process() is not None:
        return [project(solid, frame, hidden) for frame, hidden in wishes]
    context = multiprocessing.get_context("fork")
    lanes = [list(range(k, len(wishes), helpers + 1)) for k in range(helpers + 1)]
    running = []
    for lane in lanes[1:]:
        here, there = context.Pipe(duplex=False)
        process = context.Process(
            target=_help, args=(there, solid, [wishes[k] for k in lane], os.getpid()), daemon=True
        )
        process.start()
        there.close()
        running.append((lane, here, process))
    results: dict[int, Projection] = {k: project(solid, *wishes[k]) for k in lanes[0]}
    for lane, pipe, process in running:
        try:
            done = pickle.loads(pipe.recv_bytes())
        except (EOFError, OSError):
            done = [project(solid, *wishes[k]) for k in lane]
        process.join()
        results.update(zip(lane, done, strict=True))
    return [results[k] for k in range(len(wishes))]


def _end_with(parent: int) -> None:
    """Let this process end when its parent does: a cancelled or crashed draft must leave no helper behind."""
    if sys.platform == "linux":
        ctypes.CDLL(None).prctl(1, signal.SIGKILL)  # PR_SET_PDEATHSIG
    if os.getppid() != parent:
        os._exit(1)  # it ended before the line above


def _help(pipe: object, solid: Solid, wishes: list[Wish], parent: int) -> None:
    _end_with(parent)
    done = [project(solid, frame, hidden) for frame, hidden in wishes]
    pipe.send_bytes(pickle.dumps(done))  # type: ignore[attr-defined]
