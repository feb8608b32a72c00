"""Observations beside the money: heat, noise, power, failures, playback, weight.

They are shown, never added up into one figure with speed or price.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from true_margin.core.currencies import minor_unit
from true_margin.core.outside_numbers import read_whole
from true_margin.core.specs import say_spec
from true_margin.core.weekly import WEEKS_IN_YEAR, Weekly, energy_kwh
from true_margin.desk.book.book import Book
from true_margin.desk.book.needs import seen_of
from true_margin.desk.book.readings import readings_of
from true_margin.store.records.viewers import Viewer


@dataclass(frozen=True, slots=True)
class Observed:
    """What was observed of a setup; None where nobody looked.

    ``energy_kwh`` is for the weekly work, on the tasks whose power is known (``energy_on``
    says on how many of them); ``energy_cost`` is a year's, in the viewer's currency.
    """

    peak_c: float | None
    noise_db: float | None
    noise_class: str | None
    power_w: float | None
    energy_kwh: float | None
    energy_on: str | None
    energy_cost: Decimal | None
    failed: int
    tried: int
    playback: str | None
    weight_kg: float | None


def observed_of(book: Book, setup: int, viewer: Viewer, weekly: Weekly | None) -> Observed:
    """What was observed of a setup, with the energy that a viewer's week takes."""
    seen = seen_of(book)[setup]
    power = {task: w for (at, task), w in readings_of(book).power_w.items() if at == setup}
    kwh: float | None = None
    on: str | None = None
    cost: Decimal | None = None
    place = None if weekly is None else weekly.place(setup)
    if weekly is not None and place is not None and power:
        parts = weekly.parts[place]
        energy = energy_kwh(parts, power)
        if energy is not None:
            kwh, known = energy
            used = int((parts > 0).sum())
            on = None if known == used else f"{known} of {used} tasks"
            if viewer.energy_price is not None:
                weeks = min(viewer.weeks, WEEKS_IN_YEAR)
                cost = Decimal(repr(kwh * weeks)) * viewer.energy_price
                cost = cost.quantize(minor_unit(viewer.currency))
    weight, noise = seen.rows.get("weight_kg"), seen.rows.get("noise")
    return Observed(
        readings_of(book).peak_c.get(setup),
        seen.noise_db,
        None if noise is None else str(noise),
        sum(power.values()) / len(power) if power else None,
        kwh,
        on,
        cost,
        *seen.failures,
        seen.playback,
        weight if isinstance(weight, float) else None,
    )


BEYOND = (
    ("ports", "ports"),
    ("screen", "screen"),
    ("weight_kg", "weight"),
    ("memory_gb", "memory"),
    ("storage_gb", "storage"),
    ("noise", "noise"),
    ("supported_until", "support"),
)
_UNITS = {"weight_kg": " kg", "memory_gb": " GB", "storage_gb": " GB"}


def beyond_speed(book: Book, owned: int, setup: int) -> str | None:
    """Gains and losses of a setup against the owned one besides speed, in a line.

    Ports are told apart one by one; other rows are set side by side.
    """
    had, has = seen_of(book)[owned].rows, seen_of(book)[setup].rows
    parts = []
    for field, title in BEYOND:
        before, after = had.get(field), has.get(field)
        if before == after or (before is None and after is None):
            continue
        if field == "ports":
            parts += _ports(before, after)
            continue
        unit = _UNITS.get(field, "")
        now = f"{say_spec(after)}{unit}" if after is not None else "not noted"
        was = f"{say_spec(before)}{unit}" if before is not None else "not noted"
        parts.append(f"{title} {now} (owned: {was})")
    return "; ".join(parts) or None


def _ports(before: object, after: object) -> list[str]:
    had = before if isinstance(before, list) else []
    has = after if isinstance(after, list) else []
    before_count, after_count = _counted(had), _counted(has)
    gained = [
        f"{n - before_count.get(p, 0)} {p}"
        for p, n in after_count.items()
        if n > before_count.get(p, 0)
    ]
    lost = [
        f"{n - after_count.get(p, 0)} {p}"
        for p, n in before_count.items()
        if n > after_count.get(p, 0)
    ]
    if not had or not has:
        return [f"ports {say_spec(has) or 'not noted'} (owned: {say_spec(had) or 'not noted'})"]
    said = [f"gains {', '.join(gained)}"] if gained else []
    return [*said, f"loses {', '.join(lost)}"] if lost else said


def _counted(ports: Sequence[object]) -> dict[str, int]:
    """Ports by kind: ``4 USB`` is four of one kind."""
    found: dict[str, int] = {}
    for port in ports:
        number, _, kind = str(port).partition(" ")
        count = read_whole(number) if kind else None
        name = str(port) if count is None else kind
        found[name] = found.get(name, 0) + min(1 if count is None else count, 1000)
    return found
