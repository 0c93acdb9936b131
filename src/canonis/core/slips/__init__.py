"""One catalogue of hypotheses that explain a difference, on plain observables: numbers, volumes, centres."""

import lazy_loader

__getattr__, __dir__, __all__ = lazy_loader.attach_stub(__name__, __file__)
