"""The final check of a sheet: its statements re-measured, its mass against the source, somebody's look at the page, and
where the house asks for them ticks on every line of the source."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

__all__ = ["FinalCheck", "FinalPart", "final_check"]


@dataclass(frozen=True)
class FinalPart:
    """One of the three: its name, whether it holds, and what is to be said of it."""

    name: str
    done: bool
    says: str


@dataclass(frozen=True)
class FinalCheck:
    """What the house asks for before a sheet leaves (house rule `final-check`): all parts or any one of them."""

    rule: str
    done: bool
    parts: tuple[FinalPart, ...]


def final_check(
    rule: str,
    summary: dict[str, Any],
    open_causes: int,
    ledger: Sequence[dict[str, Any]],
    looked: tuple[str, str] | None,
) -> FinalCheck:
    """The final check of a proven sheet.

    `summary` counts the statements by state, `ledger` are the lines of the proof (see `core.proof.ledger`), `looked` is who
    looked at the present version of the sheet and when.
    """
    wrong = sum(int(summary.get(k, 0)) for k in ("contradicted", "unproven", "lost"))
    proven = int(summary.get("proven", 0))
    if wrong:
        said = f"{wrong} of {proven + wrong} statements do not hold or are not proven"
    elif open_causes:
        said = f"{proven} statements proven; {open_causes} open points"
    else:
        said = f"all {proven} statements re-measured and proven, nothing open"
    masses = [row["state"] for row in ledger if row["kind"] == "mass"]
    off = sum(state != "proven" for state in masses)
    weighed = (
        "the source states no mass to compare"
        if not masses
        else f"{off} of {len(masses)} mass properties differ from the source"
        if off
        else f"all {len(masses)} mass properties as the source has them"
    )
    parts: tuple[FinalPart, ...] = (
        FinalPart("statements", not wrong and not open_causes and proven > 0, said),
        FinalPart("mass", bool(masses) and not off, weighed),
        FinalPart(
            "look",
            looked is not None,
            "nobody has looked at this version yet" if looked is None else f"looked at by {looked[0]}, {looked[1]}",
        ),
    )
    if rule == "ticked":
        lines = [row for row in ledger if row["kind"] == "characteristic"]
        bare = [str(row["number"]) for row in lines if not row.get("ticked")]
        ticked = (
            "the source has no line to tick"
            if not lines
            else f"{len(bare)} of {len(lines)} lines are not ticked: {', '.join(bare[:8])}{' …' * (len(bare) > 8)}"
            if bare
            else f"all {len(lines)} lines of the source are ticked"
        )
        parts += (FinalPart("ticks", bool(lines) and not bare, ticked),)
    enough = any if rule == "one" else all
    return FinalCheck(rule, enough(p.done for p in parts), parts)
