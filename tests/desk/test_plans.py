"""A plan that is frozen before the first run, and what was done otherwise."""

from __future__ import annotations

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup import lineup
from true_margin.desk.margins import plans
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.publish.give_texts import short_method
from true_margin.desk.runs.changes import RunAt, revise_many
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    """Two setups, two tasks, two runs planned; no run yet."""
    bench = new_bench(database, "Planned ahead")
    bench.task("Titles", work=30.0, unit="s")
    settle(bench, planned_runs=2)
    return bench


def settle(bench: Bench, **changes: object) -> None:
    version = shootouts.get_shootout(bench.database, bench.slug).version
    shootouts.change_shootout(bench.database, bench.slug, version, changes)


def freeze(bench: Bench, words: str | None = None) -> plans.PlanView:
    return plans.freeze_plan(bench.database, bench.slug, words, "Marit")


def otherwise(bench: Bench) -> tuple[str, ...]:
    plan = plans.show_plan(bench.database, bench.slug).plan
    assert plan is not None
    return plan.otherwise


def as_planned(bench: Bench) -> None:
    for setup, times in {"A": ("10:00", "10:04"), "B": ("5:00", "5:02")}.items():
        for task in ("Parade", "Titles"):
            for typed in times:
                bench.run(setup, typed, task)


def test_it_says_what_was_planned_and_on_which_day(bench: Bench) -> None:
    plan = freeze(bench, "five minutes sooner").plan
    assert plan is not None
    assert plan.who == "Marit"
    assert plan.says.startswith("Planned on ")
    assert plan.says.endswith(
        "before the first run: 2 runs of each of 2 setups on Parade and Titles, judged at 95 %; "
        "a difference matters from 3 %. What would count: five minutes sooner."
    )
    assert plan.otherwise == ()


def test_what_was_done_as_planned_is_said_to_be(bench: Bench) -> None:
    freeze(bench)
    as_planned(bench)
    assert otherwise(bench) == ()
    method = list(short_method(SHELF.take(bench.database, bench.slug)))
    assert method[-1] == "Nothing was done otherwise than planned."


def test_everything_that_was_done_otherwise_is_named(bench: Bench) -> None:
    freeze(bench)
    as_planned(bench)
    bench.machine("C")
    bench.task("Stills")
    bench.run("A", "10:02")
    bench.run("C", "4:00")
    bench.run("A", "1:00", "Stills")
    book = SHELF.take(bench.database, bench.slug)
    spoilt = next(run for run in book.runs if run.typed == "5:02")
    revise_many(
        bench.database,
        bench.slug,
        [RunAt(spoilt.id, spoilt.version)],
        {"status": "void", "reason": "a window in front"},
        "Marit",
        "voided",
    )
    settle(bench, confidence=0.9, materiality=0.05, planned_runs=3)
    task = next(each.name for each in book.tasks if each.id == spoilt.task_id)
    assert otherwise(bench) == (
        "Judged at 90 % instead of 95 %.",
        "A difference matters from 5 % instead of 3 %.",
        "Judged as if 3 runs had been planned, instead of 2.",
        "Timed though not planned: Stills.",
        "Timed though not planned: C.",
        f"Fewer runs than the 2 planned: B on {task} (1).",
        "More runs than the 2 planned: A on Parade (3).",
        "1 run was voided, with its reason.",
    )


def test_what_was_left_out_is_named(bench: Bench) -> None:
    freeze(bench)
    bench.run("A", "10:00")
    bench.run("A", "10:02")
    assert otherwise(bench) == ("Planned and not timed: Titles.", "Planned and not timed: B.")


def test_no_plan_is_frozen_after_a_run(bench: Bench) -> None:
    bench.run("A", None, status="failed", reason="crashed")
    assert "a plan is frozen before it" in (
        plans.show_plan(bench.database, bench.slug).why_not or ""
    )
    with pytest.raises(RefusedError, match="a plan is frozen before it"):
        freeze(bench)


def test_a_plan_needs_a_number_of_runs(bench: Bench) -> None:
    settle(bench, planned_runs=None)
    with pytest.raises(RefusedError, match="how many runs"):
        freeze(bench)


def test_before_the_first_run_it_may_be_frozen_anew(bench: Bench) -> None:
    freeze(bench)
    settle(bench, planned_runs=4)
    view = freeze(bench)
    assert view.earlier == 1
    assert view.plan is not None
    assert "4 runs of each" in view.plan.says


def test_a_plan_and_all_its_parts_travel_with_the_pack(bench: Bench) -> None:
    freeze(bench, "five minutes sooner")
    as_planned(bench)
    pack = export_pack(bench.database, bench.slug)
    there = import_zip(bench.database, zip_files(write_pack(pack)))
    here = plans.show_plan(bench.database, bench.slug).plan
    assert plans.show_plan(bench.database, there.slug).plan == here


def test_a_machine_in_the_archive_is_still_known_to_be_planned(bench: Bench) -> None:
    freeze(bench)
    as_planned(bench)
    book = SHELF.take(bench.database, bench.slug)
    own = next(machine for machine in book.machines if machine.name == "B")
    lineup.archive_machine(bench.database, own.id, archived=True)
    assert "Planned and in the archive now: 1 setup." in otherwise(bench)


def test_a_run_in_the_archive_was_made_all_the_same(bench: Bench) -> None:
    bench.run("B", "5:00")
    book = SHELF.take(bench.database, bench.slug)
    own = next(machine for machine in book.machines if machine.name == "B")
    lineup.archive_machine(bench.database, own.id, archived=True)
    with pytest.raises(RefusedError, match="a plan is frozen before it"):
        freeze(bench)


@pytest.mark.parametrize("words", ["private: the budget of the house", "(private)"])
def test_what_is_private_of_a_plan_stands_in_no_text(bench: Bench, words: str) -> None:
    freeze(bench, words)
    (*_, said, _) = plans.plan_lines(SHELF.take(bench.database, bench.slug))
    assert said.endswith("a difference matters from 3 %.")
