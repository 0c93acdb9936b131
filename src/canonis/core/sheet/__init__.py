"""The sheet document and its compilation to strokes, regions and text."""
