"""A job that ends whoever does it is begun twice, and then says why it is not begun again."""

from __future__ import annotations

import asyncio
import threading
from collections.abc import Iterator, Mapping
from typing import Any

import pytest
from sqlalchemy import text

from tests.conftest import database_apart
from true_margin.launch.cluster import Cluster
from true_margin.store import queue
from true_margin.store.database import Database


@pytest.fixture(scope="module")
def own(cluster: Cluster) -> Iterator[Database]:
    with database_apart(cluster, "queue") as database:
        database.migrate()
        yield database


def lose(database: Database, times: int) -> int:
    """Leave a job behind as a process does that was lost while it did it for the nth time."""
    with database.transaction() as session:
        queue.put_job(session, "job", job_id="7")
        key = session.scalar(text("select max(id) from procrastinate_jobs"))
        session.execute(
            text(
                "update procrastinate_jobs set status = 'doing', worker_id = null, "
                "attempts = :lost where id = :key"
            ),
            {"lost": times - 1, "key": key},
        )
    return int(key or 0)


@pytest.mark.parametrize(("times", "begun", "told"), [(1, ["7"], []), (2, [], [("job", "7")])])
def test_a_job_that_lost_its_process(
    own: Database,
    monkeypatch: pytest.MonkeyPatch,
    times: int,
    begun: list[str],
    told: list[tuple[str, str]],
) -> None:
    monkeypatch.setattr(queue, "LOOK_FOR_LOST_S", 0.05)
    monkeypatch.setattr(queue, "POLL_S", 0.05)
    key = lose(own, times)
    done: list[str] = []
    heard: list[tuple[str, str]] = []

    async def run() -> None:
        ended = asyncio.Event()
        loop = asyncio.get_running_loop()

        def do(job_id: str) -> None:
            done.append(job_id)
            loop.call_soon_threadsafe(ended.set)

        def given_up(task: str, values: Mapping[str, Any]) -> None:
            heard.append((task, values["job_id"]))
            loop.call_soon_threadsafe(ended.set)

        await asyncio.wait_for(queue.work(own.url, {"job": do}, ended, "test", given_up), 30)

    # In a thread of its own: where pages are driven in this process too, its loop is theirs.
    thread = threading.Thread(target=asyncio.run, args=(run(),))
    thread.start()
    thread.join(60)
    assert (done, heard) == (begun, told)
    with own.transaction() as session:
        status = session.scalar(
            text("select status from procrastinate_jobs where id = :key"), {"key": key}
        )
    assert status in (None, "doing", "succeeded"), "it does not wait any more"
