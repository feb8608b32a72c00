"""Invitations and links for a new password, each tied to who made it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from sqlalchemy import Select, or_, select, update
from sqlalchemy.orm import Session

from true_margin.store.rows import get_row, insert_row, record_of
from true_margin.store.tables_people import InvitationRow


@dataclass(frozen=True, slots=True)
class Invitation:
    """An invitation; its link is told once and only a hash of it is kept.

    ``made_by_id`` is None where it was made at the machine itself, ``role`` where it gives an
    account (``person_id``) a new password.
    """

    id: UUID
    role: str | None
    shootout_id: UUID | None
    person_id: UUID | None
    note: str | None
    made_at: datetime
    made_by: str
    made_by_id: UUID | None
    expires_at: datetime
    used_at: datetime | None
    withdrawn_at: datetime | None


def add_invitation(
    session: Session,
    token_hash: str,
    expires_at: datetime,
    by: str,
    by_id: UUID | None,
    *,
    role: str | None = None,
    shootout_id: UUID | None = None,
    person_id: UUID | None = None,
    note: str | None = None,
) -> UUID:
    """Keep an invitation."""
    return insert_row(
        session,
        InvitationRow,
        {
            "token_hash": token_hash,
            "expires_at": expires_at,
            "made_by": by,
            "made_by_id": by_id,
            "role": role,
            "shootout_id": shootout_id,
            "person_id": person_id,
            "note": note,
        },
    )


def find_invitation(session: Session, token_hash: str, now: datetime) -> Invitation | None:
    """Find an invitation that can still be used."""
    row = session.scalar(_usable(token_hash, now))
    return None if row is None else record_of(row, Invitation)


def use_invitation(session: Session, token_hash: str, now: datetime) -> Invitation | None:
    """Use an invitation up; None where somebody else was first, or it is good no longer."""
    row = session.scalar(_usable(token_hash, now).with_for_update())
    if row is None:
        return None
    row.used_at = now
    session.flush()
    return record_of(row, Invitation)


def _usable(token_hash: str, now: datetime) -> Select[InvitationRow]:
    return select(InvitationRow).where(
        InvitationRow.token_hash == token_hash,
        InvitationRow.used_at.is_(None),
        InvitationRow.withdrawn_at.is_(None),
        InvitationRow.expires_at > now,
    )


def get_invitation(session: Session, invitation_id: UUID) -> Invitation:
    """Get an invitation.

    Raises:
        MissingRowError: there is none.
    """
    return record_of(get_row(session, InvitationRow, invitation_id, "invitation"), Invitation)


def list_invitations(session: Session, now: datetime) -> tuple[Invitation, ...]:
    """List the invitations that can still be used, newest first."""
    rows = session.scalars(
        select(InvitationRow)
        .where(
            InvitationRow.used_at.is_(None),
            InvitationRow.withdrawn_at.is_(None),
            InvitationRow.expires_at > now,
        )
        .order_by(InvitationRow.made_at.desc())
    )
    return tuple(record_of(row, Invitation) for row in rows)


def withdraw_invitation(session: Session, invitation_id: UUID, now: datetime) -> None:
    """Withdraw an invitation."""
    row = get_row(session, InvitationRow, invitation_id, "invitation")
    row.withdrawn_at = row.withdrawn_at or now
    session.flush()


def withdraw_links(session: Session, person_id: UUID, now: datetime) -> None:
    """Withdraw the links that somebody made, and those that give them a new password."""
    session.execute(
        update(InvitationRow)
        .where(
            or_(InvitationRow.made_by_id == person_id, InvitationRow.person_id == person_id),
            InvitationRow.used_at.is_(None),
            InvitationRow.withdrawn_at.is_(None),
        )
        .values(withdrawn_at=now)
    )
