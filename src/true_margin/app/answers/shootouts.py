"""Shootouts and their rounds, as the API answers them."""

from __future__ import annotations

from datetime import date, datetime
from uuid import UUID

from true_margin.app.answers.base import Answer
from true_margin.desk.run_sheet.on_shelf import ShelfBar


class Shootout(Answer):
    """One comparison and its settings."""

    id: UUID
    slug: str
    name: str
    subject: str
    currency: str
    confidence: float
    materiality: float
    prior_df: float
    prior_cv: float
    update_prior_df: float
    update_prior_cv: float
    unit_prior_cv: float
    planned_runs: int | None
    baseline_setup_id: UUID | None
    price_date: date
    price_kind: str
    trial_rows: list[str]
    demo: bool
    archived_at: datetime | None
    revision: int
    rest_revision: int
    version: int
    created_at: datetime


class ShelfLine(Answer):
    """A shootout on the shelf.

    ``answer`` is who leads, ``waiting`` what is open, ``needs_you`` whether that would be wrong
    if published; ``edition`` is the newest one, ``worked_at`` when something was changed last.
    ``fresh`` is False while the line is of an earlier revision, or was not worked out yet.
    """

    shootout: Shootout
    answer: str
    waiting: tuple[str, ...]
    needs_you: bool
    facts: str
    bars: tuple[ShelfBar, ...]
    edition: int | None
    worked_at: datetime
    fresh: bool


class AppVersion(Answer):
    """An app with the version that a round was run with."""

    app: str
    version: str


class Round(Answer):
    """A round and the app versions that it was run with."""

    id: UUID
    name: str
    position: int
    brought_from: str | None
    versions: tuple[AppVersion, ...]
