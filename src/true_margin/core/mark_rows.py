"""What a mark can say besides its time: fields, units and ranges; and the app's own estimate."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import TypeAlias

from true_margin.core.errors import QuantityError
from true_margin.core.numerals import short

MarkValue: TypeAlias = float | str | None
EVENT = "event"
MOST_EVENT_SIGNS = 200


@dataclass(frozen=True, slots=True)
class MarkField:
    """One thing that a mark can say.

    Attributes:
        field: name in data.
        title: name on the screen.
        unit: unit of the number.
        least, most: limits, both allowed.
    """

    field: str
    title: str
    unit: str
    least: float
    most: float


MARK_FIELDS = (
    MarkField("fraction", "done", "", 0.0, 1.0),
    MarkField("frames_per_s", "speed", "frames/s", 0.0, 1e6),
    MarkField("temperature_c", "temperature", "°C", -100.0, 300.0),
    MarkField("power_w", "power", "W", 0.0, 1e5),
    MarkField("memory_gb", "memory in use", "GB", 0.0, 1e5),
    MarkField("swap_gb", "swap in use", "GB", 0.0, 1e5),
    MarkField("cpu_load", "processor load", "", 0.0, 1.0),
    MarkField("gpu_load", "graphics load", "", 0.0, 1.0),
    MarkField("gpu_memory_gb", "graphics memory in use", "GB", 0.0, 1e4),
    MarkField("noise_db", "noise", "dB", 0.0, 200.0),
    MarkField("file_gb", "file written", "GB", 0.0, 1e6),
    MarkField("left_s", "time left by the app's own estimate", "s", 0.0, 1e7),
)


@dataclass(frozen=True, slots=True)
class OwnEstimate:
    """What an app said of its finish, and how wrong it was.

    Attributes:
        elapsed_s: when it said so, in seconds after the start.
        said_s: finish that it foresaw, in seconds after the start.
        error_s: foreseen minus true finish; positive where it foresaw too late.
    """

    elapsed_s: float
    said_s: float
    error_s: float


def check_mark(mark: Mapping[str, MarkValue]) -> dict[str, MarkValue]:
    """Give a mark's fields without those that are empty.

    Args:
        mark: ``elapsed_s`` in seconds, and any of the fields of a mark.

    Raises:
        QuantityError: it says nothing, or a number is out of its range.
    """
    kept: dict[str, MarkValue] = {"elapsed_s": _within(mark.get("elapsed_s"), "elapsed", 0, 1e7)}
    for spec in MARK_FIELDS:
        value = mark.get(spec.field)
        if value is not None:
            kept[spec.field] = _within(value, spec.title, spec.least, spec.most)
    event = mark.get(EVENT)
    if isinstance(event, str) and event.strip():
        kept[EVENT] = event.strip()[:MOST_EVENT_SIGNS]
    if len(kept) == 1:
        raise QuantityError("this mark says nothing: give a fraction, a reading or an event")
    return kept


def _within(value: MarkValue, title: str, least: float, most: float) -> float:
    if not isinstance(value, int | float) or isinstance(value, bool) or not math.isfinite(value):
        raise QuantityError(f"{title}: a number is needed, not {value!r}")
    if not least <= value <= most:
        raise QuantityError(
            f"{title}: {short(value)} is not between {short(least)} and {short(most)}"
        )
    return float(value)


def own_estimates(
    marks: Iterable[Mapping[str, MarkValue]], value_s: float
) -> tuple[OwnEstimate, ...]:
    """How wrong an app's own estimates were.

    Args:
        marks: of a finished run, in time order.
        value_s: its elapsed time, in seconds.

    Example:
        >>> own_estimates([{"elapsed_s": 60.0, "left_s": 300.0}], 400.0)[0].error_s
        -40.0
    """
    found = []
    for mark in marks:
        elapsed, left = mark.get("elapsed_s"), mark.get("left_s")
        if isinstance(elapsed, float) and isinstance(left, float):
            said = elapsed + left
            found.append(OwnEstimate(elapsed, said, said - value_s))
    return tuple(found)
