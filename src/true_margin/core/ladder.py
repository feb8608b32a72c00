"""The ladder: setups in order of speed, each with its range of possible ranks.

Section 5 of the computation page.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from scipy.optimize import brentq
from scipy.special import gammaincinv, gammaln, ndtr, stdtr, stdtrit

from true_margin.core.contrasts import Contrasts
from true_margin.core.margins import PairTable, stricter
from true_margin.core.rounds import Fit
from true_margin.core.study import STATUS_CODE, FlagArray, FloatArray, IndexArray, RunStatus, Study

DRAWS = 20_000
"""Draws behind a chance of being fastest."""
MIN_WIN_CHANCE = 1e-6
"""A setup with a smaller chance of beating the leader is left out: it would win no draw."""
_NORMAL_DF = 1e5


@dataclass(frozen=True, slots=True)
class Rung:
    """One setup's place on a ladder.

    Attributes:
        setup: index of the setup.
        log_speed: Θ, the weighted mean of its log speeds.
        log_ratio: Θ less the baseline's; None where the baseline is not on it.
        best_rank, worst_rank: simultaneous range of possible ranks.
        p_fastest: chance of being the fastest on the ladder; None where a setup that is known
            by bounds only may be it.
    """

    setup: int
    log_speed: float
    log_ratio: float | None
    best_rank: int
    worst_rank: int
    p_fastest: float | None

    @property
    def ratio(self) -> float | None:
        """Times as fast as the baseline; None where it is not on the ladder."""
        return None if self.log_ratio is None else math.exp(self.log_ratio)


@dataclass(frozen=True, slots=True)
class OffLadder:
    """Why a setup is not on a ladder.

    Attributes:
        setup: index of the setup.
        lacks: indices of weighted tasks that were never completed nor failed.
        cannot: indices of weighted tasks on which every attempt failed.
        no_bridge: True where all was measured, but nothing ties it to the rest.
        not_same_job: True where parity with the baseline is broken.
        bounds: indices of weighted tasks of which only bounds are known.
        noted: those of ``lacks`` and ``cannot`` on which a note would place it.
    """

    setup: int
    lacks: tuple[int, ...]
    cannot: tuple[int, ...]
    no_bridge: bool
    not_same_job: bool = False
    bounds: tuple[int, ...] = ()
    noted: tuple[int, ...] = ()


@dataclass(frozen=True, slots=True)
class Eligibility:
    """Who stands on a ladder, and who stands below with the reason."""

    on: IndexArray
    off: tuple[OffLadder, ...]


def cannot_do(study: Study) -> FlagArray:
    """Mark the (setup, task) pairs whose attempts all failed, voids left out."""
    failed = study.runs.status == STATUS_CODE[RunStatus.FAILED]
    tried = np.zeros((len(study.setups), len(study.tasks)), dtype=bool)
    tried[study.runs.setup[failed], study.runs.task[failed]] = True
    done = np.zeros_like(tried)
    ok = study.runs.status == STATUS_CODE[RunStatus.OK]
    done[study.runs.setup[ok], study.runs.task[ok]] = True
    return tried & ~done


def split_eligible(study: Study, fit: Fit, cannot: FlagArray, weights: FloatArray) -> Eligibility:
    """Decide which setups share a ladder.

    Args:
        study: the study.
        fit: its fit.
        cannot: mask of the (setup, task) pairs whose attempts all failed.
        weights: one weight a task; tasks with weight 0 do not matter.

    Returns:
        Setups on the ladder (in index order), and the others with reasons.
    """
    tasks = np.flatnonzero(weights)
    has = fit.component[:, tasks] >= 0
    whole = np.flatnonzero(has.all(axis=1))
    together = fit.component[np.ix_(whole, tasks)]
    chosen = _chosen_combination(study, whole, together)
    on = whole[(together == chosen).all(axis=1)] if chosen is not None else whole
    other_job = _other_job(study, on, tasks)
    on = on[~np.isin(on, other_job)]
    standing = set(on.tolist())
    if len(standing) == len(study.setups):
        return Eligibility(on, ())
    off = tuple(
        OffLadder(
            s,
            tuple(int(t) for t in tasks if fit.component[s, t] < 0 and not cannot[s, t]),
            tuple(int(t) for t in tasks if fit.component[s, t] < 0 and cannot[s, t]),
            bool(s in whole and s not in other_job),
            bool(s in other_job),
        )
        for s in range(len(study.setups))
        if s not in standing
    )
    return Eligibility(on, off)


def _other_job(study: Study, on: IndexArray, tasks: IndexArray) -> IndexArray:
    """Setups that were not given the baseline's job on some of these tasks."""
    if study.baseline is None or study.baseline not in on:
        return np.zeros(0, dtype=np.intp)
    return np.asarray(on[study.broken_on(tasks)[study.baseline, on]])


