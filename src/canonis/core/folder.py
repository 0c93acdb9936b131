"""Meeting every module of a folder, so that each can enter what it knows."""

from importlib import import_module
from pkgutil import iter_modules
from types import ModuleType

__all__ = ["modules_of"]


def modules_of(package: str) -> tuple[ModuleType, ...]:
    """All modules that stand in a package, loaded, by their names."""
    return tuple(import_module(f"{package}.{m.name}") for m in iter_modules(import_module(package).__path__))
