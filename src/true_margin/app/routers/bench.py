"""Bench: what a lane needs to know, and what to run next."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import Query, Request, Response
from fastapi.concurrency import run_in_threadpool
from pydantic import TypeAdapter

from true_margin.app.answers.bench import BenchView
from true_margin.app.answers.publish import Link
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, Person, WhoHere, own_address
from true_margin.app.device_log import read_device_log
from true_margin.app.downloads import attachment
from true_margin.app.run_requests import LaneEvents, LogText, RunningMarks, WantedRigs
from true_margin.desk.bench import bench, lanes, overlay, rigs
from true_margin.desk.bench import log as bench_log
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.verdicts import SaidNow
from true_margin.store.editions import Link as KeptLink

router = stage_router("bench")
LOG_MEDIA = "application/x-ndjson"


@router.get("/shootouts/{slug}/bench", response_model=BenchView)
def show_bench(slug: str, database: DatabaseHere) -> bench.BenchView:
    """Show the open round and the best so far of each task."""
    return bench.show_bench(database, slug)


@router.post("/shootouts/{slug}/bench/pace")
def read_pace(slug: str, body: RunningMarks, database: DatabaseHere) -> bench.Pace:
    """Say what the marks of a running run mean; stores nothing."""
    marks = [(mark.elapsed_s, mark.fraction) for mark in body.marks]
    return bench.read_pace(database, slug, body.task_id, marks)


@router.get("/shootouts/{slug}/sitting")
def show_sitting(
    slug: str,
    database: DatabaseHere,
    minutes: Annotated[float, Query(gt=0, le=1440, description="Minutes you have, in minutes")],
    setup: Annotated[list[UUID] | None, Query(max_length=200)] = None,
    change_over: Annotated[
        float, Query(ge=0, le=600, description="Minutes that a change-over takes")
    ] = bench.CHANGE_OVER_MIN,
    side_by_side: Annotated[
        bool, Query(description="Whether machines that share nothing run at the same time")
    ] = False,
) -> bench.SittingView:
    """Propose a sitting that fits a time budget and settles as much as it can."""
    return bench.show_sitting(
        database, slug, minutes, setup or [], change_over, side_by_side=side_by_side
    )


@router.get("/clock")
async def read_clock(database: DatabaseHere) -> dict[str, float]:
    """Give the bench's clock in ms, so that a device can place its presses.

    It began with the wall clock at the start of the machine, and never jumps.
    """
    if not database.clocks.bench_known:
        await run_in_threadpool(database.clocks.bench_ms)
    return {"now_ms": database.clocks.bench_ms()}


@router.get("/shootouts/{slug}/bench/lanes")
def show_lanes(slug: str, database: DatabaseHere) -> lanes.SharedBench:
    """Show the lanes of the bench as all devices have left them."""
    return lanes.show_lanes(database, slug)


_BENCH = TypeAdapter(lanes.SharedBench)


@router.post("/shootouts/{slug}/bench/events", response_model=lanes.SharedBench)
def put_events(slug: str, body: LaneEvents, database: DatabaseHere) -> Response:
    """Keep events of lanes, however late and however often they come; gives those lanes."""
    events = [
        lanes.NewEvent(
            each.client,
            each.seq,
            each.kind,
            each.at_ms,
            each.lane.model_dump(mode="json", exclude_none=True),
        )
        for each in body.events
    ]
    # Written here, in the thread that has it: every device asks for it every second.
    told = _BENCH.dump_json(lanes.put_events(database, slug, events))
    return Response(told, media_type="application/json")


@router.get(
    "/shootouts/{slug}/bench/log",
    response_class=Response,
    responses={200: {"content": {LOG_MEDIA: {}}}},
)
def export_log(slug: str, database: DatabaseHere) -> Response:
    """Give every event of the bench as JSON lines."""
    text = lanes.export_log(database, slug)
    return Response(text, media_type=LOG_MEDIA, headers=attachment(f"{slug}-bench.jsonl"))


@router.post("/shootouts/{slug}/bench/log", status_code=201)
def bring_in_log(
    slug: str, body: LogText, database: DatabaseHere, who: Person
) -> bench_log.LogBroughtIn:
    """Bring in the log of a device that was dropped or cut off, or of a watcher."""
    return bench_log.bring_in(database, slug, read_device_log(body.text), who)


@router.post("/shootouts/{slug}/bench/rigs", status_code=201)
def put_rigs(
    slug: str, body: WantedRigs, request: Request, database: DatabaseHere, who: WhoHere
) -> rigs.RigsOnBench:
    """Put simulated rigs on the bench of a demo; they report as watchers do."""
    programs = request.app.state.rigs
    if slug in programs and programs[slug].poll() is None:
        reason = "Simulated rigs stand on this bench already: take their lanes away first."
        raise RefusedError("slug", reason)
    put, programs[slug] = rigs.put_rigs(
        database, slug, own_address(request), body.factor, body.task_id, who
    )
    return put


@router.get("/shootouts/{slug}/bench/overlays", response_model=list[Link])
def list_overlays(slug: str, database: DatabaseHere) -> list[KeptLink]:
    """List the links to the race as it runs."""
    return list(overlay.list_links(database, slug))


@router.post("/shootouts/{slug}/bench/overlays", status_code=201, response_model=list[Link])
def make_overlay(slug: str, database: DatabaseHere) -> list[KeptLink]:
    """Make another link to the race as it runs."""
    return list(overlay.make_link(database, slug))


@router.put("/shootouts/{slug}/bench/overlays/{link_id}/revoked", response_model=list[Link])
def revoke_overlay(slug: str, link_id: UUID, database: DatabaseHere) -> list[KeptLink]:
    """Turn a link to the race off for ever."""
    return list(overlay.revoke_link(database, slug, link_id))


@router.get("/shootouts/{slug}/bench/said/{client_key}")
def show_said(slug: str, client_key: str, database: DatabaseHere) -> SaidNow | None:
    """Say what the run of a lane means now, and what one more run would do."""
    return bench.said_of(database, slug, client_key)
