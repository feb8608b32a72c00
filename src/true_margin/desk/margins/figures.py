"""The figures of one setup on a ladder, each with its formula, its inputs and what limits it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.completion import wilson
from true_margin.core.labels import RESULT
from true_margin.core.ladder import DRAWS, Rung, count_contenders
from true_margin.core.margins import own_half
from true_margin.core.numerals import fixed, short
from true_margin.core.speed import speed_of
from true_margin.core.wording import format_elapsed, format_ratio, say_chance
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError
from true_margin.desk.margins.margins import MIX, carried, speed_unit, task_index, title
from true_margin.desk.margins.verdicts import margin_between
from true_margin.store import records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class Working:
    """One figure: what it is, how it comes about, from what, and what would sharpen it."""

    title: str
    value: str
    formula: str
    inputs: tuple[str, ...]
    limits: str | None


@dataclass(frozen=True, slots=True)
class FigureView:
    """Every figure of one setup on a task or the mix, with the runs behind them."""

    key: str
    title: str
    setup_id: UUID
    label: str
    workings: tuple[Working, ...]
    measure: str | None
    runs: tuple[records.Run, ...]


def show_figures(database: Database, slug: str, key: str | None, setup_id: UUID) -> FigureView:
    """Show how the figures of one setup on a ladder come about.

    Raises:
        NotFoundError: the setup does not stand on this ladder.
    """
    book = SHELF.take(database, slug)
    task = task_index(book, key)
    place = book.setup_index.get(setup_id)
    comparison = analysis_of(book).comparison(task)
    rungs = () if comparison is None else comparison.rungs
    rung = next((r for r in rungs if r.setup == place), None)
    if comparison is None or rung is None:
        raise NotFoundError("This setup is not ranked here.")
    facts = None if task is None else book.tasks[task]
    runs = tuple(
        run
        for run in book.runs
        if facts is not None and run.task_id == facts.id and run.setup_id == setup_id
    )
    return FigureView(
        MIX if facts is None else str(facts.id),
        title(book, task),
        setup_id,
        book.setups[rung.setup].label,
        tuple(_workings(book, comparison, rung)),
        None if facts is None else facts.measure,
        runs,
    )


def _workings(book: Book, comparison: Comparison, rung: Rung) -> Iterator[Working]:
    task = comparison.task
    if task is not None:
        yield _value(book, comparison, rung)
        speed = _speed(book, task, rung)
        if speed is not None:
            yield speed
    else:
        yield _mix(book, rung)
    ratio = _ratio(book, comparison, rung)
    if ratio is not None:
        yield ratio
    yield _ranks(book, comparison, rung)
    yield _chance(book, comparison, rung)
    if task is not None:
        yield _spread(book, task)
        ok, tried = int(book.index.ok[rung.setup, task]), int(book.index.tried[rung.setup, task])
        if ok < tried:
            yield _completion(ok, tried, book.shootout.confidence)


def _value(book: Book, comparison: Comparison, rung: Rung) -> Working:
    assert comparison.task is not None, "a value belongs to a task"
    facts = book.tasks[comparison.task]
    contrasts = comparison.pairs.contrasts
    at = contrasts.setups.tolist().index(rung.setup)
    level = book.shootout.confidence
    half = own_half(contrasts, at, level)
    ends = [rung.log_speed - half, rung.log_speed, rung.log_speed + half]
    timed = facts.measure == "time"
    hi, value, lo = (math.exp(-x if timed else x) for x in ends)
    lo, hi = min(lo, hi), max(lo, hi)
    shown = [_shown(x, facts) for x in (value, lo, hi)]
    own = int(book.index.ok[rung.setup, comparison.task])
    late = carried(book, rung.setup, comparison.task)
    return Working(
        "Time" if timed else "Amount",
        f"{shown[0]}, {shown[1]} to {shown[2]}",
        "weighted geometric mean of its runs: exp of the mean log, each weighted by 1 over its "
        "variance" + (", moved to the latest round by what the update did" if late else ""),
        (
            f"{own} run{'s' if own != 1 else ''}",
            f"{short(100 * level)} % interval, Student's t with {_df(contrasts.own_df[at])}",
        ),
        "It is an estimate from an earlier round: a run in the latest round would replace it."
        if late
        else ("One run only: a second would show whether it repeats." if own == 1 else None),
    )


def _shown(value: float, facts: records.Task) -> str:
    if facts.measure == "time":
        return format_elapsed(value, 1.0 if value >= 20 else 0.01)
    return f"{short(value, 4)} {facts.unit or ''}".strip()


def _df(value: float) -> str:
    return f"{fixed(value, 1)} degrees of freedom" if math.isfinite(value) else "the normal limit"


def _speed(book: Book, task: int, rung: Rung) -> Working | None:
    facts = book.tasks[task]
    unit = speed_unit(facts)
    if unit is None or facts.work is None:
        return None
    seconds = math.exp(-rung.log_speed)
    per = speed_of(facts.work, facts.unit, seconds)
    if per is None:
        return None
    work = (
        format_elapsed(facts.work)
        if facts.unit in ("s", None)
        else f"{short(facts.work)} {facts.unit}"
    )
    return Working(
        "Speed",
        f"{fixed(per, 2)} {unit}",
        "work of the task over its time",
        (f"{work} of work", f"{_shown(seconds, facts)} of time"),
        None,
    )


def _mix(book: Book, rung: Rung) -> Working:
    mix = np.asarray(analysis_of(book).study.mix)
    used = np.flatnonzero(mix)
    theta = analysis_of(book).fit.theta[rung.setup]
    parts = tuple(
        f"{book.tasks[t].name}: weight {fixed(mix[t] / mix.sum(), 2)}, "
        f"{_shown(math.exp(-theta[t] if book.tasks[t].measure == 'time' else theta[t]), facts)}"
        for t in used.tolist()
        for facts in (book.tasks[t],)
    )
    return Working(
        "Speed over the mix",
        f"log speed {fixed(rung.log_speed, 3, signed=True)}",
        "weighted mean of log speeds: the geometric mean, so no task counts more for being long",
        parts,
        None,
    )


def _ratio(book: Book, comparison: Comparison, rung: Rung) -> Working | None:
    base = analysis_of(book).study.baseline
    if base is None or rung.ratio is None or base == rung.setup:
        return None
    margin = margin_between(comparison, rung.setup, base)
    assert margin is not None, "both stand on the ladder"
    name = book.setups[base].label
    return Working(
        "Ratio to the baseline",
        f"{format_ratio(rung.ratio)} times as fast as {name}, "
        f"{format_ratio(math.exp(margin.lo))} to {format_ratio(math.exp(margin.hi))}",
        "exp of the difference of log speeds, with Student's t over its standard error",
        (
            f"difference {fixed(margin.log_ratio, 4, signed=True)}, "
            f"standard error {fixed(margin.se, 4)}",
            _df(margin.df),
            f"result {RESULT[margin.call]}, against the smallest difference that counts, "
            f"{short(100 * book.shootout.materiality)} %",
        ),
        "Click both rows for what would settle it."
        if margin.call.value in ("open", "ahead")
        else None,
    )


def _ranks(book: Book, comparison: Comparison, rung: Rung) -> Working:
    k = len(comparison.rungs)
    same = rung.best_rank == rung.worst_rank
    faster, slower = rung.best_rank - 1, k - rung.worst_rank
    return Working(
        "Rank",
        f"{rung.best_rank}" if same else f"{rung.best_rank} to {rung.worst_rank} of {k}",
        "best possible rank: 1 + the setups clearly faster; worst: all minus the clearly slower; "
        f"{short(100 * book.shootout.confidence)} % for all pairs together (Tukey-Kramer)",
        (f"{faster} clearly faster", f"{slower} clearly slower"),
        None if same else f"{k - 1 - faster - slower} cannot be separated from it yet.",
    )


def _chance(book: Book, comparison: Comparison, rung: Rung) -> Working:
    tasks = (
        [comparison.task]
        if comparison.task is not None
        else np.flatnonzero(analysis_of(book).study.mix).tolist()
    )
    df = min(analysis_of(book).cells.df_of(t) for t in tasks)
    contrasts = comparison.pairs.contrasts
    known = contrasts.setups.tolist()
    on = np.array([known.index(each.setup) for each in comparison.rungs])
    contenders = count_contenders(contrasts.estimate[on], contrasts.covariance[np.ix_(on, on)], df)
    formula, inputs = {
        1: (
            "no other would overtake it, or the one that leads, once in a million tries",
            ("Student's t of each difference to the leader",),
        ),
        2: (
            "Student's t of the difference between the two that may come first",
            ("the difference and its standard error", _df(df)),
        ),
    }.get(
        contenders,
        (
            f"how often it comes first in {fixed(DRAWS, 0, grouped=True)} simulated outcomes",
            ("multivariate Student's t around the estimates", _df(df)),
        ),
    )
    value = "not told" if rung.p_fastest is None else say_chance(rung.p_fastest)
    return Working("Chance of being the fastest", value, formula, inputs, None)


def _spread(book: Book, task: int) -> Working:
    spread = analysis_of(book).cells.spread[task]
    assert spread is not None, "a task on a ladder has a spread"
    s = book.shootout
    own = f"{spread.repeat_df} repeat{'s' if spread.repeat_df != 1 else ''}"
    limits = {
        "assumed": "No repeat yet: it is only assumed.",
        "partly measured": "Few repeats: what is assumed still has a say.",
    }.get(spread.basis.value)
    return Working(
        "Spread between runs",
        f"{fixed(100 * spread.cv, 1)} %, {spread.basis.value}",
        f"variation between repeats, combined with an assumed {short(100 * s.prior_cv)} %",
        (own, f"the assumed {short(100 * s.prior_cv)} % counts as {short(s.prior_df)} repeats"),
        limits,
    )


def _completion(ok: int, tried: int, confidence: float) -> Working:
    lo, hi = wilson(ok, tried, confidence)
    return Working(
        "Completion",
        f"{ok} of {tried} attempts",
        "completed of attempted, voids left out; interval by Wilson (1927)",
        (f"{100 * lo:.0f} to {100 * hi:.0f} % at {short(100 * confidence)} %",),
        None,
    )
