"""One catalogue of hypotheses that explain a difference, on plain observables: numbers, volumes, centres.

>>> from canonis.core.slips import number_slips
>>> next(number_slips(36.0, 63.0, typed="36", decimal=("36", "63"))).words
'two digits swapped'
"""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
