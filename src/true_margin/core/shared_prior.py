"""Degrees of freedom of variances whose tasks lean on one prior (Satterthwaite 1946, eq. 17)."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from true_margin.core.cells import CellTable
from true_margin.core.study import FlagArray, FloatArray, IndexArray


@dataclass(frozen=True, slots=True)
class SharedPrior:
    """Degrees of freedom of variances whose tasks lean on one prior.

    A task's spread is λ parts prior and 1 − λ parts its own repeats, λ = ν0/(ν0 + ν). The
    tasks of a mix share the prior: where it is wrong it is wrong for all of them, so that
    part adds up before it is squared.

    Attributes:
        lean: λ of each task; 0 outside of the contrast's own weights, shape (tasks,).
        prior_df: ν0.
        df: of each task's spread, shape (tasks,).
    """

    lean: FloatArray
    prior_df: float
    df: FloatArray

    def combine(
        self,
        parts: Iterable[FloatArray],
        uneven: FloatArray,
        uneven_df: float | None,
        by_setup: FloatArray | float = 0.0,
    ) -> tuple[FloatArray, FloatArray]:
        """Add variances up, with the degrees of freedom of the sum; inf where it is 0.

        Args:
            parts: variance by task, one array of the shape of ``uneven`` a task; they are
                taken one by one, so that a hundred tasks never stand in memory at once.
            uneven: the share of uneven updates.
            uneven_df: its degrees of freedom; None where there is none.
            by_setup: Σ B_s²/d_s, what the setups' shares of the spread spend; a setup's share
                is wrong on all of its tasks at once.
        """
        variance, spent = np.zeros(uneven.shape), np.zeros(uneven.shape) + by_setup
        leaning = np.zeros(uneven.shape)
        own = 1.0 / self.df
        if self.prior_df > 0:
            own = own - self.lean**2 / self.prior_df
        for part, lean, rest in zip(parts, self.lean.tolist(), own.tolist(), strict=True):
            variance += part
            if lean:
                leaning += lean * part
            spent += rest * (part * part)
        if self.prior_df > 0:
            spent += leaning**2 / self.prior_df
        if uneven_df is not None:
            variance += uneven
            spent += uneven**2 / uneven_df
        with np.errstate(divide="ignore", invalid="ignore"):
            return variance, np.where(spent > 0, variance**2 / spent, np.inf)


def shared_prior(cells: CellTable, tasks: IndexArray, weighted: FlagArray) -> SharedPrior:
    """Give what the spreads of these tasks lean on, in the order of ``tasks``."""
    known = [(cells.spread[t], own) for t, own in zip(tasks, weighted, strict=True)]
    prior = [0.0 if s is None else s.df - s.repeat_df for s, _ in known]
    lean = [0.0 if s is None or not own else (s.df - s.repeat_df) / s.df for s, own in known]
    df = np.array([cells.df_of(t) for t in tasks])
    return SharedPrior(np.array(lean), max(prior, default=0.0), df)
