"""A whole source matched with a part."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace

from canonis.core.proof.known import meant_by
from canonis.core.proof.match.candidates import Candidate, candidates_of
from canonis.core.proof.match.chosen import Chosen, Places
from canonis.core.proof.match.items import items_of
from canonis.core.proof.match.judging import Judge
from canonis.core.proof.match.levels import Levels
from canonis.core.proof.match.orientation import Orientation
from canonis.core.proof.match.problem import Problem
from canonis.core.proof.match.verdict import Forced, SourceMatch, Verdict
from canonis.core.quantity import Unit
from canonis.core.shape import PartShape
from canonis.core.solid import Found
from canonis.core.source import Characteristic

__all__ = ["match_source"]

#: A source with more lines to compare is not matched at once: it is most likely of another part, or of several.
MOST_LINES = 400
#: Beyond this many lines no rivals are looked for.
_MOST_ASKED = 150


def match_source(
    shape: PartShape,
    found: Sequence[Found],
    lines: Sequence[Characteristic],
    unit: Unit,
    *,
    front: Orientation | None = None,
    defaults: Sequence[tuple[str, float]] = (),
    forced: dict[str, Forced] | None = None,
    before: SourceMatch | None = None,
    progress: Callable[[str], None] = lambda _: None,
    rivals: bool = True,
    kept: Levels | None = None,
) -> SourceMatch:
    """Match a whole source with a part.

    `forced` are a person's own choices by number; `before` an earlier match to start from; `kept` the levels of the same
    part, worked out before. Without `rivals` nothing is called ambiguous for want of asking.
    """
    levels = kept if kept is not None else Levels(shape, items_of(shape, found))
    read = [c for c in lines if c.error is None]
    if sum(bool(meant_by(c.kind).places) for c in read) > MOST_LINES:
        note = f"A source of more than {MOST_LINES} sizes is not matched with one part; give each part its own source."
        return SourceMatch(
            {c.number: Verdict(c.number, "unread" if c.error else "reference", reason=note) for c in lines},
            note=note,
            levels=levels,
        )
    candidates, words = candidates_of(levels, read, unit)
    if forced:
        candidates = _obeyed(levels, read, candidates, forced)
    problem = Problem(levels, read, candidates, words, front, defaults)
    hint = None
    if before is not None and before.memory:
        hint = [before.memory.get((read[c.line].number, c.key), 0) for c in candidates]
    progress("Looking for each line's place in the part")
    solution = problem.solve(hint)
    if solution is None:
        note = "No assignment was found in time; nothing is said against any line."
        return SourceMatch(
            {c.number: Verdict(c.number, "unread" if c.error else "ambiguous", reason=note) for c in lines},
            note=note,
            levels=levels,
            optimal=False,
        )
    judge = Judge(problem, solution, read, unit)
    verdicts: dict[str, Verdict] = {
        c.number: Verdict(c.number, "unread", reason=c.error.message) for c in lines if c.error is not None
    }
    verdicts |= _judged(judge, read, forced or {}, len(problem.none) if rivals else 0, progress)
    contradictions = judge.contradictions(verdicts)
    memory = {(read[c.line].number, c.key): solution.values[k] for k, c in enumerate(candidates)}
    unexplained = tuple(i for i in levels.items if i.label in solution.unexplained and problem.worth(i) > 0.1)
    return SourceMatch(
        verdicts, solution.unreached, unexplained, solution.optimal, levels, contradictions, "", memory, rivals
    )


def _judged(
    judge: Judge,
    read: Sequence[Characteristic],
    forced: Mapping[str, Forced],
    most: int,
    progress: Callable[[str], None],
) -> dict[str, Verdict]:
    """The verdict on each line; of those that nobody placed by hand it is asked what else could have their place, unless
    `most` lines to be asked are none."""
    verdicts: dict[str, Verdict] = {}
    asked = 0
    for number, c in enumerate(read):
        v = judge.verdict(number)
        person = c.number in forced
        if most and v.state in ("fits", "differs") and not person and len(read) <= _MOST_ASKED:
            asked += 1
            progress(f"Looking for rivals: line {asked} of {most}")
            v = judge.asked(number, v)
        elif person and v.state == "ambiguous":
            v = judge.firm(v)
        verdicts[c.number] = v
    return verdicts | {c.number: judge.default(c) for c in read if c.kind == "round"}


def _obeyed(
    levels: Levels, lines: Sequence[Characteristic], candidates: list[Candidate], forced: dict[str, Forced]
) -> list[Candidate]:
    """Only what a person chose, for the lines that one chose for; a choice whose geometry is gone binds nothing."""
    wishes = {n: Chosen(*w) for n, w in forced.items()}
    places = Places(levels, [r for w in wishes.values() for r in w.refs])
    out = []
    for number in range(len(lines)):
        mine = [k for k in candidates if k.line == number]
        wish = wishes.get(lines[number].number)
        if wish is not None:
            met = [k for k in mine if places.meets(wish, k)]
            mine = [replace(k, price=0.0) for k in met] or mine
        out += mine
    return out
