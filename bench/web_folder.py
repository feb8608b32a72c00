"""How long it takes to write a web folder: the demo's, and one of 40 machines and 12 viewers.

python -m bench.web_folder [--small]
"""

from __future__ import annotations

import argparse
import random
import tempfile
import time
from collections import Counter
from datetime import date
from decimal import Decimal
from pathlib import Path

from tests.browser.serving import throwaway_cluster
from tests.conftest import PROJECT
from tests.desk.helpers import Bench

from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup import lineup
from true_margin.desk.picks import viewers
from true_margin.desk.publish.editions import publish_edition
from true_margin.desk.publish.folder_files import folder_files, write_folder
from true_margin.desk.shootouts import shootouts
from true_margin.launch.upkeep import load_demo
from true_margin.store.database import Database

MACHINES, VIEWERS, TASKS, RUNS = 40, 12, 4, 3
DATED = date(2026, 11, 1)


def large(database: Database) -> str:
    """A shootout of many machines and viewers; everything is drawn from one seed."""
    draw = random.Random(7)  # noqa: S311
    made = shootouts.make_shootout(
        database, {"name": "Large one", "subject": "machine", "currency": "EUR"}
    )
    bench = Bench(database, made.slug)
    for task in range(TASKS):
        bench.task(f"Job {task}", work=600.0, unit="s")
    for at in range(MACHINES):
        name = f"Machine {at}"
        bench.machine(name)
        machine = next(m for m in SHELF.take(database, made.slug).machines if m.name == name)
        price = {"amount": str(400 + 60 * at), "currency": "EUR", "kind": "street", "dated": DATED}
        lineup.add_price(database, machine.id, price)
        for task in range(TASKS):
            usual = 600.0 / (1.0 + 0.04 * at) * draw.uniform(0.95, 1.05)
            for _ in range(RUNS):
                bench.run(name, f"{usual * draw.gauss(1.0, 0.01):.1f} s", f"Job {task}")
    owned = SHELF.take(database, made.slug).setups[0].id
    for at in range(VIEWERS):
        parts = [
            {
                "task_id": key,
                "weight": 1.0,
                "amount": float(draw.randint(5, 60)) * 60.0,
                "by_run": False,
                "accepted_s": None,
            }
            for key in bench.tasks.values()
        ]
        asked = {
            "name": f"Viewer {at}",
            "weekly": True,
            "rule": ("fastest", "worth", "value")[at % 3],
            "currency": "EUR",
            "budget": Decimal(1000 + 100 * at),
            "owned_setup_id": owned,
            "tasks": parts,
        }
        viewers.add_viewer(database, made.slug, asked, None)
    return made.slug


def measure(database: Database, slug: str, words: str) -> None:
    """Publish, then write the folder twice, the first time with nothing in memory."""
    publish_edition(database, slug, "", "bench")
    # Books are kept by address: under another one, nothing is in memory.
    cold_one = Database(f"{database.url}?application_name=cold-{slug[:20]}")
    spent: Counter[str] = Counter()
    start = last = time.perf_counter()
    files = size = 0
    for path, content in folder_files(cold_one, slug):
        now = time.perf_counter()
        spent[path.split("/")[0] if "/" in path else path] += round(1000 * (now - last))
        last, files, size = now, files + 1, size + len(content)
    cold = time.perf_counter() - start
    cold_one.close()
    with tempfile.TemporaryDirectory() as folder:
        write_folder(database, slug, Path(folder))
        start = time.perf_counter()
        again = write_folder(database, slug, Path(folder))
        warm = time.perf_counter() - start
    parts = ", ".join(f"{name} {ms} ms" for name, ms in spent.most_common(6))
    print(f"{words}: {files} files, {size / 1e6:.1f} MB in {cold:.1f} s ({parts})")
    print(f"  brought up to date in {warm:.1f} s: {again.changed} changed, {again.same} the same")


def main() -> None:
    """Measure both on a throwaway database."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--small", action="store_true", help="the demo alone")
    asked = parser.parse_args()
    with throwaway_cluster("bench") as cluster:
        database = Database(cluster.url)
        database.migrate()
        load_demo(database, PROJECT / "demo")
        measure(database, "which-machine-for-the-festival-season", "demo, 7 machines, 4 viewers")
        if not asked.small:
            slug = large(database)
            measure(database, slug, f"{MACHINES} machines, {VIEWERS} viewers")
        database.close()


if __name__ == "__main__":
    main()
