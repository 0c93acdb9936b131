"""Parts of the web server on their own: names of files, what a stream is told, who waits at the door."""

import asyncio
import json
import re
from types import SimpleNamespace
from urllib.parse import unquote

import httpx
import pytest
from fastapi import HTTPException
from hypothesis import given
from hypothesis import strategies as st

from canonis.web.door import Door, _same_site
from canonis.web.doorkeeper import Doorkeeper
from canonis.web.downloads import download
from canonis.web.events import _ANEW, _BEHIND, Hub, _after, _Stream

numbers = st.text(st.characters(exclude_categories=["Cs", "Cc"]), min_size=1, max_size=30)


@given(numbers)
def test_any_job_number_makes_a_header_that_gives_a_safe_name(number):
    value = download(b"x", "text/plain", number, ".pdf").headers["content-disposition"]
    value.encode("latin-1")
    found = re.fullmatch(r"attachment; filename=\"([^\"\\/]+)\"(?:; filename\*=UTF-8''([\w.%~-]+))?", value)
    assert found and found.group(1).isascii() and found.group(1).endswith(".pdf")
    full = unquote(found.group(2)) if found.group(2) else found.group(1)
    assert full.endswith(".pdf") and not set(full) & set('/\\"\n\r;') and full not in (".pdf", "..pdf")
    letters = [c for c in number if c.isalnum()]
    assert [c for c in full.removesuffix(".pdf") if c.isalnum()] == letters or not letters


task = st.builds(
    lambda i, s: {"id": i, "kind": "arrive", "state": s, "stage": s, "error": ""},
    st.integers(1, 12),
    st.sampled_from(["waiting", "running", "done"]),
)


@given(st.lists(task, max_size=20))
def test_a_picture_follows_what_it_is_told(told):
    picture = {"tasks": [], "sheet": None, "source": 1, "model": None}
    latest = {}
    for one in told:
        picture = _after(picture, {"job": 1, "task": one})
        latest[one["id"]] = one
    ids = [t["id"] for t in picture["tasks"]]
    assert ids == sorted(ids, reverse=True) and len(ids) == len(set(ids)) <= 5
    assert all(latest[t["id"]] == t for t in picture["tasks"])
    # The newest that was ever told is there.
    assert not latest or ids[0] == max(latest)
    after = _after(picture, {"job": 1, "sheet": 4, "source": 2, "model": 3})
    assert (after["sheet"], after["source"], after["model"], after["tasks"]) == (4, 2, 3, picture["tasks"])


def asker(number=7, session="s"):
    return SimpleNamespace(user=SimpleNamespace(id=number), session=session)


def test_a_stream_hears_of_its_job_its_person_and_its_session_and_of_nobody_else():
    stream = _Stream(3, asker())
    yes = [{"job": 3, "sheet": 1}, {"person": 7}, {"session": "s"}]
    no = [{"job": 4}, {"person": 8}, {"session": "t"}, {}]
    assert all(stream.concerns(t) for t in yes) and not any(stream.concerns(t) for t in no)


def test_a_browser_too_far_behind_gets_a_fresh_picture():
    stream = _Stream(3, asker())
    for k in range(_BEHIND + 1):
        stream.hand({"job": 3, "sheet": k})
    assert stream.queue.qsize() == 1 and stream.queue.get_nowait() is _ANEW


def test_a_stream_that_ended_is_handed_nothing():
    hub = Hub()
    with hub.open(_Stream(3, asker())) as stream:
        assert hub._streams == {stream}
    assert not hub._streams


@pytest.mark.parametrize(
    ("headers", "same"),
    [
        ({}, True),
        ({"origin": "http://a:1", "host": "a:1"}, True),
        ({"origin": "http://A:1", "host": "a:1"}, True),
        ({"origin": "http://a:2", "host": "a:1"}, False),
        ({"origin": "null", "host": "a:1"}, False),
        ({"origin": "http://a", "host": ""}, False),
        ({"origin": "https://a", "host": "inner:8", "x-forwarded-host": "a"}, True),
        ({"origin": "http://[bad", "host": "a"}, False),
        ({"sec-fetch-site": "cross-site"}, False),
        ({"sec-fetch-site": "same-origin"}, True),
        ({"sec-fetch-site": "none"}, True),
        ({"sec-fetch-site": "same-origin", "origin": "http://b", "host": "a"}, False),
    ],
)
def test_what_counts_as_the_same_site(headers, same):
    assert _same_site(headers, proxied=True) is same


async def knock(keeper, name, address, held=None):
    """Try the door; a wrong password once let in. Its status."""
    try:
        async with keeper.turn(name, address):
            if held is not None:
                await held.wait()
    except HTTPException as refused:
        return refused.status_code
    keeper.wrong(name, address)
    return 401


def test_tries_of_one_name_from_one_address_are_used_up_and_others_are_not():
    async def scene():
        keeper = Doorkeeper()
        codes = [await knock(keeper, "anna", "1.1.1.1") for _ in range(8)]
        return codes, await knock(keeper, "anna", "2.2.2.2"), await knock(keeper, "bert", "3.3.3.3")

    codes, elsewhere, other = asyncio.run(scene())
    assert codes == [401] * 6 + [429] * 2 and (elsewhere, other) == (401, 401)


