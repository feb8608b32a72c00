"""Runs, their marks, pictures, history and what was seen beside, as the API answers them."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from true_margin.app.answers.base import Answer
from true_margin.core.mark_rows import OwnEstimate


class Run(Answer):
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
    checked: bool


class RunRevision(Answer):
    """A run as it stood before a change, with who changed it, when and why."""

    version: int
    before: dict[str, Any]
    who: str
    why: str
    changed_at: datetime


class Mark(Answer):
    """A reading inside a run; loads and ``fraction`` from 0 to 1, ``left_s`` as the app says."""

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


class RunPicture(Answer):
    """A picture of the screen that belongs to a run; ``size`` is in bytes."""

    id: UUID
    run_id: UUID
    name: str
    media_type: str
    size: int
    who: str
    added_at: datetime


class StoredRun(Answer):
    """A run just written, and what it changes."""

    run: Run
    says: str
    changes: tuple[str, ...]
    doubt: str | None


class RunsChanged(Answer):
    """Runs as they stand after a change, and what it changes in the calls."""

    runs: tuple[Run, ...]
    says: str
    changes: tuple[str, ...]


class Trial(Answer):
    """A graded judgement of the edit itself: scrubbing, seeking, playback, page switch, import."""

    id: UUID
    task_id: UUID | None
    app: str | None
    setup_id: UUID
    kind: str
    grade: str
    freezes: int | None
    dropped: int | None
    total: int | None
    note: str | None
    who: str
    noted_at: datetime


class Trouble(Answer):
    """A fault worth telling that is not a time; of one run, or of none."""

    id: UUID
    task_id: UUID | None
    app: str | None
    setup_id: UUID
    run_id: UUID | None
    kind: str
    note: str | None
    who: str
    noted_at: datetime


class Observations(Answer):
    """The trials that count (the newest of each setup, task and kind), and every trouble."""

    trials: tuple[Trial, ...]
    troubles: tuple[Trouble, ...]


class RunDetail(Answer):
    """One run with its history, marks and pictures.

    ``estimates`` says how wrong the app's own estimates were, ``wrong_before`` what was
    not as it should be when it was started, ``because`` why each flag is there.
    """

    run: Run
    flags: tuple[str, ...]
    because: tuple[str, ...]
    revisions: tuple[RunRevision, ...]
    marks: tuple[Mark, ...]
    estimates: tuple[OwnEstimate, ...]
    wrong_before: tuple[str, ...]
    pictures: tuple[RunPicture, ...]
    troubles: tuple[Trouble, ...]


class RunInBrief(Answer):
    """A run as a list needs it; the whole of it is told one by one."""

    id: UUID
    setup_id: UUID
    task_id: UUID
    round_id: UUID
    status: str
    value: float | None
    resolution: float | None
    approximate: bool
    bound: str | None
    simulated: bool
    reason: str | None
    version: int


class FlaggedInBrief(Answer):
    """A run in brief with what the checks say of it."""

    run: RunInBrief
    flags: tuple[str, ...]


class CellOfBook(Answer):
    """The cell that runs of one setup on one task in one round share."""

    setup_id: UUID
    task_id: UUID
    round_id: UUID


class BookInBrief(Answer):
    """All runs of a shootout in brief, with flags of runs and of cells."""

    runs: tuple[FlaggedInBrief, ...]
    drifting: tuple[CellOfBook, ...]
