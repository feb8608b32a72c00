"""Bringing in the log of a device that was cut off; whatever is known changes nothing."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from true_margin.core.errors import CoreError
from true_margin.core.numerals import PLAIN, writing
from true_margin.core.wording import format_elapsed
from true_margin.desk.bench.lanes import NewEvent, put_events
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.runs.marks import store_marks
from true_margin.desk.runs.runs import prepare_run, read_places
from true_margin.store import runs, shootouts
from true_margin.store.database import Database
from true_margin.watcher.log import WatchedRun, read_lines

TOLD_S = 0.01


@dataclass(frozen=True, slots=True)
class KeptRun:
    """A run that waited on a device: its fields as the desk takes them, and its marks."""

    fields: Mapping[str, Any]
    marks: Sequence[Mapping[str, Any]]


@dataclass(frozen=True, slots=True)
class DeviceLog:
    """What a log holds: runs that waited, events of lanes, and lines of a watcher."""

    kept: tuple[KeptRun, ...]
    events: tuple[NewEvent, ...]
    watched: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class LogBroughtIn:
    """What a log brought: runs that were new, and those that the book had."""

    added: int
    known: int
    events: int


def bring_in(database: Database, slug: str, log: DeviceLog, who: str) -> LogBroughtIn:
    """Store what a log holds: its runs all or none, nothing twice.

    Raises:
        RefusedError: a line of a watcher is no event, or names what is not there.
    """
    book = SHELF.take(database, slug)
    try:
        watched = [_of_watcher(book, run) for run in read_lines(list(log.watched), "The log")]
    except CoreError as error:
        raise RefusedError("file", error.reason) from error
    stopped = _stopped(log.events)
    if log.events:
        put_events(database, slug, log.events)
    added = known = 0
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        shootouts.bump_revision(session, home, rest=False)
        places = read_places(session, home)
        for each in (*log.kept, *watched, *stopped):
            key = str(each.fields["client_key"])
            if runs.find_by_client_key(session, home, key) is not None:
                known += 1
                continue
            added += 1
            run_id = runs.add_run(session, home, prepare_run(places, each.fields, who))
            store_marks(session, runs.get_run(session, run_id), each.marks)
    return LogBroughtIn(added, known, len(log.events))


def _stopped(events: Sequence[NewEvent]) -> list[KeptRun]:
    """Runs that lanes ended with, by their newest stop, with the marks of all their events."""
    newest: dict[str, NewEvent] = {}
    marks: dict[str, dict[float, dict[str, Any]]] = {}
    for event in sorted(events, key=lambda each: (each.at_ms, each.seq)):
        own = marks.setdefault(str(event.lane["key"]), {})
        for mark in event.lane.get("marks") or ():
            own[mark["elapsed_s"]] = {**own.get(mark["elapsed_s"], {}), **mark}
        if event.lane.get("phase") == "stopped" and event.lane.get("elapsed_s"):
            newest[str(event.lane["key"])] = event
    return [
        _of_lane(event.lane, [mark for mark in marks[key].values() if not mark.get("withdrawn")])
        for key, event in newest.items()
        if event.kind != "failed"
    ]


@writing(PLAIN)  # kept as it was typed
def _of_lane(lane: Mapping[str, Any], marks: Sequence[Mapping[str, Any]]) -> KeptRun:
    fields = {
        "setup_id": UUID(str(lane["setup_id"])),
        "task_id": UUID(str(lane["task_id"])),
        "typed": format_elapsed(float(lane["elapsed_s"]), TOLD_S),
        "status": "ok",
        "placed_u": float(lane.get("placed_u_s") or 0.0),
        "client_key": str(lane["key"]),
        "conditions": dict(lane.get("conditions") or {}),
    }
    return KeptRun(fields, marks)


@writing(PLAIN)
def _of_watcher(book: Book, run: WatchedRun) -> KeptRun:
    setup = next((s for s in book.setups if s.label.casefold() == run.setup.casefold()), None)
    task = next((t for t in book.tasks if t.name.casefold() == run.task.casefold()), None)
    if setup is None or task is None:
        missing = f"setup {run.setup!r}" if setup is None else f"task {run.task!r}"
        raise RefusedError("file", f"The log names a {missing}, which this shootout has not.")
    elapsed = run.elapsed_s or 0.0
    fields = {
        "setup_id": setup.id,
        "task_id": task.id,
        "method": run.method,
        "poll_s": run.poll_s,
        "typed": format_elapsed(elapsed, TOLD_S) if elapsed >= TOLD_S else None,
        "status": run.status,
        "reason": run.reason,
        "reached": run.reached,
        "started_at": run.started_at,
        "client_key": run.client_key,
        "simulated": run.simulated,
    }
    return KeptRun(fields, run.marks)


def with_line(reason: str, line: int) -> RefusedError:
    """A refusal that names the line of the log."""
    return RefusedError("file", f"Line {line} of the log: {reason}. Nothing was stored.")
