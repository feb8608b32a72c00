"""Runs entered, voided, corrected and imported through the desk."""

from __future__ import annotations

import math
import time
from concurrent.futures import ThreadPoolExecutor
from typing import Any
from uuid import uuid4

import pytest
from sqlalchemy.orm import Session

from tests.desk.helpers import Bench, new_bench
from true_margin.core.numerals import Numerals, writing
from true_margin.desk.bench import bench as bench_desk
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF, load_book
from true_margin.desk.errors import AmbiguousTimeError, NotFoundError, RefusedError, StaleError
from true_margin.desk.lineup import lineup, spec_sheet
from true_margin.desk.margins import margins, pairs
from true_margin.desk.run_sheet.sheet import show_sheet
from true_margin.desk.runs import entry, runs
from true_margin.desk.shootouts import shootouts
from true_margin.desk.tasks import tasks
from true_margin.store import records
from true_margin.store import shootouts as store_shootouts
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database)


def test_the_first_run_has_nothing_to_compare_with(bench: Bench) -> None:
    stored = bench.run("A", "6:17")
    assert stored.says == "A: 6:17. First run on Parade."
    assert (stored.run.value, stored.run.resolution, stored.run.who) == (377.0, 1.0, "Marit")
    assert stored.run.u == pytest.approx(0.4537, abs=1e-4)


def test_a_run_says_at_once_what_it_changes(bench: Bench) -> None:
    bench.run("A", "6:17")
    second = bench.run("B", "6:40")
    assert second.says.startswith("B: 6:40. Not enough runs to compare A and B.")
    for typed in ("6:41", "6:39", "6:40"):
        bench.run("B", typed)
    last = [bench.run("A", typed) for typed in ("6:16", "6:18", "6:17")][-1]
    assert last.says.startswith("A: 6:17. A is 6.1 % faster than B")
    changed = [change for change in last.changes if change.startswith("A over B")]
    assert changed in ([], ["A against B: was ahead, now clear"])


def test_an_ambiguous_time_is_asked_about_and_stores_nothing(bench: Bench) -> None:
    with pytest.raises(AmbiguousTimeError) as asked:
        bench.run("A", "18.40 min")
    assert [m["value_s"] for m in asked.value.extra["meanings"]] == [1120, 1104]
    assert runs.show_runs(bench.database, bench.slug).runs == ()
    assert bench.run("A", "18.40 min", meaning="decimal").run.value == pytest.approx(1104)


@pytest.mark.parametrize(
    ("typed", "more", "field"),
    [
        ("4:75", {}, "typed"),
        (None, {}, "typed"),
        ("6:17", {"status": "void"}, "reason"),
        ("6:17", {"status": "failed", "reason": "  "}, "reason"),
        ("6:17", {"round_id": uuid4()}, "round_id"),
        ("6:17", {"setup_id": uuid4()}, "setup_id"),
        ("6:17", {"task_id": uuid4()}, "task_id"),
    ],
)
def test_a_run_that_cannot_be_is_refused_by_field(
    bench: Bench, typed: str | None, more: dict[str, Any], field: str
) -> None:
    with pytest.raises(RefusedError) as refused:
        bench.run("A", typed, **more)
    assert refused.value.field == field
    assert runs.show_runs(bench.database, bench.slug).runs == ()


def test_a_setup_of_another_shootout_is_refused(bench: Bench, database: Database) -> None:
    other = new_bench(database, "Another one")
    with pytest.raises(RefusedError, match="not in this shootout's line-up"):
        bench.run("A", "6:17", setup_id=other.setups["A"])


def test_the_same_key_stores_nothing_twice(bench: Bench) -> None:
    first = bench.run("A", "6:17", client_key="phone-1-press-1")
    again = bench.run("A", "6:17", client_key="phone-1-press-1")
    assert again.run.id == first.run.id
    assert len(runs.show_runs(bench.database, bench.slug).runs) == 1


