"""People, what they may do, invitations and sign-ins in the store; nothing is deleted."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import func, select, text, update
from sqlalchemy.orm import Session

from true_margin.store.records.accounts import Account
from true_margin.store.rows import get_row, insert_row, record_of
from true_margin.store.sign_ins import end_all_signed_in
from true_margin.store.tables import ShootoutRow
from true_margin.store.tables_bench import PairedDeviceRow
from true_margin.store.tables_people import MembershipRow, PersonRow

PEOPLE_LOCK = 84370002
"""Two owners who end each other at once would leave none; the number is arbitrary but fixed."""


@dataclass(frozen=True, slots=True)
class Membership:
    """A role in one shootout, or in all where ``shootout_id``, its name and slug are None."""

    id: UUID
    person_id: UUID
    shootout_id: UUID | None
    shootout: str | None
    slug: str | None
    role: str
    made_at: datetime
    made_by: str


def list_accounts(session: Session) -> tuple[Account, ...]:
    """List all accounts by name, ended ones too."""
    rows = session.scalars(select(PersonRow).order_by(PersonRow.name, PersonRow.email))
    return tuple(record_of(row, Account) for row in rows)


def get_account(session: Session, person_id: UUID) -> Account:
    """Get an account.

    Raises:
        MissingRowError: there is none.
    """
    return record_of(get_row(session, PersonRow, person_id, "person"), Account)


def find_account(session: Session, email: str) -> tuple[Account, str] | None:
    """Find an account that has not ended by its address, with the hash of its password."""
    row = session.scalar(
        select(PersonRow).where(PersonRow.email == email, PersonRow.ended_at.is_(None))
    )
    return None if row is None else (record_of(row, Account), row.password_hash)


def email_known(session: Session, email: str) -> bool:
    """Whether an account has this address, ended or not."""
    return session.scalar(select(PersonRow.id).where(PersonRow.email == email)) is not None


def add_account(session: Session, email: str, name: str, password_hash: str) -> UUID:
    """Add an account."""
    return insert_row(
        session, PersonRow, {"email": email, "name": name, "password_hash": password_hash}
    )


def set_password(session: Session, person_id: UUID, password_hash: str) -> None:
    """Give an account another password."""
    get_row(session, PersonRow, person_id, "person").password_hash = password_hash
    session.flush()


def end_account(session: Session, person_id: UUID, now: datetime) -> None:
    """End an account, with its sign-ins and its paired devices."""
    row = get_row(session, PersonRow, person_id, "person")
    row.ended_at = row.ended_at or now
    session.flush()
    end_all_signed_in(session, person_id, now)
    session.execute(
        update(PairedDeviceRow)
        .where(PairedDeviceRow.person_id == person_id, PairedDeviceRow.revoked_at.is_(None))
        .values(revoked_at=now)
    )


def in_turn(session: Session) -> None:
    """Let nobody else change who may do what until this transaction ends."""
    session.execute(text("select pg_advisory_xact_lock(:key)"), {"key": PEOPLE_LOCK})


def owners_left(session: Session) -> int:
    """How many accounts own all shootouts."""
    return (
        session.scalar(
            select(func.count(func.distinct(PersonRow.id)))
            .join(MembershipRow, MembershipRow.person_id == PersonRow.id)
            .where(
                PersonRow.ended_at.is_(None),
                MembershipRow.ended_at.is_(None),
                MembershipRow.shootout_id.is_(None),
                MembershipRow.role == "owner",
            )
        )
        or 0
    )


def list_memberships(session: Session, person_id: UUID | None = None) -> tuple[Membership, ...]:
    """List what stands, of one person or of everybody; those for all shootouts first."""
    query = (
        select(MembershipRow, ShootoutRow.name, ShootoutRow.slug)
        .outerjoin(ShootoutRow, ShootoutRow.id == MembershipRow.shootout_id)
        .where(MembershipRow.ended_at.is_(None))
        .order_by(MembershipRow.shootout_id.is_not(None), ShootoutRow.name)
    )
    if person_id is not None:
        query = query.where(MembershipRow.person_id == person_id)
    return tuple(
        record_of(row, Membership, shootout=name, slug=slug)
        for row, name, slug in session.execute(query)
    )


def set_membership(
    session: Session,
    person_id: UUID,
    shootout_id: UUID | None,
    role: str | None,
    *,
    by: str,
    now: datetime,
) -> None:
    """Give a person a role, or none; what stood before stays on record as ended."""
    session.execute(
        update(MembershipRow)
        .where(
            MembershipRow.person_id == person_id,
            MembershipRow.ended_at.is_(None),
            MembershipRow.shootout_id.is_not_distinct_from(shootout_id),
        )
        .values(ended_at=now)
    )
    if role is not None:
        insert_row(
            session,
            MembershipRow,
            {"person_id": person_id, "shootout_id": shootout_id, "role": role, "made_by": by},
        )
