"""Parsers made from the grammars beside this module; their tables are kept where Python keeps its compiled modules."""

import importlib.util
from functools import lru_cache
from pathlib import Path
from typing import Any

from lark import Lark

__all__ = ["parser_of"]


def _tables(source: Path) -> str | bool:
    """Where the tables of a grammar are kept; False where nothing can be written."""
    kept = Path(importlib.util.cache_from_source(str(source.with_suffix(".py")))).with_suffix(".tables")
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
def parser_of(name: str, **options: Any) -> Lark:
    """The parser of a grammar by its file's name, made once a process."""
    source = Path(__file__).parent / name
    return Lark(source.read_text(), parser="lalr", maybe_placeholders=False, cache=_tables(source), **options)
