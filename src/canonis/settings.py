"""What whoever runs Canonis may set in its environment: each name begins with `CANONIS_`."""

import os
from functools import lru_cache
from pathlib import Path
from typing import Annotated, Literal

from pydantic import Field, ValidationError
from pydantic_settings import BaseSettings, SettingsConfigDict

from canonis.core.faults import BadInput

__all__ = ["PREFIX", "Settings", "settings", "tell"]

PREFIX = "CANONIS_"
Count = Annotated[int, Field(ge=1)]
Megabytes = Annotated[int, Field(ge=1, le=100_000)]


class Settings(BaseSettings):
    """The settings with their defaults; sizes in MB (2^20 bytes)."""

    model_config = SettingsConfigDict(env_prefix=PREFIX, env_ignore_empty=True, frozen=True, extra="ignore")

    #: Where data is kept, and the files of the demo.
    home: Path | None = None
    demo_files: Path | None = None
    #: The database; one of our own is started where none is named, on this port.
    database: str = ""
    postgres_port: Annotated[int, Field(ge=1, le=65535)] | None = None
    #: Whether the demo's accounts are offered.
    demo: bool = False
    #: Whether people come by https, and the proxies whose word on their addresses is taken.
    https: bool = False
    proxy: str = ""
    max_file_mb: Megabytes = 100
    max_print_mb: Megabytes = 40
    #: How many entities a STEP file may have; a part of 10,000 faces has some 600,000.
    max_entities: Count = 800_000
    #: Kernel children that a worker keeps; as many as cores where nothing is said.
    kernels: Count | None = None
    #: Sockets of the processes that fork kernel children, parted by colons.
    nurseries: str = ""
    #: Whether the command line shows where it failed.
    debug: bool = False
    #: How the log is written, and whether figures are told at /metrics to who asks from this machine.
    log: Literal["plain", "json"] = "plain"
    metrics: bool = False

    @property
    def proxies(self) -> set[str]:
        """Addresses of the proxies that are named."""
        return set(self.proxy.replace(",", " ").split())


def settings() -> Settings:
    """The settings as the environment has them now.

    Raises BadInput with one sentence for a value that cannot be.
    """
    return _read(tuple(sorted((k, v) for k, v in os.environ.items() if k.startswith(PREFIX))))


@lru_cache(maxsize=8)
def _read(_: tuple[tuple[str, str], ...]) -> Settings:
    try:
        return Settings()
    except ValidationError as fault:
        first = fault.errors()[0]
        name = f"{PREFIX}{first['loc'][0]}".upper()
        raise BadInput(f"{name} is “{first['input']}”: {first['msg'].lower()}.") from None


def tell(**values: object) -> None:
    """Set some for this process and for those that it starts."""
    for name, value in values.items():
        os.environ[f"{PREFIX}{name.upper()}"] = "1" if value is True else "" if value in (None, False) else str(value)
