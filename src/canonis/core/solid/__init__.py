"""The only door to the geometry kernel: read, check, measure, mass, references."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
