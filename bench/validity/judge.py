"""Holds what the core says of drawn shootouts against their truth."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, field, replace

import numpy as np
from scipy.special import ndtri

from bench.validity.worlds import Drawn, World, draw, first_runs_of
from true_margin.core.analysis import Analysis, Comparison, analyse, mix_weights
from true_margin.core.cells import CellTable
from true_margin.core.margins import CALL_ORDER, Call
from true_margin.core.predictions import predict_run
from true_margin.core.rounds import Fit
from true_margin.core.study import Settings

CLEAR, LEVEL, AHEAD = (CALL_ORDER.index(c) for c in (Call.CLEAR, Call.LEVEL, Call.AHEAD))


@dataclass(slots=True)
class Tally:
    """Pairs of one kind, and what became of them."""

    pairs: int = 0
    covered: int = 0
    width: float = 0.0
    oracle_pairs: int = 0

    def add(self, inside: np.ndarray, ratio: np.ndarray) -> None:
        """Count some pairs: whether the truth is inside, and width over the oracle's."""
        self.pairs += len(inside)
        self.covered += int(inside.sum())
        known = np.isfinite(ratio)
        self.width += float(np.log(ratio[known]).sum())
        self.oracle_pairs += int(known.sum())

    @property
    def coverage(self) -> float:
        """Share of intervals that hold the truth."""
        return self.covered / self.pairs if self.pairs else math.nan

    @property
    def noise(self) -> float:
        """Standard error of the coverage, as if pairs were independent."""
        return math.sqrt(self.coverage * (1 - self.coverage) / max(self.pairs, 1))

    @property
    def relative_width(self) -> float:
        """Geometric mean of width over the oracle's."""
        return math.exp(self.width / self.oracle_pairs) if self.oracle_pairs else math.nan


@dataclass(slots=True)
class Verdict:
    """What became of all pairs and ladders of a world."""

    kinds: dict[str, Tally] = field(default_factory=dict)
    pairs: int = 0
    clear_wrong: int = 0
    order_wrong: int = 0
    differing: int = 0
    level_on_differing: int = 0
    ladders: int = 0
    ranks_held: int = 0
    studies: int = 0
    resemble: int = 0
    first_differ: int = 0
    level_pairs: int = 0
    called_as_planned: int = 0
    called_later: int = 0

    def share(self, part: int, whole: int) -> float:
        """A share, or NaN of nothing."""
        return part / whole if whole else math.nan


def judge(world: World, studies: int, seed: int) -> Verdict:
    """Draw shootouts of a world and hold every pair against the truth."""
    verdict = Verdict()
    for child in np.random.SeedSequence(seed).spawn(studies):
        _judge_one(world, draw(world, np.random.default_rng(child)), verdict)
    return verdict


def _judge_one(world: World, drawn: Drawn, verdict: Verdict) -> None:
    if world.looks is not None:
        _look_again(world.looks, drawn, verdict)
    study = drawn.study
    analysis = analyse(study)
    if world.sample is not None:
        _judge_models(drawn, analysis, verdict)
    cells, fit = analysis.cells, analysis.fit
    verdict.studies += 1
    verdict.resemble += cells.resemblance.fires
    verdict.first_differ += analysis.first_runs is not None and analysis.first_runs.fires
    for task in [*range(len(study.tasks)), None]:
        comparison = analysis.compare(task)
        weights = mix_weights(study, task)
        _judge_pairs(world, drawn, cells, fit, comparison, weights, verdict)
        _judge_ranks(drawn, comparison, weights, verdict)


def _look_again(looks: tuple[int, int], drawn: Drawn, verdict: Verdict) -> None:
    """Look at level pairs as planned, and after every run that is added."""
    called: np.ndarray | None = None
    for runs in range(looks[0], looks[1] + 1):
        pairs = analyse(first_runs_of(drawn.study, runs)).compare(0).pairs
        upper = np.triu(pairs.comparable, 1)
        now = upper & ((pairs.call == CLEAR) | (pairs.call == AHEAD))
        if called is None:
            called = now
            verdict.level_pairs += int(upper.sum())
            verdict.called_as_planned += int(now.sum())
        verdict.called_later += int((now & ~called).sum())
        called |= now


def _judge_models(drawn: Drawn, analysis: Analysis, verdict: Verdict) -> None:
    """Hold what is said of models, of an own sample and of a run to come against the truth."""
    study = drawn.study
    for task in [*range(len(study.tasks)), None]:
        table = analysis.models(task)
        if table is None:
            continue
        place = [study.setups.index(name) for name in table.names]
        truth = (drawn.models @ mix_weights(study, task))[place]
        apart = truth[:, None] - truth[None, :]
        said = table.estimate[:, None] - table.estimate[None, :]
        upper = np.triu(np.ones_like(apart, dtype=bool), 1)
        inside = np.abs(said - apart) <= table.half()
        kind = "models, mix" if task is None else "models, a task"
        # What one who knows every spread would say of models is another question.
        nothing = np.full(int(upper.sum()), np.nan)
        verdict.kinds.setdefault(kind, Tally()).add(inside[upper], nothing)
    found = {
        (s, t): predict_run(analysis, [s], t)
        for s in range(len(study.setups))
        for t in range(len(study.tasks))
    }
    held = [
        run.lo <= float(np.exp(-drawn.next_run[at])) <= run.hi
        for at, run in found.items()
        if run is not None
    ]
    tally = verdict.kinds.setdefault("one run to come on another sample", Tally())
    tally.add(np.array(held), np.full(len(held), np.nan))