def test_many_writers_at_once_lose_nothing(bench: Bench) -> None:
    with ThreadPoolExecutor(8) as pool:
        list(pool.map(lambda i: bench.run("A", f"6:{i:02d}"), range(24)))
    stored = runs.show_runs(bench.database, bench.slug).runs
    assert sorted(r.run.place for r in stored) == list(range(1, 25))
    assert {r.run.typed for r in stored} == {f"6:{i:02d}" for i in range(24)}


def test_a_void_run_keeps_what_it_was(bench: Bench) -> None:
    run = bench.run("A", "0:04").run
    stored = runs.revise_run(
        bench.database,
        run.id,
        run.version,
        {"status": "void", "reason": "false start"},
        "Jo",
        "false start",
    )
    assert (stored.run.status, stored.run.version) == ("void", 2)
    detail = runs.show_run(bench.database, run.id)
    (revision,) = detail.revisions
    assert (revision.who, revision.why, revision.version) == ("Jo", "false start", 1)
    assert (revision.before["status"], revision.before["value"]) == ("ok", 4.0)
    assert revision.changed_at.tzinfo is not None
    back = runs.revise_run(
        bench.database, run.id, 2, {"status": "ok"}, "Jo", "it was right after all"
    )
    assert (back.run.status, back.run.reason) == ("ok", None)
    assert len(runs.show_run(bench.database, run.id).revisions) == 2


def test_a_correction_reads_the_new_time(bench: Bench) -> None:
    run = bench.run("A", "6:17").run
    stored = runs.revise_run(bench.database, run.id, 1, {"typed": "5:17.5"}, "Jo", "misread")
    assert (stored.run.value, stored.run.resolution) == (317.5, pytest.approx(0.1))
    with pytest.raises(AmbiguousTimeError):
        runs.revise_run(bench.database, run.id, 2, {"typed": "5.17 min"}, "Jo", "misread")


def test_two_corrections_at_once_are_told_apart(bench: Bench) -> None:
    run = bench.run("A", "6:17").run
    runs.revise_run(bench.database, run.id, 1, {"typed": "6:18"}, "Jo", "misread")
    with pytest.raises(StaleError, match="Nothing of yours is lost") as stale:
        runs.revise_run(bench.database, run.id, 1, {"typed": "6:19"}, "Marit", "misread")
    assert getattr(stale.value.current, "typed", None) == "6:18"
    assert len(runs.show_run(bench.database, run.id).revisions) == 1


def test_a_run_cannot_move_to_a_task_that_measures_something_else(bench: Bench) -> None:
    points = bench.task("Points", measure="amount", unit="points")
    run = bench.run("A", "6:17").run
    with pytest.raises(RefusedError, match="measures something else"):
        runs.revise_run(bench.database, run.id, 1, {"task_id": points.id}, "Jo", "wrong task")
    assert bench.run("A", "1530", "Points").run.method == "stated"


def test_a_bound_stands_off_the_ladder_as_more_than(bench: Bench) -> None:
    bench.run("A", "6:17")
    bench.run("B", "> 20 min")
    view = margins.show_ladder(bench.database, bench.slug, str(bench.tasks["Parade"]))
    assert [(row.label, row.ranks) for row in view.beside] == [("B", "2")]
    assert view.beside[0].words.startswith("more than 20:00: at most 0.31 times")


def test_lines_are_read_as_they_are_typed(bench: Bench) -> None:
    def read(line: str) -> entry.EntryReading:
        return entry.read_line(bench.database, bench.slug, line)

    assert [c.name for c in read("").completions] == ["A", "B"]
    assert read("a").completions[0].line == "A / "
    assert read("a / par").completions[0].line == "a / Parade / "
    done = read("a / parade / 6:17 log")
    assert (done.ready, done.value_words, done.method) == (True, "6:17 ± 0.3 s", "log")
    assert read("c / parade / 6:17").unknown_setup == "c"
    assert read("a / opera / 6:17").unknown_task == "opera"
    assert [m.words for m in read("a / parade / 18.40 min").meanings] == ["18:40", "18:24"]
    assert "75 seconds. Type 5m15s" in (read("a / parade / 4:75").problem or "")
    assert read("a / parade / void").missing == "the reason, as in “void: backup was running”"
    assert read("a / parade / failed crash").ready


