"""A small picture of a sheet, for the list of jobs: the lines of its views, as fine as a stamp can show."""

import json
import re
from typing import Any
from xml.sax.saxutils import quoteattr

__all__ = ["small_picture"]

#: Points of a path are kept to this, mm on the paper; a picture is some 80 pixels wide.
_GRAIN = 1.0
_NUMBER = re.compile(r"-?\d+(?:\.\d+)?")


def small_picture(pages: str) -> str:
    """The first of some compiled pages as a small SVG."""
    page: dict[str, Any] = json.loads(pages)[0]
    views = {v["id"] for v in page["views"]}
    thick = _paths(page, views, dashed=False)
    w, h = page["width"], page["height"]
    return (
        f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {w:g} {h:g}" width="{w / 3:g}" height="{h / 3:g}">'
        f'<rect width="{w:g}" height="{h:g}" fill="#fffefb"/><g fill="none" stroke="#22262b" stroke-width="1.4">'
        f'<path stroke="#d3cec3" d="M{w - 130:g} {h - 12:g}v-36h118v36z"/><path d={quoteattr(thick)}/></g></svg>'
    )


def _paths(page: dict[str, Any], owners: set[str], *, dashed: bool) -> str:
    paths = (s["d"] for s in page["strokes"] if s["o"] in owners and bool(s["dash"]) is dashed)
    return "".join(dict.fromkeys(_coarse(d) for d in paths))


def _coarse(path: str) -> str:
    """A path with its numbers rounded; an arc's turn and flags are whole numbers already."""
    return _NUMBER.sub(lambda m: f"{round(float(m[0]) / _GRAIN) * _GRAIN:g}", path)
