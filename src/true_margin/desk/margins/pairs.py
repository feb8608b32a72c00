"""One pair of setups in every way that it can be said, with its working."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from uuid import UUID

from true_margin.core.analysis import Comparison
from true_margin.core.margins import Call, Margin, time_saved
from true_margin.core.noted import note_of_pair
from true_margin.core.notes import parse_ratio, say_note
from true_margin.core.wording import percent_faster, percent_less_time, say_bound
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.editing_log import seen_lines
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.margins.inquiries import InquiryView, inquiries_on
from true_margin.desk.margins.margins import MIX, task_index, title
from true_margin.desk.margins.off_ladder import bound_words
from true_margin.desk.margins.pair_call import prove_pair, say_pair
from true_margin.desk.margins.pair_differences import ParityLine, parity_lines, why_apart
from true_margin.desk.margins.pair_terms import behind_of, formula_of, place_of
from true_margin.desk.margins.published import PublishedView, published_on
from true_margin.desk.margins.same_work import FixedCostLine, fixed_cost_lines
from true_margin.desk.margins.settling import counted_runs, settle_words
from true_margin.desk.margins.verdicts import margin_between
from true_margin.desk.margins.words.pairs import (
    OF_BOUNDS,
    OF_NOTES,
    say_behind,
    say_formula,
    say_known,
    say_noted_pair,
    slower_by,
)
from true_margin.store import records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class WayToSay:
    """One way to say a margin; numbers in the unit that ``title`` names."""

    title: str
    value: float
    lo: float
    hi: float
    unit: str


@dataclass(frozen=True, slots=True)
class NotedLine:
    """A ratio that somebody else says of the pair, and what becomes of it here.

    ``agrees`` says whether its interval and the measured one overlap; None where nothing was
    measured.
    """

    id: UUID
    words: str
    source: str
    who: str
    status: str
    agrees: bool | None
    withdrawn_why: str | None


@dataclass(frozen=True, slots=True)
class PairView:
    """One pair on one task or the mix, seen from the faster side."""

    key: str
    title: str
    measure: str
    a_id: UUID
    a: str
    b_id: UUID
    b: str
    call: str
    sentence: str
    ratio: float | None
    lo: float | None
    hi: float | None
    se: float | None
    df: float | None
    ways: tuple[WayToSay, ...]
    handicap: float | None
    behind: tuple[str, ...]
    settle: str | None
    parity: tuple[ParityLine, ...]
    runs: tuple[records.Run, ...]
    formula: tuple[str, ...]
    published: tuple[PublishedView, ...]
    inquiries: tuple[InquiryView, ...]
    fixed_cost: tuple[FixedCostLine, ...]
    noted: tuple[NotedLine, ...] = ()
    seen: tuple[str, ...] = ()
    proof: str = ""


def show_pair(database: Database, slug: str, key: str, a_id: UUID, b_id: UUID) -> PairView:
    """Give one pair in every way it can be said, seen from the faster side."""
    book = SHELF.take(database, slug)
    task = task_index(book, key)
    view = _show(book, task, a_id, b_id)
    return replace(
        view,
        noted=tuple(_noted_on(book, task, {a_id, b_id})),
        seen=seen_lines(book, (view.a_id, view.b_id)),
    )


def _noted_on(book: Book, task: int | None, pair: set[UUID]) -> Iterable[NotedLine]:
    """What others say of a pair on a task, oldest first; what was withdrawn last."""
    if task is None:
        return
    judged = iter(analysis_of(book).notes)
    lines = []
    for ratio in book.ratios:
        counts = ratio.withdrawn_at is None and ratio.task_id in book.task_index
        # Notes of the analysis stand in the order of those that count.
        told = next(judged) if counts else None
        if {ratio.setup_id, ratio.against_id} != pair or ratio.task_id != book.tasks[task].id:
            continue
        names = [
            book.setups[book.setup_index[key]].label for key in (ratio.setup_id, ratio.against_id)
        ]
        lines.append(
            NotedLine(
                ratio.id,
                say_note(parse_ratio(ratio.typed), *names),
                ratio.source,
                ratio.who,
                "withdrawn" if told is None else told.status.value,
                None if told is None else told.agrees,
                ratio.withdrawn_why,
            )
        )
    yield from sorted(lines, key=lambda line: line.status == "withdrawn")


def _show(book: Book, task: int | None, a_id: UUID, b_id: UUID) -> PairView:
    comparison = analysis_of(book).comparison(task)
    a, b = book.setup_index.get(a_id), book.setup_index.get(b_id)
    if a is None or b is None or comparison is None:
        raise NotFoundError("One of these setups is not in this shootout.")
    if a == b:
        raise RefusedError("b", "Choose two different setups.")
    margin = margin_between(comparison, a, b)
    if margin is not None and margin.log_ratio < 0:
        margin, a, b = margin_between(comparison, b, a), b, a
    bound = None if margin is not None or task is None else _bound_pair(book, task, a, b)
    if bound is not None:
        return bound
    noted = None if margin is not None or task is None else _noted_pair(book, task, a, b)
    if noted is not None:
        return noted
    if margin is None or margin.call is Call.NOT_COMPARABLE:
        return _no_pair(book, task, a, b, margin is None)
    spread = None if task is None else analysis_of(book).cells.spread[task]
    return PairView(
        MIX if task is None else str(book.tasks[task].id),
        title(book, task),
        _measure(book, task),
        book.setups[a].id,
        book.setups[a].label,
        book.setups[b].id,
        book.setups[b].label,
        margin.call.value,
        say_pair(book, task, margin),
        margin.ratio,
        math.exp(margin.lo),
        math.exp(margin.hi),
        margin.se,
        margin.df if math.isfinite(margin.df) else None,
        tuple(_ways(book, comparison, margin)),
        margin.handicap,
        tuple(say_behind(behind_of(book, comparison, margin, spread))),
        settle_words(book, task, margin, spread),
        parity_lines(book, task, a, b),
        _runs_of(book, task, a, b),
        tuple(say_formula(formula_of(book, margin, spread, task))),
        published_on(book, task, a, b),
        inquiries_on(book, task, (a, b)),
        () if task is None else tuple(fixed_cost_lines(book, task, (a, b))),
        proof=prove_pair(book, margin),
    )


def _measure(book: Book, task: int | None) -> str:
    return "time" if task is None else book.tasks[task].measure


def _bound_pair(book: Book, task: int, a: int, b: int) -> PairView | None:
    """A pair of which one is known by bounds only, seen from the side that is sure to lead."""
    analysis = analysis_of(book)
    margin = analysis.bound_margin(task, a, b)
    if margin is None:
        return None
    if margin.low is None or (margin.high is not None and margin.high.value < 0):
        turned = analysis.bound_margin(task, b, a)
        if turned is not None and turned.low is not None:
            margin, a, b = turned, b, a
    view = _no_pair(book, task, a, b, unmeasured=True)
    names = (view.a, view.b)
    return replace(
        view,
        call=margin.call.value,
        sentence=say_bound(margin, *names, book.shootout.confidence),
        lo=None if margin.low is None else math.exp(margin.lo),
        hi=None if margin.high is None else math.exp(margin.hi),
        behind=(*(_known(book, s, task) for s in (a, b)), OF_BOUNDS),
    )


def _noted_pair(book: Book, task: int, a: int, b: int) -> PairView | None:
    """A pair that was not measured, by the first note that names both."""
    found = note_of_pair(analysis_of(book).study, task, a, b)
    if found is None:
        return None
    ratio, note = found
    if (ratio.log_ratio or ratio.lo or ratio.hi or 0.0) < 0:
        ratio, a, b = ratio.turned(), b, a
    view = _no_pair(book, task, a, b, unmeasured=True)
    return replace(
        view,
        call="noted",
        sentence=say_noted_pair(ratio, (view.a, view.b), note.source),
        ratio=None if ratio.log_ratio is None else math.exp(ratio.log_ratio),
        lo=None if ratio.lo is None else math.exp(ratio.lo),
        hi=None if ratio.hi is None else math.exp(ratio.hi),
        behind=(OF_NOTES,),
    )


def _known(book: Book, setup: int, task: int) -> str:
    """What a setup has on a task: its bounds, or how many runs."""
    own = book.setups[setup]
    return say_known(own.label, bound_words(book, own, task), counted_runs(book, task, setup))


def _no_pair(book: Book, task: int | None, a: int, b: int, unmeasured: bool) -> PairView:
    first, second = book.setups[a], book.setups[b]
    lines = parity_lines(book, task, a, b)
    return PairView(
        MIX if task is None else str(book.tasks[task].id),
        title(book, task),
        _measure(book, task),
        first.id,
        first.label,
        second.id,
        second.label,
        Call.NOT_COMPARABLE.value,
        why_apart((first.label, second.label), lines, unmeasured=unmeasured),
        None,
        None,
        None,
        None,
        None,
        (),
        None,
        (),
        None,
        lines,
        _runs_of(book, task, a, b),
        (),
        published_on(book, task, a, b),
        inquiries_on(book, task, (a, b)),
        (),
    )


def _ways(book: Book, comparison: Comparison, margin: Margin) -> Iterable[WayToSay]:
    d, lo, hi = margin.log_ratio, margin.lo, margin.hi
    yield WayToSay("times as fast", margin.ratio, math.exp(lo), math.exp(hi), "x")
    yield WayToSay("faster", percent_faster(d), percent_faster(lo), percent_faster(hi), "%")
    is_time = comparison.task is None or book.tasks[comparison.task].measure == "time"
    if is_time:
        less = (percent_less_time(d), percent_less_time(lo), percent_less_time(hi))
        yield WayToSay("less time", *less, "%")
    yield WayToSay(
        slower_by(book.setups[margin.b].label),
        percent_faster(d),
        percent_faster(lo),
        percent_faster(hi),
        "%",
    )
    if comparison.task is None or not is_time:
        return
    i, j = place_of(comparison, margin.a), place_of(comparison, margin.b)
    saved = time_saved(comparison.pairs.contrasts, i, j, book.shootout.confidence)
    yield WayToSay("saved per run", saved.seconds, saved.lo, saved.hi, "s")
    work = book.tasks[comparison.task].work
    if work and book.tasks[comparison.task].unit in ("s", None):
        scale = 3600.0 / work
        yield WayToSay(
            "saved per hour of video",
            scale * saved.seconds,
            scale * saved.lo,
            scale * saved.hi,
            "s",
        )


def _runs_of(book: Book, task: int | None, a: int, b: int) -> tuple[records.Run, ...]:
    if task is None:
        return ()
    setups = (book.setups[a].id, book.setups[b].id)
    key = book.tasks[task].id
    return tuple(r for r in book.runs if r.task_id == key and r.setup_id in setups)
