"""The event log: JSON lines on disk, written before anything is sent."""

from __future__ import annotations

import json
import os
import time
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from true_margin.core.errors import CoreError


class LogError(CoreError):
    """An event log cannot be read; says which line."""


@dataclass(frozen=True)
class WatchedRun:
    """One run as its log tells it; elapsed times in seconds after the start.

    ``marks`` holds readings by field, ``elapsed_s`` among them.
    """

    client_key: str
    shootout: str
    setup: str
    task: str
    poll_s: float
    started_at: str | None
    elapsed_s: float | None
    status: str
    reason: str | None
    marks: tuple[dict[str, Any], ...]
    reached: float | None = None
    simulated: bool = False
    method: str = "watch"


class EventLog:
    """Appends the events of one watched run; each is on the disk before the next thing."""

    def __init__(self, path: Path, going: Unfinished | None = None, **armed: Any) -> None:
        """Begin a run, or go on with one that a watcher left unfinished.

        Args:
            path: of the log; made or added to.
            going: the run to go on with.
            armed: what the run is, where it is a new one.
        """
        self.path = path
        self.client = f"watch-{uuid.uuid4()}" if going is None else going.client
        self._seq = 0 if going is None else going.next_seq
        if going is None:
            self.write("armed", **armed)

    def write(self, event: str, **fields: Any) -> None:
        """Append one event with its place in the sequence."""
        line = {"event": event, "client": self.client, "seq": self._seq, **fields}
        self._seq += 1
        with self.path.open("a", encoding="utf-8") as file:
            file.write(json.dumps(line) + "\n")
            file.flush()
            os.fsync(file.fileno())


@dataclass(frozen=True)
class Unfinished:
    """A run that had begun when its watcher ended.

    Attributes:
        client: key of the run.
        next_seq: place of its next event.
        started_wall_s: when it began, in seconds since 1970.
        key: what the file is known by that began it; None where that is not known.
        doubt: what spoke against its start; None for nothing.
        there: what was in the folder before, by what each is known by: name, size, both times.
    """

    client: str
    next_seq: int
    started_wall_s: float
    key: str | None
    doubt: str | None
    there: dict[str, tuple[str, int, int, int]]


GOES_ON_S = 86_400.0
"""A run that began longer ago is not gone on with: nobody exports for so long."""


def unfinished_run(path: Path, **armed: str) -> Unfinished | None:
    """The last run of a log, if it is of the same export and has begun and not ended.

    Args:
        path: of the log, which need not be there.
        armed: what the run must be: folder, pattern, shootout, setup, task.
    """
    try:
        lines = path.read_text(encoding="utf-8").splitlines()
    except FileNotFoundError:
        return None
    runs = _by_client(lines, path.name)
    if not runs:
        return None
    client, events = list(runs.items())[-1]
    kinds = {event["event"]: event for event in events}
    first = kinds.get("armed", {})
    ended = {"stopped", "failed", "given up"} & set(kinds)
    if ended or "started" not in kinds or any(first.get(k) != v for k, v in armed.items()):
        return None
    if first.get("there") is None:
        return None
    begun = kinds["started"]
    started = datetime.fromisoformat(begun["at"]).timestamp()
    if time.time() - started > GOES_ON_S:
        return None
    there = {key: (str(n), int(s), int(c), int(m)) for key, (n, s, c, m) in first["there"].items()}
    seq = events[-1]["seq"] + 1
    return Unfinished(client, seq, started, begun.get("key"), begun.get("doubt"), there)


def read_log(path: Path) -> list[WatchedRun]:
    """Read the finished runs of a log; lines that are there twice change nothing.

    Raises:
        LogError: a line is no event. A last line that was cut off is left out.
    """
    return read_lines(path.read_text(encoding="utf-8").splitlines(), path.name)


def read_lines(lines: list[str], name: str) -> list[WatchedRun]:
    """Read the finished runs of the lines of a log.

    Raises:
        LogError: a line is no event. A last line that was cut off is left out.
    """
    runs = _by_client(lines, name)
    return [run for own in runs.values() if (run := _run(own)) is not None]


def _by_client(lines: list[str], name: str) -> dict[str, list[dict[str, Any]]]:
    """Events by the run that they belong to, each once and in their order, runs as they began."""
    events: dict[tuple[str, int], dict[str, Any]] = {}
    for number, line in enumerate(lines, start=1):
        try:
            event = json.loads(line)
            events[str(event["client"]), int(event["seq"])] = event
        except (ValueError, KeyError, TypeError) as error:
            if number == len(lines):
                break
            raise LogError(f"{name} line {number}: this is no event") from error
    runs: dict[str, list[dict[str, Any]]] = {}
    for (client, _), event in sorted(events.items()):
        runs.setdefault(client, []).append(event)
    order = {event["client"]: place for place, event in enumerate(events.values())}
    return dict(sorted(runs.items(), key=lambda run: order[run[0]]))


LEAST_S = 0.01
"""What takes less is told as nothing, and nothing is no time."""


def _run(events: list[dict[str, Any]]) -> WatchedRun | None:
    armed = next((event for event in events if event["event"] == "armed"), None)
    ended = next((event for event in events if event["event"] in ("stopped", "failed")), None)
    if armed is None or ended is None:
        return None
    started = next((event for event in events if event["event"] == "started"), {})
    failed, elapsed = ended["event"] == "failed", ended.get("elapsed_s")
    doubt = ended.get("doubt")
    if not failed and not doubt and float(elapsed or 0.0) < LEAST_S:
        doubt = "it was there at once, which is shorter than can be timed"
    # Where the beginning was found to be another, its marks are told from there.
    begun = float(ended.get("began_s", 0.0))
    return WatchedRun(
        armed["client"],
        armed["shootout"],
        armed["setup"],
        armed["task"],
        float(ended.get("spread_s") or armed["poll_s"]),
        ended.get("at") or started.get("at"),
        elapsed,
        "failed" if failed else "void" if doubt else "ok",
        ended.get("reason") if failed else f"not sure: {doubt}" if doubt else None,
        tuple(_marks(events, begun, elapsed)),
        ended.get("reached") if failed else None,
        False,
        armed.get("method", "watch"),
    )


def _marks(
    events: list[dict[str, Any]], begun: float, elapsed: float | None
) -> Iterator[dict[str, Any]]:
    """Readings within the run: one that was taken while its end was waited for is none of it."""
    for event in events:
        if event["event"] != "mark":
            continue
        at = round(float(event["elapsed_s"]) - begun, 3)
        if at >= 0 and (elapsed is None or at <= elapsed):
            yield {
                **{name: value for name, value in event.items() if name not in _OF_EVENT},
                "elapsed_s": at,
            }


_OF_EVENT = ("event", "client", "seq")
