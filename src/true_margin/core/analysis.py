"""The whole analysis of a study: cells, fit, margins, ladders, checks, value.

Each part lives in the module named after it; here they are put together.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import overload

import numpy as np

from true_margin.core.bounds import (
    BoundMargin,
    BoundPairs,
    BoundRung,
    Limits,
    Ranks,
    bound_rung,
    bounded_on,
    find_limits,
    rank_with_bounds,
)
from true_margin.core.cells import CellTable, build_cells
from true_margin.core.checks import FirstRuns, Flag, first_runs, flag_runs
from true_margin.core.contrasts import Contrasts, contrast_setups
from true_margin.core.ladder import (
    Eligibility,
    OffLadder,
    Rung,
    cannot_do,
    draw_speeds,
    rank_setups,
    smallest_df,
    split_eligible,
)
from true_margin.core.margins import Call, Margin, PairTable, compare_pairs
from true_margin.core.money import Value, value_setups
from true_margin.core.noted import JudgedNote, NotedRung, judge_notes, noted_rung, place_by_note
from true_margin.core.rounds import Fit, fit_rounds
from true_margin.core.samples import (
    ModelTable,
    UnitSpread,
    estimate_unit_spread,
    tabulate_models,
    unit_effects,
)
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
        seed: of the draws behind chances.
        bounds: margins by bounds; None for the mix.
        bounded_setups: setups on the ladder that are known by bounds only.
        component: label of what hangs together on the ladder; −1 for the mix, or nobody.
        noted: setups that notes place on the ladder.
    """

    study: Study
    task: int | None
    pairs: PairTable
    standing: Eligibility
    seed: int
    bounds: BoundPairs | None = None
    bounded_setups: tuple[int, ...] = ()
    component: int = -1
    noted: tuple[NotedRung, ...] = ()

    @cached_property
    def draw_df(self) -> float:
        """Degrees of freedom of the draws: the smallest of a pair on the ladder."""
        return smallest_df(self.pairs.contrasts, self._on)

    @cached_property
    def _on(self) -> FlagArray:
        return np.isin(self.pairs.contrasts.setups, self.standing.on)

    @cached_property
    def on_ladder(self) -> Contrasts:
        """Estimates of the measured setups on the ladder alone."""
        place = np.flatnonzero(self._on)
        c, square = self.pairs.contrasts, np.ix_(place, place)
        return Contrasts(
            c.setups[place],
            c.estimate[place],
            c.covariance[square],
            c.se[square],
            c.df[square],
            c.own_df[place],
        )

    @cached_property
    def _ranks(self) -> Ranks | None:
        """Ranks where setups known by bounds only stand between the measured ones."""
        if self.bounds is None or not self.bounded_setups:
            return None
        on = np.flatnonzero(self._on)
        return rank_with_bounds(self.bounds, self.pairs, on, self.bounded_setups)

    @cached_property
    def rungs(self) -> tuple[Rung, ...]:
        """The measured setups on the ladder, fastest first."""
        rungs = rank_setups(self.study, self.pairs, self._on, self.draw_df, self.seed)
        ranks = self._ranks
        if ranks is None:
            return rungs
        # Where one that is known by bounds only may be first, nobody has a chance to tell.
        untold = any(ranks.best[setup] == 1 for setup in self.bounded_setups)
        return tuple(
            replace(
                rung,
                best_rank=ranks.best[rung.setup],
                worst_rank=ranks.worst[rung.setup],
                p_fastest=None if untold else rung.p_fastest,
            )
            for rung in rungs
        )

    @cached_property
    def bounded(self) -> tuple[BoundRung, ...]:
        """Setups on the ladder that are known by bounds only, fastest bound first."""
        ranks, bounds = self._ranks, self.bounds
        if ranks is None or bounds is None:
            return ()
        zero = self.zero
        rungs = (
            bound_rung(bounds, self.component, setup, ranks, zero) for setup in self.bounded_setups
        )
        return tuple(sorted(rungs, key=lambda r: (-r.place, self.study.setups[r.setup])))

    @property
    def zero(self) -> float | None:
        """Log speed of the baseline; None where it is not measured on the ladder."""
        at = np.flatnonzero(self._on & (self.pairs.contrasts.setups == _index(self.study.baseline)))
        return float(self.pairs.contrasts.estimate[at[0]]) if len(at) else None


