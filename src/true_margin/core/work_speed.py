"""How fast each setup is at one viewer's work: a mix of tasks, or known weekly work.

Section 9 of the computation page. Under a mix the speed is the weighted mean of log speeds;
under weekly work it is the inverse of the hours a week.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from true_margin.core.analysis import Analysis, Comparison, analyse
from true_margin.core.contrasts import Contrasts, contrast_setups
from true_margin.core.ladder import draw_speeds
from true_margin.core.margins import PairTable, compare_pairs
from true_margin.core.samples import ModelTable, tabulate_models, unit_effects
from true_margin.core.study import FlagArray, FloatArray, IndexArray
from true_margin.core.weekly import (
    Exactly,
    Weekly,
    check_amounts,
    hours_of,
    weekly_hours,
    weekly_tasks,
)

MOST_MIXES = 64
"""Comparisons of so many mixes are kept with an analysis: amounts move, tasks seldom do."""


@dataclass(frozen=True, slots=True)
class Work:
    """What a viewer does.

    Attributes:
        weights: of the mix, one a task, not normalised.
        amounts: work a week, one a task, in the task's unit (runs where it has none);
            None where the mix counts.
    """

    weights: tuple[float, ...]
    amounts: tuple[float, ...] | None = None

    @property
    def tasks(self) -> tuple[int, ...]:
        """Tasks that take part."""
        own = self.weights if self.amounts is None else self.amounts
        return tuple(task for task, value in enumerate(own) if value > 0)


@dataclass(frozen=True, slots=True)
class WorkSpeeds:
    """Speeds of the k setups that stand on the ladder of a viewer's work.

    Attributes:
        comparison: who is on the ladder and who is not; its pairs are those of the mix,
            or under weekly work of an equal mix of the tasks in it.
        setups: indices of the setups on the ladder, shape (k,).
        pairs: margins among them, log scale; under weekly work of the hours.
        weekly: hours, for the same setups in the same order; None for a mix.
        draw_df: degrees of freedom of draws.
        models: of which the setups are samples, in the order of the line-up.
        members: setups whose mean each entry is, where entries are models of several.
    """

    comparison: Comparison
    setups: IndexArray
    pairs: PairTable
    weekly: Weekly | None
    draw_df: float
    models: ModelTable
    members: tuple[IndexArray, ...] = ()

    @property
    def theta(self) -> FloatArray:
        """Log speed of each setup, shape (k,)."""
        return self.pairs.contrasts.estimate

    @property
    def half(self) -> FloatArray:
        """Half widths of the intervals of all differences, shape (k, k)."""
        return np.asarray((self.pairs.hi - self.pairs.lo) / 2.0)

    def place(self, setup: int | None) -> int | None:
        """Place of a setup by index, or of the model it is of; None where it is not there."""
        if setup is not None and self.members:
            return next((at for at, own in enumerate(self.members) if setup in own), None)
        found = np.flatnonzero(self.setups == (-1 if setup is None else setup))
        return int(found[0]) if len(found) else None

    def of(self, place: int) -> tuple[int, ...]:
        """Indices of the setups whose mean an entry is: one, or those of a model."""
        return tuple((self.members[place] if self.members else self.setups[[place]]).tolist())


def work_speeds(
    analysis: Analysis, work: Work, exactly: Exactly = Exactly.BOTH
) -> WorkSpeeds | None:
    """Give each setup's speed at a viewer's work.

    Args:
        analysis: of the study; what it worked out is used again.
        work: the viewer's.
        exactly: what a rule asks for, under weekly work.

    Returns:
        Speeds, or None where no task takes part.

    Raises:
        CoreError: an amount or a weight is negative or not finite.
    """
    if work.amounts is None:
        return _mixed(analysis, work.weights)
    amounts = dict(enumerate(work.amounts))
    check_amounts(analysis, amounts)
    tasks = weekly_tasks(analysis, amounts)
    if not tasks:
        return None
    part = [1.0 if task in tasks else 0.0 for task in range(len(work.amounts))]
    comparison = _compared(analysis, part)
    on = comparison.standing.on
    weekly = weekly_hours(analysis, amounts, on, exactly)
    place = np.flatnonzero(np.isin(comparison.pairs.contrasts.setups, on))
    pairs = compare_pairs(
        weekly.logs,
        np.zeros(len(on), dtype=np.intp),
        analysis.study.settings,
        broken=~comparison.pairs.comparable[np.ix_(place, place)],
        topped_up=np.diag(comparison.pairs.topped_up)[place],
    )
    shares = weekly.parts / weekly.hours.estimate[:, None]
    models = _models(analysis, weekly.logs, shares, np.diag(pairs.topped_up))
    return WorkSpeeds(comparison, on, pairs, weekly, comparison.draw_df, models)


def speeds_of_some(
    analysis: Analysis, speeds: WorkSpeeds, work: Work, setups: IndexArray, exactly: Exactly
) -> WorkSpeeds | None:
    """Speeds at other work of a few of the setups on a ladder, exact; far cheaper than of all.

    Args:
        analysis: of the study.
        speeds: of all, at the work as it is; each entry one setup.
        work: the other work, at which all of these are on the ladder too.
        setups: indices of the few, in the order of the ladder.
        exactly: what a rule asks for, under weekly work.
    """
    study = analysis.study
    tasks = np.array(work.tasks, dtype=np.intp)
    weekly = None
    if work.amounts is None:
        share = np.asarray(work.weights, dtype=float) / sum(work.weights)
        contrasts = contrast_setups(analysis.fit, analysis.cells, setups, share)
    else:
        amounts = dict(enumerate(work.amounts))
        tasks = np.array(weekly_tasks(analysis, amounts), dtype=np.intp)
        weekly = weekly_hours(analysis, amounts, setups, exactly)
        share, contrasts = weekly.parts / weekly.hours.estimate[:, None], weekly.logs
    if not len(tasks):
        return None
    square = np.ix_(setups, setups)
    topped_up = np.asarray(analysis.topped_up[np.ix_(setups, tasks)].any(axis=1))
    pairs = compare_pairs(
        contrasts,
        np.zeros(len(setups), dtype=np.intp),
        study.settings,
        broken=study.broken_on(tasks)[square],
        topped_up=topped_up,
    )
    models = _models(analysis, contrasts, share, topped_up)
    return WorkSpeeds(speeds.comparison, setups, pairs, weekly, speeds.draw_df, models)


def _models(
    analysis: Analysis, contrasts: Contrasts, weights: FloatArray, topped_up: FlagArray
) -> ModelTable:
    return tabulate_models(
        analysis.study,
        analysis.fit,
        analysis.cells,
        contrasts,
        weights,
        topped_up,
        analysis.unit_spread,
        by_name=False,
    )


def _mixed(analysis: Analysis, weights: Sequence[float]) -> WorkSpeeds | None:
    if not any(weight != 0 for weight in weights):
        return None
    comparison = _compared(analysis, weights)
    on = comparison.standing.on
    whole = comparison.pairs
    place = np.flatnonzero(np.isin(whole.contrasts.setups, on))
    square = np.ix_(place, place)
    pairs = PairTable(
        comparison.on_ladder,
        whole.comparable[square],
        whole.lo[square],
        whole.hi[square],
        whole.call[square],
        whole.materiality,
        whole.confidence,
        whole.topped_up[square],
    )
    share = np.asarray(weights, dtype=float) / sum(weights)
    models = _models(analysis, comparison.on_ladder, share, np.diag(pairs.topped_up))
    return WorkSpeeds(comparison, on, pairs, None, comparison.draw_df, models)


def _compared(analysis: Analysis, weights: Sequence[float]) -> Comparison:
    mix = tuple(weights)
    known = analysis.mixes
    found = known.get(mix)
    if found is None:
        if len(known) >= MOST_MIXES:
            known.clear()
        study = replace(analysis.study, mix=mix)
        known[mix] = found = analyse(study, before=analysis).compare(None)
    return found


def draw_models(speeds: WorkSpeeds, owned: int, seed: int) -> FloatArray:
    """Draw log speeds of the models, with what their samples differ by.

    Args:
        speeds: of the contenders.
        owned: place of the one of which the viewer has a sample; −1 for none.
        seed: the same seed gives the same draws.

    Returns:
        Shape (draws, k).
    """
    contrasts = speeds.pairs.contrasts
    drawn = draw_speeds(contrasts.estimate, contrasts.covariance, speeds.draw_df, seed)
    return drawn + unit_effects(speeds.models, len(drawn), seed, owned)


def moved_theta(analysis: Analysis, speeds: WorkSpeeds, work: Work) -> FloatArray:
    """Log speeds at other work on the same tasks, without their intervals.

    Some hundred times faster than working the intervals out anew; for looking around, where
    whatever is found is then asked of :func:`work_speeds`.

    Args:
        analysis: of the study.
        speeds: at the work as it is.
        work: on the same tasks, each with other weights or amounts above 0.
    """
    mean, theta = _means(speeds, analysis.fit.theta)
    if speeds.weekly is None or work.amounts is None:
        weights = np.asarray(work.weights) / sum(work.weights)
        return np.asarray(mean @ np.where(weights > 0, weights * theta, 0.0).sum(axis=1))
    amounts = dict(enumerate(work.amounts))
    hours = np.zeros(len(theta))
    for task in weekly_tasks(analysis, amounts):
        hours += hours_of(analysis, task, amounts[task], theta[:, task])
    return np.asarray(mean @ -np.log(hours))


def _means(speeds: WorkSpeeds, theta: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Weights of the setups in each entry's mean, and the log speeds of these setups."""
    if not speeds.members:
        return np.eye(len(speeds.setups)), theta[speeds.setups]
    setups = np.concatenate(speeds.members)
    mean = np.zeros((len(speeds.members), len(setups)))
    at = 0
    for row, own in zip(mean, speeds.members, strict=True):
        row[at : at + len(own)] = 1.0 / len(own)
        at += len(own)
    return mean, theta[setups]


def scaled(work: Work, task: int, factor: float) -> Work:
    """The same work with one task's amount, or weight, multiplied."""
    if work.amounts is None:
        return replace(work, weights=_times(work.weights, task, factor))
    return replace(work, amounts=_times(work.amounts, task, factor))


def all_scaled(work: Work, factor: float) -> Work:
    """The same weekly work, all of it multiplied."""
    if work.amounts is None:
        return work
    return replace(work, amounts=tuple(amount * factor for amount in work.amounts))


def _times(values: tuple[float, ...], task: int, factor: float) -> tuple[float, ...]:
    changed = values[task] * factor
    return (
        *values[:task],
        changed if math.isfinite(changed) else values[task],
        *values[task + 1 :],
    )
