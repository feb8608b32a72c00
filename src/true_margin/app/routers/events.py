"""Events: other devices hear of a change as soon as it is kept."""

from __future__ import annotations

import asyncio
import json
from collections.abc import AsyncIterator, Callable
from contextlib import suppress
from dataclasses import asdict
from uuid import UUID

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.responses import StreamingResponse

from true_margin.app.context import DatabaseHere
from true_margin.app.metrics import STREAMS
from true_margin.desk import lanes, shootouts
from true_margin.store.database import Database
from true_margin.store.news import EVERYTHING, News

router = APIRouter(tags=["events"])
LANE = "lane "
STILL_HERE_S = 15.0
LOOK_S = 0.5


@router.get("/shootouts/{slug}/events", response_class=StreamingResponse)
async def follow(slug: str, request: Request, database: DatabaseHere) -> StreamingResponse:
    """Send the new revision each time the shootout changes, and each lane that was pressed."""
    shootout = await run_in_threadpool(shootouts.get_shootout, database, slug)
    state = request.app.state
    return StreamingResponse(
        _events(database, state.news, state.ending, slug, shootout.id),
        media_type="text/event-stream",
        headers={"Cache-Control": "no-cache", "X-Accel-Buffering": "no"},
    )


async def _events(
    database: Database, news: News, ending: Callable[[], bool], slug: str, shootout_id: UUID
) -> AsyncIterator[str]:
    heard: asyncio.Queue[str] = asyncio.Queue()
    loop = asyncio.get_running_loop()

    def hear(each: str) -> None:
        # The loop may have ended a moment before the subscription does.
        with suppress(RuntimeError):
            loop.call_soon_threadsafe(heard.put_nowait, each)

    unsubscribe = news.subscribe(hear)
    STREAMS.inc()
    try:
        # Read after the subscription: a change between the two would never be told.
        yield _event((await run_in_threadpool(shootouts.get_shootout, database, slug)).revision)
        quiet_s = 0.0
        # A server that is about to end would wait for its open pages, which never leave.
        while not ending():
            try:
                about, _, told = (await asyncio.wait_for(heard.get(), LOOK_S)).partition(" ")
            except TimeoutError:
                quiet_s += LOOK_S
                if quiet_s >= STILL_HERE_S:
                    # A comment: it keeps the connection, and finds out when nobody is there.
                    yield ": still here\n\n"
                    quiet_s = 0.0
                continue
            if about == EVERYTHING:
                yield _event(0)
            elif about == str(shootout_id) and told.startswith(LANE):
                lane = await run_in_threadpool(
                    lanes.show_lane, database, shootout_id, told.removeprefix(LANE)
                )
                if lane is not None:
                    yield f"event: lane\ndata: {json.dumps(asdict(lane))}\n\n"
            elif about == str(shootout_id):
                yield _event(int(told))
    finally:
        STREAMS.dec()
        unsubscribe()


def _event(revision: int) -> str:
    return f"event: revision\ndata: {revision}\n\n"