def _chosen_combination(study: Study, whole: IndexArray, together: IndexArray) -> IndexArray | None:
    """The baseline's components; else those that hold most setups, ties by name."""
    if len(whole) == 0:
        return None
    at = np.flatnonzero(whole == (-1 if study.baseline is None else study.baseline))
    if len(at):
        return np.asarray(together[at[0]])
    combinations, member = np.unique(together, axis=0, return_inverse=True)
    groups = [whole[member.ravel() == i] for i in range(len(combinations))]
    best = min(
        range(len(groups)),
        key=lambda i: (-len(groups[i]), sorted(study.setups[s] for s in groups[i])),
    )
    return np.asarray(combinations[best])


def rank_setups(
    study: Study, pairs: PairTable, on: FlagArray, draw_df: float, seed: int
) -> tuple[Rung, ...]:
    """Order the setups on a ladder and give each its ranks and chance.

    Args:
        study: the study.
        pairs: margins among at least the setups on the ladder, shape (k, k).
        on: mask of the pairs' setups that are on the ladder, shape (k,).
        draw_df: degrees of freedom of the draws; the smallest of the tasks'.
        seed: of the draws.

    Returns:
        Rungs, fastest first; equal speeds in name order.

    Reference:
        Tukey (1953) and Kramer (1956), simultaneous pairwise intervals.
    """
    place = np.flatnonzero(on)
    if len(place) == 0:
        return ()
    contrasts = pairs.contrasts
    names = [study.setups[s] for s in contrasts.setups[place]]
    square = np.ix_(place, place)
    faster = _surely_faster(pairs, square)
    # A pair without a margin cannot be told apart, however far apart its times are.
    faster &= pairs.comparable[square]
    chance = chance_fastest(contrasts.estimate[place], contrasts.covariance[square], draw_df, seed)
    base = np.flatnonzero(contrasts.setups[place] == study.baseline)
    zero = contrasts.estimate[place][base[0]] if len(base) else None
    best = (1 + faster.sum(axis=0)).tolist()
    worst = (len(place) - faster.sum(axis=1)).tolist()
    speed = contrasts.estimate[place].tolist()
    order = sorted(range(len(place)), key=lambda i: (-speed[i], names[i]))
    return tuple(
        Rung(
            int(contrasts.setups[place[i]]),
            speed[i],
            None if zero is None else speed[i] - float(zero),
            best[i],
            worst[i],
            float(chance[i]),
        )
        for i in order
    )


def smallest_df(contrasts: Contrasts, on: FlagArray) -> float:
    """Smallest degrees of freedom of a pair of some of the setups; inf where there is none."""
    place = np.flatnonzero(on)
    return float(contrasts.df[np.ix_(place, place)].min(initial=np.inf))


def _surely_faster(pairs: PairTable, square: tuple[np.ndarray, ...]) -> FlagArray:
    """Entry (i, j) is True where i is faster than j beyond doubt, all pairs at once."""
    contrasts = pairs.contrasts
    se, df = contrasts.se[square], contrasts.df[square]
    if len(se) < 2:
        return np.zeros(se.shape, dtype=bool)
    q = simultaneous_quantiles(pairs.confidence, pairs.topped_up[square], float(df.min()))
    return np.asarray(contrasts.log_ratio[square] > q / math.sqrt(2.0) * se)


