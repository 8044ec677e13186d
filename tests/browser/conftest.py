"""Browser journeys: the application on a free port, in the system's Chromium."""

import os
import shutil
import threading
from pathlib import Path
from types import SimpleNamespace

import pytest
from playwright.sync_api import expect

from kyklos import serving
from kyklos.demo.household import DEMO_NOW
from kyklos.serving.app import create_app

INSIDE = Path("/usr/lib/chromium/chromium")
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]


expect.set_options(timeout=30_000)  # a busy machine takes its time; where all is well nothing waits so long


@pytest.fixture(scope="session")
def browser_type_launch_args():
    """Use the system's Chromium."""
    found = str(INSIDE) if INSIDE.exists() else shutil.which("chromium") or shutil.which("google-chrome")
    return {"executable_path": os.environ.get("CHROMIUM", found), "args": FLAGS}


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args):
    """A browser that asks for British English: a new household is offered litres and °C. No worker keeps pages but where it is tried."""
    return {**browser_context_args, "locale": "en-GB", "service_workers": "block"}


def _serve(database, clock):
    app = create_app(database, clock, "browser", TESTING=False)
    server = serving.make(app, "127.0.0.1", 0)
    thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
    thread.start()
    return server, thread, f"http://127.0.0.1:{server.port}"


def _running(database, clock):
    server, thread, address = _serve(database, clock)
    yield SimpleNamespace(url=address, clock=clock, database=database)
    server.stop()
    thread.join(2)


@pytest.fixture
def empty_house(database, clock):
    """An empty household, served."""
    yield from _running(database, clock)


@pytest.fixture
def quince_yard(demo, clock):
    """The sample household, served on its day; the clock can be turned."""
    clock.now = DEMO_NOW
    yield from _running(demo, clock)


@pytest.fixture
def small_kitchen(kitchen):
    """A jar, a line with starter, two tasters, served."""
    yield from _running(kitchen.database, kitchen.clock)


@pytest.fixture
def page(page):
    """A page that fails the test on any console error, breach of the content policy, or request that leaves the machine."""
    wrong = []
    page.on(
        "console",
        lambda message: (
            wrong.append(message.text)
            if message.type == "error" and not any(status in message.text for status in ("422", "409"))
            else None
        ),
    )
    page.on("pageerror", lambda error: wrong.append(str(error)))
    page.on(
        "request",
        lambda request: (
            wrong.append(request.url) if not request.url.startswith(("http://127.0.0.1", "data:")) else None
        ),
    )
    page.set_default_timeout(30_000)
    yield page
    assert wrong == []
