"""The shelf: answers in a line, what is open, and no shootout opened twice for it."""

from __future__ import annotations

import pytest

from tests.desk.helpers import new_bench
from true_margin.core.numerals import Numerals, writing
from true_margin.desk.run_sheet import on_shelf
from true_margin.desk.run_sheet.on_shelf import ShelfLine, show_shelf, work_out
from true_margin.store import records
from true_margin.store.database import Database


def shown(database: Database, slug: str) -> ShelfLine:
    lines = show_shelf(database, lambda _: True)
    return next(each for each in lines if each.shootout.slug == slug)


def line(database: Database, slug: str) -> ShelfLine:
    """A line as it is once it was worked out."""
    if not shown(database, slug).fresh:
        work_out(database, [slug])
    return shown(database, slug)


def test_the_demo_says_who_leads_and_what_is_open(
    database: Database, demo: records.Shootout
) -> None:
    found = line(database, demo.slug)
    assert "share first place" in found.answer
    assert found.needs_you
    assert found.waiting[:2] == ("4 claims to check", "3 not comparable")
    assert found.facts == "7 machines · 249 runs"
    assert [bar.leads for bar in found.bars] == [True, True, False]
    assert found.fresh


def test_a_new_shootout_says_what_comes_first(database: Database) -> None:
    bench = new_bench(database, "Fresh on the shelf")
    found = line(database, bench.slug)
    assert (found.answer, found.bars, found.needs_you) == ("Nothing timed yet.", (), False)
    assert found.waiting == ("Time Parade on A",)
    before = found.worked_at
    bench.run("A", "6:17")
    bench.run("B", "4:00")
    after = line(database, bench.slug)
    assert after.answer.startswith("B ")
    assert after.worked_at > before
    # What was worked on last stands first.
    assert show_shelf(database, lambda _: True)[0].shootout.slug == bench.slug


def test_a_line_is_worked_out_once_for_a_revision(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    bench = new_bench(database, "Once on the shelf")
    first = line(database, bench.slug)
    worked: list[str] = []
    monkeypatch.setattr(on_shelf, "line_of", lambda _, book: worked.append(book.shootout.slug))
    assert line(database, bench.slug) == first
    assert worked == []


def test_a_line_of_before_stands_until_the_new_one_is_there(database: Database) -> None:
    bench = new_bench(database, "Late on the shelf")
    assert (shown(database, bench.slug).fresh, shown(database, bench.slug).answer) == (False, "")
    first = line(database, bench.slug)
    bench.run("A", "6:17")
    meanwhile = shown(database, bench.slug)
    assert (meanwhile.fresh, meanwhile.answer) == (False, first.answer)
    # One thread works; what it was not asked for it leaves, and what is gone harms nobody.
    with on_shelf._AT_WORK:
        work_out(database, [bench.slug])
    assert not shown(database, bench.slug).fresh
    work_out(database, ["no-such-shootout", bench.slug])
    assert shown(database, bench.slug).fresh


def test_only_what_one_may_see_is_listed(database: Database) -> None:
    own = new_bench(database, "Mine on the shelf")
    seen = show_shelf(database, lambda each: each.slug == own.slug)
    assert [each.shootout.slug for each in seen] == [own.slug]


def test_a_line_is_written_as_its_reader_writes(database: Database) -> None:
    bench = new_bench(database, "Commas on the shelf")
    for setup, typed in (("A", "10:00"), ("B", "4:00")):
        bench.run(setup, typed)
    assert "2.5 times" in line(database, bench.slug).answer
    with writing(Numerals(",", ".")):
        assert shown(database, bench.slug).answer == ""
        assert "2,5 times" in line(database, bench.slug).answer
    assert "2.5 times" in shown(database, bench.slug).answer
