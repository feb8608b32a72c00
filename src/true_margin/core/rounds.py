"""The fit: cells to log speeds, with the effect of each app update taken out.

Section 3 of the computation page. Cells follow
``v_c = θ(setup, task) + δ(app, round) + u(setup, app, round) + e``, fitted by
generalised least squares. An app shares nothing with another app, and inside
an app the setups meet only in δ; so θ is eliminated setup by setup and what
remains to be solved is one small system an app.
"""

from __future__ import annotations

from dataclasses import dataclass

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
    """

    app: str
    round: str
    log_effect: float
    reference: bool


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


@dataclass(frozen=True, slots=True)
class CoefficientRows:
    """Estimates as linear forms in the cell values: row i is Σ a_c v_c.

    Attributes:
        cells: the cells that take part, shape (n,).
        matrix: coefficients, shape (rows, n).
    """

    cells: IndexArray
    matrix: FloatArray


@dataclass(frozen=True, slots=True)
class AppBlock:
    """One app's share of the fit.

    Attributes:
        cells: its cells, shape (n,), sorted by setup.
        coefficients: row of each of its nodes over those cells, shape (nodes, n);
            None where no update is involved and every node is its one cell.
    """

    cells: IndexArray
    coefficients: FloatArray | None


@dataclass(frozen=True, slots=True)
class Fit:
    """Log speeds of every measured (setup, task), and how they hang together.

    Arrays over (setup, task) have shape (setups, tasks).

    Attributes:
        theta: log speed as of the latest round; NaN where not measured.
        component: label of the connected component; −1 where not measured.
        carried: True where the figure comes from earlier rounds only.
        node_app: app index of each task, shape (tasks,).
        node_row: row of each (setup, task) in its app's block; −1 where none.
        blocks: one entry an app.
        group: random-effect group of each cell; −1 in a reference round.
        rounds: effects of all app-rounds with counted runs, by app, then round.
        update: the uneven part of updates.
    """

    theta: FloatArray
    component: IndexArray
    carried: FlagArray
    node_app: IndexArray
    node_row: IndexArray
    blocks: tuple[AppBlock, ...]
    group: IndexArray
    rounds: tuple[RoundEffect, ...]
    update: UpdateSpread

    def rows_of(self, setups: IndexArray, weights: FloatArray) -> CoefficientRows:
        """Give Σ_t weights[t]·θ(s, t) of each setup as a form in the cells.

        Args:
            setups: indices of setups that were measured on every weighted task.
            weights: one weight a task, shape (tasks,).
        """
        cells: list[IndexArray] = []
        parts: list[FloatArray] = []
        tasks = np.flatnonzero(weights)
        for app in np.unique(self.node_app[tasks]):
            own = tasks[self.node_app[tasks] == app]
            rows = self.node_row[np.ix_(setups, own)]
            part = _block_rows(self.blocks[app], rows, weights[own])
            cells.append(part.cells)
            parts.append(part.matrix)
        return CoefficientRows(np.concatenate(cells), np.concatenate(parts, axis=1))


def _block_rows(block: AppBlock, rows: IndexArray, weights: FloatArray) -> CoefficientRows:
    if block.coefficients is not None:
        matrix = np.einsum("stn,t->sn", block.coefficients[rows], weights)
        return CoefficientRows(block.cells, matrix)
    setups, tasks = rows.shape
    matrix = np.zeros((setups, setups * tasks))
    columns = np.arange(setups * tasks).reshape(setups, tasks)
    matrix[np.arange(setups)[:, None], columns] = weights
    return CoefficientRows(block.cells[rows.ravel()], matrix)


@dataclass(frozen=True, slots=True)
class _Graph:
    """Which cells hang together, by cell, and what is the reference there."""

    app: IndexArray
    app_names: tuple[str, ...]
    node_app: IndexArray
    label: IndexArray
    reference_round: IndexArray
    effect: IndexArray
    group: IndexArray


@dataclass(frozen=True, slots=True)
class _SetupDesign:
    """One setup's cells inside one app: which node, effect and group each belongs to."""

    rows: IndexArray
    nodes: IndexArray
    design: FloatArray
    effects: FloatArray
    groups: FloatArray
    weight: FloatArray


@dataclass(frozen=True, slots=True)
class _AppDesign:
    """One app's cells, setup by setup; empty parts where no update is involved."""

    cells: IndexArray
    used: IndexArray
    parts: tuple[_SetupDesign, ...]


