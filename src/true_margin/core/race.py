"""A race: finished runs of one task replayed side by side from the marks noted on the way."""

from __future__ import annotations

import math
from bisect import bisect_right
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

from true_margin.core.checks import ProgressPoint
from true_margin.core.pace import rising_marks

LEAD_LEAST = 0.01
"""Who is ahead by less of the work than this, and then again is not, has not led: marks are
read to a per cent or so."""
HALF = 0.5


class MomentKind(StrEnum):
    """What happens at a moment of a race."""

    LEAD = "lead"
    HALF = "half"
    DONE = "done"
    FAILED = "failed"


@dataclass(frozen=True, slots=True)
class Runner:
    """One run of a race.

    ``points`` are moments in seconds after its start, each with the part of the work (0 to 1)
    that was done then, both rising, from (0, 0) to its end; between two it is drawn straight.
    """

    points: tuple[tuple[float, float], ...]

    @property
    def end_s(self) -> float:
        """Its last moment, in seconds after its start."""
        return self.points[-1][0]

    @property
    def finished(self) -> bool:
        """Whether all of the work was done; a run that failed stays where it was."""
        return self.points[-1][1] >= 1.0

    @property
    def marked(self) -> bool:
        """Whether anything between its start and its end is known."""
        return len(self.points) > 2


@dataclass(frozen=True, slots=True)
class Lead:
    """Who is ahead at a moment: by how much of the work, and by how many seconds.

    ``gap_s`` is how long ago the first was where the second is now.
    """

    first: int
    second: int | None
    gap: float
    gap_s: float


@dataclass(frozen=True, slots=True)
class Moment:
    """Something worth a word: ``at_s`` seconds after the start, of runner ``who``."""

    at_s: float
    kind: MomentKind
    who: int


def runner_of(
    marks: Sequence[ProgressPoint], end_s: float, reached: float | None = 1.0
) -> Runner | None:
    """A run as it went.

    Args:
        marks: how far it was when, in any order; those that go backwards are left out.
        end_s: when it ended, in seconds after its start.
        reached: the part of the work that was done then; None where nobody knows, then its
            last mark says it.

    Returns:
        None for a run that failed and of which nothing else is known.
    """
    inside = [
        (mark.elapsed_s, mark.fraction)
        for mark in rising_marks(marks)
        if mark.elapsed_s < end_s and mark.fraction < (1.0 if reached is None else reached)
    ]
    if reached is None:
        if not inside:
            return None
        reached = inside[-1][1]
    return Runner(((0.0, 0.0), *inside, (end_s, reached)))


def done_at(runner: Runner, at_s: float) -> float:
    """The part of its work (0 to 1) that a run had done ``at_s`` seconds after its start."""
    points = runner.points
    after = bisect_right(points, at_s, key=lambda point: point[0])
    if after == 0:
        return 0.0
    if after == len(points):
        return points[-1][1]
    (t0, p0), (t1, p1) = points[after - 1], points[after]
    return p0 + (p1 - p0) * (at_s - t0) / (t1 - t0)


def reached_at(runner: Runner, fraction: float) -> float:
    """When a run first had done this part of its work, in seconds; infinity where it never had."""
    for (t0, p0), (t1, p1) in pairwise(runner.points):
        if fraction <= p1:
            return t0 if p1 == p0 else t0 + (t1 - t0) * max(fraction - p0, 0.0) / (p1 - p0)
    return math.inf


def places(runners: Sequence[Runner], at_s: float) -> list[int]:
    """The runners by how far they are; of those that are level the one that was there first."""
    far = [done_at(runner, at_s) for runner in runners]
    return sorted(range(len(runners)), key=lambda i: (-far[i], reached_at(runners[i], far[i]), i))


def lead_at(runners: Sequence[Runner], at_s: float) -> Lead | None:
    """Who is ahead and by how much; None before the start, and without runners."""
    order = places(runners, at_s)
    if not order or at_s <= 0:
        return None
    first = runners[order[0]]
    if len(order) == 1:
        return Lead(order[0], None, 0.0, 0.0)
    here = done_at(runners[order[1]], at_s)
    # Once the second is done too, the gap stays what it was at its end.
    ended = runners[order[1]].end_s
    gap_s = max(min(at_s, ended) - reached_at(first, here), 0.0)
    return Lead(order[0], order[1], max(done_at(first, at_s) - here, 0.0), gap_s)


def moments_of(runners: Sequence[Runner]) -> list[Moment]:
    """Everything worth a word, in the order in which it happens.

    The first to lead and whoever takes the lead then, where marks say so on both sides (a run
    without marks is drawn straight: whether it led is not known); who is half way first; every
    end.
    """
    found = [*_leads(runners)]
    halves = [(reached_at(runner, HALF), who) for who, runner in enumerate(runners)]
    soonest = min(halves, default=(math.inf, 0))
    if math.isfinite(soonest[0]):
        found.append(Moment(soonest[0], MomentKind.HALF, soonest[1]))
    for who, runner in enumerate(runners):
        kind = MomentKind.DONE if runner.finished else MomentKind.FAILED
        found.append(Moment(runner.end_s, kind, who))
    return sorted(found, key=lambda moment: moment.at_s)


def _leads(runners: Sequence[Runner]) -> Iterator[Moment]:
    """Who led from when on, without leads that are too small to be told."""
    marked = [who for who, runner in enumerate(runners) if runner.marked]
    own = [runners[who] for who in marked]
    if len(own) < 2:
        return
    over = min(runner.end_s for runner in own)
    spans = [*_spans(own, over)]
    led: int | None = None
    for place, (since, until, who) in enumerate(spans):
        others = [runner for other, runner in enumerate(own) if other != who]
        # Who is done first has led, however closely.
        told = place == len(spans) - 1 or _most_ahead(own[who], others, since, until) >= LEAD_LEAST
        if told and who != led:
            yield Moment(since, MomentKind.LEAD, marked[who])
            led = who


def _spans(runners: Sequence[Runner], over: float) -> Iterator[tuple[float, float, int]]:
    """From when until when who was ahead, until the first of them ended."""
    ends = sorted({t for runner in runners for t, _ in runner.points if t <= over})
    since, ahead = 0.0, None
    for t0, t1 in pairwise(ends):
        for at, who in _ahead_between(runners, t0, t1):
            if who != ahead:
                if ahead is not None:
                    yield since, at, ahead
                since, ahead = at, who
    if ahead is not None:
        yield since, over, ahead


def _ahead_between(runners: Sequence[Runner], t0: float, t1: float) -> Iterator[tuple[float, int]]:
    """Who is ahead from when on, between two moments between which all go straight."""
    start = [done_at(runner, t0) for runner in runners]
    rise = [(done_at(runner, t1) - p) / (t1 - t0) for runner, p in zip(runners, start, strict=True)]
    at = t0
    ahead = max(range(len(runners)), key=lambda i: (start[i], rise[i], -i))
    yield at, ahead
    while True:
        passing = [
            (t0 + (start[ahead] - start[i]) / (rise[i] - rise[ahead]), -rise[i], i)
            for i in range(len(runners))
            if rise[i] > rise[ahead]
        ]
        later = [each for each in passing if at < each[0] < t1]
        if not later:
            return
        at, _, ahead = min(later)
        yield at, ahead


def _most_ahead(runner: Runner, others: Sequence[Runner], since: float, until: float) -> float:
    """The most of the work that a run was ahead of all others in a span."""
    inside = {t for each in (runner, *others) for t, _ in each.points if since < t < until}
    return max(
        done_at(runner, at) - max(done_at(other, at) for other in others)
        for at in (since, *inside, until)
    )
