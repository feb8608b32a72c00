"""Scrolls a book of 50 000 runs and counts the frames that come late.

Run it with ``make bench``. A frame is late where more than one and a half of the
browser's own frames pass before it; an empty page is scrolled too, for what the machine
itself drops.
"""

from __future__ import annotations

import statistics
import time
from uuid import uuid4

import numpy as np
from playwright.sync_api import Page, sync_playwright
from sqlalchemy import insert
from tests.browser.serving import launch, serving, throwaway_cluster
from tests.desk.helpers import Bench, new_bench

from true_margin.store import shootouts
from true_margin.store.database import Database
from true_margin.store.tables import RunRow

SETUPS, TASKS, EACH = 25, 40, 50
SCROLL_S = 8.0
# A quick hand on the wheel; from top to bottom in one go would skip most rows anyway.
PX_PER_S = 3000
SCROLL = """([selector, seconds, speed]) => new Promise(done => {
  const page = document.querySelector(selector)
  const frames = []
  const began = performance.now()
  let last = began
  const step = at => {
    frames.push(at - last)
    last = at
    const part = (performance.now() - began) / (1000 * seconds)
    if (page) page.scrollTop = part * seconds * speed
    if (part < 1) requestAnimationFrame(step)
    else done({ frames: frames.slice(2), end: page ? page.scrollTop : 0 })
  }
  requestAnimationFrame(step)
})"""


def fill(database: Database) -> Bench:
    """A shootout of 25 setups, 40 tasks and 50 000 runs."""
    bench = new_bench(database, "A large book")
    for place in range(SETUPS - 2):
        bench.machine(f"Machine {place:02d}")
    for place in range(TASKS - 1):
        bench.task(f"Task {place:02d}")
    rng = np.random.default_rng(8437)
    with database.transaction() as session:
        home = shootouts.get_shootout(session, bench.slug).id
        round_ = shootouts.list_rounds(session, home)[0].id
        rows = [
            {
                "id": uuid4(),
                "shootout_id": home,
                "setup_id": setup,
                "task_id": task,
                "round_id": round_,
                "place": place,
                "status": "ok",
                "typed": None,
                "value": 100.0 * float(rng.lognormal(0, 0.4)),
                "resolution": 0.1,
                "u": 0.35,
                "method": "stopwatch",
                "who": "bench",
                "client_key": f"large-{place}",
            }
            for place, (task, setup, _) in enumerate(
                (task, setup, each)
                for task in bench.tasks.values()
                for setup in bench.setups.values()
                for each in range(EACH)
            )
        ]
        session.execute(insert(RunRow), rows)
        shootouts.bump_revision(session, home)
    return bench


def scroll(page: Page, selector: str) -> tuple[list[float], float]:
    """Scroll from top to bottom; gives ms between frames, and where it ended."""
    found = page.evaluate(SCROLL, [selector, SCROLL_S, PX_PER_S])
    return found["frames"], found["end"]


def line(what: str, frames: list[float]) -> str:
    """Frames and late ones in words."""
    usual = statistics.median(frames)
    late = sum(frame > 1.5 * usual for frame in frames)
    p95 = statistics.quantiles(frames, n=20)[-1]
    return (
        f"{what}: {len(frames)} frames in {SCROLL_S:g} s, median {usual:.1f} ms, "
        f"95th percentile {p95:.1f} ms, worst {max(frames):.0f} ms, late {late}"
    )


def main() -> None:
    """Fill a throwaway database and scroll."""
    with throwaway_cluster("bench") as cluster:
        database = Database(cluster.url)
        database.migrate()
        bench = fill(database)
        database.close()
        with serving(cluster.url) as address, sync_playwright() as playwright:
            browser = launch(playwright)
            page = browser.new_page(base_url=address, viewport={"width": 1280, "height": 800})
            idle, _ = scroll(page, "nothing")
            began = time.monotonic()
            page.goto(f"/s/{bench.slug}/runs")
            page.get_by_text("runs in the book").wait_for(timeout=120_000)
            page.get_by_role("heading", level=2).first.wait_for(timeout=120_000)
            shown = time.monotonic() - began
            frames, end = scroll(page, "main .overflow-y-auto")
            browser.close()
    print(
        f"{SETUPS * TASKS * EACH} runs shown after {shown:.1f} s (first visit, analysis included)"
    )
    print(line("an empty page", idle))
    print(line(f"the book, {end / SCROLL_S:.0f} px/s", frames))


if __name__ == "__main__":
    main()
