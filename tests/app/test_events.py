"""Events: a device that listens hears of a change, and a server that ends lets it go."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from typing import Any

import httpx2

from tests.browser.serving import serving
from tests.desk.helpers import new_bench
from true_margin.desk.bench import lanes
from true_margin.launch.cluster import Cluster
from true_margin.store.database import Database


def revisions(answer: httpx2.Response) -> Iterator[int]:
    for line in answer.iter_lines():
        if line.startswith("data: "):
            yield int(line.removeprefix("data: "))


def lanes_told(lines: Iterator[str], most: int) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = []
    while len(found) < most:
        if next(lines) == "event: lanes":
            found += json.loads(next(lines).removeprefix("data: "))
    return found


def test_lanes_are_told_with_their_new_marks_whatever_their_size(
    cluster: Cluster, database: Database
) -> None:
    bench = new_bench(database, "Lanes told")

    def event(seq: int, name: str, marks: list[dict[str, Any]]) -> lanes.NewEvent:
        lane = {
            "id": f"lane {name}",
            "setup_id": str(bench.setups["A"]),
            "queue": [],
            "task_id": str(bench.tasks["Parade"]),
            "key": f"the run of {name}",
            "phase": "running",
            "number": seq,
            "marks": marks,
        }
        return lanes.NewEvent("the desk", seq, "mark", time.time() * 1000.0, lane)

    short = [{"elapsed_s": 1.0, "fraction": 0.1, "event": "lüfter läuft"}]
    # More than one piece of news can hold: whoever follows gets it all the same.
    long = [{"elapsed_s": float(at), "event": "x" * 100} for at in range(200)]
    with serving(cluster.url) as address:
        path = f"{address}/api/v1/shootouts/{bench.slug}/events"
        with httpx2.stream("GET", path, timeout=30) as answer:
            lines = answer.iter_lines()
            for seq, (name, marks) in enumerate((("one", short), ("two", long)), start=1):
                lanes.put_events(database, bench.slug, [event(seq, name, marks)])
                (told,) = lanes_told(lines, 1)
                assert (told["lane"]["id"], told["lane"]["marks"]) == (f"lane {name}", marks)
            later = [{"elapsed_s": 2.0, "fraction": 0.2}]
            lanes.put_events(database, bench.slug, [event(3, "one", later), event(4, "two", [])])
            first, second = lanes_told(lines, 2)
            assert (first["seq"], first["lane"]["marks"]) == (3, later)
            assert (second["seq"], second["lane"]["marks"]) == (4, [])


def test_a_change_is_told_and_an_ending_server_lets_go(
    cluster: Cluster, database: Database
) -> None:
    bench = new_bench(database, "Events")
    with serving(cluster.url) as address:
        path = f"{address}/api/v1/shootouts/{bench.slug}/events"
        stream = httpx2.stream("GET", path, timeout=30)
        answer = stream.__enter__()
        assert answer.headers["content-type"].startswith("text/event-stream")
        told = revisions(answer)
        first = next(told)
        bench.run("A", "6:10")
        later = next(told)
        # News that was on its way when the device began to listen may come twice.
        assert later == first + 1 or next(told) == first + 1
        missing = httpx2.get(f"{address}/api/v1/shootouts/nowhere/events", timeout=30)
        assert missing.status_code == 404
    # The open stream ended with the server; otherwise this would wait until it times out.
    assert list(told) == []
    stream.__exit__(None, None, None)
