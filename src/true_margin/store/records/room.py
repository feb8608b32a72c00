"""The store room: machines, standing tasks and a house style that outlive one shootout."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID


@dataclass(frozen=True, slots=True)
class RoomMachine:
    """A physical machine over all shootouts; ``sample`` is its serial or which one it is."""

    id: UUID
    name: str
    model: str | None
    sample: str | None
    keeping: str
    until: date | None
    note: str | None
    demo: bool
    merged_into_id: UUID | None
    version: int


@dataclass(frozen=True, slots=True)
class RoomSpec:
    """What a row of a machine's spec sheet was from a day on; the last of a field stands."""

    id: UUID
    machine_id: UUID
    field: str
    value: Any
    since: date | None
    who: str
    made_at: datetime


@dataclass(frozen=True, slots=True)
class RoomTask:
    """A standing task: the same job, kept unchanged, over all shootouts."""

    id: UUID
    name: str
    app: str
    timeline: str | None
    timeline_length_s: float | None
    operation: str | None
    settings: dict[str, Any]
    starts_when: str | None
    ends_when: str | None
    measure: str
    work: float | None
    unit: str | None
    note: str | None
    demo: bool
    version: int


@dataclass(frozen=True, slots=True)
class SetupUse:
    """A setup of a shootout, with the machine of the store room that it is, if it is one.

    ``specs`` are those of its machine, ``own_specs`` those in which it differs from it;
    ``retired`` says that the machine is not run any more.
    """

    setup_id: UUID
    shootout_id: UUID
    machine: str
    model: str | None
    setup: str
    specs: dict[str, Any]
    own_specs: dict[str, Any]
    conditions: dict[str, Any]
    retired: bool
    demo: bool
    room_machine_id: UUID | None
    state: str | None


@dataclass(frozen=True, slots=True)
class TaskUse:
    """A task of a shootout, with the standing task that it is, if it is one."""

    task_id: UUID
    shootout_id: UUID
    name: str
    app: str
    timeline: str | None
    timeline_length_s: float | None
    operation: str | None
    settings: dict[str, Any]
    starts_when: str | None
    ends_when: str | None
    measure: str
    work: float | None
    unit: str | None
    note: str | None
    demo: bool
    standing_id: UUID | None


@dataclass(frozen=True, slots=True)
class HomeShootout:
    """A shootout that takes part: by what name, since when, as it stands now."""

    id: UUID
    slug: str
    name: str
    demo: bool
    archived: bool
    revision: int
    created_at: datetime


@dataclass(frozen=True, slots=True)
class RunColumns:
    """Runs of one setup on one task in one round, in their order; one entry a run.

    Columns are bytes, the highest first, as the database sends them: hundreds of thousands of
    runs are read as arrays. ``status`` and ``bound`` are the core's codes in two bytes, ``place``
    an integer of eight, the others floats of eight; NaN where there is none.
    """

    setup_id: UUID
    task_id: UUID
    round_id: UUID
    shootout_id: UUID
    app_version: str | None
    count: int
    status: bytes
    bound: bytes
    place: bytes
    value: bytes
    u: bytes
    resolution: bytes
    started: bytes


@dataclass(frozen=True, slots=True)
class PriceThen:
    """What a setup's machine cost on a day."""

    setup_id: UUID
    kind: str
    amount: Decimal
    currency: str
    dated: date


@dataclass(frozen=True, slots=True)
class RoomEvent:
    """Something that was done in the store room."""

    id: UUID
    subject_id: UUID
    what: str
    details: dict[str, Any]
    who: str
    made_at: datetime


@dataclass(frozen=True, slots=True)
class House:
    """What every new shootout begins with."""

    channel: str | None
    disclosure: str | None
    currency: str
    price_kind: str
    confidence: float
    materiality: float
    planned_runs: int | None
    version: int
