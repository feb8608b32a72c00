"""Devices that were paired with a bench, and the codes by which they are, in the store."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.clocks import SKEW
from true_margin.store.errors import MissingRowError
from true_margin.store.rows import insert_row, record_of
from true_margin.store.tables_bench import PairCodeRow, PairedDeviceRow

SEEN_EVERY = timedelta(seconds=20)


def add_code(
    session: Session,
    shootout_id: UUID,
    code_hash: str,
    expires_at: datetime,
    person_id: UUID | None = None,
) -> None:
    """Keep a new code; those before it of the same shootout can be used no longer."""
    session.execute(
        update(PairCodeRow)
        .where(PairCodeRow.shootout_id == shootout_id, PairCodeRow.used_at.is_(None))
        .values(used_at=func.now())
    )
    insert_row(
        session,
        PairCodeRow,
        {
            "shootout_id": shootout_id,
            "code_hash": code_hash,
            "expires_at": expires_at,
            "person_id": person_id,
        },
    )


def use_code(
    session: Session, code_hash: str, now: datetime, lives: timedelta
) -> tuple[UUID, UUID | None] | None:
    """Use a code up; gives its shootout and who made it, or None where it is good no longer.

    One that would be good for longer than a code lives was made before the clock was set back.
    """
    found = session.execute(
        update(PairCodeRow)
        .where(
            PairCodeRow.code_hash == code_hash,
            PairCodeRow.used_at.is_(None),
            PairCodeRow.expires_at > now,
            PairCodeRow.expires_at <= now + lives + SKEW,
        )
        .values(used_at=now)
        .returning(PairCodeRow.shootout_id, PairCodeRow.person_id)
    ).first()
    return None if found is None else (found[0], found[1])


def add_device(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Keep a paired device."""
    return insert_row(session, PairedDeviceRow, {"shootout_id": shootout_id, **fields})


def list_devices(session: Session, shootout_id: UUID) -> tuple[records.PairedDevice, ...]:
    """List the devices of a bench, newest first, revoked ones too."""
    rows = session.scalars(
        select(PairedDeviceRow)
        .where(PairedDeviceRow.shootout_id == shootout_id)
        .order_by(PairedDeviceRow.paired_at.desc())
    )
    return tuple(record_of(row, records.PairedDevice) for row in rows)


def find_device(session: Session, token_hash: str, now: datetime) -> records.PairedDevice | None:
    """Find the device of a token that was not revoked, and note that it was seen."""
    row = session.scalars(
        select(PairedDeviceRow).where(
            PairedDeviceRow.token_hash == token_hash, PairedDeviceRow.revoked_at.is_(None)
        )
    ).first()
    if row is None:
        return None
    # Several requests a second come from a bench; each would be a write of its own.
    if row.seen_at < now - SEEN_EVERY:
        row.seen_at = now
        session.flush()
    return record_of(row, records.PairedDevice)


def revoke_device(session: Session, device_id: UUID, now: datetime) -> UUID:
    """Revoke a device; gives its shootout.

    Raises:
        MissingRowError: no such device.
    """
    row = session.get(PairedDeviceRow, device_id)
    if row is None:
        raise MissingRowError("device", device_id)
    row.revoked_at = row.revoked_at or now
    session.flush()
    return row.shootout_id
