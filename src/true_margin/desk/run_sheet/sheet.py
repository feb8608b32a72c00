"""The run sheet: one line of live state a stage, and the one most useful next thing."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import UUID

from true_margin.core.margins import Call
from true_margin.core.wording import count_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.prices import view_price
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.fairness import tally
from true_margin.desk.publish.script import tally_claims
from true_margin.desk.run_sheet.next_thing import NextThing, next_thing
from true_margin.desk.runs.runs import flags_of
from true_margin.desk.tasks.outputs import wrong_outputs
from true_margin.desk.tasks.timelines import differing
from true_margin.store.database import Database

NOT_RIGHT = {"unread": "not understood", "asked": "to be asked about"}
"""Verdicts that say nothing of the claim itself, in words."""


@dataclass(frozen=True, slots=True)
class StageLine:
    """State of one stage; ``attention`` where a person is needed."""

    stage: str
    line: str
    attention: str | None


@dataclass(frozen=True, slots=True)
class RunSheet:
    """State of all stages; ``revision`` rises with every change.

    ``baseline_id`` is the setup that reads 1.00x, chosen or not.
    """

    revision: int
    baseline_id: UUID | None
    stages: tuple[StageLine, ...]
    next: NextThing


def show_sheet(database: Database, slug: str) -> RunSheet:
    """Give the run sheet of a shootout."""
    book = SHELF.take(database, slug)
    stages = (
        _lineup(book),
        _tasks(book),
        _bench(book),
        _runs(book),
        _margins(book),
        _picks(book),
        _publish(book),
    )
    baseline = None if book.baseline is None else book.baseline.id
    return RunSheet(book.shootout.revision, baseline, stages, next_thing(database, book))


def _lineup(book: Book) -> StageLine:
    if not book.machines:
        return StageLine("lineup", "no machines yet", None)
    line = f"{count_of(len(book.machines), 'machine')}, {count_of(len(book.setups), 'setup')}"
    prices = [view_price(book, machine) for machine in book.machines]
    unpriced = sum(price is None for price in prices)
    stale = sum(price is not None and price.stale for price in prices)
    attention = [f"{unpriced} unpriced" if unpriced else "", f"{stale} stale" if stale else ""]
    said = " · ".join(part for part in attention if part)
    return StageLine("lineup", line, said or None)


def _tasks(book: Book) -> StageLine:
    if not book.tasks and not book.observed:
        return StageLine("tasks", "no tasks yet", None)
    timelines = {task.timeline for task in book.tasks if task.timeline}
    current = [task for task in book.tasks if not task.superseded]
    line = count_of(len(current) + len(book.observed), "task")
    differ = len(differing(book))
    wrong = wrong_outputs(book)
    attention = [
        ("1 edit differs" if differ == 1 else f"{differ} edits differ") if differ else "",
        count_of(wrong, "wrong output") if wrong else "",
    ]
    words = f"{line}, {count_of(len(timelines), 'timeline')}"
    return StageLine("tasks", words, " · ".join(part for part in attention if part) or None)


def _bench(book: Book) -> StageLine:
    if not book.rounds:
        return StageLine("bench", "no round open", None)
    name = book.rounds[-1].name
    # Some rounds are named after what they are.
    line = name if name.casefold().startswith("round ") else f"{name} round"
    return StageLine("bench", line, None)


def _runs(book: Book) -> StageLine:
    if not book.runs:
        return StageLine("runs", "no runs yet", None)
    flagged = len(flags_of(book))
    return StageLine(
        "runs", count_of(len(book.runs), "run"), f"{flagged} flagged" if flagged else None
    )


def _margins(book: Book) -> StageLine:
    if not any(run.status == "ok" for run in book.runs):
        return StageLine("margins", "nothing to compare yet", None)
    calls = [comparison.pairs for comparison in analysis_of(book).tasks]
    open_calls = sum(pairs.count(Call.OPEN) for pairs in calls)
    clear = sum(pairs.count(Call.CLEAR) for pairs in calls)
    fair = tally(book)
    attention = [
        f"{count_of(open_calls, 'call')} open" if open_calls else "",
        count_of(fair.breaks, "break") if fair.breaks else "",
        f"{fair.muddy} muddy" if fair.muddy else "",
    ]
    said = " · ".join(part for part in attention if part)
    return StageLine("margins", f"{clear} clear", said or None)


def _picks(book: Book) -> StageLine:
    active = sum(viewer.retired_at is None for viewer in book.viewers)
    return StageLine("picks", count_of(active, "viewer") if active else "no viewers yet", None)


def _publish(book: Book) -> StageLine:
    if book.script is None:
        return StageLine("publish", "no script yet", None)
    found = tally_claims(book)
    attention = [
        *(f"{count} {NOT_RIGHT.get(verdict, verdict)}" for verdict, count in found.wrong.items()),
        f"{found.changed} changed" if found.changed else "",
    ]
    said = " · ".join(part for part in attention if part)
    return StageLine("publish", count_of(found.claims, "claim"), said or None)