def test_two_tabs_on_one_machine_lose_nothing(bench: Bench) -> None:
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    lineup.change_machine(bench.database, machine.id, machine.version, {"specs": {"cores": "8"}})
    with pytest.raises(StaleError) as stale:
        lineup.change_machine(
            bench.database, machine.id, machine.version, {"specs": {"cores": "12"}}
        )
    assert getattr(stale.value.current, "specs", None) == {"cores": 8}
    now = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    assert (now.specs, now.version) == ({"cores": 8}, 2)


def test_a_copied_machine_takes_over_specs(bench: Bench) -> None:
    bench.machine("C", specs={"cores": "8", "form": "laptop", "note": "mine"})
    source = spec_sheet.show_lineup(bench.database, bench.slug).columns[2].machine
    copied = bench.machine("D", copy_from=source.id, specs={"cores": "12"})
    assert copied.specs == {"form": "laptop", "cores": 12}


@pytest.mark.parametrize(("name", "field"), [("A", "name")])
def test_names_in_a_line_up_are_unique(bench: Bench, name: str, field: str) -> None:
    with pytest.raises(RefusedError, match="already a machine of this name") as refused:
        bench.machine(name)
    assert refused.value.field == field


def test_setups_show_what_differs(bench: Bench) -> None:
    machine = bench.machine("C", specs={"clock_ghz": "3.0"})
    lineup.add_setup(bench.database, machine.id, {"name": "raised", "specs": {"clock_ghz": "3.3"}})
    sheet = spec_sheet.show_lineup(bench.database, bench.slug)
    assert [s.label for s in sheet.setups] == ["A", "B", "C as is", "C raised"]
    assert next(row for row in sheet.rows if row.field == "clock_ghz").differs
    assert not next(row for row in sheet.rows if row.field == "cores").differs


def test_what_a_task_measures_is_fixed_by_its_first_run(bench: Bench) -> None:
    task = tasks.show_tasks(bench.database, bench.slug)[0].task
    changed = tasks.change_task(bench.database, task.id, 1, {"measure": "amount"})
    tasks.change_task(bench.database, task.id, changed.version, {"measure": "time"})
    bench.run("A", "6:17")
    with pytest.raises(RefusedError, match="read again as the other measure"):
        tasks.change_task(bench.database, task.id, 3, {"measure": "amount"})


def test_the_next_thing_follows_the_order_of_the_work(database: Database) -> None:
    made = shootouts.make_shootout(
        database, {"name": "Next", "subject": "machine", "currency": "EUR"}
    )
    bench = Bench(database, made.slug)

    def step() -> tuple[str, str]:
        following = show_sheet(database, made.slug).next[0]
        return following.action.words, following.action.stage

    assert step() == ("Add machine", "lineup")
    bench.machine("A")
    assert step() == ("Add machine", "lineup")
    bench.machine("B")
    assert step() == ("Add task", "tasks")
    bench.task("Parade")
    assert step() == ("Ready the timer", "bench")
    bench.run("A", "6:17")
    bench.run("B", "6:20")
    assert step() == ("Ready the timer", "bench")
    for typed in ("6:16", "6:18", "9:00"):
        bench.run("A", typed)
    assert show_sheet(database, made.slug).stages[3].todo == ("1 odd",)
    # A run that looks like a slip outranks more runs.
    assert step() == ("Check it", "runs")


