"""Starting and stopping everything: database, migrations, demo data, web, workers."""

import contextlib
import signal
import subprocess
import sys
import tempfile
import time
import urllib.request
from functools import partial
from pathlib import Path

from canonis.core.faults import BadInput
from canonis.core.tether import end_with
from canonis.settings import settings, tell
from canonis.work.home import home
from canonis.work.postgres import Postgres, free_port

__all__ = ["run_application"]


def _runtime(folder: Path) -> Path:
    """A private folder for sockets; their addresses have room for some hundred letters only, and a deep folder has more."""
    made = folder / "run"
    made.mkdir(parents=True, exist_ok=True)
    made.chmod(0o700)
    return made if len(str(made)) < 80 else Path(tempfile.mkdtemp(prefix="canonis-"))


def _start(*command: str) -> subprocess.Popen[bytes]:
    return subprocess.Popen([sys.executable, *command], preexec_fn=partial(end_with, by=signal.SIGTERM))


def _say(text: str) -> None:
    print(text, flush=True)


def _wait_until_up(address: str, process: subprocess.Popen[bytes]) -> None:
    for _ in range(240):
        if process.poll() is not None:
            raise BadInput("The web server stopped at once; its message stands above.")
        with contextlib.suppress(OSError), urllib.request.urlopen(f"{address}/api/health", timeout=2) as answer:
            if answer.status == 200:
                return
        time.sleep(0.25)
    raise BadInput("The web server did not answer within a minute.")


def _database(folder: Path, demo: bool) -> Postgres | None:
    """The database, started where none is named."""
    if settings().database:
        _say("Database: the one CANONIS_DATABASE names")
        return None
    _say("Starting PostgreSQL …")
    database = Postgres(folder / "postgres")
    database.start(settings().postgres_port or (5544 if demo else 5545))
    tell(database=database.url)
    return database


def _web(host: str, port: int) -> tuple[str, ...]:
    """The command of the web server."""
    where = ("--host", host, "--port", str(port))
    return ("-m", "uvicorn", "canonis.web.app:app", *where, "--log-level", "warning", "--no-proxy-headers")


def _watch(
    parts: dict[str, tuple[str, ...]], running: dict[str, "subprocess.Popen[bytes]"], database: Postgres | None
) -> None:
    """Start again whatever stops, until somebody ends it."""
    while True:
        time.sleep(0.2)
        for name, process in running.items():
            if process.poll() is not None:
                _say(f"The {name} stopped; starting it again.")
                running[name] = _start(*parts[name])
        if database is not None and not (database.data / "postmaster.pid").exists():
            _say("The database stopped; starting it again.")
            database.start(database.port)
        elif database is not None and not database.running_port():
            _say("The database was killed; starting it again.")
            database.start(database.port)


def _end(running: dict[str, "subprocess.Popen[bytes]"], database: Postgres | None) -> None:
    """End every part, those that use the database before it."""
    for process in running.values():
        process.terminate()
    for process in running.values():
        try:
            process.wait(10)
        except subprocess.TimeoutExpired:
            process.kill()
    if database is not None:
        database.stop()


def run_application(*, demo: bool, port: int, host: str = "127.0.0.1") -> None:
    """Run until Ctrl+C; a part that dies is started again.

    Raises BadInput when something needed is missing.
    """
    for ending in (signal.SIGTERM, signal.SIGINT):
        # A shell that starts this in the background leaves SIGINT ignored; it ends everything all the same.
        signal.signal(ending, signal.default_int_handler)
    folder = home() / ("demo" if demo else "serve")
    database = _database(folder, demo)
    tell(demo=demo)
    from canonis.store.database import migrate

    # The kernel loads while the rest is prepared, and whoever needs it finds it loaded.
    nurseries = [_runtime(folder) / f"nursery-{k}" for k in (1, 2)]
    tell(nurseries=":".join(map(str, nurseries)))
    parts: dict[str, tuple[str, ...]] = {
        f"nursery {k}": ("-m", "canonis.work.nursery", str(path)) for k, path in enumerate(nurseries, start=1)
    }
    running = {name: _start(*command) for name, command in parts.items()}
    _say("Bringing the database up to date …")
    migrate()
    from canonis.store.people import ensure_administrator

    secret = ensure_administrator() if not demo else ""
    if demo:
        from canonis.demo.load import load_demo

        _say("Loading the demo data …")
        load_demo()
    chosen = free_port(port)
    if chosen != port:
        _say(f"Port {port} is taken; using {chosen}.")
    address = f"http://{'127.0.0.1' if host in ('0.0.0.0', '127.0.0.1') else host}:{chosen}"
    parts |= {"web": _web(host, chosen), "worker": ("-m", "canonis.work")}
    running |= {name: _start(*parts[name]) for name in ("web", "worker")}
    try:
        _wait_until_up(address, running["web"])
        _say(f"\nCanonis is at {address}")
        if demo:
            from canonis.demo.load import ACCOUNTS

            _say("Demo sign-ins: " + " · ".join(f"{name} / {password}" for name, password, _ in ACCOUNTS))
        elif secret:
            _say(f"First administrator: administrator / {secret} (shown once; change it after signing in)")
        _say("Ctrl+C stops everything.\n")
        _watch(parts, running, database)
    except KeyboardInterrupt:
        _say("Stopping …")
    finally:
        _end(running, database)
