"""The figures of one setup on a ladder, each with its formula, its inputs and what limits it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.completion import wilson
from true_margin.core.ladder import Rung, count_contenders
from true_margin.core.margins import own_half
from true_margin.core.speed import speed_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError
from true_margin.desk.margins.margins import MIX, carried, speed_unit, task_index, title
from true_margin.desk.margins.verdicts import margin_between
from true_margin.desk.margins.words import figures as words
from true_margin.store import records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class FigureView:
    """Every figure of one setup on a task or the mix, with the runs behind them."""

    key: str
    title: str
    setup_id: UUID
    label: str
    workings: tuple[words.Working, ...]
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


def _workings(book: Book, comparison: Comparison, rung: Rung) -> Iterator[words.Working]:
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
    level = book.shootout.confidence
    yield words.of_rank(rung.best_rank, rung.worst_rank, len(comparison.rungs), level)
    yield _chance(book, comparison, rung)
    if task is not None:
        yield _spread(book, task)
        ok, tried = int(book.index.ok[rung.setup, task]), int(book.index.tried[rung.setup, task])
        if ok < tried:
            yield words.of_completion(ok, tried, *wilson(ok, tried, level), level)


def _measured(task: records.Task) -> words.Measured:
    return words.Measured(task.measure == "time", task.unit)


def _value(book: Book, comparison: Comparison, rung: Rung) -> words.Working:
    assert comparison.task is not None, "a value belongs to a task"
    measured = _measured(book.tasks[comparison.task])
    contrasts = comparison.pairs.contrasts
    at = contrasts.setups.tolist().index(rung.setup)
    level = book.shootout.confidence
    half = own_half(contrasts, at, level)
    # A time falls where log speed rises.
    lo, value, hi = sorted(
        math.exp(-x if measured.timed else x)
        for x in (rung.log_speed - half, rung.log_speed, rung.log_speed + half)
    )
    return words.of_value(
        (value, lo, hi),
        measured,
        int(book.index.ok[rung.setup, comparison.task]),
        float(contrasts.own_df[at]),
        level,
        earlier=carried(book, rung.setup, comparison.task),
    )


def _speed(book: Book, task: int, rung: Rung) -> words.Working | None:
    facts = book.tasks[task]
    unit, seconds = speed_unit(facts), math.exp(-rung.log_speed)
    per = speed_of(facts.work, facts.unit, seconds)
    if unit is None or facts.work is None or per is None:
        return None
    return words.of_speed(per, unit, facts.work, facts.unit, seconds)


def _mix(book: Book, rung: Rung) -> words.Working:
    mix = np.asarray(analysis_of(book).study.mix)
    theta = analysis_of(book).fit.theta[rung.setup]
    parts = []
    for place in np.flatnonzero(mix).tolist():
        facts = book.tasks[place]
        measured = _measured(facts)
        value = math.exp(-theta[place] if measured.timed else theta[place])
        parts.append((facts.name, mix[place] / mix.sum(), value, measured))
    return words.of_mix(rung.log_speed, parts)


def _ratio(book: Book, comparison: Comparison, rung: Rung) -> words.Working | None:
    base = analysis_of(book).study.baseline
    if base is None or rung.ratio is None or base == rung.setup:
        return None
    margin = margin_between(comparison, rung.setup, base)
    assert margin is not None, "both stand on the ladder"
    return words.of_ratio(rung.ratio, margin, book.setups[base].label, book.shootout.materiality)


def _chance(book: Book, comparison: Comparison, rung: Rung) -> words.Working:
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
    return words.of_chance(rung.p_fastest, contenders, df)


def _spread(book: Book, task: int) -> words.Working:
    spread = analysis_of(book).cells.spread[task]
    assert spread is not None, "a task on a ladder has a spread"
    return words.of_spread(spread, book.shootout.prior_cv, book.shootout.prior_df)
