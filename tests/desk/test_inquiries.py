"""Inquiries: dated steps, with runs and what was seen, from a suspicion to what counts."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any
from uuid import uuid4

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.desk.bench import observed
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, StaleError
from true_margin.desk.margins import inquiries, out_of_line, pairs
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.publish import page_data
from true_margin.exchange.data_pack import Pack, write_pack, zip_files
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database)
    bench.run("A", "6:17")
    bench.run("B", "8:17")
    return bench


def inquiry_on(bench: Bench, **more: object) -> inquiries.InquiryView:
    fields = {
        "kind": "other",
        "about": "B is slow",
        "suspected": "a backup program",
        "task_id": bench.tasks["Parade"],
        "setup_a_id": bench.setups["B"],
        "setup_b_id": None,
        **more,
    }
    return inquiries.open_inquiry(bench.database, bench.slug, fields, "Jo")


def step(
    bench: Bench, view: inquiries.InquiryView, kind: str, words: str | None = None, **more: Any
) -> inquiries.InquiryView:
    told = {"kind": kind, "words": words, **more}
    key, version = view.inquiry.id, view.inquiry.version
    return inquiries.add_step(bench.database, key, version, told, "Mei")


def test_an_inquiry_from_its_suspicion_to_what_counts(bench: Bench) -> None:
    view = inquiry_on(bench)
    assert view.line == "Checking: a backup program. Not settled yet."
    view = step(bench, view, "changed", "backup off")
    again = bench.run("B", "6:21").run
    view = step(bench, view, "tried again", run_ids=[again.id])
    assert view.steps[-1].things[0].words == "B, Parade: 6:21"
    closed = step(bench, view, "came out", "two minutes less", counts="again")
    assert closed.line == (
        "Checked: a backup program. Rerun 1 time: two minutes less. The reruns count."
    )
    assert closed.inquiry.closed_at is not None
    assert [(s.place, s.kind, s.words, s.who) for s in closed.steps] == [
        (1, "suspected", "a backup program", "Jo"),
        (2, "changed", "backup off", "Mei"),
        (3, "tried again", None, "Mei"),
        (4, "came out", "two minutes less", "Mei"),
    ]
    moments = [each.noted_at for each in closed.steps]
    assert moments == sorted(moments)
    assert abs((datetime.now(UTC) - moments[0]).total_seconds()) < 60
    key = str(bench.tasks["Parade"])
    pair = pairs.show_pair(bench.database, bench.slug, key, bench.setups["A"], bench.setups["B"])
    assert [each.line for each in pair.inquiries] == [closed.line]


def test_reopening_is_a_step_and_nothing_that_was_said_is_hidden(bench: Bench) -> None:
    view = step(bench, inquiry_on(bench), "came out", "it was the backup", counts="before")
    with pytest.raises(RefusedError, match="closed: open it again first"):
        step(bench, view, "changed", "more")
    view = step(bench, view, "opened again", "it happened once more")
    assert (view.inquiry.closed_at, view.inquiry.counts) == (None, None)
    view = step(bench, view, "suspected", "the drive was full")
    view = step(bench, view, "came out", "with room it repeats", counts="none")
    assert [each.words for each in view.steps] == [
        "a backup program",
        "it was the backup",
        "it happened once more",
        "the drive was full",
        "with room it repeats",
    ]
    assert view.line.startswith("Checked: the drive was full. Outcome: with room")
    book = SHELF.take(bench.database, bench.slug)
    ((line, steps),) = page_data.report_data(bench.database, book).inquiries
    assert line == view.line
    assert [each.split(", ", 1)[1] for each in steps] == [
        "suspected: a backup program",
        "came out: it was the backup; the first runs count",
        "opened again: it happened once more",
        "suspected: the drive was full",
        "came out: with room it repeats; none of them counts",
    ]


def test_what_was_seen_belongs_to_a_step_with_its_setup_and_task(bench: Bench) -> None:
    seen = {"setup_id": bench.setups["B"], "kind": "scrub", "grade": "stutters", "freezes": 3}
    fault = {"setup_id": bench.setups["B"], "kind": "crash"}
    task = bench.tasks["Parade"]
    trial = observed.note_trial(bench.database, bench.slug, {"task_id": task, **seen}, "Jo").trials[
        0
    ]
    trouble = observed.note_trouble(
        bench.database, bench.slug, {"task_id": task, **fault}, "Jo"
    ).troubles[0]
    view = step(
        bench, inquiry_on(bench), "tried again", trial_ids=[trial.id], trouble_ids=[trouble.id]
    )
    assert [(thing.sort, thing.words) for thing in view.steps[-1].things] == [
        ("trial", "B, Parade: scrub stutters (3 freezes)"),
        ("trouble", "B, Parade: crash"),
    ]


@pytest.mark.parametrize(
    ("told", "field"),
    [
        ({"kind": "changed"}, "words"),
        ({"kind": "tried again"}, "words"),
        ({"kind": "changed", "words": "x", "counts": "both"}, "counts"),
        ({"kind": "came out", "counts": "both"}, "words"),
        ({"kind": "opened again", "words": "x"}, "kind"),
        ({"kind": "tried again", "trial_ids": [uuid4()]}, "trial_ids"),
        ({"kind": "tried again", "trouble_ids": [uuid4()]}, "trouble_ids"),
    ],
)
def test_a_step_that_says_nothing_is_refused(
    bench: Bench, told: dict[str, Any], field: str
) -> None:
    view = inquiry_on(bench)
    with pytest.raises(RefusedError) as refused:
        inquiries.add_step(bench.database, view.inquiry.id, 1, told, "Jo")
    assert refused.value.field == field
    assert len(SHELF.take(bench.database, bench.slug).inquiries[0].steps) == 1


def test_two_who_note_a_step_at_once_do_not_overwrite_each_other(bench: Bench) -> None:
    view = inquiry_on(bench)
    step(bench, view, "changed", "backup off")
    with pytest.raises(StaleError):
        step(bench, view, "changed", "screen off")


def test_an_inquiry_is_about_this_shootout(bench: Bench, database: Database) -> None:
    other = new_bench(database)
    with pytest.raises(RefusedError):
        inquiry_on(bench, setup_a_id=other.setups["A"])
    with pytest.raises(RefusedError):
        inquiry_on(bench, task_id=other.tasks["Parade"])
    strange = other.run("A", "6:17").run
    opened = inquiry_on(bench)
    with pytest.raises(RefusedError):
        step(bench, opened, "tried again", run_ids=[strange.id])
    assert out_of_line.show_out_of_line(database, bench.slug).inquiries[0].runs == ()
    with pytest.raises(NotFoundError):
        inquiries.add_step(database, uuid4(), 1, {"kind": "changed", "words": "x"}, "Jo")


def told_steps(pack: Pack) -> list[tuple[Any, ...]]:
    return [
        (each.place, each.kind, each.words, each.counts, each.who, each.noted_at)
        for each in pack.inquiry_steps
    ]


def test_a_pack_keeps_every_step_with_what_belongs_to_it(bench: Bench, database: Database) -> None:
    seen = {"setup_id": bench.setups["B"], "kind": "scrub", "grade": "slow"}
    trial = observed.note_trial(
        database, bench.slug, {"task_id": bench.tasks["Parade"], **seen}, "Jo"
    ).trials[0]
    again = bench.run("B", "6:21").run
    view = step(bench, inquiry_on(bench), "tried again", run_ids=[again.id], trial_ids=[trial.id])
    step(bench, view, "came out", "two minutes less", counts="again")
    pack = export_pack(database, bench.slug)
    there = import_zip(database, zip_files(write_pack(pack)))
    (kept,) = out_of_line.show_out_of_line(database, there.slug).inquiries
    assert told_steps(export_pack(database, there.slug)) == told_steps(pack)
    assert [thing.words for thing in kept.steps[1].things] == [
        "B, Parade: 6:21",
        "B, Parade: scrub slow",
    ]


def test_a_pack_of_before_gets_its_steps_from_what_it_says(
    bench: Bench, database: Database
) -> None:
    again = bench.run("B", "6:21").run
    view = step(bench, inquiry_on(bench), "changed", "backup off")
    view = step(bench, view, "tried again", run_ids=[again.id])
    step(bench, view, "came out", "two minutes less", counts="again")
    pack = export_pack(database, bench.slug)
    links = [link.model_copy(update={"step": None}) for link in pack.inquiry_runs]
    before = pack.model_copy(update={"inquiry_steps": [], "inquiry_runs": links})
    there = import_zip(database, zip_files(write_pack(before)))
    (kept,) = out_of_line.show_out_of_line(database, there.slug).inquiries
    assert [(each.kind, each.words, len(each.things)) for each in kept.steps] == [
        ("suspected", "a backup program", 0),
        ("changed", "backup off", 0),
        ("tried again", None, 1),
        ("came out", "two minutes less", 0),
    ]


def test_an_odd_result_can_be_left_as_it_is_with_a_reason(bench: Bench, database: Database) -> None:
    view = inquiry_on(bench, outcome="it is the older sample")
    assert view.inquiry.closed_at is not None
    assert [(step.kind, step.words) for step in view.steps] == [
        ("suspected", "a backup program"),
        ("came out", "it is the older sample"),
    ]
    assert "Both count" in view.line
    # It can be opened again like every other.
    again = step(bench, view, "opened again", "a newer sample came")
    assert again.inquiry.closed_at is None