def test_tries_under_way_count_before_they_are_known_to_be_wrong():
    async def scene():
        keeper, held = Doorkeeper(), asyncio.Event()
        waiting = [asyncio.create_task(knock(keeper, "anna", "1.1.1.1", held)) for _ in range(6)]
        await asyncio.sleep(0)
        seventh = await knock(keeper, "anna", "1.1.1.1")
        held.set()
        return seventh, await asyncio.gather(*waiting)

    seventh, codes = asyncio.run(scene())
    assert seventh == 429 and set(codes) <= {401, 429}


def test_an_address_that_guesses_waits_behind_everybody_else():
    async def scene():
        keeper, held = Doorkeeper(), asyncio.Event()
        for k in range(6):
            await knock(keeper, f"guess {k}", "1.1.1.1")
        crowd = [asyncio.create_task(knock(keeper, f"more {k}", "1.1.1.1", held)) for k in range(12)]
        for _ in range(20):
            await asyncio.sleep(0)
        # One of them hashes at most; a lane stays for the others, and most of the crowd is turned away at once.
        honest = await asyncio.wait_for(knock(keeper, "clara", "2.2.2.2"), 5)
        held.set()
        return honest, await asyncio.gather(*crowd)

    honest, codes = asyncio.run(scene())
    assert honest == 401 and codes.count(429) == 8


def test_a_right_password_costs_nothing():
    async def scene():
        keeper = Doorkeeper()
        for _ in range(20):
            async with keeper.turn("anna", "1.1.1.1"):
                pass
        return True

    assert asyncio.run(scene())


def test_a_name_that_is_guessed_from_everywhere_stays_open_to_its_owner_and_to_who_has_not_guessed():
    async def scene():
        keeper = Doorkeeper()
        keeper.right("Anna", "9.9.9.9")
        for k in range(36):
            await knock(keeper, "anna", f"1.1.{k}.1")
        guesser = await knock(keeper, "anna", "1.1.3.1")
        return (
            guesser,
            [await knock(keeper, "ANNA ", "9.9.9.9") for _ in range(3)],
            await knock(keeper, "anna", "5.5.5.5"),
        )

    guesser, owner, stranger = asyncio.run(scene())
    assert guesser == 429, "who guessed within the minute waits"
    assert owner == [401] * 3 and stranger == 401, "the others are let try"


@pytest.mark.parametrize(
    ("proxies", "asked", "status"),
    [("", "other.example", 403), ("127.0.0.1", "other.example", 200), ("10.0.0.1", "other.example", 403)],
)
def test_who_forwards_is_believed_only_where_the_house_names_it(monkeypatch, proxies, asked, status):
    """An origin that matches a forged host is another site; behind the proxy that the house names it is the page's own."""
    monkeypatch.setenv("CANONIS_PROXY", proxies)
    seen = []

    async def inner(scope, receive, send):
        seen.append(scope["client"][0])
        await send({"type": "http.response.start", "status": 200, "headers": []})
        await send({"type": "http.response.body", "body": b""})

    async def ask():
        async with httpx.AsyncClient(transport=httpx.ASGITransport(Door(inner)), base_url="http://inside") as client:
            head = {"Origin": f"https://{asked}", "X-Forwarded-Host": asked, "X-Forwarded-For": "6.6.6.6, 203.0.113.7"}
            return (await client.post("/api/jobs", headers=head)).status_code

    assert asyncio.run(ask()) == status
    assert seen == (["203.0.113.7"] if status == 200 else [])


def test_a_stream_asks_again_when_the_pool_was_only_busy(monkeypatch):
    """The database did not answer once and nobody tells when it does: the stream tries by itself."""
    from canonis.web import events

    tries = []

    def picture(job):
        tries.append(job)
        if len(tries) < 3:
            raise TimeoutError("QueuePool limit reached")
        return {"tasks": [], "sheet": 1, "source": 1, "model": 1, "remarks": 0, "ticks": 0}

    monkeypatch.setattr(events, "_picture", picture)
    monkeypatch.setattr(events, "_still_in", lambda asker: 60.0)
    monkeypatch.setattr(events, "_TRY_AGAIN", 0.01)
    asker = SimpleNamespace(user=SimpleNamespace(id=1, role="drafter"), session="s")

    async def first():
        async for told in events.follow(5, asker):
            return told

    assert json.loads(asyncio.run(asyncio.wait_for(first(), 30))["data"])["sheet"] == 1
    assert tries == [5, 5, 5]


def test_the_list_of_jobs_is_told_of_ones_own_alone(monkeypatch):
    from canonis.web import events

    monkeypatch.setattr(events, "may_enter_one", lambda user, jobs: 7 in jobs)
    monkeypatch.setattr(events, "_still_in", lambda asker: 60.0)
    monkeypatch.setattr(events, "_CALM", 0.0)
    asker = SimpleNamespace(user=SimpleNamespace(id=1, role="drafter"), session="s")

    async def scene():
        got = []

        async def listen():
            async for told in events.follow_list(asker):
                got.append(told.get("event", "message"))

        task = asyncio.create_task(listen())
        for told in ({"job": 3}, {"job": 7}, {"job": 7}, {"person": 2}, {"person": 1}):
            await asyncio.sleep(0.02)
            events.HUB._hand(told, {s for s in events.HUB._streams if s.concerns(told)})
        await asyncio.wait_for(task, 30)
        return got

    assert asyncio.run(scene()) == ["message", "message", "ended"]
