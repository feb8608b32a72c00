"""The web folder in a browser: under another path, and from a file manager, without any script."""

from __future__ import annotations

import subprocess
import threading
from collections.abc import Iterator
from functools import partial
from http.server import SimpleHTTPRequestHandler, ThreadingHTTPServer
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, Page, Playwright, Request, expect

from tests.browser.looks import OVERPRINTS, found_by_axe
from tests.browser.serving import launch
from tests.conftest import PROJECT
from true_margin.desk.publish import editions
from true_margin.desk.publish.folder_files import write_folder
from true_margin.store import records
from true_margin.store.database import Database

PAGES = (
    "index.html",
    "have/tarn-desk.html",
    "have/tarn-desk/festival-filmer.html",
    "have/other.html",
    "have/other/title-maker.html",
    "figures.html",
    "machines.html",
    "runs.html",
)


class Quiet(SimpleHTTPRequestHandler):
    """A host for plain files that says nothing on the screen."""

    def log_message(self, format: str, *args: Any) -> None:  # noqa: A002 - its name
        """Say nothing."""


@pytest.fixture(scope="module")
def folder(database: Database, demo: records.Shootout, tmp_path_factory: Any) -> Path:
    root: Path = tmp_path_factory.mktemp("host")
    editions.publish_edition(database, demo.slug, None, "Marit")
    write_folder(database, demo.slug, root / "a" / "b")
    return root


@pytest.fixture(scope="module")
def host(folder: Path) -> Iterator[str]:
    server = ThreadingHTTPServer(("127.0.0.1", 0), partial(Quiet, directory=str(folder)))
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.server_address[1]}/a/b/"
    server.shutdown()
    server.server_close()


def sideways(page: Page) -> int:
    """Pixels by which a page is wider than its window."""
    wide = "document.documentElement.scrollWidth - document.documentElement.clientWidth"
    return int(page.evaluate(wide))


@pytest.mark.parametrize("path", PAGES)
def test_a_page_fits_a_phone_and_asks_nothing_of_anybody(
    browser: Browser, host: str, path: str
) -> None:
    for width, scheme in ((320, "light"), (390, "dark"), (1280, "light")):
        context = browser.new_context(
            viewport={"width": width, "height": 800},
            color_scheme=scheme,  # type: ignore[arg-type]
        )
        page = context.new_page()
        asked: list[str] = []

        def note(request: Request, asked: list[str] = asked) -> None:
            asked.append(request.url)

        page.on("request", note)
        page.goto(host + path, wait_until="networkidle")
        assert sideways(page) <= 0, (path, width)
        assert all(url.startswith((host, "data:")) for url in asked), asked
        assert len(asked) > 3
        assert found_by_axe(page) == [], (path, width)
        context.close()


def test_three_taps_lead_to_an_answer_without_a_script(browser: Browser, folder: Path) -> None:
    context = browser.new_context(viewport={"width": 390, "height": 844}, java_script_enabled=False)
    page = context.new_page()
    page.goto((folder / "a/b/index.html").as_uri())
    page.get_by_text("change", exact=True).click()
    page.get_by_role("link", name="Pebble", exact=True).click()
    page.get_by_role("link", name="Title maker").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Buy the Ferrous T9 stock")
    expect(page.get_by_role("navigation", name="I am a")).to_contain_text("Title maker")
    page.get_by_role("link", name="Village teacher").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Buy the Tarn Desk")
    page.get_by_role("link", name="All answers and evidence").click()
    expect(page.get_by_role("heading", level=1)).to_have_text(
        "Which machine for the festival season?"
    )
    context.close()


def test_every_page_is_valid_html(folder: Path) -> None:
    pages = [
        str(path)
        for path in sorted((folder / "a" / "b").rglob("*.html"))
        if path.parent.name != "files"
    ]
    assert len(pages) > 40
    web = PROJECT / "web"
    checked = subprocess.run(
        [
            "node",
            web / "node_modules/html-validate/bin/html-validate.mjs",
            "--config",
            web / ".htmlvalidate.json",
            *pages,
        ],
        capture_output=True,
        text=True,
        check=False,
        cwd=web,
    )
    assert checked.returncode == 0, checked.stdout[:2000] + checked.stderr[:500]


BARS = """() => {
  const paper = getComputedStyle(document.body).backgroundColor
  const bars = [...document.querySelectorAll('.lane .bar, .bars .bar')]
    .filter(each => each.checkVisibility())
  const style = each => getComputedStyle(each)
  return [bars.length, bars.filter(each =>
    style(each).backgroundColor === paper && style(each).backgroundImage === 'none').length]
}"""
"""How many bars there are, and how many are as the paper is."""


def test_bars_are_there_in_forced_colours_and_type_in_any_size(
    playwright: Playwright, browser: Browser, host: str
) -> None:
    context = browser.new_context(forced_colors="active")
    page = context.new_page()
    page.goto(f"{host}index.html")
    drawn, lost = page.evaluate(BARS)
    assert drawn > 4
    assert lost == 0
    context.close()
    larger = launch(playwright, "--blink-settings=defaultFontSize=32")
    page = larger.new_page(viewport={"width": 1280, "height": 800})
    for name in PAGES:
        page.goto(f"{host}{name}")
        assert page.evaluate(OVERPRINTS) == [], name
        assert sideways(page) <= 0, name
    larger.close()
