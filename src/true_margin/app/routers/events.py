"""Events: other devices hear of a change as soon as it is kept."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Callable
from uuid import UUID

from fastapi import Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse

from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere
from true_margin.app.lane_feed import LaneFeed, revision_event
from true_margin.app.metrics import STREAMS
from true_margin.desk.shootouts import shootouts
from true_margin.store.database import Database

router = stage_router("events")
STILL_HERE_S = 15.0
LOOK_S = 0.5


@router.get("/shootouts/{slug}/events", response_class=StreamingResponse)
async def follow(slug: str, request: Request, database: DatabaseHere) -> StreamingResponse:
    """Send the new revision each time the shootout changes, and each lane that was pressed."""
    shootout = await run_in_threadpool(shootouts.get_shootout, database, slug)
    state = request.app.state
    return StreamingResponse(
        _events(database, state.lane_feed, state.ending, slug, shootout.id),
        media_type="text/event-stream",
        headers={"Cache-Control": "no-cache", "X-Accel-Buffering": "no"},
    )


async def _events(
    database: Database, feed: LaneFeed, ending: Callable[[], bool], slug: str, shootout_id: UUID
) -> AsyncIterator[str]:
    heard, leave = feed.follow(shootout_id)
    STREAMS.inc()
    try:
        # Read after the subscription: a change between the two would never be told.
        found = await run_in_threadpool(shootouts.get_shootout, database, slug)
        yield revision_event(found.revision)
        quiet_s = 0.0
        # A server that is about to end would wait for its open pages, which never leave.
        while not ending():
            try:
                told = await asyncio.wait_for(heard.get(), LOOK_S)
                # What came together goes together.
                while not heard.empty():
                    told += heard.get_nowait()
                yield told
                quiet_s = 0.0
            except TimeoutError:
                quiet_s += LOOK_S
                if quiet_s >= STILL_HERE_S:
                    # A comment: it keeps the connection, and finds out when nobody is there.
                    yield ": still here\n\n"
                    quiet_s = 0.0
    finally:
        STREAMS.dec()
        leave()
