"""Sections and details asked for in one line of text each, as the command line gives them."""

import re

from canonis.core.drafting.draft import Draft, scene_for
from canonis.core.drafting.revise import apply_command
from canonis.core.drafting.view_commands import AddDetail, AddSection
from canonis.core.faults import BadInput
from canonis.core.sheet import SheetDocument, View

__all__ = ["with_views"]

_SECTION = re.compile(r"^(?P<view>\w+):(?P<across>[xy])=(?P<level>[-+]?\d+(\.\d+)?)(?P<half>:half)?$")
_DETAIL = re.compile(r"^(?P<view>\w+):(?P<x>[-+]?[\d.]+),(?P<y>[-+]?[\d.]+),(?P<r>[\d.]+)(,(?P<scale>\d+:\d+))?$")


def _named(document: SheetDocument, kind: str) -> View:
    for view in document.views:
        if kind in (view.kind, view.id):
            return view
    raise BadInput(f"The sheet has no {kind} view; it has {', '.join(v.kind for v in document.views)}.")


def _numbers(*texts: str) -> list[float]:
    try:
        return [float(t) for t in texts]
    except ValueError:
        raise BadInput(f"“{', '.join(texts)}” are not numbers of millimetres.") from None


def with_views(draft: Draft, sections: tuple[str, ...], details: tuple[str, ...]) -> Draft:
    """A draft with sections like `top:y=25` (a level along the view from the datum, mm; `:half` ends at it) and details
    like `front:20,12,6` or `front:20,12,6,5:1` (centre from the datum and radius, mm at 1:1, scale).

    Raises BadInput with one sentence for one that cannot be read or made.
    """
    document = draft.document
    solids, cache = draft.scene.solids, draft.scene.projections
    for text in sections:
        found = _SECTION.match(text)
        if found is None:
            raise BadInput(f"Section “{text}” is not written like top:y=25 or front:x=40.")
        view = _named(document, found["view"])
        command = AddSection(
            view=view.id,
            across="x" if found["across"] == "x" else "y",
            level=float(found["level"]),
            form="half" if found["half"] else "full",
        )
        document = apply_command(document, command, solids, draft.features, cache)
    for text in details:
        got = _DETAIL.match(text)
        if got is None:
            raise BadInput(f"Detail “{text}” is not written like front:20,12,6 or front:20,12,6,5:1.")
        view = _named(document, got["view"])
        x, y, r = _numbers(got["x"], got["y"], got["r"])
        detail = AddDetail(view=view.id, levels=(x, y), radius=max(0.6, r * view.scale), scale=got["scale"] or "auto")
        document = apply_command(document, detail, solids, draft.features, cache)
    return Draft(scene_for(document, solids, draft.features, cache), draft.unseen, draft.features)
