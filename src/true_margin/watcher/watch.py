"""Watching one export from arming to the book."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import datetime, timedelta, timezone
from fnmatch import fnmatch
from pathlib import Path

from true_margin.core.file_seen import Earlier, FileSeen, Happened, WatchEvent
from true_margin.core.file_watch import BLIND_S, FileWatch
from true_margin.core.plain_clock import clock_text
from true_margin.watcher.calls import AwayError
from true_margin.watcher.disk import Clock, free_bytes, look_at
from true_margin.watcher.live import LiveLane
from true_margin.watcher.log import EventLog, read_log, unfinished_run
from true_margin.watcher.send import Server
from true_margin.watcher.sensors import Sensors
from true_margin.watcher.whole import is_cut_off

RETRY_S = 3.0


@dataclass(frozen=True)
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
    blind_s: float = BLIND_S
    also: tuple[str, ...] = ()

    @property
    def patterns(self) -> tuple[str, ...]:
        """All patterns of a finished file's name."""
        return (self.pattern, *self.also)

    def wants(self, name: str) -> bool:
        """Whether a name is that of the finished file; large and small letters are the same."""
        return any(fnmatch(name.lower(), each.lower()) for each in self.patterns)


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
    clock = Clock()
    same = {
        "folder": str(watched.folder.resolve()),
        "pattern": " ".join(watched.patterns),
        "shootout": watched.shootout,
        "setup": watched.setup,
        "task": watched.task,
    }
    going = None if pressed is not None else unfinished_run(log_path, **same)
    # Twice: only what is as it was is asked for who holds it.
    first = _look(watched, log_path, clock, {})
    looked = clock.now()
    seen = _look(watched, log_path, clock, first)
    log = EventLog(
        log_path,
        going,
        **same,
        poll_s=watched.poll_s,
        method="watch" if pressed is None else "one press",
        there=_kept(seen),
    )
    rules = FileWatch(
        watched.wants,
        watched.poll_s,
        expected_bytes=watched.expected_bytes,
        give_up_s=watched.give_up_s,
        blind_s=watched.blind_s,
    )
    story = _Story(log, clock, tell, live)
    if live is not None:
        live.armed(log.client)
    if going is None:
        tell(f"Armed: waiting for {' '.join(watched.patterns)} in {watched.folder}.")
        rules.observe(clock.now(), list(seen.values()), looked)
    else:
        started = clock.of_disk(going.started_wall_s)
        at = datetime.fromtimestamp(going.started_wall_s, timezone.utc).astimezone()
        tell(f"Going on with the run that began at {at:%H:%M:%S}.")
        earlier = Earlier(started, going.key, going.doubt)
        rules.go_on(earlier, _there(going.there, clock))
        if live is not None:
            live.started(clock.now() - started)
    _follow(watched, log_path, rules, story, seen, pressed)
    return log


def _follow(
    watched: Watched,
    log_path: Path,
    rules: FileWatch,
    story: _Story,
    seen: dict[str, FileSeen],
    pressed: Callable[[], float | None] | None,
) -> None:
    """Look and look again until the export ended or failed."""
    clock = story.clock
    while not rules.done:
        begun = pressed() if pressed is not None and rules.started_s is None else None
        if begun is not None:
            story.note(rules.begin(begun), begun)
        looked = clock.now()
        seen = _look(watched, log_path, clock, seen)
        # After the look: what was written while it was taken belongs to it.
        at = clock.now()
        # Until the key is pressed nothing that is written belongs to the run.
        if pressed is not None and rules.started_s is None:
            rules.arm(at, list(seen.values()), looked)
            time.sleep(watched.poll_s)
            continue
        for event in rules.observe(at, list(seen.values()), looked):
            story.note(_with_disk(event, watched), rules.started_s or at)
        if rules.started_s is not None and not rules.done:
            story.sense(at - rules.started_s)
        if not rules.done:
            time.sleep(watched.poll_s)


LEAST_FREE = 16_000_000
"""Bytes that are left on a disk that is as good as full."""


