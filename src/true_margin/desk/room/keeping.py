"""Changing the store room: keeping, correcting, joining and parting; no run is ever touched."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any, TypeVar
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.choices import Keeping
from true_margin.core.spec_rows import SPECS
from true_margin.desk.book.sheet_rows import read_cells
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.room.offers import say_job_changes
from true_margin.desk.room.overview import Room, RoomMachine, machine_of, room_of
from true_margin.store import records, room, room_uses
from true_margin.store.database import Database

Use = TypeVar("Use", records.SetupUse, records.TaskUse)
DEMO_HAND = "demo"
_JOB = (
    "app",
    "timeline",
    "timeline_length_s",
    "operation",
    "settings",
    "starts_when",
    "ends_when",
    "measure",
    "work",
    "unit",
    "note",
)


@dataclass(frozen=True, slots=True)
class KeptMachine:
    """Setups of shootouts that are one machine: one of the store room, or a new one of a name."""

    name: str
    machine_id: UUID | None
    setup_ids: tuple[UUID, ...]


@dataclass(frozen=True, slots=True)
class KeptTask:
    """Tasks of shootouts that are one standing task: one there is, or a new one of a name."""

    name: str
    standing_id: UUID | None
    task_ids: tuple[UUID, ...]


def keep(
    database: Database, machines: Sequence[KeptMachine], tasks: Sequence[KeptTask], who: str
) -> Room:
    """Take machines and tasks of shootouts into the store room, all of them or none.

    Raises:
        RefusedError: one of them is of no shootout that takes part, or made up and real
            are mixed.
    """
    with transaction(database) as session:
        setups = {use.setup_id: use for use in room_uses.list_setup_uses(session)}
        for machine in machines:
            own = [_known(setups, key, "setup_ids") for key in machine.setup_ids]
            _keep_machine(session, machine, own, who)
        uses = {use.task_id: use for use in room_uses.list_task_uses(session)}
        for task in tasks:
            jobs = [_known(uses, key, "task_ids") for key in task.task_ids]
            _keep_task(session, task, jobs, who)
        return room_of(session)


def _known(uses: Mapping[UUID, Use], key: UUID, field: str) -> Use:
    if key not in uses:
        raise RefusedError(field, "Something that was chosen is not there any more: look again.")
    return uses[key]


def _one_world(uses: Sequence[records.SetupUse] | Sequence[records.TaskUse], field: str) -> bool:
    """Whether these are of demo shootouts; what is made up is never one with what is real."""
    worlds = {use.demo for use in uses}
    if len(worlds) != 1:
        raise RefusedError(field, "Choose parts of your own shootouts, or parts of the demo.")
    return worlds.pop()


def _must_fit(session: Session, machine_id: UUID, *, demo: bool) -> None:
    """Refuse a machine that became part of another, or is made up where these are real."""
    machine = room.get_machine(session, machine_id)
    if machine.merged_into_id is not None:
        raise RefusedError("machine_id", "It was joined to another machine: choose that one.")
    if machine.demo is not demo:
        raise RefusedError("machine_id", "Choose parts of your own shootouts, or of the demo.")


def _keep_machine(
    session: Session, machine: KeptMachine, uses: Sequence[records.SetupUse], who: str
) -> None:
    demo = _one_world(uses, "setup_ids")
    key = machine.machine_id
    if key is None:
        model = next((use.model for use in reversed(uses) if use.model is not None), None)
        keeping = Keeping.OWNED
        if uses[-1].retired:
            keeping = Keeping.GONE
        elif uses[-1].specs.get("obtained") == Keeping.LENT:
            keeping = Keeping.LENT
        values = {"name": machine.name, "model": model, "demo": demo, "keeping": keeping}
        key = room.add_machine(session, values)
    else:
        _must_fit(session, key, demo=demo)
    for use in uses:
        room_uses.link_setups(session, [use.setup_id], key, use.setup)
    details = {"setups": [str(use.setup_id) for use in uses]}
    room.add_event(session, key, "kept", details, who)


def _keep_task(session: Session, task: KeptTask, uses: Sequence[records.TaskUse], who: str) -> None:
    demo = _one_world(uses, "task_ids")
    key = task.standing_id
    first: records.RoomTask | records.TaskUse
    if key is None:
        first = uses[0]
        values = {name: getattr(first, name) for name in _JOB}
        key = room.add_task(session, {**values, "name": task.name, "demo": demo})
    else:
        first = room.get_task(session, key)
        if first.demo is not demo:
            raise RefusedError("standing_id", "Choose parts of your own shootouts, or of the demo.")
    for use in uses:
        if (use.app.casefold(), use.measure) != (first.app.casefold(), first.measure):
            raise RefusedError(
                "task_ids",
                f"{use.name!r} is timed in {use.app}, {first.name!r} in {first.app}: a standing "
                f"task is one job in one app.",
            )
    room_uses.link_tasks(session, [use.task_id for use in uses], key)
    differences = [d for use in uses for d in say_job_changes(first, use)]
    details = {"tasks": [str(use.task_id) for use in uses], "although": differences}
    room.add_event(session, key, "kept", details, who)


def add_machine(database: Database, fields: Mapping[str, Any], who: str) -> Room:
    """Add a machine that no shootout has yet."""
    with transaction(database) as session:
        key = room.add_machine(session, fields)
        room.add_event(session, key, "added", {}, who)
        return room_of(session)


def change_machine(
    database: Database, machine_id: UUID, version: int, changes: Mapping[str, Any], who: str
) -> RoomMachine:
    """Correct a machine of the store room; shootouts keep the state they were tested in."""
    with transaction(database) as session:
        before = room.get_machine(session, machine_id)
        room.change_machine(session, machine_id, version, changes)
        was = {name: str(getattr(before, name)) for name in changes}
        room.add_event(session, machine_id, "changed", {"was": was}, who)
        return machine_of(session, machine_id)


def change_task(
    database: Database, standing_id: UUID, version: int, changes: Mapping[str, Any], who: str
) -> Room:
    """Correct the name or note of a standing task; its job is that of its runs, and stays."""
    with transaction(database) as session:
        before = room.get_task(session, standing_id)
        room.change_task(session, standing_id, version, changes)
        was = {name: str(getattr(before, name)) for name in changes}
        room.add_event(session, standing_id, "changed", {"was": was}, who)
        return room_of(session)


def note_specs(
    database: Database,
    machine_id: UUID,
    typed: Mapping[str, str | None],
    since: date | None,
    who: str,
) -> RoomMachine:
    """Note what rows of a machine's spec sheet are, from a day on or for as long as is known.

    Raises:
        RefusedError: no such row, or a cell that its row cannot hold.
    """
    with transaction(database) as session:
        room.get_machine(session, machine_id)
        read = read_cells({}, typed, SPECS)
        for field in typed:
            values = {"field": field, "value": read.get(field), "since": since, "who": who}
            room.add_spec(session, machine_id, values)
        room.add_event(session, machine_id, "specs", {"fields": sorted(typed)}, who)
        return machine_of(session, machine_id)


def merge_machines(database: Database, machine_id: UUID, into_id: UUID, who: str) -> Room:
    """Say that two machines of the store room are one: what the first was, the second is now.

    Raises:
        RefusedError: they are the same one, one is no longer there, or one is made up.
    """
    with transaction(database) as session:
        one, other = room.get_machine(session, machine_id), room.get_machine(session, into_id)
        if one.id == other.id or other.merged_into_id or one.merged_into_id:
            raise RefusedError("into_id", "Choose another machine of the store room.")
        if one.demo is not other.demo:
            raise RefusedError("into_id", "One of them is made up, the other is yours.")
        moved = room_uses.move_all_setups(session, one.id, other.id)
        said = {spec.field for spec in room.list_specs(session, other.id)}
        for spec in room.list_specs(session, one.id):
            # What the other says of a row itself stands.
            if spec.field not in said:
                fields = {n: getattr(spec, n) for n in ("field", "value", "since", "who")}
                room.add_spec(session, other.id, fields)
        room.change_machine(session, one.id, one.version, {"merged_into_id": other.id})
        details = {"machine": str(one.id), "name": one.name, "setups": [str(key) for key in moved]}
        room.add_event(session, other.id, "joined", details, who)
        room.add_event(session, one.id, "joined into", {"machine": str(other.id)}, who)
        return room_of(session)


def move_setups(
    database: Database,
    setup_ids: Sequence[UUID],
    machine_id: UUID | None,
    state: str | None,
    who: str,
) -> Room:
    """Say that setups are another machine, another state of theirs, or none of the store room.

    Args:
        database: where it is kept.
        setup_ids: setups of shootouts.
        machine_id: machine of the store room; None parts them from it.
        state: in which state it was; None keeps what each setup is called.
        who: who says so.

    Raises:
        RefusedError: a setup is of no shootout that takes part.
    """
    with transaction(database) as session:
        uses = {use.setup_id: use for use in room_uses.list_setup_uses(session)}
        own = [_known(uses, key, "setup_ids") for key in setup_ids]
        demo = _one_world(own, "setup_ids")
        if machine_id is not None:
            _must_fit(session, machine_id, demo=demo)
        for use in own:
            if use.room_machine_id is not None and use.room_machine_id != machine_id:
                details = {"setups": [str(use.setup_id)], "state": use.state}
                room.add_event(session, use.room_machine_id, "parted", details, who)
            if machine_id is not None:
                room_uses.link_setups(session, [use.setup_id], machine_id, state or use.setup)
        if machine_id is None:
            room_uses.unlink_setups(session, setup_ids)
        else:
            details = {"setups": [str(key) for key in setup_ids], "state": state}
            room.add_event(session, machine_id, "kept", details, who)
        return room_of(session)


def part_tasks(database: Database, task_ids: Sequence[UUID], who: str) -> Room:
    """Say that tasks are no standing task after all; their runs stay where they are.

    Raises:
        RefusedError: a task is of no shootout that takes part.
    """
    with transaction(database) as session:
        uses = {use.task_id: use for use in room_uses.list_task_uses(session)}
        for use in (_known(uses, key, "task_ids") for key in task_ids):
            if use.standing_id is not None:
                details = {"tasks": [str(use.task_id)]}
                room.add_event(session, use.standing_id, "parted", details, who)
        room_uses.unlink_tasks(session, task_ids)
        return room_of(session)


def keep_demo(database: Database) -> None:
    """Keep what the demo's shootouts share, as somebody would who says yes to every offer."""
    with transaction(database) as session:
        offered = room_of(session)
    machines = [
        KeptMachine(each.name, each.machine_id, tuple(use.id for use in each.uses))
        for each in offered.machine_offers
        if each.demo
    ]
    tasks = [
        KeptTask(each.name, each.standing_id, tuple(use.id for use in each.uses))
        for each in offered.task_offers
        if each.demo and (len(each.uses) > 1 or each.standing_id is not None)
    ]
    keep(database, machines, tasks, DEMO_HAND)
