"""A mark of the program's rules: what was computed by other code is never taken for today's."""

import hashlib
from functools import lru_cache
from pathlib import Path

__all__ = ["code_version"]


@lru_cache(maxsize=1)
def code_version() -> str:
    """A hash of the core's own files, the same on every machine that runs the same code."""
    here = Path(__file__).parent
    made = hashlib.sha256()
    for path in sorted(here.rglob("*")):
        if path.suffix in (".py", ".lark", ".ttf"):
            made.update(str(path.relative_to(here)).encode() + b"\0" + path.read_bytes() + b"\0")
    return made.hexdigest()[:16]
