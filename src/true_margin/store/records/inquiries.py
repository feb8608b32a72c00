"""Inquiries into what looks wrong, and figures of others."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID


@dataclass(frozen=True, slots=True)
class InquiryStep:
    """A dated step of an inquiry, with the runs and the entries of the log that belong to it.

    ``place`` counts from 1; ``counts`` says which runs count, where the step closes it.
    """

    id: UUID
    place: int
    kind: str
    words: str | None
    counts: str | None
    who: str
    noted_at: datetime
    run_ids: tuple[UUID, ...] = ()
    trial_ids: tuple[UUID, ...] = ()
    trouble_ids: tuple[UUID, ...] = ()


@dataclass(frozen=True, slots=True)
class Inquiry:
    """Something out of line that is looked into; ``counts`` says which runs count.

    ``suspected``, ``changed`` and ``outcome`` are what the last step of that kind says.
    """

    id: UUID
    task_id: UUID | None
    setup_a_id: UUID | None
    setup_b_id: UUID | None
    kind: str
    about: str
    suspected: str
    changed: str | None
    outcome: str | None
    counts: str | None
    who: str
    opened_at: datetime
    closed_at: datetime | None
    version: int
    run_ids: tuple[UUID, ...] = ()
    steps: tuple[InquiryStep, ...] = ()


@dataclass(frozen=True, slots=True)
class PublishedFigure:
    """A figure published elsewhere: of setup a over setup b, or of setup a alone.

    ``value`` is times as fast, percent, seconds or an amount, as ``kind`` says; a task of
    None means the mix.
    """

    id: UUID
    task_id: UUID | None
    setup_a_id: UUID
    setup_b_id: UUID | None
    kind: str
    value: float
    source: str
    who: str
    noted_at: datetime
    withdrawn_at: datetime | None
