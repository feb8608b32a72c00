"""The event log: JSON lines on disk, written before anything is sent."""

from __future__ import annotations

import json
import os
import uuid
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from true_margin.core.errors import CoreError


class LogError(CoreError):
    """An event log cannot be read; says which line."""


@dataclass(frozen=True, slots=True)
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

    def __init__(self, path: Path, **armed: Any) -> None:
        self.path = path
        self.client = f"watch-{uuid.uuid4()}"
        self._seq = 0
        self.write("armed", **armed)

    def write(self, event: str, **fields: Any) -> None:
        """Append one event with its place in the sequence."""
        line = {"event": event, "client": self.client, "seq": self._seq, **fields}
        self._seq += 1
        with self.path.open("a", encoding="utf-8") as file:
            file.write(json.dumps(line) + "\n")
            file.flush()
            os.fsync(file.fileno())


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
    return [run for own in runs.values() if (run := _run(own)) is not None]


def _run(events: list[dict[str, Any]]) -> WatchedRun | None:
    armed = next((event for event in events if event["event"] == "armed"), None)
    ended = next((event for event in events if event["event"] in ("stopped", "failed")), None)
    if armed is None or ended is None:
        return None
    started = next((event for event in events if event["event"] == "started"), {})
    failed = ended["event"] == "failed"
    return WatchedRun(
        armed["client"],
        armed["shootout"],
        armed["setup"],
        armed["task"],
        float(armed["poll_s"]),
        started.get("at"),
        ended.get("elapsed_s"),
        "failed" if failed else "ok",
        ended.get("reason") if failed else None,
        tuple(
            {name: value for name, value in event.items() if name not in _OF_EVENT}
            for event in events
            if event["event"] == "mark"
        ),
        ended.get("reached") if failed else None,
        False,
        armed.get("method", "watch"),
    )


_OF_EVENT = ("event", "client", "seq")
