"""What stands behind a pair's figure, and the terms of its working, as values."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.cells import Spread
from true_margin.core.fastest_runs import fastest_margin
from true_margin.core.margins import Call, Margin, time_saved
from true_margin.core.parity import Weight
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.margins.margins import carried
from true_margin.desk.margins.pair_call import carried_rounds, names_of
from true_margin.desk.margins.settling import counted_runs
from true_margin.desk.margins.words.pairs import Behind, Formula, OfModels


def behind_of(book: Book, comparison: Comparison, margin: Margin, spread: Spread | None) -> Behind:
    """Runs, spread, rounds and doubts that a pair's figure rests on."""
    task, pair = comparison.task, (margin.a, margin.b)
    cells = analysis_of(book).cells
    old = [s for s in pair if carried(book, s, task)]
    sensitive, between_s = _sensitive(book, comparison, margin)
    return Behind(
        names=names_of(book, margin),
        runs=(counted_runs(book, task, margin.a), counted_runs(book, task, margin.b)),
        spread=spread,
        rounds=carried_rounds(book, old, task) if old else None,
        update_cv=analysis_of(book).fit.update.cv,
        factors=(float(cells.factor[margin.a]), float(cells.factor[margin.b])),
        sensitive=sensitive,
        between_s=between_s,
        fastest=_by_fastest_run(book, comparison, margin),
        topped_up=book.shootout.planned_runs if margin.topped_up else None,
        confidence=margin.confidence,
    )


def place_of(comparison: Comparison, setup: int) -> int:
    """Where a setup stands among those that are compared."""
    return int(np.flatnonzero(comparison.pairs.contrasts.setups == setup)[0])


def _by_fastest_run(book: Book, comparison: Comparison, margin: Margin) -> Call | None:
    if comparison.task is None:
        return None
    i, j = place_of(comparison, margin.a), place_of(comparison, margin.b)
    fastest = fastest_margin(analysis_of(book).cells, comparison.pairs, comparison.task, i, j)
    return None if fastest is None else fastest.call


def _sensitive(
    book: Book, comparison: Comparison, margin: Margin
) -> tuple[tuple[tuple[str, float], ...], float]:
    """What the task is sensitive to and the two differ in, up to how many seconds each.

    Returns:
        Those, and the seconds that are between the two.
    """
    if comparison.task is None:
        return (), 0.0
    task = book.tasks[comparison.task]
    if not task.sensitivities or task.measure != "time":
        return (), 0.0
    told = [
        d.sensitive_to
        for d in parity_of(book).between(comparison.task, margin.a, margin.b)
        if d.weight is Weight.CONFOUNDS
    ]
    i, j = place_of(comparison, margin.a), place_of(comparison, margin.b)
    saved = time_saved(comparison.pairs.contrasts, i, j, book.shootout.confidence)
    counting = tuple((each.to, each.up_to_s) for each in task.sensitivities if each.to in told)
    return counting, abs(saved.seconds)


def formula_of(book: Book, margin: Margin, spread: Spread | None, task: int | None) -> Formula:
    """The terms of a margin's working."""
    cells, prior = analysis_of(book).cells, book.shootout
    own = np.isin(cells.setup, (margin.a, margin.b))
    floored = own & (cells.floor > 0) & (cells.weight * cells.floor >= 1.0 - 1e-9)
    return Formula(
        margin=margin,
        names=names_of(book, margin),
        spread=spread,
        prior_df=prior.prior_df,
        prior_cv=prior.prior_cv,
        materiality=prior.materiality,
        shares=(float(cells.shares.variance[margin.a]), float(cells.shares.variance[margin.b])),
        rho=cells.resemblance.rho,
        rounding=bool(floored.any()),
        models=next(_of_models(book, margin, task), None),
    )


def _of_models(book: Book, margin: Margin, task: int | None) -> Iterator[OfModels]:
    """What is known of the models that the two are samples of, where that is another question."""
    analysis = analysis_of(book)
    table, models = analysis.models(task), analysis.study.model_of
    a, b = models[margin.a], models[margin.b]
    if table is None or a == b or not {a, b} <= set(table.names):
        return
    if table.unit_spread.cv == 0:
        yield OfModels(table.unit_spread)
        return
    i, j = table.names.index(a), table.names.index(b)
    apart = table.pair(i, j).models
    variance = float(table.units_apart[i, j])
    yield OfModels(table.unit_spread, variance, apart.se, apart.call)
