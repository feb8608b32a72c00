"""The real app in a thread, and the real interface in headless Chromium."""

from __future__ import annotations

import shutil
import socket
import threading
import time
from collections.abc import Iterator

import pytest
import uvicorn
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect

from tests.conftest import PROJECT
from true_margin.app.main import make_app
from true_margin.store.database import Database

FLAGS = ["--no-sandbox", "--disable-gpu", "--disable-background-networking", "--disable-sync",
         "--disable-component-update", "--no-first-run"]  # fmt: skip

expect.set_options(timeout=10_000)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Mark everything here as needing a browser."""
    for item in items:
        if "tests/browser" in str(item.path):
            item.add_marker(pytest.mark.browser)


@pytest.fixture(scope="session")
def address(database: Database) -> Iterator[str]:
    """The app, served with its built pages."""
    web = PROJECT / "web" / "dist"
    assert (web / "assets").exists(), "the pages are not built: make setup"
    listening = socket.socket()
    listening.bind(("127.0.0.1", 0))
    listening.listen()
    # The app's end would close the database that other tests still use.
    app = make_app(Database(database.engine.url.render_as_string(hide_password=False)), web)
    server = uvicorn.Server(uvicorn.Config(app, log_level="error"))
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.02)
    yield f"http://127.0.0.1:{listening.getsockname()[1]}"
    server.should_exit = True
    thread.join(timeout=10)


@pytest.fixture(scope="session")
def browser(playwright: Playwright) -> Iterator[Browser]:
    """Debian's Chromium; no browser is fetched."""
    binary = shutil.which("chromium")
    assert binary is not None, "chromium is missing: make setup"
    browser = playwright.chromium.launch(executable_path=binary, args=FLAGS)
    yield browser
    browser.close()


@pytest.fixture
def context(browser: Browser, address: str) -> Iterator[BrowserContext]:
    """A fresh profile at the usual size."""
    context = browser.new_context(
        base_url=address,
        viewport={"width": 1280, "height": 800},
        color_scheme="light",
        locale="en-GB",
    )
    yield context
    context.close()


@pytest.fixture
def page(context: BrowserContext) -> Iterator[Page]:
    """A page that fails the test when its script fails."""
    page = context.new_page()
    errors: list[str] = []
    page.on("pageerror", lambda error: errors.append(str(error)))
    yield page
    assert errors == []
