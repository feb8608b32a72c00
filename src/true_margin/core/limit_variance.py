"""Variance of one end of a margin that rests on a bound, with its degrees of freedom."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from true_margin.core.cells import CellTable
from true_margin.core.rounds import Fit
from true_margin.core.study import FloatArray
from true_margin.core.variance_parts import part_of_app


@dataclass(frozen=True, slots=True)
class LimitVariance:
    """Variance of one end of a margin that rests on a bound, and its degrees of freedom."""

    variance: float
    df: float


def limit_variance(
    fit: Fit,
    cells: CellTable,
    task: int,
    measured: int | None,
    effects: FloatArray,
    bounds: Mapping[int, float],
    uneven_bounds: int,
    prior_df: float,
) -> LimitVariance | None:
    """Variance of θ of a measured setup, if there is one, and of bounds taken to the reference.

    Args:
        fit, cells: of the study.
        task: index of the task.
        measured: the measured setup; None where both ends are bounds.
        effects: weights on the app's effects δ that the bounds bring, relative to that θ,
            shape (e,).
        bounds: variance of the one run behind each bound, by setup.
        uneven_bounds: how many of them stand in a round that is no reference.
        prior_df: ν0, the degrees of freedom of a task without any measured run.

    Returns:
        None where nothing is known of its spread.

    Reference:
        Computation page, section 4; Satterthwaite (1946), eq. 17.
    """
    app = fit.apps[fit.node_app[task]]
    tau2 = fit.update.cv**2 if fit.update.df is not None else 0.0
    by_task: dict[int, float] = {}
    by_setup = np.zeros(len(fit.theta))
    uneven = float(uneven_bounds)
    if measured is not None:
        rows = np.zeros((1, len(fit.node_app)))
        rows[0, task] = 1.0
        part = part_of_app(fit, app, np.array([measured]), rows)
        # θ weighs an effect by −G.
        through = part.reach[0] - effects
        crossing = part.crossing[:, 0, :] @ through
        home = part.at_home[:, 0] - 2.0 * crossing
        by_task = dict(zip(part.task.tolist(), home.tolist(), strict=True))
        by_setup[measured] += float(home.sum())
        reach = part.reach[0]
    else:
        through, reach = -effects, np.zeros(len(effects))
    if len(effects) and through.any():
        for each, own in zip(app.tasks.tolist(), app.kernels[0], strict=True):
            by_task[each] = by_task.get(each, 0.0) + float(through @ own @ through)
        by_setup += np.einsum("i,sij,j->s", through, app.kernels[1], through)
        moved = app.inverse @ app.shrink @ app.information
        kernel = np.einsum("sij,skj->ik", moved, moved)
        uneven += float(through @ kernel @ through)
        if measured is not None:
            uneven -= 2.0 * float((moved[measured] @ reach) @ through)
    if measured is not None:
        uneven += float(reach @ reach)
    for setup, variance in bounds.items():
        by_task[task] = by_task.get(task, 0.0) + variance
        by_setup[setup] += variance
    variance = sum(by_task.values()) + tau2 * uneven
    spent = float(cells.shares.inverse_df @ by_setup**2)
    for each, amount in by_task.items():
        spread = cells.spread[each]
        df = prior_df if spread is None else spread.df
        if not df > 0:
            return None
        spent += amount**2 / df
    if fit.update.df:
        spent += (tau2 * uneven) ** 2 / fit.update.df
    return LimitVariance(variance, variance**2 / spent if spent > 0 else float("inf"))
