"""The fit: cells to log speeds, with the effect of each app update taken out.

Section 3 of the computation page. Cells follow
``v_c = θ(setup, task) + δ(app, round) + u(setup, app, round) + e``, fitted by
generalised least squares. An app shares nothing with another app; inside an app
θ is eliminated node by node and u setup by setup, which leaves one small system
in δ, with an unknown for each round but the reference. Nothing is ever as large
as the cells squared: cost and memory grow with the cells.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.special import chdtrc

from true_margin.core.cells import Basis, CellTable, basis_of
from true_margin.core.study import FlagArray, FloatArray, IndexArray, Study

MISFIT_P = 0.01
"""Below this p-value the bridges are said to disagree about an update."""
UPDATE_MEASURED_DF = 3
"""Directions of scatter between bridges at which τ is called measured."""
_RANK_TOLERANCE = 1e-6


@dataclass(frozen=True, slots=True)
class RoundEffect:
    """What one round did to every task of one app.

    Attributes:
        app: name of the app.
        round: name of the round.
        log_effect: δ, on the log-speed scale; 0 for the reference.
        reference: True where results read "as of" this round.
        place: index of the round in the study.
    """

    app: str
    round: str
    log_effect: float
    reference: bool
    place: int


@dataclass(frozen=True, slots=True)
class UpdateSpread:
    """How unevenly updates land on different setups (τ).

    Attributes:
        cv: standard deviation of the uneven part, on the log scale.
        df: its degrees of freedom; None where there is no τ.
        evidence_df: directions of scatter that the data gave (d).
        basis: assumed, partly measured or measured; None where no τ is needed.
        misfit_p: p-value of Q against χ² with the residual degrees of freedom;
            None where there are none.
    """

    cv: float
    df: float | None
    evidence_df: int
    basis: Basis | None
    misfit_p: float | None

    @property
    def bridges_disagree(self) -> bool:
        """True where the scatter between bridges is too large for chance."""
        return self.misfit_p is not None and self.misfit_p < MISFIT_P


@dataclass(frozen=True)
class AppFit:
    """One app's share of the fit, with all that a contrast's variance needs.

    A node is a measured (setup, task); e is the number of the app's rounds outside of
    a reference. Nodes are sorted by setup, then task.

    Attributes:
        setup, task: of each node, shape (nodes,).
        weight: W, sum of the weights of a node's cells, shape (nodes,).
        share: part of that weight in each round outside of a reference, shape (nodes, e).
        rest: part of it in all rounds but that one, shape (nodes, e).
        information: of each setup about δ + u (θ taken out), shape (setups, e, e).
        shrink: (I + τ² information)⁻¹ of each setup, shape (setups, e, e).
        inverse: inverse of the system in δ, its covariance, shape (e, e).
        score: of each setup about δ + u, shape (setups, e).
        rounds: rounds outside of a reference, as indices of the study, shape (e,).
    """

    setup: IndexArray
    task: IndexArray
    weight: FloatArray
    share: FloatArray
    rest: FloatArray
    information: FloatArray
    shrink: FloatArray
    inverse: FloatArray
    score: FloatArray
    rounds: IndexArray

    @cached_property
    def tasks(self) -> IndexArray:
        """Tasks that were measured in this app, in index order."""
        return np.unique(self.task)

    @cached_property
    def kernels(self) -> tuple[FloatArray, FloatArray]:
        """What each task's and each setup's cells add to the covariance of δ (K).

        Returns:
            Shapes (tasks, e, e), in the order of ``tasks``, and (setups, e, e).
        """
        moved = self.inverse @ self.shrink[self.setup]
        nodes = node_information(self.weight, self.share, self.rest)
        found = moved @ nodes @ moved.transpose(0, 2, 1)
        by_task = np.zeros((len(self.tasks), *self.inverse.shape))
        np.add.at(by_task, np.searchsorted(self.tasks, self.task), found)
        by_setup = np.zeros_like(self.information)
        np.add.at(by_setup, self.setup, found)
        return by_task, by_setup


@dataclass(frozen=True, slots=True)
class Fit:
    """Log speeds of every measured (setup, task), and how they hang together.

    Arrays over (setup, task) have shape (setups, tasks).

    Attributes:
        app_names: name of each app.
        theta: log speed as of the latest round; NaN where not measured.
        component: label of the connected component; −1 where not measured.
        carried: True where the figure comes from earlier rounds only.
        node_app: index of each task's app, shape (tasks,).
        node_row: place of each (setup, task) among its app's nodes; −1 where none.
        apps: one entry an app.
        rounds: effects of all app-rounds with counted runs, by app, then round.
        update: the uneven part of updates.
        round_component: label of each app's round, shape (apps, rounds); −1 where no cell
            was measured in it.
        round_effect: place of each app's round among its rounds outside of a reference, shape
            (apps, rounds); −1 for a reference and where nothing was measured.
        deltas: δ of those rounds, one array an app.
    """

    app_names: tuple[str, ...]
    theta: FloatArray
    component: IndexArray
    carried: FlagArray
    node_app: IndexArray
    node_row: IndexArray
    apps: tuple[AppFit, ...]
    rounds: tuple[RoundEffect, ...]
    update: UpdateSpread
    round_component: IndexArray
    round_effect: IndexArray
    deltas: tuple[FloatArray, ...]


@dataclass(frozen=True, slots=True)
class _Graph:
    """Which cells hang together, and what is the reference there.

    Arrays by cell: the app, the component's label, the place among the app's rounds
    outside of a reference (−1 in a reference round).
    """

    app: IndexArray
    app_names: tuple[str, ...]
    node_app: IndexArray
    label: IndexArray
    effect: IndexArray


@dataclass(frozen=True, slots=True)
class _Nodes:
    """One app's cells gathered into nodes.

    Attributes:
        setup, task: of each node.
        weight, mean: sum of weights and weighted mean of log speed, by node.
        share, rest: as in ``AppFit``.
        misfit: sum over cells of w (v − mean)².
        information, score: of each setup about δ + u, shapes (setups, e, e), (setups, e).
        rounds: rounds outside of a reference, shape (e,).
    """

    setup: IndexArray
    task: IndexArray
    weight: FloatArray
    mean: FloatArray
    share: FloatArray
    rest: FloatArray
    misfit: float
    information: FloatArray
    score: FloatArray
    rounds: IndexArray


def fit_rounds(study: Study, cells: CellTable) -> Fit:
    """Fit log speeds and update effects to the cells.

    Args:
        study: a checked study.
        cells: its cells.

    Returns:
        Estimates, what their variances are made of, and the update spread.

    Reference:
        Henderson's equations with θ eliminated: Searle, Casella & McCulloch (1992),
        Variance Components, ch. 7; DerSimonian & Laird (1986), eq. 8, for τ² by moments.
    """
    graph = _join(study, cells)
    gathered = [_gather(study, cells, graph, app) for app in range(len(graph.app_names))]
    update = _update_spread(study, gathered, len(cells))
    shape = (len(study.setups), len(study.tasks))
    theta = np.full(shape, np.nan)
    node_row = np.full(shape, -1, dtype=np.intp)
    component = np.full(shape, -1, dtype=np.intp)
    component[cells.setup, cells.task] = graph.label
    apps, deltas, arrays = [], [], []
    for nodes in gathered:
        fitted, delta, uneven = _fit_app(nodes, update.cv**2)
        shift = delta + uneven[nodes.setup]
        theta[nodes.setup, nodes.task] = nodes.mean - (nodes.share * shift).sum(axis=1)
        node_row[nodes.setup, nodes.task] = np.arange(len(nodes.setup))
        apps.append(fitted)
        arrays.append(delta)
        deltas.append(dict(zip(nodes.rounds.tolist(), delta.tolist(), strict=True)))
    carried = component >= 0
    latest = graph.effect < 0
    carried[cells.setup[latest], cells.task[latest]] = False
    return Fit(
        graph.app_names,
        theta,
        component,
        carried,
        graph.node_app,
        node_row,
        tuple(apps),
        _round_effects(study, cells, graph, deltas),
        update,
        *_round_places(study, cells, graph),
        tuple(arrays),
    )


def _join(study: Study, cells: CellTable) -> _Graph:
    """Join (setup, task) and (app, round) nodes by cells; find the components."""
    app_names = tuple(sorted({task.app or task.name for task in study.tasks}))
    index = {name: i for i, name in enumerate(app_names)}
    node_app = np.array([index[task.app or task.name] for task in study.tasks], dtype=np.intp)
    tasks, rounds = len(study.tasks), max(len(study.rounds), 1)
    app = node_app[cells.task] if len(cells) else np.zeros(0, dtype=np.intp)
    node = cells.setup * tasks + cells.task
    app_round = app * rounds + cells.round
    size = len(study.setups) * tasks + len(app_names) * rounds
    links = coo_matrix(
        (np.ones(len(cells)), (node, len(study.setups) * tasks + app_round)), shape=(size, size)
    )
    label = connected_components(links, directed=False)[1][node].astype(np.intp)
    latest = np.full(size, -1, dtype=np.intp)
    np.maximum.at(latest, label, cells.round)
    outside = cells.round != latest[label]
    effect = np.full(len(cells), -1, np.intp)
    used = np.zeros((len(app_names), rounds), dtype=bool)
    used[app[outside], cells.round[outside]] = True
    # Places count anew in each app, by round.
    effect[outside] = (np.cumsum(used, axis=1) - 1)[app[outside], cells.round[outside]]
    return _Graph(app, app_names, node_app, label, effect)


def _gather(study: Study, cells: CellTable, graph: _Graph, app: int) -> _Nodes:
    """Gather one app's cells into nodes, and take θ out of each."""
    own = np.flatnonzero(graph.app == app)
    key, node = np.unique(
        cells.setup[own] * len(study.tasks) + cells.task[own], return_inverse=True
    )
    setup, task = np.divmod(key, max(len(study.tasks), 1))
    w, v, effect = cells.weight[own], cells.value[own], graph.effect[own]
    count = len(key)
    weight = np.asarray(np.bincount(node, w, count), dtype=float)
    mean = np.bincount(node, w * v, count) / weight
    outside = effect >= 0
    rounds = np.unique(cells.round[own][outside])
    share = np.zeros((count, len(rounds)))
    share[node[outside], effect[outside]] = w[outside] / weight[node[outside]]
    rest = v - mean[node]
    score = np.zeros((len(study.setups), len(rounds)))
    np.add.at(score, (cells.setup[own][outside], effect[outside]), (w * rest)[outside])
    # What the other rounds hold, added up rather than taken from 1: a sharp cell beside a
    # coarse one would leave nothing of it.
    reference = np.bincount(node[~outside], w[~outside], count) / weight
    rest_share = reference[:, None] + share @ (1.0 - np.eye(len(rounds)))
    information = np.zeros((len(study.setups), len(rounds), len(rounds)))
    if len(rounds):
        np.add.at(information, setup, node_information(weight, share, rest_share))
    return _Nodes(
        setup, task, weight, mean, share, rest_share, float(w @ rest**2), information, score, rounds
    )


