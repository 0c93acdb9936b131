"""Several views of one solid at once, on the cores this process may use."""

import os
import pickle
from collections.abc import Sequence

from canonis.core.solid import Solid
from canonis.core.tether import end_with
from canonis.core.view.frames import ViewFrame
from canonis.core.view.projection import Projection, project
from canonis.core.view.threads import Thread
from canonis.core.view.visibility import prepare

__all__ = ["project_all"]

Wish = tuple[ViewFrame, bool, tuple[Thread, ...]]
#: From how many faces on a helper is worth starting: below, a view takes less time than it.
_WORTH = 300


def _cores() -> int:
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else 1


def _made(solid: Solid, wish: Wish) -> Projection:
    frame, hidden, threads = wish
    return project(solid, frame, hidden, threads=threads)


def project_all(solid: Solid, wishes: Sequence[Wish]) -> list[Projection]:
    """Project every (frame, hidden wanted, threads drawn by convention); the results stand in the order of the wishes.

    Shares the work with forked helpers, which inherit the solid and all that was prepared for its views. A helper that
    fails is not missed: its views are projected here.
    """
    helpers = min(_cores(), len(wishes)) - 1
    if len(solid.faces) < _WORTH:
        helpers = 0
    elif helpers:
        prepare(solid)
    lanes = [list(range(k, len(wishes), helpers + 1)) for k in range(helpers + 1)]
    running = [(lane, *_start_helper(solid, [wishes[k] for k in lane])) for lane in lanes[1:]]
    results: dict[int, Projection] = {k: _made(solid, wishes[k]) for k in lanes[0]}
    for lane, pipe, process in running:
        try:
            with open(pipe, "rb") as end:
                done = pickle.load(end)
        except (EOFError, OSError, pickle.UnpicklingError):
            done = [_made(solid, wishes[k]) for k in lane]
        os.waitpid(process, 0)
        results.update(zip(lane, done, strict=True))
    return [results[k] for k in range(len(wishes))]


def _start_helper(solid: Solid, wishes: list[Wish]) -> tuple[int, int]:
    """A forked helper: the pipe that its projections come through, and its process number."""
    here, there = os.pipe()
    parent = os.getpid()
    process = os.fork()
    if process:
        os.close(there)
        return here, process
    try:
        end_with(parent)
        with open(there, "wb") as end:
            pickle.dump([_made(solid, w) for w in wishes], end)
    finally:
        os._exit(0)
