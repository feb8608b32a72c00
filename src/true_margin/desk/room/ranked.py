"""What the core makes of a standing task, kept in memory while what it rests on stands."""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Mapping
from dataclasses import dataclass, fields
from functools import cached_property
from uuid import UUID

import numpy as np
from sqlalchemy.orm import Session

from true_margin.core.all_time import AllTime, rank_all_time
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.choices import Keeping
from true_margin.core.errors import SpreadUnknownError
from true_margin.core.study import RunTable, Study
from true_margin.core.worth_timing import WorthTiming, worth_timing
from true_margin.desk.room.standing import StandingRuns, gather
from true_margin.store import records, room, room_uses
from true_margin.store.database import Database

IN_HAND = (Keeping.OWNED, Keeping.LENT)
MOST_KEPT = 40
"""Rankings that stay in memory; those that nobody asked for the longest go first."""


NOTHING = AllTime((), (), (), (), (), None)


class Results:
    """What the core makes of a study, worked out when it is first asked for."""

    def __init__(self, study: Study) -> None:
        self.study = study

    @cached_property
    def analysis(self) -> Analysis | None:
        """The analysis; None where no run counts, or nothing is known of how runs scatter."""
        if not self.study.runs.counted.any():
            return None
        try:
            return analyse(self.study)
        except SpreadUnknownError:
            return None

    @cached_property
    def ranking(self) -> AllTime:
        """The ranking as of the newest version; empty where there is nothing to rank."""
        return NOTHING if self.analysis is None else rank_all_time(self.analysis)


@dataclass(frozen=True)
class Ranked:
    """A standing task's runs, with what the core makes of them."""

    runs: StandingRuns
    results: Results

    @property
    def analysis(self) -> Analysis | None:
        """The analysis of its runs."""
        return self.results.analysis

    @property
    def ranking(self) -> AllTime:
        """Everybody who was timed on it, as of the newest version."""
        return self.results.ranking

    @cached_property
    def worth(self) -> tuple[WorthTiming, ...]:
        """Which machines that can still be timed are worth it most."""
        if self.analysis is None:
            return ()
        entrants = self.runs.entrants
        here = [s for s, each in enumerate(entrants) if each.machine.keeping in IN_HAND]
        return worth_timing(self.analysis, self.ranking, here)


@dataclass(frozen=True)
class _Kept:
    """A ranking with what it was worked out from, so that only what changed is read again."""

    stands: tuple[tuple[int, int], int, tuple[tuple[UUID, int], ...]]
    columns: Mapping[UUID, tuple[records.RunColumns, ...]]
    ranked: Ranked


_KEPT: OrderedDict[tuple[str, UUID], _Kept] = OrderedDict()
_LOCK = threading.Lock()


def rank_standing(database: Database, session: Session, standing_id: UUID) -> Ranked:
    """Take a standing task's runs, ranked when it is asked for; once for what stands now."""
    homes = room_uses.task_homes(session, standing_id)
    stands = (room.room_state(session), room.get_house(session).version, homes)
    key = (database.url, standing_id)
    with _LOCK:
        known = _KEPT.get(key)
        if known is not None:
            _KEPT.move_to_end(key)
    if known is not None and known.stands == stands:
        return known.ranked
    columns = _read_columns(session, standing_id, stands, known)
    runs = gather(session, standing_id, [each for home in columns.values() for each in home])
    ranked = _rank(runs, None if known is None else known.ranked)
    with _LOCK:
        _KEPT[key] = _Kept(stands, columns, ranked)
        while len(_KEPT) > MOST_KEPT:
            _KEPT.popitem(last=False)
    return ranked


def _read_columns(
    session: Session,
    standing_id: UUID,
    stands: tuple[tuple[int, int], int, tuple[tuple[UUID, int], ...]],
    known: _Kept | None,
) -> dict[UUID, tuple[records.RunColumns, ...]]:
    """Runs by shootout; those of shootouts that did not change since are taken as they were."""
    homes = dict(stands[2])
    same: set[UUID] = set()
    if known is not None and known.stands[0][0] == stands[0][0]:
        same = {home for home, revision in known.stands[2] if homes.get(home) == revision}
    found: dict[UUID, list[records.RunColumns]] = {home: [] for home in homes}
    for each in room_uses.runs_of_task(session, standing_id, sorted(set(homes) - same)):
        found[each.shootout_id].append(each)
    before = {} if known is None else known.columns
    return {home: before[home] if home in same else tuple(own) for home, own in found.items()}


def forget() -> None:
    """Forget every ranking; each is then worked out anew."""
    with _LOCK:
        _KEPT.clear()


def _rank(runs: StandingRuns, before: Ranked | None) -> Ranked:
    """Where nothing but names and words changed, what was worked out stands."""
    if before is not None and _same_study(before.runs.study, runs.study):
        return Ranked(runs, before.results)
    return Ranked(runs, Results(runs.study))


def _same_study(one: Study, other: Study) -> bool:
    def rest(study: Study) -> tuple[object, ...]:
        return study.tasks, study.rounds, study.baseline, study.settings, len(study.setups)

    return rest(one) == rest(other) and all(
        np.array_equal(getattr(one.runs, f.name), getattr(other.runs, f.name), equal_nan=True)
        if getattr(one.runs, f.name).dtype.kind == "f"
        else np.array_equal(getattr(one.runs, f.name), getattr(other.runs, f.name))
        for f in fields(RunTable)
    )
