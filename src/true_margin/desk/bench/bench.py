"""The bench: what a lane needs to know before and while it runs, and what to run next."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from statistics import median
from uuid import UUID

from true_margin.core.checks import ProgressPoint
from true_margin.core.pace import gap_to_best, projected_finish, slowing_down
from true_margin.core.sittings import (
    Candidate,
    Hands,
    OpenPair,
    open_pairs,
    propose_sitting,
    wants_new_sitting,
)
from true_margin.core.wording import count_of
from true_margin.desk.book.analysis import analysis_of, progress_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.doubts import doubt_of
from true_margin.desk.margins.verdicts import SaidNow, say_now
from true_margin.store import records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class BestSoFar:
    """The best ok run of a task: ``value`` in seconds, or the amount."""

    task_id: UUID
    setup_id: UUID
    label: str
    value: float
    resolution: float | None
    started_at: datetime | None


@dataclass(frozen=True, slots=True)
class UsualTime:
    """How long a setup took on a task lately, in seconds: the median of its last counted runs."""

    setup_id: UUID
    task_id: UUID
    seconds: float


@dataclass(frozen=True, slots=True)
class Pace:
    """What the marks of a running run say; seconds.

    ``gap_s`` is how far it is behind the best so far at the same fraction, negative where
    it is ahead. ``slowed`` where it goes below 0.9 of the pace it had before.
    """

    projected_s: float | None
    gap_s: float | None
    slowed: bool


@dataclass(frozen=True, slots=True)
class PlannedView:
    """One run of a sitting; ``change_over`` where the machine must be changed before it.

    ``starts_min`` is when it can be started, in minutes after the first; ``after_id`` the setup
    that stood before the change.
    """

    setup_id: UUID
    setup: str
    task_id: UUID
    task: str
    minutes: float
    change_over: bool
    starts_min: float
    after_id: UUID | None


@dataclass(frozen=True, slots=True)
class SittingView:
    """A whole sitting in the order to run it; ``says`` is why these runs, in words."""

    runs: tuple[PlannedView, ...]
    minutes: float
    change_overs: int
    says: str


@dataclass(frozen=True, slots=True)
class BenchView:
    """The round that runs go into, the best so far of each task, and what setups usually take."""

    round: str | None
    round_versions: tuple[records.AppVersion, ...]
    best: tuple[BestSoFar, ...]
    usual: tuple[UsualTime, ...]


def show_bench(database: Database, slug: str) -> BenchView:
    """Give the open round and the best run of each task."""
    book = SHELF.take(database, slug)
    latest = book.rounds[-1] if book.rounds else None
    return BenchView(
        None if latest is None else latest.name,
        () if latest is None else latest.versions,
        tuple(_best(book)),
        tuple(_usual(book)),
    )


LATELY = 3
"""So many of the last runs say what a setup usually takes."""


def _usual(book: Book) -> Iterable[UsualTime]:
    timed = {task.id for task in book.tasks if task.measure == "time" and not task.superseded}
    for (setup, task), values in book.values_of.items():
        if task in timed and values:
            yield UsualTime(setup, task, median(values[-LATELY:]))


def said_of(database: Database, slug: str, client_key: str) -> SaidNow | None:
    """Say what the run of a lane means now, and what one more run would do.

    None while the book has no such run.
    """
    book = SHELF.take(database, slug)
    run = next((each for each in book.runs if each.client_key == client_key), None)
    return None if run is None else say_now(book, run)


HANDLING_MIN = 1.0
"""Minutes that a run costs beside its own time: a click, a look, a note."""
CHANGE_OVER_MIN = 5.0
"""Minutes that it takes to bring a machine into another of its setups."""


def read_pace(
    database: Database, slug: str, task_id: UUID, marks: Sequence[tuple[float, float]]
) -> Pace:
    """Say what the marks of a running run mean.

    Args:
        database: where the book is.
        slug: of the shootout.
        task_id: what is being run.
        marks: seconds since the start and fraction done, in any order.

    Raises:
        RefusedError: no such task.
    """
    book = SHELF.take(database, slug)
    if task_id not in book.task_index:
        raise RefusedError("task_id", "This task is not timed in this shootout.")
    points = [ProgressPoint(elapsed, fraction) for elapsed, fraction in marks]
    best = next((run for task, run, _ in _best_runs(book) if task.id == task_id), None)
    gap = None
    if best is not None and best.value is not None:
        known = progress_of(book.marks_of.get(best.id, ()))
        gap = gap_to_best(points, known, best.value)
    return Pace(projected_finish(points), gap, slowing_down(points))


def show_sitting(
    database: Database,
    slug: str,
    minutes: float,
    setup_ids: Sequence[UUID] = (),
    change_over_min: float = CHANGE_OVER_MIN,
    *,
    side_by_side: bool = False,
) -> SittingView:
    """Propose a sitting that fits a time budget and settles as much as it can.

    Args:
        database: where the book is.
        slug: of the shootout.
        minutes: time there is.
        setup_ids: setups on the desk; all that are not retired where it is empty.
        change_over_min: minutes that it takes to bring shared parts into another setup.
        side_by_side: whether machines that share nothing run at the same time.
    """
    book = SHELF.take(database, slug)
    unknown = [key for key in setup_ids if key not in book.setup_index]
    if unknown:
        raise RefusedError("setup_ids", "One of these setups is not in this line-up.")
    desk = [
        setup
        for setup in book.setups
        if (setup.id in setup_ids if setup_ids else book.machine_of[setup.id].retired_at is None)
    ]
    candidates = candidates_of(book, desk)
    hands = Hands(_sharing(book, desk), change_over_min, side_by_side, HANDLING_MIN)
    sitting = propose_sitting(candidates, minutes, hands)
    return SittingView(
        tuple(
            PlannedView(
                book.setups[run.setup].id,
                book.setups[run.setup].label,
                book.tasks[run.task].id,
                book.tasks[run.task].name,
                round(run.minutes, 1),
                run.change_over,
                round(run.starts_min, 1),
                None if run.after is None else book.setups[run.after].id,
            )
            for run in sitting.runs
        ),
        round(sitting.minutes, 1),
        sitting.change_overs,
        _why(candidates, len(sitting.runs), sitting.change_overs)
        + _in_new_one(book, [(run.task, run.setup) for run in sitting.runs]),
    )


def candidates_of(book: Book, desk: Sequence[records.Setup]) -> tuple[Candidate, ...]:
    """Every measured (setup, task) on the desk that stands in an open call."""
    found = []
    for t, task in enumerate(book.tasks):
        spread = analysis_of(book).cells.spread[t]
        if task.measure != "time" or task.superseded or spread is None:
            continue
        pairs = open_pairs(analysis_of(book), t)
        for setup in desk:
            s = book.setup_index[setup.id]
            times = book.values_of.get((setup.id, task.id))
            own: tuple[OpenPair, ...] = tuple(p for p in pairs if s in (p.a, p.b))
            if times and own:
                minutes = median(times) / 60 + HANDLING_MIN
                found.append(Candidate(s, t, minutes, len(times), spread.cv, own))
    return tuple(found)


def _sharing(book: Book, desk: Sequence[records.Setup]) -> list[frozenset[int]]:
    """Setups that cannot stand at once: of one machine, or of machines that share parts."""
    groups: dict[str, set[int]] = {}
    for setup in desk:
        machine = book.machine_of[setup.id]
        key = str(machine.specs.get("shared") or machine.id)
        groups.setdefault(key, set()).add(book.setup_index[setup.id])
    return [frozenset(group) for group in groups.values() if len(group) > 1]


def _why(candidates: Sequence[Candidate], runs: int, change_overs: int) -> str:
    if not candidates:
        return "Everything on the bench is settled; no runs needed."
    calls = len({(c.task, p.a, p.b) for c in candidates for p in c.pairs})
    words = count_of(calls, "undecided result")
    if runs == 0:
        shortest = f"{_shortest(candidates):.0f} min"
        return f"Not even one run fits: the shortest that helps takes {shortest}."
    apart = (
        " Where machines share parts, all runs of one setup come first: run them before you "
        "take it apart."
    )
    return (
        f"For {words}, the most useful first. Machines alternate, so that "
        f"slow drift favours none.{apart if change_overs else ''}"
    )


def _in_new_one(book: Book, runs: Sequence[tuple[int, int]]) -> str:
    """Ask for a session of its own where runs of the last one resemble each other."""
    analysis = analysis_of(book)
    if not any(wants_new_sitting(analysis, task, setup) for task, setup in runs):
        return ""
    return (
        " Runs of the last session resemble each other: begin a new one, hours later, instead of "
        "going on with it."
    )


def _shortest(candidates: Sequence[Candidate]) -> float:
    return min(candidate.minutes for candidate in candidates)


def _best(book: Book) -> Iterable[BestSoFar]:
    for task, run, value in _best_runs(book):
        yield _best_of(book, task, run, value)


def _best_runs(book: Book) -> Iterable[tuple[records.Task, records.Run, float]]:
    for task in book.tasks:
        counted = [
            (run.value, run)
            for run in book.runs
            if run.task_id == task.id
            and run.status == "ok"
            and not run.bound
            and run.value is not None
        ]
        if counted:
            sign = 1.0 if task.measure == "time" else -1.0
            counted.sort(key=lambda each: sign * each[0])
            # A slip is nobody's best, unless there is nothing else.
            sure = (each for each in counted if doubt_of(book, each[1]) is None)
            value, run = next(sure, counted[0])
            yield task, run, value


def _best_of(book: Book, task: records.Task, run: records.Run, value: float) -> BestSoFar:
    label = book.setups[book.setup_index[run.setup_id]].label
    return BestSoFar(task.id, run.setup_id, label, value, run.resolution, run.started_at)
