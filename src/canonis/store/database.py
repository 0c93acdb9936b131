"""The connection to PostgreSQL."""

from functools import lru_cache
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine
from sqlalchemy.orm import Session, sessionmaker

from canonis.settings import settings

__all__ = ["database_url", "engine", "migrate", "open_session", "pulse"]

#: A statement, a wait for a lock and a forgotten transaction end by themselves, ms.
_LIMITS = "-c statement_timeout=60000 -c lock_timeout=20000 -c idle_in_transaction_session_timeout=60000"


def database_url() -> str:
    """The database's address (`CANONIS_DATABASE`), e.g. ``postgresql://canonis@127.0.0.1:5544/canonis``."""
    return settings().database or "postgresql://canonis@127.0.0.1:5544/canonis"


@lru_cache(maxsize=1)
def engine() -> Engine:
    """One pool a process; a connection lost to a restart of the server is replaced, and no wait is without a limit."""
    return create_engine(
        _address(),
        pool_pre_ping=True,
        pool_size=10,
        max_overflow=10,
        pool_timeout=20,
        connect_args={"connect_timeout": 5, "options": _LIMITS},
    )


@lru_cache(maxsize=1)
def pulse() -> Engine:
    """A connection of its own for the question whether the database answers, however busy the pool is."""
    return create_engine(
        _address(),
        pool_pre_ping=True,
        pool_size=1,
        max_overflow=1,
        pool_timeout=5,
        connect_args={"connect_timeout": 2, "options": "-c statement_timeout=2000"},
    )


def _address() -> str:
    return database_url().replace("postgresql://", "postgresql+psycopg://")


@lru_cache(maxsize=1)
def _maker() -> sessionmaker[Session]:
    return sessionmaker(engine(), expire_on_commit=False)


def open_session() -> Session:
    """A new session; use it in a `with` block."""
    return _maker()()


def migrate() -> None:
    """Bring the schema up to date, the queue's own tables included."""
    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent / "migrations"))
    command.upgrade(config, "head")
