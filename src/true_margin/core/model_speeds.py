"""Speeds of models that several setups stand for: what a viewer chooses between.

Section 9 of the computation page: a contender is a model, its speed the plain mean over its
setups on the ladder.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from decimal import Decimal

import numpy as np

from true_margin.core.analysis import Analysis
from true_margin.core.contrasts import Contrasts, combine_rows
from true_margin.core.margins import compare_pairs
from true_margin.core.samples import squared
from true_margin.core.study import FloatArray
from true_margin.core.weekly import Weekly
from true_margin.core.work_speed import Work, WorkSpeeds


def model_speeds(
    analysis: Analysis, speeds: WorkSpeeds, work: Work, prices: Sequence[Decimal | None]
) -> WorkSpeeds:
    """Give the speeds of models instead of setups; the same where each setup is a model.

    Args:
        analysis: of the study.
        speeds: of the setups on the ladder of the viewer's work.
        work: the viewer's.
        prices: of each setup; a model stands by its cheapest one.

    Returns:
        One entry a model, in the order of the line-up.
    """
    models = speeds.models
    if all(len(own) == 1 for own in models.members):
        return speeds
    m, mean, setups = len(models.names), models.mean, speeds.setups
    weights = _weights(speeds, work)
    contrasts = speeds.pairs.contrasts

    def combined(combos: FloatArray) -> tuple[FloatArray, FloatArray]:
        return combine_rows(analysis.fit, analysis.cells, setups, weights, combos)

    estimate = mean @ contrasts.estimate
    covariance = mean @ contrasts.covariance @ mean.T
    logs = Contrasts(
        np.array([_cheapest(setups[own].tolist(), prices) for own in models.members]),
        estimate,
        covariance,
        np.sqrt(models.variance),
        models.df,
        combined(mean)[1],
    )
    comparable = models.comparable(speeds.pairs.comparable)
    pairs = compare_pairs(
        logs,
        np.zeros(m, dtype=np.intp),
        analysis.study.settings,
        broken=~comparable,
        topped_up=np.diag(models.strict),
    )
    weekly = None
    if speeds.weekly is not None:
        hours = np.exp(-estimate)
        i, j = np.triu_indices(m, 1)
        variance, df = squared(m, *combined(hours[i, None] * mean[i] - hours[j, None] * mean[j]))
        weekly = Weekly(
            replace(
                logs,
                estimate=hours,
                covariance=covariance * np.outer(hours, hours),
                se=np.sqrt(variance),
                df=df,
            ),
            logs,
            mean @ speeds.weekly.parts,
        )
    single = replace(models, members=tuple(np.array([place]) for place in range(m)), mean=np.eye(m))
    members = tuple(setups[own] for own in models.members)
    return WorkSpeeds(
        speeds.comparison, logs.setups, pairs, weekly, speeds.draw_df, single, members
    )


def _weights(speeds: WorkSpeeds, work: Work) -> FloatArray:
    """Weight of each task, of every setup its own under weekly work."""
    if speeds.weekly is not None:
        return speeds.weekly.parts / speeds.weekly.hours.estimate[:, None]
    share = np.asarray(work.weights, dtype=float)
    return np.asarray(share / share.sum())


def _cheapest(setups: list[int], prices: Sequence[Decimal | None]) -> int:
    priced = [(prices[s], s) for s in setups if prices and prices[s] is not None]
    return min(priced)[1] if priced else setups[0]
