"""What the database itself keeps: migrations, nothing deleted, constraints by name."""

from __future__ import annotations

from uuid import UUID

import pytest
from alembic import command
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from sqlalchemy import inspect, text
from sqlalchemy.exc import DBAPIError, IntegrityError

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.lineup.spec_sheet import show_lineup
from true_margin.desk.runs.runs import revise_run, show_run, show_runs
from true_margin.desk.shootouts.shootouts import get_shootout
from true_margin.store import bench as _bench_tables  # noqa: F401 (every table is known then)
from true_margin.store import inquiries
from true_margin.store import tables_shelf as _shelf_tables  # noqa: F401
from true_margin.store.base import Base
from true_margin.store.database import MIGRATIONS, Database, driver_url
from true_margin.store.errors import constraint_of


def _ours(name: str | None, kind: str, _: object) -> bool:
    """The queue library's tables are its own."""
    return kind != "table" or not str(name).startswith("procrastinate_")


def test_migrations_make_exactly_the_tables_of_the_code(empty: Database) -> None:
    empty.migrate()
    with empty.engine.connect() as connection:
        found = compare_metadata(
            MigrationContext.configure(connection, opts={"include_name": _ours}), Base.metadata
        )
    assert found == []


def test_migrating_twice_changes_nothing_and_all_can_be_taken_back(empty: Database) -> None:
    empty.migrate()
    empty.migrate()
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["engine"] = empty.engine
    command.downgrade(config, "base")
    assert inspect(empty.engine).get_table_names() == ["alembic_version"]
    empty.migrate()


@pytest.fixture(scope="module")
def bench(database: Database) -> Bench:
    bench = new_bench(database)
    bench.run("A", "6:17")
    return bench


@pytest.mark.parametrize("table", ["runs", "run_revisions", "marks"])
def test_nothing_in_the_book_can_be_deleted(database: Database, bench: Bench, table: str) -> None:
    run = bench.run("A", "6:18").run
    revise_run(database, run.id, run.version, {"note": "warm"}, "Marit", "noted later")
    with database.transaction() as session:
        session.execute(
            text(
                "insert into marks (id, run_id, elapsed_s, fraction) "
                "values (gen_random_uuid(), :run, 3, 0.1)"
            ),
            {"run": run.id},
        )
    with pytest.raises(DBAPIError, match="never deleted"), database.transaction() as session:
        session.execute(text(f"delete from {table}"))


@pytest.mark.parametrize(
    ("change", "constraint"),
    [
        ("status = 'late', reason = 'x'", "ck_runs_status_known"),
        ("value = null", "ck_runs_ok_has_value"),
        ("value = -1", "ck_runs_value_positive"),
        ("value = 'infinity'", "ck_runs_value_positive"),
        ("status = 'void', reason = '  '", "ck_runs_reason_given"),
        ("status = 'void', reason = null", "ck_runs_reason_present"),
        ("u = -1", "ck_runs_u_not_negative"),
        ("resolution = 0", "ck_runs_resolution_positive"),
    ],
)
def test_rules_hold_whoever_writes(
    database: Database, bench: Bench, change: str, constraint: str
) -> None:
    with pytest.raises(IntegrityError) as refused, database.transaction() as session:
        session.execute(text(f"update runs set {change}"))
    assert constraint_of(refused.value) == constraint


def test_addresses_without_a_driver_get_ours() -> None:
    assert driver_url("postgresql://a@b/c") == "postgresql+psycopg://a@b/c"
    assert driver_url("postgres://a@b/c") == "postgresql+psycopg://a@b/c"
    assert driver_url("postgresql+psycopg://a@b/c") == "postgresql+psycopg://a@b/c"


def test_names_sort_as_people_count(database: Database) -> None:
    with database.engine.connect() as connection:
        rows = connection.execute(
            text("select * from (values ('Task 10'), ('Task 2')) t(n) order by n")
        )
        assert [row[0] for row in rows] == ["Task 2", "Task 10"]


