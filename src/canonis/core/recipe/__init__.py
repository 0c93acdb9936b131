"""A written list of steps built into a solid.

>>> from canonis.core.recipe import PLATE, build_recipe
>>> built = build_recipe(PLATE)
>>> [round(row["volume_mm3"], 3) for row in built.ledger]
[48000.0, 47396.814]
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