@dataclass(frozen=True, slots=True)
class _SetupPart:
    """One setup's cells inside one app, with θ eliminated."""

    rows: IndexArray
    solve: FloatArray
    effects: FloatArray
    residual: FloatArray
    groups: FloatArray


def fit_rounds(study: Study, cells: CellTable) -> Fit:
    """Fit log speeds and update effects to the cells.

    Args:
        study: a checked study.
        cells: its cells.

    Returns:
        Estimates, their linear forms, and the update spread.

    Reference:
        Searle, Casella & McCulloch (1992), Variance Components, ch. 7 (GLS by
        elimination); DerSimonian & Laird (1986), eq. 8, for τ² by moments.
    """
    graph = _join(study, cells)
    designs = [_design_app(cells, graph, app) for app in range(len(graph.app_names))]
    update = _update_spread(study, cells, designs)
    shape = (len(study.setups), len(study.tasks))
    theta = np.full(shape, np.nan)
    node_row = np.full(shape, -1, dtype=np.intp)
    component = np.full(shape, -1, dtype=np.intp)
    component[cells.setup, cells.task] = graph.label
    delta = np.zeros(int(graph.effect.max(initial=-1)) + 1)
    blocks = [_fit_app(cells, app, update.cv**2, theta, node_row, delta) for app in designs]
    carried = component >= 0
    carried[cells.setup[graph.effect < 0], cells.task[graph.effect < 0]] = False
    return Fit(
        theta, component, carried, graph.node_app, node_row, tuple(blocks), graph.group,
        _round_effects(study, cells, graph, delta), update,
    )  # fmt: skip


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
    # δ belongs to an app-round; groups to a setup within it.
    effect, group = np.full(len(cells), -1, np.intp), np.full(len(cells), -1, np.intp)
    effect[outside] = np.unique(app_round[outside], return_inverse=True)[1]
    key = app_round[outside] * max(len(study.setups), 1) + cells.setup[outside]
    group[outside] = np.unique(key, return_inverse=True)[1]
    return _Graph(app, app_names, node_app, label, latest[label], effect, group)


def _design_app(cells: CellTable, graph: _Graph, app: int) -> _AppDesign:
    """Lay out one app's cells, setup by setup."""
    own = np.flatnonzero(graph.app == app)
    own = own[np.argsort(cells.setup[own], kind="stable")]
    effect = graph.effect[own]
    used = np.unique(effect[effect >= 0])
    if len(used) == 0:
        return _AppDesign(own, used, ())
    starts = np.flatnonzero(np.diff(cells.setup[own], prepend=-1))
    parts = []
    for rows in np.split(np.arange(len(own)), starts[1:]):
        task, group = cells.task[own[rows]], graph.group[own[rows]]
        # Sets of small integers: sorting in Python beats a general unique here.
        nodes = np.array(sorted(set(task.tolist())))
        groups = np.array(sorted(set(group[group >= 0].tolist())), dtype=np.intp)
        parts.append(
            _SetupDesign(
                rows, nodes,
                (task[:, None] == nodes).astype(float),
                (effect[rows, None] == used).astype(float),
                (group[:, None] == groups).astype(float),
                cells.weight[own[rows]],
            )
        )  # fmt: skip
    return _AppDesign(own, used, tuple(parts))


def _fit_app(
    cells: CellTable,
    app: _AppDesign,
    tau2: float,
    theta: FloatArray,
    node_row: IndexArray,
    delta: FloatArray,
) -> AppBlock:
    """Fit one app; fills its entries of ``theta``, ``node_row`` and ``delta``."""
    setup, task, y = cells.setup[app.cells], cells.task[app.cells], cells.value[app.cells]
    if not app.parts:
        # All in reference rounds: two cells of one node would have joined two
        # rounds, so here every node is exactly one cell.
        node_row[setup, task] = np.arange(len(y))
        theta[setup, task] = y
        return AppBlock(app.cells, None)
    parts = _eliminate(app, tau2)
    to_delta = _effect_rows(parts, len(y), len(app.used))
    delta[app.used] = to_delta @ y
    coefficients = []
    row = 0
    for part, design in zip(parts, app.parts, strict=True):
        matrix = -(part.solve @ part.effects) @ to_delta
        matrix[:, part.rows] += part.solve
        own = setup[part.rows[0]]
        node_row[own, design.nodes] = np.arange(row, row + len(design.nodes))
        theta[own, design.nodes] = matrix @ y
        coefficients.append(matrix)
        row += len(design.nodes)
    return AppBlock(app.cells, np.concatenate(coefficients))


