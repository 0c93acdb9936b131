"""Edits of a sheet carried out, one module each. Adding one is a class of `Edit` in `commands.py` or `view_commands.py`, and a module here."""

from importlib import import_module
from pkgutil import iter_modules

for _found in iter_modules(__path__):
    import_module(f"{__name__}.{_found.name}")
