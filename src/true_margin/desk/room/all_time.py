"""A standing task's ranking over all shootouts, in words and figures."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import UUID

from true_margin.core.all_time import Standing, Step, Timed
from true_margin.core.wording import (
    count_of,
    format_percent,
    interval_words,
    listed,
    percent_faster,
)
from true_margin.core.worth_timing import WorthTiming
from true_margin.desk.errors import transaction
from true_margin.desk.room.best import VersionBest, best_by_version
from true_margin.desk.room.ranked import IN_HAND, Ranked, rank_standing
from true_margin.desk.room.words import say_value
from true_margin.store import records, room, room_uses
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class VersionColumn:
    """One version of the app; ``since`` is the day of the first run in it, where it is known."""

    name: str
    since: datetime | None


@dataclass(frozen=True, slots=True)
class TimedPoint:
    """What one machine took in one version: ``column`` counts versions from 0."""

    column: int
    value: float
    shown: str
    runs: int


@dataclass(frozen=True, slots=True)
class MachineLine:
    """One machine over the versions.

    ``value`` with ``lo`` and ``hi`` is what it takes in the newest version, seconds or the
    amount; None where nothing ties it to that one. ``carried`` is over how many updates that
    figure was carried, from version ``timed_in``. ``ranks`` is what it may be, best to worst.
    """

    machine_id: UUID
    label: str
    mark: int
    in_hand: bool
    points: tuple[TimedPoint, ...]
    value: float | None
    lo: float | None
    hi: float | None
    shown: str
    range: str
    ranks: tuple[int, ...]
    carried: int
    timed_in: str


@dataclass(frozen=True, slots=True)
class UpdateStep:
    """What one update did by itself; ``links`` are the machines that say so."""

    before: int
    after: int
    gain: str
    range: str
    links: tuple[str, ...]
    weak: bool


@dataclass(frozen=True, slots=True)
class AllTimeNext:
    """What to time next on a standing task, and what that would do."""

    label: str
    words: str
    slug: str | None


@dataclass(frozen=True, slots=True)
class AllTimeView:
    """A standing task's ranking over all shootouts, as of the newest version of its app.

    ``left_out`` says which runs or machines have no place, and why.
    """

    id: UUID
    name: str
    app: str
    measure: str
    unit: str | None
    headline: str
    sentence: str
    versions: tuple[VersionColumn, ...]
    lines: tuple[MachineLine, ...]
    steps: tuple[UpdateStep, ...]
    best: tuple[VersionBest, ...]
    weakest: str | None
    uneven: str | None
    left_out: tuple[str, ...]
    next: AllTimeNext | None
    confidence: float


@dataclass(frozen=True, slots=True)
class StandingChoice:
    """A standing task to choose, with how many shootouts have it."""

    id: UUID
    name: str
    app: str
    shootouts: int
    demo: bool


def list_standing(database: Database) -> tuple[StandingChoice, ...]:
    """List the standing tasks, those of most shootouts first."""
    with transaction(database) as session:
        counts: dict[UUID, set[UUID]] = {}
        for use in room_uses.list_task_uses(session):
            if use.standing_id is not None:
                counts.setdefault(use.standing_id, set()).add(use.shootout_id)
        tasks = room.list_tasks(session)
    found = (StandingChoice(t.id, t.name, t.app, len(counts.get(t.id, ())), t.demo) for t in tasks)
    return tuple(sorted(found, key=lambda c: (c.demo, -c.shootouts, c.name.casefold())))


def show_all_time(database: Database, standing_id: UUID) -> AllTimeView:
    """Show everybody who was ever timed on a standing task."""
    with transaction(database) as session:
        ranked = rank_standing(database, session, standing_id)
        slugs = {each.id: each.slug for each in room.list_homes(session) if not each.archived}
    task = ranked.runs.task
    headline, sentence = _headline(ranked)
    weakest = ranked.ranking.weakest
    return AllTimeView(
        task.id,
        task.name,
        task.app,
        task.measure,
        task.unit,
        headline,
        sentence,
        tuple(
            VersionColumn(name, None if math.isnan(at) else datetime.fromtimestamp(at, UTC))
            for name, at in zip(ranked.runs.versions, ranked.runs.since, strict=True)
        ),
        tuple(_lines(ranked)),
        tuple(_step(ranked, step, weak=step is weakest) for step in ranked.ranking.steps),
        best_by_version(ranked),
        None if weakest is None else _say_weakest(ranked, weakest),
        _say_uneven(ranked),
        tuple(_left_out(ranked)),
        _next(ranked, slugs),
        ranked.runs.study.settings.confidence,
    )


def _headline(ranked: Ranked) -> tuple[str, str]:
    runs, records_ = ranked.runs, ranked.ranking.records
    task = runs.task
    if not records_:
        return "Nothing to rank yet.", "No run of it has a time and an app version."
    best = records_[-1]
    label = runs.entrants[best.setup].label
    headline = f"The record: {say_value(task, best.value)}, {label}."
    beside = [
        runs.entrants[each.setup].label
        for each in ranked.ranking.standings
        if each.best_rank == 1 and each.setup != best.setup
    ]
    words = []
    if beside:
        words.append(f"It shares its place with {listed(beside, 3)}: too close to call.")
    if len(records_) > 1:
        first = records_[0]
        words.append(
            f"In {task.app} {runs.versions[first.round]} the best was "
            f"{say_value(task, first.value)}."
        )
    if ranked.ranking.by_updates is not None:
        part, lo, hi = (100 * each for each in ranked.ranking.by_updates)
        if lo > 0 and hi < 100:
            words.append(
                f"About {format_percent(part)} % of the gain came from {task.app} "
                f"({format_percent(lo)} to {format_percent(hi)} %), the rest from the machines."
            )
    return headline, " ".join(words)


def _lines(ranked: Ranked) -> Iterator[MachineLine]:
    runs = ranked.runs
    points: dict[int, list[Timed]] = {}
    for each in ranked.ranking.timed:
        points.setdefault(each.setup, []).append(each)
    standing = {each.setup: each for each in ranked.ranking.standings}
    order = [*standing, *(s for s in ranked.ranking.apart)]
    marks = {s: at for at, s in enumerate(sorted(points))}
    for setup in order:
        entrant, own = runs.entrants[setup], points[setup]
        stands = standing.get(setup)
        yield MachineLine(
            entrant.machine.id,
            entrant.label,
            marks[setup],
            entrant.machine.keeping in IN_HAND,
            tuple(TimedPoint(p.round, p.value, say_value(runs.task, p.value), p.runs) for p in own),
            None if stands is None else stands.value,
            None if stands is None else stands.lo,
            None if stands is None else stands.hi,
            say_value(runs.task, own[-1].value if stands is None else stands.value),
            "" if stands is None else _range(runs.task, stands),
            () if stands is None else (stands.best_rank, stands.worst_rank),
            0 if stands is None else stands.updates,
            runs.versions[own[-1].round],
        )


def _range(task: records.RoomTask, standing: Standing) -> str:
    return f"{say_value(task, standing.lo)} to {say_value(task, standing.hi)}"


def _step(ranked: Ranked, step: Step, *, weak: bool) -> UpdateStep:
    faster = step.log_gain > 0
    size, lo, hi = (
        (step.log_gain, step.lo, step.hi) if faster else (-step.log_gain, -step.hi, -step.lo)
    )
    sign = "+" if faster else "−"
    told = step.lo > 0 or step.hi < 0
    return UpdateStep(
        step.before,
        step.after,
        f"{sign}{format_percent(percent_faster(size))} %" if told else "no difference found",
        interval_words(lo, hi),
        tuple(ranked.runs.entrants[s].label for s in step.links),
        weak,
    )


def _say_weakest(ranked: Ranked, step: Step) -> str:
    runs = ranked.runs
    before, after = runs.versions[step.before], runs.versions[step.after]
    only = runs.entrants[step.links[0]].label
    hanging = ranked.ranking.hanging(step)
    if not hanging:
        return f"{before} to {after} hangs on one machine, the {only}."
    narrow = "the estimate" if hanging == 1 else f"all {hanging} estimates"
    return (
        f"{before} to {after} hangs on one machine, the {only}. A second one would narrow {narrow}."
    )


def _say_uneven(ranked: Ranked) -> str | None:
    if ranked.analysis is None or not any(s.updates for s in ranked.ranking.standings):
        return None
    update = ranked.analysis.fit.update
    if update.df is None or update.basis is None:
        return "Too few machines were timed before and after to know how far estimates may be off."
    return (
        f"Machines differ by about {format_percent(100 * update.cv)} % in what they gain from an "
        f"update ({update.basis.value}); the estimates allow for that."
    )


def _left_out(ranked: Ranked) -> Iterator[str]:
    runs = ranked.runs
    last = {each.setup: each.round for each in ranked.ranking.timed}
    for setup in ranked.ranking.apart:
        version = runs.versions[last[setup]]
        yield (
            f"{runs.entrants[setup].label} was timed in {version}, and no machine links that to "
            f"{runs.versions[-1]}."
        )
    for setup, differences in runs.other_job:
        yield (
            f"{runs.entrants[setup].label} was exported with other settings "
            f"({listed(differences, 2)}): not the same job."
        )
    for setup in runs.only_failed:
        yield f"{runs.entrants[setup].label} failed every time."
    for setup in runs.only_bounds:
        yield f"{runs.entrants[setup].label} is only known to take more or less than a limit."
    for name, home in runs.not_kept:
        yield f"{name} of “{home.name}” is not in the store room yet: keep it there to rank it."
    for home, count in runs.no_version:
        yield (
            f"{count_of(count, 'run')} in “{home.name}”: the round does not say which version of "
            f"{runs.task.app} it was. Say so under Tasks, Rounds."
        )


def _next(ranked: Ranked, slugs: dict[UUID, str]) -> AllTimeNext | None:
    """What to time next: the machine that narrows most for each minute, if one is in hand."""
    if not ranked.worth:
        return None
    best = ranked.worth[0]
    entrant = ranked.runs.entrants[best.setup]
    homes = [slugs[u.shootout_id] for u in reversed(entrant.setups) if u.shootout_id in slugs]
    return AllTimeNext(entrant.label, say_worth(ranked, best), homes[0] if homes else None)


def say_worth(ranked: Ranked, worth: WorthTiming) -> str:
    """Say what timing a machine again takes and gives."""
    runs = ranked.runs
    minutes = "" if worth.seconds is None else f", about {max(1, round(worth.seconds / 60))} min"
    helped = ""
    if worth.helps:
        helped = f", and narrows {_others(runs.entrants[s].label for s in worth.helps)}"
    return (
        f"Time the {runs.entrants[worth.setup].label} again in {runs.task.app} "
        f"{runs.versions[-1]}{minutes}: replaces its estimate by a measured time{helped}."
    )


def _others(labels: Iterator[str]) -> str:
    names: Sequence[str] = list(labels)
    return f"that of the {names[0]} too" if len(names) == 1 else f"{len(names)} other estimates"
