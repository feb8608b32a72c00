"""The bench between devices: events come in, lanes as they stand go out."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from true_margin.core.lanes import GONE, LaneState, Stamp
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import bench, shootouts
from true_margin.store.database import Database

AHEAD_MS = 2000.0
"""An event may be this far ahead of the server's clock; beyond, it counts as of now."""
KEPT_MS = 3 * 24 * 3_600_000.0
"""Lanes that nobody touched for so long are not shown any more; their runs are in the book."""
MOST_LANES = 40
"""Lanes that may stand on one bench at a time; those that are gone do not count."""
GONE_SHOWN = 40


@dataclass(frozen=True, slots=True)
class NewEvent:
    """An event of a lane as a device tells it; ``at_ms`` on the server's clock."""

    client: str
    seq: int
    kind: str
    at_ms: float
    lane: Mapping[str, Any]


@dataclass(frozen=True, slots=True)
class SharedLane:
    """A lane as it stands, with the stamp of its newest event."""

    at_ms: float
    client: str
    seq: int
    lane: dict[str, Any]


@dataclass(frozen=True, slots=True)
class SharedBench:
    """All lanes of a bench as they stand, and the server's clock."""

    lanes: tuple[SharedLane, ...]
    now_ms: float


def put_events(database: Database, slug: str, events: Sequence[NewEvent]) -> SharedBench:
    """Keep events of lanes, in any order and however often they come.

    A lane that comes without a digit gets the lowest free one here, so that all devices
    show the same.

    Returns:
        The lanes that were told of, as they stand now, with those of their marks that were
        told: whoever told them has the others, or hears of them.

    Raises:
        RefusedError: a setup or task is not in this shootout, or the bench is full; nothing
            is kept.
    """
    book = SHELF.taken_lately(database, slug)
    if book is None or _unknown(book, events) is not None:
        book = SHELF.take(database, slug)
        refusal = _unknown(book, events)
        if refusal is not None:
            raise refusal
    latest = database.clocks.bench_ms() + AHEAD_MS
    with transaction(database) as session:
        home = book.shootout.id
        known: Sequence[LaneState] | None = None
        told = []
        for event in sorted(events, key=lambda each: str(each.lane["id"])):
            stamp = Stamp(min(event.at_ms, latest), event.client, event.seq)
            lane = dict(event.lane)
            if lane.get("number") is None:
                known = known or bench.list_lanes(session, home, _since(database))
                lane["number"] = _digit(known, str(lane["id"]))
                # The next one without a digit of this call must not get the same.
                known = (*known, LaneState(stamp, lane))
            told.append((str(lane["id"]), event.kind, LaneState(stamp, lane)))
        kept = bench.put_events(session, home, told)
        if kept.came and bench.count_standing(session, home, _since(database)) > MOST_LANES:
            reason = f"A bench holds {MOST_LANES} lanes at a time: take some away first."
            raise RefusedError("events", reason)
    return SharedBench(tuple(_shared(state) for state in kept.lanes), database.clocks.bench_ms())


def _unknown(book: Book, events: Sequence[NewEvent]) -> RefusedError | None:
    """What to say of a setup or task that is not in a book; None where all are."""
    for event in events:
        if UUID(str(event.lane["setup_id"])) not in book.setup_index:
            return RefusedError("setup_id", "This setup is not in this shootout's line-up.")
        tasks = (event.lane["task_id"], *event.lane["queue"])
        if any(UUID(str(task)) not in book.task_index for task in tasks):
            return RefusedError("task_id", "This task is not timed in this shootout.")
    return None


def _digit(states: Sequence[LaneState], lane_key: str) -> int:
    """The digit that a lane has already, or the lowest that no standing lane has."""
    known = next((s.lane for s in states if s.lane["id"] == lane_key), None)
    if known is not None and known.get("number"):
        return int(known["number"])
    taken = {state.lane.get("number") for state in states if not _is_gone(state)}
    return next(n for n in range(1, len(states) + 2) if n not in taken)


def _since(database: Database) -> float:
    return database.clocks.bench_ms() - KEPT_MS


def _is_gone(state: LaneState) -> bool:
    return state.lane.get("phase") == GONE


def show_lanes(database: Database, slug: str) -> SharedBench:
    """Give the lanes of a bench as they stand; those that are gone say so."""
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        states = bench.list_lanes(session, home, _since(database))
    newest = sorted(states, key=lambda state: state.stamp, reverse=True)
    standing = [state for state in newest if not _is_gone(state)]
    # A device that was away must hear of those that were taken away meanwhile.
    gone = [state for state in newest if _is_gone(state)][:GONE_SHOWN]
    return SharedBench(
        tuple(_shared(state) for state in (*standing, *gone)), database.clocks.bench_ms()
    )


def some_lanes(
    database: Database, shootout_id: UUID, lane_keys: Sequence[str]
) -> dict[str, SharedLane]:
    """Give some lanes as they stand, by their keys."""
    with transaction(database) as session:
        states = bench.list_lanes(session, shootout_id, 0.0, lane_keys)
    return {str(state.lane["id"]): _shared(state) for state in states}


def _shared(state: LaneState) -> SharedLane:
    stamp = state.stamp
    return SharedLane(stamp.at_ms, stamp.client, stamp.seq, dict(state.lane))


def clear_rigs(database: Database) -> int:
    """Take simulated rigs off every bench: their program ended with the app before.

    One that lives on tells its next event, and stands there again.

    Returns:
        How many stood there.
    """
    at = database.clocks.bench_ms()
    with transaction(database) as session:
        found = bench.list_rig_lanes(session)
        for place, (home, state) in enumerate(found):
            stamp = Stamp(at, f"start-{at:.0f}", place)
            lane = {**state.lane, "phase": GONE}
            bench.put_events(session, home, [(str(lane["id"]), "removed", LaneState(stamp, lane))])
    return len(found)


def export_log(database: Database, slug: str) -> str:
    """Give all events of a bench as JSON lines, with the names of what was timed."""
    book = SHELF.take(database, slug)
    labels = {str(setup.id): setup.label for setup in book.setups}
    names = {str(task.id): task.name for task in book.tasks}
    with transaction(database) as session:
        events = bench.list_events(session, book.shootout.id)
    lines = []
    for event in events:
        lane = event.lane
        lines.append(
            json.dumps(
                {
                    "event": event.kind,
                    "client": event.client,
                    "seq": event.seq,
                    "at_ms": event.at_ms,
                    "shootout": slug,
                    "setup": labels.get(str(lane["setup_id"])),
                    "task": names.get(str(lane["task_id"])),
                    "lane": lane,
                },
                ensure_ascii=False,
            )
        )
    return "".join(f"{line}\n" for line in lines)
