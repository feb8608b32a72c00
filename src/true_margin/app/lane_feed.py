"""What the database tells, made ready once for all pages that follow the same shootout."""

from __future__ import annotations

import asyncio
import json
import logging
from collections import defaultdict
from collections.abc import Callable
from contextlib import suppress
from dataclasses import asdict
from uuid import UUID

from fastapi.concurrency import run_in_threadpool

from true_margin.desk.bench import lanes
from true_margin.desk.errors import DeskError
from true_margin.store.database import Database
from true_margin.store.news import EVERYTHING, LANE, LANES, News

GATHER_S = 0.05
"""News of lanes that come within so long are read together; nobody sees the difference."""
MOST_WAITING = 1000
"""A page that takes nothing for so long is told that anything may have changed instead."""
LOG = logging.getLogger("true_margin.events")


def revision_event(revision: int) -> str:
    """The event that says which revision a shootout has; 0 where anything may have changed."""
    return f"event: revision\ndata: {revision}\n\n"


def lanes_event(message: str) -> str:
    """The event that tells lanes, written as JSON, as they stand; of their marks the new ones."""
    return f"event: lanes\ndata: {message}\n\n"


class LaneFeed:
    """Passes on lanes that were told, and reads once what was too much to tell."""

    def __init__(self, database: Database, news: News) -> None:
        """Prepare to follow; nothing happens before somebody follows.

        Args:
            database: where lanes are read.
            news: what tells of them.
        """
        self._database = database
        self._news = news
        self._pages: dict[str, set[asyncio.Queue[str]]] = defaultdict(set)
        self._pressed: dict[str, set[str]] = defaultdict(set)
        self._loop: asyncio.AbstractEventLoop | None = None
        self._reading: asyncio.Task[None] | None = None
        self._stop: Callable[[], None] = lambda: None

    def follow(self, shootout_id: UUID) -> tuple[asyncio.Queue[str], Callable[[], None]]:
        """Follow a shootout: gives the queue of its events, and the way to leave."""
        loop = asyncio.get_running_loop()
        if self._loop is not loop:
            self._stop()
            self._loop, self._reading = loop, None
            self._stop = self._news.subscribe(self._hear)
        heard: asyncio.Queue[str] = asyncio.Queue()
        home = str(shootout_id)
        self._pages[home].add(heard)

        def leave() -> None:
            self._pages[home].discard(heard)
            if not self._pages[home]:
                del self._pages[home]

        return heard, leave

    def _hear(self, message: str) -> None:
        """Called in the thread that listens; the loop may have ended a moment before."""
        if self._loop is not None:
            with suppress(RuntimeError):
                self._loop.call_soon_threadsafe(self._take, message)

    def _take(self, message: str) -> None:
        home, _, told = message.partition(" ")
        if home == EVERYTHING:
            for known in tuple(self._pages):
                self._give(known, revision_event(0))
        elif home not in self._pages:
            return
        elif told.startswith(LANES):
            self._give(home, lanes_event(told.removeprefix(LANES)))
        elif told.startswith(LANE):
            self._pressed[home].add(told.removeprefix(LANE))
            if self._reading is None or self._reading.done():
                self._reading = asyncio.ensure_future(self._read())
        else:
            self._give(home, revision_event(int(told)))

    def _give(self, home: str, event: str) -> None:
        for page in self._pages.get(home, ()):
            if page.qsize() < MOST_WAITING:
                page.put_nowait(event)
            else:
                while not page.empty():
                    page.get_nowait()
                page.put_nowait(revision_event(0))

    async def _read(self) -> None:
        while self._pressed:
            await asyncio.sleep(GATHER_S)
            pressed, self._pressed = self._pressed, defaultdict(set)
            for home, keys in pressed.items():
                try:
                    found = await run_in_threadpool(
                        lanes.some_lanes, self._database, UUID(home), sorted(keys)
                    )
                except DeskError:
                    # The database is away: once it is back, everything is asked for again.
                    LOG.warning("lanes could not be read; pages ask again")
                    self._give(home, revision_event(0))
                    continue
                told = [asdict(lane) for lane in found.values()]
                self._give(home, lanes_event(json.dumps(told, separators=(",", ":"))))
