"""What whoever runs the program sets and is told: settings from the environment, figures, the log."""

import json
import re
import subprocess
import sys

import pytest
from fastapi import HTTPException
from starlette.requests import Request

from canonis.core.faults import BadInput
from canonis.settings import Settings, settings
from canonis.web.metrics import get_metrics


def asked_from(host):
    return Request({"type": "http", "method": "GET", "path": "/metrics", "headers": [], "client": (host, 1)})


def test_figures_are_counted_by_route_and_tell_nothing_of_anybodys_work(application, client):
    def counted(text: str) -> float:
        # the tests before this one have asked for jobs that are not there too, and for what hangs on them
        line = re.search(
            r'canonis_requests_total\{method="GET",route="(?:/api)?/jobs/\{job_id\}",status="404"\} (\S+)', text
        )
        return float(line[1]) if line else 0.0

    before = counted(client.get("/metrics").text)
    for _ in range(3):
        assert client.get("/api/jobs/999999999").status_code == 404
    text = client.get("/metrics").text
    assert counted(text) == before + 3 and "999999999" not in text
    assert re.search(r'canonis_tasks\{state="done"\} [1-9]', text)
    assert (
        'canonis_request_seconds_bucket{le="0.1",route="/api/health"}' in text
        or "canonis_request_seconds_bucket" in text
    )


@pytest.mark.parametrize(("on", "host"), [(False, "127.0.0.1"), (True, "203.0.113.9")])
def test_figures_are_off_by_default_and_for_this_machine_alone(monkeypatch, on, host):
    monkeypatch.setenv("CANONIS_METRICS", "1" if on else "")
    with pytest.raises(HTTPException) as refused:
        get_metrics(asked_from(host))
    assert refused.value.status_code == 404


@pytest.mark.parametrize(
    ("name", "value"),
    [
        ("CANONIS_MAX_FILE_MB", "many"),
        ("CANONIS_MAX_FILE_MB", "0"),
        ("CANONIS_KERNELS", "-1"),
        ("CANONIS_POSTGRES_PORT", "70000"),
        ("CANONIS_LOG", "loud"),
    ],
)
def test_a_setting_that_cannot_be_is_told_by_its_name(monkeypatch, name, value):
    monkeypatch.setenv(name, value)
    with pytest.raises(BadInput, match=f"{name} is “{value}”"):
        settings()
    told = subprocess.run([sys.executable, "-m", "canonis.cli", "measure", "none.step"], capture_output=True, text=True)
    assert told.returncode in (2, 3) and "Traceback" not in told.stderr


def test_an_empty_setting_is_none_and_proxies_are_parted_by_commas_or_spaces(monkeypatch):
    for name in ("CANONIS_KERNELS", "CANONIS_HOME", "CANONIS_MAX_FILE_MB"):
        monkeypatch.setenv(name, "")
    monkeypatch.setenv("CANONIS_PROXY", "10.0.0.1, 10.0.0.2 10.0.0.3")
    now = settings()
    assert (now.kernels, now.home, now.max_file_mb) == (None, None, Settings.model_fields["max_file_mb"].default)
    assert now.proxies == {"10.0.0.1", "10.0.0.2", "10.0.0.3"}


def test_a_log_in_json_is_one_object_a_line_with_its_part_and_its_traceback(monkeypatch):
    code = (
        "import structlog\nfrom canonis.logs import write_logs\nwrite_logs('worker')\n"
        "try:\n    1 / 0\nexcept ZeroDivisionError as fault:\n    structlog.get_logger().error('fault', job=7, exc_info=fault)\n"
    )
    monkeypatch.setenv("CANONIS_LOG", "json")
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    (line,) = done.stderr.strip().splitlines()
    told = json.loads(line)
    assert (told["event"], told["part"], told["job"], told["level"]) == ("fault", "worker", 7, "error")
    assert told["exception"][0]["exc_type"] == "ZeroDivisionError" and told["timestamp"].endswith("Z")
