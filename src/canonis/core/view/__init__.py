"""Projection of a solid to lines in the plane of a view."""