def simultaneous_quantiles(confidence: float, strict: FlagArray, df: float) -> FloatArray:
    """The studentized range for each of k setups' pairs, shape (k, k).

    Args:
        confidence: at which most pairs are judged.
        strict: pairs that are judged more strictly, shape (k, k).
        df: smallest degrees of freedom of a pair.
    """
    k = len(strict)
    usual = studentized_range(confidence, k, df)
    if not strict.any():
        return np.full(strict.shape, usual)
    return np.where(strict, studentized_range(stricter(confidence), k, df), usual)


def chance_fastest(
    estimate: FloatArray, covariance: FloatArray, df: float, seed: int
) -> FloatArray:
    """Estimate each setup's chance of being the fastest.

    Setups that could not catch the leader in a million tries are given 0 and
    left out; between two, the chance is Student's t itself; else it is drawn
    from the multivariate t.

    Args:
        estimate: Θ, shape (k,).
        covariance: of Θ, shape (k, k).
        df: degrees of freedom.
        seed: of the draws; the same seed gives the same chances.

    Returns:
        Chances that sum to 1, shape (k,).

    Reference:
        Genz & Bretz (2009), Computation of Multivariate Normal and t
        Probabilities, 1.1.
    """
    lead = int(np.argmax(estimate))
    catch = _chances_to_beat(lead, estimate, covariance, df)
    contenders = np.flatnonzero(catch > MIN_WIN_CHANCE)
    chance = np.zeros(len(estimate))
    if len(contenders) == 2:
        other = int(contenders[contenders != lead][0])
        chance[other], chance[lead] = catch[other], 1.0 - catch[other]
    elif len(contenders) > 2:
        square = np.ix_(contenders, contenders)
        chance[contenders] = _draw_fastest(estimate[contenders], covariance[square], df, seed)
    else:
        chance[lead] = 1.0
    return chance


def count_contenders(estimate: FloatArray, covariance: FloatArray, df: float) -> int:
    """How many setups may be the fastest at all, by the rule of ``chance_fastest``.

    Returns:
        1 where nobody catches the leader, 2 where the chance is Student's t itself, more
        where it is drawn.
    """
    lead = int(np.argmax(estimate))
    catch = _chances_to_beat(lead, estimate, covariance, df)
    return max(1, int(np.count_nonzero(catch > MIN_WIN_CHANCE)))


def _chances_to_beat(
    lead: int, estimate: FloatArray, covariance: FloatArray, df: float
) -> FloatArray:
    """Chance of each setup to beat one, by Student's t; 0.5 for that one itself."""
    own = np.diag(covariance)
    variance = np.maximum(own + own[lead] - 2.0 * covariance[:, lead], 0.0)
    with np.errstate(divide="ignore", invalid="ignore"):
        t = np.where(variance > 0, (estimate - estimate[lead]) / np.sqrt(variance), 0.0)
    return np.asarray(stdtr(min(df, 1e10), t))


def _draw_fastest(estimate: FloatArray, covariance: FloatArray, df: float, seed: int) -> FloatArray:
    winner = np.argmax(draw_speeds(estimate, covariance, df, seed), axis=1)
    return np.bincount(winner, minlength=len(estimate)) / DRAWS


def draw_speeds(estimate: FloatArray, covariance: FloatArray, df: float, seed: int) -> FloatArray:
    """Draw log speeds from the multivariate t.

    Args:
        estimate: shape (k,).
        covariance: shape (k, k).
        df: degrees of freedom; inf for the normal.
        seed: the same seed gives the same draws.

    Returns:
        Shape (DRAWS, k).
    """
    values, vectors = np.linalg.eigh(covariance)
    root = vectors * np.sqrt(np.maximum(values, 0.0))
    noise = _normals(seed, len(estimate)) @ root.T
    if math.isfinite(df):
        noise *= _scales(seed, df)
    return np.asarray(estimate + noise)


