"""Numbers as people write them: exact values, units, and the written forms of drawing styles."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
