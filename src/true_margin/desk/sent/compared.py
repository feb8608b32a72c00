"""How machines that others timed do against those here, in words."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from true_margin.core.sent_in import say_sent, sent_difference
from true_margin.core.study import SentRuns
from true_margin.core.wording import count_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.sent import runs_by_task


@dataclass(frozen=True, slots=True)
class SentLine:
    """An accepted result of a machine that is not in the line-up, as a page shows it."""

    model: str
    sender: str
    basis: str
    says: str
    beside: str


def not_listed(book: Book) -> Iterator[SentLine]:
    """Accepted results of machines that were not tested here, the newest first."""
    for result in sorted(book.sent, key=lambda each: each.received_at, reverse=True):
        told = result.content or {}
        runs = runs_by_task(book, told)
        if result.setup_id is not None or not runs:
            continue
        yield SentLine(
            told["model"],
            told.get("sender") or "a viewer",
            f"{count_of(sum(len(each.seconds) for each in runs), 'run')} on "
            f"{count_of(len(runs), 'task')}",
            against(book, None, runs, same=False),
            beside(book, runs),
        )


def against(book: Book, setup: int | None, runs: Sequence[SentRuns], *, same: bool) -> str:
    """How a machine elsewhere does against a setup here, or the baseline where it is of none."""
    analysis = analysis_of(book)
    baseline = analysis.study.baseline
    held = setup if setup is not None else baseline
    if held is None or not runs:
        return "No counted run of a task that is here."
    found = sent_difference(analysis.study, analysis.cells, held, runs)
    name = book.setups[held].label
    if found is None:
        return f"Nothing in common with {name} here: other tasks."
    spread = analysis.unit_spread.cv
    return say_sent(found, name, book.shootout.confidence, spread, same_model=same)


def beside(book: Book, runs: Sequence[SentRuns]) -> str:
    """Between which of the setups here it would stand, on the tasks of both."""
    analysis = analysis_of(book)
    placed = []
    for s, setup in enumerate(book.setups):
        found = sent_difference(analysis.study, analysis.cells, s, runs)
        if found is not None:
            placed.append((found.log_ratio, setup.label))
    slower = max((each for each in placed if each[0] >= 0), default=None, key=lambda e: -e[0])
    faster = max((each for each in placed if each[0] < 0), default=None, key=lambda e: e[0])
    if slower is not None and faster is not None:
        return f"Between {faster[1]} and {slower[1]}."
    if slower is not None:
        return f"Ahead of all tested here, {slower[1]} the nearest."
    return "" if faster is None else f"Behind all tested here, {faster[1]} the nearest."