def node_information(weight: FloatArray, share: FloatArray, rest: FloatArray) -> FloatArray:
    """Give what each node tells about δ + u once its θ is taken out: W (diag p − p pᵀ).

    Args:
        weight: W of each node, shape (n,).
        share: p of each node, shape (n, e).
        rest: 1 − p of each node, shape (n, e).

    Returns:
        Shape (n, e, e).
    """
    one = np.eye(share.shape[1])
    spread = -share[:, :, None] * share[:, None, :] * (1.0 - one)
    spread += (share * rest)[:, :, None] * one
    return np.asarray(weight[:, None, None] * spread)


def _fit_app(nodes: _Nodes, tau2: float) -> tuple[AppFit, FloatArray, FloatArray]:
    """Solve one app's system.

    Returns:
        What contrasts need, δ of shape (e,), and u of shape (setups, e).
    """
    one = np.eye(len(nodes.rounds))
    shrink = np.asarray(np.linalg.inv(one + tau2 * nodes.information), dtype=float)
    system = (nodes.information @ shrink).sum(axis=0)
    inverse = _inverse(system)
    seen = np.einsum("sij,sj->si", shrink, nodes.score)
    delta = inverse @ seen.sum(axis=0)
    uneven = tau2 * (seen - np.einsum("sij,sjk,k->si", shrink, nodes.information, delta))
    fitted = AppFit(
        nodes.setup,
        nodes.task,
        nodes.weight,
        nodes.share,
        nodes.rest,
        nodes.information,
        shrink,
        inverse,
        nodes.score,
        nodes.rounds,
    )
    return fitted, delta, uneven


