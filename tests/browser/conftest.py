"""The real app in a thread, and the real interface in headless Chromium."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect

from tests.browser.serving import launch, serving
from tests.desk.helpers import Bench, new_bench
from true_margin.desk.runs import runs
from true_margin.launch.cluster import Cluster
from true_margin.store import records
from true_margin.store.database import Database

expect.set_options(timeout=60_000)


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    """Mark everything here as needing a browser."""
    for item in items:
        if "tests/browser" in str(item.path):
            item.add_marker(pytest.mark.browser)


@pytest.fixture(scope="session")
def address(cluster: Cluster, database: Database) -> Iterator[str]:
    """The app on the migrated database."""
    with serving(cluster.url) as address:
        yield address


@pytest.fixture(scope="session")
def browser(playwright: Playwright) -> Iterator[Browser]:
    """One browser for all tests."""
    browser = launch(playwright)
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


@pytest.fixture
def bench(database: Database) -> Bench:
    """A shootout of one's own."""
    return new_bench(database, "In the browser")


def comes_to(read: Callable[[], object], wanted: object) -> None:
    """Wait until the store says what the page shows already: a page shows what is on its way."""
    until = time.monotonic() + 60.0
    while (found := read()) != wanted and time.monotonic() < until:
        time.sleep(0.02)
    assert found == wanted


def stored(bench: Bench) -> list[records.Run]:
    """The runs that are in the book."""
    return [each.run for each in runs.show_runs(bench.database, bench.slug).runs]
