"""Recognition: from bare faces to holes, rounds, chamfers and patterns."""

from importlib import import_module
from pkgutil import iter_modules

# Each module that finds compound features enters its finders when it is loaded.
for _found in iter_modules(__path__):
    import_module(f"{__name__}.{_found.name}")
