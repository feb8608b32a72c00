"""The race of a task as the desk tells it."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.race import RaceView, show_race
from true_margin.desk.runs.marks import add_marks
from true_margin.desk.runs.runs import StoredRun
from true_margin.store import records
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Race")


def marked(bench: Bench, setup: str, typed: str, *marks: tuple[float, float]) -> StoredRun:
    stored = bench.run(setup, typed, method="stopwatch")
    fields = [{"elapsed_s": at, "fraction": part} for at, part in marks]
    if fields:
        add_marks(bench.database, stored.run.id, fields)
    return stored


def race(bench: Bench, *chosen: StoredRun, task: str = "Parade") -> RaceView:
    key = str(bench.tasks[task])
    return show_race(bench.database, bench.slug, key, [each.run.id for each in chosen])


def test_who_was_ahead_when(bench: Bench) -> None:
    marked(bench, "A", "1:40", (20.0, 0.5))
    marked(bench, "B", "1:20", (40.0, 0.5))
    view = race(bench)
    assert [lane.label for lane in view.lanes] == ["B", "A"]
    assert view.length_s == 100.0
    assert [moment.words for moment in view.moments] == [
        "A leads from the start.",
        "A is half way first, at 0:20.0, B 20 s later.",
        "B takes the lead.",
        "B is done first, at 1:20.",
        "A is done, 20 s after the first.",
    ]
    assert view.finding
    assert view.notes[0].startswith("One run of each")
    assert view.problem is None


def test_what_no_mark_says_is_said(bench: Bench) -> None:
    marked(bench, "A", "1:40", (20.0, 0.5))
    bench.run("B", "1:20")
    view = race(bench)
    assert not view.lanes[0].marked
    assert any("No progress was noted of B" in note for note in view.notes)
    assert [each.kind for each in view.moments if each.kind == "lead"] == []


def test_a_typical_run_stands_for_its_setup_and_another_may(bench: Bench) -> None:
    marked(bench, "A", "1:00", (30.0, 0.4))
    far = marked(bench, "A", "1:30", (30.0, 0.4))
    middle = bench.run("A", "1:01")
    near = marked(bench, "A", "1:02", (30.0, 0.4))
    lane = race(bench).lanes[0]
    assert lane.run_id == near.run.id, "marks decide among those near the middle"
    assert {each.run_id for each in lane.runs} >= {far.run.id, middle.run.id}
    assert race(bench, far).lanes[0].run_id == far.run.id


def test_a_failed_run_stays_where_it_was(bench: Bench) -> None:
    bench.run("B", "1:20")
    bench.run("A", "0:50", status="failed", reason="crash", reached=0.6)
    view = race(bench)
    failed = view.lanes[1]
    assert (failed.label, failed.finished) == ("A", False)
    assert failed.shown.startswith("failed at ")
    assert failed.shown.endswith("60 % done")
    assert any(each.words.startswith("A fails at") for each in view.moments)


def test_no_race_says_why(bench: Bench, database: Database) -> None:
    assert race(bench).problem == "No run of this task ended at a known time yet."
    assert show_race(database, bench.slug, "mix").problem is not None
    assert show_race(database, bench.slug, None).problem == "No run is timed yet."
    bench.task("Score", measure="amount", unit="points")
    assert "scores" in (race(bench, task="Score").problem or "")
    bench.run("A", "over 2:00:00")
    assert race(bench).problem is not None, "a bound is no time"


def test_a_run_of_elsewhere_is_refused(bench: Bench, database: Database) -> None:
    bench.run("A", "1:00")
    with pytest.raises(RefusedError, match="none of this task"):
        show_race(database, bench.slug, str(bench.tasks["Parade"]), [uuid4()])


def test_the_demo_has_a_race(database: Database, demo: records.Shootout) -> None:
    view = show_race(database, demo.slug, None)
    assert len(view.lanes) > 2
    assert sum(lane.marked for lane in view.lanes) > 4
    assert len([each for each in view.moments if each.kind == "lead"]) > 1
    ends = [lane.points[-1][0] for lane in view.lanes if lane.finished]
    assert ends == sorted(ends)
