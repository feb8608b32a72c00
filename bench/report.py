"""How long the report of the demo takes, from asking for it to the finished PDF.

python -m bench.report [--times 3]
"""

from __future__ import annotations

import argparse
import time
from collections import Counter

from tests.browser.serving import throwaway_cluster
from tests.conftest import PROJECT

from true_margin.desk.book.shelf import SHELF
from true_margin.desk.jobs.worker import Worker
from true_margin.desk.publish import reports
from true_margin.launch.upkeep import load_demo
from true_margin.store.database import Database

SLUG = "which-machine-for-the-festival-season"
LOOK_S = 0.02


def make_one(database: Database) -> tuple[float, Counter[str], int]:
    """Ask for a report and wait for it: seconds, those of each step, and bytes of the PDF."""
    began = last = time.perf_counter()
    started = reports.start_report(database, SLUG)
    spent: Counter[str] = Counter()
    while True:
        view = reports.list_reports(database, SLUG)[0]
        now = time.perf_counter()
        spent[view.report.step.split(" card")[0]] += round(1000 * (now - last))
        last = now
        if view.report.state != "running":
            break
        time.sleep(LOOK_S)
    assert view.report.state == "done", view.report.problem
    pdf = reports.report_file(database, SLUG, started.report.id, "pdf")
    return time.perf_counter() - began, spent, len(pdf)


def main() -> None:
    """Measure on a throwaway database."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--times", type=int, default=3)
    asked = parser.parse_args()
    with throwaway_cluster("bench") as cluster:
        database = Database(cluster.url)
        database.migrate()
        load_demo(database, PROJECT / "demo")
        worker = Worker(database)
        worker.start()
        SHELF.take(database, SLUG)
        for _ in range(asked.times):
            seconds, spent, size = make_one(database)
            steps = ", ".join(f"{name} {ms} ms" for name, ms in spent.most_common(6))
            print(f"{seconds:.1f} s, {size / 1e6:.2f} MB ({steps})")
        worker.close()
        database.close()


if __name__ == "__main__":
    main()
