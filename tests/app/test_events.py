"""Events: a device that listens hears of a change, and a server that ends lets it go."""

from __future__ import annotations

from collections.abc import Iterator

import httpx2

from tests.browser.serving import serving
from tests.desk.helpers import new_bench
from true_margin.launch.cluster import Cluster
from true_margin.store.database import Database


def revisions(answer: httpx2.Response) -> Iterator[int]:
    for line in answer.iter_lines():
        if line.startswith("data: "):
            yield int(line.removeprefix("data: "))


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
