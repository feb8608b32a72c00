"""How much each setup scatters compared with the others: its share of every task's spread.

Section 2 of the computation page. There is no test and no threshold: shares are always
estimated, drawn towards 1 by a prior whose strength is averaged over what the data say of it.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.special import gammaln

from true_margin.core.study import FloatArray, IndexArray

STRENGTHS = np.array([1.0, 2.0, 4.0, 8.0, 16.0])
"""κ, degrees of freedom of the prior that draws shares towards 1; ∞ (all alike) stands beside."""
PRIOR = np.array([0.16, 0.16, 0.16, 0.16, 0.16, 0.20])
"""Weight of each κ before the data, ∞ last."""
PASSES = 6
MOST_OVER = 6.0
"""A cell's scatter counts at most this many times the pooled one: an odd run is no wide spread."""


@dataclass(frozen=True, slots=True)
class SetupShares:
    """Each setup's share of the spread.

    Attributes:
        variance: f², factor on a task's variance, 1 on average over the setups that were
            repeated, shape (setups,).
        inverse_df: 1/d, one over the degrees of freedom of that factor; 0 where all are
            taken to scatter alike, shape (setups,).
    """

    variance: FloatArray
    inverse_df: FloatArray


def estimate_shares(
    setups: int, setup: IndexArray, task: IndexArray, n: IndexArray, scatter: FloatArray
) -> SetupShares:
    """Estimate each setup's share of the spread.

    Args:
        setups: how many there are.
        setup, task: of each cell, indices, shape (cells,).
        n: runs of each cell, shape (cells,).
        scatter: sum of squares of log speed about each cell's mean, shape (cells,).

    Reference:
        Smyth (2004) for the prior; Harvey (1976), Econometrica 44, for shares that multiply;
        Hoeting et al. (1999), Statistical Science 14, for averaging over κ.
    """
    tells = np.bincount(task, scatter)[task] > 0 if len(task) else np.zeros(0, dtype=bool)
    taking = np.flatnonzero((n > 1) & tells)
    own, of_task, squares = setup[taking], task[taking], scatter[taking]
    df_cell = (n[taking] - 1).astype(float)
    df = np.asarray(np.bincount(own, df_cell, setups), dtype=float)
    repeated = np.flatnonzero(df > 0)
    variance = np.ones(setups)
    if len(repeated) < 2:
        return SetupShares(variance, np.zeros(setups))
    df_task = np.maximum(np.bincount(of_task, df_cell), 1.0)
    ready = df[repeated]
    for _ in range(PASSES):
        pooled = np.bincount(of_task, squares / variance[own]) / df_task
        over = np.minimum(
            squares / pooled[of_task], MOST_OVER * df_cell * np.maximum(1.0, variance[own])
        )
        z = np.bincount(own, over, setups)[repeated] / ready
        weight = _weights(z, ready)
        drawn, mean = _drawn(z, ready, weight)
        variance[repeated] = mean / mean.mean()
    apart = np.zeros((len(STRENGTHS) + 1, len(ready)))
    apart[:-1] = drawn[:-1] ** 2 / (STRENGTHS[:, None] + ready)
    inverse = (weight @ (apart + (drawn - mean) ** 2 / 2.0)) / mean**2
    # One that was never repeated may be quiet or restless.
    inverse_df = np.full(setups, float(weight[:-1] @ (1.0 / STRENGTHS)))
    inverse_df[repeated] = inverse
    return SetupShares(variance, inverse_df)


def _weights(z: FloatArray, df: FloatArray) -> FloatArray:
    """Weight of each κ after the data: z of a setup is F(ν, κ), or χ²(ν)/ν for κ = ∞."""
    k = STRENGTHS[:, None]
    log = (
        gammaln((df + k) / 2)
        - gammaln(k / 2)
        - df / 2 * np.log(k)
        - (df + k) / 2 * np.log1p(df * z / k)
    ).sum(axis=1)
    alike = float((-df / 2 * np.log(2.0) - df * z / 2).sum())
    total = np.log(PRIOR) + np.append(log, alike)
    weight = np.exp(total - total.max())
    return np.asarray(weight / weight.sum())


def _drawn(z: FloatArray, df: FloatArray, weight: FloatArray) -> tuple[FloatArray, FloatArray]:
    """φ of each κ and setup, shape (6, setups), and their mean g, shape (setups,)."""
    k = STRENGTHS[:, None]
    drawn = np.vstack([(k + df * z) / (k + df), np.ones_like(z)])
    return drawn, np.asarray(weight @ drawn)
