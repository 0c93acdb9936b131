"""The system: the unknowns of a part from its faces, equations on them, rank, span and pile-up.

>>> from canonis.core.recipe import plate
>>> solid = plate()
>>> from canonis.core.shape import shape_of
>>> system, tied = shape_of(solid)
>>> len(system.unknowns)
9
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
