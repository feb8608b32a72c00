"""Shootouts, rounds, apps and versions in the store."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.errors import MissingRowError
from true_margin.store.news import CHANNEL
from true_margin.store.rows import get_row, insert_row, record_of, update_row
from true_margin.store.tables import AppRow, AppVersionRow, RoundRow, RoundVersionRow, ShootoutRow


def list_shootouts(session: Session, *, archived: bool = False) -> tuple[records.Shootout, ...]:
    """List shootouts, newest first; archived ones only when asked, editions never."""
    query = select(ShootoutRow).order_by(ShootoutRow.created_at.desc())
    query = query.where(ShootoutRow.edition_of.is_(None))
    if not archived:
        query = query.where(ShootoutRow.archived_at.is_(None))
    return tuple(record_of(row, records.Shootout) for row in session.scalars(query))


def answers(session: Session) -> bool:
    """Say whether the database answers a query."""
    return session.scalar(select(1)) == 1


def get_shootout(session: Session, slug: str) -> records.Shootout:
    """Get a shootout by the name in its address.

    Raises:
        MissingRowError: there is none.
    """
    row = session.scalar(select(ShootoutRow).where(ShootoutRow.slug == slug))
    if row is None:
        raise MissingRowError("shootout", slug)
    return record_of(row, records.Shootout)


def find_by_id(session: Session, shootout_id: UUID) -> records.Shootout | None:
    """Find a shootout by its id."""
    row = session.get(ShootoutRow, shootout_id)
    return None if row is None else record_of(row, records.Shootout)


def slug_of(session: Session, shootout_id: UUID) -> str:
    """Give the address of a shootout.

    Raises:
        MissingRowError: there is none.
    """
    slug: str = get_row(session, ShootoutRow, shootout_id, "shootout").slug
    return slug


def slug_taken(session: Session, slug: str) -> bool:
    """Say whether a shootout has this address already."""
    return session.scalar(select(ShootoutRow.id).where(ShootoutRow.slug == slug)) is not None


def add_shootout(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Add a shootout."""
    return insert_row(session, ShootoutRow, fields)


def change_shootout(
    session: Session, shootout: records.Shootout, version: int, changes: Mapping[str, Any]
) -> None:
    """Change a shootout that still has this version.

    Raises:
        StaleVersionError: it was changed since.
    """
    update_row(
        session,
        ShootoutRow,
        shootout.id,
        version,
        changes,
        what="shootout",
        current=lambda: get_shootout(session, shootout.slug),
    )


def freeze(session: Session, shootout_id: UUID, edition_of: UUID) -> None:
    """Make a shootout the frozen copy that an edition shows; nothing changes it from then on."""
    get_row(session, ShootoutRow, shootout_id, "shootout").edition_of = edition_of
    session.flush()


def archive_demo(session: Session, now: datetime) -> int:
    """Put the demo shootouts aside and free their addresses; nothing is deleted."""
    rows = session.scalars(
        select(ShootoutRow).where(ShootoutRow.demo, ShootoutRow.archived_at.is_(None))
    ).all()
    for row in rows:
        row.archived_at = now
        row.slug = f"{row.slug[:60]}-{now:%Y%m%d%H%M%S}"
    session.flush()
    return len(rows)


def bump_revision(session: Session, shootout_id: UUID, *, rest: bool = True) -> int:
    """Note that something inside a shootout changed; also keeps its writers in turn.

    The row stays locked until the transaction ends, so two writers of one
    shootout cannot give a run the same place.

    Args:
        session: of the transaction that is about to write.
        shootout_id: the shootout.
        rest: False where nothing but runs, marks and the shootout's own settings is
            written; then a book in memory reads only those again.
    """
    values: dict[str, Any] = {"revision": ShootoutRow.revision + 1, "worked_at": func.now()}
    if rest:
        values["rest_revision"] = ShootoutRow.revision + 1
    statement = (
        update(ShootoutRow)
        .where(ShootoutRow.id == shootout_id)
        .values(**values)
        .returning(ShootoutRow.revision)
    )
    revision = session.scalar(statement)
    if revision is None:
        raise MissingRowError("shootout", shootout_id)
    # Heard by every process when the transaction is kept, and not otherwise.
    session.execute(select(func.pg_notify(CHANNEL, f"{shootout_id} {revision}")))
    return revision


