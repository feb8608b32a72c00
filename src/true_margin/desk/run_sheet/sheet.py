"""The run sheet: one line of live state a stage, and the one most useful next thing."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from uuid import UUID

from true_margin.core.labels import VERDICT, label_of
from true_margin.core.margins import Call
from true_margin.core.money import STALE_DAYS
from true_margin.core.wording import count_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.prices import view_price
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.doubts import doubt_of, odd_runs
from true_margin.desk.margins.fairness import tally
from true_margin.desk.publish.script_check import ClaimTally, tally_claims
from true_margin.desk.run_sheet.next_thing import NextThing, next_things
from true_margin.desk.tasks.outputs import wrong_outputs
from true_margin.desk.tasks.timelines import differing
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class StageLine:
    """State of one stage: what there is, and what a person has to do something about."""

    stage: str
    facts: tuple[str, ...]
    todo: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class RunSheet:
    """State of all stages; ``revision`` rises with every change.

    ``baseline_id`` is the setup that reads 1.00x, chosen or not; ``next`` are the useful next
    steps, the most useful first.
    """

    revision: int
    baseline_id: UUID | None
    stages: tuple[StageLine, ...]
    next: tuple[NextThing, ...]


def show_sheet(database: Database, slug: str) -> RunSheet:
    """Give the run sheet of a shootout."""
    book = SHELF.take(database, slug)
    claims = None if book.script is None else tally_claims(book)
    stages = stages_of(book, claims)
    baseline = None if book.baseline is None else book.baseline.id
    wrong = 0 if claims is None else claims.open
    following = next_things(database, book, wrong)
    return RunSheet(book.shootout.revision, baseline, stages, following)


def stages_of(book: Book, claims: ClaimTally | None) -> tuple[StageLine, ...]:
    """The state of every stage, in their order."""
    return (
        _lineup(book),
        _tasks(book),
        _bench(book),
        _runs(book),
        _margins(book),
        _picks(book),
        _publish(claims),
    )


def _line(stage: str, facts: Iterable[str], todo: Iterable[str] = ()) -> StageLine:
    """A stage's line without what is empty."""
    return StageLine(stage, tuple(filter(None, facts)), tuple(filter(None, todo)))


def _lineup(book: Book) -> StageLine:
    if not book.machines:
        return _line("lineup", ["no machines yet"])
    prices = [view_price(book, machine) for machine in book.machines]
    unpriced = sum(price is None for price in prices)
    stale = sum(price is not None and price.stale for price in prices)
    return _line(
        "lineup",
        [
            f"{count_of(len(book.machines), 'machine')}, {count_of(len(book.setups), 'setup')}",
            f"{unpriced} without a price" if unpriced else "",
            f"{count_of(stale, 'price')} over {STALE_DAYS} days old" if stale else "",
        ],
    )


def _tasks(book: Book) -> StageLine:
    if not book.tasks and not book.observed:
        return _line("tasks", ["no tasks yet"])
    timelines = {task.timeline for task in book.tasks if task.timeline}
    current = [task for task in book.tasks if not task.superseded]
    differ, wrong = len(differing(book)), wrong_outputs(book)
    tasks = count_of(len(current) + len(book.observed), "task")
    return _line(
        "tasks",
        [f"{tasks}, {count_of(len(timelines), 'timeline')}"],
        [
            ("1 edit differs" if differ == 1 else f"{differ} edits differ") if differ else "",
            ("1 export is wrong" if wrong == 1 else f"{wrong} exports are wrong") if wrong else "",
        ],
    )


def _bench(book: Book) -> StageLine:
    if not book.rounds:
        return _line("bench", ["no round yet"])
    name = book.rounds[-1].name
    # Some rounds are named after what they are.
    return _line("bench", [name if name.casefold().startswith("round ") else f"{name} round"])


def _runs(book: Book) -> StageLine:
    if not book.runs:
        return _line("runs", ["no runs yet"])
    odd = sum(doubt_of(book, run) is not None for run in odd_runs(book))
    return _line("runs", [count_of(len(book.runs), "run")], [f"{odd} odd" if odd else ""])


def _margins(book: Book) -> StageLine:
    if not any(run.status == "ok" for run in book.runs):
        return _line("margins", ["nothing to compare yet"])
    calls = [comparison.pairs for comparison in analysis_of(book).tasks]
    undecided = sum(pairs.count(Call.OPEN) for pairs in calls)
    clear = sum(pairs.count(Call.CLEAR) for pairs in calls)
    fair = tally(book)
    return _line(
        "margins",
        [
            f"{clear} clear",
            f"{undecided} undecided" if undecided else "",
            count_of(fair.muddy, "caveat") if fair.muddy else "",
        ],
        [f"{fair.breaks} not comparable" if fair.breaks else ""],
    )


def _picks(book: Book) -> StageLine:
    active = sum(viewer.retired_at is None for viewer in book.viewers)
    return _line("picks", [count_of(active, "viewer") if active else "no viewers yet"])


def _publish(claims: ClaimTally | None) -> StageLine:
    if claims is None:
        return _line("publish", ["no script yet"])
    return _line(
        "publish",
        [count_of(claims.claims, "claim")],
        [
            *(f"{count} {label_of(VERDICT, verdict)}" for verdict, count in claims.wrong.items()),
            f"{claims.confirm} to confirm" if claims.confirm else "",
            f"{claims.not_understood} not understood" if claims.not_understood else "",
            f"{claims.changed} changed" if claims.changed else "",
        ],
    )
