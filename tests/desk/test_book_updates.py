"""A book that was followed from the one before equals one that was loaded anew."""

from __future__ import annotations

from uuid import uuid4

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.book.shelf import SHELF, load_book
from true_margin.desk.lineup.spec_sheet import show_lineup
from true_margin.desk.runs.marks import add_marks
from true_margin.desk.runs.runs import add_run, revise_run
from true_margin.desk.shootouts.shootouts import change_shootout, get_shootout
from true_margin.exchange.case_result import result_object
from true_margin.store.database import Database

WRITES = ("run", "void", "task", "mark", "confidence", "materiality", "prior", "baseline", "setup")


def loaded_anew(database: Database, slug: str) -> Book:
    with database.transaction() as session:
        return load_book(session, get_shootout(database, slug))


def write(bench: Bench, database: Database, kind: str, number: int) -> None:
    """One write, as a screen would send it."""
    shootout = get_shootout(database, bench.slug)
    runs = SHELF.take(database, bench.slug).runs
    some = runs[number % len(runs)]
    if kind == "run":
        bench.run("AB"[number % 2], f"6:{10 + number % 40}")
    elif kind == "void":
        status = {"status": "void", "reason": "slip"} if some.status == "ok" else {"status": "ok"}
        revise_run(database, some.id, some.version, status, "Marit", "looked again")
    elif kind == "task":
        place = {"setup_id": bench.setups["AB"[number % 2]]}
        revise_run(database, some.id, some.version, place, "Marit", "wrong machine")
    elif kind == "mark":
        at = {"elapsed_s": 1.0 + number, "fraction": 0.01}
        if not SHELF.take(database, bench.slug).marks_of.get(some.id):
            add_marks(database, some.id, [at])
    elif kind == "setup":
        bench.machine(f"M{uuid4().hex[:6]}")
    else:
        changes: dict[str, dict[str, object]] = {
            "confidence": {"confidence": (0.9, 0.95, 0.99)[number % 3]},
            "materiality": {"materiality": (0.0, 0.03, 0.1)[number % 3]},
            "prior": {"prior_df": float(2 + number % 3)},
            "baseline": {"baseline_setup_id": bench.setups["AB"[number % 2]]},
        }
        change_shootout(database, bench.slug, shootout.version, changes[kind])


@settings(
    max_examples=25, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(st.lists(st.tuples(st.sampled_from(WRITES), st.integers(0, 60)), max_size=8))
def test_reads_between_writes_are_never_stale(
    database: Database, writes: list[tuple[str, int]]
) -> None:
    bench = new_bench(database)
    for name, time in (("A", "6:17"), ("B", "6:40"), ("A", "6:20")):
        bench.run(name, time)
    for kind, number in writes:
        write(bench, database, kind, number)
        if number % 3:
            continue  # several writes between two reads
        book, anew = SHELF.take(database, bench.slug), loaded_anew(database, bench.slug)
        assert book == anew
        assert parity_of(book).facts == parity_of(anew).facts
        assert book.index.ok.tolist() == anew.index.ok.tolist()
        assert result_object(analysis_of(book)) == result_object(analysis_of(anew))


def test_a_settings_change_takes_the_fit_over(database: Database) -> None:
    bench = new_bench(database)
    bench.run("A", "6:17")
    bench.run("B", "6:40")
    before = SHELF.take(database, bench.slug)
    fit = analysis_of(before).fit
    shootout = get_shootout(database, bench.slug)
    change_shootout(database, bench.slug, shootout.version, {"materiality": 0.1})
    after = SHELF.take(database, bench.slug)
    assert after is not before
    assert analysis_of(after).fit is fit
    assert analysis_of(after).study.settings.materiality == pytest.approx(0.1)


def test_the_same_run_twice_stands_once(database: Database) -> None:
    bench = new_bench(database)
    fields = {
        "setup_id": bench.setups["A"],
        "task_id": bench.tasks["Parade"],
        "typed": "6:17",
        "client_key": "one",
        "method": "log",
        "status": "ok",
    }
    analysis_of(SHELF.take(database, bench.slug))
    add_run(database, bench.slug, fields, "Marit")
    add_run(database, bench.slug, fields, "Marit")
    book = SHELF.take(database, bench.slug)
    assert len(book.runs) == 1
    assert book == loaded_anew(database, bench.slug)
    assert show_lineup(database, bench.slug)
