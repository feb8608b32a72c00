"""Variances of rows inside one app, by task and by setup: what contrasts are added up from."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from true_margin.core.rounds import AppFit, Fit
from true_margin.core.study import FloatArray, IndexArray

PAIRS_AT_ONCE = 4_000
"""Pairs whose parts by setup stand in memory together."""


@dataclass(frozen=True, slots=True)
class VariancePart:
    """Variances of k rows inside one app; n is the number of tasks that they rest on.

    Attributes:
        task: those tasks, shape (n,).
        own: variance of each row that comes from each task's runs, shape (n, k).
        left, right: their product is the part of a task in the variance of each difference
            of two rows of different setups, shapes (n, k, f).
        together: what rows of one setup share besides, shape (n, k, k); None where every
            row is of another setup.
        at_home: variance of each row by its own setup's cells of each task, what runs through
            an update's effect left out, shape (n, k).
        crossing: U of each task, what those cells and the effects share, shape (n, k, f).
        reach: G, each row's weights on the effects, shape (k, f).
        by_setup: K summed over each setup's cells, shape (setups, f, f).
        uneven_own, uneven: variance of rows and of differences by uneven updates, over τ².
    """

    task: IndexArray
    own: FloatArray
    left: FloatArray
    right: FloatArray
    together: FloatArray | None
    at_home: FloatArray
    crossing: FloatArray
    reach: FloatArray
    by_setup: FloatArray
    uneven_own: FloatArray
    uneven: FloatArray

    def difference(self, place: int) -> FloatArray:
        """Part of one task in the variance of every difference, shape (k, k)."""
        found = self.left[place] @ self.right[place].T
        if self.together is not None:
            found -= 2.0 * self.together[place]
        # Rounding can leave a difference of equals just below zero.
        return np.asarray(np.maximum(found, 0.0, out=found))


def part_of_app(fit: Fit, app: AppFit, setups: IndexArray, rows: FloatArray) -> VariancePart:
    """Split the variance of rows of one app by task, and by uneven updates.

    A row is a sum of θ of one setup. Its weight on the cells of task t has a part on that
    setup's own cells and one through δ; with G = shrink · Σ a p and q the information of a
    node, the covariance of rows i and j that comes from task t is

    ``[same setup] (a_i a_j / W + τ⁴ G_i q G_j) − U_i·G_j − U_j·G_i + G_i K G_j``,

    ``U_i = −τ² S⁻¹ shrink q G_i``, ``K = S⁻¹ (Σ shrink q shrink) S⁻¹``. Written with a few
    columns, var_i + var_j − 2 cov_ij is one product for each task.
    """
    effects = app.share.shape[1]
    task = app.tasks if effects else np.flatnonzero(rows.any(axis=0))
    place = fit.node_row[np.ix_(setups, task)]
    there = (place >= 0).astype(float)
    weight = app.weight[place] + (1.0 - there)
    a = rows[:, task]
    own = (a**2 / weight).T
    one = np.ones((*own.shape, 1))
    same = (setups[:, None] == setups[None, :]).astype(float)
    np.fill_diagonal(same, 0.0)
    local = np.einsum("it,jt->tij", a / weight, a) if same.any() else None
    k = len(setups)
    if not effects:
        together = None if local is None else same * local
        left = np.concatenate([own[:, :, None], one], axis=2)
        none = np.zeros((k, 0))
        return VariancePart(
            task,
            own,
            left,
            left[:, :, ::-1],
            together,
            own,
            np.zeros((len(task), k, 0)),
            none,
            np.zeros((len(fit.theta), 0, 0)),
            np.zeros(k),
            np.zeros((k, k)),
        )
    tau2 = fit.update.cv**2 if fit.update.df is not None else 0.0
    share = app.share[place] * there[:, :, None]
    shrink = app.shrink[setups]
    reach = np.einsum("sij,sj->si", shrink, np.einsum("st,stj->sj", a, share))
    along = np.einsum("stj,sj->st", share, reach)
    q_reach = (weight * there)[:, :, None] * share * (reach[:, None, :] - along[:, :, None])
    u = -tau2 * np.einsum("sjk,stk->tsj", app.inverse @ shrink, q_reach)
    through = np.matmul(reach, app.kernels[0])
    own = own + tau2**2 * np.einsum("sti,si->ts", q_reach, reach)
    at_home = own
    own = own + np.einsum("tsi,si->ts", through - 2.0 * u, reach)
    spread = np.broadcast_to(reach, u.shape)
    left = np.concatenate([own[:, :, None], one, u, spread, -through], axis=2)
    right = np.concatenate([one, own[:, :, None], 2 * spread, 2 * u, 2 * spread], axis=2)
    together = None
    if local is not None:
        together = same * (local + tau2**2 * np.einsum("ite,je->tij", q_reach, reach))
    uneven = _uneven_part(app, setups, reach, same)
    return VariancePart(
        task, own, left, right, together, at_home, u, reach, app.kernels[1], *uneven
    )


@dataclass(frozen=True, slots=True)
class SetupParts:
    """What each setup's cells add to the variances of k rows, for Σ B_s²/d_s.

    B_s of a difference d = G_i − G_j is ``d K_s d`` of every app, and for the setup of row i
    itself ``at_home_i − 2 U_i·d`` besides, for that of row j ``at_home_j + 2 U_j·d``.
    """

    parts: list[VariancePart]
    setups: IndexArray
    inverse_df: FloatArray

    def alone(self) -> FloatArray:
        """Σ B_s²/d_s of each row by itself, shape (k,)."""
        k = len(self.setups)
        home, through = np.zeros(k), np.zeros((len(self.inverse_df), k))
        for part in self.parts:
            crossing = part.crossing.sum(axis=0)
            home += part.at_home.sum(axis=0) - 2.0 * np.einsum("ke,ke->k", crossing, part.reach)
            through += (np.matmul(part.reach, part.by_setup) * part.reach).sum(axis=2)
        through[self.setups, np.arange(k)] += home
        return np.asarray(self.inverse_df @ through**2)

    def differences(self) -> FloatArray:
        """Σ B_s²/d_s of each difference of two rows, shape (k, k)."""
        k = len(self.setups)
        # What the setup of row i adds to row i less row j, updates' kernels left out.
        home = np.zeros((k, k))
        for part in self.parts:
            across = part.crossing.sum(axis=0) @ part.reach.T
            home += part.at_home.sum(axis=0)[:, None] - 2.0 * (np.diag(across)[:, None] - across)
        bridged = [part for part in self.parts if part.reach.shape[1]]
        i, j = np.triu_indices(k, 1)
        spent = np.zeros((k, k))
        for at in range(0, len(i), PAIRS_AT_ONCE):
            first, second = i[at : at + PAIRS_AT_ONCE], j[at : at + PAIRS_AT_ONCE]
            found = self._spent(bridged, home, first, second)
            spent[first, second] = spent[second, first] = found
        return spent

    def _spent(
        self, bridged: list[VariancePart], home: FloatArray, i: IndexArray, j: IndexArray
    ) -> FloatArray:
        """Σ B_s²/d_s of the differences of rows i and rows j, shape (pairs,)."""
        first, second = self.setups[i], self.setups[j]
        same = first == second
        if not bridged and not same.any():
            weight = self.inverse_df
            return np.asarray(weight[first] * home[i, j] ** 2 + weight[second] * home[j, i] ** 2)
        # B_s is linear in what d holds two by two, x: d K_s d = x·k_s. So Σ B_s²/d_s is one
        # quadratic form in x, and what the two rows' own setups add to theirs.
        held, kernels = [], []
        for part in bridged:
            d = part.reach[i] - part.reach[j]
            a, b = np.triu_indices(d.shape[1])
            held.append(d[:, a] * d[:, b])
            kernels.append(part.by_setup[:, a, b] * np.where(a == b, 1.0, 2.0))
        if not held:
            held, kernels = [np.zeros((len(i), 0))], [np.zeros((len(self.inverse_df), 0))]
        x, kernel = np.concatenate(held, axis=1), np.concatenate(kernels, axis=1)
        spent = ((x @ (kernel.T @ (self.inverse_df[:, None] * kernel))) * x).sum(axis=1)

        def own(setup: IndexArray, amount: FloatArray) -> FloatArray:
            """What an amount more in the B of one setup adds: (B + h)² − B²."""
            before = (x * kernel[setup]).sum(axis=1)
            return np.asarray(self.inverse_df[setup] * amount * (2.0 * before + amount))

        if not same.any():
            return np.asarray(
                np.maximum(spent + own(first, home[i, j]) + own(second, home[j, i]), 0.0)
            )
        shared = sum(
            (part.together.sum(axis=0) for part in self.parts if part.together is not None),
            np.zeros(home.shape),
        )
        both = home[i, j] + np.where(same, home[j, i] - 2.0 * shared[i, j], 0.0)
        apart = np.where(same, 0.0, home[j, i])
        return np.asarray(np.maximum(spent + own(first, both) + own(second, apart), 0.0))


def _uneven_part(
    app: AppFit, setups: IndexArray, reach: FloatArray, same: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Variance of rows and of their differences that uneven updates add, over τ²."""
    moved = app.inverse @ app.shrink @ app.information
    kernel = np.einsum("sij,skj->ik", moved, moved)
    v = np.einsum("sij,sj->si", moved[setups], reach)
    square = reach @ kernel @ reach.T
    cross = v @ reach.T
    covariance = square - cross - cross.T
    alone = np.einsum("si,si->s", reach, reach)
    own = np.diag(covariance) + alone
    covariance = covariance + same * (reach @ reach.T)
    difference = np.maximum(own[:, None] + own[None, :] - 2.0 * covariance, 0.0)
    np.fill_diagonal(difference, 0.0)
    return own, difference
