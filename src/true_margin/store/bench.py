"""Lanes and their events in the store, and the devices that may tell them."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from datetime import datetime, timedelta
from typing import Any
from uuid import UUID

from sqlalchemy import func, select, text, update
from sqlalchemy.orm import Session

from true_margin.core.lanes import GONE, LaneState, Stamp, join_lanes
from true_margin.store import records
from true_margin.store.errors import MissingRowError
from true_margin.store.news import CHANNEL
from true_margin.store.rows import insert_row, record_of
from true_margin.store.tables_bench import (
    BenchEventRow,
    BenchLaneRow,
    PairCodeRow,
    PairedDeviceRow,
)

SEEN_EVERY = timedelta(seconds=20)
# Written out, since statements with as many values as there are events would each be made anew.
_MAKE_LANES = text("""
    insert into bench_lanes (id, shootout_id, lane_key, client, seq, at_ms, lane)
    select gen_random_uuid(), :home, lane_key, client, seq, at_ms, lane
    from jsonb_to_recordset(cast(:lanes as jsonb))
      as told (lane_key text, client text, seq int, at_ms float8, lane jsonb)
    on conflict do nothing
""")
_KEEP_EVENTS = text("""
    insert into bench_events (id, shootout_id, kind, client, seq, at_ms, lane)
    select gen_random_uuid(), :home, kind, client, seq, at_ms, lane
    from jsonb_to_recordset(cast(:events as jsonb))
      as told (kind text, client text, seq int, at_ms float8, lane jsonb)
    on conflict do nothing
    returning client, seq
""")
_TELL = text("select pg_notify(:channel, told) from unnest(cast(:news as text[])) as told")


def put_events(
    session: Session, shootout_id: UUID, events: Sequence[tuple[str, str, LaneState]]
) -> int:
    """Keep events and join their lanes; the same event again changes nothing.

    A device tells several lanes at once, many devices every second: so this takes the same
    few statements for one event and for a hundred.

    Args:
        session: of the transaction.
        shootout_id: whose bench it is.
        events: key of the lane, kind of the event, and the lane as it was told.

    Returns:
        How many were not known yet.
    """
    if not events:
        return 0
    # Each lane's row is made first and locked, in one order: devices of one lane take turns.
    keys = sorted({key for key, _, _ in events})
    first = {key: state for key, _, state in reversed(events)}
    lanes = [{"lane_key": key, **_columns(first[key])} for key in keys]
    session.execute(_MAKE_LANES, {"home": shootout_id, "lanes": json.dumps(lanes)})
    rows = {
        row.lane_key: row
        for row in session.scalars(
            select(BenchLaneRow)
            .where(BenchLaneRow.shootout_id == shootout_id, BenchLaneRow.lane_key.in_(keys))
            .order_by(BenchLaneRow.lane_key)
            .with_for_update()
            .execution_options(populate_existing=True)
        )
    }
    told = [{"kind": kind, **_columns(state)} for _, kind, state in events]
    added = {
        (row.client, row.seq)
        for row in session.execute(_KEEP_EVENTS, {"home": shootout_id, "events": json.dumps(told)})
    }
    changed = set()
    for key, _, state in events:
        if (state.stamp.client, state.stamp.seq) in added:
            row = rows[key]
            joined = join_lanes(_state(row), state)
            stamp = joined.stamp
            row.at_ms, row.client, row.seq = stamp.at_ms, stamp.client, stamp.seq
            row.lane = dict(joined.lane)
            changed.add(key)
    session.flush()
    if changed:
        # Heard by every process when the transaction is kept, and not otherwise.
        news = [f"{shootout_id} lane {key}" for key in sorted(changed)]
        session.execute(_TELL, {"channel": CHANNEL, "news": news})
    return len(added)


def _columns(state: LaneState) -> dict[str, Any]:
    stamp = state.stamp
    return {"client": stamp.client, "seq": stamp.seq, "at_ms": stamp.at_ms, "lane": state.lane}


def list_lanes(
    session: Session, shootout_id: UUID, since_ms: float, lane_keys: Sequence[str] | None = None
) -> tuple[LaneState, ...]:
    """List the lanes that were touched since a moment, gone ones too; or some by their keys."""
    query = select(BenchLaneRow).where(
        BenchLaneRow.shootout_id == shootout_id, BenchLaneRow.at_ms >= since_ms
    )
    if lane_keys is not None:
        query = query.where(BenchLaneRow.lane_key.in_(lane_keys))
    return tuple(_state(row) for row in session.scalars(query.order_by(BenchLaneRow.lane_key)))


def count_standing(session: Session, shootout_id: UUID, since_ms: float) -> int:
    """Count the lanes that stand on a bench and were touched since a moment."""
    query = select(func.count()).where(
        BenchLaneRow.shootout_id == shootout_id, BenchLaneRow.at_ms >= since_ms,
        BenchLaneRow.lane["phase"].as_string() != GONE,
    )  # fmt: skip
    return session.scalar(query) or 0


def list_rig_lanes(session: Session) -> tuple[tuple[UUID, LaneState], ...]:
    """List the lanes of simulated rigs that are on a bench, each with its shootout."""
    lane = BenchLaneRow.lane
    rows = session.scalars(
        select(BenchLaneRow).where(
            lane["timed_by"].as_string() == "rig", lane["phase"].as_string() != "gone"
        )
    )
    return tuple((row.shootout_id, _state(row)) for row in rows)


def _state(row: BenchLaneRow) -> LaneState:
    return LaneState(Stamp(row.at_ms, row.client, row.seq), row.lane)


def list_events(session: Session, shootout_id: UUID) -> tuple[records.BenchEvent, ...]:
    """List all events of a bench in the order of their moments."""
    rows = session.scalars(
        select(BenchEventRow)
        .where(BenchEventRow.shootout_id == shootout_id)
        .order_by(BenchEventRow.at_ms, BenchEventRow.client, BenchEventRow.seq)
    )
    return tuple(record_of(row, records.BenchEvent) for row in rows)


def add_code(
    session: Session, shootout_id: UUID, code_hash: str, expires_at: datetime,
    person_id: UUID | None = None,
) -> None:  # fmt: skip
    """Keep a new code; those before it of the same shootout can be used no longer."""
    session.execute(
        update(PairCodeRow)
        .where(PairCodeRow.shootout_id == shootout_id, PairCodeRow.used_at.is_(None))
        .values(used_at=func.now())
    )
    insert_row(session, PairCodeRow, {
        "shootout_id": shootout_id, "code_hash": code_hash, "expires_at": expires_at,
        "person_id": person_id,
    })  # fmt: skip


def use_code(session: Session, code_hash: str, now: datetime) -> tuple[UUID, UUID | None] | None:
    """Use a code up; gives its shootout and who made it, or None where it is good no longer."""
    found = session.execute(
        update(PairCodeRow)
        .where(
            PairCodeRow.code_hash == code_hash,
            PairCodeRow.used_at.is_(None),
            PairCodeRow.expires_at > now,
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
