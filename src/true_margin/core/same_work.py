"""One setup against itself: the same work in two apps or settings, and on two lengths.

Sections 4 of the computation page: margins between tasks, and fixed cost.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

from true_margin.core.analysis import Analysis
from true_margin.core.contrasts import Contrasts, contrast_setups
from true_margin.core.margins import Margin, compare_pairs
from true_margin.core.study import Measure


def margin_between_tasks(analysis: Analysis, setup: int, one: int, other: int) -> Margin | None:
    """Give the margin of task ``one`` over task ``other`` on one setup.

    Args:
        analysis: of the study.
        setup: index of the setup.
        one, other: indices of two tasks that hold the same work.

    Returns:
        The margin, with ``a`` and ``b`` as indices of the tasks: times as fast in ``one``.
        None where one of them was not measured, where they are of one app and no round
        ties them together, or where a person says that they are not the same work.
    """
    doubt = analysis.study.doubt_between(one, other)
    if doubt is not None and not doubt.nearly:
        return None
    contrasts = _both(analysis, setup, one, other)
    if contrasts is None:
        return None
    table = compare_pairs(contrasts, np.zeros(2, dtype=np.intp), analysis.study.settings)
    margin = table.margin(0, 1)
    return Margin(
        one,
        other,
        margin.log_ratio,
        margin.se,
        margin.df,
        margin.lo,
        margin.hi,
        margin.call,
        margin.handicap,
    )


def _both(analysis: Analysis, setup: int, one: int, other: int) -> Contrasts | None:
    fit = analysis.fit
    component = fit.component[setup, [one, other]]
    same_app = fit.node_app[one] == fit.node_app[other]
    if (component < 0).any() or (same_app and component[0] != component[1]):
        return None
    weights = np.eye(len(analysis.study.tasks))[[one, other]]
    setups = np.array([setup, setup], dtype=np.intp)
    return contrast_setups(fit, analysis.cells, setups, weights)


@dataclass(frozen=True, slots=True)
class FixedCost:
    """Time of one operation as start-up and rate: t = start + rate · work.

    Attributes:
        start: seconds that it takes whatever the length, with its interval.
        rate: seconds for one unit of work, with its interval.
    """

    start: tuple[float, float, float]
    rate: tuple[float, float, float]


def fixed_cost(analysis: Analysis, setup: int, one: int, other: int) -> FixedCost | None:
    """Separate start-up from rate, from one operation that was timed on two lengths.

    Args:
        analysis: of the study.
        setup: index of the setup.
        one, other: indices of two timed tasks of one operation on different lengths.

    Returns:
        Start-up and rate as (value, lo, hi), by the delta method on both θ; None where
        they were not both measured, or hold the same or no stated work.
    """
    tasks = analysis.study.tasks[one], analysis.study.tasks[other]
    works = [task.work for task in tasks]
    if any(task.measure is not Measure.TIME for task in tasks) or None in works:
        return None
    w1, w2 = (float(work) for work in works if work is not None)
    contrasts = None if w1 == w2 else _both(analysis, setup, one, other)
    if contrasts is None:
        return None
    t1, t2 = np.exp(-contrasts.estimate).tolist()
    apart = w2 - w1
    # dt = −t dθ, so a sum c1 t1 + c2 t2 has the gradient (−c1 t1, −c2 t2).
    start = _interval(analysis, contrasts, (w2 / apart, -w1 / apart), (t1, t2))
    rate = _interval(analysis, contrasts, (-1.0 / apart, 1.0 / apart), (t1, t2))
    return FixedCost(start, rate)


def _interval(
    analysis: Analysis,
    contrasts: Contrasts,
    factors: tuple[float, float],
    times: tuple[float, float],
) -> tuple[float, float, float]:
    value = factors[0] * times[0] + factors[1] * times[1]
    gradient = -np.array(factors) * np.array(times)
    variance = float(gradient @ contrasts.covariance @ gradient)
    df = min(float(contrasts.own_df.min()), 1e10)
    half = float(stdtrit(df, 0.5 + analysis.study.settings.confidence / 2))
    half *= math.sqrt(max(variance, 0.0))
    return value, value - half, value + half
