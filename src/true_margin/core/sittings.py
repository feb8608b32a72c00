"""What to run next, and a whole sitting: within the time there is, by the hands there are.

Section 8 of the computation page.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.special import stdtrit

from true_margin.core.analysis import Analysis
from true_margin.core.margins import CALL_ORDER, Call
from true_margin.core.resemblance import sittings_of
from true_margin.core.settling import needed_half_width


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