def test_one_pair_every_way_it_can_be_said(bench: Bench) -> None:
    for typed in ("5:00", "5:01", "4:59"):
        bench.run("A", typed)
        bench.run("B", "6:00")
    key = str(bench.tasks["Parade"])
    pair = pairs.show_pair(bench.database, bench.slug, key, bench.setups["B"], bench.setups["A"])
    assert (pair.a, pair.b, pair.call) == ("A", "B", "clear")
    ways = {way.title: round(way.value, 1) for way in pair.ways}
    assert ways == {
        "times as fast": 1.2,
        "faster": 20.0,
        "less time": 16.7,
        "B slower by": 20.0,
        "saved per run": 60.0,
        "saved per hour of video": 327.3,
    }
    assert "3 runs of A, 3 of B" in pair.behind
    mix = pairs.show_pair(bench.database, bench.slug, "mix", bench.setups["A"], bench.setups["B"])
    assert "3 runs of A, 3 of B" in mix.behind
    with pytest.raises(RefusedError):
        pairs.show_pair(bench.database, bench.slug, key, bench.setups["A"], bench.setups["A"])
    with pytest.raises(NotFoundError):
        pairs.show_pair(bench.database, bench.slug, key, bench.setups["A"], uuid4())


def test_an_open_pair_says_what_would_settle_it(bench: Bench) -> None:
    bench.run("A", "6:17")
    bench.run("B", "6:40")
    key = str(bench.tasks["Parade"])
    pair = pairs.show_pair(bench.database, bench.slug, key, bench.setups["A"], bench.setups["B"])
    assert pair.call == "open"
    # How runs scatter is assumed here, so that nothing is likely.
    assert pair.settle == "Perhaps settled by 3 more runs on A and 3 on B, about 39 min."


def test_the_baseline_moves_every_ratio(bench: Bench) -> None:
    bench.run("A", "5:00")
    bench.run("B", "10:00")
    key = str(bench.tasks["Parade"])
    before = margins.show_ladder(bench.database, bench.slug, key)
    assert [(r.label, r.ratio) for r in before.rows] == [("A", 1.0), ("B", pytest.approx(0.5))]
    version = shootouts.get_shootout(bench.database, bench.slug).version
    shootouts.change_shootout(
        bench.database, bench.slug, version, {"baseline_setup_id": bench.setups["B"]}
    )
    after = margins.show_ladder(bench.database, bench.slug, key)
    assert [r.ratio for r in after.rows] == [pytest.approx(2.0), 1.0]
    with pytest.raises(RefusedError, match="must be a setup"):
        shootouts.change_shootout(
            bench.database, bench.slug, version + 1, {"baseline_setup_id": uuid4()}
        )


def test_the_bench_knows_the_best_so_far(bench: Bench) -> None:
    bench.task("Points", measure="amount")
    bench.run("A", "6:17")
    bench.run("B", "5:59.5")
    bench.run("B", "0:02", status="void", reason="false start")
    bench.run("A", "900", "Points")
    bench.run("B", "800", "Points")
    view = bench_desk.show_bench(bench.database, bench.slug)
    assert view.round == "round 1"
    assert [(b.label, b.value) for b in view.best] == [("B", 359.5), ("A", 900.0)]


def test_addresses_are_made_from_names(database: Database) -> None:
    def slug(name: str) -> str:
        fields = {"name": name, "subject": "machine", "currency": "EUR"}
        return shootouts.make_shootout(database, fields).slug

    assert slug("Größe: zählt sie?") == "groe-zahlt-sie"
    assert slug("Größe: zählt sie?") == "groe-zahlt-sie-2"
    assert slug("機械") == "shootout"


def names(bench: Bench) -> list[str]:
    return [c.machine.name for c in spec_sheet.show_lineup(bench.database, bench.slug).columns]


def test_machines_can_be_put_in_another_order(bench: Bench) -> None:
    bench.machine("C")
    ids = [c.machine.id for c in spec_sheet.show_lineup(bench.database, bench.slug).columns]
    lineup.order_machines(bench.database, bench.slug, [ids[2], ids[0], ids[1]])
    assert names(bench) == ["C", "A", "B"]
    for wrong in ([], ids[:2], [*ids, ids[0]], [ids[0], ids[1], uuid4()]):
        with pytest.raises(RefusedError, match="name every machine once"):
            lineup.order_machines(bench.database, bench.slug, wrong)
    assert names(bench) == ["C", "A", "B"]


