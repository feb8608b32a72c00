"""Watching one export from arming to the book."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from fnmatch import fnmatch
from pathlib import Path

from true_margin.core.file_watch import FileSeen, FileWatch, Happened, WatchEvent
from true_margin.core.wording import format_elapsed
from true_margin.watcher.disk import Clock, look_at
from true_margin.watcher.log import EventLog, read_log
from true_margin.watcher.send import AwayError, Server

RETRY_S = 3.0


@dataclass(frozen=True, slots=True)
class Watched:
    """What is watched, and what it is a run of."""

    folder: Path
    pattern: str
    shootout: str
    setup: str
    task: str
    poll_s: float = 0.5
    expected_bytes: int | None = None
    give_up_s: float = 60.0


def watch(watched: Watched, log_path: Path, tell: Callable[[str], None]) -> EventLog:
    """Watch one export until it ended or failed; every event is on the disk first.

    Args:
        watched: folder, name and run.
        log_path: event log, JSON lines; made or added to.
        tell: takes a line for the person.

    Returns:
        The log, with the whole run in it.
    """
    log = EventLog(
        log_path, shootout=watched.shootout, setup=watched.setup, task=watched.task,
        poll_s=watched.poll_s,
    )  # fmt: skip
    clock = Clock()
    rules = FileWatch(
        lambda name: fnmatch(name, watched.pattern), watched.poll_s,
        expected_bytes=watched.expected_bytes, give_up_s=watched.give_up_s,
    )  # fmt: skip
    before: dict[str, FileSeen] = {}
    tell(f"Armed: waiting for {watched.pattern} in {watched.folder}.")
    while not rules.done:
        seen = look_at(watched.folder, clock, before)
        # The log may lie in the same folder, and grows too.
        files = [file for file in seen if file.name != log_path.name]
        at = clock.now()
        before = {file.name: file for file in files}
        for event in rules.look(at, files):
            _note(log, clock, rules.started_s or at, event, tell)
        if not rules.done:
            time.sleep(watched.poll_s)
    return log


def _note(
    log: EventLog, clock: Clock, started_s: float, event: WatchEvent, tell: Callable[[str], None]
) -> None:
    elapsed = max(0.0, round(event.at_s - started_s, 3))
    if event.kind is Happened.STARTED:
        ago = timedelta(seconds=clock.now() - event.at_s)
        log.write("started", at=(datetime.now(UTC) - ago).isoformat(), elapsed_s=0.0)
        tell("Started: the first byte is there.")
    elif event.kind is Happened.MARK:
        log.write("mark", elapsed_s=elapsed, fraction=round(event.fraction or 0.0, 4))
    elif event.kind is Happened.STOPPED:
        log.write("stopped", elapsed_s=elapsed)
        tell(f"Stopped after {format_elapsed(elapsed, 0.1)}.")
    else:
        log.write("failed", elapsed_s=elapsed, reason=event.reason)
        tell(f"Failed after {format_elapsed(elapsed, 0.1)}: {event.reason}.")


def send_log(
    server: Server, log_path: Path, tell: Callable[[str], None], *, retry: bool = True
) -> int:
    """Send every finished run of a log; waits for a server that is away.

    Returns:
        How many runs the server has now.

    Raises:
        SendError: a run cannot be stored; those before it were.
    """
    sent = 0
    for run in read_log(log_path):
        told = False
        while True:
            try:
                tell(server.send(run))
                sent += 1
                break
            except AwayError as error:
                if not retry:
                    raise
                if not told:
                    tell(f"{error.reason} The run is kept in {log_path}; trying again.")
                told = True
                time.sleep(RETRY_S)
    return sent
