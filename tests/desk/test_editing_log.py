"""The log of what was seen: nothing overwrites, corrections stand for what they correct."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.bench import observed
from true_margin.desk.book.editing_log import EditingLog, show_log
from true_margin.desk.book.needs import seen_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.publish import cards, page_data, script
from true_margin.desk.publish.card_facts import card_of
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.publish.card_data import FeelCard
from true_margin.publish.looks import Shape
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Seen")


@pytest.fixture
def clock(monkeypatch: pytest.MonkeyPatch) -> list[datetime]:
    """The day on which things are noted; the last one counts."""
    now = [datetime(2026, 10, 17, 9, tzinfo=UTC)]

    class Clock:
        @staticmethod
        def now(_: object) -> datetime:
            now.append(now[-1].replace(minute=(now[-1].minute + 1) % 60))
            return now[-1]

    monkeypatch.setattr(observed, "datetime", Clock)
    return now


def trial(bench: Bench, grade: str, kind: str = "scrub", **more: Any) -> observed.Observations:
    seen = {"setup_id": bench.setups["A"], "kind": kind, "grade": grade, **more}
    return observed.note_trial(
        bench.database, bench.slug, {"task_id": bench.tasks["Parade"], **seen}, "Marit"
    )


def trouble(bench: Bench, kind: str, **more: Any) -> observed.Observations:
    seen = {"setup_id": bench.setups["A"], "kind": kind, **more}
    return observed.note_trouble(
        bench.database, bench.slug, {"task_id": bench.tasks["Parade"], **seen}, "Marit"
    )


def log(bench: Bench) -> EditingLog:
    return show_log(bench.database, bench.slug)


def test_a_week_of_stutters_is_told_day_by_day(bench: Bench, clock: list[datetime]) -> None:
    shootouts.add_round(bench.database, bench.slug, "autumn", {"Heddle": "12.0"})
    trial(bench, "stutters", freezes=11)
    trial(bench, "unusable", "playback full", seen_under="UHD, three effects")
    clock.append(datetime(2026, 11, 24, 9, tzinfo=UTC))
    shootouts.add_round(bench.database, bench.slug, "winter", {"Heddle": "12.1"})
    trial(bench, "slow", freezes=0)
    (feel,) = log(bench).feels
    assert (feel.setup, feel.app) == ("A", "Heddle")
    assert [(str(day.day), day.version) for day in feel.days] == [
        ("2026-10-17", "12.0"),
        ("2026-11-24", "12.1"),
    ]
    assert feel.words == "Better than at first: scrub went from stutters to slow."
    scrub, playback = feel.rows
    assert [cell and (cell.grade, cell.counts) for cell in scrub.cells] == [
        ("stutters", "11 freezes"),
        ("slow", "no freeze"),
    ]
    assert playback.conditions == "UHD, three effects"
    assert playback.cells[1] is None
    assert len(log(bench).entries) == 3


def test_a_correction_stands_for_what_it_corrects_which_stays(
    bench: Bench, clock: list[datetime]
) -> None:
    first = trial(bench, "slow", "page switch").trials[0]
    trial(bench, "smooth", "page switch", corrects_id=first.id)
    (feel,) = log(bench).feels
    (cell,) = feel.rows[0].cells
    assert cell is not None
    assert (cell.grade, cell.was) == ("smooth", "slow")
    now, before = log(bench).entries
    assert (now.grade, now.corrects) == ("smooth", "page switch: slow")
    assert (before.grade, before.withdrawn_why) == ("slow", "corrected")
    assert feel.words == "Smooth in all 1 trial."


def test_what_is_withdrawn_counts_for_nothing_and_stays_on_record(bench: Bench) -> None:
    seen = trial(bench, "unusable").trials[0]
    trouble(bench, "crash", note="on export")
    assert seen_of(SHELF.take(bench.database, bench.slug))[0].trials == {"scrub": "unusable"}
    left = observed.withdraw_entry(bench.database, "trials", seen.id, "the wrong machine")
    assert left.trials == ()
    book = SHELF.take(bench.database, bench.slug)
    assert seen_of(book)[0].trials == {}
    assert [entry.withdrawn_why for entry in log(bench).entries if entry.sort == "trial"] == [
        "the wrong machine"
    ]
    with pytest.raises(NotFoundError):
        observed.withdraw_entry(bench.database, "troubles", seen.id, "no such trouble")


def test_a_trouble_that_is_gone_in_a_version_counts_no_more(bench: Bench) -> None:
    crash = trouble(bench, "crash", app_version="12.0").troubles[0]
    assert seen_of(SHELF.take(bench.database, bench.slug))[0].troubles == {"crash": 1}
    trouble(bench, "crash", app_version="12.0", fixed_in="12.1", corrects_id=crash.id)
    assert seen_of(SHELF.take(bench.database, bench.slug))[0].troubles == {}
    newest = log(bench).entries[0]
    assert (newest.what, newest.fixed_in, newest.corrects) == ("crash", "12.1", "crash")


def test_a_failed_run_is_in_the_log_with_its_reason(bench: Bench) -> None:
    bench.run("A", None, status="failed", reason="out of memory", reached=0.4)
    (entry,) = log(bench).entries
    assert (entry.what, entry.note, entry.counts) == ("failed run", "out of memory", "reached 40 %")


def test_an_own_kind_needs_its_name(bench: Bench) -> None:
    with pytest.raises(RefusedError, match="an own kind needs its name"):
        trial(bench, "slow", "own kind")
    with pytest.raises(RefusedError, match="an own kind needs its name"):
        trial(bench, "slow", "scrub", own_kind="grading")
    trial(bench, "slow", "own kind", own_kind="grading")
    assert log(bench).feels[0].words == "At worst slow: grading."


def test_a_pack_carries_the_whole_log(bench: Bench, clock: list[datetime]) -> None:
    first = trial(bench, "slow", freezes=2, seen_under="HD", timecode="00:01:02").trials[0]
    trial(bench, "smooth", corrects_id=first.id, app_version="12.1")
    trouble(bench, "device not found", fixed_in="12.2", note="the capture box")
    copied = import_zip(
        bench.database, zip_files(write_pack(export_pack(bench.database, bench.slug)))
    )
    mine, theirs = log(bench), show_log(bench.database, copied.slug)
    assert theirs.feels[0].rows == mine.feels[0].rows
    assert theirs.feels[0].words == mine.feels[0].words

    def told(each: EditingLog) -> list[tuple[Any, ...]]:
        return [
            (
                *(e.what, e.grade, e.counts, e.conditions, e.timecode, e.fixed_in, e.version),
                *(e.note, e.withdrawn_why, e.corrects),
            )
            for e in each.entries
        ]

    assert told(theirs) == told(mine)
    assert len(mine.entries) == 3


PNG = b"\x89PNG\r\n\x1a\n" + bytes(40)


def seen_on(bench: Bench, **seen: Any) -> dict[str, Any]:
    return {"setup_id": bench.setups["A"], **seen}


def test_an_entry_may_be_of_an_app_or_of_the_machine_alone(bench: Bench) -> None:
    shootouts.add_round(bench.database, bench.slug, "autumn", {"Kiln": "4.1"})
    scrub = seen_on(bench, app="Kiln", kind="scrub", grade="slow", measured="18 frames/s")
    observed.note_trial(bench.database, bench.slug, scrub, "Jo")
    missing = seen_on(bench, kind="device not found", note="the card reader", times=3)
    observed.note_trouble(bench.database, bench.slug, missing, "Jo")
    trouble, tried = log(bench).entries
    assert (tried.task, tried.app, tried.version, tried.counts) == (
        None,
        "Kiln",
        "4.1",
        "18 frames/s",
    )
    assert (trouble.task, trouble.app, trouble.counts) == (None, None, "3 times")
    (feel,) = log(bench).feels
    assert (feel.app, feel.troubles) == ("Kiln", 0)
    seen = seen_of(SHELF.take(bench.database, bench.slug))[0]
    assert (seen.trials["scrub"], seen.troubles["device not found"]) == ("slow", 3)
    # What corrects it stays in the app.
    again = {**scrub, "grade": "smooth", "corrects_id": tried.id}
    observed.note_trial(bench.database, bench.slug, again, "Jo")
    (feel,) = log(bench).feels
    assert [cell and (cell.grade, cell.was) for cell in feel.rows[0].cells] == [("smooth", "slow")]


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"measured": "quick"}, "measured"),
        ({"app": "Kiln", "task": "Parade"}, "app"),
        ({"task": "elsewhere"}, "task_id"),
    ],
)
def test_an_entry_that_says_something_odd_is_refused(
    bench: Bench, database: Database, more: dict[str, Any], field: str
) -> None:
    named = dict(more)
    task = named.pop("task", None)
    if task is not None:
        other = new_bench(database, "Elsewhere")
        named["task_id"] = bench.tasks.get(task, other.tasks["Parade"])
    told = seen_on(bench, kind="scrub", grade="slow", **named)
    with pytest.raises(RefusedError) as refused:
        observed.note_trial(database, bench.slug, told, "Jo")
    assert refused.value.field == field
    assert log(bench).entries == ()


def test_a_picture_belongs_to_an_entry_and_travels_with_it(
    bench: Bench, database: Database
) -> None:
    kept = observed.note_trial(
        database, bench.slug, seen_on(bench, kind="scrub", grade="slow", app="Kiln"), "Jo"
    )
    crash = observed.note_trouble(database, bench.slug, seen_on(bench, kind="crash"), "Jo")
    with pytest.raises(RefusedError, match="neither a PNG nor a JPEG"):
        observed.attach_picture(database, "trials", kept.trials[0].id, "a.txt", b"text", "Jo")
    observed.attach_picture(database, "trials", kept.trials[0].id, "scrub.png", PNG, "Jo")
    observed.attach_picture(database, "troubles", crash.troubles[0].id, "crash.png", PNG, "Jo")
    names = {entry.what: [each.name for each in entry.pictures] for entry in log(bench).entries}
    assert names == {"scrub": ["scrub.png"], "crash": ["crash.png"]}
    pack = export_pack(database, bench.slug)
    assert [(each.entry, each.run) for each in pack.pictures] == [
        ("trial", None),
        ("trouble", None),
    ]
    there = import_zip(database, zip_files(write_pack(pack)))
    again = show_log(database, there.slug).entries
    assert {entry.what: [each.name for each in entry.pictures] for entry in again} == names
    assert {entry.what: entry.app for entry in again} == {"scrub": "Kiln", "crash": None}


def test_the_feel_card_shows_the_last_grade_of_each_and_what_went_wrong(bench: Bench) -> None:
    with pytest.raises(RefusedError, match="Nothing was tried yet"):
        feel_card(bench)
    trial(bench, "stutters", freezes=11)
    trial(bench, "slow", freezes=2)
    trial(bench, "smooth", "seek", setup_id=bench.setups["B"])
    trouble(bench, "crash", times=2)
    trouble(bench, "freeze", fixed_in="12.1")
    card = feel_card(bench)
    assert card.heading.title == "How editing feels in Heddle"
    assert [who.label for who in card.columns] == ["A", "B"]
    marks = {title: [m and (m.grade, m.counts) for m in own] for title, own in card.rows}
    assert marks == {"Scrub": [("slow", "2 freezes"), None], "Seek": [None, ("smooth", "")]}
    assert card.faults == ("crash, 2 times", "")


def feel_card(bench: Bench) -> FeelCard:
    book = SHELF.take(bench.database, bench.slug)
    kept = next((card for card in book.cards if card.kind == "feel"), None)
    if kept is None:
        view = cards.add_card(bench.database, bench.slug, {"kind": "feel"})
        book, kept = SHELF.take(bench.database, bench.slug), view.card
    card = card_of(book, kept, Shape.WIDE)
    assert isinstance(card, FeelCard)
    return card


def test_page_and_report_tell_what_was_seen_but_nothing_private(bench: Bench) -> None:
    trial(bench, "stutters", freezes=11, note="private: the maker's beta")
    trial(bench, "slow", "seek", seen_under="UHD")
    trouble(bench, "crash", note="while a page was switched")
    book = SHELF.take(bench.database, bench.slug)
    data = page_data.page_data(book)
    assert data.seen == ("A, Heddle: At worst slow: seek. 1 problem.", "A: crash")
    seen = page_data.report_data(bench.database, book).log
    assert [(entry.what, entry.conditions, entry.note) for entry in seen] == [
        ("crash", None, "while a page was switched"),
        ("seek", "UHD", None),
    ]


def test_the_script_holds_how_editing_felt_against_the_log(bench: Bench) -> None:
    trial(bench, "stutters", freezes=11)
    trial(bench, "slow", freezes=2)
    trouble(bench, "crash", times=2)

    def check(text: str) -> tuple[str, str | None]:
        (line,) = script.check_script(bench.database, bench.slug, text).claims
        return line.verdict, line.say

    assert check("A stutters when scrubbing.") == ("overstated", "A is slow when scrubbing.")
    assert check("The A is slow when scrubbing in Heddle.")[0] == "holds"
    assert check("A is smooth when seeking.") == ("untested", None)
    assert check("A crashed three times.") == ("overstated", "A crashed twice.")
    assert check("A never crashed.")[0] == "backwards"
    assert check("B never crashed.")[0] == "likely"
    # A pronoun is not the beginning of a name.
    bench.machine("Item")
    assert script.check_script(bench.database, bench.slug, "It crashed twice.").claims == ()
    # What it does not know is left to the other grammar.
    assert check("Nobody is smooth when scrubbing and is faster than A.")[0] != "holds"
