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
from true_margin.watcher.live import LiveLane
from true_margin.watcher.log import EventLog, read_log
from true_margin.watcher.send import AwayError, Server
from true_margin.watcher.sensors import Sensors

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


def watch(
    watched: Watched,
    log_path: Path,
    tell: Callable[[str], None],
    live: LiveLane | None = None,
    pressed: Callable[[], float | None] | None = None,
) -> EventLog:
    """Watch one export until it ended or failed; every event is on the disk first.

    Args:
        watched: folder, name and run.
        log_path: event log, JSON lines; made or added to.
        tell: takes a line for the person.
        live: lane of the bench that shows it while it runs.
        pressed: gives the moment at which a person started it by a key, in seconds of the
            monotonic clock, and None before; without it the first byte starts it.

    Returns:
        The log, with the whole run in it.
    """
    log = EventLog(
        log_path,
        shootout=watched.shootout,
        setup=watched.setup,
        task=watched.task,
        poll_s=watched.poll_s,
        method="watch" if pressed is None else "one press",
    )
    clock = Clock()
    rules = FileWatch(
        lambda name: fnmatch(name, watched.pattern),
        watched.poll_s,
        expected_bytes=watched.expected_bytes,
        give_up_s=watched.give_up_s,
    )
    before: dict[str, FileSeen] = {}
    story = _Story(log, clock, tell, live)
    if live is not None:
        live.armed(log.client)
    tell(f"Armed: waiting for {watched.pattern} in {watched.folder}.")
    while not rules.done:
        seen = look_at(watched.folder, clock, before)
        # The log may lie in the same folder, and grows too.
        files = [file for file in seen if file.name != log_path.name]
        at = clock.now()
        before = {file.name: file for file in files}
        begun = pressed() if pressed is not None and rules.started_s is None else None
        if begun is not None:
            story.note(rules.begin(begun), begun)
        # Until the key is pressed nothing that is written belongs to the run.
        if pressed is not None and rules.started_s is None:
            rules.arm(files)
            time.sleep(watched.poll_s)
            continue
        for event in rules.observe(at, files):
            story.note(event, rules.started_s or at)
        if rules.started_s is not None and not rules.done:
            story.sense(at - rules.started_s)
        if not rules.done:
            time.sleep(watched.poll_s)
    return log


SENSE_S = 5.0
"""Seconds between two readings of the machine's own memory, load and heat."""


class _Story:
    """Tells each event: to the log first, then to the person, then to the bench."""

    def __init__(
        self, log: EventLog, clock: Clock, tell: Callable[[str], None], live: LiveLane | None
    ) -> None:
        self._log, self._clock, self._tell, self._live = log, clock, tell, live
        self._sensors = Sensors()
        self._sensed_s = 0.0
        self._fraction: float | None = None

    def sense(self, elapsed_s: float) -> None:
        """Note what the machine says of itself, now and then."""
        if elapsed_s - self._sensed_s >= SENSE_S:
            self._mark(elapsed_s)

    def _mark(self, elapsed_s: float, **said: float) -> None:
        self._sensed_s = elapsed_s
        fields = {**said, **self._sensors.read()}
        self._log.write("mark", elapsed_s=round(elapsed_s, 3), **fields)
        if self._live is not None:
            self._live.mark(elapsed_s, **fields)

    def note(self, event: WatchEvent, started_s: float) -> None:
        """Note what a look showed."""
        elapsed = max(0.0, round(event.at_s - started_s, 3))
        live = self._live
        if event.kind is Happened.STARTED:
            ago_s = self._clock.now() - event.at_s
            at = datetime.now(UTC) - timedelta(seconds=ago_s)
            self._log.write("started", at=at.isoformat(), elapsed_s=0.0)
            self._tell("Started.")
            if live is not None:
                live.started(ago_s)
        elif event.kind is Happened.MARK:
            self._fraction = round(event.fraction or 0.0, 4)
            self._mark(elapsed, fraction=self._fraction)
        elif event.kind is Happened.STOPPED:
            self._log.write("stopped", elapsed_s=elapsed)
            self._tell(f"Stopped after {format_elapsed(elapsed, 0.1)}.")
            if live is not None:
                live.stopped(elapsed)
        else:
            self._log.write(
                "failed", elapsed_s=elapsed, reason=event.reason, reached=self._fraction
            )
            self._tell(f"Failed after {format_elapsed(elapsed, 0.1)}: {event.reason}.")
            if live is not None:
                live.failed(elapsed)


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
