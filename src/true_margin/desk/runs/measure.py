"""Another measure for a task that has runs: they are read again as they were typed."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.choices import BareNumber
from true_margin.core.errors import QuantityError
from true_margin.core.numerals import numerals, short
from true_margin.core.readings import ReadingMethod
from true_margin.core.task_rows import OBSERVATION
from true_margin.core.wording import format_elapsed
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.runs.runs import ReadValue, read_value
from true_margin.store import lineup, records, runs, shootouts, tasks
from true_margin.store.database import Database

MOST_SHOWN = 200
_BARE = re.compile(r"\d{1,6}(?:[.,]\d{1,3})?")


@dataclass(frozen=True, slots=True)
class ReadAgain:
    """One run as it is kept and as it would be; ``problem`` says why it cannot be."""

    run_id: UUID
    setup: str
    typed: str | None
    was: str
    becomes: str | None
    problem: str | None


@dataclass(frozen=True, slots=True)
class MeasureChange:
    """What another measure does to the runs of a task.

    ``stored`` says whether it was done; ``runs`` are how many are read again, of which
    ``rows`` are shown; ``problems`` how many cannot be.
    """

    task_id: UUID
    measure: str
    unit: str | None
    runs: int
    problems: int
    rows: tuple[ReadAgain, ...]
    stored: bool


@dataclass(frozen=True, slots=True)
class Wanted:
    """The measure that a task is to have, and what a bare number is where it is a time."""

    measure: str
    unit: str | None
    bare: BareNumber = BareNumber.SECONDS


def change_measure(
    database: Database, task_id: UUID, version: int, wanted: Wanted, who: str, *, really: bool
) -> MeasureChange:
    """Say what another measure would make of every run, and do it where that is wanted.

    Args:
        database: where the shootout is.
        task_id: the task.
        version: of the task, as it was seen.
        wanted: the measure to change to.
        who: who changes it.
        really: do it; without it nothing is stored.

    Raises:
        RefusedError: the task is looked at, or a run that counts cannot be read so.
        StaleVersionError: the task was changed since.
    """
    with transaction(database) as session:
        home = tasks.task_home(session, task_id)
        task = next(each for each in tasks.list_tasks(session, home) if each.id == task_id)
        # What is in the archive is read again as well, or it would come back as something else.
        machines = lineup.list_machines(session, home, archived=None)
        every, _ = runs.read_runs(session, home)
    if OBSERVATION in (task.measure, wanted.measure):
        raise RefusedError("measure", "Only what is timed or counted has a measure to change.")
    labels = {setup.id: setup.label for machine in machines for setup in machine.setups}
    own = [run for run in every if run.task_id == task_id]
    readings = {run.id: _read(run, wanted) for run in own}
    rows = tuple(_row(labels[run.setup_id], task, run, readings[run.id], wanted) for run in own)
    problems = sum(row.problem is not None for row in rows)
    if really and problems:
        first = next(row for row in rows if row.problem is not None)
        raise RefusedError(
            "measure",
            f"{problems} of {len(rows)} runs cannot be read so; {first.setup}: {first.problem} "
            f"Nothing was changed.",
        )
    if really:
        with transaction(database) as session:
            shootouts.bump_revision(session, home)
            changes = {"measure": wanted.measure, "unit": wanted.unit}
            if wanted.measure != task.measure:
                changes["work"] = None
            tasks.change_task(session, task_id, version, changes)
            for run in own:
                _store(session, run, readings[run.id], who, task.measure, wanted.measure)
    kept = rows[:MOST_SHOWN]
    return MeasureChange(
        task_id, wanted.measure, wanted.unit, len(rows), problems, kept, stored=really
    )


def _read(run: records.Run, wanted: Wanted) -> ReadValue | str | None:
    """A run as the other measure has it; in words why not, None where it has no value."""
    if run.value is None and run.typed is None:
        return None
    if run.typed is None:
        return None if run.status == "void" else "It was timed here, not typed: void it first."
    method = ReadingMethod.STOPWATCH if run.method == ReadingMethod.STATED else run.method
    text = run.typed
    if wanted.measure != "amount" and _BARE.fullmatch(text):
        text = _as_time(text, wanted.bare)
    try:
        return read_value(
            text, wanted.measure, ReadingMethod(method), "decimal", run.poll_s, numerals()
        )
    except QuantityError:
        noun = "amount" if wanted.measure == "amount" else "time"
        return None if run.status == "void" else f"{run.typed} is no {noun}."


def _as_time(text: str, bare: BareNumber) -> str:
    """A bare number as the time that it is meant to be."""
    if bare is not BareNumber.CLOCK:
        return f"{text} {bare.value}"
    return re.sub(r"[.,]", ":", text)


def _row(
    setup: str, task: records.Task, run: records.Run, read: ReadValue | str | None, wanted: Wanted
) -> ReadAgain:
    return ReadAgain(
        run.id,
        setup,
        run.typed,
        _words(run.value, run.resolution, task.measure, task.unit),
        _words(read.value, read.resolution, wanted.measure, wanted.unit)
        if isinstance(read, ReadValue)
        else None,
        read if isinstance(read, str) else None,
    )


def _words(value: float | None, resolution: float | None, measure: str, unit: str | None) -> str:
    if value is None:
        return "no value"
    if measure == "amount":
        return f"{short(value)} {unit or ''}".strip()
    return format_elapsed(value, resolution or 1.0)


def _store(
    session: Session, run: records.Run, read: ReadValue | str | None, who: str, was: str, now: str
) -> None:
    columns: dict[str, Any] = {"value": None, "resolution": None, "bound": None}
    if isinstance(read, ReadValue):
        columns = dict(_columns(read))
    elif run.value is None:
        return
    why = f"the task is of another measure: {now}, not {was}"
    runs.revise_run(session, run, run.version, columns, who, why)


def _columns(read: ReadValue) -> Iterator[tuple[str, Any]]:
    for name in ("value", "resolution", "approximate", "bound", "u"):
        yield name, getattr(read, name)
    yield "method", read.method.value
