"""Making, listing and changing shootouts and their rounds."""

from __future__ import annotations

import time
from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.errors import QuantityError
from true_margin.core.money import check_currency
from true_margin.core.wording import plain_name
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import DatabaseAwayError, RefusedError, transaction
from true_margin.store import records, room, shootouts
from true_margin.store.database import Database

FIRST_ROUND = "round 1"
HOUSE_SETTINGS = ("currency", "price_kind", "confidence", "materiality", "planned_runs")
"""What a new shootout begins with as the house has it."""


def list_shootouts(database: Database, *, archived: bool = False) -> tuple[records.Shootout, ...]:
    """List the shootouts, newest first; those in the archive only where they are asked for."""
    with transaction(database) as session:
        return tuple(
            each
            for each in shootouts.list_shootouts(session, archived=archived)
            if archived is (each.archived_at is not None)
        )


def archive_shootout(database: Database, slug: str, *, archived: bool) -> records.Shootout:
    """Put a whole shootout into the archive, or take it out; nothing of it is lost."""
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        changes = {"archived_at": datetime.now(UTC) if archived else None}
        shootouts.change_shootout(session, shootout, shootout.version, changes)
        return shootouts.get_shootout(session, slug)


def check_database(database: Database) -> None:
    """Ask the database something.

    Raises:
        DatabaseAwayError: it does not answer.
    """
    with transaction(database) as session:
        shootouts.answers(session)


def check_ready(database: Database) -> None:
    """Ask whether the tables are those of this version, and whether they can be written to.

    Raises:
        DiskFullError: there is no room to write.
        DatabaseAwayError: the tables are others, or the database does not answer.
    """
    with transaction(database):
        if not database.is_current():
            raise DatabaseAwayError("The tables are of another version of True Margin.")
    check_room(database)


_ROOM_KNOWN: dict[str, float] = {}
ROOM_KNOWN_S = 5.0
"""That there is room is believed so long: many may ask, and each would write."""


def check_room(database: Database) -> None:
    """Write something, unless that worked a moment ago.

    Raises:
        DiskFullError: there is no room.
        DatabaseAwayError: the database does not answer, or takes no writes.
    """
    if time.monotonic() - _ROOM_KNOWN.get(database.url, -ROOM_KNOWN_S) < ROOM_KNOWN_S:
        return
    with transaction(database):
        database.try_write()
    _ROOM_KNOWN[database.url] = time.monotonic()


def make_shootout(database: Database, fields: Mapping[str, Any]) -> records.Shootout:
    """Make a shootout with its first round; its address comes from its name."""
    with transaction(database) as session:
        return new_shootout(session, fields)


def new_shootout(session: Session, fields: Mapping[str, Any]) -> records.Shootout:
    """Make a shootout with its first round within a transaction.

    What is not said of its settings is taken from the house.

    Raises:
        RefusedError: its currency is none in use.
    """
    house = room.get_house(session)
    begins = {name: getattr(house, name) for name in HOUSE_SETTINGS}
    fields = begins | {name: value for name, value in fields.items() if value is not None}
    try:
        check_currency(fields["currency"])
    except QuantityError as error:
        raise RefusedError("currency", error.reason) from error
    slug = free_slug(session, fields["name"])
    today = datetime.now(UTC).date()
    key = shootouts.add_shootout(session, {"price_date": today, **fields, "slug": slug})
    shootouts.add_round(session, key, FIRST_ROUND)
    return shootouts.get_shootout(session, slug)


def get_shootout(database: Database, slug: str) -> records.Shootout:
    """Get a shootout by its address."""
    with transaction(database) as session:
        return shootouts.get_shootout(session, slug)


def change_shootout(
    database: Database, slug: str, version: int, changes: Mapping[str, Any]
) -> records.Shootout:
    """Change settings of a shootout; the baseline must be one of its setups."""
    baseline = changes.get("baseline_setup_id")
    if baseline is not None and baseline not in SHELF.take(database, slug).setup_index:
        raise RefusedError("baseline_setup_id", "The baseline must be a setup of this line-up.")
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.change_shootout(session, shootout, version, changes)
        shootouts.bump_revision(session, shootout.id, rest=False)
        return shootouts.get_shootout(session, slug)


def list_rounds(database: Database, slug: str) -> tuple[records.Round, ...]:
    """List rounds, oldest first."""
    return SHELF.take(database, slug).rounds


def add_round(
    database: Database, slug: str, name: str, versions: Mapping[str, str]
) -> records.Round:
    """Open a new round after the latest, with the app versions that it is run with."""
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, shootout.id)
        key = shootouts.add_round(session, shootout.id, name)
        set_versions(session, shootout.id, key, versions)
        rounds = shootouts.list_rounds(session, shootout.id)
        return next(round_ for round_ in rounds if round_.id == key)


def change_round(
    database: Database, round_id: UUID, name: str | None, versions: Mapping[str, str]
) -> records.Round:
    """Rename a round, or note with which versions it was run; its runs stay where they are."""
    with transaction(database) as session:
        home = shootouts.round_home(session, round_id)
        shootouts.bump_revision(session, home)
        if name is not None:
            others = [r for r in shootouts.list_rounds(session, home) if r.id != round_id]
            if any(other.name.casefold() == name.casefold() for other in others):
                raise RefusedError("name", f"Another round is called {name!r}.")
            shootouts.rename_round(session, round_id, name)
        set_versions(session, home, round_id, versions)
        rounds = shootouts.list_rounds(session, home)
        return next(round_ for round_ in rounds if round_.id == round_id)


def order_rounds(
    database: Database, slug: str, round_ids: Sequence[UUID]
) -> tuple[records.Round, ...]:
    """Put the rounds in this order, oldest first; the last is the one that runs now.

    Raises:
        RefusedError: the list does not name every round once.
    """
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        known = {round_.id for round_ in shootouts.list_rounds(session, shootout.id)}
        if set(round_ids) != known or len(round_ids) != len(known):
            reason = "The order must name every round once; the rounds may have changed."
            raise RefusedError("round_ids", reason)
        shootouts.bump_revision(session, shootout.id)
        shootouts.order_rounds(session, round_ids)
        return shootouts.list_rounds(session, shootout.id)


def set_versions(
    session: Session, shootout_id: UUID, round_id: UUID, versions: Mapping[str, str]
) -> None:
    """Note the app versions of a round."""
    for app, version in versions.items():
        app_id = shootouts.app_named(session, shootout_id, app)
        shootouts.set_round_version(session, round_id, app_id, version)


def archive_demo(database: Database, now: datetime | None = None) -> int:
    """Put the demo shootouts aside, so that fresh ones can be loaded."""
    with transaction(database) as session:
        return shootouts.archive_demo(session, now or datetime.now(UTC))


def free_slug(session: Session, name: str) -> str:
    """Make an address out of a name that no other shootout has."""
    stem = plain_name(name) or "shootout"
    slug, count = stem, 1
    while shootouts.slug_taken(session, slug):
        count += 1
        slug = f"{stem}-{count}"
    return slug
