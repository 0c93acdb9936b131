"""Designations of modelled threads by their sizes, and what of them a sheet is held to."""

import pytest

from canonis.core.callout.threads import designation_of, read_thread
from canonis.core.proof.check import check_sheet
from canonis.core.sheet.wording import worded
from tests.conftest import draft_of, model_of, recipe
from tests.core.known_parts import PARTS


@pytest.mark.parametrize(
    ("text", "flanks", "inches"),
    [
        ("M8×1.25", 60, False),
        ("M20×1.5", 60, False),
        ("M20×Ph5P2.5", 60, False),
        ("Tr20×4", 30, False),
        ("Tr40×14(P7)", 30, False),
        ("1/4-20 UNC", 60, True),
        ("3/4-16 UNF", 60, True),
        ("1-5 ACME", 29, True),
    ],
)
def test_a_designation_comes_back_from_its_own_sizes(text, flanks, inches):
    thread = read_thread(text)
    sizes = float(thread.major), float(thread.pitch), thread.starts
    assert designation_of(*sizes, flanks, inches) == text
    # A modelled crest is often a little smaller.
    assert designation_of(sizes[0] * 0.995, *sizes[1:], flanks, inches) == text


def test_sizes_of_no_series_have_no_designation():
    assert designation_of(12.7, 2.0, 1, 60, True) is None
    assert designation_of(19.4, 2.5, 1, 60, False) is None
    # 30° flanks of a pitch that no trapezoidal thread of the size has are those of a simplified one.
    assert designation_of(20, 2.5, 1, 28, False) == "M20×2.5"


def test_a_lead_that_is_no_number_of_pitches_is_refused():
    from canonis.core.faults import BadInput

    with pytest.raises(BadInput, match="whole number of pitches"):
        read_thread("M20×Ph4P2.5")


@pytest.mark.parametrize(
    ("part", "wrong", "differs"),
    [
        ("male thread", "M20×2.5 30 LONG", ["length"]),
        ("male thread", "M20×2 21.5 LONG", ["pitch"]),
        ("two-start thread", "M20×2.5", ["pitch"]),
        ("two-start thread", "M20×Ph7.5P2.5", ["pitch", "lead"]),
    ],
)
def test_a_wrong_designation_is_contradicted(part, wrong, differs):
    data = recipe(*PARTS[part][0])
    document = draft_of(data).document
    mark = next(a for a in document.annotations if a.kind == "thread")
    marks = tuple(worded(a, wrong) if a.id == mark.id else a for a in document.annotations)
    check = check_sheet(document.model_copy(update={"annotations": marks}), model_of(data).solids)
    proof = next(s for s in check.statements if s.id == mark.id)
    assert proof.state == "contradicted"
    assert [p.name for p in proof.parts if not p.ok] == differs