def test_data_of_the_first_schema_comes_through_and_goes_back(empty: Database) -> None:
    """A shootout made on the first tables is whole on the last, and again on the first."""
    empty.migrate("0001")
    made = {
        "shootouts": "insert into shootouts (id, slug, name, subject, currency, confidence, materiality, prior_df,"
        " prior_cv, update_prior_df, update_prior_cv, demo, revision, version)"
        " values ('00000000-0000-0000-0000-000000000001', 'old', 'Old', 'machine', 'EUR', .95, .03, 3, .02, 2, .015,"
        " false, 1, 1)",
        "machines": "insert into machines (id, shootout_id, name, position, cores, version) values"
        " ('00000000-0000-0000-0000-000000000002', '00000000-0000-0000-0000-000000000001', 'Tarn', 0, 6, 1)",
        "setups": "insert into setups (id, machine_id, name, position, power, clock_ghz, version) values"
        " ('00000000-0000-0000-0000-000000000003', '00000000-0000-0000-0000-000000000002', 'as is', 0, 'mains', 3.2, 1)",
        "prices": "insert into prices (id, machine_id, kind, amount, currency, dated) values"
        " (gen_random_uuid(), '00000000-0000-0000-0000-000000000002', 'list', 380, 'EUR', '2026-11-03')",
        "apps": "insert into apps (id, shootout_id, name) values"
        " ('00000000-0000-0000-0000-000000000004', '00000000-0000-0000-0000-000000000001', 'Heddle')",
        "tasks": "insert into tasks (id, shootout_id, name, position, app_id, measure, work, unit, version) values"
        " ('00000000-0000-0000-0000-000000000005', '00000000-0000-0000-0000-000000000001', 'Parade', 0,"
        " '00000000-0000-0000-0000-000000000004', 'time', 660, 's', 1)",
        "rounds": "insert into rounds (id, shootout_id, name, position) values"
        " ('00000000-0000-0000-0000-000000000006', '00000000-0000-0000-0000-000000000001', '1', 0)",
        "runs": "insert into runs (id, shootout_id, setup_id, task_id, round_id, place, status, value, typed,"
        " resolution, approximate, bound, method, u, reason, who, client_key, version)"
        " select gen_random_uuid(), '00000000-0000-0000-0000-000000000001', '00000000-0000-0000-0000-000000000003',"
        " '00000000-0000-0000-0000-000000000005', '00000000-0000-0000-0000-000000000006', n, 'ok', 376 + n, '6:17',"
        " 1, false, false, 'stopwatch', 0.4, null, 'Marit', 'key ' || n, 1 from generate_series(1, 4) n",
        "run_revisions": "insert into run_revisions (id, run_id, version, before, who, why)"
        " select gen_random_uuid(), id, 1, '{\"value\": 377}', 'Marit', 'typed twice' from runs where place = 1",
    }
    with empty.transaction() as session:
        for statement in made.values():
            session.execute(text(statement))
    empty.migrate()
    (column,) = show_lineup(empty, "old").columns
    machine, setup = column.machine, column.machine.setups[0]
    assert (machine.name, machine.specs, machine.retired_at) == ("Tarn", {"cores": 6}, None)
    assert (setup.specs, setup.conditions, setup.mark) == (
        {"clock_ghz": 3.2},
        {"power": "mains"},
        0,
    )
    assert setup.extras == ()
    assert get_shootout(empty, "old").price_date == get_shootout(empty, "old").created_at.date()
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    config.attributes["engine"] = empty.engine
    command.downgrade(config, "0001")
    with empty.transaction() as session:
        counts = [session.scalar(text(f"select count(*) from {table}")) for table in made]
        values = session.scalars(text("select value from runs order by place")).all()
    assert counts == [1, 1, 1, 1, 1, 1, 1, 4, 1]
    assert values == [377, 378, 379, 380]
    # And forward again, with everything that was there.
    empty.migrate()
    again = show_runs(empty, "old").runs
    assert [each.run.value for each in again] == [377, 378, 379, 380]
    assert show_run(empty, again[0].run.id).revisions[0].why == "typed twice"


def test_an_inquiry_of_before_becomes_dated_steps_and_its_runs_stay(empty: Database) -> None:
    """What stood in the columns of an inquiry is a step each, in their order."""
    empty.migrate("0027")
    home, run = "00000000-0000-0000-0000-000000000001", "00000000-0000-0000-0000-000000000007"
    with empty.transaction() as session:
        for statement in (
            "insert into shootouts (id, slug, name, subject, currency, confidence, materiality,"
            " prior_df, prior_cv, update_prior_df, update_prior_cv, price_date, demo, revision,"
            f" version) values ('{home}', 'old', 'Old', 'machine', 'EUR', .95, .03, 3, .02, 2,"
            " .015, '2026-11-01', false, 1, 1)",
            f"insert into machines (id, shootout_id, name, position, version) values ('{home}',"
            f" '{home}', 'Tarn', 0, 1)",
            f"insert into setups (id, machine_id, name, position, version) values ('{home}',"
            f" '{home}', 'as is', 0, 1)",
            f"insert into apps (id, shootout_id, name) values ('{home}', '{home}', 'Heddle')",
            f"insert into tasks (id, shootout_id, name, position, app_id, measure, version) values"
            f" ('{home}', '{home}', 'Parade', 0, '{home}', 'time', 1)",
            f"insert into rounds (id, shootout_id, name, position) values ('{home}', '{home}',"
            " '1', 0)",
            "insert into runs (id, shootout_id, setup_id, task_id, round_id, place, status, value,"
            " approximate, method, u, who, client_key, version) values"
            f" ('{run}', '{home}', '{home}', '{home}', '{home}', 1, 'ok', 377, false,"
            " 'stopwatch', 0.4, 'Marit', 'key', 1)",
            "insert into inquiries (id, shootout_id, kind, about, suspected, changed, outcome,"
            " counts, who, opened_at, closed_at, version) values"
            f" ('{home}', '{home}', 'other', 'slow', 'a backup', 'it was off', 'it repeats',"
            " 'again', 'Marit', '2026-05-20', '2026-10-14', 1)",
            "insert into inquiries (id, shootout_id, kind, about, suspected, who, opened_at,"
            f" version) values ('{run}', '{home}', 'other', 'loud', 'a fan', 'Jo', '2026-06-01', 1)",
            f"insert into inquiry_runs (inquiry_id, run_id) values ('{home}', '{run}')",
        ):
            session.execute(text(statement))
    empty.migrate()
    with empty.transaction() as session:
        closed, open_still = inquiries.list_inquiries(session, UUID(home))
    told = [(s.place, s.kind, s.words, s.counts, f"{s.noted_at:%m-%d}") for s in closed.steps]
    assert told == [
        (1, "suspected", "a backup", None, "05-20"),
        (2, "changed", "it was off", None, "05-20"),
        (3, "tried again", None, None, "05-20"),
        (4, "came out", "it repeats", "again", "10-14"),
    ]
    assert [len(step.run_ids) for step in closed.steps] == [0, 0, 1, 0]
    assert [(step.kind, step.who) for step in open_still.steps] == [("suspected", "Jo")]
