"""The whole application for tests: its own database, web server and worker, started as a user starts them."""

import os
import re
import signal
import subprocess
import sys
import time
from pathlib import Path

import httpx

ROOT = Path(__file__).parents[1]


class Application:
    """`canonis demo` on a data folder of its own."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.address = ""
        self._log = folder / "output.txt"
        self._process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        """Start and wait until the address is printed."""
        environment = {**os.environ, "CANONIS_HOME": str(self.folder), "PYTHONUNBUFFERED": "1"}
        environment.pop("CANONIS_DATABASE", None)
        with self._log.open("wb") as log:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "canonis.cli", "demo", "--port", "8600"],
                stdout=log,
                stderr=subprocess.STDOUT,
                env=environment,
            )
        for _ in range(600):
            found = re.search(r"Canonis is at (\S+)", self._log.read_text())
            if found:
                self.address = found.group(1)
                return
            if self._process.poll() is not None:
                break
            time.sleep(0.2)
        raise AssertionError(self._log.read_text())

    def stop(self, how: signal.Signals = signal.SIGINT) -> None:
        """Stop it (SIGKILL: as in a power cut of the launcher)."""
        assert self._process is not None
        self._process.send_signal(how)
        self._process.wait(60)

    def worker_processes(self) -> list[int]:
        """Process numbers of this application's worker and its kernel children."""
        assert self._process is not None
        listed = subprocess.run(["ps", "-eo", "pid,ppid,args"], capture_output=True, text=True).stdout.splitlines()[1:]
        rows = [(int(a), int(b), c) for a, b, c in (line.split(None, 2) for line in listed)]
        workers = [p for p, parent, args in rows if parent == self._process.pid and args.endswith("-m canonis.work")]
        return workers + [p for p, parent, _ in rows if parent in workers]

    def postgres_process(self) -> int:
        """Process number of the database server."""
        return int((self.folder / "demo" / "postgres" / "data" / "postmaster.pid").read_text().splitlines()[0])

    def database_address(self) -> str:
        """Address of the application's own database."""
        home = self.folder / "demo" / "postgres"
        port = (home / "data" / "postmaster.pid").read_text().splitlines()[3]
        return f"postgresql://canonis:{(home / 'password').read_text().strip()}@127.0.0.1:{port}/canonis"

    def client(self, name: str = "drafter") -> httpx.Client:
        """A signed-in client."""
        from canonis.demo.load import ACCOUNTS

        password = next(p for n, p, _ in ACCOUNTS if n == name)
        answer = httpx.post(f"{self.address}/api/session", json={"name": name, "password": password}, timeout=60)
        assert answer.status_code == 200
        return httpx.Client(base_url=self.address, timeout=60, cookies=answer.cookies)

    def wait(self, client: httpx.Client, job: int, seconds: float = 90) -> dict:
        """The job once no background work is left."""
        end = time.monotonic() + seconds
        while time.monotonic() < end:
            try:
                state = client.get(f"/api/jobs/{job}").json()
                if not [t for t in state["tasks"] if t["state"] in ("waiting", "running")]:
                    return state
            except (httpx.TransportError, KeyError, ValueError):
                pass
            time.sleep(0.3)
        raise AssertionError(f"job {job} is still at work: {self._log.read_text()[-2000:]}")
