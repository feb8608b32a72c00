"""What to run next: how many runs would settle a pair, and a whole sitting.

Section 8 of the computation page.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import stdtrit

from true_margin.core.analysis import Analysis
from true_margin.core.cells import Spread
from true_margin.core.margins import CALL_ORDER, Call, Margin, stricter
from true_margin.core.resemblance import mean_variances, sittings_of

POWER = 0.8
"""Chance with which the told number of runs settles a difference that is what it seems."""
MOST_SETTLING = 1000
"""Where so many runs of each would not do, no number is told: a finer clock would."""
WORTH_SETTLING = 25
"""More runs of each setup than this are not worth their bench time."""


@dataclass(frozen=True, slots=True)
class Settling:
    """Runs that would likely settle a pair.

    Attributes:
        runs_each: runs of each setup, earlier ones included; None where no
            number would do.
        worth_it: False above 25 runs of each.
    """

    runs_each: int | None
    worth_it: bool


def needed_half_width(margin: Margin, materiality_log: float) -> float:
    """Half-width h* at which a pair would get a firmer call.

    Args:
        margin: an open or ahead margin.
        materiality_log: m = ln(1 + materiality).

    Returns:
        h* on the log scale: |Δ| where it is at least m, else the larger of |Δ|
        and m − |Δ|; for ahead ||Δ| − m|, which may be 0.
    """
    size, m = abs(margin.log_ratio), materiality_log
    if margin.call is Call.AHEAD:
        return abs(size - m)
    return size if size >= m else max(size, m - size)


@dataclass(frozen=True, slots=True)
class RunNoise:
    """What a mean of runs of one setup on a task is good for.

    Attributes:
        variance: of one run, on the log scale.
        floor: variance below which rounding lets no mean come.
    """

    variance: float
    floor: float = 0.0


def run_noise(analysis: Analysis, task: int, setup: int) -> RunNoise:
    """What more runs of a setup on a task would be good for, by those that it has.

    Returns:
        ``max(s² f², the largest (u/t)²)`` and the least rounding floor of its cells there.
    """
    cells = analysis.cells
    own = np.flatnonzero((cells.task == task) & (cells.setup == setup))
    spread = cells.spread[task]
    variance = 0.0 if spread is None else spread.cv**2 * float(cells.shares.variance[setup])
    if not len(own):
        return RunNoise(variance)
    reading = max(float(cells.relative_u[cells.cell_of_run == cell].max()) for cell in own)
    return RunNoise(max(variance, reading**2), float(cells.floor[own].min()))


def wants_new_sitting(analysis: Analysis, task: int, setup: int) -> bool:
    """Whether another sitting would tell more of a setup on a task than more runs in this one.

    Returns:
        True where neighbouring runs resemble each other beyond chance, and all timed runs of
        the setup on the task began in one sitting; False where nobody knows when they began.

    Reference:
        Computation page, section 2.
    """
    cells, runs = analysis.cells, analysis.study.runs
    if not cells.resemblance.fires:
        return False
    own = cells.run[(runs.task[cells.run] == task) & (runs.setup[cells.run] == setup)]
    if not len(own) or not np.isfinite(runs.started[own]).all():
        return False
    own = own[np.argsort(runs.started[own], kind="stable")]
    return len(sittings_of(analysis.study, own, np.array([0]))) == 1


def runs_to_settle(
    margin: Margin,
    noise: tuple[RunNoise, RunNoise],
    materiality_log: float,
    *,
    rho: float = 0.0,
    planned: int | None = None,
    confidence: float | None = None,
) -> Settling:
    """Count the runs of each setup that would likely settle a pair.

    Args:
        margin: an open or ahead margin.
        noise: what runs of each of the two are good for.
        materiality_log: m = ln(1 + materiality).
        rho: correlation of neighbouring runs.
        planned: runs that were planned; more are judged more strictly.
        confidence: of the shootout; that of the margin where it is left out.

    Returns:
        The smallest n with ``(t_{(1+c)/2} + t_{0.8})² Σ max(σ² m_n, R) ≤ h*²``, earlier runs
        included: 80 % power if the difference is what it seems.

    Reference:
        Cohen (1988), Statistical Power Analysis, 2nd ed.; computation page, section 8.
    """
    half_width = needed_half_width(margin, materiality_log)
    if half_width == 0:
        return Settling(None, False)
    level = margin.confidence if confidence is None else confidence
    runs = _least_runs(margin.df, level, noise, rho, half_width)
    if runs is not None and planned is not None and runs > planned and not margin.topped_up:
        runs = _least_runs(margin.df, stricter(level), noise, rho, half_width)
    return Settling(runs, runs is not None and runs <= WORTH_SETTLING)


def _least_runs(
    df: float, confidence: float, noise: tuple[RunNoise, RunNoise], rho: float, half_width: float
) -> int | None:
    """The smallest number of runs that would do; None where a thousand would not."""
    most_df = min(df, 1e10)
    t = float(stdtrit(most_df, 0.5 + confidence / 2)) + float(stdtrit(most_df, POWER))

    def enough(n: int) -> bool:
        part = float(mean_variances(np.array([n]), rho)[0])
        return t * t * sum(max(each.variance * part, each.floor) for each in noise) <= (
            half_width * half_width
        )

    if not enough(MOST_SETTLING):
        return None
    low, high = 0, MOST_SETTLING
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if enough(middle) else (middle, high)
    return high


def settling_of(analysis: Analysis, task: int, margin: Margin) -> Settling:
    """Count the runs that would likely settle a pair of an analysis."""
    return runs_to_settle(
        margin,
        (run_noise(analysis, task, margin.a), run_noise(analysis, task, margin.b)),
        math.log1p(analysis.study.settings.materiality),
        rho=analysis.cells.resemblance.rho,
        planned=analysis.study.tasks[task].planned_runs,
    )


def runs_before_data(
    difference: float, spread: Spread, materiality_log: float, confidence: float
) -> Settling:
    """Count the runs of each setup that would settle a stated difference, before any data.

    Args:
        difference: stated ratio of speeds less 1, such as 0.05; more than 0.
        spread: the prior one, or that of a like task.
        materiality_log: m = ln(1 + materiality).
        confidence: of the shootout's intervals.

    Reference:
        Computation page, section 8.
    """
    size = math.log1p(difference)
    stated = Margin(0, 1, size, math.inf, spread.df, -math.inf, math.inf, Call.OPEN, None)
    noise = RunNoise(spread.cv**2)
    return runs_to_settle(stated, (noise, noise), materiality_log, confidence=confidence)


@dataclass(frozen=True, slots=True)
class OpenPair:
    """An open pair on a task, as far as more runs of it matter.

    Attributes:
        a, b: indices of the setups.
        half_width: of its interval, on the log scale.
        needed: half-width that would settle it (h*), more than 0.
        scale: half-width² that a variance of 1 would give: (t quantile)².
    """

    a: int
    b: int
    half_width: float
    needed: float
    scale: float


@dataclass(frozen=True, slots=True)
class Candidate:
    """One (setup, task) that can be run again.

    Attributes:
        setup, task: indices into the study.
        minutes: of one run, handling included.
        runs: counted ones so far, at least 1.
        spread_cv: of the task, as a fraction.
        pairs: open pairs of the task in which the setup stands.
    """

    setup: int
    task: int
    minutes: float
    runs: int
    spread_cv: float
    pairs: tuple[OpenPair, ...]

    def gain(self, runs: int) -> float:
        """Decrease in Σ (half-width/h*)² by one run more than ``runs``."""
        less = self.spread_cv**2 * (1.0 / runs - 1.0 / (runs + 1))
        return sum(pair.scale * less / pair.needed**2 for pair in self.pairs)


@dataclass(frozen=True, slots=True)
class PlannedRun:
    """One run of a sitting; ``change_over`` where parts must be moved before it.

    ``starts_min`` is when it can be started, in minutes after the sitting began; ``after`` is
    the setup whose parts are moved.
    """

    setup: int
    task: int
    minutes: float
    change_over: bool = False
    starts_min: float = 0.0
    after: int | None = None


@dataclass(frozen=True, slots=True)
class Sitting:
    """A whole sitting in the order to run it.

    Attributes:
        runs: in the order in which they begin, interleaved, blocks where setups share parts.
        minutes: until the last is done, change-overs included.
        change_overs: how often parts must be moved.
    """

    runs: tuple[PlannedRun, ...]
    minutes: float
    change_overs: int


def open_pairs(analysis: Analysis, task: int) -> tuple[OpenPair, ...]:
    """List the open pairs of a task with what would settle each.

    Reference:
        Computation page, section 8.
    """
    pairs = analysis.tasks[task].pairs
    confidence = analysis.study.settings.confidence
    open_at = np.argwhere(np.triu(pairs.call == CALL_ORDER.index(Call.OPEN), 1))
    found = []
    for i, j in open_at:
        margin = pairs.margin(int(i), int(j))
        needed = needed_half_width(margin, pairs.materiality)
        if needed > 0:
            t = float(stdtrit(min(margin.df, 1e10), 0.5 + confidence / 2))
            half = (margin.hi - margin.lo) / 2
            found.append(OpenPair(margin.a, margin.b, half, needed, t * t))
    return tuple(found)


def rank_next_runs(candidates: Sequence[Candidate]) -> tuple[Candidate, ...]:
    """Order what can be run by expected minutes per unit of gain, the best first.

    Those that settle nothing are left out; ties go to the setup with fewer runs.
    """
    useful = [candidate for candidate in candidates if candidate.gain(candidate.runs) > 0]
    return tuple(
        sorted(useful, key=lambda b: (b.minutes / b.gain(b.runs), b.runs, b.task, b.setup))
    )


@dataclass(frozen=True, slots=True)
class Hands:
    """How runs of a sitting go beside each other.

    Attributes:
        shared: groups of setups that share parts, so that they cannot stand at once.
        change_over_minutes: time that moving the parts takes.
        side_by_side: whether setups that share nothing run at the same time.
        handling_minutes: part of a run's time in which somebody is busy with it: beside
            each other, no two runs have it at once.
    """

    shared: Sequence[frozenset[int]] = ()
    change_over_minutes: float = 0.0
    side_by_side: bool = False
    handling_minutes: float = 0.0

    def lane_of(self, setup: int) -> frozenset[int]:
        """The setups that a setup takes turns with; in one lane all do."""
        if not self.side_by_side:
            return frozenset()
        return self.group_of(setup) or frozenset({setup})

    def group_of(self, setup: int) -> frozenset[int] | None:
        """The setups that a setup shares parts with; None where it shares none."""
        return next((group for group in self.shared if setup in group), None)


def propose_sitting(
    candidates: Sequence[Candidate], budget_minutes: float, hands: Hands | None = None
) -> Sitting:
    """Fill a time budget with the runs that settle most, in an interleaved order.

    Args:
        candidates: what can be run.
        budget_minutes: time there is.
        hands: what cannot stand at once, and what may run beside each other.

    Returns:
        A sitting that fits the budget; runs are taken one by one, each time the one with
        the fewest minutes per unit of gain that still fits. The k-th runs of all setups
        come before the (k+1)-th, so that drift does not favour one; setups that share
        parts are run in blocks.

    Reference:
        Computation page, section 8.
    """
    ways = hands or Hands()
    chosen: dict[int, int] = {}
    order = {id(candidate): place for place, candidate in enumerate(candidates)}
    while True:
        fitting = [
            (candidate.minutes / candidate.gain(candidate.runs + chosen.get(place, 0)), place)
            for place, candidate in enumerate(candidates)
            if candidate.gain(candidate.runs + chosen.get(place, 0)) > 0
            and _minutes(candidates, {**chosen, place: chosen.get(place, 0) + 1}, ways)
            <= budget_minutes
        ]
        if not fitting:
            break
        place = min(fitting)[1]
        chosen[place] = chosen.get(place, 0) + 1
        if sum(chosen.values()) >= MOST_RUNS:
            break
    planned = [candidates[place] for place, times in chosen.items() for _ in range(times)]
    runs = _timed(_interleaved(planned, order, ways.shared), ways)
    minutes = _minutes(candidates, chosen, ways)
    return Sitting(runs, minutes, sum(run.change_over for run in runs))


MOST_RUNS = 200
"""A sitting of more runs than this is no sitting."""


def _minutes(candidates: Sequence[Candidate], chosen: dict[int, int], hands: Hands) -> float:
    lanes: dict[frozenset[int], float] = {}
    standing: dict[frozenset[int], set[int]] = {}
    for place, times in chosen.items():
        setup = candidates[place].setup
        lane, group = hands.lane_of(setup), hands.group_of(setup)
        took = candidates[place].minutes * times
        if group is not None:
            there = standing.setdefault(group, set())
            took += hands.change_over_minutes if there and setup not in there else 0.0
            there.add(setup)
        lanes[lane] = lanes.get(lane, 0.0) + took
    handled = hands.handling_minutes * sum(chosen.values())
    return max((*lanes.values(), handled), default=0.0)


def _timed(runs: Sequence[PlannedRun], hands: Hands) -> tuple[PlannedRun, ...]:
    """The runs with when each can be started, in that order."""
    free: dict[frozenset[int], float] = {}
    timed = []
    for run in runs:
        lane = hands.lane_of(run.setup)
        starts = free.get(lane, 0.0) + (hands.change_over_minutes if run.change_over else 0.0)
        free[lane] = starts + run.minutes
        timed.append(replace(run, starts_min=starts))
    return tuple(sorted(timed, key=lambda run: run.starts_min))


def _interleaved(
    planned: Sequence[Candidate], order: dict[int, int], shared: Sequence[frozenset[int]]
) -> tuple[PlannedRun, ...]:
    """A B C, A B C; but setups that share parts one after the other, in blocks."""
    seen: dict[int, int] = {}
    turns = []
    for candidate in planned:
        turn = seen.get(id(candidate), 0)
        seen[id(candidate)] = turn + 1
        # Setups of one group wait for each other: the place of the setup comes first.
        group = next((g for g in shared if candidate.setup in g), None)
        block = 0 if group is None else sorted(group).index(candidate.setup)
        turns.append(
            (block, turn, candidate.task, candidate.setup, order[id(candidate)], candidate)
        )
    runs: list[PlannedRun] = []
    standing: dict[frozenset[int], int] = {}
    for *_, candidate in sorted(turns, key=lambda each: each[:-1]):
        group = next((g for g in shared if candidate.setup in g), None)
        stood = candidate.setup if group is None else standing.get(group, candidate.setup)
        moved = stood != candidate.setup
        if group is not None:
            standing[group] = candidate.setup
        runs.append(
            PlannedRun(
                candidate.setup,
                candidate.task,
                candidate.minutes,
                moved,
                after=stood if moved else None,
            )
        )
    return tuple(runs)
