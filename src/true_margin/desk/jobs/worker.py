"""Work beside the requests: a thread that takes jobs out of the queue and does them."""

from __future__ import annotations

import asyncio
import logging
import os
import threading
from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

from true_margin.desk.jobs import jobs
from true_margin.desk.publish import clips, reports
from true_margin.store.database import Database
from true_margin.store.queue import work

AGAIN_S = 2.0
ENDS_WITHIN_S = 5.0
LOG = logging.getLogger("true_margin.queue")


class Worker:
    """Does what waits in the queue, until it is told to end.

    Any number may work on one database, in any processes on any machines.
    """

    def __init__(self, database: Database) -> None:
        """Prepare to work; nothing happens before ``start``.

        Args:
            database: whose queue it is.
        """
        self._database = database
        self._ending = threading.Event()
        self._thread = threading.Thread(target=self._run, daemon=True, name="worker")
        self._tell: Callable[[], None] = lambda: None

    def start(self) -> None:
        """Begin."""
        self._thread.start()

    def close(self) -> None:
        """Take no more; what is being done is given back to be done again."""
        self._ending.set()
        self._tell()
        if self._thread.is_alive():
            self._thread.join(ENDS_WITHIN_S)

    def join(self) -> None:
        """Wait until it has ended."""
        self._thread.join()

    def _run(self) -> None:
        while not self._ending.is_set():
            try:
                asyncio.run(self._work())
            except Exception:
                # The database is away, or was: what waits is kept there.
                LOG.warning("the queue cannot be reached; trying again", exc_info=True)
            self._ending.wait(AGAIN_S)

    def _given_up(self, task: str, values: Mapping[str, Any]) -> None:
        if task == jobs.JOB:
            jobs.give_up(self._database, values["job_id"])
        elif task == clips.JOB:
            clips.give_up(self._database, values["clip_id"])
        else:
            reports.give_up(self._database, values["report_id"])

    async def _work(self) -> None:
        ended = asyncio.Event()
        loop = asyncio.get_running_loop()

        def tell() -> None:
            loop.call_soon_threadsafe(ended.set)

        self._tell = tell
        if self._ending.is_set():
            return
        try:
            tasks = {
                reports.JOB: partial(reports.make_report, self._database, self._ending.is_set),
                clips.JOB: partial(clips.make_clip, self._database, self._ending.is_set),
                jobs.JOB: partial(jobs.do_job, self._database, self._ending.is_set),
            }
            name = f"true-margin {os.getpid()}"
            await work(self._database.url, tasks, ended, name, self._given_up)
        finally:
            self._tell = lambda: None
