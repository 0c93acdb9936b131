"""The source specification: what the print, table or notes say the part must be."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
