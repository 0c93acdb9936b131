"""The web application."""

import hashlib
import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path
from typing import Any

import anyio
import structlog
from anyio import CapacityLimiter
from anyio.to_thread import run_sync
from fastapi import FastAPI, HTTPException, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse
from fastapi.staticfiles import StaticFiles
from sqlalchemy import text
from sqlalchemy.exc import DataError, DBAPIError
from sqlalchemy.exc import TimeoutError as PoolTimeout

from canonis import __version__
from canonis.core.callout import grammar
from canonis.core.faults import BadInput
from canonis.core.plain import cleaned
from canonis.logs import write_logs
from canonis.store.database import pulse
from canonis.web import kernels
from canonis.web.arrivals import router as arrivals_router
from canonis.web.door import Door
from canonis.web.events import HUB
from canonis.web.guard import COOKIE, signed_in_by
from canonis.web.jobs import router as jobs_router
from canonis.web.metrics import Measured
from canonis.web.metrics import router as metrics_router
from canonis.web.people import demo_mode
from canonis.web.people import router as people_router
from canonis.web.prints import router as prints_router
from canonis.web.remarks import router as remarks_router
from canonis.web.sets import router as sets_router
from canonis.web.sheets import router as sheets_router
from canonis.web.solid import router as solid_router
from canonis.web.source import router as source_router
from canonis.web.ticks import router as ticks_router
from canonis.web.workspaces import router as workspaces_router
from canonis.work.kernel import KernelFault, KernelKilled
from canonis.work.pool import Busy

__all__ = ["ROUTERS", "app"]

log = structlog.get_logger()
#: Requests that may wait at once (for the database, for a kernel child); the event loop never does.
_THREADS = 64
#: A thread of their own for the questions that must be answered under any load.
_pulse_thread = CapacityLimiter(2)


@asynccontextmanager
async def _life(_: FastAPI) -> AsyncIterator[None]:
    write_logs("web")
    anyio.to_thread.current_default_thread_limiter().total_tokens = _THREADS
    kernels.warm()
    HUB.start()
    threading.Thread(target=grammar, daemon=True).start()
    yield
    await HUB.stop()
    kernels.stop()


app = FastAPI(title="Canonis", version=__version__, lifespan=_life, docs_url=None, redoc_url=None, openapi_url=None)
_DIST = Path(__file__).resolve().parents[3] / "frontend" / "dist"
_PAGE = _DIST / "index.html"
#: Which page this program serves; an open page of another one is told to reload.
_MARK = hashlib.sha256(_PAGE.read_bytes()).hexdigest()[:12] if _PAGE.is_file() else ""
app.add_middleware(Measured)
app.add_middleware(Door, page=_MARK)


def _beat() -> None:
    with pulse().connect() as connection:
        connection.execute(text("select 1"))


@app.get("/api/health", tags=["people"], operation_id="getHealth")
async def get_health() -> dict[str, str]:
    """Whether the application and its database answer. Open to anyone."""
    try:
        await run_sync(_beat, limiter=_pulse_thread)
    except (DBAPIError, PoolTimeout):
        raise HTTPException(503, "The database does not answer.") from None
    return {"status": "well", "version": __version__}


@app.get("/api/openapi.json", include_in_schema=False)
def get_schema(request: Request) -> dict[str, Any]:
    """The schema of this API, for signed-in people; in demo mode for anyone."""
    if not demo_mode():
        signed_in_by(request.cookies.get(COOKIE))
    return app.openapi()


def _sentence(status: int, message: str, headers: dict[str, str] | None = None) -> JSONResponse:
    return JSONResponse({"detail": cleaned(message, 1000)}, status_code=status, headers=headers)


@app.exception_handler(BadInput)
def _bad_input(_: Request, fault: BadInput) -> JSONResponse:
    return _sentence(422, str(fault))


@app.exception_handler(RequestValidationError)
def _bad_request(_: Request, fault: RequestValidationError) -> JSONResponse:
    first = fault.errors()[0]
    place = ".".join(str(p) for p in first["loc"][1:]) or "request"
    return _sentence(422, f"The {place[:80]} cannot be used: {first['msg'].lower()}.")


@app.exception_handler(HTTPException)
def _refused(_: Request, fault: HTTPException) -> JSONResponse:
    return _sentence(fault.status_code, str(fault.detail), dict(fault.headers) if fault.headers else None)


@app.exception_handler(DBAPIError)
def _database(_: Request, fault: DBAPIError) -> JSONResponse:
    if isinstance(fault, DataError):
        return _sentence(
            422, "Something in this cannot be stored: a number too large, or text with a character that is none."
        )
    log.error("database", reason=cleaned(str(fault), 400))
    return _sentence(503, "The database is busy or restarting; try again in a moment.")


@app.exception_handler(PoolTimeout)
@app.exception_handler(Busy)
@app.exception_handler(KernelKilled)
def _busy(_: Request, __: Exception) -> JSONResponse:
    return _sentence(503, "The server is busy; your work is kept, try again in a moment.", {"Retry-After": "3"})


@app.exception_handler(Exception)
@app.exception_handler(KernelFault)
def _fault(request: Request, fault: Exception) -> JSONResponse:
    log.error("fault", path=request.url.path, reason=cleaned(str(fault), 4000), exc_info=fault)
    return _sentence(500, "The program failed on this; the log has the details. Nothing of yours is lost.")


#: Every part of the API but health and schema, which are open.
ROUTERS = (
    people_router,
    workspaces_router,
    sets_router,
    jobs_router,
    source_router,
    prints_router,
    arrivals_router,
    sheets_router,
    remarks_router,
    ticks_router,
    solid_router,
)
for router in ROUTERS:
    app.include_router(router, prefix="/api")
app.include_router(metrics_router)

if _DIST.is_dir():
    app.mount("/assets", StaticFiles(directory=_DIST / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> FileResponse:
        """The single page, whatever its address."""
        if path.startswith("api/"):
            raise HTTPException(404, "There is no such address.")
        return FileResponse(_DIST / "index.html", headers={"Cache-Control": "no-cache"})
