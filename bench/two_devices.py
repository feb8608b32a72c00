"""Times a stop press: until the book has the run, and until a second device shows it.

Run it with ``make bench``. One page times a run on a lane and stops it by its key,
another shows the book; both are real pages of one browser on one machine, so their
clocks agree. The demo's book is used, with its whole analysis behind every run.
"""

from __future__ import annotations

import shutil
import statistics
import tempfile
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright
from tests.browser.serving import launch, serving
from tests.conftest import PROJECT

from true_margin.launch.cluster import Cluster
from true_margin.launch.start import load_demo
from true_margin.store.database import Database

SLUG = "which-machine-for-the-festival-season"
PRESSES = 20
# Both promise the moment at which their page shows a word that it did not show before.
SHOWN = """({ pattern }) => {
  const wanted = new RegExp(pattern)
  window.shown = new Promise(done => {
    const look = () => {
      if (wanted.test(document.body.innerText)) done(performance.timeOrigin + performance.now())
      else setTimeout(look, 4)
    }
    look()
  })
}"""
PRESSED = """() => { window.pressed = new Promise(done => window.addEventListener('keydown',
  () => done(performance.timeOrigin + performance.now()), { once: true, capture: true })) }"""


def press(desk: Page, book: Page, runs: int) -> tuple[float, float]:
    """Time one run; gives ms from the press to the stored run, and to the other page."""
    desk.keyboard.press("Space")
    desk.get_by_role("button", name="Stop lane 1").wait_for()
    desk.wait_for_timeout(400)
    desk.evaluate(SHOWN, {"pattern": r"Saved in the book\."})
    book.evaluate(SHOWN, {"pattern": rf"\b{runs} runs in the book"})
    desk.evaluate(PRESSED)
    desk.keyboard.press("1")
    at = float(desk.evaluate("() => window.pressed"))
    stored = float(desk.evaluate("() => window.shown"))
    seen = float(book.evaluate("() => window.shown"))
    desk.keyboard.press("Space")
    return stored - at, seen - at


def measure(browser: Browser, address: str) -> list[tuple[float, float]]:
    """Open both pages and press many times; the first press warms up and does not count."""
    desk = browser.new_context(base_url=address).new_page()
    book = browser.new_context(base_url=address).new_page()
    for page, path in ((book, "runs"), (desk, "bench")):
        with page.expect_request("**/events"):
            page.goto(f"/s/{SLUG}/{path}")
    desk.get_by_role("button", name="Arm the lane").click()
    desk.get_by_role("timer").wait_for()
    count = int(book.get_by_text("runs in the book").inner_text().split()[0])
    return [press(desk, book, count + 1 + at) for at in range(PRESSES + 1)][1:]


def line(what: str, times: list[float]) -> str:
    """Median and 95th percentile in words."""
    p95 = statistics.quantiles(times, n=20)[-1]
    return f"{what}: median {statistics.median(times):.0f} ms, 95th percentile {p95:.0f} ms"


def main() -> None:
    """Serve the demo from a throwaway database and press."""
    folder = Path(tempfile.mkdtemp(prefix="true-margin-bench-"))
    folder.chmod(0o755)
    cluster = Cluster(folder, durable=False)
    cluster.start()
    try:
        database = Database(cluster.url)
        database.migrate()
        load_demo(database, PROJECT / "demo")
        database.close()
        with serving(cluster.url) as address, sync_playwright() as playwright:
            browser = launch(playwright)
            times = measure(browser, address)
            browser.close()
    finally:
        cluster.stop()
        shutil.rmtree(folder, ignore_errors=True)
    print(line(f"{PRESSES} stop presses until the book has the run", [a for a, _ in times]))
    print(line("until a second device shows it", [b for _, b in times]))


if __name__ == "__main__":
    main()
