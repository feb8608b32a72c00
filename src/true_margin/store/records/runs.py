"""Runs, what belongs to them, and what was said about pairs of them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID


@dataclass(frozen=True, slots=True)
class Mark:
    """A reading inside a run; loads and ``fraction`` from 0 to 1, ``left_s`` as the app says.

    One that was withdrawn stays on record and counts nowhere.
    """

    id: UUID
    run_id: UUID
    elapsed_s: float
    fraction: float | None
    frames_per_s: float | None
    temperature_c: float | None
    power_w: float | None
    memory_gb: float | None
    swap_gb: float | None
    cpu_load: float | None
    gpu_load: float | None
    gpu_memory_gb: float | None
    noise_db: float | None
    left_s: float | None
    event: str | None
    file_gb: float | None
    withdrawn_at: datetime | None
    withdrawn_why: str | None


@dataclass(frozen=True, slots=True)
class Run:
    """One attempt; ``value``, ``resolution`` and ``u`` in seconds or the amount's unit.

    ``poll_s`` is a watcher's; ``placed_u`` what ``u`` holds because two devices timed it;
    ``reached`` how far a failed run came, 0 to 1; ``conditions`` what was seen before it.
    """

    id: UUID
    setup_id: UUID
    task_id: UUID
    round_id: UUID
    place: int
    status: str
    value: float | None
    typed: str | None
    resolution: float | None
    approximate: bool
    bound: str | None
    method: str
    u: float
    poll_s: float | None
    placed_u: float
    reached: float | None
    conditions: dict[str, Any]
    simulated: bool
    reason: str | None
    note: str | None
    started_at: datetime | None
    who: str
    client_key: str
    version: int
    created_at: datetime
    checked: bool = False


@dataclass(frozen=True, slots=True)
class RunRevision:
    """A run as it stood before a change, with who changed it, when and why."""

    version: int
    before: dict[str, Any]
    who: str
    why: str
    changed_at: datetime


@dataclass(frozen=True, slots=True)
class RunPicture:
    """A picture of the screen that belongs to a run; ``size`` is in bytes."""

    id: UUID
    run_id: UUID | None
    name: str
    media_type: str
    size: int
    who: str
    added_at: datetime
    trial_id: UUID | None = None
    trouble_id: UUID | None = None


@dataclass(frozen=True, slots=True)
class Overrule:
    """A person's word that two setups were given the same job on a task after all."""

    id: UUID
    task_id: UUID
    setup_a_id: UUID
    setup_b_id: UUID
    reason: str
    who: str
    made_at: datetime
    withdrawn_at: datetime | None
    withdrawn_by: str | None = None


@dataclass(frozen=True, slots=True)
class Judgement:
    """A person's word on whether it was the same work.

    Of a setup on a task (``part`` says of what), of two setups on a task, or of two tasks.
    """

    id: UUID
    task_id: UUID
    other_task_id: UUID | None
    setup_id: UUID | None
    other_setup_id: UUID | None
    judged_as: str
    part: str | None
    reason: str | None
    who: str
    noted_at: datetime
    withdrawn_at: datetime | None
    withdrawn_why: str | None
