"""The final check of a sheet by the house's rule."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.study.checklist import final_check

MASS = {"kind": "mass", "state": "proven"}
LOOK = ("checker", "2026-11-27 10:00 UTC")


@given(
    st.integers(0, 5), st.integers(0, 5), st.lists(st.sampled_from(["proven", "differs"]), max_size=3), st.booleans()
)
def test_all_three_or_any_one(wrong, causes, masses, seen):
    ledger = [{"kind": "mass", "state": m} for m in masses] + [{"kind": "characteristic", "state": "differs"}]
    summary = {"proven": 7, "contradicted": wrong}
    made = {r: final_check(r, summary, causes, ledger, LOOK if seen else None) for r in ("all", "one")}
    truth = [wrong == causes == 0, bool(masses) and "differs" not in masses, seen]
    for check in made.values():
        assert [(p.name, p.done) for p in check.parts] == list(zip(("statements", "mass", "look"), truth, strict=True))
    assert (made["all"].done, made["one"].done) == (all(truth), any(truth))


@pytest.mark.parametrize(
    ("summary", "causes", "ledger", "said"),
    [
        ({"proven": 3, "contradicted": 1}, 1, [], "1 of 4 statements do not hold or are not proven"),
        ({"proven": 3}, 2, [], "3 statements proven; 2 open points"),
        ({"proven": 3}, 0, [MASS], "all 3 statements re-measured and proven, nothing open"),
    ],
)
def test_what_is_missing_is_said(summary, causes, ledger, said):
    check = final_check("all", summary, causes, ledger, None)
    assert check.parts[0].says == said and "nobody has looked" in check.parts[2].says


def test_an_empty_sheet_passes_nothing():
    assert [p.done for p in final_check("one", {}, 0, [], None).parts] == [False, False, False]
