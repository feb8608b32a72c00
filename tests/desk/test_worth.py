"""What a ranking is worth in minutes, and who shares a rank, in words."""

from __future__ import annotations

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.margins.margins import LadderView, show_ladder
from true_margin.desk.margins.worth import as_shown, resolution_of
from true_margin.store.database import Database


def ladder(bench: Bench) -> LadderView:
    return show_ladder(bench.database, bench.slug, str(bench.tasks["Parade"]))


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Worth")
    bench.machine("C")
    for typed in ("10:57", "10:58", "10:56"):
        bench.run("A", typed)
    return bench


def test_a_leader_saves_what_its_row_says(bench: Bench) -> None:
    for setup, times in (("B", ("4:01", "4:02", "4:00")), ("C", ("6:12", "6:13", "6:11"))):
        for typed in times:
            bench.run(setup, typed)
    view = ladder(bench)
    assert view.worth == "4:01 instead of 10:57. 6:56 saved each time."
    assert [row.saved for row in view.rows] == [416.0, 285.0, None]
    assert (view.resolution, view.groups) == (1.0, ())
    # A row adds up with the times that stand in it.
    base = next(row for row in view.rows if row.saved is None)
    assert base.typical is not None
    for row in view.rows[:2]:
        assert row.typical is not None
        assert round(base.typical) - round(row.typical) == row.saved


def test_a_group_that_leads_is_named_over_its_rows(bench: Bench) -> None:
    for setup, times in (("B", ("4:01", "4:20", "4:05")), ("C", ("4:03", "4:16", "4:10"))):
        for typed in times:
            bench.run(setup, typed)
    view = ladder(bench)
    (group,) = view.groups
    assert (group.first, group.last, group.words) == (0, 1, "1–2 share first place")
    assert view.worth.startswith("About 4:09 instead of 10:57.")


def test_the_baseline_that_leads_saves_nothing(bench: Bench) -> None:
    bench.run("B", "20:00")
    view = ladder(bench)
    assert view.worth == ""
    assert view.rows[1].saved == -543.0


def test_short_times_are_shown_alike_in_every_row() -> None:
    assert [resolution_of(times) for times in ([3.1, 700.0], [18.02, 21.0], [61.0])] == [
        0.01,
        0.1,
        1.0,
    ]
    assert as_shown(18.26, 0.1) == 18.3
