"""The kinds of statement that a draft can make: one module each, which tells the candidates of its kind and enters that here.

Adding a kind is writing such a module in this folder.
"""

from importlib import import_module
from pkgutil import iter_modules

from canonis.core.drafting.registry import of_faces, of_features

__all__ = ["of_faces", "of_features"]

for _found in iter_modules(__path__):
    import_module(f"{__name__}.{_found.name}")
