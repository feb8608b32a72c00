"""A standing task over every machine that was ever timed on it, as of the newest version.

A standing task is one task of many shootouts, timed in many versions of its app. Each
version is a round; machines that were timed in several versions tie them together, and the
fit of rounds does the rest. Sections 3 and 4 of the computation page, over shootouts.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from scipy.special import stdtrit

from true_margin.core.analysis import Analysis, analyse
from true_margin.core.effects import sum_variances
from true_margin.core.margins import own_half
from true_margin.core.study import Measure

_NORMAL_DF = 1e10


def version_key(name: str) -> tuple[tuple[int, int, str], ...]:
    """Order versions as their numbers say: 6.9 before 6.10, and words after numbers."""
    parts = re.findall(r"\d+|[^\W\d_]+", name.casefold())
    return tuple((0, int(p[:18]), p) if p.isdecimal() else (1, 0, p) for p in parts)


@dataclass(frozen=True, slots=True)
class Timed:
    """What one machine took in one version: the mean of its runs there.

    Attributes:
        setup, round: indices into the study.
        value: geometric mean of its counted runs, seconds or the amount.
        runs: how many there were.
    """

    setup: int
    round: int
    value: float
    runs: int


@dataclass(frozen=True, slots=True)
class Standing:
    """Where one machine stands as of the newest version.

    Attributes:
        setup: index into the study.
        value: seconds or the amount that it takes now, by the fit.
        lo, hi: interval of that value, lower end first.
        last: round in which it was timed last.
        updates: versions since then; its figure was carried over as many updates.
        best_rank, worst_rank: simultaneous range of possible ranks.
    """

    setup: int
    value: float
    lo: float
    hi: float
    last: int
    updates: int
    best_rank: int
    worst_rank: int


@dataclass(frozen=True, slots=True)
class Step:
    """One update: what it did by itself, and who says so.

    Attributes:
        before, after: rounds on either side.
        log_gain: how much faster everything was after it, on the log-speed scale.
        lo, hi: its interval.
        links: setups that were timed both at or before ``before`` and at or after ``after``.
    """

    before: int
    after: int
    log_gain: float
    lo: float
    hi: float
    links: tuple[int, ...]


@dataclass(frozen=True, slots=True)
class Record:
    """The best that any machine had done up to a version, by its own runs.

    Attributes:
        round: version in which it was done.
        setup: who did it.
        value: mean of its runs then.
    """

    round: int
    setup: int
    value: float


@dataclass(frozen=True, slots=True)
class AllTime:
    """A standing task's ranking over all shootouts.

    Attributes:
        timed: what was measured, by setup, then round.
        standings: everybody who is tied to the newest version, best first.
        steps: updates between the versions that hang together, oldest first.
        apart: setups that nothing ties to the newest version.
        records: each version in which somebody was better than everybody before.
        by_updates: part of the records' gain that updates alone gave, with its interval, on
            the log scale; None where nothing was gained or nothing is known of it.
    """

    timed: tuple[Timed, ...]
    standings: tuple[Standing, ...]
    steps: tuple[Step, ...]
    apart: tuple[int, ...]
    records: tuple[Record, ...]
    by_updates: tuple[float, float, float] | None

    @property
    def weakest(self) -> Step | None:
        """The update that fewest machines tie, where that is one and something hangs on it."""
        single = [step for step in self.steps if len(step.links) == 1]
        return min(single, key=lambda s: (-self.hanging(s), -s.after), default=None)

    def hanging(self, step: Step) -> int:
        """How many figures were carried over an update."""
        return sum(each.last <= step.before for each in self.standings)


def rank_all_time(analysis: Analysis) -> AllTime:
    """Rank everybody who was timed on a study's one task, as of its newest round.

    Args:
        analysis: of a study with one task, whose rounds are the versions of its app.
    """
    timed = _timed(analysis)
    if not timed:
        return AllTime((), (), (), (), (), None)
    newest = max(each.round for each in timed)
    component = analysis.fit.component[:, 0]
    main = int(component[next(each.setup for each in timed if each.round == newest)])
    tied = {int(s) for s in np.flatnonzero(component == main)}
    if analysis.study.baseline not in tied:
        # The ladder is that of whoever hangs together with the baseline.
        study = replace(analysis.study, baseline=min(tied))
        analysis = analyse(study, before=analysis)
    here = [each for each in timed if each.setup in tied]
    steps = _steps(analysis, here)
    records = _records(analysis, here)
    apart = tuple(s for s in sorted({each.setup for each in timed}) if s not in tied)
    by_updates = _by_updates(analysis, records, newest)
    return AllTime(timed, _standings(analysis, here), steps, apart, records, by_updates)


def _sign(analysis: Analysis) -> float:
    """1 where more is better, −1 where less is."""
    return -1.0 if analysis.study.tasks[0].measure is Measure.TIME else 1.0


def _timed(analysis: Analysis) -> tuple[Timed, ...]:
    cells, sign = analysis.cells, _sign(analysis)
    found = zip(
        cells.setup.tolist(),
        cells.round.tolist(),
        np.exp(sign * cells.mean).tolist(),
        cells.n.tolist(),
        strict=True,
    )
    return tuple(Timed(*each) for each in sorted(found))


def _standings(analysis: Analysis, here: list[Timed]) -> tuple[Standing, ...]:
    comparison = analysis.compare(0)
    contrasts = comparison.pairs.contrasts
    place = {int(s): i for i, s in enumerate(contrasts.setups)}
    rounds = sorted({each.round for each in here})
    last = {each.setup: each.round for each in here}
    sign, confidence = _sign(analysis), analysis.study.settings.confidence
    found = []
    for rung in comparison.rungs:
        if rung.setup not in last:
            continue
        half = own_half(contrasts, place[rung.setup], confidence)
        ends = sorted(math.exp(sign * (rung.log_speed + way * half)) for way in (-1.0, 1.0))
        found.append(
            Standing(
                rung.setup,
                math.exp(sign * rung.log_speed),
                ends[0],
                ends[1],
                last[rung.setup],
                sum(round_ > last[rung.setup] for round_ in rounds),
                rung.best_rank,
                rung.worst_rank,
            )
        )
    return tuple(found)


def _steps(analysis: Analysis, here: list[Timed]) -> tuple[Step, ...]:
    rounds = sorted({each.round for each in here})
    own = analysis.fit.apps[0]
    first: dict[int, int] = {}
    last: dict[int, int] = {}
    for each in here:
        first.setdefault(each.setup, each.round)
        last[each.setup] = each.round
    sums = np.zeros((max(len(rounds) - 1, 0), len(own.rounds)))
    column = {int(round_): i for i, round_ in enumerate(own.rounds)}
    for row, (before, after) in enumerate(pairwise(rounds)):
        # The newest is the reference, whose effect is 0 and stands in no column.
        for round_, weight in ((before, -1.0), (after, 1.0)):
            if round_ in column:
                sums[row, column[round_]] = weight
    gains = (sums @ analysis.fit.deltas[0]).tolist()
    variances = sum_variances(analysis.fit, analysis.cells, 0, sums)
    steps = []
    for (before, after), gain, spread in zip(pairwise(rounds), gains, variances, strict=True):
        half = _quantile(analysis, spread.df) * math.sqrt(spread.variance)
        links = tuple(s for s in first if first[s] <= before and last[s] >= after)
        steps.append(Step(before, after, gain, gain - half, gain + half, links))
    return tuple(steps)


def _quantile(analysis: Analysis, df: float) -> float:
    return float(stdtrit(min(df, _NORMAL_DF), 0.5 + analysis.study.settings.confidence / 2))


def _records(analysis: Analysis, here: list[Timed]) -> tuple[Record, ...]:
    sign = _sign(analysis)
    found: list[Record] = []
    best = -math.inf
    for each in sorted(here, key=lambda t: (t.round, -sign * math.log(t.value), t.setup)):
        speed = sign * math.log(each.value)
        if speed > best:
            best = speed
            if found and found[-1].round == each.round:
                found.pop()
            found.append(Record(each.round, each.setup, each.value))
    return tuple(found)


def _by_updates(
    analysis: Analysis, records: tuple[Record, ...], newest: int
) -> tuple[float, float, float] | None:
    """Which part of the way from the first record to the last the updates went by themselves."""
    if len(records) < 2 or records[0].round == newest:
        return None
    own, sign = analysis.fit.apps[0], _sign(analysis)
    at = {int(round_): i for i, round_ in enumerate(own.rounds)}
    row = np.zeros((1, len(own.rounds)))
    for round_, weight in ((records[0].round, -1.0), (records[-1].round, 1.0)):
        if round_ in at:
            row[0, at[round_]] = weight
    gained = sign * math.log(records[-1].value / records[0].value)
    if not gained > math.log1p(analysis.study.settings.materiality):
        return None
    (spread,) = sum_variances(analysis.fit, analysis.cells, 0, row)
    part = float((row @ analysis.fit.deltas[0])[0])
    half = _quantile(analysis, spread.df) * math.sqrt(spread.variance)
    return part / gained, (part - half) / gained, (part + half) / gained
