"""Generated parts with sufficient sources: every line in its true place, a part modelled wrong found out."""

import pytest

from canonis.bench.matching import _cases
from canonis.bench.sourced import FAMILIES, draw_part, specification
from canonis.core.source.specification import read_specification


@pytest.mark.parametrize("seed", range(len(FAMILIES)), ids=list(FAMILIES))
def test_a_family_is_matched_and_its_slips_are_told(seed):
    # One part of each family, two slips of each sort.
    cases = list(_cases(100 * len(FAMILIES) + seed, 2))
    clean = cases[0]
    assert clean.kind == "clean" and all(clean.right), [
        t for t, r in zip(clean.lines, clean.right, strict=True) if not r
    ]
    assert not [s for s in clean.states if s in ("differs", "no-place", "contradiction")]
    wrong = [c for c in cases if c.kind == "model"]
    assert wrong
    told = [c for c in wrong if any(c.states[k] != "fits" for k in c.wrong)]
    assert len(told) * 2 >= len(wrong)


@pytest.mark.parametrize("seed", range(0, 40, 3))
def test_every_line_of_a_generated_source_is_read(seed):
    written = draw_part(seed).written()
    spec = read_specification(specification(written))
    assert not [c.text for c in spec.characteristics if c.error]
    assert len(spec.characteristics) == len(written.lines) > 7
