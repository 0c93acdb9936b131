"""What a match costs: one table, tuned on half of the generated parts of the benchmark.

The scale: what a line's value says for a place is weighed against how odd the place would be.
"""

from dataclasses import dataclass

__all__ = ["PRICES", "Prices"]


@dataclass(frozen=True)
class Prices:
    """Prices of the assignment; see METHODS, “Matching source and sheet”."""

    # The value.
    rounded: float = 1.0
    off_target: float = 1.6
    near: float = 7.0
    near_far: float = 4.0
    # The whole.
    no_place: float = 11.0
    unreached: float = 6.0
    cycle: float = 2.0
    symmetry: float = 2.5
    again: float = 6.0
    unexplained: float = 6.0
    rival: float = 1.5
    firm: float = 2.4
    # The sort of ends.
    high_end: float = 0.8
    wall: float = 0.3
    planes: float = 0.8
    axis_plane: float = 1.6
    axes: float = 3.5
    tangent: float = 4.0
    sub: float = 3.0
    middle: float = 6.0
    # Evidence.
    view: float = 6.0
    end_on: float = 1.5
    turned: float = 3.0
    mirrored: float = 2.5
    against: float = 4.0
    overall: float = 8.0
    owner: float = 4.0
    side: float = 4.0
    count: float = 4.0
    seat: float = 4.0
    size_of_feature: float = 7.0
    size_of_cut: float = 1.8
    same_way: float = 0.3
    same_level: float = 0.4
    same_feature: float = 0.7
    reference: float = 0.3


PRICES = Prices()
