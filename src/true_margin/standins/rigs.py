"""Simulated rigs as a small program of its own: they stand on the bench and time themselves.

They report as watchers do, over HTTP, and send a run again until it is stored. Orders come
as JSON on the standard input; the program ends when its lanes are gone or nothing happens.
"""

from __future__ import annotations

import json
import sys
import time
from dataclasses import asdict, dataclass
from threading import Thread
from typing import Any

import numpy as np

from true_margin.standins.rig_model import Export, Rig, run_export
from true_margin.watcher.calls import AwayError, SendError
from true_margin.watcher.live import LiveLane
from true_margin.watcher.log import WatchedRun
from true_margin.watcher.send import Server

LOOK_S = 0.2
IDLE_END_S = 1800.0
AWAY_END_S = 30.0
POLL_S = 0.05


@dataclass(frozen=True, slots=True)
class Order:
    """A rig to put on a bench."""

    setup_id: str
    task_id: str
    rig: Rig
    factor: float
    seed: int


def write_orders(address: str, shootout: str, orders: list[Order], token: str | None = None) -> str:
    """Write what ``main`` reads; ``token`` lets the rigs in where people sign in."""
    return json.dumps(
        {
            "address": address,
            "shootout": shootout,
            "token": token,
            "orders": [asdict(order) for order in orders],
        }
    )


def main() -> None:
    """Run the rigs that the standard input orders."""
    wanted = json.load(sys.stdin)
    with Server(wanted["address"], wanted["token"]) as server:
        threads = [
            Thread(target=stand, args=(server, wanted["shootout"], _order(each)))
            for each in wanted["orders"]
        ]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()


def _order(fields: dict[str, Any]) -> Order:
    return Order(**{**fields, "rig": Rig(**fields["rig"])})


def stand(server: Server, shootout: str, order: Order) -> None:
    """Stand on the bench as one lane until it is taken away."""
    rng = np.random.default_rng(order.seed)
    lane = LiveLane(
        server,
        shootout,
        order.setup_id,
        order.task_id,
        "rig",
        f"rig-{rng.bytes(8).hex()}",
        order.factor,
    )
    server.place_clock()
    lane.armed()
    first, done = True, ""
    heard = worked = time.monotonic()
    while True:
        time.sleep(LOOK_S)
        seen, now = _fetch_lane(server, shootout, lane.lane_id), time.monotonic()
        if seen is None:
            if now - heard > AWAY_END_S:
                return
            continue
        heard = now
        if seen["phase"] == "gone":
            return
        if now - worked > IDLE_END_S:
            lane.gone()
            return
        if seen["phase"] != "running" or seen["key"] == done:
            continue
        lane.take(seen)
        export = run_export(order.rig, rng, first=first)
        first = False
        if _work(server, shootout, lane, export, order.factor):
            _send(server, shootout, lane, export)
        done, worked = lane.key, time.monotonic()


def _fetch_lane(server: Server, shootout: str, lane_id: str) -> dict[str, Any] | None:
    """The lane as it stands; None while the server is away."""
    try:
        return server.read_lane(shootout, lane_id) or {"phase": "gone"}
    except SendError:
        return None


def _work(server: Server, shootout: str, lane: LiveLane, export: Export, factor: float) -> bool:
    """Export in simulated time; False where a person voided the run meanwhile."""
    began = time.monotonic() - max(0.0, server.now_ms() - lane.started_ms) / 1000.0
    for mark in export.marks:
        if not _wait(server, shootout, lane, began + mark["elapsed_s"] / factor):
            return False
        lane.mark(**mark)
    if not _wait(server, shootout, lane, began + export.elapsed_s / factor):
        return False
    if export.reason is None:
        lane.stopped(export.elapsed_s)
    else:
        lane.failed(export.elapsed_s)
    return True


def _wait(server: Server, shootout: str, lane: LiveLane, until: float) -> bool:
    """Wait; False as soon as the lane is no longer of this run."""
    while (left := until - time.monotonic()) > 0:
        time.sleep(min(left, 1.0))
        if left > 1.0:
            seen = _fetch_lane(server, shootout, lane.lane_id)
            if seen is not None and (seen["phase"] == "gone" or seen.get("key") != lane.key):
                return False
    return True


def _send(server: Server, shootout: str, lane: LiveLane, export: Export) -> None:
    run = WatchedRun(
        client_key=lane.key,
        shootout=shootout,
        setup=lane.setup_id,
        task=lane.task_id,
        poll_s=POLL_S,
        started_at=None,
        elapsed_s=export.elapsed_s,
        status="ok" if export.reason is None else "failed",
        reason=export.reason,
        marks=tuple(lane.marks),
        simulated=True,
        reached=None if export.reason is None else round(export.reached, 3),
    )
    deadline = time.monotonic() + IDLE_END_S
    while time.monotonic() < deadline:
        try:
            server.send(run)
            return
        except AwayError:
            time.sleep(1.0)
        except SendError as error:
            sys.stderr.write(f"A simulated run was refused: {error}\n")
            return


if __name__ == "__main__":
    main()
