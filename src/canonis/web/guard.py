"""Who may use a route. Sign-in, role and workspace are settled before anything of the request's body is read."""

import asyncio
import json
from collections.abc import Callable, Coroutine
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Any, TypeVar

from fastapi import Depends, HTTPException, Request, Response
from fastapi.dependencies.models import Dependant
from fastapi.routing import APIRoute
from starlette.concurrency import run_in_threadpool

from canonis.store.sessions import who
from canonis.store.tables import User
from canonis.store.workspaces import may_enter
from canonis.web.ids import GONE, id_of

__all__ = [
    "COOKIE", "Administrator", "Anyone", "Checker", "Drafter", "GuardedRoute", "SignedIn", "allow", "open_to_anyone", "signed_in",
    "signed_in_by", "takes",
]  # fmt: skip

COOKIE = "canonis_session"
#: Bytes of a body that brings no file: of strangers, and of those who signed in where a route does not say otherwise.
_OF_STRANGERS, _USUAL = 4 * 1024, 256 * 1024
#: Values in a body, more than thousands of edits have; and bytes from which on it is not parsed on the event loop.
_MOST_VALUES, _OFF_THE_LOOP = 150_000, 64 * 1024
#: Seconds that a body may take to come.
_PATIENCE = 120.0
Endpoint = TypeVar("Endpoint", bound=Callable[..., Any])


@dataclass(frozen=True)
class SignedIn:
    """Somebody's browser: the account, the session's hash and when it ends."""

    user: User
    session: str
    expires: datetime


def signed_in_by(token: str | None) -> SignedIn:
    """Whose session a token is, or a plain 401."""
    found = who(token) if token else None
    if found is None:
        raise HTTPException(401, "Sign in first.")
    user, session = found
    return SignedIn(user, session.token_hash, session.expires)


def signed_in(request: Request) -> SignedIn:
    """Who asks; the door has let them in."""
    asker: SignedIn = request.state.asker
    return asker


def allow(*roles: str) -> Callable[..., User]:
    """A dependency that lets in these roles only, and each only to what is in their workspaces. `GuardedRoute` reads the
    roles and acts on them before it takes the request's body."""

    def check(asker: Annotated[SignedIn, Depends(signed_in)]) -> User:
        return asker.user

    check.roles = roles  # type: ignore[attr-defined]
    return check


#: Anyone who is signed in.
Anyone = Annotated[User, Depends(allow("drafter", "checker", "viewer", "administrator"))]
#: Those who may say something of a sheet.
Checker = Annotated[User, Depends(allow("checker", "drafter", "administrator"))]
#: Those who may change sources, models and sheets.
Drafter = Annotated[User, Depends(allow("drafter", "administrator"))]
#: Those who keep the accounts, the workspaces and their house rules.
Administrator = Annotated[User, Depends(allow("administrator"))]


def open_to_anyone(endpoint: Endpoint) -> Endpoint:
    """Mark a route that needs no sign-in."""
    endpoint.open = True  # type: ignore[attr-defined]
    return endpoint


def takes(kilobytes: int) -> Callable[[Endpoint], Endpoint]:
    """Mark a route whose body may be larger than usual."""

    def mark(endpoint: Endpoint) -> Endpoint:
        endpoint.largest = kilobytes * 1024  # type: ignore[attr-defined]
        return endpoint

    return mark


class GuardedRoute(APIRoute):
    """A route of the API: it states who may use it, and nobody else's body is read."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        handle = super().get_route_handler()
        roles = _roles(self.dependant)
        if roles is None and not getattr(self.endpoint, "open", False):
            raise RuntimeError(f"{self.path} does not say who may use it.")
        largest = getattr(self.endpoint, "largest", _OF_STRANGERS if roles is None else _USUAL)

        async def guarded(request: Request) -> Response:
            if roles is not None:
                request.state.asker = await run_in_threadpool(_let_in, request, roles)
            return await handle(_BoundedRequest(request, largest))

        return guarded


def _roles(dependant: Dependant) -> tuple[str, ...] | None:
    """The roles that a route lets in; None where it asks for none."""
    for inner in dependant.dependencies:
        found = getattr(inner.call, "roles", None) or _roles(inner)
        if found is not None:
            return tuple(found)
    return None


def _let_in(request: Request, roles: tuple[str, ...]) -> SignedIn:
    """Who asks, in one of these roles, for what is in their workspaces.

    Raises HTTPException: 401 and 403; 404 for what is in another workspace, which is not told to be there.
    """
    asker = signed_in_by(request.cookies.get(COOKIE))
    if asker.user.role not in roles:
        whom = {"administrator": "an administrator", "checker": "a checker"}.get(roles[0], "a drafter")
        raise HTTPException(403, f"A {asker.user.role} may not do this; ask {whom}.")
    for parameter, gone in GONE.items():
        if parameter not in request.path_params:
            continue
        try:
            named = id_of(request.path_params[parameter])
        except ValueError:
            raise HTTPException(404, gone) from None
        place = _PLACES.get(parameter)
        if place is not None and not may_enter(asker.user.id, **{place: named}):
            raise HTTPException(404, gone)
    return asker


#: What of a workspace an address names by itself; prints, states and remarks are named under their job.
_PLACES = {"job_id": "job", "set_id": "drawing_set", "task_id": "task"}


class _BoundedRequest(Request):
    """A request whose body is counted while it comes; a file's body is bounded by the route that takes it (`uploads`)."""

    def __init__(self, request: Request, largest: int) -> None:
        super().__init__(request.scope, request.receive)
        self._largest = largest

    async def body(self) -> bytes:
        if not hasattr(self, "_came"):
            self._came = await self._take()
        return self._came

    async def _take(self) -> bytes:
        told = self.headers.get("content-length", "")
        if told.isdecimal() and int(told[:15]) > self._largest:
            raise self._too_large()
        pieces, came = [], 0
        try:
            async with asyncio.timeout(_PATIENCE):
                async for piece in self.stream():
                    came += len(piece)
                    if came > self._largest:
                        raise self._too_large()
                    pieces.append(piece)
        except TimeoutError:
            raise HTTPException(408, "The request took too long to come; send it again.") from None
        return b"".join(pieces)

    async def json(self) -> Any:
        data = await self.body()
        if data.count(b",") + data.count(b"[") + data.count(b"{") > _MOST_VALUES:
            raise HTTPException(413, "The request has too many values; send less at once.")
        try:
            return await run_in_threadpool(json.loads, data) if len(data) > _OFF_THE_LOOP else json.loads(data)
        except RecursionError:
            raise HTTPException(422, "The request is nested too deep; write it flat.") from None

    def _too_large(self) -> HTTPException:
        size = f"{self._largest // 1048576} MB" if self._largest >= 1048576 else f"{self._largest // 1024} kB"
        return HTTPException(413, f"The request is larger than {size}; send less at once.")
