"""Figures for whoever runs the program: requests and their times, waiting and running work, kernel children. Off by default."""

import time

from fastapi import APIRouter, HTTPException, Request, Response
from prometheus_client import CONTENT_TYPE_LATEST, CollectorRegistry, Counter, Gauge, Histogram, generate_latest
from sqlalchemy import text
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from canonis.settings import settings
from canonis.store.database import open_session
from canonis.web.guard import open_to_anyone

__all__ = ["Measured", "router"]

router = APIRouter()
_REGISTRY = CollectorRegistry()
_REQUESTS = Counter("canonis_requests", "Requests answered.", ["method", "route", "status"], registry=_REGISTRY)
_SECONDS = Histogram(
    "canonis_request_seconds",
    "Time until the last byte of an answer.",
    ["route"],
    registry=_REGISTRY,
    buckets=(0.01, 0.03, 0.1, 0.3, 1, 3, 10, 30),
)
_TASKS = Gauge("canonis_tasks", "Background work by its state.", ["state"], registry=_REGISTRY)
#: Whom the figures are told to.
_HERE = ("127.0.0.1", "::1")


class Measured:
    """Counts and times the requests of the application, by the route that they meet, not by their address."""

    def __init__(self, app: ASGIApp) -> None:
        self.app = app

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        if scope["type"] != "http" or not settings().metrics:
            await self.app(scope, receive, send)
            return
        status, start = 500, time.perf_counter()

        async def heard(message: Message) -> None:
            nonlocal status
            if message["type"] == "http.response.start":
                status = message["status"]
            await send(message)

        try:
            await self.app(scope, receive, heard)
        finally:
            route = getattr(scope.get("route"), "path", "none")
            _REQUESTS.labels(scope["method"], route, status).inc()
            if not route.endswith("/events"):
                _SECONDS.labels(route).observe(time.perf_counter() - start)


@router.get("/metrics", include_in_schema=False)
@open_to_anyone
def get_metrics(request: Request) -> Response:
    """The figures, for who asks from this machine where they are switched on (`CANONIS_METRICS`); nothing of anybody's work."""
    if not settings().metrics or request.client is None or request.client.host not in _HERE:
        raise HTTPException(404, "There is nothing at this address.")
    with open_session() as session:
        counts: dict[str, int] = dict(
            session.execute(text("select state, count(*) from tasks group by state")).tuples().all()
        )
    for state in ("waiting", "running", "done", "failed", "cancelled"):
        _TASKS.labels(state).set(counts.get(state, 0))
    return Response(generate_latest(_REGISTRY), media_type=CONTENT_TYPE_LATEST)
