"""Lines that nobody has written yet: strong ones that hold, and near ones that do not."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from true_margin.core.claims.forms import Form
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.claims.words import Told, say_instead
from true_margin.core.margins import Call, Margin
from true_margin.core.wording import format_percent, format_ratio
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.publish.script_check import check_sentence
from true_margin.desk.publish.script_names import book_names

MOST_OFFERED = 5


@dataclass(frozen=True, slots=True)
class Offered:
    """A line that nobody has written yet, with its verdict."""

    text: str
    verdict: str
    shown: str
    say: str | None


def _margins(book: Book) -> Iterator[tuple[int, Margin]]:
    """Every margin of every task that counts, the faster setup first."""
    for task, weight in enumerate(analysis_of(book).study.mix):
        if weight <= 0:
            continue
        pairs = analysis_of(book).compare(task).pairs
        k = len(pairs.contrasts.setups)
        for i in range(k):
            for j in range(k):
                if i != j and pairs.comparable[i, j] and pairs.contrasts.log_ratio[i, j] > 0:
                    yield task, pairs.margin(i, j)


def _offer(book: Book, text: str) -> Offered | None:
    found = check_sentence(book, book_names(book), text)
    return None if found is None else Offered(text, found.verdict.value, found.shown, found.say)


def true_lines(book: Book) -> Iterator[Offered]:
    """The strongest lines that hold, of all pairs: a task each, and each of another machine."""
    clear = sorted(
        ((task, m) for task, m in _margins(book) if m.call is Call.CLEAR),
        key=lambda each: (each[1].b != analysis_of(book).study.baseline, -each[1].lo),
    )
    told: set[int] = set()
    of: set[str] = set()
    # First a machine each; then, where there are fewer machines than lines, tasks not yet told.
    for once in (True, False):
        for task, margin in clear:
            machine = book.setups[margin.a].machine
            if len(told) == MOST_OFFERED or task in told or (once and machine in of):
                continue
            offered = _holding(book, task, margin)
            if offered is not None:
                told.add(task)
                of.add(machine)
                yield offered


def _holding(book: Book, task: int, margin: Margin) -> Offered | None:
    """The plainest line of a margin that holds: as people speak, else exactly."""
    study = analysis_of(book).study
    a, b = study.setups[margin.a], study.setups[margin.b]
    on = study.tasks[task].name
    exact = say_instead(Told(Form.RATIO, margin.a, margin.b, task, margin), study)
    for text in (*(f"{a} {words} {b} on {on}." for words in _as_spoken(margin)), exact):
        offered = _offer(book, text)
        if offered is not None and offered.verdict == Verdict.HOLDS.value:
            return offered
    return None


def _as_spoken(margin: Margin) -> Iterator[str]:
    """Ways to say how much faster, the roundest first."""
    ratio, least = math.exp(margin.log_ratio), math.exp(margin.lo)
    whole = math.floor(least)
    if whole >= 2 and least <= 1.15 * whole:
        yield f"is over {'twice' if whole == 2 else f'{whole} times'} as fast as"
    if 1.9 <= ratio < 2.1:
        yield "is about twice as fast as"
    if ratio >= 2.0:
        yield f"is about {format_ratio(ratio)} times as fast as"
    else:
        yield f"is about {format_percent(100 * (ratio - 1))} % faster than"


def tempting_lines(book: Book) -> Iterator[Offered]:
    """Lines that are near at hand and do not hold: wins inside the noise, ratios rounded up."""
    study = analysis_of(book).study
    count, told = 0, set()
    for task, margin in _margins(book):
        a, b = study.setups[margin.a], study.setups[margin.b]
        near_twice = 1.5 <= math.exp(margin.log_ratio) < 1.75
        if near_twice:
            text = f"{a} is nearly twice as fast as {b} on {study.tasks[task].name}."
        elif margin.call in (Call.OPEN, Call.LEVEL):
            text = f"{a} is faster than {b} on {study.tasks[task].name}."
        else:
            continue
        kind = (task, near_twice)
        offered = None if kind in told else _offer(book, text)
        if offered is None or offered.verdict in (Verdict.HOLDS.value, Verdict.LIKELY.value):
            continue
        told.add(kind)
        count += 1
        yield offered
        if count == MOST_OFFERED:
            return
