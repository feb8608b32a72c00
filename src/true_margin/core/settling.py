"""How many runs of each setup would settle a pair.

Section 8 of the computation page.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

from true_margin.core.analysis import Analysis
from true_margin.core.cells import Spread
from true_margin.core.margins import Call, Margin, stricter
from true_margin.core.resemblance import mean_variances

POWER = 0.8
"""Chance with which the told number of runs settles a difference that is what it seems."""
MOST_SETTLING = 1000
"""Where so many runs of each would not do, no number is told: a finer clock would."""
WORTH_SETTLING = 25
"""More runs of each setup than this are not worth their bench time."""


@dataclass(frozen=True, slots=True)
class Settling:
    """Runs that would likely settle a pair.

    Attributes:
        runs_each: runs of each setup, earlier ones included; None where no
            number would do.
        worth_it: False above 25 runs of each.
    """

    runs_each: int | None
    worth_it: bool


def needed_half_width(margin: Margin, materiality_log: float) -> float:
    """Half-width h* at which a pair would get a firmer call.

    Args:
        margin: an open or ahead margin.
        materiality_log: m = ln(1 + materiality).

    Returns:
        h* on the log scale: |Δ| where it is at least m, else the larger of |Δ|
        and m − |Δ|; for ahead ||Δ| − m|, which may be 0.
    """
    size, m = abs(margin.log_ratio), materiality_log
    if margin.call is Call.AHEAD:
        return abs(size - m)
    return size if size >= m else max(size, m - size)


@dataclass(frozen=True, slots=True)
class RunNoise:
    """What a mean of runs of one setup on a task is good for.

    Attributes:
        variance: of one run, on the log scale.
        floor: variance below which rounding lets no mean come.
    """

    variance: float
    floor: float = 0.0


def run_noise(analysis: Analysis, task: int, setup: int) -> RunNoise:
    """What more runs of a setup on a task would be good for, by those that it has.

    Returns:
        ``max(s² f², the largest (u/t)²)`` and the least rounding floor of its cells there.
    """
    cells = analysis.cells
    own = np.flatnonzero((cells.task == task) & (cells.setup == setup))
    spread = cells.spread[task]
    variance = 0.0 if spread is None else spread.cv**2 * float(cells.shares.variance[setup])
    if not len(own):
        return RunNoise(variance)
    reading = max(float(cells.relative_u[cells.cell_of_run == cell].max()) for cell in own)
    return RunNoise(max(variance, reading**2), float(cells.floor[own].min()))


def runs_to_settle(
    margin: Margin,
    noise: tuple[RunNoise, RunNoise],
    materiality_log: float,
    *,
    rho: float = 0.0,
    planned: int | None = None,
    confidence: float | None = None,
) -> Settling:
    """Count the runs of each setup that would likely settle a pair.

    Args:
        margin: an open or ahead margin.
        noise: what runs of each of the two are good for.
        materiality_log: m = ln(1 + materiality).
        rho: correlation of neighbouring runs.
        planned: runs that were planned; more are judged more strictly.
        confidence: of the shootout; that of the margin where it is left out.

    Returns:
        The smallest n with ``(t_{(1+c)/2} + t_{0.8})² Σ max(σ² m_n, R) ≤ h*²``, earlier runs
        included: 80 % power if the difference is what it seems.

    Reference:
        Cohen (1988), Statistical Power Analysis, 2nd ed.; computation page, section 8.
    """
    half_width = needed_half_width(margin, materiality_log)
    if half_width == 0:
        return Settling(None, False)
    level = margin.confidence if confidence is None else confidence
    runs = _least_runs(margin.df, level, noise, rho, half_width)
    if runs is not None and planned is not None and runs > planned and not margin.topped_up:
        runs = _least_runs(margin.df, stricter(level), noise, rho, half_width)
    return Settling(runs, runs is not None and runs <= WORTH_SETTLING)


def _least_runs(
    df: float, confidence: float, noise: tuple[RunNoise, RunNoise], rho: float, half_width: float
) -> int | None:
    """The smallest number of runs that would do; None where a thousand would not."""
    most_df = min(df, 1e10)
    t = float(stdtrit(most_df, 0.5 + confidence / 2)) + float(stdtrit(most_df, POWER))

    def enough(n: int) -> bool:
        part = float(mean_variances(np.array([n]), rho)[0])
        return t * t * sum(max(each.variance * part, each.floor) for each in noise) <= (
            half_width * half_width
        )

    if not enough(MOST_SETTLING):
        return None
    low, high = 0, MOST_SETTLING
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if enough(middle) else (middle, high)
    return high


def settling_of(analysis: Analysis, task: int, margin: Margin) -> Settling:
    """Count the runs that would likely settle a pair of an analysis."""
    return runs_to_settle(
        margin,
        (run_noise(analysis, task, margin.a), run_noise(analysis, task, margin.b)),
        math.log1p(analysis.study.settings.materiality),
        rho=analysis.cells.resemblance.rho,
        planned=analysis.study.tasks[task].planned_runs,
    )


def runs_before_data(
    difference: float, spread: Spread, materiality_log: float, confidence: float
) -> Settling:
    """Count the runs of each setup that would settle a stated difference, before any data.

    Args:
        difference: stated ratio of speeds less 1, such as 0.05; more than 0.
        spread: the prior one, or that of a like task.
        materiality_log: m = ln(1 + materiality).
        confidence: of the shootout's intervals.

    Reference:
        Computation page, section 8.
    """
    size = math.log1p(difference)
    stated = Margin(0, 1, size, math.inf, spread.df, -math.inf, math.inf, Call.OPEN, None)
    noise = RunNoise(spread.cv**2)
    return runs_to_settle(stated, (noise, noise), materiality_log, confidence=confidence)
