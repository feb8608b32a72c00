"""Times the first load of the demo's Margins screen in a browser that never saw it.

Run it with ``make bench``. Each visit has a fresh profile, so nothing is cached;
the clock is the page's own, from the start of the navigation until the sentence
with the verdict stands there. Scripts are counted as they go over the wire.
"""

from __future__ import annotations

import statistics

from playwright.sync_api import Browser, sync_playwright
from tests.browser.serving import launch, serving, throwaway_cluster
from tests.conftest import PROJECT

from true_margin.launch.upkeep import load_demo
from true_margin.store.database import Database

PATH = "/s/which-machine-for-the-festival-season/margins"
VISITS = 7
READABLE = """() => new Promise(done => {
  const look = () => document.querySelector('[data-testid=summary]')
    ? done(performance.now()) : requestAnimationFrame(look)
  look()
})"""
SCRIPTS = """() => performance.getEntriesByType('resource')
  .filter(each => each.initiatorType === 'script' || each.name.endsWith('.js'))
  .reduce((sum, each) => sum + each.encodedBodySize, 0)"""


def visit(browser: Browser, address: str) -> tuple[float, float]:
    """Visit once; gives milliseconds to readable, and bytes of script on the wire."""
    context = browser.new_context(viewport={"width": 1280, "height": 800})
    page = context.new_page()
    page.goto(address + PATH, wait_until="commit")
    readable_ms = float(page.evaluate(READABLE))
    page.wait_for_load_state("networkidle")
    script_bytes = float(page.evaluate(SCRIPTS))
    context.close()
    return readable_ms, script_bytes


def main() -> None:
    """Serve the demo from a throwaway database and visit it."""
    with throwaway_cluster("bench") as cluster:
        database = Database(cluster.url)
        database.migrate()
        load_demo(database, PROJECT / "demo")
        database.close()
        with serving(cluster.url) as address, sync_playwright() as playwright:
            browser = launch(playwright)
            visits = [visit(browser, address) for _ in range(VISITS)]
            browser.close()
    times = [readable_ms for readable_ms, _ in visits]
    print(
        f"first load of Margins: readable after {times[0]:.0f} ms on the very first visit "
        f"of a new server by a new browser, then best {min(times):.0f} ms, median "
        f"{statistics.median(times):.0f} ms, worst {max(times[1:]):.0f} ms; "
        f"{visits[0][1] / 1000:.0f} kB of script on the wire"
    )


if __name__ == "__main__":
    main()