def _with_disk(event: WatchEvent, watched: Watched) -> WatchEvent:
    """An end, with what the disk and the file itself say against it."""
    if event.kind is not Happened.STOPPED:
        return event
    doubts = [event.doubt] if event.doubt else []
    if free_bytes(watched.folder) < LEAST_FREE:
        doubts.append("the disk is full")
    if event.name is not None and is_cut_off(watched.folder / event.name):
        doubts.append(f"{event.name} has no end: it was cut off")
    return replace(event, doubt="; ".join(doubts) or None)


def _look(
    watched: Watched, log_path: Path, clock: Clock, before: dict[str, FileSeen]
) -> dict[str, FileSeen]:
    """The files of the folder by name; the log may lie there too, and grows."""
    seen = look_at(watched.folder, clock, before)
    return {file.name: file for file in seen if file.name != log_path.name}


MOST_KEPT = 2000
"""So many files that were there before are kept in the log; with more, no run is gone on with."""


def _kept(seen: dict[str, FileSeen]) -> dict[str, tuple[str, int, int, int]] | None:
    """What is there before, so that whoever goes on later knows it; None for too much of it."""
    if len(seen) > MOST_KEPT:
        return None
    return {
        str(file.key or file.name): (file.name, file.size, *(file.stamp or (0, 0)))
        for file in seen.values()
    }


def _there(kept: dict[str, tuple[str, int, int, int]], clock: Clock) -> list[FileSeen]:
    return [
        FileSeen(
            name,
            size,
            clock.of_disk(changed / 1e9),
            None,
            clock.of_disk(modified / 1e9),
            None,
            key,
            (changed, modified),
        )
        for key, (name, size, changed, modified) in kept.items()
    ]


SENSE_S = 5.0
"""Seconds between two readings of the machine's own memory, load and heat."""


class _Story:
    """Tells each event: to the log first, then to the person, then to the bench."""

    def __init__(
        self, log: EventLog, clock: Clock, tell: Callable[[str], None], live: LiveLane | None
    ) -> None:
        self._log, self.clock, self._tell, self._live = log, clock, tell, live
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

    def _stopped(self, event: WatchEvent, started_s: float) -> None:
        """The end, from the beginning as it is known now."""
        begun = started_s if event.started_s is None else event.started_s
        elapsed = max(0.0, round(event.at_s - begun, 3))
        self._log.write(
            "stopped",
            at=datetime.fromtimestamp(self.clock.to_wall(begun), timezone.utc).isoformat(),
            began_s=round(begun - started_s, 3),
            elapsed_s=elapsed,
            spread_s=round(event.spread_s or 0.0, 3) or None,
            doubt=event.doubt,
        )
        said = f"Stopped after {clock_text(elapsed, 0.1)}"
        self._tell(f"{said}, but it does not count: {event.doubt}." if event.doubt else f"{said}.")
        if self._live is not None:
            self._live.stopped(elapsed)

    def note(self, event: WatchEvent, started_s: float) -> None:
        """Note what a look showed."""
        elapsed = max(0.0, round(event.at_s - started_s, 3))
        live = self._live
        if event.kind is Happened.STARTED:
            ago_s = self.clock.now() - event.at_s
            at = datetime.now(timezone.utc) - timedelta(seconds=ago_s)
            key = None if event.key is None else str(event.key)
            self._log.write("started", at=at.isoformat(), elapsed_s=0.0, key=key, doubt=event.doubt)
            self._tell("Started.")
            if live is not None:
                live.started(ago_s)
        elif event.kind is Happened.MARK:
            self._fraction = round(event.fraction or 0.0, 4)
            self._mark(elapsed, fraction=self._fraction)
        elif event.kind is Happened.STOPPED:
            self._stopped(event, started_s)
        else:
            self._log.write(
                "failed", elapsed_s=elapsed, reason=event.reason, reached=self._fraction
            )
            self._tell(f"Failed after {clock_text(elapsed, 0.1)}: {event.reason}.")
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
