"""Times a stop press: until its event and its run are stored, and until other devices show it.

Run it with ``make bench``. One page times a run on a lane and stops it by its key, a
second shows the same bench, a third the book; all are real pages of one browser on one
machine, so their clocks agree. The demo's book is used, with its whole analysis behind
every run.
"""

from __future__ import annotations

import re
import statistics

from playwright.sync_api import Browser, Page, sync_playwright
from tests.browser.serving import launch, serving, throwaway_cluster
from tests.conftest import PROJECT

from true_margin.launch.upkeep import load_demo
from true_margin.store.database import Database

SLUG = "which-machine-for-the-festival-season"
PRESSES = 20
# Each promises a moment: a word is shown, a lane has stopped, an event has its answer.
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
STOPPED = """() => {
  window.shown = new Promise(done => {
    const look = () => {
      const timer = document.querySelector('[role=timer]')
      if (timer?.ariaLabel?.startsWith('stopped')) done(performance.timeOrigin + performance.now())
      else setTimeout(look, 4)
    }
    look()
  })
}"""
PRESSED = """() => {
  window.pressed = new Promise(done => window.addEventListener('keydown',
    () => done(performance.timeOrigin + performance.now()), { once: true, capture: true }))
  window.told = new Promise(done => { window.tell = done })
}"""
LISTEN = """() => {
  const fetch = window.fetch
  window.fetch = async (...asked) => {
    const answer = await fetch(...asked)
    const address = asked[0] instanceof Request ? asked[0].url : String(asked[0])
    if (address.includes('/bench/events')) window.tell?.(performance.timeOrigin + performance.now())
    return answer
  }
}"""
WHAT = (
    "until its event is stored",
    "until a second device shows the lane stopped",
    "until the book has the run",
    "until a third device shows the book with it",
)


def press(desk: Page, other: Page, book: Page, runs: int) -> tuple[float, ...]:
    """Time one run; gives ms from the stop press to each of ``WHAT``."""
    desk.keyboard.press("Space")
    desk.get_by_role("button", name="Stop timer 1").wait_for()
    other.get_by_role("button", name="Stop timer 1").wait_for()
    # Exports take minutes: what the last one set off is over by then.
    desk.wait_for_timeout(2500)
    desk.evaluate(SHOWN, {"pattern": r"Saved\."})
    book.evaluate(SHOWN, {"pattern": rf"\b{runs} runs\b"})
    other.evaluate(STOPPED)
    desk.evaluate(PRESSED)
    desk.keyboard.press("1")
    at = float(desk.evaluate("() => window.pressed"))
    moments = [float(desk.evaluate("() => window.told"))]
    moments += [float(page.evaluate("() => window.shown")) for page in (other, desk, book)]
    desk.keyboard.press("Space")
    return tuple(moment - at for moment in moments)


def measure(browser: Browser, address: str) -> list[tuple[float, ...]]:
    """Open the pages and press many times; the first press warms up and does not count."""
    book, other, desk = (browser.new_context(base_url=address).new_page() for _ in range(3))
    desk.add_init_script(f"({LISTEN})()")
    for page, path in ((book, "runs"), (other, "bench"), (desk, "bench")):
        with page.expect_request("**/events"):
            page.goto(f"/s/{SLUG}/{path}")
    desk.get_by_role("button", name="Ready the timer").click()
    for page in (desk, other):
        page.get_by_role("timer").wait_for()
    count = int(book.get_by_text(re.compile(r"^\d+ runs$")).first.inner_text().split()[0])
    found = [press(desk, other, book, count + 1 + at) for at in range(PRESSES + 1)][1:]
    # What this machine takes for the least that can be asked, in the same minute.
    least = [float(desk.evaluate(ASKED)) for _ in range(PRESSES)]
    print(line("an answer of the server's clock alone", least))
    return found


ASKED = """async () => {
  const began = performance.now()
  await fetch('/api/v1/clock').then(answer => answer.json())
  return performance.now() - began
}"""


def line(what: str, times: list[float]) -> str:
    """Median and 95th percentile in words."""
    p95 = statistics.quantiles(times, n=20)[-1]
    return f"{what}: median {statistics.median(times):.0f} ms, 95th percentile {p95:.0f} ms"


def main() -> None:
    """Serve the demo from a throwaway database and press."""
    with throwaway_cluster("bench") as cluster:
        database = Database(cluster.url)
        database.migrate()
        load_demo(database, PROJECT / "demo")
        database.close()
        with serving(cluster.url) as address, sync_playwright() as playwright:
            browser = launch(playwright)
            times = measure(browser, address)
            browser.close()
    print(f"{PRESSES} stop presses")
    for what, column in zip(WHAT, zip(*times, strict=True), strict=True):
        print(line(what, list(column)))


if __name__ == "__main__":
    main()
