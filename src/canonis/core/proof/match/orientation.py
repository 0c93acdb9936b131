"""How a part lies in the views that a source was read from."""

from dataclasses import dataclass

__all__ = ["FILE", "ORIENTATIONS", "Orientation", "View"]

#: A direction of the part's frame, and its sense.
View = tuple[int, int]


@dataclass(frozen=True)
class Orientation:
    """How the part lies in the source's views: where it looks to the reader of the front view, and what is up there.

    Each is (direction of the part's frame, sense).
    """

    toward: View
    up: View

    def of(self, name: str, sense: int = 1) -> View:
        """A direction of the source's views in the part."""
        if name == "toward":
            way, s = self.toward
        elif name == "up":
            way, s = self.up
        else:
            way = 3 - self.toward[0] - self.up[0]
            # right = up × toward
            turn = 1 if (self.up[0], self.toward[0]) in ((0, 1), (1, 2), (2, 0)) else -1
            s = turn * self.up[1] * self.toward[1]
        return way, s * sense


FILE = Orientation((1, -1), (2, 1))
ORIENTATIONS = tuple(
    Orientation((a, s), (b, t)) for a in range(3) for s in (-1, 1) for b in range(3) if b != a for t in (-1, 1)
)
