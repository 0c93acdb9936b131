"""What is known of each kind on the second route: one module a kind, or a few alike, which enters how statements of it are
measured and what lines of a source may mean by it. Adding a kind is writing such a module here."""

from importlib import import_module
from pkgutil import iter_modules

for _found in iter_modules(__path__):
    import_module(f"{__name__}.{_found.name}")
