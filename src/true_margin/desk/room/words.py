"""Words that several views of the store room share."""

from __future__ import annotations

from true_margin.core.numerals import short
from true_margin.core.wording import say_time
from true_margin.store import records


def say_value(task: records.RoomTask, value: float) -> str:
    """Write a time or an amount of a standing task."""
    if task.measure == "time":
        return say_time(value)
    return f"{short(float(f'{value:.4g}'))} {task.unit or ''}".strip()