def _judge_pairs(
    world: World,
    drawn: Drawn,
    cells: CellTable,
    fit: Fit,
    comparison: Comparison,
    weights: np.ndarray,
    verdict: Verdict,
) -> None:
    pairs = comparison.pairs
    setups = pairs.contrasts.setups
    truth = drawn.theta @ weights
    difference = truth[setups][:, None] - truth[setups][None, :]
    upper = np.triu(pairs.comparable, 1)
    inside = (pairs.lo <= difference) & (difference <= pairs.hi)
    with np.errstate(divide="ignore", invalid="ignore"):
        ratio = (pairs.hi - pairs.lo) / _oracle_width(world, drawn, cells, comparison, weights)
    call = pairs.call
    wrong = np.sign(pairs.contrasts.log_ratio) != np.sign(difference)
    matters = np.abs(difference) > pairs.materiality
    verdict.pairs += int(upper.sum())
    verdict.clear_wrong += int((upper & wrong & (call == CLEAR)).sum())
    verdict.order_wrong += int((upper & wrong & ((call == CLEAR) | (call == AHEAD))).sum())
    verdict.differing += int((upper & matters).sum())
    verdict.level_on_differing += int((upper & matters & (call == LEVEL)).sum())
    for kind, mask in _kinds(world, cells, fit, comparison, setups):
        at = upper & mask
        verdict.kinds.setdefault(kind, Tally()).add(inside[at], ratio[at])


def _oracle_width(
    world: World, drawn: Drawn, cells: CellTable, comparison: Comparison, weights: np.ndarray
) -> np.ndarray:
    """Width of an interval by one who knows every spread, and how unevenly updates land."""
    setups = comparison.pairs.contrasts.setups
    if world.uneven is not None:
        return np.asarray(2 * ndtri(0.975) * _knowing(world, drawn, comparison.task))
    n = np.zeros(drawn.theta.shape)
    n[cells.setup, cells.task] = cells.n
    with np.errstate(divide="ignore", invalid="ignore"):
        variance = np.where(weights > 0, weights**2 * drawn.sigma**2 / n, 0.0).sum(axis=1)[setups]
    return np.asarray(2 * ndtri(0.975) * np.sqrt(variance[:, None] + variance[None, :]))


def _knowing(world: World, drawn: Drawn, task: int | None) -> np.ndarray:
    """Standard errors by the same fit, with priors that are the truth and beyond doubt."""
    assert world.uneven is not None, "one round has a formula of its own"
    known = Settings(
        prior_df=1e9, prior_cv=world.spread[0], update_prior_df=1e9, update_prior_cv=world.uneven
    )
    return analyse(replace(drawn.study, settings=known)).compare(task).pairs.contrasts.se


def _kinds(
    world: World, cells: CellTable, fit: Fit, comparison: Comparison, setups: np.ndarray
) -> Iterator[tuple[str, np.ndarray]]:
    """Name the kinds of pair that a comparison holds, with a mask for each."""
    everything = np.ones((len(setups), len(setups)), dtype=bool)
    if comparison.task is None:
        yield "mix", everything
        return
    spread = cells.spread[comparison.task]
    if spread is None:
        return
    basis = spread.basis.value
    if len(world.spread) > 1:
        basis += f", truly {100 * world.spread[comparison.task]:g} %"
    if world.uneven is not None:
        carried = fit.carried[setups, comparison.task]
        one = carried[:, None] ^ carried[None, :]
        both = carried[:, None] & carried[None, :]
        yield f"{basis}, both latest", ~one & ~both
        yield f"{basis}, one carried over", one
        yield f"{basis}, both carried over", both
    elif len(set(world.setup_factors)) > 1:
        loud = (setups % len(world.setup_factors)) == len(world.setup_factors) - 1
        yield f"{basis}, any pair", everything
        yield f"{basis}, calm and calm", ~loud[:, None] & ~loud[None, :]
        yield f"{basis}, calm and restless", loud[:, None] ^ loud[None, :]
        yield f"{basis}, restless and restless", loud[:, None] & loud[None, :]
    else:
        yield basis, everything


def _judge_ranks(
    drawn: Drawn, comparison: Comparison, weights: np.ndarray, verdict: Verdict
) -> None:
    if len(comparison.rungs) < 2:
        return
    on = [rung.setup for rung in comparison.rungs]
    truth = (drawn.theta @ weights)[on]
    rank = 1 + (truth[None, :] > truth[:, None]).sum(axis=1)
    verdict.ladders += 1
    verdict.ranks_held += all(
        rung.best_rank <= r <= rung.worst_rank
        for rung, r in zip(comparison.rungs, rank, strict=True)
    )
