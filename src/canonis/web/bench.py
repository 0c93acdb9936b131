"""The web application's own warm kernel children, for edits that must answer at once."""

from typing import Any

from canonis.work.kernel import KernelChild

__all__ = ["run", "stop", "warm"]

#: Jobs that a person waits for with the hand on the mouse.
_AT_ONCE = ("show", "edit", "measure_picks", "thickness", "frame", "weigh")
_child = KernelChild()
_proving = KernelChild()


def warm() -> None:
    """Start the children in the background."""
    for child in (_child, _proving):
        child.warm()


def stop() -> None:
    """Stop the children."""
    _child.stop()
    _proving.stop()


def run(job: str, **arguments: Any) -> Any:
    """Run a kernel job; proofs and files have a child of their own, so that they never hold up an edit or a pick."""
    child = _child if job in _AT_ONCE else _proving
    return child.run(job, arguments, stage_limit=60.0)