def _inverse(system: FloatArray) -> FloatArray:
    """Invert a system in δ; one that rounding made singular, as far as it tells anything."""
    try:
        return np.asarray(np.linalg.inv(system), dtype=float)
    except np.linalg.LinAlgError:
        return np.asarray(np.linalg.pinv(system, hermitian=True), dtype=float)


def _update_spread(study: Study, gathered: list[_Nodes], cells: int) -> UpdateSpread:
    """τ² by moments from the fit without u, moderated by the prior."""
    updated = [nodes for nodes in gathered if len(nodes.rounds)]
    if not updated:
        return UpdateSpread(0.0, None, 0, None, None)
    misfit = sum(nodes.misfit for nodes in updated)
    residual_df = cells - sum(len(nodes.setup) + len(nodes.rounds) for nodes in gathered)
    information, evidence = 0.0, 0
    totals = [nodes.information.sum(axis=0) for nodes in updated]
    for nodes, total in zip(updated, totals, strict=True):
        score = nodes.score.sum(axis=0)
        misfit -= float(score @ _inverse(total) @ score)
        square = np.einsum("sij,sjk->ik", nodes.information, nodes.information)
        # tr(ZᵀMZ), with M the projection that is left once θ and δ are taken out.
        information += float(np.trace(total) - np.trace(_inverse(total) @ square))
    floor = _RANK_TOLERANCE * max(1.0, information)
    for nodes, total in zip(updated, totals, strict=True):
        # δ takes up as many directions of the setups' information as it has unknowns.
        each = np.linalg.eigvalsh(nodes.information) > floor
        evidence += int(each.sum()) - int((np.linalg.eigvalsh(total) > floor).sum())
    if information <= 0.0:
        # Rounding can leave nothing of it where one cell's weight dwarfs all others.
        evidence = 0
    return _moderate_update(study, max(misfit, 0.0), residual_df, information, evidence)


