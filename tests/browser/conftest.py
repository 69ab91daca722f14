"""A running server with the demo data, and Chromium to drive it."""

from __future__ import annotations

import os
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright
from sqlalchemy.engine import make_url
from werkzeug.serving import make_server

from longbreath.app import create_app
from longbreath.jobs.gateway import Gateway
from longbreath.store.database import Database
from tests.databases import admitted, with_demo

PATIENCE = 90_000
"""How long a test waits for the browser [ms]: a small machine holds its breath for seconds at times."""
expect.set_options(timeout=PATIENCE)
CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]


WORKER = os.environ.get("PYTEST_XDIST_WORKER", "alone")


@contextmanager
def serving(own: str) -> Iterator[str]:
    """Address of a server on a database, with the gateway of its devices."""
    database = Database(own)
    app = create_app({"SECRET_KEY": "browser", "DATABASE_URL": own}, database)
    server = make_server("127.0.0.1", 0, app, threaded=True)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    stopping = threading.Event()
    gateway = threading.Thread(target=Gateway(Database(own)).run, args=(stopping,))
    gateway.start()
    yield f"http://127.0.0.1:{server.server_port}"
    stopping.set()
    gateway.join()
    server.shutdown()
    thread.join()
    server.server_close()
    database.engine.dispose()


@pytest.fixture(scope="session")
def served(database_url: str) -> Iterator[str]:
    """Address of a server with the demo data in a database of its own."""
    with serving(with_demo(database_url, f"longbreath_browser_{WORKER}")) as address:
        yield address


@pytest.fixture
def working(served: str, database_url: str) -> Iterator[None]:
    """A worker for long work on the served database, in a process of its own."""
    own = make_url(database_url).set(database=f"longbreath_browser_{WORKER}")
    told = {**os.environ, "LONGBREATH_DATABASE_URL": admitted(own.render_as_string(hide_password=False))}
    process = subprocess.Popen([sys.executable, "-m", "longbreath.cli.main", "worker", "--queue", "long"], env=told)
    yield
    process.kill()
    process.wait()


@pytest.fixture(scope="session")
def chromium() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        yield browser
        browser.close()


@contextmanager
def watched(chromium: Browser, address: str) -> Iterator[Page]:
    """A page that fails the test on any script error or refused content."""
    context = chromium.new_context(viewport={"width": 1280, "height": 800}, base_url=address)
    page = context.new_page()
    troubles: list[str] = []
    page.on("pageerror", lambda error: troubles.append(str(error)))
    page.on("console", lambda message: troubles.append(message.text) if "Content Security" in message.text else None)
    page.set_default_timeout(PATIENCE)
    yield page
    context.close()
    assert troubles == []


@pytest.fixture
def page(chromium: Browser, served: str) -> Iterator[Page]:
    """A watched page of the demo."""
    with watched(chromium, served) as page:
        yield page
