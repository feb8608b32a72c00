"""The whole analysis of a study: cells, fit, margins, ladders, checks, value.

Each part lives in the module named after it; here they are put together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import overload

import numpy as np

from true_margin.core.cells import CellTable, build_cells
from true_margin.core.checks import Flag, flag_runs
from true_margin.core.contrasts import Contrasts, contrast_setups
from true_margin.core.ladder import Eligibility, Rung, cannot_do, rank_setups, split_eligible
from true_margin.core.margins import PairTable, compare_pairs
from true_margin.core.money import Value, value_setups
from true_margin.core.rounds import Fit, fit_rounds
from true_margin.core.study import FlagArray, FloatArray, IndexArray, Study, check_study

DEFAULT_SEED = 8437
"""Seed of the draws, so that the same runs always give the same chances."""


@dataclass(frozen=True)
class Comparison:
    """Everything about one task, or about the mix.

    Attributes:
        study: what was analysed.
        task: index of the task; None for the mix.
        pairs: margins of all setups that were measured on it.
        standing: who is on its ladder, and why the others are not.
        draw_df: degrees of freedom of the draws behind chances.
        seed: of those draws.
    """

    study: Study
    task: int | None
    pairs: PairTable
    standing: Eligibility
    draw_df: float
    seed: int

    @cached_property
    def rungs(self) -> tuple[Rung, ...]:
        """The ladder, fastest first."""
        on = np.isin(self.pairs.contrasts.setups, self.standing.on)
        return rank_setups(self.study, self.pairs, on, self.draw_df, self.seed)


class Comparisons(Sequence[Comparison]):
    """One comparison a task, each made when it is asked for."""

    def __init__(self, analysis: Analysis) -> None:
        self._analysis = analysis

    def __len__(self) -> int:
        return len(self._analysis.study.tasks)

    @overload
    def __getitem__(self, task: int) -> Comparison: ...
    @overload
    def __getitem__(self, task: slice) -> tuple[Comparison, ...]: ...
    def __getitem__(self, task: int | slice) -> Comparison | tuple[Comparison, ...]:
        places = range(len(self))[task]
        if isinstance(places, range):
            return tuple(self._analysis.compare(place) for place in places)
        return self._analysis.compare(places)


class Analysis:
    """What the runs of a study say.

    Cells and the fit are there at once; comparisons, flags and values are made when they
    are asked for, and kept.

    Attributes:
        study: what was analysed.
        cells: cells and spreads.
        fit: log speeds and update effects.
        tasks: one comparison a task, in the study's order.
    """

    def __init__(
        self,
        study: Study,
        cells: CellTable,
        fit: Fit,
        contrasts: dict[int | None, Contrasts],
        seed: int,
    ) -> None:
        self.study = study
        self.cells = cells
        self.fit = fit
        self.tasks: Sequence[Comparison] = Comparisons(self)
        self.contrasts = contrasts
        """Estimates that were made so far, by task; settings do not move them."""
        self._seed = seed
        self._made: dict[int | None, Comparison] = {}

    @property
    def mix(self) -> Comparison | None:
        """The comparison over the mix; None for a study without tasks."""
        return self.compare(None) if self.study.tasks else None

    def comparison(self, task: int | None) -> Comparison | None:
        """The comparison of a task by index, or of the mix for None."""
        return self.mix if task is None else self.tasks[task]

    def compare(self, task: int | None) -> Comparison:
        """Compare all setups on one task, or on the mix where ``task`` is None."""
        if task not in self._made:
            self._made[task] = self._compare(task)
        return self._made[task]

    @cached_property
    def flags(self) -> tuple[Flag, ...]:
        """Runs and cells to look at."""
        return flag_runs(self.study, self.cells)

    @cached_property
    def values(self) -> tuple[Value, ...]:
        """Value and frontier, where prices are known."""
        return () if self.mix is None else value_setups(self.study, self.mix.rungs)

    @cached_property
    def cannot(self) -> FlagArray:
        """The (setup, task) pairs whose attempts all failed."""
        return cannot_do(self.study)

    def _compare(self, task: int | None) -> Comparison:
        weights = mix_weights(self.study, task)
        used = np.flatnonzero(weights)
        setups = np.flatnonzero((self.fit.component[:, used] >= 0).all(axis=1))
        if task not in self.contrasts:
            self.contrasts[task] = contrast_setups(self.fit, self.cells, setups, weights)
        component = _joint_component(self.fit, setups, used)
        broken = self.study.broken_on(used)[np.ix_(setups, setups)]
        pairs = compare_pairs(self.contrasts[task], component, self.study.settings, broken=broken)
        standing = split_eligible(self.study, self.fit, self.cannot, weights)
        known = (self.cells.df_of(int(t)) for t in used if self.cells.spread[t] is not None)
        draw_df = min(known, default=float("inf"))
        return Comparison(self.study, task, pairs, standing, draw_df, self._seed)


def analyse(study: Study, *, seed: int = DEFAULT_SEED, before: Analysis | None = None) -> Analysis:
    """Analyse a study.

    Args:
        study: setups, tasks, rounds, runs and settings.
        seed: of the draws behind chances of being fastest.
        before: an earlier analysis. What it worked out is used again as far as nothing
            that it rests on is another.

    Returns:
        Every result of sections 2 to 6 of the computation page, and value.

    Raises:
        CaseError: a setting, weight or value is out of range.
        SpreadUnknownError: a task has no repeat and no prior.
    """
    check_study(study)
    if before is None or not _same_data(before.study, study):
        cells = build_cells(study)
        return Analysis(study, cells, fit_rounds(study, cells), {}, seed)
    kept = dict(before.contrasts)
    if before.study.mix != study.mix:
        kept.pop(None, None)
    return Analysis(study, before.cells, before.fit, kept, seed)


def _same_data(one: Study, other: Study) -> bool:
    """Say whether cells and fit of one study are those of another."""
    apart = ("confidence", "materiality")
    priors = (replace(each.settings, **dict.fromkeys(apart, 0.5)) for each in (one, other))
    return (
        one.runs is other.runs
        and (one.setups, one.tasks, one.rounds) == (other.setups, other.tasks, other.rounds)
        and len(set(priors)) == 1
    )


def mix_weights(study: Study, task: int | None) -> FloatArray:
    """Give the weight of each task, summing to 1: of one task, or of the mix for None."""
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