def _moderate_update(
    study: Study, misfit: float, residual_df: int, information: float, evidence: int
) -> UpdateSpread:
    settings = study.settings
    by_moments = 0.0
    if residual_df > 0 and evidence > 0:
        by_moments = max(0.0, (misfit - residual_df) / information)
    misfit_p = float(chdtrc(residual_df, misfit)) if residual_df > 0 else None
    basis = basis_of(evidence, UPDATE_MEASURED_DF)
    df = settings.update_prior_df + evidence
    if df <= 0:
        return UpdateSpread(0.0, None, evidence, basis, misfit_p)
    prior = settings.update_prior_df * settings.update_prior_cv**2
    cv = float(np.sqrt((prior + evidence * by_moments) / df))
    return UpdateSpread(cv, df, evidence, basis, misfit_p)


def _round_places(study: Study, cells: CellTable, graph: _Graph) -> tuple[IndexArray, IndexArray]:
    """Component and effect of every round of every app, as far as it was measured."""
    shape = (len(graph.app_names), max(len(study.rounds), 1))
    component, effect = np.full(shape, -1, dtype=np.intp), np.full(shape, -1, dtype=np.intp)
    component[graph.app, cells.round] = graph.label
    effect[graph.app, cells.round] = graph.effect
    return component, effect


def _round_effects(
    study: Study, cells: CellTable, graph: _Graph, deltas: list[dict[int, float]]
) -> tuple[RoundEffect, ...]:
    rounds = max(len(study.rounds), 1)
    key, at = np.unique(graph.app * rounds + cells.round, return_index=True)
    found = [
        RoundEffect(
            graph.app_names[app],
            study.rounds[round_],
            deltas[app].get(round_, 0.0),
            bool(graph.effect[first] < 0),
            round_,
        )
        for app, round_, first in zip(
            (key // rounds).tolist(), (key % rounds).tolist(), at.tolist(), strict=True
        )
    ]
    return tuple(sorted(found, key=lambda e: (e.app, e.round)))
