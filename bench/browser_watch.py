"""How exactly a page times exports by their files: real files, real writers, one browser.

``python -m bench.browser_watch [--exports 200]``: four folders are watched by one page, each for
one export after another, while programs write into them: steadily, under another name until the
end, with a stall, with a file beside it, or in few large pieces. Told beside each other: how far
the page's beginning and end are from the truth, in looks of 250 ms, and what it says of its own
error.
"""

from __future__ import annotations

import argparse
import random
import statistics
import tempfile
import threading
import time
from pathlib import Path

from playwright.sync_api import Locator, Page, expect, sync_playwright
from tests.browser.exports import Written, drop_folder, export
from tests.browser.serving import launch, serving, throwaway_cluster
from tests.desk.helpers import Bench, new_bench

from true_margin.desk.runs import runs
from true_margin.store.database import Database

LANES, POLL_S = 4, 0.25
Told = tuple[str, str, Written]
"""Setup, kind, and the truth of one export."""
KINDS = ("steady", "renamed", "stalled", "beside", "bursts")


def watch(page: Page, bench: Bench, folders: list[Path]) -> None:
    """Give the page a folder a lane."""
    page.goto(f"/s/{bench.slug}/bench")
    for place, folder in enumerate(folders):
        if place:
            page.get_by_role("button", name="Add a timer").click()
        page.get_by_label("Machine", exact=True).select_option(index=place)
        page.get_by_label("Timed by").select_option(label="its export folder")
        page.get_by_label("Watch on for the next export").check()
        drop_folder(page, page.get_by_text("Open this page on the machine that exports"), folder)
        expect(waiting(page)).to_have_count(place + 1)


def waiting(page: Page) -> Locator:
    """What each timer says that waits; a narrow screen has it in another place, too."""
    return page.get_by_text("waits for the first byte of its export").filter(visible=True)


def begin(
    folder: Path, name: str, kind: str, rng: random.Random
) -> tuple[threading.Thread, Written]:
    """Start an export of one kind."""
    seconds = rng.uniform(3, 8)
    if kind == "beside":
        (folder / f"{name}.log").write_text("begun")
        (folder / f"{name}.log").unlink()
    return export(
        folder,
        f"{name}.mp4",
        seconds,
        part=f".{name}.part" if kind == "renamed" else None,
        stall_s=4.0 if kind == "stalled" else 0.0,
        every_s=0.9 if kind == "bursts" else 0.05,
    )


def measure(page: Page, folders: list[Path], exports: int) -> list[Told]:
    """Write so many exports, four at a time; gives the truth of each by its setup."""
    rng = random.Random(8437)  # noqa: S311 - which exports, the same each time
    truth: list[Told] = []
    for round_ in range(exports // LANES):
        begun = []
        for place, folder in enumerate(folders):
            time.sleep(rng.uniform(0, 0.3))
            kind = KINDS[(place + round_) % len(KINDS)]
            begun.append((folder, kind, *begin(folder, f"export-{round_}", kind, rng)))
        for folder, kind, thread, told in begun:
            thread.join()
            truth.append((folder.name, kind, told))
        buttons = page.get_by_role("button", name="The app says it is done").filter(visible=True)
        expect(buttons).to_have_count(LANES, timeout=20_000)
        for place in range(1, LANES + 1):
            own = page.get_by_role("region", name=f"Timer {place},")
            own.get_by_role("button", name="The app says it is done").first.dispatch_event("click")
        expect(waiting(page)).to_have_count(LANES, timeout=30_000)
        print(f"  {LANES * (round_ + 1)} exports", flush=True)
    return truth


def report(database: Database, bench: Bench, truth: list[Told]) -> None:
    """Hold every run against what truly happened."""
    seen = [each.run for each in runs.show_runs(database, bench.slug).runs]
    labels = {key: name for name, key in bench.setups.items()}
    starts, ends, within, counted, claimed = [], [], 0, 0, []
    for run in seen:
        assert run.started_at is not None
        begun = run.started_at.timestamp()
        own = [each for each in truth if each[0] == labels[run.setup_id]]
        _, kind, told = min(own, key=lambda each: abs(each[2].began - begun))
        if run.status != "ok" or run.value is None:
            print(f"  {kind}: {run.status}, {run.reason}")
            continue
        counted += 1
        starts.append(begun - told.began)
        ends.append(begun + run.value - told.ended)
        within += abs(starts[-1]) <= POLL_S and abs(ends[-1]) <= POLL_S
        claimed.append(run.u or 0.0)
        if (
            max(abs(starts[-1]), abs(ends[-1])) > POLL_S
            or abs(ends[-1] - starts[-1]) > 2 * claimed[-1]
        ):
            print(f"  {kind}: {starts[-1]:+.3f} {ends[-1]:+.3f} s, u {claimed[-1]:.3f} s")
    print(f"{len(truth)} exports, {len(seen)} runs, {counted} counted, {within} within one look")
    for what, errors in (("start", starts), ("end", ends)):
        worst = max(errors, key=abs)
        spread = statistics.pstdev(errors)
        mean = statistics.fmean(errors)
        print(f"  {what}: mean {mean:+.3f} s, spread {spread:.3f} s, worst {worst:+.3f} s")
    errors = [abs(end - start) for start, end in zip(starts, ends, strict=True)]
    inside = sum(error <= 2 * u for error, u in zip(errors, claimed, strict=True))
    print(f"  lengths within twice the stated uncertainty: {inside} of {counted}")


def main() -> None:
    """Run it."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--exports", type=int, default=200)
    exports = parser.parse_args().exports
    with throwaway_cluster("watch") as cluster, tempfile.TemporaryDirectory() as room:
        database = Database(cluster.url)
        database.migrate()
        bench = new_bench(database, "Watched by a page")
        for place in range(LANES - 2):
            bench.machine(f"M{place}")
        folders = [Path(room) / name for name in bench.setups]
        for folder in folders:
            folder.mkdir()
        with serving(cluster.url) as address, sync_playwright() as playwright:
            browser = launch(playwright)
            page = browser.new_page(base_url=address, viewport={"width": 1280, "height": 800})
            watch(page, bench, folders)
            truth = measure(page, folders, exports)
            deadline = time.monotonic() + 60
            while len(runs.show_runs(database, bench.slug).runs) < len(truth):
                if time.monotonic() > deadline:
                    break
                time.sleep(0.2)
            browser.close()
        report(database, bench, truth)
        database.close()


if __name__ == "__main__":
    main()
