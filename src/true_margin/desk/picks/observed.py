"""Observations beside the money: heat, noise, power, failures, playback, weight.

They are shown, never added up into one figure with speed or price.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
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


MORE_IS_BETTER = (("memory_gb", "memory", " GB"), ("storage_gb", "storage", " GB"))
LOUDNESS = ("silent", "quiet", "audible", "loud")
"""Noise, the quietest first."""


@dataclass(frozen=True, slots=True)
class BesidesSpeed:
    """What a setup has that the current machine has not, and the other way round, in words."""

    better: tuple[str, ...]
    worse: tuple[str, ...]


def besides_speed(book: Book, owned: int, setup: int) -> BesidesSpeed:
    """What is better and what is worse than the current machine besides speed.

    What is not noted of one of the two says nothing, so it is in neither list.
    """
    had, has = seen_of(book)[owned].rows, seen_of(book)[setup].rows
    better: list[str] = []
    worse: list[str] = []

    def put(gain: float, words: str) -> None:
        if gain:
            (better if gain > 0 else worse).append(words)

    noises = [str(rows.get("noise", "")) for rows in (had, has)]
    if all(noise in LOUDNESS for noise in noises):
        was, now = (LOUDNESS.index(noise) for noise in noises)
        put(was - now, f"{noises[1]} (now {noises[0]})")
    before, after = _number(had, "weight_kg"), _number(has, "weight_kg")
    if before is not None and after is not None:
        put(before - after, f"{say_spec(after)} kg (now {say_spec(before)})")
    for field, title, unit in MORE_IS_BETTER:
        before, after = _number(had, field), _number(has, field)
        if before is not None and after is not None:
            put(after - before, f"{say_spec(after)}{unit} of {title} (now {say_spec(before)})")
    until = [str(rows.get("supported_until") or "") for rows in (had, has)]
    if all(until) and until[0] != until[1]:
        put(1 if until[1] > until[0] else -1, f"updates until {until[1]} (now {until[0]})")
    gained, lost = _ports(had.get("ports"), has.get("ports"))
    return BesidesSpeed((*better, *gained), (*worse, *lost))


def _number(rows: Mapping[str, object], field: str) -> float | None:
    value = rows.get(field)
    return float(value) if isinstance(value, int | float) else None


def _ports(before: object, after: object) -> tuple[list[str], list[str]]:
    """Ports that one has and the other has not; nothing where one list is not noted."""
    if not isinstance(before, list) or not isinstance(after, list) or not before or not after:
        return [], []
    had, has = _counted(before), _counted(after)
    gained = [_more(n - had.get(p, 0), p, "more" if p in had else "") for p, n in has.items()]
    lost = [_more(n - has.get(p, 0), p, "fewer") if p in has else f"no {p}" for p, n in had.items()]
    return [each for each in gained if each], [
        each for p, each in zip(had, lost, strict=True) if each and had[p] > has.get(p, 0)
    ]


def _more(number: int, port: str, word: str) -> str:
    """So many of a port; empty for none."""
    if number <= 0:
        return ""
    if not word:
        return port if number == 1 else f"{number} {port}"
    return f"{number} {port} {word}"


def _counted(ports: Sequence[object]) -> dict[str, int]:
    """Ports by kind: ``4 USB`` is four of one kind."""
    found: dict[str, int] = {}
    for port in ports:
        number, _, kind = str(port).partition(" ")
        count = read_whole(number) if kind else None
        name = str(port) if count is None else kind
        found[name] = found.get(name, 0) + min(1 if count is None else count, 1000)
    return found
