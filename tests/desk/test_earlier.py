"""An earlier shootout brought in as earlier rounds."""

from __future__ import annotations

import math

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.margins import rounds_view
from true_margin.desk.runs import earlier
from true_margin.desk.runs.marks import add_marks
from true_margin.store.database import Database


def last_year(database: Database) -> Bench:
    """A shootout with Old and A on the parade, A ten percent slower than it is now."""
    bench = new_bench(database, "Last year")
    bench.machine("Old", specs={"cores": "4"})
    for time in ("9:00", "9:01"):
        bench.run("Old", time, method="log")
    for time in ("5:30", "5:31"):
        bench.run("A", time, method="log")
    bench.run("A", "5:29", status="void", reason="a call came in")
    return bench


def this_year(database: Database) -> Bench:
    bench = new_bench(database, "This year")
    for time in ("5:00", "5:01"):
        bench.run("A", time, method="log")
    bench.run("B", "4:00", method="log")
    return bench


def test_it_comes_in_as_a_round_before_and_is_tied_by_the_machine_in_both(
    database: Database,
) -> None:
    then, now = last_year(database), this_year(database)
    preview = earlier.preview_earlier(database, now.slug, then.slug)
    assert (preview.machines_here, preview.machines_new) == (("A", "B"), ("Old",))
    assert preview.bridges == ("A",)
    result = earlier.bring_in(database, now.slug, then.slug, [then.tasks["Parade"]])
    assert (result.runs, result.known, result.machines, result.tasks) == (5, 0, 1, 0)
    book = SHELF.take(database, now.slug)
    assert [round_.name for round_ in book.rounds] == ["round 1 (Last year)", "round 1"]
    assert book.rounds[0].brought_from == "Last year"
    labels = [setup.label for setup in book.setups]
    theta = analysis_of(book).fit.theta
    # As of the latest round Old takes a tenth less than it did.
    assert math.exp(-theta[labels.index("Old"), 0]) == pytest.approx(540 / 1.1, rel=0.01)
    assert analysis_of(book).fit.carried[labels.index("Old"), 0]
    assert book.machine_of[book.setups[labels.index("Old")].id].specs["cores"] == 4
    assert [run.status for run in book.runs].count("void") == 1
    assert rounds_view.show_rounds(database, now.slug).rounds[0].brought_from == "Last year"


def test_the_same_again_brings_nothing_twice(database: Database) -> None:
    then, now = last_year(database), this_year(database)
    earlier.bring_in(database, now.slug, then.slug, [then.tasks["Parade"]])
    later = then.run("Old", "9:02", method="log").run
    add_marks(database, later.id, [{"elapsed_s": 100.0, "fraction": 0.2}])
    again = earlier.bring_in(database, now.slug, then.slug, [then.tasks["Parade"]])
    assert (again.runs, again.known, again.machines) == (1, 5, 0)
    book = SHELF.take(database, now.slug)
    assert len(book.rounds) == 2
    assert sum(len(marks) for marks in book.marks_of.values()) == 1


def test_a_task_that_is_new_here_is_made(database: Database) -> None:
    then, now = last_year(database), this_year(database)
    then.task("Titles", work=90.0, unit="s", operation="export", settings={})
    then.run("Old", "2:00", "Titles")
    result = earlier.bring_in(database, now.slug, then.slug, [then.tasks["Titles"]])
    assert (result.runs, result.tasks) == (1, 1)
    made = next(t for t in SHELF.take(database, now.slug).tasks if t.name == "Titles")
    assert (made.work, made.operation, made.app) == (90.0, "export", "Heddle")


def test_without_a_machine_in_both_it_says_so(database: Database) -> None:
    then, now = last_year(database), new_bench(database, "Bare")
    now.run("B", "4:00")
    preview = earlier.preview_earlier(database, now.slug, then.slug)
    assert preview.bridges == ()
    assert "without one there is no bridge" in preview.summary


def test_what_cannot_be_brought_in_is_refused(database: Database) -> None:
    then, now = last_year(database), this_year(database)
    with pytest.raises(RefusedError):
        earlier.preview_earlier(database, now.slug, now.slug)
    with pytest.raises(RefusedError):
        earlier.bring_in(database, now.slug, then.slug, [now.tasks["Parade"]])
    with pytest.raises(NotFoundError):
        earlier.preview_earlier(database, now.slug, "nowhere")
    assert len(SHELF.take(database, now.slug).rounds) == 1
