"""Saving the store room as a file, and bringing one in: nothing that is there is overwritten."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from true_margin.core.errors import QuantityError
from true_margin.core.numerals import PLAIN, writing
from true_margin.core.spec_rows import SPECS
from true_margin.core.specs import say_spec
from true_margin.core.task_rows import read_settings
from true_margin.desk.book.sheet_rows import read_cells
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.room.overview import current_specs
from true_margin.exchange.room_file import (
    FiledHouse,
    FiledMachine,
    FiledSpec,
    FiledTask,
    RoomFile,
    RoomFileError,
    field_of,
    read_room,
    title_of,
    write_room,
)
from true_margin.store import records, room, room_uses
from true_margin.store.database import Database

_MACHINE = ("name", "model", "sample", "keeping", "until", "note")
_TASK = (
    "name",
    "app",
    "measure",
    "timeline",
    "timeline_length_s",
    "operation",
    "starts_when",
    "ends_when",
    "work",
    "unit",
    "note",
)


@dataclass(frozen=True, slots=True)
class BroughtRoom:
    """What came in of a saved store room; ``known`` were there by name and stay as they are."""

    machines: int
    tasks: int
    known: tuple[str, ...]


def save_room(database: Database) -> str:
    """Write the store room as a file; what is made up stays out."""
    with transaction(database) as session, writing(PLAIN):
        said = room.list_specs(session)
        by_machine: dict[object, list[records.SetupUse]] = {}
        for use in room_uses.list_setup_uses(session):
            by_machine.setdefault(use.room_machine_id, []).append(use)
        machines = [
            _filed(machine, by_machine.get(machine.id, []), said)
            for machine in room.list_machines(session)
            if not machine.demo
        ]
        tasks = [
            FiledTask.model_validate(
                {name: getattr(task, name) for name in _TASK} | {"settings": _typed(task.settings)}
            )
            for task in room.list_tasks(session)
            if not task.demo
        ]
        house = room.get_house(session)
        own = {name: getattr(house, name) for name in FiledHouse.model_fields}
        filed = RoomFile(machines=machines, tasks=tasks, house=FiledHouse.model_validate(own))
    return write_room(filed)


def _filed(
    machine: records.RoomMachine, uses: list[records.SetupUse], said: tuple[records.RoomSpec, ...]
) -> FiledMachine:
    own = [each for each in said if each.machine_id == machine.id]
    since = {each.field: each.since for each in own}
    specs = [
        FiledSpec(row=title, value=say_spec(value), since=since.get(field))
        for field, value in current_specs(uses, own).items()
        if (title := title_of(field)) is not None
    ]
    fields = {name: getattr(machine, name) for name in _MACHINE}
    return FiledMachine.model_validate(fields | {"specs": specs})


def _typed(settings: dict[str, object]) -> dict[str, str]:
    return {field: say_spec(value) for field, value in settings.items()}


def bring_room(database: Database, text: str, who: str) -> BroughtRoom:
    """Bring a saved store room in: what is not there by name; all of it or none.

    Raises:
        RefusedError: the file cannot be read; says where.
    """
    try:
        filed = read_room(text)
    except RoomFileError as error:
        raise RefusedError("file", str(error)) from error
    with transaction(database) as session, writing(PLAIN):
        names = {m.name.casefold() for m in room.list_machines(session) if not m.demo}
        jobs = {
            (t.name.casefold(), t.app.casefold()) for t in room.list_tasks(session) if not t.demo
        }
        known = []
        machines = tasks = 0
        for machine in filed.machines:
            if machine.name.casefold() in names:
                known.append(machine.name)
                continue
            names.add(machine.name.casefold())
            _bring_machine(session, machine, who)
            machines += 1
        for task in filed.tasks:
            if (task.name.casefold(), task.app.casefold()) in jobs:
                known.append(task.name)
                continue
            jobs.add((task.name.casefold(), task.app.casefold()))
            _bring_task(session, task, who)
            tasks += 1
    return BroughtRoom(machines, tasks, tuple(known))


def _bring_machine(session: Session, machine: FiledMachine, who: str) -> None:
    key = room.add_machine(session, {name: getattr(machine, name) for name in _MACHINE})
    typed: dict[str, str | None] = {field_of(each.row): each.value for each in machine.specs}
    read = read_cells({}, typed, SPECS)
    since = {field_of(each.row): each.since for each in machine.specs}
    for field, value in read.items():
        room.add_spec(
            session, key, {"field": field, "value": value, "since": since[field], "who": who}
        )
    room.add_event(session, key, "added", {"from": "a saved store room"}, who)


def _bring_task(session: Session, task: FiledTask, who: str) -> None:
    try:
        settings = read_settings({}, task.settings)
    except QuantityError as error:
        raise RefusedError("file", f"{task.name}: {error.reason}") from error
    fields = {name: getattr(task, name) for name in _TASK}
    key = room.add_task(session, {**fields, "settings": settings})
    room.add_event(session, key, "added", {"from": "a saved store room"}, who)
