"""The race of a task: one run of each setup, replayed side by side from its marks."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from statistics import median
from uuid import UUID

from true_margin.core.race import (
    Moment,
    MomentKind,
    Runner,
    done_at,
    lead_at,
    moments_of,
    reached_at,
    runner_of,
)
from true_margin.desk.book.analysis import progress_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.margins import MIX, ladder_of, task_index
from true_margin.desk.margins.words import races as words
from true_margin.store import records
from true_margin.store.database import Database

TYPICAL_WITHIN = 0.03
"""A run with marks stands for its setup where it is this near to the middle of its runs."""
MOST_MARKS = 400
"""So many marks of a run are drawn; a program that notes one a second notes more."""


@dataclass(frozen=True, slots=True)
class RaceRun:
    """A run that may be raced: what it is called, and whether it has marks."""

    run_id: UUID
    label: str
    marked: bool


@dataclass(frozen=True, slots=True)
class RaceLane:
    """One setup of a race.

    ``points`` are seconds after the start with the part of the work done then, 0 to 1;
    ``shown`` is the time, or where it failed; ``runs`` are all that may be raced instead.
    """

    setup_id: UUID
    label: str
    mark: int
    run_id: UUID
    points: tuple[tuple[float, ...], ...]
    shown: str
    finished: bool
    marked: bool
    runs: tuple[RaceRun, ...]


@dataclass(frozen=True, slots=True)
class RaceMoment:
    """Something to stop at: when, of which lane, and in words."""

    at_s: float
    kind: str
    setup_id: UUID
    words: str


@dataclass(frozen=True, slots=True)
class RaceView:
    """A race. ``finding`` is what all runs say; ``notes`` are what a single one cannot say."""

    key: str
    title: str
    length_s: float
    lanes: tuple[RaceLane, ...]
    moments: tuple[RaceMoment, ...]
    finding: str
    notes: tuple[str, ...]
    problem: str | None


def show_race(
    database: Database, slug: str, key: str | None, chosen: Sequence[UUID] = ()
) -> RaceView:
    """Give the race of a task.

    Args:
        database: where the book is.
        slug: of the shootout.
        key: of the task; the first with runs where none is given.
        chosen: runs that stand for their setups; else each has the one that is most like all
            of its runs.

    Raises:
        RefusedError: a chosen run is none of this task that can be raced.
    """
    return race_of(SHELF.take(database, slug), key, chosen)


def race_of(book: Book, key: str | None, chosen: Sequence[UUID] = ()) -> RaceView:
    """The race of a task of a book."""
    place = task_index(book, key)
    if place is None:
        if key == MIX:
            return _nothing(MIX, words.MIX_TITLE, words.ON_ONE_TASK)
        return _nothing(key or MIX, "", words.NO_RUN_YET)
    task = book.tasks[place]
    if task.measure != "time":
        return _nothing(str(task.id), task.name, words.NO_TIMES)
    there = _racing(book, task)
    wrong = [run for run in chosen if not any(run in own for own in there.values())]
    if wrong:
        raise RefusedError("run", "A chosen run is none of this task that ended at a known time.")
    lanes = sorted(
        (_lane(book, setup, own, chosen) for setup, own in there.items()),
        key=lambda lane: (not lane.finished, lane.points[-1][0]),
    )
    if not lanes:
        return _nothing(str(task.id), task.name, words.NONE_ENDED)
    runners = [Runner(tuple((at, part) for at, part in lane.points)) for lane in lanes]
    return RaceView(
        str(task.id),
        task.name,
        max(runner.end_s for runner in runners),
        tuple(lanes),
        tuple(
            RaceMoment(each.at_s, each.kind, lanes[each.who].setup_id, _words(lanes, runners, each))
            for each in moments_of(runners)
        ),
        ladder_of(book, str(task.id)).headline if len(lanes) > 1 else "",
        tuple(_notes(book, lanes)),
        None,
    )


def _nothing(key: str, title: str, why: str) -> RaceView:
    return RaceView(key, title, 0.0, (), (), "", (), why)


def _racing(book: Book, task: records.Task) -> dict[UUID, dict[UUID, tuple[records.Run, Runner]]]:
    """The runs of a task that ended at a known time, by setup."""
    found: dict[UUID, dict[UUID, tuple[records.Run, Runner]]] = {}
    for run in book.runs:
        if run.task_id != task.id or run.setup_id not in book.setup_index:
            continue
        runner = _runner(book, run)
        if runner is not None:
            found.setdefault(run.setup_id, {})[run.id] = (run, runner)
    return found


def _runner(book: Book, run: records.Run) -> Runner | None:
    if run.status not in ("ok", "failed") or run.bound is not None:
        return None
    marks = progress_of(book.marks_of.get(run.id, ()))
    marks = marks[:: len(marks) // MOST_MARKS + 1]
    if run.status == "ok":
        return runner_of(marks, run.value) if run.value else None
    ended = run.value or max((mark.elapsed_s for mark in marks), default=0.0)
    return runner_of(marks, ended, run.reached) if ended > 0 else None


def _lane(
    book: Book,
    setup_id: UUID,
    own: Mapping[UUID, tuple[records.Run, Runner]],
    chosen: Sequence[UUID],
) -> RaceLane:
    setup = book.setups[book.setup_index[setup_id]]
    picked = next((run for run in chosen if run in own), None) or _typical(book, own)
    _, runner = own[picked]
    return RaceLane(
        setup_id,
        setup.label,
        setup.mark,
        picked,
        runner.points,
        _shown(runner),
        runner.finished,
        runner.marked,
        tuple(
            RaceRun(run.id, words.name_run(_shown(each), _round(book, run)), each.marked)
            for run, each in own.values()
        ),
    )


def _round(book: Book, run: records.Run) -> str:
    return next((each.name for each in book.rounds if each.id == run.round_id), "")


def _typical(book: Book, own: Mapping[UUID, tuple[records.Run, Runner]]) -> UUID:
    """The run that is most like all of its setup in its newest round; one with marks where that
    is near enough to the middle."""
    done = [(run, runner) for run, runner in own.values() if runner.finished]
    if not done:
        return list(own)[-1]
    places = {each.id: place for place, each in enumerate(book.rounds)}
    newest = max(places.get(run.round_id, 0) for run, _ in done)
    last = [each for each in done if places.get(each[0].round_id, 0) == newest]
    middle = median(runner.end_s for _, runner in last)

    def off(each: tuple[records.Run, Runner]) -> tuple[bool, float]:
        _, runner = each
        away = abs(runner.end_s - middle) / middle
        return (not (runner.marked and away <= TYPICAL_WITHIN), away)

    return min(last, key=off)[0].id


def _shown(runner: Runner) -> str:
    return words.say_end(runner.end_s, None if runner.finished else runner.points[-1][1])


def _words(lanes: Sequence[RaceLane], runners: Sequence[Runner], moment: Moment) -> str:
    """A moment in words."""
    who, at_s = lanes[moment.who].label, moment.at_s
    if moment.kind is MomentKind.LEAD:
        return words.takes_lead(who, from_start=at_s == 0)
    if moment.kind is MomentKind.FAILED:
        return words.fails_at(who, at_s, done_at(runners[moment.who], at_s))
    if moment.kind is MomentKind.HALF:
        return words.half_way(who, at_s, _second(lanes, runners, moment))
    before = [each.end_s for each in runners if each.finished and each.end_s < at_s]
    if not before or lead_at(runners, at_s) is None:
        return words.done_first(who, at_s)
    return words.done_after(who, at_s - min(before))


def _second(
    lanes: Sequence[RaceLane], runners: Sequence[Runner], moment: Moment
) -> tuple[str, float] | None:
    """Who comes next to where the first is at a moment, and how many seconds later."""
    here = done_at(runners[moment.who], moment.at_s)
    later = sorted(
        (reached_at(runner, here), i) for i, runner in enumerate(runners) if i != moment.who
    )
    if not later or later[0][0] == float("inf"):
        return None
    at, second = later[0]
    return lanes[second].label, at - moment.at_s


def _notes(book: Book, lanes: Sequence[RaceLane]) -> Iterator[str]:
    if len(lanes) > 1:
        yield words.ONE_RUN_EACH
    straight = [lane.label for lane in lanes if not lane.marked]
    if straight:
        yield words.drawn_straight(straight, everyone=len(straight) == len(lanes))
    runs = {run.id: run for run in book.runs}
    if any(runs[lane.run_id].simulated for lane in lanes):
        yield words.SIMULATED
    away = {setup.id for setup in book.setups} - {lane.setup_id for lane in lanes}
    if away:
        names = [setup.label for setup in book.setups if setup.id in away]
        yield words.not_racing(names)
