"""What happens to jobs and people, handed to the browsers that look at them as it happens.

The database tells (see the triggers of migration 0003) on one connection of this process; nothing is polled. A stream is
registered before its first picture is taken, so nothing is lost between the two.
"""

import asyncio
import contextlib
import json
from collections.abc import AsyncIterator, Iterator
from datetime import UTC, datetime
from typing import Any, TypeVar

import psycopg
import structlog
from sqlalchemy import select
from starlette.concurrency import run_in_threadpool

from canonis.core.plain import cleaned
from canonis.store.database import database_url, open_session
from canonis.store.tables import Job, Session, Task, User
from canonis.store.workspaces import may_enter_one
from canonis.web.guard import SignedIn

__all__ = ["HUB", "Hub", "follow", "follow_list"]

log = structlog.get_logger()
#: Events that a browser may be behind by before it is given a fresh picture instead.
_BEHIND = 500
#: Tasks of a job that a browser is told of, the newest first.
_TASKS = 5
#: Seconds between two words that the list of jobs changed.
_CALM = 1.5
#: Seconds after which a stream that could not read its picture tries again.
_TRY_AGAIN = 3.0
_ANEW: dict[str, Any] = {"anew": True}


class _Stream:
    """One browser that looks at a job."""

    def __init__(self, job: int, asker: SignedIn) -> None:
        self.job, self.asker = job, asker
        self.queue: asyncio.Queue[dict[str, Any]] = asyncio.Queue(_BEHIND)

    def hand(self, told: dict[str, Any]) -> None:
        """Queue what was told; a browser too far behind gets a fresh picture."""
        try:
            self.queue.put_nowait(told)
        except asyncio.QueueFull:
            while not self.queue.empty():
                self.queue.get_nowait()
            self.queue.put_nowait(_ANEW)

    def concerns(self, told: dict[str, Any]) -> bool:
        """Whether this browser is to know."""
        return (
            told.get("job") == self.job
            or told.get("person") == self.asker.user.id
            or told.get("session") == self.asker.session
        )


class _ListStream:
    """One browser that looks at the list of jobs: which of them something happened to since it was told last."""

    def __init__(self, asker: SignedIn) -> None:
        self.asker = asker
        self.stirred = asyncio.Event()
        self._jobs: set[int] = set()
        self._anew = self._ended = False

    def hand(self, told: dict[str, Any]) -> None:
        """Take note of what was told."""
        if "job" in told:
            self._jobs.add(told["job"])
        else:
            self._anew, self._ended = True, self._ended or "person" in told
        self.stirred.set()

    def concerns(self, told: dict[str, Any]) -> bool:
        """Whether this browser may have to know."""
        return "job" in told or told.get("person") == self.asker.user.id or told.get("session") == self.asker.session

    def taken(self) -> tuple[set[int], bool, bool]:
        """The jobs, whether everything is to be looked at anew, and whether the account changed; then forgotten."""
        found = self._jobs, self._anew, self._ended
        self._jobs, self._anew = set(), False
        self.stirred.clear()
        return found


Opened = TypeVar("Opened", _Stream, _ListStream)


class Hub:
    """Listens to the database for all streams of this process."""

    def __init__(self) -> None:
        self._streams: set[_Stream | _ListStream] = set()
        self._task: asyncio.Task[None] | None = None

    def start(self) -> None:
        """Begin to listen, on the running event loop."""
        self._task = asyncio.create_task(self._listen())

    async def stop(self) -> None:
        """Stop listening."""
        if self._task is not None:
            self._task.cancel()
            with contextlib.suppress(asyncio.CancelledError):
                await self._task

    async def _listen(self) -> None:
        while True:
            try:
                async with await psycopg.AsyncConnection.connect(
                    database_url(), autocommit=True, connect_timeout=5
                ) as line:
                    await line.execute("listen canonis")
                    # What happened while nobody listened is seen in a fresh picture.
                    self._hand(_ANEW, self._streams)
                    async for note in line.notifies():
                        told = json.loads(note.payload)
                        self._hand(told, {s for s in self._streams if s.concerns(told)})
            except (psycopg.Error, OSError, ValueError) as fault:
                log.warning("listening again soon", reason=cleaned(str(fault)))
            await asyncio.sleep(0.5)

    @staticmethod
    def _hand(told: dict[str, Any], streams: set[_Stream | _ListStream]) -> None:
        for stream in streams:
            stream.hand(told)

    @contextlib.contextmanager
    def open(self, stream: Opened) -> Iterator[Opened]:
        """Register a stream while the block runs."""
        self._streams.add(stream)
        try:
            yield stream
        finally:
            self._streams.discard(stream)


