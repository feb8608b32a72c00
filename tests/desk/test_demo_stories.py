"""The stories that the demo data must tell, found by the computation."""

from __future__ import annotations

import math

import pytest

from true_margin.core.analysis import Comparison
from true_margin.core.margins import Call, Margin
from true_margin.desk.book.analysis import analysis_of, slowed_runs
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.margins import show_ladder
from true_margin.desk.margins.verdicts import margin_between
from true_margin.desk.run_sheet.sheet import show_sheet
from true_margin.desk.runs.runs import flags_of, show_runs
from true_margin.exchange.data_pack import Pack
from true_margin.store import records
from true_margin.store.database import Database

PARADE = "Lantern parade, export UHD"
STILLS = "Rehearsal stills, export"
HALL = "Hall recording, clean-up"


@pytest.fixture(scope="module")
def book(database: Database, demo: records.Shootout) -> Book:
    return SHELF.take(database, demo.slug)


def comparison(book: Book, task: str) -> Comparison:
    return analysis_of(book).tasks[[t.name for t in book.tasks].index(task)]


def margin(book: Book, task: str, a: str, b: str) -> Margin:
    names = [setup.label for setup in book.setups]
    found = margin_between(comparison(book, task), names.index(a), names.index(b))
    assert found is not None, f"{a} or {b} was not measured on {task}"
    return found


def leader(book: Book, task: str) -> str:
    return book.setups[comparison(book, task).rungs[0].setup].label


def test_two_machines_that_share_no_part_are_level(book: Book) -> None:
    assert margin(book, PARADE, "Halyard S mains", "Cairn Brick").call is Call.LEVEL


def test_the_dear_laptop_against_the_raised_tower_is_open(book: Book) -> None:
    assert margin(book, PARADE, "Halyard L", "Ferrous T9 overclocked").call is Call.OPEN


def test_the_order_changes_with_the_task(book: Book) -> None:
    assert leader(book, "Curtain titles, export").startswith("Ferrous T9")
    assert leader(book, STILLS) == "Halyard L"
    assert margin(book, STILLS, "Halyard L", "Ferrous T9 stock").call is Call.CLEAR


def test_graphics_memory_decides_the_hall_recording(book: Book) -> None:
    for setup in ("Ferrous T9 stock", "Ferrous T9 overclocked"):
        assert margin(book, HALL, setup, "Tarn Desk").ratio == pytest.approx(6.0, rel=0.05)
    rest = ["Tarn Desk", "Halyard S mains", "Halyard L", "Cairn Brick"]
    calls = {margin(book, HALL, a, b).call for a in rest for b in rest if a != b}
    assert calls == {Call.LEVEL}


def test_the_app_launch_tells_nothing_apart(
    database: Database, demo: records.Shootout, book: Book
) -> None:
    task = next(t for t in book.tasks if t.name == "Heddle launch")
    notes = show_ladder(database, demo.slug, str(task.id)).notes
    assert any("does not separate them" in note for note in notes)


def test_battery_runs_are_seen_to_slow_down(book: Book) -> None:
    slowed = {
        book.setups[book.setup_index[r.setup_id]].label
        for r in book.runs
        if r.id in slowed_runs(book)
    }
    assert slowed == {"Halyard S battery"}
    assert len(slowed_runs(book)) == 3


def test_the_raised_clock_helps_the_parade_and_nothing_else(book: Book) -> None:
    stock, raised = "Ferrous T9 stock", "Ferrous T9 overclocked"
    on_parade = margin(book, PARADE, raised, stock)
    assert math.exp(on_parade.lo) < 1.03 < math.exp(on_parade.hi)
    for task in ("Curtain titles, export", STILLS, HALL, "Backstage diary, export in Heddle"):
        elsewhere = margin(book, task, raised, stock)
        assert elsewhere.lo < 0 < elsewhere.hi


