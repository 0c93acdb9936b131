import shutil
import tempfile
from pathlib import Path

import pytest

from tests.application import Application


@pytest.fixture(scope="session")
def application():
    folder = Path(tempfile.mkdtemp(prefix="canonis-test-"))
    folder.chmod(0o755)
    made = Application(folder)
    made.start()
    yield made
    made.stop()
    shutil.rmtree(folder, ignore_errors=True)


@pytest.fixture
def client(application):
    with application.client() as signed_in:
        yield signed_in
