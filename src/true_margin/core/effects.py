"""Variance of what updates did: of one round's effect, and of sums of several.

Section 4 of the computation page.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from true_margin.core.cells import CellTable
from true_margin.core.rounds import Fit
from true_margin.core.shared_prior import shared_prior
from true_margin.core.study import FloatArray


@dataclass(frozen=True, slots=True)
class EffectVariance:
    """Variance of a sum of effects δ, and its degrees of freedom (Satterthwaite)."""

    variance: float
    df: float


def effect_variances(fit: Fit, cells: CellTable, app: int) -> tuple[EffectVariance, ...]:
    """Give the variance of each δ of an app, in the order of its rounds outside a reference."""
    return sum_variances(fit, cells, app, np.eye(len(fit.apps[app].rounds)))


def sum_variances(
    fit: Fit, cells: CellTable, app: int, sums: FloatArray
) -> tuple[EffectVariance, ...]:
    """Give the variance of sums of effects of an app, such as one round's less another's.

    Args:
        fit, cells: of the study.
        app: index of the app.
        sums: weights of the app's effects in each sum, shape (m, e).

    Reference:
        As ``contrasts.contrast_setups``.
    """
    own = fit.apps[app]
    if not len(own.rounds):
        return tuple(EffectVariance(0.0, float("inf")) for _ in sums)
    by_task = np.einsum("mi,tij,mj->tm", sums, own.kernels[0], sums)
    moved = np.einsum("mi,sij->smj", sums, own.inverse @ own.shrink @ own.information)
    uneven = fit.update.cv**2 * np.einsum("smj,smj->m", moved, moved)
    alone = shared_prior(cells, own.tasks, np.zeros(len(own.tasks), dtype=bool))
    by_setup = np.einsum("mi,sij,mj->sm", sums, own.kernels[1], sums)
    spent = np.einsum("sm,s->m", by_setup**2, cells.shares.inverse_df)
    variance, df = alone.combine(by_task, uneven, fit.update.df, spent)
    return tuple(EffectVariance(float(v), float(d)) for v, d in zip(variance, df, strict=True))
