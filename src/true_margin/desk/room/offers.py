"""What the store room could hold: machines and tasks of one name in several shootouts.

Names only offer; nothing is one with anything until a person says so.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from true_margin.core.parity import Condition
from true_margin.core.spec_rows import CONDITION_OF, TITLES
from true_margin.core.specs import say_spec
from true_margin.core.task_rows import SETTINGS
from true_margin.store import records

DECISIVE = frozenset({Condition.PROCESSOR, Condition.GRAPHICS, Condition.MEMORY, Condition.DRIVES})
"""A machine that has another one of these is not what it was."""
SEEN = ("read_mbs", "write_mbs")
"""What is measured of a part, and never comes out twice alike."""
_JOB = (
    ("operation", "what is done"),
    ("timeline", "the timeline"),
    ("work", "the work"),
    ("unit", "the unit"),
    ("starts_when", "when it starts"),
    ("ends_when", "when it ends"),
)


@dataclass(frozen=True, slots=True)
class OfferedUse:
    """A setup or task of a shootout that may be what others are."""

    id: UUID
    name: str
    shootout: str
    slug: str


@dataclass(frozen=True, slots=True)
class MachineOffer:
    """Setups whose machines have one name; ``machine_id`` where the store room has it already.

    ``differences`` says what speaks against their being one machine, unchanged.
    """

    name: str
    machine_id: UUID | None
    demo: bool
    uses: tuple[OfferedUse, ...]
    differences: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class TaskOffer:
    """Tasks of one name, app and measure; ``standing_id`` where the store room has it already.

    ``differences`` says in what they are not the same job.
    """

    name: str
    app: str
    standing_id: UUID | None
    demo: bool
    uses: tuple[OfferedUse, ...]
    differences: tuple[str, ...]


def offer_machines(
    machines: Sequence[records.RoomMachine],
    uses: Sequence[records.SetupUse],
    homes: Mapping[UUID, records.HomeShootout],
) -> tuple[MachineOffer, ...]:
    """Gather setups that are nothing in the store room yet by the names of their machines."""
    known = {(each.demo, each.name.casefold()): each.id for each in machines}
    groups: dict[tuple[bool, str], list[records.SetupUse]] = {}
    for use in uses:
        if use.room_machine_id is None:
            groups.setdefault((use.demo, use.machine.casefold()), []).append(use)
    found = [
        MachineOffer(
            own[-1].machine,
            known.get(key),
            key[0],
            tuple(
                OfferedUse(
                    u.setup_id, u.setup, homes[u.shootout_id].name, homes[u.shootout_id].slug
                )
                for u in own
            ),
            tuple(say_changes(own, homes)),
        )
        for key, own in groups.items()
    ]
    return tuple(sorted(found, key=lambda o: (o.demo, -len(o.uses), o.name.casefold())))


def _use(key: UUID, name: str, home: records.HomeShootout) -> OfferedUse:
    return OfferedUse(key, name, home.name, home.slug)


def say_changes(
    uses: Iterable[records.SetupUse], homes: Mapping[UUID, records.HomeShootout]
) -> Iterator[str]:
    """Say in which parts a machine was another from one shootout to the next."""
    before: dict[str, tuple[Any, UUID]] = {}
    for use in uses:
        for field, value in use.specs.items():
            if not is_decisive(field):
                continue
            was, home = before.get(field, (value, use.shootout_id))
            if was != value and home != use.shootout_id:
                yield (
                    f"{TITLES[field]} {say_spec(was)} in {homes[home].name!r}, "
                    f"{say_spec(value)} in {homes[use.shootout_id].name!r}"
                )
            before[field] = (value, use.shootout_id)


def is_decisive(field: str) -> bool:
    """Whether a machine in which this row of the sheet is another is another machine."""
    return field not in SEEN and CONDITION_OF.get(field) in DECISIVE


def offer_tasks(
    standing: Sequence[records.RoomTask],
    uses: Sequence[records.TaskUse],
    homes: Mapping[UUID, records.HomeShootout],
) -> tuple[TaskOffer, ...]:
    """Gather tasks that are nothing in the store room yet by name, app and measure."""
    known = {task_key(each): each for each in standing}
    groups: dict[tuple[bool, str, str, str], list[records.TaskUse]] = {}
    for use in uses:
        if use.standing_id is None and use.measure != "observation":
            groups.setdefault(task_key(use), []).append(use)
    found = []
    for key, own in groups.items():
        there = known.get(key)
        first = there or own[0]
        against = own if there else own[1:]
        differences = dict.fromkeys(d for use in against for d in say_job_changes(first, use))
        found.append(
            TaskOffer(
                own[-1].name,
                own[-1].app,
                None if there is None else there.id,
                key[0],
                tuple(
                    OfferedUse(
                        u.task_id, u.name, homes[u.shootout_id].name, homes[u.shootout_id].slug
                    )
                    for u in own
                ),
                tuple(differences),
            )
        )
    return tuple(sorted(found, key=lambda o: (o.demo, -len(o.uses), o.name.casefold())))


def task_key(task: records.RoomTask | records.TaskUse) -> tuple[bool, str, str, str]:
    """What tasks must share to be offered as one."""
    return task.demo, task.name.casefold(), task.app.casefold(), task.measure


def say_job_changes(
    one: records.RoomTask | records.TaskUse, other: records.RoomTask | records.TaskUse
) -> Iterator[str]:
    """Say in what two tasks are not the same job, as far as both say it."""
    for field, title in _JOB:
        was, now = getattr(one, field), getattr(other, field)
        if None not in (was, now) and was != now:
            yield f"{title}: {say_spec(was)} or {say_spec(now)}"
    yield from say_settings(one.settings, other.settings)


def say_settings(one: Mapping[str, Any], other: Mapping[str, Any]) -> Iterator[str]:
    """Say in which export settings two exports differ, as far as both say them."""
    for row in SETTINGS:
        was, now = one.get(row.field), other.get(row.field)
        if None not in (was, now) and was != now:
            yield f"{row.title}: {say_spec(was)} or {say_spec(now)}"
