"""What ``true-margin watch`` does: one export after another, each to its task."""

from __future__ import annotations

import sys
import threading
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import cycle
from pathlib import Path

from true_margin.watcher.calls import AwayError, SendError
from true_margin.watcher.disk import Clock
from true_margin.watcher.live import LiveLane
from true_margin.watcher.log import WatchedRun, read_log
from true_margin.watcher.send import Server
from true_margin.watcher.watch import Watched, send_log, watch


@dataclass(frozen=True)
class Watching:
    """What a person asked for: exports of these tasks in turn, once or again and again."""

    what: Watched
    tasks: tuple[str, ...]
    log: Path
    again: bool = False
    by_key: bool = False


def watch_all(server: Server, asked: Watching, tell: Callable[[str], None]) -> None:
    """Watch every export that was asked for, and send each run once it has ended.

    A server that is away holds nothing up: the run is in the log, and goes with the next one.

    Raises:
        SendError: a name is not there, or a run cannot be stored; it stays in the log.
    """
    check_names(server, asked.what, asked.tasks, tell)
    # Nothing yet: what an earlier day left unsent goes with the first, and is stored once.
    known: set[str] = set()
    tasks: Iterator[str] = cycle(asked.tasks) if asked.again else iter(asked.tasks)
    for task in tasks:
        what = replace(asked.what, task=task)
        if len(asked.tasks) > 1 or asked.again:
            tell(f"Next: {task}.")
        lane = lane_of(server, what)
        try:
            watch(what, asked.log, tell, lane, key_press(tell) if asked.by_key else None)
        except KeyboardInterrupt:
            if lane is not None:
                lane.gone()
            raise
        if not asked.again:
            continue
        for run in _runs(asked.log):
            if run.client_key not in known:
                try:
                    tell(server.send(run))
                    known.add(run.client_key)
                except AwayError as error:
                    tell(f"{error.reason} The run is kept in {asked.log}, and goes with the next.")
                    break
                except SendError as error:
                    # One that is refused holds up no other; it is asked for at the next start.
                    known.add(run.client_key)
                    tell(f"{error.reason} The run is kept in {asked.log}.")
    send_log(server, asked.log, tell)


def _runs(log: Path) -> Sequence[WatchedRun]:
    return read_log(log) if log.exists() else ()


def check_names(
    server: Server, what: Watched, tasks: Sequence[str], tell: Callable[[str], None]
) -> None:
    """Look the names up before the export, not after it; a server that is away is no reason.

    Raises:
        SendError: there is no such name; says which there are.
    """
    try:
        server.setup_id(what.shootout, what.setup)
        for task in tasks:
            server.task_id(what.shootout, task)
    except AwayError as error:
        tell(
            f"{error.reason} Whether {what.setup} and {', '.join(tasks)} are there is not known. "
            f"The run will be kept in the log until it is back."
        )


def lane_of(server: Server, what: Watched) -> LiveLane | None:
    """A lane of the bench for what is watched; None while the server is away."""
    try:
        ids = (server.setup_id(what.shootout, what.setup), server.task_id(what.shootout, what.task))
    except SendError:
        return None
    server.place_clock(3)
    return LiveLane(server, what.shootout, *ids, "watcher", "armed by a watcher")


def key_press(tell: Callable[[str], None]) -> Callable[[], float | None]:
    """Wait for Enter in the background; gives its moment once it was pressed."""
    clock, moments = Clock(), list[float]()

    def wait() -> None:
        if sys.stdin.readline():
            moments.append(clock.now())

    threading.Thread(target=wait, daemon=True).start()
    tell("Press Enter at the moment at which you start the export.")
    return lambda: moments[0] if moments else None
