"""What was noted of a setup on a task beside its runs."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID


@dataclass(frozen=True, slots=True)
class SettingsUsed:
    """The export settings that were really used on a setup for a task."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    settings: dict[str, Any]
    who: str
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class OutputFile:
    """What a probe said of the file that a setup exported; of one run, or of any."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    run_id: UUID | None
    name: str
    facts: dict[str, Any]
    who: str
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class OutputLook:
    """What a person saw and heard of an exported file; None where nobody looked."""

    id: UUID
    task_id: UUID
    setup_id: UUID
    plays: bool | None
    in_sync: bool | None
    colour_right: bool | None
    who: str
    noted_at: datetime


@dataclass(frozen=True, slots=True)
class Playback:
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


@dataclass(frozen=True, slots=True)
class Trial:
    """A graded judgement of the edit itself: scrubbing, seeking, playback, page switch, import.

    ``app_version`` is what it was then; ``seen_under`` says the conditions;
    ``corrects_id`` names the entry that it stands for, which is withdrawn.
    """

    id: UUID
    task_id: UUID | None
    # The app of its task, or its own; none where it is of the machine alone.
    app: str | None
    setup_id: UUID
    kind: str
    own_kind: str | None
    grade: str
    freezes: int | None
    dropped: int | None
    total: int | None
    app_version: str | None
    seen_under: str | None
    timecode: str | None
    measured: str | None
    note: str | None
    who: str
    noted_at: datetime
    corrects_id: UUID | None
    withdrawn_at: datetime | None
    withdrawn_why: str | None

    @property
    def what(self) -> str:
        """What was tried, in words."""
        return self.own_kind or self.kind


@dataclass(frozen=True, slots=True)
class Trouble:
    """A fault worth telling that is not a time; of one run, or of none.

    ``fixed_in`` is the version in which it was seen to be gone.
    """

    id: UUID
    task_id: UUID | None
    # The app of its task, or its own; none where it is of the machine alone.
    app: str | None
    setup_id: UUID
    run_id: UUID | None
    kind: str
    app_version: str | None
    seen_under: str | None
    timecode: str | None
    measured: str | None
    times: int | None
    fixed_in: str | None
    note: str | None
    who: str
    noted_at: datetime
    corrects_id: UUID | None
    withdrawn_at: datetime | None
    withdrawn_why: str | None


@dataclass(frozen=True, slots=True)
class NotedRatio:
    """How many times as fast a setup is as another on a task, as somebody else says.

    ``typed`` is the ratio as it was written; ``withdrawn_at`` where it counts no more, with
    the reason.
    """

    id: UUID
    task_id: UUID
    setup_id: UUID
    against_id: UUID
    typed: str
    source: str
    who: str
    noted_at: datetime
    client_key: str | None
    withdrawn_at: datetime | None
    withdrawn_why: str | None