def _eliminate(app: _AppDesign, tau2: float) -> list[_SetupPart]:
    """Take θ out of each setup's equations."""
    parts = []
    for each in app.parts:
        inverse = _inverse_variance(each.weight, each.groups, tau2)
        weighted = each.design.T @ inverse
        solve = np.asarray(np.linalg.solve(weighted @ each.design, weighted), dtype=float)
        residual = inverse - weighted.T @ solve
        parts.append(_SetupPart(each.rows, solve, each.effects, residual, each.groups))
    return parts


def _inverse_variance(weight: FloatArray, groups: FloatArray, tau2: float) -> FloatArray:
    """V⁻¹ of V = diag(1/w) + τ² Z Zᵀ."""
    if tau2 == 0.0 or groups.shape[1] == 0:
        return np.diag(weight)
    return np.asarray(np.linalg.inv(np.diag(1.0 / weight) + tau2 * groups @ groups.T))


def _effect_rows(parts: list[_SetupPart], cells: int, effects: int) -> FloatArray:
    """Rows that turn cell values into δ, shape (effects, cells)."""
    system = np.zeros((effects, effects))
    right = np.zeros((effects, cells))
    for part in parts:
        share = part.effects.T @ part.residual
        system += share @ part.effects
        right[:, part.rows] = share
    return np.asarray(np.linalg.solve(system, right))


def _update_spread(study: Study, cells: CellTable, designs: list[_AppDesign]) -> UpdateSpread:
    """τ² by moments from the fit without u, moderated by the prior."""
    updated = [app for app in designs if app.parts]
    if not updated:
        return UpdateSpread(0.0, None, 0, None, None)
    misfit, residual_df = 0.0, 0
    squares: list[FloatArray] = []
    for app in updated:
        parts = _eliminate(app, 0.0)
        misfit += _misfit(parts, cells.value[app.cells], len(app.used))
        nodes = sum(len(part.nodes) for part in app.parts)
        residual_df += len(app.cells) - nodes - len(app.used)
        squares.append(_group_square(parts, len(app.used)))
    return _moderate_update(study, misfit, residual_df, squares)


def _misfit(parts: list[_SetupPart], y: FloatArray, effects: int) -> float:
    """Q = rᵀWr of one app: yᵀRy less what the effects explain."""
    delta = _effect_rows(parts, len(y), effects) @ y
    total = 0.0
    for part in parts:
        rest = y[part.rows] - part.effects @ delta
        total += float(rest @ part.residual @ rest)
    return total


def _group_square(parts: list[_SetupPart], effects: int) -> FloatArray:
    """ZᵀMZ of one app, M = R − TᵀS⁻¹T."""
    size = sum(part.groups.shape[1] for part in parts)
    square, shared = np.zeros((size, size)), np.zeros((effects, size))
    system = np.zeros((effects, effects))
    at = 0
    for part in parts:
        mine = slice(at, at + part.groups.shape[1])
        square[mine, mine] = part.groups.T @ part.residual @ part.groups
        shared[:, mine] = part.effects.T @ part.residual @ part.groups
        system += part.effects.T @ part.residual @ part.effects
        at = mine.stop
    return np.asarray(square - shared.T @ np.linalg.solve(system, shared))


def _moderate_update(
    study: Study, misfit: float, residual_df: int, squares: list[FloatArray]
) -> UpdateSpread:
    settings = study.settings
    information = float(sum(np.trace(square) for square in squares))
    floor = _RANK_TOLERANCE * max(1.0, information)
    evidence = int(sum((np.linalg.eigvalsh(square) > floor).sum() for square in squares))
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


def _round_effects(
    study: Study, cells: CellTable, graph: _Graph, delta: FloatArray
) -> tuple[RoundEffect, ...]:
    found = {}
    for app, round_, effect in zip(graph.app, cells.round, graph.effect, strict=True):
        log_effect = float(delta[effect]) if effect >= 0 else 0.0
        key = (graph.app_names[app], study.rounds[round_])
        found[key] = RoundEffect(*key, log_effect, bool(effect < 0))
    return tuple(found[key] for key in sorted(found))
