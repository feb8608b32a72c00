"""Runs of one sitting that resemble each other: how much, and what a mean of them is worth.

Section 2 of the computation page. Runs of one sitting drift together, and then scatter less
about their own mean than two sittings would differ.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.special import ndtr

from true_margin.core.study import FloatArray, IndexArray, Measure, Study

FIRES_P = 0.01
"""Below this p-value it is said that runs resemble each other."""
CORRELATIONS = np.arange(9) / 10.0
"""ρ of neighbouring runs that are considered."""
PRIOR = np.array([0.9, *[0.0125] * 8])
LEAST_RUNS = 3
"""Of a cell that is tested: two runs tell nothing of their order."""
SITTING_S = 4 * 3600.0
"""A run that begins so long after the last one of its cell was done is of another sitting."""


@dataclass(frozen=True, slots=True)
class Resemblance:
    """How much neighbouring runs resemble each other.

    Attributes:
        ratio: T, squared differences of neighbours over the scatter; 2 where runs are
            independent; None where nothing was tested.
        p: chance of so small a ratio among independent runs; None likewise.
        rho: ρ, the correlation that is applied; 0 where nothing was tested.
    """

    ratio: float | None
    p: float | None
    rho: float

    @property
    def applied(self) -> bool:
        """Whether anything was tested, and variances are inflated by what was found."""
        return self.ratio is not None

    @property
    def fires(self) -> bool:
        """Whether it is beyond chance, and said."""
        return self.p is not None and self.p < FIRES_P


NONE = Resemblance(None, None, 0.0)


def estimate_resemblance(
    n: IndexArray, variance: FloatArray, scatter: FloatArray, neighbours: FloatArray
) -> Resemblance:
    """Estimate the correlation of neighbouring runs from the cells that tell of it.

    Args:
        n: runs of each cell, 3 or more, shape (cells,).
        variance: of one run of each cell, shape (cells,).
        scatter: sum of squares about each cell's mean.
        neighbours: sum of squared differences between neighbours in run order.

    Reference:
        von Neumann (1941), Annals of Mathematical Statistics 12, for the ratio and its
        variance, pooled over cells; the posterior mean over ρ is the computation page's own.
    """
    # Equal readings have no order to tell of: counted as if they had, they would make the few
    # others look like proof (whole seconds fired in 61 of 100 shootouts without any drift).
    # Neighbours that are equal differ by 0 exactly; a mean of them may be off by rounding.
    told = (neighbours > 0) & (scatter > 0)
    if not told.any():
        return NONE
    n, variance = n[told], variance[told]
    scatter, neighbours = scatter[told], neighbours[told]
    total = float((scatter / variance).sum())
    ratio = float((neighbours / variance).sum()) / total
    df = float((n - 1).sum())
    ratio_variance = 4.0 * float((n - 2).sum()) / (df * (df + 2.0))
    p = float(ndtr((ratio - 2.0) / math.sqrt(ratio_variance)))
    size, cells = np.unique(n, return_counts=True)
    expected = np.array([_expected(size, cells, float(rho)) for rho in CORRELATIONS])
    log = np.log(PRIOR) - (ratio - expected) ** 2 / (2.0 * ratio_variance)
    weight = np.exp(log - log.max())
    return Resemblance(ratio, p, float(weight @ CORRELATIONS / weight.sum()))


def _expected(size: IndexArray, cells: IndexArray, rho: float) -> float:
    """T(ρ), about what the ratio is where neighbours correlate by ρ."""
    above = 2.0 * float((cells * (size - 1)).sum()) * (1.0 - rho)
    return above / float((cells * size * (1.0 - mean_variances(size, rho))).sum())


def mean_variances(n: IndexArray, rho: float) -> FloatArray:
    """m_n(ρ), the variance of a mean of n runs of variance 1 whose correlation is ρ^|i − j|.

    Args:
        n: runs, 1 or more, any shape.
        rho: ρ, from 0 to below 1.

    Example:
        >>> mean_variances(np.array([1, 2, 4]), 0.0).tolist()
        [1.0, 0.5, 0.25]
        >>> round(float(mean_variances(np.array([2]), 0.5)[0]), 3)
        0.75
    """
    size, place = np.unique(n, return_inverse=True)
    found = np.array([_mean_variance(int(each), rho) for each in size])
    return np.asarray(found[place], dtype=float).reshape(np.shape(n))


@lru_cache(maxsize=8192)
def _mean_variance(n: int, rho: float) -> float:
    if rho == 0.0:
        return 1.0 / n
    # (1 + 2 Σ (1 − k/n) ρ^k)/n, summed in closed form: a cell may hold thousands of runs.
    power = rho**n
    within = rho * (1.0 - rho ** (n - 1)) / (1.0 - rho)
    weighted = rho * (1.0 - n * rho ** (n - 1) + (n - 1) * power) / (1.0 - rho) ** 2
    return (1.0 + 2.0 * (within - weighted / n)) / n


def sittings_of(study: Study, run: IndexArray, first: IndexArray) -> IndexArray:
    """Where each sitting of each cell begins, among the runs by cell.

    Two runs of a cell that follow each other belong to different sittings where the later one
    began long after the earlier one was done; where no time is known, to one.
    """
    started = study.runs.started[run]
    if not np.isfinite(started).any():
        return first
    timed = np.array([task.measure is Measure.TIME for task in study.tasks])
    took = np.where(timed[study.runs.task[run]], study.runs.value[run], 0.0)
    idle = np.diff(started, prepend=np.nan) - np.concatenate([[0.0], took[:-1]])
    # A comparison with NaN is False: what is not known divides nothing.
    begins = idle > SITTING_S
    begins[first] = True
    return np.flatnonzero(begins)


def sitting_mean_variances(
    n: IndexArray, first: IndexArray, blocks: IndexArray, rho: float
) -> FloatArray:
    """Variance of each cell's mean of runs of variance 1; its sittings are independent.

    Args:
        n: runs of each cell, shape (cells,).
        first: where each begins among the runs by cell.
        blocks: where each sitting begins, as ``sittings_of`` gives it.
        rho: ρ, the correlation of neighbours within a sitting.
    """
    if len(blocks) == len(first):
        return mean_variances(n, rho)
    size = np.diff(np.append(blocks, int(n.sum())))
    within = size**2 * mean_variances(size, rho)
    return np.asarray(np.add.reduceat(within, np.searchsorted(blocks, first)) / n**2)
