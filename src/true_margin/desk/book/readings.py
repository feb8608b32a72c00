"""What marks of runs say of heat, noise and power."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from true_margin.desk.book.book import Book
from true_margin.desk.book.derived import derived


@dataclass(frozen=True, slots=True)
class Readings:
    """What marks of ok runs say of each setup, by its place.

    ``power_w`` is the mean by setup and task.
    """

    peak_c: Mapping[int, float]
    noise_db: Mapping[int, float]
    power_w: Mapping[tuple[int, int], float]


@derived
def readings_of(book: Book) -> Readings:
    """Gather what the marks of ok runs say."""
    peak: dict[int, float] = {}
    noise: dict[int, float] = {}
    power: dict[tuple[int, int], tuple[float, int]] = {}
    for mark in book.marks:
        if mark.temperature_c is None and mark.noise_db is None and mark.power_w is None:
            continue
        run = book.runs[book.place_of[mark.run_id]]
        task = book.task_index.get(run.task_id)
        if run.status != "ok" or task is None:
            continue
        at = book.setup_index[run.setup_id]
        if mark.temperature_c is not None:
            peak[at] = max(peak.get(at, -273.0), mark.temperature_c)
        if mark.noise_db is not None:
            noise[at] = max(noise.get(at, 0.0), mark.noise_db)
        if mark.power_w is not None:
            total, count = power.get((at, task), (0.0, 0))
            power[at, task] = (total + mark.power_w, count + 1)
    return Readings(peak, noise, {key: total / n for key, (total, n) in power.items()})
