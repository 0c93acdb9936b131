"""One spelling of a number in an address: whatever else a reader of numbers would take for it opens no door."""

import re

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canonis.core.plain import cell, look_of, uncell
from canonis.web.app import ROUTERS, app
from canonis.web.guard import GuardedRoute
from canonis.web.ids import GONE, id_of
from tests.web.test_workspaces import ROLES, ROUTES

SPELLINGS = (
    "{}.0",
    "+{}",
    "%20{}",
    "{}%20",
    "{}%0A",
    "0{}",
    "0_{}",
    "%C2%A0{}",
    "%E2%80%83{}",
    "{}e0",
    "{}%00",
    "%EF%BC%91",
    "0x{:x}",
)


def spelled(spelling, quay, path):
    for name in ("job_id", "set_id", "task_id"):
        path = path.replace(f"{{{name}}}", spelling.format(quay[name]))
    return re.sub(r"\{\w+\}", "1", path)


@pytest.mark.parametrize("role", ROLES)
def test_no_other_spelling_leads_into_another_workspace(application, quay, role):
    with application.client(role) as other:
        for name, method, path in ROUTES:
            for spelling in SPELLINGS:
                answer = other.request(method, spelled(spelling, quay, path), json={})
                assert answer.status_code in (403, 404, 422), (name, spelling, answer.status_code)
                refused = answer.status_code == 403 and role in ("viewer", "checker")
                assert refused or answer.status_code == 422 or "There is no such" in answer.json()["detail"], (
                    name,
                    spelling,
                )
    # Nor does one's own: there is one address of each thing.
    mine = quay["client"]
    assert mine.get(f"/api/jobs/{quay['job_id']}").status_code == 200
    assert mine.get(f"/api/jobs/+{quay['job_id']}").status_code == 404


def test_every_route_of_the_api_says_who_may_use_it_and_reads_its_numbers_in_one_way():
    guarded = [route for router in ROUTERS for route in router.routes]
    assert all(isinstance(r, GuardedRoute) for r in guarded)
    told = {path for path in app.openapi()["paths"]} - {f"/api{r.path}" for r in guarded}
    assert told == {"/api/health"} and len(guarded) > 60
    for route in guarded:
        for parameter in route.dependant.path_params:
            if parameter.name.endswith("_id"):
                assert parameter.name in GONE
                value, faults = parameter.validate("1.0", {}, loc=("path",))
                assert faults, (route.path, value)


@given(st.text(max_size=12))
def test_what_is_read_as_a_number_is_written_the_same_way(text):
    try:
        number = id_of(text)
    except ValueError:
        return
    assert str(number) == text and 0 < number < 2**31


@given(st.integers(1, 2**31 - 1))
def test_every_number_has_its_plain_spelling(number):
    assert id_of(str(number)) == number


@pytest.mark.parametrize(
    "other", ["ANNA", " anna ", "an\u200bna", "anna\u202e", "a\u2060nna", "ａｎｎａ", "anna\ufe0f", "\u3164anna"]
)
def test_names_that_look_alike_are_one(other):
    assert look_of(other) == look_of("Anna") == "anna"


@pytest.mark.parametrize(("one", "other"), [("anna", "hanna"), ("André", "Andre"), ("คน", "คิน"), ("a b", "ab")])
def test_names_that_look_different_are_two(one, other):
    assert look_of(one) != look_of(other)


@given(st.text(max_size=20))
def test_a_cell_comes_back_and_runs_no_formula(text):
    written = cell(text)
    assert uncell(written) == text
    assert not written.startswith(("=", "@", "\t", "\r"))
    if written.startswith(("+", "-")):
        float(written)
