"""What states something on a draft: functions that look at a sheet and tell what could be said there."""

from collections.abc import Callable, Iterator

from canonis.core.drafting.desk import Candidate, Desk

__all__ = ["States", "of_faces", "of_features", "states"]

States = Callable[[Desk], Iterator[Candidate]]
_FEATURES: list[tuple[int, States]] = []
_FACES: list[tuple[int, States]] = []


def states(order: int, *, faces: bool = False) -> Callable[[States], States]:
    """Enter a function that says what was recognised, and where flat faces lie; with `faces` one that says whatever of a face
    is free (see `Desk.touched`). Of two candidates at one price that of the lower order is made."""

    def enter(function: States) -> States:
        (_FACES if faces else _FEATURES).append((order, function))
        return function

    return enter


def of_features() -> tuple[States, ...]:
    """What says features, in order."""
    return tuple(f for _, f in sorted(_FEATURES, key=lambda f: f[0]))


def of_faces() -> tuple[States, ...]:
    """What says whatever of a face is free, in order."""
    return tuple(f for _, f in sorted(_FACES, key=lambda f: f[0]))
