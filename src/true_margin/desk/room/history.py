"""One machine over the years: whether it is slower than it was, and what else to time on it."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import UUID

import numpy as np

from true_margin.core.own_history import Change, OwnChange, lasting_change, own_changes
from true_margin.core.wording import format_percent, interval_words, listed, percent_faster
from true_margin.core.worth_timing import worth_timing
from true_margin.desk.errors import transaction
from true_margin.desk.room.all_time import say_worth
from true_margin.desk.room.ranked import IN_HAND, Ranked, rank_standing
from true_margin.desk.room.words import say_value
from true_margin.store import records, room, room_uses
from true_margin.store.database import Database

WHICH = {
    Change.SLOWER: "Either it lost pace, or the update helps it less.",
    Change.FASTER: "Either it gained pace, or the update helps it more.",
}


@dataclass(frozen=True, slots=True)
class StretchRow:
    """A machine in one version and shootout; ``words`` compares it with its first stretch."""

    version: str
    shootout: str
    since: datetime | None
    shown: str
    runs: int
    change: str
    words: str


@dataclass(frozen=True, slots=True)
class TaskHistory:
    """A machine on one standing task; ``finding`` says what became of it."""

    standing_id: UUID
    name: str
    label: str
    finding: str
    stretches: tuple[StretchRow, ...]


@dataclass(frozen=True, slots=True)
class WorthRow:
    """What to time on a machine while it is here, by what that gives for each minute."""

    standing_id: UUID
    name: str
    words: str


@dataclass(frozen=True, slots=True)
class MachineHistory:
    """One machine of the store room on all standing tasks that it was timed on."""

    name: str
    tasks: tuple[TaskHistory, ...]


def show_history(database: Database, machine_id: UUID) -> MachineHistory:
    """Show what became of a machine.

    Raises:
        MissingRowError: there is no such machine.
    """
    machine, ranked = _ranked(database, machine_id)
    told = [each for task in ranked for each in _tasks(task, machine_id)]
    return MachineHistory(machine.name, tuple(told))


def show_worth(database: Database, machine_id: UUID) -> tuple[WorthRow, ...]:
    """Show what to time on a machine before it goes, the most for each minute first.

    Raises:
        MissingRowError: there is no such machine.
    """
    machine, ranked = _ranked(database, machine_id)
    return tuple(_worth(ranked, machine_id)) if machine.keeping in IN_HAND else ()


def _ranked(database: Database, machine_id: UUID) -> tuple[records.RoomMachine, tuple[Ranked, ...]]:
    """A machine with the standing tasks that it was timed on."""
    with transaction(database) as session:
        machine = room.get_machine(session, machine_id)
        homes = {use.shootout_id for use in room_uses.list_setup_uses(session, machine_id)}
        tasks = {u.standing_id for u in room_uses.list_task_uses(session) if u.shootout_id in homes}
        return machine, tuple(
            rank_standing(database, session, task.id)
            for task in room.list_tasks(session)
            if task.id in tasks
        )


def _tasks(ranked: Ranked, machine_id: UUID) -> Iterator[TaskHistory]:
    runs = ranked.runs
    counted = runs.study.runs.counted
    for place, entrant in enumerate(runs.entrants):
        own = counted & (runs.study.runs.setup == place)
        stretches = np.unique(runs.stretch[own])
        if entrant.machine.id != machine_id or not len(stretches):
            continue
        # Stretches count anew for each machine: 0 is its first.
        stretch = np.searchsorted(stretches, runs.stretch)
        changes: tuple[OwnChange, ...] = ()
        if len(stretches) > 1:
            changes = own_changes(runs.study, place, stretch)
        yield TaskHistory(
            runs.task.id,
            runs.task.name,
            entrant.label,
            _finding(ranked, changes, stretches),
            tuple(
                _stretch(ranked, own & (runs.stretch == s), stretches.tolist(), at, changes)
                for at, s in enumerate(stretches.tolist())
            ),
        )


def _stretch(
    ranked: Ranked,
    own: np.ndarray,
    stretches: list[int],
    place: int,
    changes: tuple[OwnChange, ...],
) -> StretchRow:
    runs = ranked.runs
    table = runs.study.runs
    version, home = runs.homes[stretches[place]]
    started = table.started[own]
    known = started[~np.isnan(started)]
    mean = math.exp(float(np.log(table.value[own]).mean()))
    change = next((c for c in changes if c.stretch == place), None)
    return StretchRow(
        version,
        home.name,
        datetime.fromtimestamp(float(known.min()), UTC) if len(known) else None,
        say_value(runs.task, mean),
        int(own.sum()),
        "" if change is None else change.change.value,
        "" if change is None else _say_change(change, runs.homes[stretches[change.against]][0]),
    )


def _say_change(change: OwnChange, since: str) -> str:
    if change.change is Change.UNTIED:
        return "no other machine tells what the update did"
    if change.change is Change.SAME:
        return f"as fast as in {since}, updates taken out"
    if change.change is Change.OPEN:
        return f"no difference found from {since}, updates taken out"
    return f"{_size(change)} than in {since}, updates taken out"


def _size(change: OwnChange) -> str:
    size, lo, hi = change.log_ratio, change.lo, change.hi
    if change.change is Change.SLOWER:
        size, lo, hi = -size, -hi, -lo
        return f"takes {format_percent(percent_faster(size))} % ({interval_words(lo, hi)}) longer"
    return f"is {format_percent(percent_faster(size))} % ({interval_words(lo, hi)}) faster"


def _finding(ranked: Ranked, changes: tuple[OwnChange, ...], stretches: np.ndarray) -> str:
    """What became of a machine, in a sentence."""
    if not changes:
        return "Timed once so far: time it again to see whether it keeps its pace."
    lasting = lasting_change(changes)
    if lasting is not None:
        version, home = ranked.runs.homes[int(stretches[lasting.stretch])]
        before, _ = ranked.runs.homes[int(stretches[lasting.against])]
        said = (
            f"Since {version} (“{home.name}”) it {_size(lasting)} than in {before}, beyond what "
            f"updates did to the others."
        )
        # From one version to the next nobody can tell which of the two it is.
        return said if version == before else f"{said} {WHICH[lasting.change]}"
    tied = [each for each in changes if each.change is not Change.UNTIED]
    if not tied:
        return "What updates did is not known: no other machine was timed in the same versions."
    spans = _listed_spans(ranked, tied, stretches)
    return f"It keeps its pace from {spans}: no difference found, updates taken out."


def _listed_spans(ranked: Ranked, tied: list[OwnChange], stretches: np.ndarray) -> str:
    """Over which versions others tell what updates did, from first to last."""
    ends: dict[int, int] = {}
    for each in tied:
        ends[each.against] = each.stretch

    def version(place: int) -> str:
        return ranked.runs.homes[int(stretches[place])][0]

    return listed(f"{version(first)} to {version(last)}" for first, last in ends.items())


def _worth(ranked: Sequence[Ranked], machine_id: UUID) -> Iterator[WorthRow]:
    found = []
    for task in ranked:
        if task.analysis is None:
            continue
        own = [s for s, e in enumerate(task.runs.entrants) if e.machine.id == machine_id]
        found += [(task, each) for each in worth_timing(task.analysis, task.ranking, own)]
    found.sort(key=lambda pair: -pair[1].gain / (pair[1].seconds or 60.0))
    for task, worth in found:
        yield WorthRow(task.runs.task.id, task.runs.task.name, say_worth(task, worth))