def test_a_retired_machine_keeps_its_runs_and_is_not_proposed(bench: Bench) -> None:
    bench.run("A", "6:17")
    bench.run("B", "6:20")
    machines = spec_sheet.show_lineup(bench.database, bench.slug).columns
    for column in machines:
        lineup.retire_machine(bench.database, column.machine.id, retired=True)
    assert show_sheet(bench.database, bench.slug).next[0].action.words == "Add price"
    view = margins.show_ladder(bench.database, bench.slug, str(bench.tasks["Parade"]))
    assert [row.label for row in view.rows] == ["A", "B"]
    lineup.retire_machine(bench.database, machines[0].machine.id, retired=False)
    following = show_sheet(bench.database, bench.slug).next[0]
    assert (following.kind, following.strong) == ("second run", "A and B look equally fast.")


def test_a_copied_setup_takes_over_its_conditions(bench: Bench) -> None:
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    conditions = {"room": "21.5", "background": "none", "screens": None}
    copied = lineup.add_setup(
        bench.database, machine.id, {"name": "copy", "conditions": conditions}
    )
    assert copied.setups[1].conditions == {"room": 21.5, "background": "none"}


def test_one_machine_in_two_states_is_a_comparison(database: Database) -> None:
    made = shootouts.make_shootout(
        database, {"name": "Memory kits", "subject": "memory", "currency": "EUR"}
    )
    machine = lineup.add_machine(database, made.slug, {"name": "Tower"})
    assert show_sheet(database, made.slug).next[0].strong == "Add the second:"
    lineup.add_setup(database, machine.id, {"name": "64 GB"})
    assert show_sheet(database, made.slug).next[0].strong == "Add a task:"


