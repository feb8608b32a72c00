"""Lanes and their events in the store."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any
from uuid import UUID

from pydantic_core import from_json, to_json
from sqlalchemy import func, select, text
from sqlalchemy.orm import Session

from true_margin.core.lanes import GONE, LaneState, Stamp, join_lanes
from true_margin.store import records
from true_margin.store.news import CHANNEL, LANE, LANES
from true_margin.store.rows import record_of
from true_margin.store.tables_bench import BenchEventRow, BenchLaneRow

# Written out, since statements with as many values as there are events would each be made anew.
_KEEP = text("""
    with told as (
      select * from jsonb_to_recordset(cast(:events as jsonb))
        as told (lane_key text, kind text, client text, seq int, at_ms float8, lane jsonb)
    ), made as (
      insert into bench_lanes (id, shootout_id, lane_key, client, seq, at_ms, lane)
      select distinct on (lane_key) gen_random_uuid(), :home, lane_key, client, seq, at_ms, lane
      from told order by lane_key, client, seq
      on conflict do nothing
      returning lane_key
    ), kept as (
      insert into bench_events (id, shootout_id, kind, client, seq, at_ms, lane)
      select gen_random_uuid(), :home, kind, client, seq, at_ms, lane
      from told order by client, seq
      on conflict do nothing
      returning client, seq
    )
    select lane_key, null, null from made union all select null, client, seq from kept
""")
_LOCKED = text("""
    select id, lane_key, at_ms, client, seq, cast(lane as text) as lane from bench_lanes
    where shootout_id = :home and lane_key = any(:keys) order by lane_key for update
""")
# What changed is heard by every process when the transaction is kept, and not otherwise.
_CHANGE_AND_TELL = text("""
    with changed as (
      update bench_lanes set at_ms = told.at_ms, client = told.client, seq = told.seq,
        lane = told.lane
      from jsonb_to_recordset(cast(:lanes as jsonb))
        as told (id uuid, client text, seq int, at_ms float8, lane jsonb)
      where bench_lanes.id = told.id
    )
    select pg_notify(:channel, told) from jsonb_array_elements_text(cast(:news as jsonb)) as told
""")
_MOST_TOLD = 7900
"""Bytes of one piece of news; the database takes 8000."""


@dataclass(frozen=True, slots=True)
class LanesTold:
    """What came of events.

    Attributes:
        lanes: as they stand now, in the order of their keys; of the marks those that these
            events told.
        came: whether a lane stands that was not there before.
    """

    lanes: tuple[LaneState, ...]
    came: bool


def put_events(
    session: Session, shootout_id: UUID, events: Sequence[tuple[str, str, LaneState]]
) -> LanesTold:
    """Keep events and join their lanes; the same event again changes nothing.

    A device tells several lanes at once, many devices every second: so this takes the same
    few statements for one event and for a hundred.

    Args:
        session: of the transaction.
        shootout_id: whose bench it is.
        events: key of the lane, kind of the event, and the lane as it was told.
    """
    if not events:
        return LanesTold((), came=False)
    # Each lane's row is made first and then locked, in one order: devices take turns.
    keys = sorted({key for key, _, _ in events})
    # Past the session, which would look through each statement for objects that it keeps.
    connection = session.connection()
    found = connection.execute(
        _KEEP,
        {
            "home": shootout_id,
            "events": _json(
                {"lane_key": key, "kind": kind, **_columns(state)} for key, kind, state in events
            ),
        },
    ).all()
    made = {key for key, _, _ in found if key is not None}
    added = {(client, seq) for key, client, seq in found if key is None}
    ids, before = {}, {}
    for row in connection.execute(_LOCKED, {"home": shootout_id, "keys": keys}):
        ids[row.lane_key] = str(row.id)
        before[row.lane_key] = LaneState(Stamp(row.at_ms, row.client, row.seq), from_json(row.lane))
    states = dict(before)
    marks: dict[str, dict[float, Any]] = {key: {} for key in keys}
    changed = set()
    for key, _, state in events:
        marks[key] |= {mark["elapsed_s"]: mark for mark in state.lane.get("marks", ())}
        if (state.stamp.client, state.stamp.seq) in added:
            states[key] = join_lanes(states[key], state)
            changed.add(key)
    shown = {key: _with_marks(states[key], marks[key]) for key in keys}
    if changed:
        news = _news(shootout_id, {key: shown[key] for key in sorted(changed)})
        connection.execute(
            _CHANGE_AND_TELL,
            {
                "lanes": _json(
                    {"id": ids[key], **_columns(states[key])} for key in sorted(changed)
                ),
                "channel": CHANNEL,
                "news": _json(news),
            },
        )
    back = (before[key].lane.get("phase") == GONE != states[key].lane.get("phase") for key in keys)
    return LanesTold(tuple(shown.values()), came=bool(made) or any(back))


def _json(values: Iterable[Any]) -> str:
    """Plain values as the database reads them; every device needs this every second."""
    return to_json(list(values)).decode()


def _columns(state: LaneState) -> dict[str, Any]:
    stamp = state.stamp
    return {"client": stamp.client, "seq": stamp.seq, "at_ms": stamp.at_ms, "lane": state.lane}


def _with_marks(state: LaneState, some: Mapping[float, Any]) -> LaneState:
    """A lane with those of its marks that are among some."""
    marks = [mark for mark in state.lane.get("marks", ()) if mark["elapsed_s"] in some]
    return replace(state, lane={**state.lane, "marks": marks})


def _news(shootout_id: UUID, lanes: Mapping[str, LaneState]) -> list[str]:
    """News of lanes: they themselves where that is short enough, else that they changed."""
    whole = [_columns(state) for state in lanes.values()]
    text_ = f"{shootout_id} {LANES}{_json(whole)}"
    if len(text_.encode()) <= _MOST_TOLD:
        return [text_]
    if len(lanes) > 1:
        return [each for key, state in lanes.items() for each in _news(shootout_id, {key: state})]
    return [f"{shootout_id} {LANE}{key}" for key in lanes]


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
        BenchLaneRow.shootout_id == shootout_id,
        BenchLaneRow.at_ms >= since_ms,
        BenchLaneRow.lane["phase"].as_string() != GONE,
    )
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


def _state(row: Any) -> LaneState:
    return LaneState(Stamp(row.at_ms, row.client, row.seq), row.lane)


def list_events(session: Session, shootout_id: UUID) -> tuple[records.BenchEvent, ...]:
    """List all events of a bench in the order of their moments."""
    rows = session.scalars(
        select(BenchEventRow)
        .where(BenchEventRow.shootout_id == shootout_id)
        .order_by(BenchEventRow.at_ms, BenchEventRow.client, BenchEventRow.seq)
    )
    return tuple(record_of(row, records.BenchEvent) for row in rows)
