"""What the store room holds: machines with their states, standing tasks, and what is offered."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.spec_rows import TITLES
from true_margin.core.specs import say_spec
from true_margin.desk.errors import transaction
from true_margin.desk.room.offers import (
    MachineOffer,
    TaskOffer,
    offer_machines,
    offer_tasks,
    say_changes,
)
from true_margin.store import records, room, room_uses
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class UseLine:
    """A setup or task of a shootout, and which shootout that is."""

    id: UUID
    name: str
    shootout: str
    slug: str


@dataclass(frozen=True, slots=True)
class StateLine:
    """A state in which a machine was tested, with the setups that are it."""

    state: str
    uses: tuple[UseLine, ...]


@dataclass(frozen=True, slots=True)
class SpecLine:
    """What a row of a machine's spec sheet is, and what was changed in it, newest first."""

    field: str
    title: str
    text: str
    since: date | None
    earlier: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class RoomMachine:
    """A machine of the store room; ``changes`` says in what it differs between shootouts."""

    id: UUID
    name: str
    model: str | None
    sample: str | None
    keeping: str
    until: date | None
    note: str | None
    demo: bool
    version: int
    states: tuple[StateLine, ...]
    shootouts: int
    specs: tuple[SpecLine, ...]
    changes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class RoomTask:
    """A standing task with the shootouts that have it."""

    id: UUID
    name: str
    app: str
    measure: str
    note: str | None
    demo: bool
    version: int
    uses: tuple[UseLine, ...]


@dataclass(frozen=True, slots=True)
class Room:
    """The whole store room, and what could be added to it by name."""

    machines: tuple[RoomMachine, ...]
    tasks: tuple[RoomTask, ...]
    machine_offers: tuple[MachineOffer, ...]
    task_offers: tuple[TaskOffer, ...]


def show_room(database: Database) -> Room:
    """Show what the store room holds."""
    with transaction(database) as session:
        return room_of(session)


def room_of(session: Session) -> Room:
    """The store room within a transaction."""
    homes = {each.id: each for each in room.list_homes(session)}
    machines, tasks = room.list_machines(session), room.list_tasks(session)
    setup_uses, task_uses = room_uses.list_setup_uses(session), room_uses.list_task_uses(session)
    said: dict[UUID, list[records.RoomSpec]] = {}
    for spec in room.list_specs(session):
        said.setdefault(spec.machine_id, []).append(spec)
    by_machine: dict[UUID | None, list[records.SetupUse]] = {}
    for use in setup_uses:
        by_machine.setdefault(use.room_machine_id, []).append(use)
    by_task: dict[UUID | None, list[records.TaskUse]] = {}
    for task in task_uses:
        by_task.setdefault(task.standing_id, []).append(task)
    return Room(
        tuple(
            _machine(each, by_machine.get(each.id, []), said.get(each.id, []), homes)
            for each in machines
        ),
        tuple(_task(each, by_task.get(each.id, []), homes) for each in tasks),
        offer_machines(machines, setup_uses, homes),
        offer_tasks(tasks, task_uses, homes),
    )


def machine_of(session: Session, machine_id: UUID) -> RoomMachine:
    """One machine of the store room, within a transaction."""
    homes = {each.id: each for each in room.list_homes(session)}
    uses = room_uses.list_setup_uses(session, machine_id)
    said = room.list_specs(session, machine_id)
    return _machine(room.get_machine(session, machine_id), uses, said, homes)


def _machine(
    machine: records.RoomMachine,
    uses: Sequence[records.SetupUse],
    said: Sequence[records.RoomSpec],
    homes: Mapping[UUID, records.HomeShootout],
) -> RoomMachine:
    states: dict[str, list[UseLine]] = {}
    for use in uses:
        home = homes[use.shootout_id]
        line = UseLine(use.setup_id, use.setup, home.name, home.slug)
        states.setdefault(use.state or use.setup, []).append(line)
    return RoomMachine(
        machine.id,
        machine.name,
        machine.model,
        machine.sample,
        machine.keeping,
        machine.until,
        machine.note,
        machine.demo,
        machine.version,
        tuple(StateLine(state, tuple(own)) for state, own in states.items()),
        len({use.shootout_id for use in uses}),
        tuple(_spec_lines(uses, said)),
        tuple(say_changes(uses, homes)),
    )


def _spec_lines(
    uses: Sequence[records.SetupUse], said: Sequence[records.RoomSpec]
) -> list[SpecLine]:
    history: dict[str, list[records.RoomSpec]] = {}
    for each in said:
        history.setdefault(each.field, []).append(each)
    current = current_specs(uses, said)
    lines = []
    for field, title in TITLES.items():
        own = history.get(field, [])
        if field not in current and not own:
            continue
        tested = next((u.specs[field] for u in reversed(uses) if field in u.specs), None)
        values = [tested, *(each.value for each in own)]
        earlier = [say_spec(v) for v in values[:-1] if v is not None]
        since = own[-1].since if own else None
        value = current.get(field)
        text = "" if value is None else say_spec(value)
        lines.append(SpecLine(field, title, text, since, tuple(reversed(earlier))))
    return lines


def current_specs(
    uses: Sequence[records.SetupUse], said: Sequence[records.RoomSpec]
) -> dict[str, Any]:
    """A machine's spec sheet as it is now: as tested last, and what was said of it here."""
    found: dict[str, Any] = {}
    for use in uses:
        found.update(use.specs)
    found.update({each.field: each.value for each in said})
    return {field: value for field, value in found.items() if value is not None}


def _task(
    task: records.RoomTask,
    uses: Sequence[records.TaskUse],
    homes: Mapping[UUID, records.HomeShootout],
) -> RoomTask:
    lines = tuple(
        UseLine(use.task_id, use.name, homes[use.shootout_id].name, homes[use.shootout_id].slug)
        for use in uses
    )
    return RoomTask(
        task.id, task.name, task.app, task.measure, task.note, task.demo, task.version, lines
    )
