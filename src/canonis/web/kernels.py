"""The web application's own warm kernel children, for work that a person waits for."""

from typing import Any

from canonis.store.kept import StoreShelf
from canonis.work.pool import KernelPool, cores

__all__ = ["run", "stop", "warm"]

#: Work done with the hand on the mouse or in a field; the rest leaves a child free for it.
_QUICK = ("show", "edit", "measure_picks", "thickness", "frame", "weigh", "work_out", "read_source")
#: Lines of a source beyond which reading it is no quick work.
_MANY_LINES = 400
#: Seconds that a person waits for a child to become free.
_WAIT = 30.0
# One more than the cores at least, so that slow work and quick work run beside each other.
_pool = KernelPool(max(2, cores()))
_shelf = StoreShelf()


def warm() -> None:
    """Start the children in the background."""
    _pool.warm()


def stop() -> None:
    """Stop the children."""
    _pool.stop()


def run(job: str, **arguments: Any) -> Any:
    """Run a kernel job (see `work.desk` and `work.study`).

    Raises Busy when no child becomes free in time, and what `KernelChild.run` raises.
    """
    subject = str((arguments.get("model") or {}).get("sha256", ""))
    many = len((arguments.get("source") or {}).get("lines", ())) > _MANY_LINES
    what = (
        "model"
        if "model" in arguments or job == "check_step"
        else "list"
        if "source" in job or job == "work_out"
        else "file"
    )
    return _pool.run(
        job, arguments, subject=subject, slow=many or job not in _QUICK, wait_limit=_WAIT, shelf=_shelf, what=what
    )
