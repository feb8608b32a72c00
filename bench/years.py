"""Years of shootouts in one database: one of them is shown as fast as if it were alone.

Run it with ``python -m bench.years``. The same shootout of 4 000 runs stands alone in one
database, and beside 500 copies of itself (2 000 000 runs) in another; what is asked of it is
asked in turns, so that a noisy machine is noisy for both. Last come the plans of the queries
that read runs: they must go by an index.
"""

from __future__ import annotations

import time
from collections.abc import Callable

import psycopg
from sqlalchemy import text
from tests.browser.serving import throwaway_cluster
from tests.desk.helpers import Bench, new_bench

from true_margin.desk.book.shelf import SHELF, BookShelf
from true_margin.desk.lineup import spec_sheet
from true_margin.desk.margins import margins
from true_margin.desk.run_sheet import sheet
from true_margin.desk.runs import runs
from true_margin.desk.tasks import tasks
from true_margin.store.database import Database

COPIES, SETUPS, TASKS, RUNS = 500, 8, 10, 4000
REPEATS = 15
MOST = 1.2
_PARTS = (
    # Table, and columns that name other rows, each made anew for a copy.
    ("machines", ("id", "shootout_id")),
    ("setups", ("id", "machine_id")),
    ("apps", ("id", "shootout_id")),
    ("tasks", ("id", "shootout_id", "app_id", "timeline_id")),
    ("rounds", ("id", "shootout_id")),
)


def fill(database: Database) -> Bench:
    """A shootout of 8 setups, 10 tasks and 4 000 runs."""
    bench = new_bench(database, "One of many")
    for place in range(SETUPS - 2):
        bench.machine(f"Machine {place}")
    for place in range(TASKS - 1):
        bench.task(f"Task {place}")
    with database.transaction() as session:
        session.execute(
            text(f"""
            insert into runs (id, shootout_id, setup_id, task_id, round_id, place, status, value,
              typed, resolution, approximate, bound, method, u, who, client_key, version)
            select gen_random_uuid(), s.id, u.id, t.id, r.id, row_number() over (), 'ok',
              300 + 20 * u.position + 7 * t.position + random(), '6:17', 1, false, null,
              'stopwatch', 0.4, 'bench', 'key ' || row_number() over (), 1
            from shootouts s join machines m on m.shootout_id = s.id
              join setups u on u.machine_id = m.id join tasks t on t.shootout_id = s.id
              join rounds r on r.shootout_id = s.id,
              generate_series(1, {RUNS // (SETUPS * TASKS)})
        """)
        )
        session.execute(
            text("update shootouts set revision = revision + 1, rest_revision = revision + 1")
        )
    return bench


def multiply(database: Database) -> None:
    """Put 500 copies of everything beside it; the triggers that stamp runs stay on."""
    again = "md5(n || ' ' || x.{0})::uuid"
    with database.transaction() as session:
        session.execute(
            text(f"""
            insert into shootouts select (jsonb_populate_record(x, jsonb_build_object(
              'id', {again.format("id")}, 'slug', x.slug || '-' || n,
              'name', x.name || ' ' || n))).*
            from shootouts x, generate_series(1, {COPIES}) n
        """)
        )
        for table, columns in _PARTS:
            made = ", ".join(f"'{c}', {again.format(c)}" for c in columns)
            session.execute(
                text(f"""
                insert into {table} select (jsonb_populate_record(x, jsonb_build_object({made}))).*
                from {table} x, generate_series(1, {COPIES}) n
            """)
            )
        session.execute(
            text(f"""
            insert into runs (id, shootout_id, setup_id, task_id, round_id, place, status, value,
              typed, resolution, approximate, bound, method, u, who, client_key, version)
            select gen_random_uuid(), {again.format("shootout_id")}, {again.format("setup_id")},
              {again.format("task_id")}, {again.format("round_id")}, x.place, x.status, x.value,
              x.typed, x.resolution, x.approximate, x.bound, x.method, x.u, x.who, x.client_key, 1
            from runs x, generate_series(1, {COPIES}) n
        """)
        )
    with database.engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.execute(text("analyze"))


def asked(slug: str) -> dict[str, Callable[[Database], object]]:
    """What a person asks of one shootout; the book is loaded anew for the first two."""

    def load(database: Database) -> object:
        return BookShelf().take(database, slug)

    def ladder(database: Database) -> object:
        return margins.show_ladder(database, slug, None)

    return {
        "the book, loaded anew": load,
        "list of runs": lambda database: runs.show_runs(database, slug),
        "ladder": ladder,
        "line-up": lambda database: spec_sheet.show_lineup(database, slug),
        "tasks": lambda database: tasks.show_tasks(database, slug),
        "run sheet": lambda database: sheet.show_sheet(database, slug),
    }


def compare(alone: Database, years: Database, slug: str) -> bool:
    """Ask both in turns; says whether none is slower than it may be."""
    good = True
    for name, ask in asked(slug).items():
        times: dict[Database, list[float]] = {alone: [], years: []}
        for _ in range(REPEATS):
            for database in (alone, years):
                SHELF.take(database, slug)
                began = time.perf_counter()
                ask(database)
                times[database].append(1000 * (time.perf_counter() - began))
        one, other = min(times[alone]), min(times[years])
        good &= other <= MOST * one
        print(
            f"  {name:22} alone {one:8.2f} ms   among {COPIES + 1} {other:8.2f} ms   "
            f"{other / one:.2f} times"
        )
    return good


def plans(years: Database, slug: str) -> None:
    """Print how the runs of one shootout are found."""
    with years.engine.connect() as connection:
        home = connection.execute(
            text("select id from shootouts where slug = :slug"), {"slug": slug}
        ).scalar()
        for query in (
            "select * from runs where shootout_id = :home order by place",
            "select * from runs where shootout_id = :home and stamp > 10",
            "select 1 from runs where shootout_id = :home and client_key = 'key 7'",
        ):
            plan = connection.execute(text(f"explain {query}"), {"home": home}).scalars().all()
            assert not any("Seq Scan" in line for line in plan), plan
            print(f"  {query}")
            print("\n".join(f"      {line}" for line in plan))


def main() -> None:
    """Fill both, compare, and show the plans."""
    with throwaway_cluster("years") as cluster:
        base = cluster.url.replace("postgresql+psycopg", "postgresql")
        with psycopg.connect(base, autocommit=True) as connection:
            connection.execute("create database years")
        alone, years = Database(cluster.url), Database(base.rsplit("/", 1)[0] + "/years")
        for database in (alone, years):
            database.migrate()
            bench = fill(database)
        began = time.perf_counter()
        multiply(years)
        with years.engine.connect() as connection:
            count = connection.execute(text("select count(*) from runs")).scalar()
        print(
            f"{count:,} runs in {COPIES + 1} shootouts, made in {time.perf_counter() - began:.0f} s"
        )
        good = compare(alone, years, bench.slug)
        plans(years, bench.slug)
        print(f"none more than {MOST} times as slow: {good}")
        alone.close()
        years.close()


if __name__ == "__main__":
    main()
