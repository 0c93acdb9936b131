"""What the judge says of a draft, on every part of known features: nothing goes unseen, and nothing is said that is not so."""

import json
import random

import pytest

from canonis.core.faults import BadInput
from canonis.core.proof.check import Check, check_sheet
from canonis.core.sheet.document import Linear
from canonis.core.sheet.wording import meaning
from tests.conftest import draft_of, model_of, recipe
from tests.core.known_parts import PARTS
from tests.core.test_shape import changes

#: Bodies whose modelled threads and teeth take the kernel long, and that sheets do not state yet.
_LONG = {"male thread", "left-hand thread", "two-start thread", "inner thread", "spline", "inner spline"}
_STATING = ("linear", "ordinate", "hole", "diameter", "radius", "slot", "chamfer", "bolt-circle", "note")


def _new(before: Check, after: Check) -> list[str]:
    """What became free, or is from now on only drawn level."""
    known = {*before.complete["free"], *before.drawn_level}
    return [w for w in (*after.complete["free"], *after.drawn_level) if w not in known]


@pytest.mark.parametrize("name", sorted(set(PARTS) - _LONG))
def test_a_draft_is_true_and_nothing_of_it_is_idle(name):
    data = recipe(*json.loads(json.dumps(PARTS[name][0])))
    document, solids = draft_of(data).document, model_of(data).solids
    known = {}
    before = check_sheet(document, solids, density=1.0, known=known)
    untrue = [
        (s.text, s.note, [p for p in s.parts if not p.ok]) for s in before.statements if s.state == "contradicted"
    ]
    assert not untrue
    assert not [s.text for s in before.statements if s.note.startswith("the text cannot be read")]
    assert not before.complete["redundant"]
    _each_removed(document, solids, before, known)
    _one_closed(document, solids, before, known)
    _one_changed(data, name, document, before)


def _each_removed(document, solids, before, known):
    for mark in document.annotations:
        if mark.kind not in _STATING or not mark.refs or mark.reference or not mark.text.strip("0."):
            continue
        rest = tuple(a for a in document.annotations if a.id != mark.id)
        without = check_sheet(document.model_copy(update={"annotations": rest}), solids, density=1.0, known=known)
        assert _new(before, without), f"“{mark.text}” was not missed"


def _one_closed(document, solids, before, known):
    """A length between two places that both have their ordinate closes a loop with them."""
    rows = {}
    for mark in document.annotations:
        if mark.kind == "ordinate" and mark.text.strip("0.") and not mark.reference:
            rows.setdefault((mark.view, mark.direction, mark.refs[0]), []).append(mark)
    a, b = next((row[:2] for row in rows.values() if len(row) > 1), (None, None))
    if a is None:
        return
    (_, (_, first)), (_, (_, second)) = (
        next(s for s in before.statements if s.id == mark.id).levels for mark in (a, b)
    )
    size = abs(first - second)
    link = Linear(
        id="D900",
        view=a.view,
        direction=a.direction,
        side="below",
        refs=(a.refs[1], b.refs[1]),
        says=meaning(f"{size:.3f}".rstrip("0").rstrip("."), a.unit),
    )
    closed = document.model_copy(update={"annotations": (*document.annotations, link)})
    said = [w for w in check_sheet(closed, solids, density=1.0, known=known).complete["redundant"] if link.id in w]
    # A width that lies evenly about a centre line makes each of the two needless by itself.
    assert len(said) in (1, 2)
    assert all(m.id in " ".join(said) for m in (a, b))


def _one_changed(data, name, document, before):
    """One number of the recipe, another for each part: some statement no longer holds, or what moved was free."""
    every = list(changes(data))
    random.Random(name).shuffle(every)
    for path, other in every:
        try:
            changed = model_of(other)
        except BadInput:
            continue
        if abs(changed.solids[0].mass.volume - model_of(data).solids[0].mass.volume) < 1e-6:
            continue  # how far a hole is cut above its plate, say
        after = check_sheet(document, changed.solids, density=1.0)
        fell = [s for s in after.statements if s.state in ("contradicted", "lost")]
        assert fell or _new(before, after) or before.complete["free"], path
        return
