"""Who holds the data folder: one start at a time, and how it is told to end.

A lock on a file says so, and the system drops it when the holder ends, however that happens.
Nothing of the app is loaded for this, so that it is said at once.
"""

from __future__ import annotations

import fcntl
import os
import signal
import time
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import IO

from true_margin.app.settings import AppSettings
from true_margin.launch.cluster import Cluster
from true_margin.launch.errors import StartError

_STOP_WAIT_S = 30.0


@contextmanager
def only_one(settings: AppSettings) -> Iterator[None]:
    """Hold the data folder; the file's content is the holder's process id."""
    path = _lock_path(settings)
    with path.open("a+") as held:
        if not _lock(held):
            raise _runs_already(settings, _read_pid(held))
        held.truncate(0)
        held.write(str(os.getpid()))
        held.flush()
        try:
            yield
        finally:
            held.truncate(0)


def refuse_second(settings: AppSettings) -> None:
    """Say at once that another process serves this data, before anything is loaded.

    Raises:
        StartError: one does.
    """
    pid = holder(settings)
    if pid is not None:
        raise _runs_already(settings, pid)


def _runs_already(settings: AppSettings, pid: int | None) -> StartError:
    return StartError(
        f"True Margin runs already on {settings.data} (process {pid}). Stop it with: make stop"
    )


def stop(settings: AppSettings) -> bool:
    """Stop the app and its private database.

    Returns:
        True where something was running.

    Raises:
        StartError: the app does not end.
    """
    pid = holder(settings)
    if pid is not None:
        os.kill(pid, signal.SIGTERM)
        deadline = time.monotonic() + _STOP_WAIT_S
        while holder(settings) is not None:
            if time.monotonic() > deadline:
                raise StartError(f"Process {pid} does not end. End it with: kill -9 {pid}")
            time.sleep(0.05)
    cluster = Cluster(settings.data)
    left_over = cluster.running()
    if left_over:
        cluster.stop()
    return pid is not None or left_over


def holder(settings: AppSettings) -> int | None:
    """Process that holds the data folder; a stale file without a lock counts for nothing."""
    path = _lock_path(settings)
    if not path.exists():
        return None
    with path.open("a+") as held:
        return None if _lock(held) else _read_pid(held)


def _lock_path(settings: AppSettings) -> Path:
    return settings.data / "app.pid"


def _lock(held: IO[str]) -> bool:
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    return True


def _read_pid(held: IO[str]) -> int | None:
    held.seek(0)
    text = held.read().strip()
    return int(text) if text.isdigit() else None
