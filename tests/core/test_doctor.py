"""The source doctor: slips planted at random are named, sound sources raise nothing."""

import pytest

from canonis.core.source.specification import read_specification
from tests.core.sources import SLIPS, clean, plant

#: Sources made for each rate.
MANY = 240


def findings(text):
    return [f for f in read_specification(text).findings if f.severity != "advice"]


def test_sound_sources_raise_nothing(capsys):
    raised = {}
    for seed in range(MANY):
        text = clean(seed).text()
        found = findings(text)
        assert not [f for f in found if f.rule == "source.unread"], (text, found)
        if found:
            raised[seed] = found[0].message
    with capsys.disabled():
        print(f"\n[doctor] sound sources that raise anything: {len(raised)} of {MANY}")
    assert len(raised) < 0.02 * MANY, raised


def test_planted_slips_are_named(capsys):
    missed = []
    for seed in range(MANY):
        slip = SLIPS[seed % len(SLIPS)]
        source = clean(10_000 + seed)
        rules, subjects = plant(source, slip)
        found = findings(source.text())
        if not [f for f in found if f.rule in rules and f.subject in subjects]:
            missed.append((slip, seed, [f.message for f in found]))
    with capsys.disabled():
        print(f"\n[doctor] planted slips named: {MANY - len(missed)} of {MANY}; missed: {[m[:2] for m in missed]}")
    assert len(missed) <= 0.05 * MANY, missed


@pytest.mark.parametrize(
    ("lines", "rule", "words"),
    [
        (["1 | | 2x M8 ↧20 DRILL ⌀6.8 ↧16"], "thread.depth", "swapped"),
        (["1 | | M8 ↧12 DRILL ⌀8.5 ↧16"], "thread.drill", "as large as the thread"),
        (["1 | | ⌀6.6 THRU ⌴⌀6.5 ↧11"], "seat.size", "look swapped"),
        (["1 | | ⌀6.6"], None, ""),
        (["1 | | ⌀6.6 HOLE"], "hole.end", "neither a depth nor THRU"),
        (["1 | | boss: R12", "2 | | boss: ⌀12"], "radius.diameter", "written as a radius"),
        (["1 | | rib: 38", "2 | | rib: 83"], "same.differs", "digits are swapped"),
        (["1 | | rib: 20", "2 | | rib: 508"], "unit.factor", "25.4"),
        (["1 | | 8x ⌀4 THRU EQ SP AT 40°"], "count.angle", "9 fill the circle"),
        (["1 | | 80 OVERALL", "2 | | 800"], "size.over", "factor of ten"),
        (["1 | | hub: 4x ⌀5 THRU", "2 | | hub: 4x ⌀5 ↧8"], "same.differs", "THRU"),
        (["1 | | 12.1/11.9", "2 | | 8.1/7.9", "3 | | 4.9/5.1"], "limits.order", "other way round"),
        (["1 | | lug: M8 ↧10", "2 | | lug: M8x1 ↧10"], "same.differs", "differ"),
    ],
)
def test_each_finding_has_its_reason(lines, rule, words):
    found = findings("unit: mm\n[characteristics]\n" + "\n".join(lines) + "\n5 | | 10 wide\n")
    if rule is None:
        assert not found
    else:
        assert words in next(f.message for f in found if f.rule == rule)


def test_a_safe_fix_mends_the_line():
    spec = "unit: mm\n[characteristics]\n1 | | 2x M8 ↧20 DRILL ⌀6.8 ↧16\n2 | | ⌀6.6 THRU ⌴⌀6.5 ↧11\n3 | | 40\n"
    for found in [f for f in findings(spec) if f.fix]:
        mended = spec.replace(spec.splitlines()[1 + int(found.fix.number)].split("|")[2].strip(), found.fix.text)
        assert found.rule not in [f.rule for f in findings(mended) if f.subject == found.subject]
    assert len([f for f in findings(spec) if f.fix]) == 2


def test_inch_sources_show_rounded_fractions_and_coarse_decimals():
    spec = "unit: in\n[characteristics]\n1 | | .69\n2 | | .50 ±.002\n3 | | 1.875\n"
    rules = {f.subject: f.rule for f in findings(spec)}
    assert rules == {"1": "precision.rounded", "2": "precision.coarse"}


def test_what_is_missing_is_advice_and_stands_in_the_readiness():
    spec = read_specification("[characteristics]\n1 | | ⌀6 THRU\n2 | | 4x ⌀5 THRU\n3 | | blurb\n")
    rules = {f.rule for f in spec.findings}
    assert {"missing.unit", "missing.material", "missing.general", "missing.notes", "missing.location"} <= rules
    assert spec.readiness[0].startswith("1 line not read: 3")