def test_many_who_ask_at_once_get_one_book(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    with bench.database.transaction() as session:
        home = store_shootouts.get_shootout(session, bench.slug)
        store_shootouts.bump_revision(session, home.id)
    loads = []

    def slow_load(session: Session, shootout: records.Shootout) -> Book:
        loads.append(shootout.revision)
        time.sleep(0.2)
        return load_book(session, shootout)

    monkeypatch.setattr("true_margin.desk.book.shelf.load_book", slow_load)
    with ThreadPoolExecutor(6) as pool:
        books = list(pool.map(lambda _: SHELF.take(bench.database, bench.slug), range(6)))
    assert len(loads) == 1
    assert all(book is books[0] for book in books)


def test_the_same_run_typed_on_two_devices_is_two_runs_and_seen(bench: Bench) -> None:
    """Two people may type the same time twice; nobody can tell, so both are kept to be voided."""
    for key in ("device one", "device two"):
        bench.run("A", "6:17", client_key=key)
    assert len(runs.show_runs(bench.database, bench.slug).runs) == 2
    bench.run("A", "6:17", client_key="device two")
    assert len(runs.show_runs(bench.database, bench.slug).runs) == 2


def test_a_bound_has_ranks_and_a_pair_of_its_own(bench: Bench) -> None:
    bench.machine("C")
    for typed in ("6:17", "6:20", "6:18"):
        bench.run("A", typed)
    bench.run("B", "> 20 min")
    bench.run("C", "under 2 min")
    key = str(bench.tasks["Parade"])
    view = margins.show_ladder(bench.database, bench.slug, key)
    assert view.summary == "Only A has been timed; by bounds alone: C, B, below."
    told = {row.label: (row.ranks, row.words) for row in view.beside}
    assert told["B"] == ("3", "more than 20:00: at most 0.32 times as fast as A, by a bound alone")
    assert told["C"] == ("1", "less than 2:00: at least 3.15 times as fast as A, by a bound alone")
    assert view.off == ()
    # Where one that is known by a bound only may be first, nobody has a chance to tell.
    assert [row.p_fastest for row in view.rows] == [None]
    a, b = bench.setups["A"], bench.setups["B"]
    pair = pairs.show_pair(bench.database, bench.slug, key, b, a)
    assert (pair.a, pair.call, pair.ratio) == ("A", "clear", None)
    assert pair.sentence.startswith("A is at least 3.17 times as fast as B, by a bound alone")
    assert pair.lo is not None
    assert pair.lo > 2.0
    assert pair.hi is None
    assert "B: more than 20:00" in pair.behind


def test_a_bare_number_that_cannot_be_seconds_of_this_job_is_asked_about(bench: Bench) -> None:
    def read(line: str) -> entry.EntryReading:
        return entry.read_line(bench.database, bench.slug, line)

    assert read("a / parade / 27.45").ready
    bench.run("B", "19:10")
    asked = read("a / parade / 27.45")
    assert not asked.ready
    assert asked.asked == "27.45 of what? This job took about 19:10 so far."
    assert [(way.name, way.line) for way in asked.ways] == [
        ("27:45", "a / parade / 27:45"),
        ("27:27", "a / parade / 1647 s"),
        ("0:27.45", "a / parade / 27.45 s"),
    ]
    assert all(read(way.line).ready for way in asked.ways)
    assert [way.name for way in read("a / parade / 21").ways] == ["21:00", "0:21"]
    assert read("a / parade / 1150").ready


def test_a_bound_that_is_contradicted_is_flagged(bench: Bench) -> None:
    for typed in ("6:17", "6:20", "6:18"):
        bench.run("A", typed)
    off = bench.run("A", "> 10 min").run
    assert "bound contradicts" in runs.show_run(bench.database, off.id).flags
    agrees = bench.run("A", "> 5 min").run
    assert runs.show_run(bench.database, agrees.id).flags == ()


def test_all_runs_together_say_that_first_runs_were_slow(bench: Bench) -> None:
    bench.machine("C")
    for task in ("Parade", "Second"):
        if task == "Second":
            bench.task(task)
        for setup, minutes in (("A", 6), ("B", 7), ("C", 8)):
            for seconds in (30, 0, 1, 2):
                bench.run(setup, f"{minutes}:{seconds:02}", task)
    notes = margins.show_ladder(bench.database, bench.slug, "mix").notes
    said = next(note for note in notes if note.startswith("First runs are"))
    assert "slower than the rest, on all machines together" in said
    assert said.endswith("Void them or warm up.")


def test_a_typed_number_is_read_by_its_readers_signs_and_kept_so(bench: Bench) -> None:
    bench.task("Points", measure="amount", unit="points")
    with writing(Numerals(".", ",")):
        first = bench.run("A", "3,210", "Points").run
    assert (first.value, first.typed) == (3210, "3,210")
    with writing(Numerals(",", ".")):
        assert bench.run("B", "3,210", "Points").run.value == 3.21
        assert bench.run("B", "3.210", "Points").run.value == 3210
        # Whoever changes how it was read changes nothing of what was read.
        again = runs.revise_run(
            bench.database, first.id, first.version, {"method": "stated"}, "Jo", "a screen"
        ).run
    assert again.value == 3210


def test_a_remembered_time_is_known_to_two_in_a_hundred_at_best(bench: Bench) -> None:
    run = bench.run("A", "3:00:00", method="remembered").run
    assert run.u == pytest.approx(0.02 * 10_800)
    said = bench.run("A", "about 45 minutes", method="remembered").run
    assert (said.value, said.approximate, said.typed) == (2700, True, "about 45 minutes")
    spread = bench.run("A", "2:50 to 3:10", method="log").run
    assert (spread.value, spread.resolution) == (180, 20)
    assert spread.u == pytest.approx(20 / math.sqrt(12))
