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


SIZE = {"width": 1280, "height": 800}


@pytest.fixture(scope="module")
def context(browser):
    made = browser.new_context(viewport=SIZE, accept_downloads=True, reduced_motion="reduce")
    yield made
    made.close()


@pytest.fixture
def page(context, application):
    """The page of somebody who was never here: nobody is signed in and nothing is kept.

    The tests of a file take turns in one tab: starting a process for each of them is dearer than what most of them do.
    """
    tab = context.pages[0] if context.pages else context.new_page()
    # A page of the same origin without the application: what was kept is forgotten when nobody writes it any more.
    tab.goto(f"{application.address}/api/health")
    tab.evaluate("() => { localStorage.clear(); sessionStorage.clear(); }")
    context.clear_cookies()
    faults: list[str] = []

    def heard(fault):
        faults.append(str(fault))

    tab.on("pageerror", heard)
    tab.set_default_timeout(PATIENCE)
    tab.goto(application.address)
    yield tab
    tab.remove_listener("pageerror", heard)
    context.set_offline(False)
    tab.unroute_all(behavior="ignoreErrors")
    tab.set_viewport_size(SIZE)
    for other in context.pages[1:]:
        other.close()
    assert not faults
