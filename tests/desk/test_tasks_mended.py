"""Tasks that are easy to mend: another measure, another app, one name in two apps, sensitivity."""

from __future__ import annotations

from typing import Any

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.core.choices import BareNumber
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, StaleError
from true_margin.desk.lineup import lineup
from true_margin.desk.margins import fairness, margins, pairs
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.publish import script
from true_margin.desk.runs import entry, runs
from true_margin.desk.runs.measure import MeasureChange, Wanted, change_measure
from true_margin.desk.tasks import tasks
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store import records
from true_margin.store import runs as kept_runs
from true_margin.store import shootouts as kept_shootouts
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Mended")


def task(bench: Bench, name: str = "Parade") -> records.Task:
    book = SHELF.take(bench.database, bench.slug)
    return next(each for each in book.tasks if each.name == name)


def measure(
    bench: Bench,
    wanted: str,
    unit: str | None = None,
    bare: BareNumber = BareNumber.SECONDS,
    *,
    really: bool = True,
) -> MeasureChange:
    known = task(bench)
    asked = Wanted(wanted, unit, bare)
    return change_measure(bench.database, known.id, known.version, asked, "Jo", really=really)


def values(bench: Bench) -> list[float | None]:
    return [run.value for run in SHELF.take(bench.database, bench.slug).runs]


def test_points_that_were_taken_for_times_become_points(bench: Bench) -> None:
    bench.run("A", "3210 s")
    bench.run("B", None, status="failed", reason="crashed")
    with pytest.raises(RefusedError, match="read again"):
        tasks.change_task(bench.database, task(bench).id, 1, {"measure": "amount"})
    bench.run("B", "58:10", method="stopwatch")
    seen = measure(bench, "amount", "points", really=False)
    assert (seen.runs, seen.problems, seen.stored) == (3, 1, False)
    assert [(row.typed, row.was) for row in seen.rows][2] == ("58:10", "58:10")
    with pytest.raises(RefusedError, match="1 of 3 runs cannot be read so"):
        measure(bench, "amount", "points")
    assert values(bench) == [3210.0, None, 3490.0]
    assert task(bench).measure == "time"


def test_runs_are_read_again_as_typed_and_keep_what_they_were(bench: Bench) -> None:
    first = bench.run("A", "2390").run
    assert first.value == 2390.0
    bench.run("B", "3150")
    bench.run("B", None, status="failed", reason="crashed")
    done = measure(bench, "amount", "points")
    assert (done.stored, [row.becomes for row in done.rows]) == (
        True,
        ["2390 points", "3150 points", None],
    )
    now = task(bench)
    assert (now.measure, now.unit, now.work) == ("amount", "points", None)
    (revision,) = runs.show_run(bench.database, first.id).revisions
    assert revision.why == "the task is of another measure: amount, not time"
    ladder = margins.show_ladder(bench.database, bench.slug, str(now.id))
    assert ladder.rows[0].label == "B"
    # And back again.
    measure(bench, "time")
    assert (task(bench).measure, task(bench).unit) == ("time", None)
    assert values(bench) == [2390.0, 3150.0, None]


def test_runs_in_the_archive_are_read_again_too(bench: Bench) -> None:
    machine = bench.machine("Old")
    bench.run("Old", "1990")
    bench.run("A", "2390")
    lineup.archive_machine(bench.database, machine.id, archived=True)
    done = measure(bench, "amount", "points")
    assert {row.setup: row.becomes for row in done.rows} == {
        "Old": "1990 points",
        "A": "2390 points",
    }
    lineup.archive_machine(bench.database, machine.id, archived=False)
    kept = {run.typed: run.method for run in SHELF.take(bench.database, bench.slug).runs}
    assert kept == {"1990": "stated", "2390": "stated"}


def test_a_number_without_a_unit_is_what_a_person_says_it_is(bench: Bench) -> None:
    tasks.change_task(bench.database, task(bench).id, 1, {"measure": "amount", "unit": "points"})
    bench.run("A", "3.10")
    seen = [measure(bench, "time", bare=bare, really=False).rows[0].becomes for bare in BareNumber]
    assert seen == ["0:03.10", "3:06.0", "3:06:00", "3:10"]
    measure(bench, "time", bare=BareNumber.CLOCK)
    assert values(bench) == [190.0]


def test_what_was_timed_here_cannot_become_an_amount(bench: Bench) -> None:
    timed = bench.run("A", "6:17", method="one press").run
    with bench.database.transaction() as session:
        kept_runs.revise_run(session, timed, timed.version, {"typed": None}, "Jo", "a press")
        kept_shootouts.bump_revision(session, kept_runs.run_home(session, timed.id))
    (row,) = measure(bench, "amount", really=False).rows
    assert row.problem == "It was timed here, not typed: void it first."


def test_a_task_that_somebody_else_changed_is_not_changed_over(bench: Bench) -> None:
    bench.run("A", "2390")
    known = task(bench)
    tasks.change_task(bench.database, known.id, known.version, {"note": "Sunday"})
    asked = Wanted("amount", "points")
    with pytest.raises(StaleError):
        change_measure(bench.database, known.id, known.version, asked, "Jo", really=True)
    assert values(bench) == [2390.0]


