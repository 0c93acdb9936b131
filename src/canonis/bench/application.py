"""The whole application as a user starts it, on a data folder of its own: for the benchmarks and the tests."""

import os
import re
import signal
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

import httpx

from canonis.work.kernel import NICE

__all__ = ["Application"]


def _niceness(pid: int) -> int:
    try:
        return os.getpriority(os.PRIO_PROCESS, pid)
    except ProcessLookupError:
        return 0


class Application:
    """`canonis demo` on a folder; `slot` keeps the ports of several at once apart."""

    def __init__(self, folder: Path, slot: int = 0, **environment: str) -> None:
        self.folder, self.slot, self.environment = folder, slot, environment
        self.address = ""
        self.log = folder / "output.txt"
        self._process: subprocess.Popen[bytes] | None = None
        self._cookies: dict[str, httpx.Cookies] = {}

    def start(self) -> None:
        """Start and wait until the address is printed."""
        environment = {
            **os.environ,
            "CANONIS_HOME": str(self.folder),
            "PYTHONUNBUFFERED": "1",
            "CANONIS_POSTGRES_PORT": str(5600 + 20 * self.slot),
            **self.environment,
        }
        environment.pop("CANONIS_DATABASE", None)
        command = [sys.executable, "-m", "canonis.cli", "demo", "--port", str(8600 + 20 * self.slot)]
        with self.log.open("wb") as log:
            self._process = subprocess.Popen(command, stdout=log, stderr=subprocess.STDOUT, env=environment)
        end = time.monotonic() + 180
        while time.monotonic() < end:
            found = re.search(r"Canonis is at (\S+)", self.log.read_text())
            if found:
                self.address = found.group(1)
                return
            if self._process.poll() is not None:
                break
            time.sleep(0.1)
        raise RuntimeError(self.log.read_text())

    def stop(self, how: signal.Signals = signal.SIGINT) -> None:
        """Stop it (SIGKILL: as in a power cut of the launcher)."""
        assert self._process is not None
        self._process.send_signal(how)
        self._process.wait(60)

    def processes(self) -> dict[str, list[int]]:
        """Numbers of this application's processes: web and worker, the nurseries that kernel children are forked from, the
        children, and the database."""
        assert self._process is not None
        listed = subprocess.run(["ps", "-eo", "pid,ppid,args"], capture_output=True, text=True).stdout.splitlines()[1:]
        rows = [(int(a), int(b), c) for a, b, c in (line.split(None, 2) for line in listed)]
        mine = [(pid, args) for pid, parent, args in rows if parent == self._process.pid]
        web = [pid for pid, args in mine if "uvicorn" in args]
        worker = [pid for pid, args in mine if args.endswith("-m canonis.work")]

        nurseries = [pid for pid, args in mine if "canonis.work.nursery" in args]
        children = [pid for pid, parent, _ in rows if parent in nurseries]
        # Work in the background gives way: that is how its children are told from those of people who wait.
        hidden = [pid for pid in children if _niceness(pid) > NICE]
        found = {
            "web": web,
            "worker": worker,
            "nursery": nurseries,
            "worker child": hidden,
            "web child": [pid for pid in children if pid not in hidden],
        }
        try:
            found["database"] = [self.postgres_process()]
        except OSError:
            found["database"] = []
        return found

    def worker_processes(self) -> list[int]:
        """Process numbers of this application's worker and its kernel children."""
        found = self.processes()
        return found["worker"] + found["worker child"]

    def _postgres(self) -> Path:
        return self.folder / "demo" / "postgres"

    def postgres_process(self) -> int:
        """Process number of the database server."""
        return int((self._postgres() / "data" / "postmaster.pid").read_text().splitlines()[0])

    def database_address(self) -> str:
        """Address of the application's own database."""
        home = self._postgres()
        port = (home / "data" / "postmaster.pid").read_text().splitlines()[3]
        return f"postgresql://canonis:{(home / 'password').read_text().strip()}@127.0.0.1:{port}/canonis"

    def client(self, name: str = "drafter", timeout: float = 60, *, fresh: bool = False) -> httpx.Client:
        """A signed-in client; those of one account share a session unless a `fresh` one is asked for."""
        if fresh or name not in self._cookies:
            found = self._sign_in(name)
            if fresh:
                return httpx.Client(base_url=self.address, timeout=timeout, cookies=found)
            self._cookies[name] = found
        return httpx.Client(base_url=self.address, timeout=timeout, cookies=self._cookies[name])

    def _sign_in(self, name: str) -> httpx.Cookies:
        from canonis.demo.load import ACCOUNTS

        password = next(p for n, p, _ in ACCOUNTS if n == name)
        answer = httpx.post(f"{self.address}/api/session", json={"name": name, "password": password}, timeout=60)
        answer.raise_for_status()
        return answer.cookies

    def wait(self, client: httpx.Client, job: int, seconds: float = 300) -> dict[str, Any]:
        """The job once no background work is left."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            try:
                state: dict[str, Any] = client.get(f"/api/jobs/{job}").json()
                if not [t for t in state["tasks"] if t["state"] in ("waiting", "running")]:
                    return state
            except (httpx.TransportError, KeyError, ValueError):
                pass
            time.sleep(0.15)
        raise RuntimeError(f"job {job} is still at work: {self.log.read_text()[-2000:]}")
