"""A correction says what was and what is, which answers change, and what still says the old."""

from __future__ import annotations

import pytest

from tests.desk.helpers import Bench, priced_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.picks import viewers
from true_margin.desk.publish import cards, editions, public_page, script
from true_margin.desk.runs import runs
from true_margin.store.database import Database

SLOWED = "a backup ran beside it"


@pytest.fixture
def bench(database: Database) -> Bench:
    return priced_bench(database, "Corrected")


def _correct(bench: Bench, reason: str = SLOWED) -> None:
    """Everything on B was wrong: it takes twice as long."""
    book = SHELF.take(bench.database, bench.slug)
    for run in book.runs:
        if run.setup_id == bench.setups["B"]:
            fields = {"status": "void", "reason": reason}
            runs.revise_run(bench.database, run.id, run.version, fields, "Marit", reason)
    for _ in range(3):
        bench.run("B", "9:50", method="log")


def _view(bench: Bench) -> editions.PublicView:
    return editions.show_public(bench.database, bench.slug)


def _publish(bench: Bench, note: str | None = None) -> editions.PublicView:
    return editions.publish_edition(bench.database, bench.slug, note, "Marit")


def test_a_figure_is_told_from_what_to_what_and_why(bench: Bench) -> None:
    assert not _publish(bench).correction
    _correct(bench)
    view = _view(bench)
    assert view.correction
    assert f"Parade: B 5:00, now 9:50. Withdrawn: {SLOWED}." in view.waiting


def test_a_private_reason_stays_private(bench: Bench) -> None:
    _publish(bench)
    _correct(bench, "private: I fell asleep")
    assert "Parade: B 5:00, now 9:50." in _view(bench).waiting
    assert not any("asleep" in line for line in _view(bench).waiting)


def test_more_of_the_same_is_no_correction(bench: Bench) -> None:
    _publish(bench)
    bench.run("A", "10:00", method="log")
    view = _view(bench)
    assert not view.correction
    assert "1 run more." in view.waiting
    assert view.echoes == ()


def test_answers_that_change_are_listed_by_machine_and_viewer(bench: Bench) -> None:
    viewer = SHELF.take(bench.database, bench.slug).viewers[0]
    viewers.change_viewer(
        bench.database, viewer.id, viewer.version, {"rule": "fastest", "budget": None}
    )
    _publish(bench)
    for run in SHELF.take(bench.database, bench.slug).runs:
        if run.setup_id == bench.setups["B"]:
            fields = {"status": "void", "reason": SLOWED}
            runs.revise_run(bench.database, run.id, run.version, fields, "Marit", SLOWED)
    for _ in range(3):
        bench.run("B", "20:00", method="log")
    waiting = _view(bench).waiting
    assert "Film maker: was B, now keep A." in waiting
    assert "Film maker who has none of these: was B, now A." in waiting
    assert "Film maker who has B: was keep it, now A." in waiting


def test_lines_of_the_script_and_cards_that_say_the_old_are_named(bench: Bench) -> None:
    text = "B exports the Parade in 5:00. A takes 10:00 on the Parade."
    script.keep_script(bench.database, bench.slug, text, 0)
    cards.add_card(bench.database, bench.slug, {"kind": "bar", "task_id": bench.tasks["Parade"]})
    _publish(bench)
    assert _view(bench).echoes == ()
    _correct(bench)
    line, card = _view(bench).echoes
    assert line.startswith("Script, line 1: “B exports the Parade in 5:00.” no longer holds.")
    assert "9:50" in line
    assert card.startswith("Card “")
    assert card.endswith("pictures taken from it show the old figures.")


def test_a_new_edition_keeps_the_notes_of_those_before(bench: Bench) -> None:
    _publish(bench, "The first words.")
    _correct(bench)
    view = _publish(bench, "B was measured while a backup ran.")
    token = view.links[0].token
    page = public_page.public_page(bench.database, token, None, {})
    for words in (
        "The first words.",
        "B was measured while a backup ran.",
        "Parade: B 5:00, now 9:50.",
        "Edition 2, this one",
        "Read edition 1",
    ):
        assert words in page
    assert not view.correction
    assert view.echoes == ()
