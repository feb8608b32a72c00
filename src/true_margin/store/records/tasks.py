"""What is timed: timelines, tasks, presets."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from true_margin.core.parity import Sensitivity


@dataclass(frozen=True, slots=True)
class Timeline:
    """An edited project that is exported."""

    id: UUID
    name: str
    length_s: float | None


@dataclass(frozen=True, slots=True)
class TimelineFile:
    """A timeline as saved on one machine; without a setup: as the reviewer keeps it.

    ``facts`` holds what was read of it, as plain values; ``size`` is in bytes.
    """

    id: UUID
    timeline_id: UUID
    setup_id: UUID | None
    name: str
    edl_rate: float | None
    size: int
    fingerprint: str
    facts: dict[str, Any]
    who: str
    added_at: datetime


@dataclass(frozen=True, slots=True)
class Task:
    """What is timed or observed, with the names of its app and timeline.

    ``name`` tells it apart from every other task, ``own_name`` is as it was given: two apps may
    have tasks of one name. ``settings`` holds its export settings by field; ``follows_id`` is
    the task as it was before a setting changed, ``superseded`` says that another follows this
    one. ``sensitivities`` say what moves its time, and by how much at most.
    """

    id: UUID
    name: str
    own_name: str
    position: int
    app: str
    timeline_id: UUID | None
    timeline: str | None
    timeline_length_s: float | None
    operation: str | None
    settings: dict[str, Any]
    starts_when: str | None
    ends_when: str | None
    note: str | None
    revision: int
    follows_id: UUID | None
    superseded: bool
    measure: str
    work: float | None
    unit: str | None
    sensitivities: tuple[Sensitivity, ...]
    version: int


@dataclass(frozen=True, slots=True)
class Preset:
    """Export settings under a name, for any shootout."""

    id: UUID
    name: str
    settings: dict[str, Any]
