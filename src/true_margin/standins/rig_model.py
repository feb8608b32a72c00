"""A simulated computer: how an export goes on it, with what a real one does to a stopwatch.

Everything is drawn from a seeded generator, so that the same rig tells the same story.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np


@dataclass(frozen=True, slots=True)
class Rig:
    """What a rig is like.

    Attributes:
        seconds: elapsed time of the export that a very long series would average to.
        spread_cv: run-to-run spread of log speed.
        cold_factor: how many times as long the first run after switching on takes.
        heats_after_s: seconds after which it grows too hot and slows down; None: never.
        hot_pace: pace from then on, of the pace before.
        estimate_bias: the app foresees this many times what is really left.
        crash_chance: of one run, 0 to 1.
        frames: that the export has; None where it has none.
    """

    seconds: float
    spread_cv: float = 0.01
    cold_factor: float = 1.06
    heats_after_s: float | None = None
    hot_pace: float = 0.8
    estimate_bias: float = 1.2
    crash_chance: float = 0.0
    frames: float | None = None


@dataclass(frozen=True, slots=True)
class Export:
    """One simulated export.

    Attributes:
        elapsed_s: when it ends, or fails, in simulated seconds.
        reached: part of the work that was done by then.
        reason: why it failed; None where it did not.
        marks: readings by field, in time order.
    """

    elapsed_s: float
    reached: float
    reason: str | None
    marks: tuple[dict[str, Any], ...]


MARKS = 24
_ROOM_C, _LOADED_C, _WARM_UP_S = 38.0, 86.0, 90.0
_IDLE_W, _BUSY_W = 18.0, 74.0


def run_export(rig: Rig, rng: np.random.Generator, *, first: bool = False) -> Export:
    """Draw one export.

    Args:
        rig: on which.
        rng: where chance comes from.
        first: the first one since the rig was switched on.
    """
    pace = math.exp(rng.normal(0.0, rig.spread_cv)) / (rig.cold_factor if first else 1.0)
    work = rig.seconds
    crash_at = float(rng.uniform(0.2, 0.9)) if rng.random() < rig.crash_chance else None
    whole = _elapsed(rig, work, pace)
    end = whole if crash_at is None else _elapsed(rig, work * crash_at, pace)
    marks = tuple(_marks(rig, work, pace, whole, end, rng))
    reason = None if crash_at is None else str(rng.choice(["crash", "out of memory"]))
    return Export(round(end, 2), 1.0 if crash_at is None else crash_at, reason, marks)


def _elapsed(rig: Rig, work: float, pace: float) -> float:
    """When so much of the work is done: evenly, then slower once the rig is hot."""
    limit = rig.heats_after_s
    if limit is None or work <= limit * pace:
        return work / pace
    return limit + (work - limit * pace) / (pace * rig.hot_pace)


def _done(rig: Rig, elapsed: float, pace: float) -> float:
    limit = rig.heats_after_s
    if limit is None or elapsed <= limit:
        return elapsed * pace
    return limit * pace + (elapsed - limit) * pace * rig.hot_pace


def _marks(
    rig: Rig, work: float, pace: float, whole: float, end: float, rng: np.random.Generator
) -> Iterator[dict[str, Any]]:
    fan = False
    for step in range(1, MARKS):
        elapsed = whole * step / MARKS
        if elapsed >= end:
            return
        heat = _ROOM_C + (_LOADED_C - _ROOM_C) * (1 - math.exp(-elapsed / _WARM_UP_S))
        hot = rig.heats_after_s is not None and elapsed > rig.heats_after_s
        mark: dict[str, Any] = {
            "elapsed_s": round(elapsed, 1),
            "fraction": round(min(_done(rig, elapsed, pace) / work, 1.0), 4),
            "temperature_c": round(heat + float(rng.normal(0, 0.6)), 1),
            "power_w": round(
                _IDLE_W + _BUSY_W * (rig.hot_pace if hot else 1.0) + rng.normal(0, 2), 1
            ),
            "cpu_load": round(float(np.clip(rng.normal(0.86, 0.04), 0, 1)), 2),
            "memory_gb": round(6.0 + 5.0 * step / MARKS + float(rng.normal(0, 0.1)), 1),
            "left_s": round((whole - elapsed) * rig.estimate_bias, 0),
        }
        if rig.frames is not None:
            rate = rig.frames / work * pace * (rig.hot_pace if hot else 1.0)
            mark["frames_per_s"] = round(rate, 1)
        if heat > 70 and not fan:
            fan = True
            mark["event"] = "fan starts"
        yield mark
