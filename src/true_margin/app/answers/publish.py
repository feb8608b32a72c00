"""Cards, reports and editions, as the API answers them."""

from __future__ import annotations

from datetime import datetime
from typing import Any
from uuid import UUID

from true_margin.app.answers.base import Answer


class KeptCard(Answer):
    """A card as it is asked for.

    ``task_id`` None means the mix; ``setups`` holds ids of setups under ``order``,
    ``highlighted`` and ``left_out``; ``seconds`` is its length on the timeline.
    """

    id: UUID
    shootout_id: UUID
    position: int
    kind: str
    task_id: UUID | None
    viewer_id: UUID | None
    setups: dict[str, Any]
    title: str | None
    subtitle: str | None
    source: str | None
    seconds: float
    retired_at: datetime | None
    version: int


class CardView(Answer):
    """A kept card with the words that it shows; ``problem`` says why it shows nothing.

    ``alt`` is its text alternative, ``missing`` the characters that its fonts lack,
    ``setup_ids`` all setups that may stand on it, in its order, those left out too.
    """

    card: KeptCard
    name: str
    title: str
    subtitle: str
    source: str
    notes: tuple[str, ...]
    alt: str
    missing: str
    problem: str | None
    setup_ids: tuple[UUID, ...]
    revision: int


class Report(Answer):
    """A report without its files; ``done`` from 0 to 1, ``seen_at`` its last sign of life."""

    id: UUID
    shootout_id: UUID
    revision: int
    state: str
    step: str
    done: float
    problem: str | None
    seen_at: datetime
    created_at: datetime


class ReportView(Answer):
    """A report as the screen shows it; ``outdated`` where the book has changed since."""

    report: Report
    outdated: bool


class Clip(Answer):
    """A clip without its film; ``done`` from 0 to 1, ``seen_at`` its last sign of life.

    ``asked`` is its shape, look, kind of film and timing; ``size`` that of the film in bytes.
    """

    id: UUID
    shootout_id: UUID
    card_id: UUID
    name: str
    asked: dict[str, Any]
    revision: int
    state: str
    step: str
    done: float
    problem: str | None
    size: int | None
    seen_at: datetime
    created_at: datetime


class ClipView(Answer):
    """A clip as the screen shows it; ``outdated`` where the book has changed since.

    ``file`` is what it is called.
    """

    clip: Clip
    file: str
    outdated: bool


class Edition(Answer):
    """An edition: ``frozen_id`` is the copy that it shows, ``changes`` since the last one."""

    id: UUID
    shootout_id: UUID
    number: int
    frozen_id: UUID
    frozen_slug: str
    note: str | None
    changes: list[str]
    who: str
    created_at: datetime


class Link(Answer):
    """A secret link to a public page; ``token`` is its secret part."""

    id: UUID
    shootout_id: UUID
    token: str
    revoked_at: datetime | None
    created_at: datetime


class PublicView(Answer):
    """What is published of a shootout: links, newest first, and editions, newest first.

    ``waiting`` says what has changed since the last edition, ``echoes`` which lines of the script
    and which cards still say what it said; ``correction`` is whether something in it is not so.
    """

    links: tuple[Link, ...]
    editions: tuple[Edition, ...]
    waiting: tuple[str, ...]
    echoes: tuple[str, ...]
    correction: bool
