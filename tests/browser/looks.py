"""What any page is held to."""

from __future__ import annotations

import time
from collections.abc import Iterator
from contextlib import contextmanager

from playwright.sync_api import Page, Request

from tests.conftest import PROJECT

RULES = ("wcag2a", "wcag2aa", "wcag21aa", "wcag22aa")
COLOURS = ("color-contrast", "link-in-text-block")
"""Those of the rules that another theme can break."""

LOOK_MS, QUIET_LOOKS, LONGEST_S = 40, 3, 30.0
WITHIN = """where => {
  if (!document.querySelector('#root h1')) return false
  history.pushState({}, '', where)
  return true
}"""
"""Goes on inside the app where it is open already, as its links do; says whether it could."""
IDLE = """ms => new Promise(done => setTimeout(() => requestAnimationFrame(
    () => requestIdleCallback(() => done(), {timeout: 200})), ms))"""
"""After a while, once the page has drawn and has nothing to do; a window may never say so."""


@contextmanager
def settling(page: Page) -> Iterator[None]:
    """Do something and wait until all that it asked for has come and is drawn.

    The events of a bench are not waited for: they never end.
    """
    under_way: set[Request] = set()

    def asked(request: Request) -> None:
        if request.resource_type != "eventsource":
            under_way.add(request)

    def ended(request: Request) -> None:
        under_way.discard(request)

    listeners = {"request": asked, "requestfinished": ended, "requestfailed": ended}
    for event, listener in listeners.items():
        page.on(event, listener)  # type: ignore[call-overload]
    yield
    until, quiet = time.monotonic() + LONGEST_S, 0
    while quiet < QUIET_LOOKS:
        page.evaluate(IDLE, LOOK_MS)
        quiet = 0 if under_way else quiet + 1
        assert time.monotonic() < until, f"still asks: {[each.url for each in under_way]}"
    for event, listener in listeners.items():
        page.remove_listener(event, listener)


def visit(page: Page, where: str) -> None:
    """Go somewhere and wait until all that was asked for has come and is drawn.

    A heading alone is there long before what it stands over, so a look would find nothing.
    """
    with settling(page):
        if not page.evaluate(WITHIN, where):
            page.goto(where)
        page.locator("h1").first.wait_for()


def found_by_axe(page: Page, only: tuple[str, ...] = RULES) -> list[str]:
    """What the usual rule set for WCAG 2.2 AA finds on the page as it stands."""
    if page.evaluate("typeof axe") == "undefined":
        page.evaluate((PROJECT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text())
    found: list[str] = page.evaluate(
        f"async () => (await axe.run(document, {{runOnly: {list(only)}}}))"
        ".violations.map(v => v.id + ' ' + v.nodes.map(n => n.target.join(' ')).slice(0, 3).join(', '))"
    )
    return found
