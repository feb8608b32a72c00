"""Samples and models: one machine is tested, a model is recommended.

Section 4 of the computation page. How much samples of a model differ is common to all tasks of
a sample, and does not average out over a mix.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from true_margin.core.cells import Basis, CellTable, basis_of
from true_margin.core.contrasts import Contrasts, combine_rows, contrast_setups
from true_margin.core.margins import Call, decide_call, stricter, student_quantile
from true_margin.core.rounds import UPDATE_MEASURED_DF, Fit
from true_margin.core.sent_in import sent_moments
from true_margin.core.study import FlagArray, FloatArray, IndexArray, Study


@dataclass(frozen=True, slots=True)
class UnitSpread:
    """How much samples of one model differ.

    Attributes:
        cv: σ_u, standard deviation of log speed between samples; 0 where they are taken for
            alike.
        df: its degrees of freedom; 0 where σ_u is 0.
        basis: assumed, partly measured or measured.
    """

    cv: float
    df: float
    basis: Basis


def estimate_unit_spread(study: Study, fit: Fit, cells: CellTable) -> UnitSpread:
    """Estimate how much samples differ, from models with several and from the prior.

    Reference:
        Hartley, Rao & LaMotte (1978), Biometrics 34, for the moments; the weight of a blurred
        estimate is the computation page's own.
    """
    settings = study.settings
    num, df, own_total = 0.0, 0, 0.0
    for setups, tasks in _repeated_models(study, fit):
        weights = np.zeros(len(study.tasks))
        weights[tasks] = 1.0 / len(tasks)
        found = contrast_setups(fit, cells, setups, weights)
        k = len(setups)
        own = float(np.trace(found.covariance) - found.covariance.sum() / k)
        num += float(((found.estimate - found.estimate.mean()) ** 2).sum()) - own
        df += k - 1
        own_total += own
    for over, samples, by_runs in sent_moments(study, cells):
        num, df, own_total = num + over, df + samples, own_total + by_runs
    basis = basis_of(df, UPDATE_MEASURED_DF)
    prior = settings.unit_prior_cv**2
    if prior == 0.0 or (df == 0 and settings.unit_prior_df == 0):
        return UnitSpread(0.0, 0.0, basis)
    if df == 0:
        return UnitSpread(settings.unit_prior_cv, settings.unit_prior_df, basis)
    by_moments = max(0.0, num / df)
    weight = df * (prior / (prior + own_total / df)) ** 2
    total = settings.unit_prior_df + weight
    variance = (settings.unit_prior_df * prior + weight * by_moments) / total
    return UnitSpread(math.sqrt(variance), total, basis)


def _repeated_models(study: Study, fit: Fit) -> list[tuple[IndexArray, IndexArray]]:
    """One setup of each sample of models with several, and the tasks that they share."""
    measured = np.asarray((fit.component >= 0).any(axis=1))
    found = []
    units = study.unit_of
    for model in sorted(set(study.model_of)):
        of_unit: dict[int, int] = {}
        own = [s for s, each in enumerate(study.model_of) if each == model and measured[s]]
        for setup in sorted(own, key=lambda s: study.setups[s]):
            of_unit.setdefault(int(units[setup]), setup)
        setups = np.array(sorted(of_unit.values()), dtype=np.intp)
        if len(setups) < 2:
            continue
        label = fit.component[setups]
        together = np.asarray((label >= 0) & (label == label[:1])).all(axis=0)
        tasks = np.flatnonzero(together)
        if len(tasks):
            found.append((setups, tasks))
    return found


@dataclass(frozen=True, slots=True)
class ModelMargin:
    """Speed of model a over model b, or of one sample of a over one of b.

    Attributes:
        se: standard error of the log ratio.
        df: its degrees of freedom.
        lo, hi: ends of the interval.
        call: what may be said.
    """

    se: float
    df: float
    lo: float
    hi: float
    call: Call


@dataclass(frozen=True, slots=True)
class ModelPair:
    """Two models on a ladder.

    Attributes:
        a, b: places among the ladder's models.
        log_ratio: Δ.
        confidence: at which it is judged.
        models: what is known of the models.
        own: what is known of a viewer's own sample of a against another of b.
    """

    a: int
    b: int
    log_ratio: float
    confidence: float
    models: ModelMargin
    own: ModelMargin


@dataclass(frozen=True)
class ModelTable:
    """The m models on a ladder, and all that is known of their differences.

    Attributes:
        names: of the models, shape (m,).
        members: places of each one's setups among the ladder's k, one array a model.
        samples: how many physical samples of each were timed, shape (m,).
        mean: weights of each model's setups in its Θ, shape (m, k).
        by_unit: the same added up by sample, shape (m, units).
        estimate: Θ of each, shape (m,).
        variance: of each difference by runs alone, shape (m, m).
        df: degrees of freedom of that, shape (m, m).
        strict: pairs that are judged more strictly, shape (m, m).
        unit_spread: how much samples differ.
        confidence: at which most pairs are judged.
        materiality_log: m = ln(1 + materiality).
    """

    names: tuple[str, ...]
    members: tuple[IndexArray, ...]
    samples: tuple[int, ...]
    mean: FloatArray
    by_unit: FloatArray
    estimate: FloatArray
    variance: FloatArray
    df: FloatArray
    strict: FlagArray
    unit_spread: UnitSpread
    confidence: float
    materiality_log: float

    @property
    def units_apart(self) -> FloatArray:
        """Σ g_u² of each difference, shape (m, m)."""
        g = self.by_unit
        square = (g**2).sum(axis=1)
        return np.asarray(square[:, None] + square[None, :] - 2.0 * g @ g.T)

    def comparable(self, setups: FlagArray) -> FlagArray:
        """Which models may be compared: every sample of one with every sample of the other.

        Args:
            setups: which of the ladder's setups may be, shape (k, k).
        """
        apart = self.mean > 0
        return np.array([[setups[np.ix_(a, b)].all() for b in apart] for a in apart])

    def widened(self, more: float | FloatArray = 0.0) -> tuple[FloatArray, FloatArray]:
        """Variance of every difference with samples in it, and its degrees of freedom.

        Args:
            more: units of σ_u² besides those of the tested samples, such as 2 for a viewer's
                own sample against another.
        """
        return add_units(self.variance, self.df, self.units_apart + more, self.unit_spread)

    def half(self, more: float | FloatArray = 0.0) -> FloatArray:
        """Half widths of the intervals of all differences, shape (m, m)."""
        variance, df = self.widened(more)
        half = self.quantiles(df) * np.sqrt(variance)
        np.fill_diagonal(half, 0.0)
        return np.asarray(half)

    def quantiles(self, df: FloatArray) -> FloatArray:
        """Two-sided quantile of every pair at the confidence at which it is judged."""
        usual = student_quantile(self.confidence, df)
        if not self.strict.any():
            return usual
        return np.where(self.strict, student_quantile(stricter(self.confidence), df), usual)

    def pair(self, a: int, b: int) -> ModelPair:
        """Take a pair of models out of the table."""
        delta = float(self.estimate[a] - self.estimate[b])
        confidence = stricter(self.confidence) if self.strict[a, b] else self.confidence
        return ModelPair(
            a, b, delta, confidence, self._margin(a, b, delta, 0.0), self._margin(a, b, delta, 2.0)
        )

    def _margin(self, a: int, b: int, delta: float, more: float) -> ModelMargin:
        variance, df = self.widened(more)
        half = float(self.half(more)[a, b])
        lo, hi = delta - half, delta + half
        call = decide_call(lo, hi, self.materiality_log)
        return ModelMargin(math.sqrt(float(variance[a, b])), float(df[a, b]), lo, hi, call)


def add_units(
    variance: FloatArray, df: FloatArray, units: FloatArray, spread: UnitSpread
) -> tuple[FloatArray, FloatArray]:
    """Add samples to variances by runs, and their square to what is spent.

    Args:
        variance: of differences by runs alone.
        df: its degrees of freedom; inf where unlimited.
        units: how often σ_u² is in each, same shape.
        spread: how much samples differ.

    Reference:
        Satterthwaite (1946), eq. 17.
    """
    by_units = spread.cv**2 * units
    with np.errstate(divide="ignore", invalid="ignore"):
        spent = np.where(np.isfinite(df), variance**2 / df, 0.0)
        if spread.df > 0:
            spent = spent + by_units**2 / spread.df
        total = variance + by_units
        return total, np.where(spent > 0, total**2 / spent, np.inf)


def tabulate_models(
    study: Study,
    fit: Fit,
    cells: CellTable,
    contrasts: Contrasts,
    weights: FloatArray,
    topped_up: FlagArray,
    unit_spread: UnitSpread,
    *,
    by_name: bool = True,
) -> ModelTable:
    """Put the models of a ladder together.

    Args:
        study, fit, cells: what was analysed.
        contrasts: of the k setups on the ladder.
        weights: of the tasks, summing to 1; or each setup's own, shape (k, tasks).
        topped_up: setups with more runs than planned, shape (k,).
        unit_spread: how much samples differ.
        by_name: whether models stand in name order; else in that of the line-up.
    """
    setups = contrasts.setups
    model_of = np.array([study.model_of[s] for s in setups], dtype=object)
    listed = list(dict.fromkeys(model_of.tolist()))
    names = tuple(sorted(listed) if by_name else listed)
    members = tuple(np.flatnonzero(model_of == name) for name in names)
    mean = np.zeros((len(names), len(setups)))
    for row, own in zip(mean, members, strict=True):
        row[own] = 1.0 / len(own)
    units = study.unit_of[setups]
    labels, at = np.unique(units, return_inverse=True)
    by_unit = np.zeros((len(names), len(labels)))
    for column, weight in zip(at.tolist(), mean.T, strict=True):
        by_unit[:, column] += weight
    variance, df = _differences(fit, cells, contrasts, weights, mean)
    added = np.array([bool(topped_up[own].any()) for own in members], dtype=bool)
    return ModelTable(
        names,
        members,
        tuple(len(set(units[own].tolist())) for own in members),
        mean,
        by_unit,
        np.asarray(mean @ contrasts.estimate),
        variance,
        df,
        added[:, None] | added[None, :],
        unit_spread,
        study.settings.confidence,
        math.log1p(study.settings.materiality),
    )


def _differences(
    fit: Fit, cells: CellTable, contrasts: Contrasts, weights: FloatArray, mean: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Variance of each difference of two models by runs alone, and its degrees of freedom."""
    m, k = mean.shape
    if m == k:
        # One setup each: the differences are those of the setups, in the models' order.
        # Of nobody, where no setup has runs on the work.
        place = mean.argmax(axis=1) if k else np.zeros(0, dtype=np.intp)
        square = np.ix_(place, place)
        return contrasts.se[square] ** 2, contrasts.df[square]
    i, j = np.triu_indices(m, 1)
    variance, df = combine_rows(fit, cells, contrasts.setups, weights, mean[i] - mean[j])
    return squared(m, variance, df)


