"""What the drawn statements of a solid give, by the equations: the sum that makes up a measure, and whether it is off."""

from collections.abc import Sequence

from canonis.core.callout import Part
from canonis.core.proof.judge import Judgement
from canonis.core.proof.match.verdict import Verdict
from canonis.core.proof.statement import FINEST_MM, StatementProof
from canonis.core.quantity import Unit, half_last_place, write_length
from canonis.core.shape import Row, Sum
from canonis.core.tolerances import NOISE, same

__all__ = ["Drawn", "derived", "is_off", "written_room"]


class Drawn:
    """What the drawn statements of a solid give, by the equations."""

    def __init__(self, pages: Sequence[Judgement], proofs: Sequence[StatementProof], unit: Unit) -> None:
        self.pages, self.unit = pages, unit
        self.by_id = {p.id: p for p in proofs}

    def sum_of(self, row: Row) -> Sum | None:
        """The statements that make up a row, with their shares; None when they do not give it."""
        for page in self.pages:
            found = page.system.spans(row)
            if found is not None:
                return found
        return None

    def terms(self, found: Sum) -> list[tuple[StatementProof, float, float, float]]:
        """The statements of a sum: proof, share with its sign, what is stated and what the model has (mm or degrees)."""
        out = []
        for name, share in found.items():
            if not (isinstance(name, tuple) and len(name) == 3 and name[0] in self.by_id):
                continue
            proof = self.by_id[str(name[0])]
            # A designation says its diameter.
            part = proof.part("major" if name[1] == "thread" else str(name[1]))
            if part is None or not isinstance(part.stated, float) or not isinstance(part.measured, float):
                continue
            sign = 1.0
            if len(proof.levels) == 2:
                sign = 1.0 if proof.levels[1][1] >= proof.levels[0][1] else -1.0
                # Levels are told along the file's axis; the row runs along the view's direction.
                sign *= proof.sense
            out.append((proof, share * sign, part.stated, part.measured))
        return out

    def room(self, proof: StatementProof) -> float:
        """What the text of a statement may be off by its rounding, mm or degrees."""
        part = None if proof.reading is None else proof.reading.main
        return 0.0 if part is None else written_room(part, self.unit)

    def write(
        self, terms: list[tuple[StatementProof, float, float, float]], value: float
    ) -> tuple[tuple[str, ...], str, float | None]:
        """The statements of a sum, the sum written out, and what it gives as drawn."""
        ids = tuple(dict.fromkeys(p.id for p, *_ in terms))
        if not terms:
            return (), "", None
        drawn = value + sum(share * (stated - measured) for _, share, stated, measured in terms)
        exact = (
            abs(sum(share * measured for _, share, _, measured in terms) - value) < 1e-6 * max(1.0, abs(value)) + NOISE
        )
        if len(terms) == 1 and same(abs(terms[0][1]), 1, NOISE):
            return ids, terms[0][0].text, drawn
        if not exact:
            return ids, "follows from " + ", ".join(dict.fromkeys(p.text for p, *_ in terms)), drawn
        pieces = []
        for _, share, stated, _ in sorted(terms, key=lambda t: -t[1] * t[2]):
            size = write_length(stated, self.unit)
            times = abs(share)
            if same(times, 0.5, NOISE):
                size += " ÷ 2"
            elif not same(times, 1, NOISE):
                size += f" × {times:.4g}"
            pieces.append(("− " if share < 0 else "+ ") + size)
        return ids, " ".join(pieces).removeprefix("+ ") + f" = {write_length(drawn, self.unit)}", drawn


def is_off(value: float, said: Part, v: Verdict, drawn: Drawn, unit: Unit) -> bool:
    """Whether what the sheet gives is another value than the source's: outside its limits, or beyond the places to which
    the texts of both are written. The statements themselves are measured on the model one by one."""
    if v.target is None:
        return False
    terms = min((drawn.terms(s) for r in v.rows if (s := drawn.sum_of(r)) is not None), key=len, default=[])
    room = sum(abs(share) * drawn.room(p) for p, share, _, _ in terms) + written_room(said, unit)
    limits = said.lower, said.upper
    if said.tolerance in ("own", "fit") and limits != (None, None):
        low, high = limits
        return (low is not None and value < float(low) - room) or (high is not None and value > float(high) + room)
    return abs(value - v.target) > max(room, _SAME)


#: Values nearer than this are one, mm.
_SAME = 0.02


def written_room(part: Part, unit: Unit) -> float:
    """Half of the last place that a size is written to, mm or degrees; metric text drops trailing zeros, so that it claims
    the finest place of a sheet."""
    half = half_last_place(part.typed) if part.typed else 0.0
    if part.angle:
        return half
    return half * 25.4 if (part.unit or unit) is Unit.INCH else min(half, FINEST_MM)


def derived(v: Verdict, drawn: Drawn) -> tuple[tuple[str, ...], str, float | None, str]:
    """The statements that give a measure, the sum, its drawn value, and what is missing where they do not."""
    one_of = bool(v.keys) and v.keys[0][0] in ("edge", "pitch", "lean", "between", "cone")
    if one_of:
        found = [(s, drawn.terms(s)) for r in v.rows if (s := drawn.sum_of(r)) is not None]
        if not found:
            return (), "", None, f"add {v.measure} to the sheet"
        _, terms = min(found, key=lambda f: len(f[1]))
        if v.angle or v.value is None:
            return (
                tuple(dict.fromkeys(p.id for p, *_ in terms)),
                ", ".join(dict.fromkeys(p.text for p, *_ in terms)),
                v.value,
                "",
            )
        return (*drawn.write(_signed(terms, v.value), v.value), "")
    ids: list[str] = []
    texts: list[str] = []
    short = not v.rows
    for row in v.rows:
        found_sum = drawn.sum_of(row)
        if found_sum is None:
            short = True
            continue
        for proof, *_ in drawn.terms(found_sum):
            if proof.id not in ids:
                ids.append(proof.id)
                texts.append(proof.text)
    how = " + ".join(texts[:6])
    if short and not v.rows:
        return tuple(ids), how, None, f"the sheet does not state the {v.measure} yet"
    return tuple(ids), how, None, f"a size of the {v.measure} is not on the sheet" if short else ""


def _signed(
    terms: list[tuple[StatementProof, float, float, float]], value: float
) -> list[tuple[StatementProof, float, float, float]]:
    """A sum whose terms make the length positive."""
    total = sum(share * measured for _, share, _, measured in terms)
    return [(p, -share, s, m) for p, share, s, m in terms] if total * value < 0 else terms