# Every ladder of an analysis draws the same numbers, so they are drawn once.
@lru_cache(maxsize=32)
def _normals(seed: int, k: int) -> FloatArray:
    return np.random.default_rng(seed).standard_normal((DRAWS, k))


@lru_cache(maxsize=64)
def _scales(seed: int, df: float) -> FloatArray:
    """√(df/χ²): turns normal draws into draws of a t with df degrees of freedom."""
    return np.asarray(np.sqrt(df / np.random.default_rng([seed, 1]).chisquare(df, (DRAWS, 1))))


@lru_cache(maxsize=4096)
def studentized_range(confidence: float, k: int, df: float) -> float:
    """Solve for the upper point q of the studentized range.

    Gauss-Legendre quadrature over the range and over the pooled standard
    deviation, about a hundred times faster than the general routine and equal
    to it to 1e-8.

    Args:
        confidence: between 0 and 1.
        k: number of setups, 2 or more.
        df: degrees of freedom, above 0; inf allowed.

    Returns:
        q with P(range ≤ q) = confidence.

    Reference:
        Copenhaver & Holland (1988), eq. 2.1.

    Example:
        >>> round(studentized_range(0.95, 3, 10.0), 3)
        3.877
    """
    node, weight = _legendre(96)
    z, z_weight = 9.0 * node, 9.0 * weight
    below = ndtr(z)[None, :]
    density = z_weight * np.exp(-(z**2) / 2) / math.sqrt(2 * math.pi)
    # Few degrees of freedom have a long tail that takes more nodes.
    scale, scale_weight = _scale_nodes(df, *_legendre(48 if df > 4 else 96))

    def excess(q: float) -> float:
        inner = below - ndtr(z[None, :] - q * scale[:, None])
        return float(scale_weight @ (k * (inner ** (k - 1)) @ density)) - confidence

    # The range goes by roughly the factor of Student's t over the normal quantile.
    near = math.sqrt(2.0) * float(stdtrit(min(df, 1e10), 1 - (1 - confidence) / (k * (k - 1))))
    lower, upper = 0.9 * near, 1.02 * near
    while excess(lower) > 0:
        lower /= 2.0
    while excess(upper) < 0:
        upper *= 2.0
    return float(brentq(excess, lower, upper, xtol=1e-12, rtol=1e-12))


@lru_cache(maxsize=4)
def _legendre(nodes: int) -> tuple[FloatArray, FloatArray]:
    return np.polynomial.legendre.leggauss(nodes)


def _scale_nodes(df: float, node: FloatArray, weight: FloatArray) -> tuple[FloatArray, FloatArray]:
    """Nodes and weights for the pooled standard deviation s = χ_df / √df."""
    if df > _NORMAL_DF:
        return np.ones(1), np.ones(1)
    # Below 1 degree of freedom the density is infinite at 0; nodes even in
    # probability would miss its tail, so they are even in s^df there.
    # A quantile of χ² is twice one of the gamma distribution with shape df/2.
    ends = np.sqrt(2.0 * gammaincinv(df / 2.0, [1e-13, 1.0 - 1e-13]) / df)
    power = min(df, 1.0)
    low, high = ends**power
    x = (low + high) / 2 + (high - low) / 2 * node
    s = x ** (1.0 / power)
    slope = s ** (1.0 - power) / power
    # Density of s where df·s² is χ²: 2 (df/2)^(df/2) s^(df−1) e^(−df·s²/2) / Γ(df/2).
    log_density = (
        math.log(2.0)
        + df / 2 * math.log(df / 2)
        - gammaln(df / 2)
        + (df - 1.0) * np.log(s)
        - df * s**2 / 2
    )
    density = np.exp(log_density)
    total = weight * (high - low) / 2 * slope * density
    return s, total
