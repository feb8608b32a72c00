"""The bench: marks, pace, and a sitting that fits the time there is."""

from __future__ import annotations

from uuid import uuid4

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.core.mark_rows import MarkValue
from true_margin.desk.bench import bench as desk_bench
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup import lineup, spec_sheet
from true_margin.desk.runs import marks as run_marks
from true_margin.desk.runs import runs
from true_margin.store.database import Database


def progress(*marks: tuple[float, float]) -> list[dict[str, MarkValue]]:
    return [{"elapsed_s": elapsed, "fraction": fraction} for elapsed, fraction in marks]


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Bench")


def test_marks_come_late_and_twice_and_are_stored_once(bench: Bench) -> None:
    run = bench.run("A", "5:00").run
    for _ in range(2):
        detail = run_marks.add_marks(bench.database, run.id, progress((120.0, 0.5), (60.0, 0.25)))
    assert [(m.elapsed_s, m.fraction) for m in detail.marks] == [(60.0, 0.25), (120.0, 0.5)]
    run_marks.add_marks(bench.database, run.id, progress((90.0, 0.4)))
    assert len(runs.show_run(bench.database, run.id).marks) == 3


@pytest.mark.parametrize(
    ("marks", "says"),
    [([(60.0, 0.5), (90.0, 0.4)], "goes backwards"), ([(500.0, 0.9)], "after the end")],
)
def test_marks_that_cannot_be_are_refused_together(
    bench: Bench, marks: list[tuple[float, float]], says: str
) -> None:
    run = bench.run("A", "5:00").run
    with pytest.raises(RefusedError, match=says):
        run_marks.add_marks(bench.database, run.id, progress((10.0, 0.1), *marks))
    assert runs.show_run(bench.database, run.id).marks == ()


def test_pace_against_the_best_so_far(bench: Bench) -> None:
    task = bench.tasks["Parade"]
    alone = desk_bench.read_pace(bench.database, bench.slug, task, [(60.0, 0.25)])
    assert (alone.projected_s, alone.gap_s, alone.slowed) == (240.0, None, False)
    best = bench.run("A", "5:00").run
    run_marks.add_marks(bench.database, best.id, progress((100.0, 0.5)))
    pace = desk_bench.read_pace(bench.database, bench.slug, task, [(130.0, 0.5)])
    assert (pace.projected_s, pace.gap_s) == (260.0, 30.0)
    slow = [(100.0, 0.4), (300.0, 0.7), (600.0, 1.0)]
    assert desk_bench.read_pace(bench.database, bench.slug, task, slow).slowed
    with pytest.raises(RefusedError, match="not timed"):
        desk_bench.read_pace(bench.database, bench.slug, uuid4(), [])


def test_a_sitting_is_made_of_what_stands_in_open_calls(bench: Bench) -> None:
    nothing = desk_bench.show_sitting(bench.database, bench.slug, 60)
    assert (nothing.runs, nothing.says) == (
        (),
        "Everything on the bench is settled; no runs needed.",
    )
    bench.machine("C")
    for typed in ("5:00", "5:20"):
        bench.run("A", typed)
        bench.run("B", typed)
        bench.run("C", typed.replace("5:", "55:"))
    plan = desk_bench.show_sitting(bench.database, bench.slug, 30)
    assert [run.setup for run in plan.runs] == ["A", "B", "A", "B"]
    assert plan.minutes == pytest.approx(4 * (310 / 60 + 1), abs=0.1)
    assert plan.says.startswith("For 1 undecided result")
    only = desk_bench.show_sitting(bench.database, bench.slug, 30, [bench.setups["B"]])
    assert {run.setup for run in only.runs} == {"B"}
    assert (
        "the shortest that helps takes 6 min"
        in desk_bench.show_sitting(bench.database, bench.slug, 3).says
    )
    with pytest.raises(RefusedError, match="not in this line-up"):
        desk_bench.show_sitting(bench.database, bench.slug, 30, [uuid4()])


def test_setups_that_cannot_stand_at_once_are_run_in_blocks(bench: Bench) -> None:
    for typed in ("5:00", "5:20"):
        bench.run("A", typed)
        bench.run("B", typed)
    for column in spec_sheet.show_lineup(bench.database, bench.slug).columns:
        machine = column.machine
        specs = {"specs": {"shared": "board one"}}
        lineup.change_machine(bench.database, machine.id, machine.version, specs)
    plan = desk_bench.show_sitting(bench.database, bench.slug, 32)
    assert [(run.setup, run.change_over) for run in plan.runs] == [
        ("A", False),
        ("A", False),
        ("B", True),
        ("B", False),
    ]
    assert plan.change_overs == 1


def test_retired_machines_are_not_on_the_desk(bench: Bench) -> None:
    for typed in ("5:00", "5:20"):
        bench.run("A", typed)
        bench.run("B", typed)
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    lineup.retire_machine(bench.database, machine.id, retired=True)
    plan = desk_bench.show_sitting(bench.database, bench.slug, 30)
    assert {run.setup for run in plan.runs} == {"B"}
