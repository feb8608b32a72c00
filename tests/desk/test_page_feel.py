"""How editing felt, on a page: grades by app and machine, days, and what went wrong."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

from tests.desk.helpers import Bench, new_bench
from true_margin.core.numerals import PLAIN, writing
from true_margin.desk.book.book import Book
from true_margin.desk.book.editing_log import log_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.publish.page_feel import UNTRIED, page_feels
from true_margin.store import records
from true_margin.store.database import Database


def _book(database: Database, demo: records.Shootout) -> Book:
    return SHELF.take(database, demo.slug)


def test_each_machine_has_its_last_grade_of_everything_that_was_tried(
    database: Database, demo: records.Shootout
) -> None:
    book = _book(database, demo)
    (heddle,) = [each for each in page_feels(book) if each.app == "Heddle"]
    assert "scrub" in heddle.whats
    rows = {row.label: row for row in heddle.rows}
    tarn = {grade.what: grade for grade in rows["Tarn Desk"].grades}
    assert (tarn["playback full"].grade, tarn["playback full"].words) == ("stutters", "3 freezes")
    assert (tarn["seek"].grade, tarn["seek"].words) == ("", UNTRIED)
    assert all(len(row.grades) == len(heddle.whats) for row in heddle.rows)
    # Every grade that stands in the log's last day stands here.
    for feel in log_of(book).feels:
        if feel.app != "Heddle":
            continue
        for row in feel.rows:
            last = [cell for cell in row.cells if cell is not None][-1]
            shown = {grade.what: grade for grade in rows[feel.setup].grades}
            title = row.what if row.conditions is None else f"{row.what} ({row.conditions})"
            assert shown[title].grade == last.grade


def test_a_grade_that_changed_says_what_it_was_and_since_when(
    database: Database, demo: records.Shootout
) -> None:
    with writing(PLAIN):
        (heddle,) = [each for each in page_feels(_book(database, demo)) if each.app == "Heddle"]
    pebble = next(row for row in heddle.rows if row.label == "Pebble")
    scrub = next(grade for grade in pebble.grades if grade.what == "scrub")
    assert scrub.grade == "slow"
    assert "stutters before " in scrub.words
    assert heddle.tried.startswith("6.3, ")


def test_what_went_wrong_stands_with_its_day_and_the_version_that_mended_it(
    database: Database, demo: records.Shootout
) -> None:
    book = _book(database, demo)
    with writing(PLAIN):
        told = [line for feel in page_feels(book) for line in feel.troubles]
    entries = [
        entry
        for entry in log_of(book).entries
        if entry.sort == "trouble" and entry.app and entry.withdrawn_why is None
    ]
    assert len(told) == len(entries) > 0
    for entry in entries:
        assert any(entry.setup in line and entry.what in line for line in told)
        if entry.fixed_in:
            assert any(f"one in {entry.fixed_in}" in line for line in told)


def test_private_words_are_left_out(database: Database, demo: records.Shootout) -> None:
    book = _book(database, demo)
    secret = replace(
        book, troubles=tuple(replace(each, note="private: SECRET") for each in book.troubles)
    )
    assert not any("SECRET" in line for feel in page_feels(secret) for line in feel.troubles)
    assert not any(feel.troubles for feel in page_feels(secret))


def test_without_trials_there_is_nothing(database: Database) -> None:
    bench: Bench = new_bench(database, "Nothing felt")
    bench.run("A", "5:00", started_at=f"{date(2026, 11, 1)}T10:00:00Z")
    assert page_feels(SHELF.take(database, bench.slug)) == ()
