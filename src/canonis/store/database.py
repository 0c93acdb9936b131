"""The connection to PostgreSQL."""

import os
from functools import lru_cache
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine
from sqlalchemy.orm import Session, sessionmaker

__all__ = ["database_url", "engine", "migrate", "open_session"]


def database_url() -> str:
    """The database's address (`CANONIS_DATABASE`), e.g. ``postgresql://canonis@127.0.0.1:5544/canonis``."""
    return os.environ.get("CANONIS_DATABASE", "postgresql://canonis@127.0.0.1:5544/canonis")


@lru_cache(maxsize=1)
def engine() -> Engine:
    """One pool a process; a connection lost to a restart of the server is replaced."""
    url = database_url().replace("postgresql://", "postgresql+psycopg://")
    return create_engine(url, pool_pre_ping=True, pool_size=10, max_overflow=10)


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
