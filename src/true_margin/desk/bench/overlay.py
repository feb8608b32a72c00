"""The race as it runs, for whoever has a link to it: names, times and marks, nothing else."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from true_margin.core.choices import LinkOpens
from true_margin.desk.bench.lanes import show_lanes
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.publish.looks import MARK_SHAPES
from true_margin.store import editions, shootouts
from true_margin.store.database import Database
from true_margin.store.editions import Link

TOKEN_BYTES = 18
MOST_LINKS = 12


@dataclass(frozen=True, slots=True)
class RunningLane:
    """A lane of a race; ``marks`` are seconds after its start with the part done, 0 to 1.

    ``started_ms`` is on the server's clock; ``elapsed_s`` its time once it is done. ``factor``
    is how much faster than life a simulated rig runs.
    """

    label: str
    task: str
    mark: int
    shape: str
    phase: str
    started_ms: float
    elapsed_s: float | None
    factor: float
    marks: tuple[tuple[float, ...], ...]


@dataclass(frozen=True, slots=True)
class RunningRace:
    """All lanes that stand on a bench, in the order of their digits, and the server's clock."""

    lanes: tuple[RunningLane, ...]
    now_ms: float


def list_links(database: Database, slug: str) -> tuple[Link, ...]:
    """List the links to the race of a shootout, newest first; revoked ones too."""
    home = SHELF.take(database, slug).shootout.id
    with transaction(database) as session:
        return editions.list_links(session, home, LinkOpens.RACE)


def make_link(database: Database, slug: str) -> tuple[Link, ...]:
    """Make another link to the race of a shootout.

    Raises:
        RefusedError: there are as many as there may be.
    """
    home = SHELF.take(database, slug).shootout.id
    with transaction(database) as session:
        there = editions.list_links(session, home, LinkOpens.RACE)
        if sum(link.revoked_at is None for link in there) >= MOST_LINKS:
            raise RefusedError("link", f"{MOST_LINKS} links are the most: turn one off first.")
        editions.add_link(session, home, secrets.token_urlsafe(TOKEN_BYTES), LinkOpens.RACE)
    return list_links(database, slug)


def revoke_link(database: Database, slug: str, link_id: UUID) -> tuple[Link, ...]:
    """Turn a link off for ever."""
    home = SHELF.take(database, slug).shootout.id
    with transaction(database) as session:
        editions.revoke_link(session, home, link_id, datetime.now(UTC))
    return list_links(database, slug)


def race_now(database: Database, token: str) -> RunningRace:
    """Give the race behind a link as it stands.

    Raises:
        NotFoundError: there is no such link, or it was turned off.
    """
    with transaction(database) as session:
        link = editions.find_link(session, token, LinkOpens.RACE)
        if link is None:
            raise NotFoundError("There is no such link.")
        slug = shootouts.slug_of(session, link.shootout_id)
    book = SHELF.taken_lately(database, slug) or SHELF.take(database, slug)
    bench = show_lanes(database, slug)
    lanes = [each.lane for each in bench.lanes if each.lane["phase"] != "gone"]
    lanes.sort(key=lambda lane: lane.get("number") or 0)
    shown = (_lane(book, lane) for lane in lanes)
    return RunningRace(tuple(each for each in shown if each is not None), bench.now_ms)


def _lane(book: Book, lane: Mapping[str, Any]) -> RunningLane | None:
    place = book.setup_index.get(UUID(str(lane["setup_id"])))
    task = next((each for each in book.tasks if str(each.id) == str(lane["task_id"])), None)
    if place is None or task is None:
        return None
    setup = book.setups[place]
    marks = [
        (float(mark["elapsed_s"]), float(mark["fraction"]))
        for mark in lane.get("marks", ())
        if mark.get("fraction") is not None and not mark.get("withdrawn")
    ]
    elapsed = lane.get("elapsed_s")
    return RunningLane(
        setup.label,
        task.name,
        setup.mark % 8,
        MARK_SHAPES[(setup.mark + setup.mark // 8) % 8],
        str(lane["phase"]),
        float(lane.get("started_ms") or 0.0),
        None if elapsed is None or lane["phase"] != "stopped" else float(elapsed),
        float(lane.get("factor") or 1.0),
        tuple(sorted(marks)),
    )
