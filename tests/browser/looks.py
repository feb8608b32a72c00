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

LOOK_MS, QUIET_LOOKS, LONGEST_S = 40, 3, 120.0
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


OVERPRINTS = """() => {
  const boxes = []
  const walk = document.createTreeWalker(document.body, NodeFilter.SHOW_TEXT)
  while (walk.nextNode()) {
    const node = walk.currentNode
    const own = node.parentElement
    const apart = '.sr-only, [aria-hidden=true], .script-copy, .script-text, option, select, dialog'
    if (!node.textContent.trim() || own.closest(apart)) continue
    if (!own.checkVisibility({visibilityProperty: true})) continue
    const range = document.createRange()
    range.selectNodeContents(node)
    for (const whole of range.getClientRects()) {
      // As much of it as is seen of what scrolls.
      let [left, top, right, bottom] = [whole.left, whole.top, whole.right, whole.bottom]
      for (let up = own; up; up = up.parentElement) {
        const style = getComputedStyle(up)
        if (style.overflowX !== 'visible' || style.overflowY !== 'visible') {
          const edge = up.getBoundingClientRect()
          left = Math.max(left, edge.left)
          right = Math.min(right, edge.right)
          top = Math.max(top, edge.top)
          bottom = Math.min(bottom, edge.bottom)
        }
        if (style.position === 'fixed') break
      }
      const box = {left, top, right, bottom, height: whole.height}
      if (right - left > 2 && bottom - top > 2) boxes.push([box, own, node.textContent.trim().slice(0, 30)])
    }
  }
  const bad = []
  boxes.sort((a, b) => a[0].top - b[0].top)
  for (let i = 0; i < boxes.length; i++) {
    for (let j = i + 1; j < boxes.length && boxes[j][0].top < boxes[i][0].bottom; j++) {
      const [a, b] = [boxes[i], boxes[j]]
      if (a[1] === b[1] || a[1].contains(b[1]) || b[1].contains(a[1])) continue
      const wide = Math.min(a[0].right, b[0].right) - Math.max(a[0].left, b[0].left)
      const high = Math.min(a[0].bottom, b[0].bottom) - Math.max(a[0].top, b[0].top)
      // Lines of type stand closer than their boxes.
      if (wide > 3 && high > 0.4 * Math.min(a[0].height, b[0].height)) bad.push(a[2] + ' × ' + b[2])
    }
  }
  return bad
}"""
"""Texts that stand on each other, as far as they are seen."""


def found_by_axe(page: Page, only: tuple[str, ...] = RULES) -> list[str]:
    """What the usual rule set for WCAG 2.2 AA finds on the page as it stands."""
    if page.evaluate("typeof axe") == "undefined":
        page.evaluate((PROJECT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text())
    found: list[str] = page.evaluate(
        f"async () => (await axe.run(document, {{runOnly: {list(only)}}}))"
        ".violations.map(v => v.id + ' ' + v.nodes.map(n => n.target.join(' ')).slice(0, 3).join(', '))"
    )
    return found
