"""Understanding a solid: measuring between picks, frames, masses, the ledger of states, changes, sanity and advice.

>>> from canonis.core.recipe import plate
>>> solid = plate()
>>> from canonis.core.features import recognise
>>> from canonis.core.study import examine_solids
>>> examine_solids((solid,), (recognise(solid),))
[]
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