def list_rounds(session: Session, shootout_id: UUID) -> tuple[records.Round, ...]:
    """List rounds, oldest first, with the app versions of each."""
    versions: dict[UUID, list[records.AppVersion]] = {}
    found = session.execute(
        select(RoundVersionRow.round_id, AppRow.name, AppVersionRow.name)
        .join(AppVersionRow, AppVersionRow.id == RoundVersionRow.app_version_id)
        .join(AppRow, AppRow.id == AppVersionRow.app_id)
        .where(AppRow.shootout_id == shootout_id)
        .order_by(AppRow.name)
    )
    for round_id, app, version in found:
        versions.setdefault(round_id, []).append(records.AppVersion(app, version))
    rows = session.scalars(
        select(RoundRow).where(RoundRow.shootout_id == shootout_id).order_by(RoundRow.position)
    )
    return tuple(
        record_of(row, records.Round, versions=tuple(versions.get(row.id, []))) for row in rows
    )


def add_round(
    session: Session, shootout_id: UUID, name: str, *, brought_from: str | None = None
) -> UUID:
    """Add a round after the latest; ``brought_from`` is the shootout that it came from."""
    last = session.scalar(
        select(func.max(RoundRow.position)).where(RoundRow.shootout_id == shootout_id)
    )
    position = 0 if last is None else last + 1
    return insert_row(
        session,
        RoundRow,
        {
            "shootout_id": shootout_id,
            "name": name,
            "position": position,
            "brought_from": brought_from,
        },
    )


def round_home(session: Session, round_id: UUID) -> UUID:
    """Give the shootout that a round is of.

    Raises:
        MissingRowError: no such round.
    """
    home: UUID = get_row(session, RoundRow, round_id, "round").shootout_id
    return home


def rename_round(session: Session, round_id: UUID, name: str) -> None:
    """Give a round another name."""
    get_row(session, RoundRow, round_id, "round").name = name
    session.flush()


def order_rounds(session: Session, round_ids: Sequence[UUID]) -> None:
    """Put rounds in this order, oldest first."""
    for position, round_id in enumerate(round_ids):
        get_row(session, RoundRow, round_id, "round").position = position
    session.flush()


def add_earlier_round(
    session: Session, shootout_id: UUID, name: str, position: int, brought_from: str
) -> UUID:
    """Add a round that comes from an earlier shootout, at a place before the others."""
    fields = {"name": name, "position": position, "brought_from": brought_from}
    return insert_row(session, RoundRow, {"shootout_id": shootout_id, **fields})


def app_named(session: Session, shootout_id: UUID, name: str) -> UUID:
    """Give the app of this name, adding it where it is new."""
    query = select(AppRow.id).where(AppRow.shootout_id == shootout_id, AppRow.name == name)
    known = session.scalar(query)
    if known is not None:
        return known
    return insert_row(session, AppRow, {"shootout_id": shootout_id, "name": name})


def set_round_version(session: Session, round_id: UUID, app_id: UUID, version: str) -> None:
    """Note which version of an app a round was run with; replaces an earlier note."""
    query = select(AppVersionRow.id).where(
        AppVersionRow.app_id == app_id, AppVersionRow.name == version
    )
    version_id = session.scalar(query) or insert_row(
        session, AppVersionRow, {"app_id": app_id, "name": version}
    )
    own = select(AppVersionRow.id).where(AppVersionRow.app_id == app_id)
    for row in session.scalars(
        select(RoundVersionRow).where(
            RoundVersionRow.round_id == round_id, RoundVersionRow.app_version_id.in_(own)
        )
    ):
        session.delete(row)
    session.flush()
    session.add(RoundVersionRow(round_id=round_id, app_version_id=version_id))
    session.flush()
