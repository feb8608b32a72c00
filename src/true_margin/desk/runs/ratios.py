"""Ratios noted elsewhere: kept beside the runs with who says so, never mixed into them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from true_margin.core.errors import QuantityError
from true_margin.core.notes import parse_ratio, say_note
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import ratios, shootouts, tasks
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class NotedAnswer:
    """What became of a ratio, in words."""

    id: UUID
    says: str


def note_ratio(
    database: Database, task_id: UUID, fields: Mapping[str, Any], who: str
) -> NotedAnswer:
    """Note a ratio of two setups on a task; the same client key again notes nothing.

    Raises:
        RefusedError: it is no ratio, or the setups are not two of this shootout.
    """
    with transaction(database) as session:
        home = tasks.task_home(session, task_id)
        slug = shootouts.slug_of(session, home)
    book = SHELF.take(database, slug)
    a, b = fields["setup_id"], fields["against_id"]
    for field, key in (("setup_id", a), ("against_id", b)):
        if key not in book.setup_index:
            raise RefusedError(field, "This setup is not in this shootout's line-up.")
    if a == b:
        raise RefusedError("against_id", "A ratio is of two different setups.")
    try:
        ratio = parse_ratio(fields["typed"])
    except QuantityError as error:
        raise RefusedError("typed", error.reason) from error
    names = [book.setups[book.setup_index[key]].label for key in (a, b)]
    source = fields.get("source") or f"noted by {who}"
    key = fields.get("client_key")
    with transaction(database) as session:
        shootouts.bump_revision(session, home)
        known = {each.client_key: each.id for each in ratios.list_ratios(session, home)}
        made = known.get(key) if key else None
        if made is None:
            made = ratios.add_ratio(
                session,
                {
                    "task_id": task_id,
                    "setup_id": a,
                    "against_id": b,
                    "typed": fields["typed"],
                    "source": source,
                    "client_key": key,
                    "who": who,
                    "noted_at": datetime.now(UTC),
                },
            )
    return NotedAnswer(made, f"{say_note(ratio, *names)} ({source}). Noted, not measured.")


def withdraw_ratio(database: Database, ratio_id: UUID, why: str) -> NotedAnswer:
    """Say that a ratio counts no more, and why; it stays on record."""
    with transaction(database) as session:
        home = tasks.task_home(session, ratios.ratio_home(session, ratio_id))
        shootouts.bump_revision(session, home)
        ratios.withdraw_ratio(session, ratio_id, datetime.now(UTC), why)
    return NotedAnswer(ratio_id, f"Withdrawn: {why}. It stays on record.")
