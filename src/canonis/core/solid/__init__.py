"""The only door to the geometry kernel: read, check, measure, mass, references.

>>> from canonis.core.recipe import plate
>>> solid = plate()
>>> len(solid.faces), round(float(solid.mass.volume), 3)
(7, 47396.814)
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
