"""The sheet document and its compilation to strokes, regions and text."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
