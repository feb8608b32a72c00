"""A lane as several devices see it: which state stands when they tell different ones.

Every event carries the whole lane and a stamp, and of its marks at least those that are new.
Joining is the same in whatever order the events come, and however often, so that late and
repeated ones do no harm.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

STOPPED = "stopped"
GONE = "gone"
MOST_MARKS = 10_000
"""A lane keeps the newest so many; three hours of one a second."""


@dataclass(frozen=True, slots=True, order=True)
class Stamp:
    """When an event happened, on the server's clock, and who told it.

    Attributes:
        at_ms: moment of the press, in milliseconds since 1970.
        client, seq: who told it, and its place among all that one told.
    """

    at_ms: float
    client: str
    seq: int


@dataclass(frozen=True, slots=True)
class LaneState:
    """A lane at a stamp.

    Attributes:
        stamp: of the newest event.
        lane: plain values; ``key`` is of its run, ``marks`` a list with ``elapsed_s``.
    """

    stamp: Stamp
    lane: Mapping[str, Any]


def join_lanes(one: LaneState, other: LaneState) -> LaneState:
    """Join two states of one lane.

    Args:
        one, other: in any order.

    Returns:
        The newer one, with the marks of both where both are of the same run. Of two stops
        of the same run the earlier stands: the second press changed nothing.

    Example:
        >>> a = LaneState(Stamp(2.0, "a", 1), {"key": "r", "phase": "running", "marks": []})
        >>> b = LaneState(Stamp(3.0, "b", 1), {"key": "r", "phase": "stopped", "marks": []})
        >>> join_lanes(b, a).lane["phase"]
        'stopped'
    """
    older, newer = sorted((one, other), key=lambda state: state.stamp)
    if older.lane.get("key") != newer.lane.get("key"):
        return newer
    marks: dict[float, dict[str, Any]] = {}
    for mark in (*older.lane.get("marks", ()), *newer.lane.get("marks", ())):
        said = {name: value for name, value in mark.items() if value is not None}
        marks[mark["elapsed_s"]] = {**marks.get(mark["elapsed_s"], {}), **said}
    joined = {**newer.lane, "marks": [marks[at] for at in sorted(marks)[-MOST_MARKS:]]}
    if _same_stop(older.lane, newer.lane):
        first = older if older.lane["elapsed_s"] <= newer.lane["elapsed_s"] else newer
        joined |= {name: first.lane.get(name) for name in _OF_STOP}
    return replace(newer, lane=joined)


_OF_STOP = ("elapsed_s", "placed_u_s", "pressed_ms")


def _same_stop(one: Mapping[str, Any], other: Mapping[str, Any]) -> bool:
    """Both stopped, without an undone press or a correction between."""
    stopped = one.get("phase") == STOPPED == other.get("phase")
    whole = one.get("elapsed_s") is not None and other.get("elapsed_s") is not None
    return stopped and whole and one.get("undone", 0) == other.get("undone", 0)