def _index(setup: int | None) -> int:
    return -1 if setup is None else setup


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
        self.mixes: dict[tuple[float, ...], Comparison] = {}
        """Comparisons over other mixes of the same tasks, as far as they were asked for."""
        self._seed = seed
        self._made: dict[int | None, Comparison] = {}
        self._models: dict[int | None, ModelTable | None] = {}

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
        return flag_runs(self.study, self.cells, self.limits.contradicting)

    @cached_property
    def first_runs(self) -> FirstRuns | None:
        """First runs of all cells together; None where too few tell."""
        return first_runs(self.study, self.cells)

    @cached_property
    def values(self) -> tuple[Value, ...]:
        """Value and frontier, where prices are known."""
        return () if self.mix is None else value_setups(self.study, self.mix.rungs)

    @cached_property
    def topped_up(self) -> FlagArray:
        """The (setup, task) pairs with a cell of more runs than were planned."""
        most = [np.inf if t.planned_runs is None else t.planned_runs for t in self.study.tasks]
        over = self.cells.n > np.array(most)[self.cells.task]
        found = np.zeros((len(self.study.setups), len(self.study.tasks)), dtype=bool)
        found[self.cells.setup[over], self.cells.task[over]] = True
        return found

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
        pairs = compare_pairs(
            self.contrasts[task],
            component,
            self.study.settings,
            broken=broken,
            topped_up=np.asarray(self.topped_up[np.ix_(setups, used)].any(axis=1)),
        )
        standing = split_eligible(self.study, self.fit, self.cannot, weights)
        return self._with_evidence(Comparison(self.study, task, pairs, standing, self._seed), used)

    def _with_evidence(self, comparison: Comparison, used: IndexArray) -> Comparison:
        """Add what bounds and notes tell of those who were not measured."""
        task, on = comparison.task, comparison.standing.on
        if not (self.limits.lower or self.limits.upper or self.study.notes):
            return comparison
        other_job = [off.setup for off in comparison.standing.off if off.not_same_job]
        if task is not None:
            pairs = BoundPairs(
                self.study, self.cells, self.fit, self.limits, task, self.topped_up[:, task]
            )
            comparison = replace(comparison, bounds=pairs)
            if len(on):
                component = int(self.fit.component[on[0], task])
                bounded = bounded_on(pairs, component, other_job)
                comparison = replace(comparison, component=component, bounded_setups=bounded)
        noted = self._noted(comparison, used, other_job) if len(on) else ()
        placed = {*comparison.bounded_setups, *(rung.setup for rung in noted)}
        off = tuple(
            self._off(each, task, on.tolist())
            for each in comparison.standing.off
            if each.setup not in placed
        )
        return replace(comparison, standing=Eligibility(on, off), noted=noted)

    def _noted(
        self, comparison: Comparison, used: IndexArray, other_job: Sequence[int]
    ) -> tuple[NotedRung, ...]:
        if comparison.task is None and not self.study.allow_noted:
            return ()
        on = comparison.standing.on
        component = self.fit.component[on[0], used]
        weights = mix_weights(self.study, comparison.task)
        apart = {*on.tolist(), *comparison.bounded_setups, *other_job}
        rungs = (
            noted_rung(self.study, self.fit, weights, s, on.tolist(), component, comparison.zero)
            for s in range(len(self.study.setups))
            if s not in apart
        )
        found = [rung for rung in rungs if rung is not None]
        return tuple(sorted(found, key=lambda r: (-r.log_speed, self.study.setups[r.setup])))

    def _off(self, off: OffLadder, task: int | None, on: Sequence[int]) -> OffLadder:
        """Why a setup is off a ladder, with what bounds and notes tell of it."""
        bounds = tuple(t for t in off.lacks if self.limits.has(off.setup, t))
        lacks = tuple(t for t in off.lacks if t not in bounds)
        noted = tuple(
            t
            for t in (*lacks, *off.cannot)
            if place_by_note(self.study, self.fit, t, off.setup, on) is not None
        )
        # On one task a bound that is not on the ladder is tied to nothing there.
        untied = task is not None and bool(bounds)
        return replace(
            off, lacks=lacks, bounds=bounds, noted=noted, no_bridge=off.no_bridge or untied
        )

    @cached_property
    def unit_spread(self) -> UnitSpread:
        """How much samples of one model differ."""
        return estimate_unit_spread(self.study, self.fit, self.cells)

    def models(self, task: int | None) -> ModelTable | None:
        """The models on the ladder of a task, or of the mix; None for an empty ladder."""
        if task not in self._models:
            self._models[task] = self._tabulate(task)
        return self._models[task]

    def _tabulate(self, task: int | None) -> ModelTable | None:
        comparison = self.comparison(task)
        if comparison is None or len(comparison.standing.on) == 0:
            return None
        contrasts = comparison.on_ladder
        weights = mix_weights(self.study, task)
        used = np.flatnonzero(weights)
        added = np.asarray(self.topped_up[np.ix_(contrasts.setups, used)].any(axis=1))
        return tabulate_models(
            self.study, self.fit, self.cells, contrasts, weights, added, self.unit_spread
        )

    def model_chances(self, task: int | None) -> dict[str, float]:
        """Chance of each model on a ladder to be the fastest, samples included."""
        comparison, table = self.comparison(task), self.models(task)
        if comparison is None or table is None:
            return {}
        contrasts = comparison.on_ladder
        speeds = draw_speeds(
            contrasts.estimate, contrasts.covariance, comparison.draw_df, self._seed
        )
        drawn = speeds @ table.mean.T + unit_effects(table, len(speeds), self._seed)
        won = np.bincount(np.argmax(drawn, axis=1), minlength=len(table.names)) / len(drawn)
        return dict(zip(table.names, won.tolist(), strict=True))

    @cached_property
    def limits(self) -> Limits:
        """What bounds tell of setups that were not measured."""
        return find_limits(self.study, self.cells, self.fit)

    @cached_property
    def notes(self) -> tuple[JudgedNote, ...]:
        """Every note, and what becomes of it."""
        return judge_notes(self.study, self.measured_margin, self.bound_margin)

    def measured_margin(self, task: int, a: int, b: int) -> Margin | None:
        """The measured margin of two setups on a task; None where there is none."""
        pairs = self.tasks[task].pairs
        place = {int(s): i for i, s in enumerate(pairs.contrasts.setups)}
        if a not in place or b not in place:
            return None
        margin = pairs.margin(place[a], place[b])
        return None if margin.call is Call.NOT_COMPARABLE else margin

    def bound_margin(self, task: int, a: int, b: int) -> BoundMargin | None:
        """The margin of two setups on a task by bounds; None where there is none."""
        bounds = self.tasks[task].bounds
        return None if bounds is None else bounds.margin(a, b)


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
        and (one.units, one.models, one.notes) == (other.units, other.models, other.notes)
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
