"""The log of what was seen besides times: what counts now by app and condition, and by day.

Nothing overwrites: a correction stands for what it corrects, which stays on record.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any
from uuid import UUID

from true_margin.core.choices import TrialGrade
from true_margin.core.wording import count_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.exchange.pack_public import is_private
from true_margin.store import records
from true_margin.store.database import Database

GRADES = tuple(grade.value for grade in TrialGrade)
FAILED = "failed run"
NO_APP = "no app"


@dataclass(frozen=True, slots=True)
class EntryPicture:
    """A picture of the screen that belongs to an entry."""

    id: UUID
    name: str


@dataclass(frozen=True, slots=True)
class LogEntry:
    """Something that was seen: a trial with its grade, a trouble, or a run that failed."""

    id: UUID
    sort: str
    day: date
    setup_id: UUID
    setup: str
    task_id: UUID | None
    task: str | None
    app: str | None
    version: str | None
    what: str
    note: str | None
    who: str
    grade: str | None = None
    freezes: int | None = None
    dropped: int | None = None
    total: int | None = None
    counts: str = ""
    conditions: str | None = None
    timecode: str | None = None
    fixed_in: str | None = None
    withdrawn_why: str | None = None
    corrects: str | None = None
    measured: str | None = None
    times: int | None = None
    pictures: tuple[EntryPicture, ...] = ()


@dataclass(frozen=True, slots=True)
class FeelCell:
    """What counts of a kind on one day: the last that was not withdrawn, and what it was before."""

    grade: str
    counts: str
    was: str | None


@dataclass(frozen=True, slots=True)
class FeelRow:
    """One kind under one condition; ``cells`` are by day, None where it was not tried."""

    what: str
    conditions: str | None
    cells: tuple[FeelCell | None, ...]


@dataclass(frozen=True, slots=True)
class FeelDay:
    """A day on which something was tried, with the version of the app."""

    day: date
    version: str | None


@dataclass(frozen=True, slots=True)
class Feel:
    """How editing in one app felt on one setup, day by day, in words and as a grid."""

    setup_id: UUID
    setup: str
    app: str
    words: str
    days: tuple[FeelDay, ...]
    rows: tuple[FeelRow, ...]
    troubles: int


@dataclass(frozen=True, slots=True)
class EditingLog:
    """What counts now, and everything that was seen, newest first."""

    feels: tuple[Feel, ...]
    entries: tuple[LogEntry, ...]


def show_log(database: Database, slug: str) -> EditingLog:
    """Give the log of a shootout."""
    return log_of(SHELF.take(database, slug))


def log_of(book: Book) -> EditingLog:
    """The log of a book, worked out once."""
    return book.cached("editing log", lambda: EditingLog(tuple(_feels(book)), _entries(book)))


def open_log(book: Book) -> Book:
    """A book whose log holds only what strangers may read; the rest of it is as it was."""
    trials = tuple(each for each in book.trials if not _is_private(each, each.own_kind))
    troubles = tuple(each for each in book.troubles if not _is_private(each, None))
    if (len(trials), len(troubles)) == (len(book.trials), len(book.troubles)):
        return book
    return replace(book, trials=trials, troubles=troubles)


def _is_private(entry: records.Trial | records.Trouble, kind: str | None) -> bool:
    texts = (entry.note, entry.seen_under, entry.measured, kind)
    return any(text is not None and is_private(text) for text in texts)


def _tasks(book: Book) -> dict[UUID, records.Task]:
    return {task.id: task for task in (*book.tasks, *book.observed)}


def _entries(book: Book) -> tuple[LogEntry, ...]:
    """Everything that was seen, the newest first."""
    failures = [run for run in book.runs if run.status == "failed"]
    found = [
        *((trial.noted_at, _trial(book, trial)) for trial in book.trials),
        *((trouble.noted_at, _trouble(book, trouble)) for trouble in book.troubles),
        *((run.started_at or run.created_at, _failure(book, run)) for run in failures),
    ]
    return tuple(entry for _, entry in sorted(found, key=lambda each: each[0], reverse=True))


def _about(book: Book, row: records.Trial | records.Trouble | records.Run) -> dict[str, Any]:
    """Of which setup, task and app something is."""
    task = None if row.task_id is None else _tasks(book)[row.task_id]
    app = row.app if isinstance(row, records.Trial | records.Trouble) else task and task.app
    return {
        "id": row.id,
        "setup_id": row.setup_id,
        "setup": book.setups[book.setup_index[row.setup_id]].label,
        "task_id": row.task_id,
        "task": task and task.name,
        "app": app,
        "note": row.note,
        "who": row.who,
    }


def _trial(book: Book, trial: records.Trial) -> LogEntry:
    before = next((each for each in book.trials if each.id == trial.corrects_id), None)
    return LogEntry(
        **_about(book, trial),
        sort="trial",
        day=trial.noted_at.date(),
        version=trial.app_version,
        what=trial.what,
        grade=trial.grade,
        freezes=trial.freezes,
        dropped=trial.dropped,
        total=trial.total,
        counts=_counts(trial),
        conditions=trial.seen_under,
        timecode=trial.timecode,
        measured=trial.measured,
        pictures=_pictures(book, trial.id),
        withdrawn_why=trial.withdrawn_why,
        corrects=None if before is None else f"{before.what}: {before.grade}",
    )


def _trouble(book: Book, trouble: records.Trouble) -> LogEntry:
    before = next((each for each in book.troubles if each.id == trouble.corrects_id), None)
    return LogEntry(
        **_about(book, trouble),
        sort="trouble",
        day=trouble.noted_at.date(),
        version=trouble.app_version,
        what=trouble.kind,
        counts=", ".join(
            part
            for part in (trouble.times and count_of(trouble.times, "time"), trouble.measured)
            if part
        ),
        conditions=trouble.seen_under,
        timecode=trouble.timecode,
        measured=trouble.measured,
        times=trouble.times,
        pictures=_pictures(book, trouble.id),
        fixed_in=trouble.fixed_in,
        withdrawn_why=trouble.withdrawn_why,
        corrects=None if before is None else before.kind,
    )


def _pictures(book: Book, entry_id: UUID) -> tuple[EntryPicture, ...]:
    return tuple(
        EntryPicture(each.id, each.name)
        for each in book.entry_pictures
        if entry_id in (each.trial_id, each.trouble_id)
    )


def _failure(book: Book, run: records.Run) -> LogEntry:
    about = _about(book, run)
    about["note"] = "; ".join(part for part in (run.reason, run.note) if part) or None
    reached = "" if run.reached is None else f"reached {round(100 * run.reached)} %"
    day = (run.started_at or run.created_at).date()
    return LogEntry(**about, sort="failure", day=day, version=None, what=FAILED, counts=reached)


def _counts(trial: records.Trial) -> str:
    """What was counted in a trial, in words."""
    parts = []
    if trial.freezes is not None:
        parts.append("no freeze" if trial.freezes == 0 else count_of(trial.freezes, "freeze"))
    if trial.dropped is not None and trial.total is not None:
        parts.append(f"{trial.dropped} of {trial.total} frames lost")
    if trial.measured is not None:
        parts.append(trial.measured)
    return ", ".join(parts)


def _feels(book: Book) -> Iterator[Feel]:
    """One for every setup and app in which something was tried, in line-up order."""
    by_place: dict[tuple[UUID, str | None], list[records.Trial]] = {}
    for trial in book.trials:
        by_place.setdefault((trial.setup_id, trial.app), []).append(trial)
    troubles: dict[tuple[UUID, str | None], int] = {}
    for trouble in book.troubles:
        if trouble.withdrawn_at is None:
            at = (trouble.setup_id, trouble.app)
            troubles[at] = troubles.get(at, 0) + (trouble.times or 1)
    for setup in book.setups:
        for (key, app), trials in by_place.items():
            if key == setup.id:
                yield _feel(setup, app, trials, troubles.get((key, app), 0))


def _feel(
    setup: records.Setup, app: str | None, trials: Sequence[records.Trial], troubles: int
) -> Feel:
    ordered = sorted(trials, key=lambda trial: trial.noted_at)
    counted = [trial for trial in ordered if trial.withdrawn_at is None]
    versions = {trial.noted_at.date(): trial.app_version for trial in counted}
    days = sorted(versions)
    kinds = dict.fromkeys((trial.what, trial.seen_under) for trial in counted)
    rows = tuple(
        FeelRow(what, conditions, tuple(_cell(ordered, what, conditions, day) for day in days))
        for what, conditions in kinds
    )
    return Feel(
        setup.id,
        setup.label,
        app or NO_APP,
        _words(rows, troubles),
        tuple(FeelDay(day, versions[day]) for day in days),
        rows,
        troubles,
    )


def _cell(
    trials: Iterable[records.Trial], what: str, conditions: str | None, day: date
) -> FeelCell | None:
    own = [
        trial
        for trial in trials
        if (trial.what, trial.seen_under, trial.noted_at.date()) == (what, conditions, day)
    ]
    counted = [trial for trial in own if trial.withdrawn_at is None]
    if not counted:
        return None
    before = [trial.grade for trial in own if trial.id == counted[-1].corrects_id]
    return FeelCell(counted[-1].grade, _counts(counted[-1]), before[0] if before else None)


def _words(rows: Sequence[FeelRow], troubles: int) -> str:
    """What changed from the first day to the last, or how it is, in one or two sentences."""
    changes = []
    for row in rows:
        seen = [cell.grade for cell in row.cells if cell is not None]
        if len(seen) > 1 and seen[0] != seen[-1]:
            changes.append((GRADES.index(seen[0]) - GRADES.index(seen[-1]), row, seen))
    told = "; ".join(f"{row.what} went from {seen[0]} to {seen[-1]}" for _, row, seen in changes)
    last = [next(c.grade for c in reversed(row.cells) if c is not None) for row in rows]
    worst = max(last, key=GRADES.index, default=GRADES[0])
    problems = f" {count_of(troubles, 'problem')}." if troubles else ""
    if changes:
        better = sum(by > 0 for by, _, _ in changes)
        head = "Better" if better == len(changes) else "Mixed" if better else "Worse"
        return f"{head} than at first: {told}.{problems}"
    if worst == GRADES[0]:
        return f"Smooth in all {count_of(len(last), 'trial')}.{problems}"
    at = [row.what for row, grade in zip(rows, last, strict=True) if grade == worst]
    return f"At worst {worst}: {', '.join(dict.fromkeys(at))}.{problems}"


def say_seen(book: Book, entry: records.Trial | records.Trouble) -> str:
    """An entry of the log in words, named with its setup and task."""
    told = _trial(book, entry) if isinstance(entry, records.Trial) else _trouble(book, entry)
    graded = f" {told.grade}" if told.grade else ""
    counts = f" ({told.counts})" if told.counts else ""
    gone = ", withdrawn" if told.withdrawn_why else ""
    place = ", ".join(part for part in (told.setup, told.task or told.app) if part)
    return f"{place}: {told.what}{graded}{counts}{gone}"


def seen_lines(book: Book, setups: Sequence[UUID]) -> tuple[str, ...]:
    """What was seen of some setups besides times: how editing felt, and problems by kind."""
    log = log_of(book)
    lines = []
    for key in setups:
        name = book.setups[book.setup_index[key]].label
        lines += [f"{name}, {feel.app}: {feel.words}" for feel in log.feels if feel.setup_id == key]
        problems: dict[str, int] = {}
        for entry in log.entries:
            gone = entry.withdrawn_why is not None or entry.fixed_in is not None
            if entry.setup_id == key and entry.sort != "trial" and not gone:
                problems[entry.what] = problems.get(entry.what, 0) + (entry.times or 1)
        if problems:
            told = ", ".join(
                what + (f" {n} times" if n > 1 else "") for what, n in problems.items()
            )
            lines.append(f"{name}: {told}")
    return tuple(lines)
