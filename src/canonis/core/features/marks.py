"""What a sheet draws around the holes of a solid."""

from canonis.core.features.model import Feature
from canonis.core.sheet.scene import BoreMark, BoreMarks

__all__ = ["bore_marks"]


def bore_marks(found: Feature) -> BoreMarks:
    """The marks of every hole by the faces of its bore."""
    out: BoreMarks = {}
    for hole in (h for g in found.holes for h in g.holes):
        mark = BoreMark(
            hole.start, hole.start - hole.axis * hole.length, hole.diameter, tuple(s.diameter for s in hole.seats)
        )
        out |= dict.fromkeys(hole.main_faces, mark)
    return out
