"""The web application's own warm kernel children, for edits that must answer at once."""

from typing import Any

from canonis.work.kernel import KernelChild

__all__ = ["run", "stop", "warm"]

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
    """Run a kernel job; proofs and files have a child of their own, so that they never hold up an edit."""
    child = _child if job in ("show", "edit") else _proving
    return child.run(job, arguments, stage_limit=60.0)
