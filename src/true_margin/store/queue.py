"""Work that waits in the database for a process that has time: put in, and taken out."""

from __future__ import annotations

import asyncio
import logging
from collections.abc import Callable, Mapping
from contextlib import suppress
from typing import Any

from procrastinate import App, PsycopgConnector, RetryStrategy, SyncPsycopgConnector
from procrastinate.jobs import Status
from sqlalchemy.orm import Session

QUEUE = "work"
TRIES, AGAIN_S = 5, 2
"""A job whose process was ended is tried again so often, after so many seconds."""
LOOK_FOR_LOST_S = 15.0
SIGN_OF_LIFE_S, LOST_AFTER_S = 5.0, 30.0
AT_ONCE = 3
"""Jobs that one process does at a time: a short one need not wait for a long one to end."""
POLL_S = 5.0
"""Jobs are told by the database; this is for one that was told while nobody listened."""
LOG = logging.getLogger("true_margin.queue")


def put_job(session: Session, task: str, **values: Any) -> None:
    """Put a job in, with the transaction or not at all.

    Args:
        session: of the transaction that the job belongs to.
        task: its name, one of those that the workers know.
        values: what it is given; plain values of JSON.
    """
    raw = session.connection().connection.driver_connection
    app = App(connector=SyncPsycopgConnector())
    app.configure_task(task, queue=QUEUE, connection=raw).defer(**values)


GivenUp = Callable[[str, Mapping[str, Any]], None]
MOST_LOST = 2
"""A job whose process is lost so often ends processes itself; it is not begun once more."""


async def work(
    url: str,
    tasks: Mapping[str, Callable[..., None]],
    ended: asyncio.Event,
    name: str,
    given_up: GivenUp = lambda _task, _values: None,
) -> None:
    """Take jobs out one after the other until told to end.

    A job whose process is gone is put in again by whichever process notices first.

    Args:
        url: of the database.
        tasks: what is done, by name; plain functions, each runs in a thread.
        ended: set when no more shall be taken.
        name: of this process in the library's tables.
        given_up: told of a job, by its task and what it was given, that is not begun again
            because its process was lost twice.
    """
    plain = url.replace("postgresql+psycopg://", "postgresql://", 1)
    app = App(connector=PsycopgConnector(conninfo=plain, min_size=1, max_size=3))
    for task, function in tasks.items():
        retry = RetryStrategy(max_attempts=TRIES, wait=AGAIN_S)
        app.task(name=task, queue=QUEUE, retry=retry)(function)
    async with app.open_async():
        worker = asyncio.create_task(
            app.run_worker_async(
                queues=[QUEUE],
                name=name,
                concurrency=AT_ONCE,
                install_signal_handlers=False,
                fetch_job_polling_interval=POLL_S,
                update_heartbeat_interval=SIGN_OF_LIFE_S,
                stalled_worker_timeout=LOST_AFTER_S,
                shutdown_graceful_timeout=2.0,
                delete_jobs="successful",
            )
        )
        looking = asyncio.create_task(_look_for_lost(app, given_up))
        waiting = asyncio.create_task(ended.wait())
        try:
            await asyncio.wait({worker, waiting}, return_when=asyncio.FIRST_COMPLETED)
        finally:
            for task_ in (worker, looking, waiting):
                task_.cancel()
            for task_ in (worker, looking, waiting):
                with suppress(asyncio.CancelledError):
                    await task_


async def _look_for_lost(app: App, given_up: GivenUp) -> None:
    """Put jobs in again whose worker has given no sign of life, once."""
    while True:
        await asyncio.sleep(LOOK_FOR_LOST_S)
        for job in await app.job_manager.get_stalled_jobs(seconds_since_heartbeat=LOST_AFTER_S):
            if job.attempts + 1 < MOST_LOST:
                LOG.warning("job %s lost its process: put in again", job.id)
                await app.job_manager.retry_job(job)
                continue
            LOG.error("job %s lost its process again: given up", job.id)
            await asyncio.to_thread(given_up, job.task_name, job.task_kwargs)
            await app.job_manager.finish_job(job, Status.FAILED, delete_job=True)
