"""The runs of a standing task in all shootouts, as one study whose rounds are app versions."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

import numpy as np
from sqlalchemy.orm import Session

from true_margin.core.all_time import version_key
from true_margin.core.spec_rows import TITLES
from true_margin.core.specs import say_spec
from true_margin.core.study import (
    STATUS_CODE,
    Measure,
    RunStatus,
    RunTable,
    Settings,
    Study,
    TaskFacts,
)
from true_margin.desk.room.offers import is_decisive, say_settings
from true_margin.store import records, room, room_uses


@dataclass(frozen=True, slots=True)
class Entrant:
    """A machine in one state, over all shootouts; ``setups`` are those that it is there.

    ``apart`` is what sets it apart from itself: parts that were changed in between.
    """

    machine: records.RoomMachine
    state: str
    label: str
    setups: tuple[records.SetupUse, ...]
    apart: str


@dataclass(frozen=True)
class StandingRuns:
    """A standing task with all of its runs that can be placed.

    Attributes:
        task: the standing task.
        entrants: by place in the study.
        versions: of its app, oldest first; the rounds of the study.
        since: when the first run of each version was, in seconds; NaN where nobody knows.
        study: what the core takes.
        stretch: for each run of the study, which version and shootout it is of, in order.
        homes: name and address of the shootout of each stretch.
        no_version: shootouts with runs in rounds that state no version, with how many.
        only_failed: entrants of which nothing but failed attempts is known.
        only_bounds: entrants of which nothing but bounds is known.
        prices: what the entrants' machines cost, oldest first.
        currency: of the house.
        other_job: entrants that were seen to be given another job somewhere, whose runs there
            are left out, with what was other.
        not_kept: machines with runs that are not in the store room, and of which shootout.
    """

    task: records.RoomTask
    entrants: tuple[Entrant, ...]
    versions: tuple[str, ...]
    since: tuple[float, ...]
    study: Study
    stretch: np.ndarray
    homes: tuple[tuple[str, records.HomeShootout], ...]
    no_version: tuple[tuple[records.HomeShootout, int], ...]
    only_failed: tuple[int, ...]
    only_bounds: tuple[int, ...]
    prices: tuple[records.PriceThen, ...]
    currency: str
    other_job: tuple[tuple[int, tuple[str, ...]], ...]
    not_kept: tuple[tuple[str, records.HomeShootout], ...]


def gather(
    session: Session, standing_id: UUID, columns: Sequence[records.RunColumns]
) -> StandingRuns:
    """Put the runs of a standing task into one study."""
    task = room.get_task(session, standing_id)
    homes = {each.id: each for each in room.list_homes(session)}
    machines = {each.id: each for each in room.list_machines(session)}
    ran = {each.setup_id for each in columns}
    uses = [use for use in room_uses.list_setup_uses(session) if use.setup_id in ran]
    entrants = name_entrants(uses, machines)
    place = {use.setup_id: at for at, each in enumerate(entrants) for use in each.setups}
    used = room_uses.settings_used(session, standing_id)
    differs = {
        key: tuple(say_settings(task.settings, settings))
        for key, settings in used.items()
        if key[0] in place
    }
    other_job = {key: words for key, words in differs.items() if words}
    placed = [
        each
        for each in columns
        if each.setup_id in place and (each.setup_id, each.task_id) not in other_job
    ]
    unversioned: dict[UUID, int] = {}
    for each in placed:
        if each.app_version is None:
            unversioned[each.shootout_id] = unversioned.get(each.shootout_id, 0) + each.count
    told = [each for each in placed if each.app_version is not None]
    versions = tuple(sorted({str(each.app_version) for each in told}, key=version_key))
    stretches = _stretches(told, homes)
    table, stretch = _columns(told, place, {v: at for at, v in enumerate(versions)}, stretches)
    return StandingRuns(
        task,
        entrants,
        versions,
        _since(table, len(versions)),
        Study(
            setups=_unlike([each.label for each in entrants]),
            tasks=(TaskFacts(task.name, Measure(task.measure), task.app, task.work, task.unit),),
            rounds=versions,
            runs=table,
            baseline=_yardstick(table, len(entrants)),
            mix=(1.0,),
            settings=_settings(session),
        ),
        stretch,
        tuple((version, homes[home]) for version, home in stretches),
        tuple((homes[home], count) for home, count in unversioned.items()),
        *_unmeasured(table),
        room_uses.prices_of(session, list(place)),
        room.get_house(session).currency,
        tuple((place[setup], words) for (setup, _), words in other_job.items()),
        tuple(
            dict.fromkeys(
                (use.machine, homes[use.shootout_id]) for use in uses if use.setup_id not in place
            )
        ),
    )


def name_entrants(
    uses: Sequence[records.SetupUse], machines: Mapping[UUID, records.RoomMachine]
) -> tuple[Entrant, ...]:
    """Gather setups into machines in a state; one whose parts were changed is another."""
    states: dict[tuple[UUID, str], list[list[records.SetupUse]]] = {}
    spelt: dict[tuple[UUID, str], str] = {}
    for use in uses:
        machine_id = use.room_machine_id
        if machine_id is None or machine_id not in machines:
            continue
        state = use.state or use.setup
        key = (machine_id, state.casefold())
        spelt.setdefault(key, state)
        groups = states.setdefault(key, [])
        same = next((group for group in groups if not _apart(group, use)), None)
        if same is None:
            groups.append([use])
        else:
            same.append(use)
    several = {machine for machine, _ in states}
    alone = {m for m in several if sum(other == m for other, _ in states) == 1}
    found = []
    for (machine_id, folded), groups in states.items():
        machine, state = machines[machine_id], spelt[machine_id, folded]
        base = machine.name if machine_id in alone else f"{machine.name} {state}"
        for at, group in enumerate(groups):
            parts = _own_parts(group, groups) if len(groups) > 1 else ""
            told = parts or (f"no {at + 1}" if len(groups) > 1 else "")
            label = f"{base} ({told})" if told else base
            found.append(Entrant(machine, state, label, tuple(group), told))
    return tuple(found)


def _parts(use: records.SetupUse) -> dict[str, Any]:
    every = {**use.specs, **use.own_specs}
    return {field: value for field, value in every.items() if is_decisive(field)}


def _apart(group: Sequence[records.SetupUse], use: records.SetupUse) -> bool:
    own = _parts(use)
    known: dict[str, Any] = {}
    for each in group:
        known.update(_parts(each))
    return any(field in known and known[field] != value for field, value in own.items())


def _own_parts(
    group: Sequence[records.SetupUse], groups: Sequence[Sequence[records.SetupUse]]
) -> str:
    """Those parts in which a machine is another than in its other groups, in words."""
    every = [{f: v for use in each for f, v in _parts(use).items()} for each in groups]
    own = {f: v for use in group for f, v in _parts(use).items()}
    fields = [f for f in TITLES if any(f in e and f in own and e[f] != own[f] for e in every)]
    return ", ".join(f"{TITLES[f].lower()} {say_spec(own[f])}" for f in fields[:2])


def _unlike(labels: Iterable[str]) -> tuple[str, ...]:
    """Names that are each given once: two machines may well be called alike."""
    seen: dict[str, int] = {}
    found = []
    for label in labels:
        seen[label] = seen.get(label, 0) + 1
        found.append(label if seen[label] == 1 else f"{label} · {seen[label]}")
    return tuple(found)


def _stretches(
    told: Sequence[records.RunColumns], homes: Mapping[UUID, records.HomeShootout]
) -> list[tuple[str, UUID]]:
    """Every version in every shootout: by version, then by when it was run there."""

    def begun(each: records.RunColumns) -> float:
        known = np.frombuffer(each.started, ">f8")
        known = known[~np.isnan(known)]
        return float(known.min(initial=homes[each.shootout_id].created_at.timestamp()))

    first: dict[tuple[str, UUID], float] = {}
    for each in told:
        key = (str(each.app_version), each.shootout_id)
        first[key] = min(first.get(key, np.inf), begun(each))
    return sorted(first, key=lambda key: (version_key(key[0]), first[key], str(key[1])))


def _columns(
    told: Sequence[records.RunColumns],
    place: Mapping[UUID, int],
    rounds: Mapping[str, int],
    stretches: Sequence[tuple[str, UUID]],
) -> tuple[RunTable, np.ndarray]:
    """Runs in columns, in the order in which they were made, and the stretch of each."""
    at_stretch = {key: at for at, key in enumerate(stretches)}
    blocks = sorted(
        told, key=lambda e: (at_stretch[str(e.app_version), e.shootout_id], str(e.setup_id))
    )
    sizes = [each.count for each in blocks]

    def spread(values: Iterable[int]) -> np.ndarray:
        return np.repeat(np.array(list(values), dtype=np.intp), sizes)

    def joined(name: str, sent: str, kept: str) -> np.ndarray:
        return np.frombuffer(b"".join(getattr(e, name) for e in blocks), sent).astype(kept)

    stretch = spread(at_stretch[str(e.app_version), e.shootout_id] for e in blocks)
    order = joined("place", ">i8", "i8")
    # Places count within a shootout; those of a later stretch come after all of an earlier one.
    span = int(order.max(initial=0)) + 1
    table = RunTable(
        setup=spread(place[e.setup_id] for e in blocks),
        task=np.zeros(sum(sizes), dtype=np.intp),
        round=spread(rounds[str(e.app_version)] for e in blocks),
        order=stretch * span + order,
        value=joined("value", ">f8", "f8"),
        u=joined("u", ">f8", "f8"),
        status=joined("status", ">i2", "i1"),
        bound=joined("bound", ">i2", "i1"),
        resolution=np.nan_to_num(joined("resolution", ">f8", "f8")),
        ordered=np.ones(sum(sizes), dtype=bool),
        started=joined("started", ">f8", "f8"),
    )
    return table, stretch


def _since(table: RunTable, versions: int) -> tuple[float, ...]:
    found = [np.nan] * versions
    for at in range(versions):
        known = table.started[(table.round == at) & ~np.isnan(table.started)]
        if len(known):
            found[at] = float(known.min())
    return tuple(found)


def _yardstick(table: RunTable, entrants: int) -> int | None:
    """Who ties the newest version to most others: timed in it, and in most versions."""
    counted = table.counted
    if not counted.any():
        return None
    newest = int(table.round[counted].max())
    versions = [len(np.unique(table.round[counted & (table.setup == s)])) for s in range(entrants)]
    now: list[int] = np.unique(table.setup[counted & (table.round == newest)]).tolist()
    return max(now, key=lambda s: (versions[s], -s))


def _unmeasured(table: RunTable) -> tuple[tuple[int, ...], tuple[int, ...]]:
    measured = set(table.setup[table.counted].tolist())
    bounded = set(table.setup[table.bounded].tolist()) - measured
    failed = set(table.setup[table.status == STATUS_CODE[RunStatus.FAILED]].tolist())
    return tuple(sorted(failed - measured - bounded)), tuple(sorted(bounded))


def _settings(session: Session) -> Settings:
    house = room.get_house(session)
    return Settings(house.confidence, house.materiality)