def squared(m: int, variance: FloatArray, df: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Square arrays of what stands for each pair above the diagonal, row by row."""
    i, j = np.triu_indices(m, 1)
    whole, whole_df = np.zeros((m, m)), np.full((m, m), np.inf)
    whole[i, j] = whole[j, i] = variance
    whole_df[i, j] = whole_df[j, i] = df
    return whole, whole_df


# Every answer draws the same numbers, so they are drawn once.
@lru_cache(maxsize=8)
def _unit_normals(seed: int, draws: int, units: int) -> tuple[FloatArray, dict[str, Any]]:
    """Normals of each sample, and where the generator stands after them."""
    random = np.random.default_rng([seed, 2])
    return random.standard_normal((draws, units)), dict(random.bit_generator.state)


def unit_effects(
    table: ModelTable, draws: int, seed: int, owned: int = -1, more: float = 0.0
) -> FloatArray:
    """Draw what samples add to the speed of each model.

    Args:
        table: the models.
        draws: how many.
        seed: the same seed gives the same draws.
        owned: place of the model of which the viewer has a sample: it differs from the one
            that was tested, and so would another that is bought; −1 for none.
        more: units of σ_u² that every model gets besides, such as 1 for the sample bought.

    Returns:
        Shape (draws, m); one effect of a sample for all of its tasks, all of a draw multiplied
        by one √(df/χ²).
    """
    spread = table.unit_spread
    if spread.cv == 0.0:
        return np.zeros((draws, len(table.names)))
    units = table.by_unit.shape[1]
    drawn, state = _unit_normals(seed, draws, units)
    random = np.random.default_rng()
    random.bit_generator.state = state
    # Where each model has one sample, each effect is that sample's.
    square = table.by_unit.shape[0] == units
    alone = square and bool((table.by_unit == np.eye(units)).all())
    effects = drawn.copy() if alone else drawn @ table.by_unit.T
    if owned >= 0:
        effects[:, owned] += math.sqrt(2.0) * random.standard_normal(draws)
    if more:
        effects += math.sqrt(more) * random.standard_normal(effects.shape)
    scale = np.sqrt(spread.df / random.chisquare(spread.df, (draws, 1)))
    return np.asarray(spread.cv * scale * effects)