def test_the_backup_is_flagged_in_the_run_that_still_counts(book: Book) -> None:
    large = next(s.id for s in book.setups if s.label == "Halyard L")
    backup = [r for r in book.runs if r.status == "void" and "backup" in (r.reason or "")]
    assert [r.setup_id for r in backup] == [large, large]
    odd = [
        r
        for r in book.runs
        if r.setup_id == large
        and r.round_id == book.rounds[0].id
        and "odd one" in flags_of(book).get(r.id, ())
    ]
    assert len(odd) == 1
    assert odd[0].status == "ok"


def test_the_cold_first_run_and_the_rounded_one_are_flagged(book: Book) -> None:
    flags = flags_of(book)
    cold = next(r for r in book.runs if r.note == "first after boot")
    assert "first differs" in flags[cold.id]
    rounded = next(r for r in book.runs if r.approximate)
    assert "coarse" in flags[rounded.id]


def test_the_false_start_is_void(book: Book) -> None:
    false = [r for r in book.runs if "false start" in (r.reason or "")]
    assert [r.status for r in false] == ["void"]


def test_the_spring_update_landed_unevenly(book: Book) -> None:
    effects = {(e.app, e.round): e.log_effect for e in analysis_of(book).fit.rounds}
    assert math.exp(-effects["Heddle", "spring"]) == pytest.approx(1.10, abs=0.03)
    assert analysis_of(book).fit.update.bridges_disagree
    assert analysis_of(book).fit.update.cv > 0.02


def test_one_editor_is_slower_on_one_machine_only(book: Book) -> None:
    names = [setup.label for setup in book.setups]
    theta = analysis_of(book).fit.theta
    tasks = [t.name for t in book.tasks]
    heddle, other = (
        tasks.index(f"Backstage diary, export in {app}") for app in ("Heddle", "Sprocketry")
    )

    def longer(setup: str) -> float:
        s = names.index(setup)
        return float(math.exp(theta[s, heddle] - theta[s, other]))

    assert longer("Halyard L") == pytest.approx(1.5, abs=0.05)
    assert longer("Cairn Brick") == pytest.approx(1.0, abs=0.03)


def test_the_thin_client_cannot_do_the_parade(
    database: Database, demo: records.Shootout, book: Book
) -> None:
    task = next(t for t in book.tasks if t.name == PARADE)
    view = show_ladder(database, demo.slug, str(task.id))
    reasons = {row.label: row.reason for row in view.off}
    assert "failed 2 of 2: ran out of disk" in reasons["Pebble"]
    assert reasons["Halyard M"].startswith(
        "not tested; claimed: 1.22 times as fast as Halyard S mains"
    )


def test_a_figure_from_spring_is_marked_as_carried_over(
    database: Database, demo: records.Shootout, book: Book
) -> None:
    task = next(t for t in book.tasks if t.name == "Lantern parade, background render")
    rows = show_ladder(database, demo.slug, str(task.id)).rows
    assert [row.label for row in rows if row.carried] == ["Halyard L"]


def test_the_run_sheet_says_where_a_person_is_needed(
    database: Database, demo: records.Shootout
) -> None:
    sheet = show_sheet(database, demo.slug)
    lines = {line.stage: (line.facts, line.todo) for line in sheet.stages}
    assert lines["lineup"] == (("7 machines, 9 setups", "1 price over 30 days old"), ())
    assert lines["runs"] == (("249 runs",), ("2 odd",))
    assert lines["margins"][1] == ("3 not comparable",)
    assert sheet.next[0].action.words == "Check it"


def test_every_run_of_the_files_is_in_the_book(
    database: Database, demo: records.Shootout, demo_pack: Pack
) -> None:
    stored = show_runs(database, demo.slug).runs
    assert len(stored) == len(demo_pack.runs)
    assert [r.run.value for r in stored] == [
        r.value for r in sorted(demo_pack.runs, key=lambda r: r.place)
    ]
