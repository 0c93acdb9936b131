"""The named layers of a sheet: which one a stroke, a region or a text belongs to."""

__all__ = ["LAYERS", "layer_of", "text_layer"]

#: Layers in drawing order, by key, with the name that people read.
LAYERS: dict[str, str] = {
    "frame": "Frame and title block", "shading": "Shading", "hatching": "Hatching", "visible": "Visible edges", "hidden": "Hidden edges",
    "transitions": "Smooth transitions", "centre": "Centre lines", "cutting": "Cutting lines and view marks",
    "statements": "Dimensions and notes",
}  # fmt: skip
_BY_STYLE = {
    "hatch": "hatching",
    "visible": "visible",
    "hidden": "hidden",
    "smooth": "transitions",
    "centre": "centre",
    "cutting": "cutting",
    "frame": "frame",
}
_BORDER = ("frame", "title")


def layer_of(style: str, owner: str, views: frozenset[str]) -> str:
    """The layer of a stroke or region by its line style and by what owns it; `views` are the ids of the views."""
    if owner in _BORDER:
        return "frame"
    if style in _BY_STYLE:
        return _BY_STYLE[style]
    return "cutting" if owner in views else "statements"


def text_layer(owner: str, views: frozenset[str]) -> str:
    """The layer of a text by what owns it."""
    return layer_of("text", owner, views)
