"""Weighs the bench on a phone that never saw it: every byte on the wire, by its kind.

``python -m bench.phone_weight``: a fresh profile of 390 by 844 pixels opens the demo's bench;
what the browser took is added up as it went over the wire, compressed: until a timer can be
readied, and once the other stages were fetched ahead.
"""

from __future__ import annotations

from collections import Counter

from playwright.sync_api import Browser, Page, sync_playwright
from tests.browser.serving import launch, serving, throwaway_cluster
from tests.conftest import PROJECT

from true_margin.launch.upkeep import load_demo
from true_margin.store.database import Database

PATH = "/s/which-machine-for-the-festival-season/bench"
TAKEN = """() => [...performance.getEntriesByType('navigation'),
  ...performance.getEntriesByType('resource')].map(each => [each.name, each.encodedBodySize])"""


def visit(browser: Browser, address: str) -> tuple[Counter[str], Counter[str]]:
    """Open the bench; gives the bytes on the wire by kind, until it is ready and in the end."""
    context = browser.new_context(viewport={"width": 390, "height": 844}, has_touch=True)
    page = context.new_page()
    page.goto(address + PATH)
    page.get_by_role("button", name="Ready the timer").wait_for()
    ready = taken(page)
    page.wait_for_load_state("networkidle")
    whole = taken(page)
    context.close()
    return ready, whole


def taken(page: Page) -> Counter[str]:
    """Bytes that came so far, by kind."""
    weights: Counter[str] = Counter()
    for name, size in page.evaluate(TAKEN):
        end = name.partition("?")[0].rsplit(".", 1)[-1]
        kind = {"js": "scripts", "css": "styles", "woff2": "fonts"}.get(end, "page and answers")
        weights[kind] += size
    return weights


def main() -> None:
    """Serve the demo from a throwaway database and weigh it."""
    with throwaway_cluster("bench") as cluster:
        database = Database(cluster.url)
        database.migrate()
        load_demo(database, PROJECT / "demo")
        database.close()
        with serving(cluster.url) as address, sync_playwright() as playwright:
            browser = launch(playwright)
            ready, whole = visit(browser, address)
            browser.close()
    for when, weights in (("until it is ready", ready), ("with all stages", whole)):
        told = ", ".join(f"{kind} {size / 1000:.1f} kB" for kind, size in weights.most_common())
        print(f"bench on a phone, {when}: {weights.total() / 1000:.1f} kB ({told})")


if __name__ == "__main__":
    main()
