"""Elimination row by row: rank, what depends on what, and what stays free."""

import heapq
from collections.abc import Callable, Hashable, Iterator

from canonis.core.shape.rows import Row

__all__ = ["Elimination", "Sum"]

#: What is left of a row must be more than this share of it to count as something new: the rows of real parts hold
#: noise of 1e-6 and true remainders of 1e-3 and more.
_LEFT = 1e-4
_NOISE = 1e-13
#: A row fixes only an unknown that has a good share in it.
_PIVOT = 0.3
#: Shares of a sum smaller than this are noise.
_SHARE = 1e-9

#: Which named rows, and how much of each, make up another one.
Sum = dict[Hashable, float]


class Elimination:
    """Rows in echelon form. A row that says nothing new comes back as the sum of those that say it."""

    def __init__(self, favour: Callable[[int], int] = lambda _: 0) -> None:
        """`favour` of two unknowns that a row could fix the one with the larger number: what is left free at the end is
        better one that people have a name for."""
        self._favour = favour
        #: Of each row kept: its column, what of it was new, its name, and the shares of earlier rows taken off.
        self._rows: list[tuple[int, Row, Hashable, dict[int, float]]] = []
        self._pivot: dict[int, int] = {}

    @property
    def rank(self) -> int:
        """How many rows said something new."""
        return len(self._rows)

    def kept(self) -> list[tuple[int, Row, Hashable, dict[int, float]]]:
        """The rows that said something new: the column each fixes, what of it was new, its name, the shares taken off."""
        return list(self._rows)

    def _reduced(self, row: Row) -> tuple[Row | None, dict[int, float]]:
        """What of a row is new (None: nothing), and the shares of kept rows that make up the rest."""
        left, shares = dict(row), dict[int, float]()
        big = max((abs(v) for v in row.values()), default=0.0)
        todo = [self._pivot[c] for c in row if c in self._pivot]
        heapq.heapify(todo)
        done: set[int] = set()
        while todo:
            k = heapq.heappop(todo)
            if k in done:
                continue
            done.add(k)
            column, base, _, _ = self._rows[k]
            value = left.get(column)
            if value is None:
                continue
            share = value / base[column]
            for c, v in base.items():
                x = left.get(c, 0.0) - share * v
                if c == column or abs(x) < _NOISE:
                    left.pop(c, None)
                    continue
                if c not in left and c in self._pivot and self._pivot[c] not in done:
                    heapq.heappush(todo, self._pivot[c])
                left[c] = x
            shares[k] = share
        rest = max((abs(v) for v in left.values()), default=0.0)
        return (left if rest > _LEFT * big else None), shares

    def add(self, row: Row, name: Hashable) -> Sum | None:
        """Take a row; None when it is new, else the sum of earlier ones that says it already (empty for a row of nothing)."""
        left, shares = self._reduced(row)
        if left is None:
            return self._named(shares)
        most = max(abs(v) for v in left.values())
        firm = [c for c, v in left.items() if abs(v) > _PIVOT * most]
        column = max(firm, key=lambda c: (self._favour(c), round(abs(left[c]), 6), c))
        self._pivot[column] = len(self._rows)
        self._rows.append((column, left, name, shares))
        return None

    def _named(self, shares: dict[int, float]) -> Sum:
        """Shares of kept rows as shares of the rows that were given."""
        left, out = dict(shares), Sum()
        todo = [-k for k in left]
        heapq.heapify(todo)
        while todo:
            k = -heapq.heappop(todo)
            share = left.pop(k, 0.0)
            if abs(share) < _SHARE:
                continue
            _, _, name, taken = self._rows[k]
            out[name] = out.get(name, 0.0) + share
            for j, v in taken.items():
                if j not in left:
                    heapq.heappush(todo, -j)
                left[j] = left.get(j, 0.0) - share * v
        return {n: v for n, v in out.items() if abs(v) > _SHARE}

    def spans(self, row: Row) -> Sum | None:
        """The sum that makes up a row, or None when the rows do not give it."""
        left, shares = self._reduced(row)
        return self._named(shares) if left is None else None

    def free_columns(self, count: int) -> list[int]:
        """The unknowns, of `count`, that no row fixes."""
        return [k for k in range(count) if k not in self._pivot]

    def free(self, count: int) -> Iterator[tuple[int, Row]]:
        """Each of `count` unknowns that stays free, with how all unknowns move when it does."""
        for unknown in self.free_columns(count):
            moves: Row = {unknown: 1.0}
            for column, row, _, _ in reversed(self._rows):
                value = sum(row[c] * moves[c] for c in row if c != column and c in moves)
                if abs(value) > _NOISE:
                    moves[column] = -value / row[column]
            yield unknown, moves
