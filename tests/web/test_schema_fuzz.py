"""Made-up requests over the whole schema, signed in for all of them: no answer is a fault of the server."""

import hashlib
import shutil
import subprocess
import time
from collections import Counter
from pathlib import Path

import httpx
import psycopg
import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, seed, settings
from pwdlib import PasswordHash
from schemathesis import GenerationMode

from canonis.bench.application import Application
from tests.helpers import job_by

#: Seconds for all routes together; each gets its share.
BUDGET = 35.0
HASH = PasswordHash.recommended().hash("nobody types this")
TOKEN = "the session of a made-up administrator"


@pytest.fixture(scope="module")
def own(application_template):
    """An application of its own: made-up requests remove people and jobs' parts."""
    folder = Path(f"{application_template}-fuzz")
    subprocess.run(["cp", "-a", application_template, folder], check=True)
    made = Application(folder, slot=7, CANONIS_KERNELS="1")
    made.start()
    yield made
    made.stop()
    shutil.rmtree(folder, ignore_errors=True)


def sign_in(application):
    """A session that no request can know of; made again when one ended it by chance."""
    digest = hashlib.sha256(TOKEN.encode()).hexdigest()
    with psycopg.connect(application.database_address()) as line:
        line.execute(
            "insert into users (name, look, role, password_hash) values ('fuzz', 'fuzz', 'administrator', %s) on conflict (name) "
            "do update set role = 'administrator'",
            (HASH,),
        )
        line.execute("insert into members select u.id, w.id from users u, workspaces w on conflict do nothing")
        line.execute(
            "insert into sessions (token_hash, user_id, created, seen, expires, agent) select %s, id, now(), now(), "
            "now() + interval '1 day', '' from users where name = 'fuzz' on conflict do nothing",
            (digest,),
        )


def bombard(application, operation, job, seconds, faults):
    """Statuses of made-up requests of one route within some seconds; those that failed the server are noted."""
    end = time.monotonic() + seconds
    statuses = Counter()

    @seed(20260102)
    @settings(
        max_examples=40, deadline=None, database=None, phases=[Phase.generate], suppress_health_check=list(HealthCheck)
    )
    @given(case=operation.as_strategy())
    def ask(case):
        if time.monotonic() > end:
            return
        if "job_id" in (case.path_parameters or {}) and statuses.total() % 2:
            # Half of the requests go to a job that is there, so that they come past its door.
            case.path_parameters["job_id"] = job
        answer = case.call(base_url=application.address, cookies={"canonis_session": TOKEN}, timeout=60)
        statuses[answer.status_code] += 1
        if answer.status_code >= 500:
            faults.append(f"{case.as_curl_command()[:500]} → {answer.status_code} {answer.text[:200]}")
        if answer.status_code == 401 or operation.method.upper() == "DELETE":
            sign_in(application)

    ask()
    return statuses


def test_no_request_of_the_schema_fails_the_server(own):
    sign_in(own)
    schema = schemathesis.openapi.from_url(f"{own.address}/api/openapi.json")
    schema.config.generation.update(modes=[GenerationMode.POSITIVE, GenerationMode.NEGATIVE])
    operations = [found.ok() for found in schema.get_all_operations()]
    # The stream of events has no end; it is driven by tests of its own.
    operations = [o for o in operations if o.definition.raw["operationId"] != "jobEvents"]
    with httpx.Client(base_url=own.address, cookies={"canonis_session": TOKEN}, timeout=60) as client:
        job = job_by(client, "WB-1204")
        faults, statuses = [], Counter()
        for operation in operations:
            statuses += bombard(own, operation, job, BUDGET / len(operations), faults)
            assert client.get("/api/jobs").status_code == 200, "the session went on"
    assert not faults, "\n".join(faults[:20])
    assert len(operations) > 45 and statuses.total() > 300 and {200, 404, 422} <= set(statuses)
    assert statuses[401] < 0.1 * statuses.total(), "signed in for all of it"
