"""A small shootout of one's own, made through the desk."""

from __future__ import annotations

import time
from dataclasses import dataclass, field
from datetime import date
from decimal import Decimal
from itertools import count
from typing import Any
from uuid import UUID

from true_margin.desk.access.rights import LOCAL
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.jobs import jobs
from true_margin.desk.lineup import lineup
from true_margin.desk.packs import incoming as pack_in
from true_margin.desk.picks import viewers
from true_margin.desk.runs import runs
from true_margin.desk.shootouts import shootouts
from true_margin.desk.tasks import tasks
from true_margin.exchange.price_feed import HttpPriceFeed, PriceFeed
from true_margin.store import records
from true_margin.store.database import Database

_NUMBERS = count(1)


@dataclass
class Bench:
    """A shootout with two machines and one task; runs are typed as people type them."""

    database: Database
    slug: str
    setups: dict[str, UUID] = field(default_factory=dict)
    tasks: dict[str, UUID] = field(default_factory=dict)

    def machine(self, name: str, **more: Any) -> records.Machine:
        """Add a machine with one setup."""
        machine = lineup.add_machine(self.database, self.slug, {"name": name, **more})
        self.setups[name] = machine.setups[0].id
        return machine

    def task(self, name: str, **more: Any) -> records.Task:
        """Add a task."""
        task = tasks.add_task(self.database, self.slug, {"name": name, "app": "Heddle", **more})
        self.tasks[name] = task.id
        return task

    def run(
        self, setup: str, typed: str | None, task: str = "Parade", **more: Any
    ) -> runs.StoredRun:
        """Store a run."""
        fields = {
            "setup_id": self.setups[setup],
            "task_id": self.tasks[task],
            "typed": typed,
            "status": "ok",
            "client_key": f"test-key-{next(_NUMBERS)}",
            **more,
        }
        return runs.add_run(self.database, self.slug, fields, "Marit")


def new_bench(database: Database, name: str = "Own shootout") -> Bench:
    """Make a shootout with machines A and B and the task Parade."""
    shootout = shootouts.make_shootout(
        database, {"name": name, "subject": "machine", "currency": "EUR"}
    )
    bench = Bench(database, shootout.slug)
    bench.machine("A")
    bench.machine("B")
    bench.task("Parade", work=660.0, unit="s")
    return bench


def import_zip(database: Database, content: bytes) -> records.Shootout:
    """Bring a zipped pack in as a new shootout."""
    return pack_in.import_pack(database, pack_in.read_zipped(content))


def done(database: Database, job_id: str, feed: PriceFeed | None = None) -> jobs.JobView:
    """Do a job as a worker would, and show what came of it."""
    jobs.do_job(database, lambda: False, job_id, lambda *_: feed or HttpPriceFeed(*_))
    # An app that another test left open on this database may have taken it first.
    until = time.monotonic() + 30
    while (view := jobs.show_job(database, LOCAL, UUID(job_id))).state == "running":
        assert time.monotonic() < until, view
        time.sleep(0.05)
    return view


PRICED = date(2026, 11, 1)
"""Day of the prices of a priced bench."""


def priced_bench(database: Database, name: str) -> Bench:
    """Two machines with prices, at 10 and 5 minutes, and one viewer who owns the slower."""
    bench = new_bench(database, name)
    for machine, price, typed in (("A", "300", "10:00"), ("B", "900", "5:00")):
        machine_id = next(
            m.id for m in SHELF.take(database, bench.slug).machines if m.name == machine
        )
        fields = {"amount": price, "currency": "EUR", "kind": "street", "dated": PRICED}
        if machine == "B":
            fields |= {"link": "https://shop.example/b", "paid_link": True, "source": "A shop"}
        lineup.add_price(database, machine_id, fields)
        for _ in range(3):
            bench.run(machine, typed, method="log")
    asked = {
        "name": "Film maker",
        "weekly": True,
        "rule": "worth",
        "currency": "EUR",
        "owned_setup_id": bench.setups["A"],
        "hour_value": Decimal(20),
        "tasks": [
            {
                "task_id": bench.tasks["Parade"],
                "weight": 1.0,
                "amount": 6600.0,
                "by_run": False,
                "accepted_s": None,
            }
        ],
    }
    viewers.add_viewer(database, bench.slug, asked, None)
    return bench
