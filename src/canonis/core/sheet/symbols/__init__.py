"""Statements that are drawn, not written: one module a kind, which enters itself."""

from canonis.core.folder import modules_of
from canonis.core.sheet.symbols.registry import Symbol, symbol_of

__all__ = ["Symbol", "symbol_of"]

modules_of(__name__)
