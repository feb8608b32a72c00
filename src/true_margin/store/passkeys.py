"""Passkeys, what they are asked to sign, and recovery codes in the store."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from true_margin.store.clocks import SKEW
from true_margin.store.errors import MissingRowError
from true_margin.store.records.accounts import Account
from true_margin.store.rows import get_row, insert_row, record_of
from true_margin.store.tables_people import (
    PasskeyChallengeRow,
    PasskeyRow,
    PersonRow,
    RecoveryCodeRow,
)


@dataclass(frozen=True, slots=True)
class Passkey:
    """A passkey of a person, without its key.

    Attributes:
        id: of the row.
        credential_id: by which the device tells it.
        name: that its person gave it.
        made_at: when it was made.
        used_at: when somebody last signed in by it; None before.
    """

    id: UUID
    credential_id: bytes
    name: str
    made_at: datetime
    used_at: datetime | None


@dataclass(frozen=True, slots=True)
class StoredKey:
    """What a signature is held against: the public key, and how often it has signed."""

    id: UUID
    public_key: bytes
    sign_count: int


def add_passkey(
    session: Session,
    person_id: UUID,
    credential_id: bytes,
    public_key: bytes,
    sign_count: int,
    name: str,
) -> UUID:
    """Keep a passkey."""
    return insert_row(
        session,
        PasskeyRow,
        {
            "person_id": person_id,
            "credential_id": credential_id,
            "public_key": public_key,
            "sign_count": sign_count,
            "name": name,
        },
    )


def credential_known(session: Session, credential_id: bytes) -> bool:
    """Whether a passkey of this id was ever kept, ended or not."""
    return (
        session.scalar(select(PasskeyRow.id).where(PasskeyRow.credential_id == credential_id))
        is not None
    )


def list_passkeys(session: Session, person_id: UUID) -> tuple[Passkey, ...]:
    """List the passkeys of somebody, oldest first."""
    rows = session.scalars(
        select(PasskeyRow)
        .where(PasskeyRow.person_id == person_id, PasskeyRow.ended_at.is_(None))
        .order_by(PasskeyRow.made_at, PasskeyRow.id)
    )
    return tuple(record_of(row, Passkey) for row in rows)


def find_passkey(session: Session, credential_id: bytes) -> tuple[StoredKey, Account] | None:
    """Find a passkey and whose it is; nobody else uses it until this transaction ends.

    None where it has ended, its account has, or it never was.
    """
    found = session.execute(
        select(PasskeyRow, PersonRow)
        .join(PersonRow, PersonRow.id == PasskeyRow.person_id)
        .where(
            PasskeyRow.credential_id == credential_id,
            PasskeyRow.ended_at.is_(None),
            PersonRow.ended_at.is_(None),
        )
        .with_for_update(of=PasskeyRow)
    ).first()
    if found is None:
        return None
    return record_of(found[0], StoredKey), record_of(found[1], Account)


def use_passkey(session: Session, passkey_id: UUID, sign_count: int, now: datetime) -> None:
    """Note that somebody signed in by a passkey."""
    row = get_row(session, PasskeyRow, passkey_id, "passkey")
    row.sign_count, row.used_at = sign_count, now
    session.flush()


def end_passkey(session: Session, person_id: UUID, passkey_id: UUID, now: datetime) -> None:
    """End a passkey of somebody.

    Raises:
        MissingRowError: it is none of theirs.
    """
    row = get_row(session, PasskeyRow, passkey_id, "passkey")
    if row.person_id != person_id:
        raise MissingRowError("passkey", passkey_id)
    row.ended_at = row.ended_at or now
    session.flush()


def end_all_passkeys(session: Session, person_id: UUID, now: datetime) -> None:
    """End all passkeys of somebody."""
    session.execute(
        update(PasskeyRow)
        .where(PasskeyRow.person_id == person_id, PasskeyRow.ended_at.is_(None))
        .values(ended_at=now)
    )


def add_challenge(
    session: Session, challenge: bytes, person_id: UUID | None, now: datetime, lives: timedelta
) -> None:
    """Keep what a device shall sign, and clear away what none has signed in time."""
    session.execute(delete(PasskeyChallengeRow).where(PasskeyChallengeRow.at < now - lives))
    insert_row(
        session, PasskeyChallengeRow, {"challenge": challenge, "person_id": person_id, "at": now}
    )


def take_challenge(
    session: Session, challenge: bytes, person_id: UUID | None, now: datetime, lives: timedelta
) -> bool:
    """Use a challenge up; False where it was used, is too old, or was somebody else's."""
    taken = session.execute(
        delete(PasskeyChallengeRow)
        .where(
            PasskeyChallengeRow.challenge == challenge,
            PasskeyChallengeRow.person_id.is_not_distinct_from(person_id),
            # One of a time to come was asked before the clock was set back.
            PasskeyChallengeRow.at.between(now - lives, now + SKEW),
        )
        .returning(PasskeyChallengeRow.id)
    )
    return taken.first() is not None


def set_codes(session: Session, person_id: UUID, hashes: Iterable[str], now: datetime) -> None:
    """Give somebody new recovery codes; those before are good no longer."""
    withdraw_codes(session, person_id, now)
    for code_hash in hashes:
        insert_row(session, RecoveryCodeRow, {"person_id": person_id, "code_hash": code_hash})


def withdraw_codes(session: Session, person_id: UUID, now: datetime) -> None:
    """Withdraw the recovery codes of somebody that were not used."""
    session.execute(
        update(RecoveryCodeRow)
        .where(
            RecoveryCodeRow.person_id == person_id,
            RecoveryCodeRow.used_at.is_(None),
            RecoveryCodeRow.withdrawn_at.is_(None),
        )
        .values(withdrawn_at=now)
    )


def count_codes(session: Session, person_id: UUID) -> int:
    """How many recovery codes of somebody are left."""
    return (
        session.scalar(
            select(func.count()).where(
                RecoveryCodeRow.person_id == person_id,
                RecoveryCodeRow.used_at.is_(None),
                RecoveryCodeRow.withdrawn_at.is_(None),
            )
        )
        or 0
    )


def take_code(session: Session, person_id: UUID, code_hash: str, now: datetime) -> bool:
    """Use a recovery code up; False where it was used or withdrawn, or is none of theirs."""
    taken = session.execute(
        update(RecoveryCodeRow)
        .where(
            RecoveryCodeRow.person_id == person_id,
            RecoveryCodeRow.code_hash == code_hash,
            RecoveryCodeRow.used_at.is_(None),
            RecoveryCodeRow.withdrawn_at.is_(None),
        )
        .values(used_at=now)
        .returning(RecoveryCodeRow.id)
    )
    return taken.first() is not None
