"""A lane that times itself: what a watcher or a rig tells the bench while it runs."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

from true_margin.watcher.calls import SendError
from true_margin.watcher.send import Server

MOST_MARKS = 500
_REST = ("number", "queue", "conditions", "undone")


@dataclass
class LiveLane:
    """One lane of the bench, told from here; the lane goes with every event, its marks once.

    A server that is away misses nothing that matters: the next event says what it missed,
    and the run itself is sent apart, until it is stored.
    """

    server: Server
    shootout: str
    setup_id: str
    task_id: str
    timed_by: str
    key: str
    factor: float = 1.0
    lane_id: str = field(default_factory=lambda: f"lane-{uuid.uuid4()}")
    marks: list[dict[str, Any]] = field(default_factory=list)

    def __post_init__(self) -> None:
        self.client = f"{self.timed_by}-{uuid.uuid4()}"
        self.started_ms = 0.0
        self._seq = 0
        self._untold: list[dict[str, Any]] = list(self.marks)
        self._rest: dict[str, Any] = {}

    def armed(self, key: str | None = None) -> None:
        """Tell that it waits; with a key: for another run."""
        self.key, self.marks, self.started_ms = key or self.key, [], 0.0
        self._untold = []
        self._tell("armed", "armed")

    def take(self, lane: Mapping[str, Any]) -> None:
        """Go on from a lane that a person armed or started elsewhere."""
        # What was taken back counts nowhere.
        marks = [mark for mark in lane.get("marks", ()) if not mark.get("withdrawn")]
        self.key, self.marks = str(lane["key"]), marks
        self._untold = []
        self.task_id = str(lane["task_id"])
        self.started_ms = float(lane.get("started_ms") or 0.0)
        # What a person said of the lane stays with it.
        self._rest = {name: lane[name] for name in _REST if name in lane}

    def started(self, ago_s: float = 0.0) -> None:
        """Tell that it runs, since so many seconds."""
        self.started_ms = self.server.now_ms() - 1000.0 * ago_s
        self._tell("started", "running")

    def mark(self, elapsed_s: float, **said: Any) -> None:
        """Tell a reading."""
        mark = {"elapsed_s": round(elapsed_s, 1), **said}
        self.marks.append(mark)
        self._untold.append(mark)
        self._tell("mark", "running")

    def stopped(self, elapsed_s: float) -> None:
        """Tell that it ended."""
        self._tell("stopped", "stopped", elapsed_s=elapsed_s)

    def failed(self, elapsed_s: float) -> None:
        """Tell that it failed; its reason goes with the run."""
        self._tell("failed", "stopped", elapsed_s=elapsed_s)

    def gone(self) -> None:
        """Take the lane away."""
        self._tell("removed", "gone")

    def _tell(self, kind: str, phase: str, **more: Any) -> None:
        self._seq += 1
        lane = {
            "id": self.lane_id,
            "setup_id": self.setup_id,
            "task_id": self.task_id,
            "phase": phase,
            "key": self.key,
            "started_ms": self.started_ms,
            "started_by": self.client,
            "timed_by": self.timed_by,
            "factor": self.factor,
            "marks": self._untold[-MOST_MARKS:],
            **self._rest,
            **more,
        }
        event = {
            "client": self.client,
            "seq": self._seq,
            "kind": kind,
            "at_ms": self.server.now_ms(),
            "lane": lane,
        }
        try:
            self.server.post_events(self.shootout, [event])
        except SendError:
            # The bench is a view; the log and the run are what lasts.
            return
        self._untold = []
