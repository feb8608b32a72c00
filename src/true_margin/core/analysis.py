"""The whole analysis of a study: cells, fit, margins, ladders, checks, value.

Each part lives in the module named after it; here they are put together.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from true_margin.core.cells import CellTable, build_cells
from true_margin.core.checks import Flag, flag_runs
from true_margin.core.ladder import Rung, Standing, cannot_do, climb, stand_setups
from true_margin.core.margins import PairTable, compare_pairs, contrast_setups
from true_margin.core.money import Value, value_setups
from true_margin.core.rounds import Fit, fit_rounds
from true_margin.core.study import FlagArray, FloatArray, IndexArray, Study, check_study

DEFAULT_SEED = 8437
"""Seed of the draws, so that the same runs always give the same chances."""


@dataclass(frozen=True, slots=True)
class Comparison:
    """Everything about one task, or about the mix.

    Attributes:
        task: index of the task; None for the mix.
        pairs: margins of all setups that were measured on it.
        rungs: the ladder, fastest first.
        standing: who is on it, and why the others are not.
    """

    task: int | None
    pairs: PairTable
    rungs: tuple[Rung, ...]
    standing: Standing


@dataclass(frozen=True, slots=True)
class Analysis:
    """What the runs of a study say.

    Attributes:
        study: what was analysed.
        cells: cells and spreads.
        fit: log speeds and update effects.
        tasks: one comparison a task, in the study's order.
        mix: the comparison over the mix; None for a study without tasks.
        flags: runs and cells to look at.
        values: value and frontier, where prices are known.
    """

    study: Study
    cells: CellTable
    fit: Fit
    tasks: tuple[Comparison, ...]
    mix: Comparison | None
    flags: tuple[Flag, ...]
    values: tuple[Value, ...]

    def comparison(self, task: int | None) -> Comparison | None:
        """The comparison of a task by index, or of the mix for None."""
        return self.mix if task is None else self.tasks[task]


def analyse(study: Study, *, seed: int = DEFAULT_SEED) -> Analysis:
    """Analyse a study.

    Args:
        study: setups, tasks, rounds, runs and settings.
        seed: of the draws behind chances of being fastest.

    Returns:
        Every result of sections 2 to 6 of the computation page, and value.

    Raises:
        CaseError: a setting, weight or value is out of range.
        SpreadUnknownError: a task has no repeat and no prior.
    """
    check_study(study)
    cells = build_cells(study)
    fit = fit_rounds(study, cells)
    cannot = cannot_do(study)

    def compare_on(task: int | None) -> Comparison:
        return compare(study, cells, fit, cannot, task=task, seed=seed)

    tasks = tuple(compare_on(task) for task in range(len(study.tasks)))
    mix = compare_on(None) if study.tasks else None
    values = value_setups(study, mix.rungs) if mix is not None else ()
    return Analysis(study, cells, fit, tasks, mix, flag_runs(study, cells), values)


def compare(
    study: Study,
    cells: CellTable,
    fit: Fit,
    cannot: FlagArray,
    *,
    task: int | None,
    seed: int = DEFAULT_SEED,
) -> Comparison:
    """Compare all setups on one task, or on the mix where ``task`` is None."""
    weights = _weights(study, task)
    used = np.flatnonzero(weights)
    setups = np.flatnonzero((fit.component[:, used] >= 0).all(axis=1))
    contrasts = contrast_setups(fit, cells, setups, weights)
    component = _joint_component(fit, setups, used)
    broken = study.broken_on(used)[np.ix_(setups, setups)]
    pairs = compare_pairs(contrasts, component, study.settings, broken=broken)
    standing = stand_setups(study, fit, cannot, weights)
    on = np.isin(setups, standing.on)
    draw_df = min(
        (spread.df for spread in (cells.spread[t] for t in used) if spread is not None),
        default=float("inf"),
    )
    rungs = climb(study, pairs, on, draw_df, seed)
    return Comparison(task, pairs, rungs, standing)


def _weights(study: Study, task: int | None) -> FloatArray:
    if task is not None:
        return np.asarray(np.eye(len(study.tasks))[task])
    weights = np.asarray(study.mix, dtype=float)
    return np.asarray(weights / weights.sum())


def _joint_component(fit: Fit, setups: IndexArray, tasks: IndexArray) -> IndexArray:
    """One label a setup: setups share it where they hang together on every task."""
    if len(setups) == 0:
        return np.zeros(0, dtype=np.intp)
    if len(tasks) == 1:
        return np.asarray(fit.component[setups, tasks[0]])
    together = fit.component[np.ix_(setups, tasks)]
    return np.asarray(np.unique(together, axis=0, return_inverse=True)[1]).ravel()