#: The hub of this process.
HUB = Hub()


def _picture(job_id: int) -> dict[str, Any] | None:
    """How a job stands: its newest tasks and the versions of its parts."""
    with open_session() as session:
        row = session.execute(
            select(Job.sheet_head, Job.source_version, Job.model_id).where(Job.id == job_id)
        ).one_or_none()
        if row is None:
            return None
        columns = (Task.id, Task.kind, Task.state, Task.stage, Task.error)
        tasks = session.execute(select(*columns).where(Task.job_id == job_id).order_by(Task.id.desc()).limit(_TASKS))
        return {
            "tasks": [dict(t._mapping) for t in tasks],
            "sheet": row.sheet_head,
            "source": row.source_version,
            "model": row.model_id,
            "remarks": 0,
            "ticks": 0,
        }


def _after(picture: dict[str, Any], told: dict[str, Any]) -> dict[str, Any]:
    """The picture after what was told."""
    if "remark" in told:
        return {**picture, "remarks": picture["remarks"] + 1}
    if "tick" in told:
        return {**picture, "ticks": picture["ticks"] + 1}
    if "task" not in told:
        return {**picture, **{k: told[k] for k in ("sheet", "source", "model")}}
    task = told["task"]
    others = [t for t in picture["tasks"] if t["id"] != task["id"]]
    tasks = sorted([task, *others], key=lambda t: -t["id"])[:_TASKS]
    return {**picture, "tasks": tasks}


def _still_in(asker: SignedIn) -> float | None:
    """Seconds that the asker's session has left, or None when it ended or the role is another."""
    with open_session() as session:
        found = session.get(Session, asker.session)
        if found is None or found.user_id != asker.user.id:
            return None
        left = (found.expires - datetime.now(UTC)).total_seconds()
        role = session.scalar(select(User.role).where(User.id == found.user_id))
        return left if left > 0 and role == asker.user.role else None


async def follow(job_id: int, asker: SignedIn) -> AsyncIterator[dict[str, str]]:
    """Server-sent events of a job: its picture, then each change as it happens; `ended` when the session is over, its
    password or its role changed."""
    with HUB.open(_Stream(job_id, asker)) as stream:
        picture, left = None, 3600.0
        told: dict[str, Any] = _ANEW
        while True:
            try:
                if told is _ANEW:
                    picture = await run_in_threadpool(_picture, job_id)
                    if picture is None:
                        return
                    yield {"data": json.dumps(picture)}
                if told is _ANEW or "person" in told or "session" in told:
                    lasts = await run_in_threadpool(_still_in, asker)
                    if lasts is None or "person" in told:
                        yield {
                            "event": "ended",
                            "data": "The session ended, or its password or role changed; sign in again.",
                        }
                        return
                    left = lasts
                elif picture is not None:
                    changed = _after(picture, told)
                    if changed != picture:
                        picture = changed
                        yield {"data": json.dumps(picture)}
            except Exception as fault:  # the database is away; the hub tells when it is back
                log.info("a stream waits", reason=cleaned(str(fault)))
                # The hub tells when it listens again; a pool that was only busy tells nobody.
                with contextlib.suppress(TimeoutError):
                    await asyncio.wait_for(stream.queue.get(), _TRY_AGAIN)
                told = _ANEW
                continue
            try:
                told = await asyncio.wait_for(stream.queue.get(), min(left, 3600.0))
            except TimeoutError:
                told = {"session": asker.session}


async def follow_list(asker: SignedIn) -> AsyncIterator[dict[str, str]]:
    """Server-sent events of the list of jobs: a word when one of somebody's own changed, now and then; `ended` as in
    `follow`."""
    with HUB.open(_ListStream(asker)) as stream:
        while True:
            await stream.stirred.wait()
            jobs, anew, ended = stream.taken()
            try:
                if anew and (ended or await run_in_threadpool(_still_in, asker) is None):
                    yield {
                        "event": "ended",
                        "data": "The session ended, or its password or role changed; sign in again.",
                    }
                    return
                if anew or await run_in_threadpool(may_enter_one, asker.user.id, jobs):
                    yield {"data": "changed"}
            except Exception as fault:  # the database is away; when it is back the hub says that everything is new
                log.info("a stream waits", reason=cleaned(str(fault)))
            await asyncio.sleep(_CALM)
