"""Kernel jobs of the web application (filled in below the command line's)."""

from collections.abc import Callable
from typing import Any

DESK: dict[str, Callable[..., Any]] = {}
