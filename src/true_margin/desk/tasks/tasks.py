"""Tasks: what is timed, in which app, on which timeline, with which export settings."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.errors import QuantityError
from true_margin.core.margins import Call
from true_margin.core.numerals import PLAIN, numerals, writing
from true_margin.core.specs import say_spec
from true_margin.core.task_rows import (
    EVENTS,
    OBSERVATION,
    OPERATIONS,
    PLAYBACK,
    PRESETS,
    SETTINGS,
    read_settings,
    settings_line,
)
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import outputs, records, shootouts, tasks
from true_margin.store.database import Database
from true_margin.store.runs import count_of_task

JOB = ("operation", "settings", "starts_when", "ends_when", "app", "timeline")
"""What a run was a run of; a change of it after runs makes a new revision."""


@dataclass(frozen=True, slots=True)
class TaskSheet:
    """A task with what its runs say so far.

    ``settings_line`` is its export settings in one line, ``typed`` the same by field as
    they would be typed. ``versions`` are those of its app, by round. ``spread_cv`` is a
    fraction; ``tells_nothing`` where every pair is level. ``followed_by`` is the task
    that took its place when a setting changed.
    """

    task: records.Task
    settings_line: str
    typed: dict[str, str]
    versions: tuple[RoundVersion, ...]
    runs: int
    setups: int
    spread_cv: float | None
    spread_basis: str | None
    tells_nothing: bool
    followed_by: UUID | None


@dataclass(frozen=True, slots=True)
class RoundVersion:
    """The version of an app in a round."""

    round: str
    version: str


@dataclass(frozen=True, slots=True)
class SettingField:
    """One export setting that a task may have."""

    field: str
    title: str
    unit: str | None
    choices: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class PresetView:
    """Settings to start from, as typed; ``own`` where a reviewer kept them."""

    name: str
    settings: dict[str, str]
    own: bool


@dataclass(frozen=True, slots=True)
class TaskWords:
    """What a form for tasks offers."""

    operations: tuple[str, ...]
    events: tuple[str, ...]
    settings: tuple[SettingField, ...]
    presets: tuple[PresetView, ...]


def task_words(database: Database, person_id: UUID | None = None) -> TaskWords:
    """Give what a form for tasks offers somebody: operations, events, settings, presets."""
    with transaction(database) as session:
        kept = outputs.list_presets(session, person_id)
    return TaskWords(
        OPERATIONS,
        EVENTS,
        tuple(SettingField(s.field, s.title, s.unit, s.choices) for s in SETTINGS),
        (
            *(PresetView(name, dict(settings), own=False) for name, settings in PRESETS.items()),
            *(PresetView(p.name, _typed(p.settings), own=True) for p in kept),
        ),
    )


def keep_preset(
    database: Database, name: str, typed: Mapping[str, str | None], person_id: UUID | None = None
) -> TaskWords:
    """Keep somebody's export settings under a name, for any shootout of theirs.

    Raises:
        RefusedError: the name is one of ours, or a setting cannot be.
    """
    if name in PRESETS:
        raise RefusedError("name", f"{name!r} ships with the app; choose another name.")
    settings = _settings({}, typed)
    with transaction(database) as session:
        outputs.keep_preset(session, person_id, name, settings)
    return task_words(database, person_id)


def show_tasks(database: Database, slug: str) -> tuple[TaskSheet, ...]:
    """List the tasks of a shootout with their spread; those that are looked at come last."""
    book = SHELF.take(database, slug)
    return tuple(_sheet(book, task) for task in (*book.tasks, *book.observed))


def _sheet(book: Book, task: records.Task) -> TaskSheet:
    own = [run for run in book.runs if run.task_id == task.id]
    setups = {run.setup_id for run in own if run.status == "ok"}
    place = book.task_index.get(task.id)
    spread = None if place is None else analysis_of(book).cells.spread[place]
    level = 0 if place is None else analysis_of(book).tasks[place].pairs.count(Call.LEVEL)
    every = (*book.tasks, *book.observed)
    return TaskSheet(
        task,
        settings_line(task.settings),
        _typed(task.settings),
        _versions(book, task.app),
        len(own),
        len(setups),
        None if spread is None else spread.cv,
        None if spread is None else spread.basis.value,
        len(setups) > 1 and level == len(setups) * (len(setups) - 1) // 2,
        next((each.id for each in every if each.follows_id == task.id), None),
    )


def _typed(settings: Mapping[str, Any]) -> dict[str, str]:
    return {field: say_spec(value) for field, value in settings.items()}


def _versions(book: Book, app: str) -> tuple[RoundVersion, ...]:
    return tuple(
        RoundVersion(round_.name, each.version)
        for round_ in book.rounds
        for each in round_.versions
        if each.app == app
    )


def add_task(database: Database, slug: str, fields: Mapping[str, Any]) -> records.Task:
    """Add a task; its app and timeline are made where they are new."""
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, shootout.id)
        key = tasks.add_task(session, shootout.id, _stored(session, shootout.id, fields, {}))
        return _task(session, shootout.id, key)


def change_task(
    database: Database, task_id: UUID, version: int, changes: Mapping[str, Any]
) -> records.Task:
    """Change a task that nobody else changed meanwhile.

    Where there are runs and the job itself changes, the task is followed by a new
    revision of it, and the runs stay with the old one; ``correction`` in ``changes``
    says that it was only written down wrong, and why.

    Returns:
        The task, or the new revision of it.

    Raises:
        RefusedError: what is measured cannot change once there are runs.
    """
    own = dict(changes)
    correction = own.pop("correction", None)
    with transaction(database) as session:
        home = tasks.task_home(session, task_id)
        shootouts.bump_revision(session, home)
        known = _task(session, home, task_id)
        runs = count_of_task(session, task_id)
        stored = _stored(session, home, own, known.settings)
        if runs and _measure(own, known) == OBSERVATION != known.measure:
            raise RefusedError(
                "operation", "This task has runs; make a new task for what is looked at."
            )
        if runs and _measure(own, known) != known.measure:
            raise RefusedError(
                "measure", "This task has runs: have them read again as the other measure."
            )
        if "operation" in own or "measure" in own:
            stored["measure"] = _measure(own, known)
        changed = [name for name in JOB if _was(known, name) != _becomes(stored, own, known, name)]
        if runs and changed and correction is None:
            return _revised(session, home, known, version, stored)
        if runs and changed:
            stored["note"] = _corrected(known, changed, str(correction), own)
        tasks.change_task(session, task_id, version, stored)
        return _task(session, home, task_id)


def _measure(definition: Mapping[str, Any], known: records.Task) -> str:
    if definition.get("operation", known.operation) == PLAYBACK:
        return OBSERVATION
    measure = definition.get("measure", known.measure)
    return "time" if measure == OBSERVATION else str(measure)


def _was(known: records.Task, name: str) -> object:
    return getattr(known, name)


def _becomes(
    stored: Mapping[str, Any], definition: Mapping[str, Any], known: records.Task, name: str
) -> object:
    if name in ("app", "timeline"):
        return (definition.get(name) or None) if name in definition else getattr(known, name)
    return stored.get(name, getattr(known, name))


@writing(PLAIN)  # kept as it is
def _corrected(
    known: records.Task, changed: list[str], why: str, definition: Mapping[str, Any]
) -> str:
    """The note of a task whose description was put right; what it said stays in words."""
    was = "; ".join(
        f"{name} was {settings_line(known.settings) if name == 'settings' else _was(known, name)}"
        for name in changed
    )
    line = f"Put right on {datetime.now(UTC):%Y-%m-%d}: {why} ({was})"
    return "\n".join(part for part in (definition.get("note", known.note), line) if part)[-2000:]


def _revised(
    session: Session, home: UUID, known: records.Task, version: int, stored: Mapping[str, Any]
) -> records.Task:
    """Let a new revision follow a task; the old one keeps its runs under another name."""
    if known.superseded:
        raise RefusedError("settings", "A later revision follows this one; change that instead.")
    kept = f"{known.own_name[:170]} (revision {known.revision})"
    tasks.change_task(session, known.id, version, {"name": kept})
    fields = {
        **_copied(session, known),
        **stored,
        "follows_id": known.id,
        "revision": known.revision + 1,
    }
    return _task(session, home, tasks.add_task(session, home, fields))


def copy_task(database: Database, task_id: UUID, app: str) -> records.Task:
    """Make the same task in another app, with everything but its runs.

    Raises:
        RefusedError: it is in this app already.
    """
    with transaction(database) as session:
        home = tasks.task_home(session, task_id)
        shootouts.bump_revision(session, home)
        known = _task(session, home, task_id)
        if app.casefold() == known.app.casefold():
            raise RefusedError("app", f"This task is in {known.app} already: name another app.")
        fields = _copied(session, known) | {
            "app_id": shootouts.app_named(session, home, app),
            "position": known.position,
        }
        return _task(session, home, tasks.add_task(session, home, fields))


def _copied(session: Session, known: records.Task) -> dict[str, Any]:
    """What a task that is made out of another one has of it."""
    return {
        **{name: getattr(known, name) for name in _COPIED},
        **tasks.links_of(session, known.id),
        "name": known.own_name,
        "sensitivities": [asdict(each) for each in known.sensitivities],
    }


_COPIED = (
    "position",
    "operation",
    "settings",
    "starts_when",
    "ends_when",
    "note",
    "measure",
    "work",
    "unit",
)


def _stored(
    session: Session, shootout_id: UUID, fields: Mapping[str, Any], settings: Mapping[str, Any]
) -> dict[str, Any]:
    """Turn the names of app and timeline into rows, and typed settings into values."""
    own = dict(fields)
    if "settings" in own:
        own["settings"] = _settings(settings, own["settings"] or {})
    if "sensitivities" in own:
        own["sensitivities"] = own["sensitivities"] or []
    if own.get("operation") == PLAYBACK:
        own["measure"] = OBSERVATION
    elif own.get("measure") == OBSERVATION:
        raise RefusedError("measure", "Only playback is looked at; everything else is measured.")
    if "app" in own:
        own["app_id"] = shootouts.app_named(session, shootout_id, own.pop("app"))
    length = own.pop("timeline_length_s", None)
    if "timeline" in own:
        name = own.pop("timeline")
        own["timeline_id"] = (
            tasks.timeline_named(session, shootout_id, name, length) if name else None
        )
    return own


def _settings(known: Mapping[str, Any], typed: Mapping[str, str | None]) -> dict[str, Any]:
    try:
        return dict(read_settings(known, typed, numerals()))
    except QuantityError as error:
        raise RefusedError("settings", error.reason) from error


def _task(session: Session, shootout_id: UUID, key: UUID) -> records.Task:
    return next(task for task in tasks.list_tasks(session, shootout_id) if task.id == key)