def test_one_name_in_two_apps_is_told_apart_everywhere(bench: Bench, database: Database) -> None:
    known = task(bench)
    tasks.change_task(database, known.id, known.version, {"note": "both halves"})
    made = tasks.copy_task(database, known.id, "Kiln")
    assert (made.name, made.own_name, made.app, made.note) == (
        "Parade in Kiln",
        "Parade",
        "Kiln",
        "both halves",
    )
    assert (made.work, made.unit) == (known.work, known.unit)
    assert task(bench, "Parade in Heddle").id == known.id
    asked = entry.read_line(database, bench.slug, "a / parade / 6:17")
    assert asked.problem is not None
    assert "Parade in Kiln" in asked.problem
    said = entry.read_line(database, bench.slug, "a / parade kiln / 6:17")
    assert said.task == "Parade in Kiln"
    bench.tasks["Kiln"] = made.id
    for key, value in (("Parade", "5:00"), ("Kiln", "8:00")):
        for setup in ("A", "B"):
            bench.run(setup, value if setup == "A" else "9:00", key)
    claim = "On Parade in Kiln the A is faster than the B."
    (line,) = script.check_script(database, bench.slug, claim).claims
    assert line.task == str(made.id)
    pack = export_pack(database, bench.slug)
    there = import_zip(database, zip_files(write_pack(pack)))
    names = [(t.name, t.own_name) for t in SHELF.take(database, there.slug).tasks]
    assert names == [("Parade in Heddle", "Parade"), ("Parade in Kiln", "Parade")]
    assert export_pack(database, there.slug).tasks == pack.tasks


def test_the_same_task_twice_in_one_app_is_refused(bench: Bench, database: Database) -> None:
    with pytest.raises(RefusedError, match="in Heddle already"):
        tasks.copy_task(database, task(bench).id, "heddle")
    tasks.copy_task(database, task(bench).id, "Kiln")
    with pytest.raises(RefusedError, match="has a task of this name already"):
        tasks.copy_task(database, task(bench, "Parade in Heddle").id, "Kiln")
    with pytest.raises(RefusedError, match="has a task of this name already"):
        bench.task("Parade", app="Kiln")


def sensitive(bench: Bench, *told: tuple[str, float]) -> None:
    known = task(bench)
    kept = [{"to": to, "up_to_s": up_to_s, "why": ""} for to, up_to_s in told]
    tasks.change_task(bench.database, known.id, known.version, {"sensitivities": kept})


def pair(bench: Bench) -> pairs.PairView:
    a, b = bench.setups["A"], bench.setups["B"]
    return pairs.show_pair(bench.database, bench.slug, str(task(bench).id), a, b)


def lines(bench: Bench) -> list[tuple[str, str, str, str]]:
    return [(x.condition, x.here, x.weight, x.why) for x in pair(bench).parity]


@pytest.mark.parametrize(
    ("memory", "found"),
    [
        ((None, None), [("memory", "not noted", "muddies")]),
        (("32", "32"), []),
        (("32", "16"), [("memory", "memory 32 gb", "muddies")]),
    ],
)
def test_what_a_task_is_sensitive_to_muddies_unless_it_is_known_to_be_alike(
    bench: Bench, memory: tuple[str | None, str | None], found: list[tuple[str, str, str]]
) -> None:
    for typed in ("5:00", "5:01"):
        bench.run("A", typed)
        bench.run("B", "5:40")
    book = SHELF.take(bench.database, bench.slug)
    for machine, size in zip(book.machines, memory, strict=True):
        if size is not None:
            specs: dict[str, Any] = {"specs": {"memory_gb": size}}
            lineup.change_machine(bench.database, machine.id, machine.version, specs)
    sensitive(bench, ("memory", 20.0))
    assert [(each[0], each[1].lower(), each[2]) for each in lines(bench)] == found
    told = "Of what is between them, memory may make up to 20 s of the 39.5 s"
    assert (told in pair(bench).behind) == bool(found)
    if found:
        assert lines(bench)[0][3] == "this task is sensitive to memory, up to 20 s"
        assert fairness.tally(SHELF.take(bench.database, bench.slug)).muddy == 1


def test_something_of_ones_own_muddies_every_pair_and_may_make_all_of_it(bench: Bench) -> None:
    bench.run("A", "5:00")
    bench.run("B", "5:10")
    sensitive(bench, ("the weather", 60.0))
    assert lines(bench) == [
        (
            "what the task is sensitive to",
            "the weather",
            "muddies",
            "this task is sensitive to the weather, up to 1:00",
        )
    ]
    assert "Of what is between them, the weather may make all of the 10 s" in pair(bench).behind
    sensitive(bench)
    assert lines(bench) == []


def test_a_pack_keeps_sensitivities(bench: Bench, database: Database) -> None:
    sensitive(bench, ("memory", 20.0), ("the weather", 1.5))
    pack = export_pack(database, bench.slug)
    there = import_zip(database, zip_files(write_pack(pack)))
    assert export_pack(database, there.slug).sensitivities == pack.sensitivities
    kept = SHELF.take(database, there.slug).tasks[0].sensitivities
    assert [(each.to, each.up_to_s) for each in kept] == [("memory", 20.0), ("the weather", 1.5)]
