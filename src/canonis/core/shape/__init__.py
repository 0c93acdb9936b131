"""The system: the unknowns of a part from its faces, equations on them, rank, span and pile-up."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
