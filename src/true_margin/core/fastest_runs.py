"""Calls by the fastest run of each setup: they stand beside those by the means, never instead.

Section 4 of the computation page.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.integrate import quad
from scipy.special import ndtr

from true_margin.core.cells import CellTable
from true_margin.core.margins import Call, PairTable, decide_call, student_quantile


@dataclass(frozen=True, slots=True)
class FastestMargin:
    """Margin of the fastest run of one setup over the fastest of another.

    Attributes:
        log_ratio: on the log scale.
        se: its standard error.
        lo, hi: ends of its interval.
        call: what it would allow to be said.
    """

    log_ratio: float
    se: float
    lo: float
    hi: float
    call: Call


def fastest_margin(
    cells: CellTable, pairs: PairTable, task: int, i: int, j: int
) -> FastestMargin | None:
    """Compare the fastest runs of two setups on a task.

    Args:
        cells: of the study.
        pairs: margins of the task, whose degrees of freedom and confidence are taken.
        task: index of the task.
        i, j: places in ``pairs``.

    Returns:
        None unless both have one cell on the task, in the same round, with as many runs each,
        two at least.
    """
    own = [_only_cell(cells, task, int(pairs.contrasts.setups[at])) for at in (i, j)]
    if own[0] is None or own[1] is None:
        return None
    a, b = own[0], own[1]
    n = int(cells.n[a])
    if n < 2 or n != int(cells.n[b]) or cells.round[a] != cells.round[b]:
        return None
    best = [float(cells.v[_runs(cells, cell)].max()) for cell in (a, b)]
    se = math.sqrt(sum(_variance(cells, cell, n) for cell in (a, b)))
    quantile = student_quantile(pairs.confidence_of(i, j), pairs.contrasts.df[i : i + 1, j])
    delta, half = best[0] - best[1], float(quantile[0]) * se
    lo, hi = delta - half, delta + half
    return FastestMargin(delta, se, lo, hi, decide_call(lo, hi, pairs.materiality))


def _only_cell(cells: CellTable, task: int, setup: int) -> int | None:
    own = np.flatnonzero((cells.task == task) & (cells.setup == setup))
    return int(own[0]) if len(own) == 1 else None


def _runs(cells: CellTable, cell: int) -> slice:
    start = int(cells.start[cell])
    return slice(start, start + int(cells.n[cell]))


def _variance(cells: CellTable, cell: int, n: int) -> float:
    runs = _runs(cells, cell)
    one = max(float(cells.run_variance[cell]), float(cells.relative_u[runs].max()) ** 2)
    return max(largest_variance(n) * one, float(cells.relative_step[runs].max()) ** 2 / 12.0)


@lru_cache(maxsize=1024)
def largest_variance(n: int) -> float:
    """Variance of the largest of n standard normals, by quadrature.

    Example:
        >>> round(largest_variance(2), 6), round(1 - 1 / math.pi, 6)
        (0.68169, 0.68169)
    """

    def density(x: float) -> float:
        return n * float(ndtr(x)) ** (n - 1) * math.exp(-x * x / 2) / math.sqrt(2 * math.pi)

    mean, square = (
        quad(lambda x, p=power: x**p * density(x), -9.0, 9.0, epsabs=1e-13, limit=400)[0]
        for power in (1, 2)
    )
    return float(square - mean**2)
