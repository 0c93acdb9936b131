"""How the part lies in the views of its source, and what each view can show of it."""

from collections import defaultdict
from collections.abc import Callable
from typing import Any

from canonis.core.proof.known import meant_by
from canonis.core.proof.match.features import wrong_side
from canonis.core.proof.match.item import Item
from canonis.core.proof.match.orientation import FILE, ORIENTATIONS, Orientation, View
from canonis.core.proof.match.prices import PRICES
from canonis.core.proof.match.stated import Stated

__all__ = ["Lying"]


class Lying(Stated):
    """Lines that say where they were read."""

    def _views(self) -> None:
        """Where the lines were read: one orientation of the part in the source's views, and what each view can show."""
        demands: list[tuple[float, dict[View, Callable[[int], bool]], int]] = []
        for number in self.none:
            words, mine = self.words[number], self.of.get(number, [])
            if not mine:
                continue
            if words.view is not None:
                demands.append((PRICES.view, {(w, s): self._hidden(w) for w in range(3) for s in (-1, 1)}, number))
            if words.side is not None:
                demands.append(
                    (PRICES.against + 1, {(w, s): self._not_from(w, s) for w in range(3) for s in (-1, 1)}, number)
                )
            if words.tall:
                demands.append((1.0, {(w, s): self._not_along(w) for w in range(3) for s in (-1, 1)}, number))
        sided = [
            n
            for n in self.none
            if any(
                (i := self.candidates[k].item) is not None and wrong_side(self.lines[n], i) for k in self.of.get(n, [])
            )
        ]
        if not demands and not sided:
            return
        known = [FILE] + ([self.front] if self.front is not None else [])
        self.orientations = [self._bool() for _ in ORIENTATIONS]
        self.model.add_exactly_one(self.orientations)
        for o, b in zip(ORIENTATIONS, self.orientations, strict=True):
            price = (
                0.0
                if o in known
                else PRICES.mirrored
                if any((k.toward[0], k.up[0]) == (o.toward[0], o.up[0]) for k in known)
                else PRICES.turned
            )
            self._pay(price, b)
        for price, bad, number in demands:
            self._demand(number, price, bad)
        for number in sided:
            self._sides(number)
        for number in self.none:
            self._end_on(number)

    def _hidden(self, way: int) -> Callable[[int], bool]:
        return lambda k: self.candidates[k].way == way

    def _not_along(self, way: int) -> Callable[[int], bool]:
        return lambda k: self.candidates[k].way >= 0 and self.candidates[k].way != way

    def _not_from(self, way: int, sense: int) -> Callable[[int], bool]:
        def bad(k: int) -> bool:
            c = self.candidates[k]
            return c.way >= 0 and (way, sense) not in c.ends

        return bad

    def _demand(self, number: int, price: float, bad: dict[View, Callable[[int], bool]]) -> None:
        """Pay where the chosen measure does not go with the orientation."""
        words, mine = self.words[number], self.of[number]
        name = words.view if price == PRICES.view else words.side if price == PRICES.against + 1 else ("up", 1)
        assert name is not None
        by_class: dict[tuple[int, ...], list[Any]] = defaultdict(list)
        for o, b in zip(ORIENTATIONS, self.orientations, strict=True):
            wrong = tuple(k for k in mine if bad[o.of(name[0], name[1])](k))
            by_class[wrong].append(b)
        hurt = self._bool()
        for wrong, os in by_class.items():
            if wrong:
                self.model.add(hurt >= sum(self.x[k] for k in wrong) + sum(os) - 1)
        self._pay(price * self.weight[number], hurt)

    def _opens_away(self, number: int, item: Item, orientation: Orientation) -> bool:
        """Whether a seat or a blind hole opens away from the side that its line's view shows, with the part lying so."""
        side = wrong_side(self.lines[number], item)
        if side is None:
            return False
        way, sense = orientation.of(side[0], side[1])
        look = float(item.axis @ self.levels.frame[way]) * (1 if item.seats[0] or not item.seats[1] else -1)
        return abs(look) > 0.9 and look * sense < 0

    def _sides(self, number: int) -> None:
        """A seat or a blind hole opens to the side that its view shows."""
        by_class: dict[tuple[int, ...], list[Any]] = defaultdict(list)
        for o, b in zip(ORIENTATIONS, self.orientations, strict=True):
            wrong = []
            for k in self.of[number]:
                item = self.candidates[k].item
                if item is not None and self._opens_away(number, item, o):
                    wrong.append(k)
            by_class[tuple(wrong)].append(b)
        hurt = self._bool()
        for wrong_ks, os in by_class.items():
            if wrong_ks:
                for k in wrong_ks:
                    self.model.add(hurt >= self.x[k] + sum(os) - 1)
        self._pay(PRICES.side * self.weight[number], hurt)
        self.sides.add(number)

    def _end_on(self, number: int) -> None:
        """Holes are listed where they are seen end on."""
        words = self.words[number]
        if words.view is None or not meant_by(self.lines[number].kind).end_on:
            return
        by_class: dict[tuple[int, ...], list[Any]] = defaultdict(list)
        for o, b in zip(ORIENTATIONS, self.orientations, strict=True):
            way, _ = o.of(words.view[0])
            wrong = tuple(
                k
                for k in self.of.get(number, [])
                if (item := self.candidates[k].item) is not None
                and abs(float(item.axis @ self.levels.frame[way])) < 0.9
            )
            by_class[wrong].append(b)
        hurt = self._bool()
        for wrong, os in by_class.items():
            for k in wrong:
                self.model.add(hurt >= self.x[k] + sum(os) - 1)
        self._pay(PRICES.end_on, hurt)
