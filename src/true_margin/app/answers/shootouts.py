"""Shootouts and their rounds, as the API answers them."""

from __future__ import annotations

from datetime import date, datetime
from uuid import UUID

from true_margin.app.answers.base import Answer


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
