"""The long memory at size: 501 shootouts, 400 machines, 2 M runs, one task in 20 versions.

Run it with ``python -m bench.long_memory``. Asked in one process: the all-time ranking of one
task as nobody asked for it before, again, and after a run was added somewhere; edits in the
store room; the shelf and a search over it. Each is asked several times, the least and the
highest of 20 are told.
"""

from __future__ import annotations

import time
from collections.abc import Callable

from sqlalchemy import text
from tests.browser.serving import throwaway_cluster

from bench.years import COPIES, SETUPS, fill, multiply
from true_margin.desk.room import all_time, history, keeping, overview, ranked, search
from true_margin.desk.run_sheet import on_shelf
from true_margin.store.database import Database

MACHINES, VERSIONS = 400, 20
REPEATS = 20


def stock(database: Database) -> None:
    """Fill the store room: 400 machines, and the one task that every shootout has."""
    with database.transaction() as session:
        session.execute(
            text(f"""
            insert into room_machines (id, name, keeping, version)
            select md5('machine ' || n)::uuid, 'Machine ' || n, 'owned', 1
            from generate_series(0, {MACHINES - 1}) n
        """)
        )
        session.execute(
            text(f"""
            insert into room_setups (setup_id, machine_id, state)
            select u.id, md5('machine ' || (
              (dense_rank() over (order by s.slug) * {SETUPS} + row_number() over
                (partition by s.id order by m.position, u.id)) % {MACHINES}))::uuid, 'as is'
            from setups u join machines m on m.id = u.machine_id
              join shootouts s on s.id = m.shootout_id
        """)
        )
        session.execute(
            text("""
            insert into room_tasks (id, name, app, measure, version)
            select md5(t.name)::uuid, t.name, 'Heddle', 'time', 1
            from (select distinct name from tasks) t
        """)
        )
        session.execute(text("insert into room_task_uses select id, md5(name)::uuid from tasks"))
        session.execute(
            text(f"""
            insert into app_versions (id, app_id, name)
            select gen_random_uuid(), a.id, '7.' || (dense_rank() over (order by s.slug)
              * {VERSIONS} / {COPIES + 2}) from apps a join shootouts s on s.id = a.shootout_id
        """)
        )
        session.execute(
            text("""
            insert into round_versions (round_id, app_version_id)
            select r.id, v.id from rounds r join apps a on a.shootout_id = r.shootout_id
              join app_versions v on v.app_id = a.id
        """)
        )
    with database.engine.connect().execution_options(isolation_level="AUTOCOMMIT") as connection:
        connection.execute(text("analyze"))


def measure(name: str, ask: Callable[[], object], *, repeats: int = REPEATS) -> None:
    """Ask several times, and tell the least, the middle and the highest time."""
    times = []
    for _ in range(repeats):
        began = time.perf_counter()
        ask()
        times.append(1000 * (time.perf_counter() - began))
    times.sort()
    print(
        f"  {name:44} least {times[0]:7.1f}   middle {times[len(times) // 2]:7.1f}   "
        f"highest {times[-1]:7.1f} ms"
    )


def main() -> None:
    """Fill a database, and ask."""
    with throwaway_cluster("long_memory") as cluster:
        database = Database(cluster.url)
        database.migrate()
        bench = fill(database)
        multiply(database)
        stock(database)
        choice = next(t for t in all_time.list_standing(database) if t.name == "Parade")
        print(f"{choice.shootouts} shootouts have the task; {COPIES + 1} in all")

        def anew() -> None:
            ranked.forget()
            all_time.show_all_time(database, choice.id)

        def after_a_run() -> None:
            bench.run("A", "6:17", "Parade")
            began = time.perf_counter()
            view = all_time.show_all_time(database, choice.id)
            spent.append(1000 * (time.perf_counter() - began))
            assert len(view.lines) == MACHINES

        spent: list[float] = []
        measure("ranking, nothing in memory", anew, repeats=5)
        measure("ranking, as it was", lambda: all_time.show_all_time(database, choice.id))
        measure("a run is stored, and the ranking", after_a_run, repeats=10)
        print(f"      of that the ranking: {', '.join(f'{each:.0f}' for each in spent)} ms")
        machine = overview.show_room(database).machines[0]
        measure("store room", lambda: overview.show_room(database))
        versions = iter(range(machine.version, 10_000))
        measure(
            "an edit in the store room",
            lambda: keeping.change_machine(
                database, machine.id, next(versions), {"note": f"{time.time()}"}, "bench"
            ),
        )
        measure(
            "one machine's history", lambda: history.show_history(database, machine.id), repeats=3
        )
        measure(
            "a search for a machine", lambda: search.find(database, "machine 3", lambda _: True)
        )
        measure(
            "a search for nothing", lambda: search.find(database, "no such thing", lambda _: True)
        )
        measure("shelf", lambda: on_shelf.show_shelf(database, lambda _: True))
        database.close()


if __name__ == "__main__":
    main()
