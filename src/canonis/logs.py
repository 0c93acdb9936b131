"""How the program's processes write their log: one line an event, to standard error."""

import sys

import structlog

from canonis.settings import settings

__all__ = ["write_logs"]


def write_logs(part: str) -> None:
    """Set the log up for this process; `part` names it in every line (web, worker)."""
    plain = settings().log == "plain"
    structlog.configure(
        processors=[
            structlog.contextvars.merge_contextvars,
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            structlog.dev.ConsoleRenderer(colors=sys.stderr.isatty())
            if plain
            else structlog.processors.dict_tracebacks,
            *(() if plain else (structlog.processors.JSONRenderer(ensure_ascii=False),)),
        ],
        logger_factory=structlog.PrintLoggerFactory(sys.stderr),
        cache_logger_on_first_use=False,
    )
    structlog.contextvars.bind_contextvars(part=part)
