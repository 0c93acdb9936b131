"""Parsers made from grammars; their tables are kept where Python keeps its compiled modules."""

import importlib.util
from functools import lru_cache
from pathlib import Path
from typing import Any

from lark import Lark

__all__ = ["parser_of"]


def _tables(name: str) -> str | bool:
    """Where the tables of a grammar are kept; False where nothing can be written."""
    beside = Path(__file__).with_name(f"{name}.py")
    kept = Path(importlib.util.cache_from_source(str(beside))).with_suffix(".tables")
    try:
        kept.parent.mkdir(parents=True, exist_ok=True)
        with kept.open("ab"):
            pass
        if not kept.stat().st_size:
            kept.unlink()
    except OSError:
        return False
    return str(kept)


@lru_cache(maxsize=4)
def parser_of(name: str, text: str, **options: Any) -> Lark:
    """The parser of a grammar, made once a process; `name` is that of its kept tables."""
    return Lark(text, parser="lalr", maybe_placeholders=False, cache=_tables(name), **options)
