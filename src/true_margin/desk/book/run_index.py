"""The runs of a book in columns, and counts of them that many answers need."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, fields
from functools import cached_property
from typing import Any
from uuid import UUID

import numpy as np
from numpy.typing import NDArray

from true_margin.core.readings import ReadingMethod
from true_margin.core.study import (
    BOUND_CODE,
    STATUS_CODE,
    FlagArray,
    IndexArray,
    RunStatus,
    RunTable,
)
from true_margin.store import records

_METHODS = tuple(ReadingMethod)
_METHOD_CODE = {method.value: code for code, method in enumerate(_METHODS)}


@dataclass(frozen=True)
class StudyPlaces:
    """Places of setups, tasks and rounds in the study, by id."""

    setups: Mapping[UUID, int]
    tasks: Mapping[UUID, int]
    rounds: Mapping[UUID, int]


@dataclass(frozen=True)
class RunIndex:
    """Runs in columns.

    Attributes:
        places: of what the runs belong to.
        table: the core's columns, one entry a run in the book's order.
        method: code of each run's way of reading.
    """

    places: StudyPlaces
    table: RunTable
    method: NDArray[np.int8]

    @cached_property
    def ok(self) -> IndexArray:
        """Ok runs, bounds included, shape (setups, tasks)."""
        return self._count(self.table.status == STATUS_CODE[RunStatus.OK])

    @cached_property
    def measured(self) -> IndexArray:
        """Ok runs with a value that is no bound, shape (setups, tasks)."""
        return self._count(self.table.counted)

    @cached_property
    def tried(self) -> IndexArray:
        """Attempts, voids left out, shape (setups, tasks)."""
        return self._count(self.table.status != STATUS_CODE[RunStatus.VOID])

    @cached_property
    def kept(self) -> IndexArray:
        """All runs, voids included, shape (setups, tasks)."""
        return self._count(np.ones(len(self.table), dtype=bool))

    @cached_property
    def methods(self) -> dict[tuple[int, int], frozenset[ReadingMethod]]:
        """Ways in which the ok runs of each attempted (setup, task) were read."""
        ok = self.table.status == STATUS_CODE[RunStatus.OK]
        cell = self.table.setup * len(self.places.tasks) + self.table.task
        both = np.flatnonzero(np.bincount(cell[ok] * len(_METHODS) + self.method[ok])).tolist()
        found: dict[tuple[int, int], set[ReadingMethod]] = {
            (int(s), int(t)): set() for s, t in np.argwhere(self.tried > 0)
        }
        for each in both:
            at, code = divmod(each, len(_METHODS))
            found[divmod(at, len(self.places.tasks))].add(_METHODS[code])
        return {key: frozenset(values) for key, values in found.items()}

    def _count(self, which: FlagArray) -> IndexArray:
        shape = len(self.places.setups), len(self.places.tasks)
        cell = self.table.setup[which] * shape[1] + self.table.task[which]
        return np.bincount(cell, minlength=shape[0] * shape[1]).reshape(shape)

    def replaced(self, places: Sequence[int], runs: Sequence[records.Run]) -> RunIndex:
        """The index once some runs were changed; those past the end are new ones."""
        own = index_runs(runs, self.places)
        length = max([len(self.table), *(place + 1 for place in places)])
        where = np.asarray(places, dtype=np.intp)

        def put(old: NDArray[Any], new: NDArray[Any]) -> NDArray[Any]:
            column = np.empty(length, dtype=old.dtype)
            column[: len(old)] = old
            column[where] = new
            return column

        columns: dict[str, Any] = {
            field.name: put(getattr(self.table, field.name), getattr(own.table, field.name))
            for field in fields(RunTable)
        }
        return RunIndex(self.places, RunTable(**columns), put(self.method, own.method))


def index_runs(runs: Sequence[records.Run], places: StudyPlaces) -> RunIndex:
    """Put runs into columns."""
    table = RunTable(
        setup=np.array([places.setups[r.setup_id] for r in runs], dtype=np.intp),
        task=np.array([places.tasks[r.task_id] for r in runs], dtype=np.intp),
        round=np.array([places.rounds[r.round_id] for r in runs], dtype=np.intp),
        order=np.array([r.place for r in runs], dtype=np.int64),
        value=np.array([np.nan if r.value is None else r.value for r in runs], dtype=float),
        u=np.array([r.u for r in runs], dtype=float),
        status=np.array([STATUS_CODE[RunStatus(r.status)] for r in runs], dtype=np.int8),
        bound=np.array([BOUND_CODE[r.bound] for r in runs], dtype=np.int8),
        resolution=np.array(
            [0.0 if r.resolution is None or r.bound else r.resolution for r in runs], dtype=float
        ),
        ordered=np.ones(len(runs), dtype=bool),
        started=np.array(
            [np.nan if r.started_at is None else r.started_at.timestamp() for r in runs],
            dtype=float,
        ),
    )
    method = np.array([_METHOD_CODE.get(r.method, 0) for r in runs], dtype=np.int8)
    return RunIndex(places, table, method)
