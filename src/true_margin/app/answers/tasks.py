"""Tasks, timelines and what makes outputs the same work, as the API answers them."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from true_margin.app.answers.base import Answer
from true_margin.app.answers.margins import Judgement
from true_margin.core.outputs import PartFound
from true_margin.core.parity import Sensitivity
from true_margin.desk.tasks.outputs import ProbeView, SettingApart
from true_margin.desk.tasks.tasks import RoundVersion
from true_margin.desk.tasks.timelines import TimelineFacts


class Task(Answer):
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


class TaskSheet(Answer):
    """A task with what its runs say so far.

    ``settings_line`` is its export settings in one line, ``typed`` the same by field as
    they would be typed. ``versions`` are those of its app, by round. ``spread_cv`` is a
    fraction; ``tells_nothing`` where every pair is level. ``followed_by`` is the task
    that took its place when a setting changed.
    """

    task: Task
    settings_line: str
    typed: dict[str, str]
    versions: tuple[RoundVersion, ...]
    runs: int
    setups: int
    spread_cv: float | None
    spread_basis: str | None
    tells_nothing: bool
    followed_by: UUID | None


class TimelineFile(Answer):
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


class FileState(Answer):
    """The file of one setup against the reference: same, differs, or unknown without one."""

    setup_id: UUID | None
    label: str
    state: str
    file: TimelineFile | None


class TimelineSheet(Answer):
    """A timeline, its reference file drawn, and the state of every setup."""

    id: UUID
    name: str
    reference: TimelineFile | None
    facts: TimelineFacts | None
    setups: tuple[FileState, ...]


class OutputLook(Answer):
    """What a person saw and heard of an exported file; None where nobody looked."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    plays: bool | None
    in_sync: bool | None
    colour_right: bool | None
    who: str
    noted_at: datetime


class Playback(Answer):
    """The best preview quality that a setup held, and the frames it dropped of all."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    quality: str
    dropped: int | None
    total: int | None
    note: str | None
    who: str
    noted_at: datetime


class SetupSameness(Answer):
    """One setup on a task.

    Each of ``timeline``, ``settings`` and ``output`` is same, differs, looked at (the same by
    a person's word, nothing proves it) or unknown; none where the task has no such thing.
    ``parts`` are those of the output that both sides know. ``playback`` is what was seen last,
    on a task that is looked at. ``looked`` are the standing words of those who looked.
    """

    setup_id: UUID
    label: str
    runs: int
    timeline: str
    settings: str
    settings_apart: tuple[SettingApart, ...]
    output: str
    parts: tuple[PartFound, ...]
    probe: ProbeView | None
    look: OutputLook | None
    playback: Playback | None
    looked: tuple[Judgement, ...]


class Sameness(Answer):
    """A task on every setup of the line-up."""

    task_id: UUID
    observed: bool
    rows: tuple[SetupSameness, ...]
