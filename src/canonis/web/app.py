"""The web application."""

import threading
from collections.abc import AsyncIterator
from contextlib import asynccontextmanager
from pathlib import Path

import structlog
from fastapi import FastAPI, HTTPException, Request
from fastapi.exceptions import RequestValidationError
from fastapi.responses import FileResponse, JSONResponse
from fastapi.staticfiles import StaticFiles
from sqlalchemy import text
from sqlalchemy.exc import OperationalError

from canonis import __version__
from canonis.core.faults import BadInput
from canonis.core.source.shorthand import grammar
from canonis.store.database import engine
from canonis.web import bench
from canonis.web.jobs import router as jobs_router
from canonis.web.people import router as people_router
from canonis.web.prints import router as prints_router
from canonis.web.sets import router as sets_router
from canonis.web.sheets import router as sheets_router
from canonis.web.solid import router as solid_router
from canonis.web.source import router as source_router
from canonis.work.kernel import KernelFault

__all__ = ["app"]

log = structlog.get_logger()


@asynccontextmanager
async def _life(_: FastAPI) -> AsyncIterator[None]:
    bench.warm()
    threading.Thread(target=grammar, daemon=True).start()
    yield
    bench.stop()


app = FastAPI(
    title="Canonis", version=__version__, lifespan=_life, docs_url=None, redoc_url=None, openapi_url="/api/openapi.json"
)


@app.get("/api/health", tags=["people"], operation_id="getHealth")
def get_health() -> dict[str, str]:
    """Whether the application and its database answer. Open to anyone."""
    try:
        with engine().connect() as connection:
            connection.execute(text("select 1"))
    except OperationalError:
        raise HTTPException(503, "The database does not answer.") from None
    return {"status": "well", "version": __version__}


@app.exception_handler(BadInput)
def _bad_input(_: Request, fault: BadInput) -> JSONResponse:
    return JSONResponse({"detail": str(fault)}, status_code=422)


@app.exception_handler(RequestValidationError)
def _bad_request(_: Request, fault: RequestValidationError) -> JSONResponse:
    first = fault.errors()[0]
    place = ".".join(str(p) for p in first["loc"][1:]) or "request"
    return JSONResponse({"detail": f"The {place} cannot be used: {first['msg'].lower()}."}, status_code=422)


@app.exception_handler(OperationalError)
def _no_database(_: Request, fault: OperationalError) -> JSONResponse:
    return JSONResponse({"detail": "The database is restarting; try again in a moment."}, status_code=503)


@app.exception_handler(KernelFault)
def _kernel_fault(_: Request, fault: KernelFault) -> JSONResponse:
    log.error("kernel fault", trace=str(fault))
    return JSONResponse(
        {"detail": "The program failed on this; the log has the details. Nothing of yours is lost."}, status_code=500
    )


for router in (people_router, sets_router, jobs_router, source_router, prints_router, sheets_router, solid_router):
    app.include_router(router, prefix="/api")

_DIST = Path(__file__).resolve().parents[3] / "frontend" / "dist"
if _DIST.is_dir():
    app.mount("/assets", StaticFiles(directory=_DIST / "assets"), name="assets")

    @app.get("/{path:path}", include_in_schema=False)
    def page(path: str) -> FileResponse:
        """The single page, whatever its address."""
        if path.startswith("api/"):
            raise HTTPException(404, "There is no such address.")
        return FileResponse(_DIST / "index.html", headers={"Cache-Control": "no-cache"})
