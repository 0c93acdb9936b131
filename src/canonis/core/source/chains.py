"""Chains of distances: exact levels, missing members solved, loops that do not close."""

import re
from collections import deque
from fractions import Fraction
from itertools import pairwise
from typing import Any

from pydantic import BaseModel, ConfigDict

from canonis.core.faults import BadInput
from canonis.core.quantity.units import Unit, to_mm
from canonis.core.quantity.written import fraction_of

__all__ = ["Chain", "solve_chain"]


class Chain(BaseModel):
    """A solved chain. Levels in exact mm from the first name; unreached levels are absent."""

    model_config = ConfigDict(frozen=True)

    direction: str
    levels: dict[str, Fraction]
    solved: tuple[str, ...]
    gaps: tuple[dict[str, Any], ...]
    unsolved: tuple[str, ...] = ()

    def as_json(self) -> dict[str, Any]:
        """The chain as COMMANDS.md writes it."""
        return {
            "direction": self.direction, "levels_mm": {k: float(v) for k, v in self.levels.items()},
            "solved": list(self.solved), "gaps": [dict(g) for g in self.gaps], "unsolved": list(self.unsolved),
        }  # fmt: skip


_LINK = re.compile(r"\s*-\s*(\?|[\d.,/ ]+?)\s*-\s*([A-Za-z_][\w']*)")


def _links(text: str, unit: Unit) -> tuple[list[str], list[tuple[str, str, Fraction | None]]]:
    names: list[str] = []
    links: list[tuple[str, str, Fraction | None]] = []
    for strand in text.split(";"):
        if not strand.strip():
            continue
        head = re.match(r"\s*([A-Za-z_][\w']*)", strand)
        if not head:
            raise BadInput(f"chain “{strand.strip()}” must begin with the name of a level")
        here, at = head.group(1), head.end()
        names.append(here)
        while strand[at:].strip():
            link = _LINK.match(strand, at)
            if not link:
                raise BadInput(f"chain “{strand.strip()}” cannot be read at “{strand[at:].strip()[:12]}”")
            try:
                size = None if link.group(1) == "?" else to_mm(fraction_of(link.group(1)), unit)
            except (ValueError, ZeroDivisionError):
                raise BadInput(f"chain “{strand.strip()}”: “{link.group(1)}” is not a distance") from None
            links.append((here, link.group(2), size))
            here, at = link.group(2), link.end()
            names.append(here)
    return list(dict.fromkeys(names)), links


def _path(tree: dict[str, str | None], a: str, b: str) -> list[str]:
    """Names from a to b through the tree of levels."""
    up: list[str] = []
    node: str | None = a
    while node is not None:
        up.append(node)
        node = tree[node]
    down: list[str] = []
    node = b
    while node is not None and node not in up:
        down.append(node)
        node = tree[node]
    return up[: up.index(node) + 1] + down[::-1] if node is not None else [a, b]


def solve_chain(direction: str, text: str, unit: Unit) -> Chain:
    """Solve the levels of a chain such as ``A -1.0625- B -?- C; A -2.875- C``.

    Raises BadInput when the text is not a chain.
    """
    names, links = _links(text, unit)
    near: dict[str, list[tuple[str, Fraction, int]]] = {n: [] for n in names}
    for k, (a, b, size) in enumerate(links):
        if size is not None:
            near[a].append((b, size, k))
            near[b].append((a, -size, k))
    levels: dict[str, Fraction] = {}
    tree: dict[str, str | None] = {}
    used: set[int] = set()
    if names:
        levels[names[0]], tree[names[0]] = Fraction(0), None
        queue = deque([names[0]])
        while queue:
            here = queue.popleft()
            for other, size, k in near[here]:
                if other not in levels:
                    levels[other], tree[other] = levels[here] + size, here
                    used.add(k)
                    queue.append(other)
    gaps = []
    for k, (a, b, size) in enumerate(links):
        if size is None or k in used or a not in levels:
            continue
        gap = levels[b] - levels[a] - size
        if gap:
            path = _path(tree, a, b)
            loop = [f"{p}-{q}" for p, q in pairwise(path)] + [f"{a}-{b}"]
            gaps.append({"loop": loop, "gap_mm": abs(float(gap))})
    unknown = [(a, b) for a, b, size in links if size is None]
    solved = tuple(f"{a}-{b}" for a, b in unknown if a in levels and b in levels)
    unsolved = tuple(f"{a}-{b}" for a, b in unknown if a not in levels or b not in levels)
    return Chain(direction=direction, levels=levels, solved=solved, gaps=tuple(gaps), unsolved=unsolved)
