"""Edits in tests, given as plain data the way the browser sends them."""

from canonis.core.drafting.commands import read_command
from canonis.core.drafting.revise import apply_command


def edited(document, command, draft, cache=None):
    """The document after one command."""
    kept = draft.scene.projections if cache is None else cache
    return apply_command(document, read_command(command), draft.scene.solids, draft.features, kept)
