"""Recognition: from bare faces to holes, rounds, chamfers and patterns.

>>> from canonis.core.recipe import plate
>>> solid = plate()
>>> from canonis.core.features import recognise
>>> [(group.first.diameter, group.first.through) for group in recognise(solid).holes]
[(8.0, True)]
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
