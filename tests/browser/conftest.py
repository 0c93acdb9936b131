"""A real Chromium, and pages that fail their test when a script of theirs fails."""

import os

import pytest
from playwright.sync_api import expect, sync_playwright

# A slow machine takes its time to project a view; a wait that long is paid only by a test that fails.
PATIENCE = int(os.environ.get("CANONIS_PATIENCE_MS", "120000"))
expect.set_options(timeout=PATIENCE)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--enable-unsafe-swiftshader",
]


@pytest.fixture(scope="module")
def browser():
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield chromium
        chromium.close()


@pytest.fixture
def page(browser, application):
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, accept_downloads=True, reduced_motion="reduce"
    )
    made = context.new_page()
    faults: list[str] = []
    made.on("pageerror", lambda e: faults.append(str(e)))
    made.set_default_timeout(PATIENCE)
    made.goto(application.address)
    yield made
    context.close()
    assert not faults
