"""The book of a shootout: everything in it, and what the core makes of it.

Loaded whole, analysed once, and kept until something in the shootout changes.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar
from uuid import UUID

import numpy as np
from sqlalchemy.orm import Session

from true_margin.core.analysis import Analysis, analyse
from true_margin.core.checks import Mark as CoreMark
from true_margin.core.checks import slowed_down
from true_margin.core.study import (
    STATUS_CODE,
    Measure,
    RunStatus,
    RunTable,
    Settings,
    Study,
    TaskFacts,
)
from true_margin.core.task_rows import OBSERVATION
from true_margin.desk.conditions import Parity
from true_margin.desk.errors import DeskError, transaction
from true_margin.desk.noted import NewestNotes
from true_margin.desk.prices import tested_price
from true_margin.store import (
    lineup,
    outputs,
    overrules,
    records,
    runs,
    shootouts,
    tasks,
    timelines,
)
from true_margin.store.database import Database

_KEPT_BOOKS = 32
_Noted = TypeVar(
    "_Noted",
    records.SettingsUsed,
    records.OutputFile,
    records.OutputLook,
    records.Playback,
    records.Trial,
    records.Trouble,
)


@dataclass(frozen=True)
class Book:
    """One shootout as it stood at one revision.

    ``tasks`` are those that are timed; ``observed`` are looked at only, and stand in
    no figure.
    """

    shootout: records.Shootout
    machines: tuple[records.Machine, ...]
    tasks: tuple[records.Task, ...]
    rounds: tuple[records.Round, ...]
    runs: tuple[records.Run, ...]
    marks: tuple[records.Mark, ...]
    timelines: tuple[records.Timeline, ...]
    timeline_files: tuple[records.TimelineFile, ...]
    overrules: tuple[records.Overrule, ...]
    free_rows: tuple[records.FreeRow, ...]
    observed: tuple[records.Task, ...] = ()
    settings_used: tuple[records.SettingsUsed, ...] = ()
    output_files: tuple[records.OutputFile, ...] = ()
    looks: tuple[records.OutputLook, ...] = ()
    playbacks: tuple[records.Playback, ...] = ()
    trials: tuple[records.Trial, ...] = ()
    troubles: tuple[records.Trouble, ...] = ()

    @cached_property
    def setups(self) -> tuple[records.Setup, ...]:
        """All setups in line-up order."""
        return tuple(setup for machine in self.machines for setup in machine.setups)

    @cached_property
    def setup_index(self) -> dict[UUID, int]:
        """Place of each setup in the study."""
        return {setup.id: i for i, setup in enumerate(self.setups)}

    @cached_property
    def task_index(self) -> dict[UUID, int]:
        """Place of each task in the study."""
        return {task.id: i for i, task in enumerate(self.tasks)}

    @cached_property
    def machine_of(self) -> dict[UUID, records.Machine]:
        """The machine of each setup."""
        return {setup.id: machine for machine in self.machines for setup in machine.setups}

    @cached_property
    def marks_of(self) -> dict[UUID, list[records.Mark]]:
        """Marks of each run, in time order."""
        found: dict[UUID, list[records.Mark]] = {}
        for mark in self.marks:
            found.setdefault(mark.run_id, []).append(mark)
        return found

    @cached_property
    def values_of(self) -> dict[tuple[UUID, UUID], list[float]]:
        """Values of the ok runs of each setup on each task, bounds included, in bench order."""
        found: dict[tuple[UUID, UUID], list[float]] = {}
        for run in self.runs:
            if run.status == "ok" and run.value is not None:
                found.setdefault((run.setup_id, run.task_id), []).append(run.value)
        return found

    @cached_property
    def baseline(self) -> records.Setup | None:
        """The setup that reads 1.00x: the chosen one, else the first measured one."""
        chosen = self.shootout.baseline_setup_id
        if chosen in self.setup_index:
            return self.setups[self.setup_index[chosen]]
        measured = {run.setup_id for run in self.runs if run.status == "ok"}
        first = next((setup for setup in self.setups if setup.id in measured), None)
        return first or next(iter(self.setups), None)

    @cached_property
    def noted(self) -> NewestNotes:
        """What counts of what was noted: the newest of each setup on each task."""
        return NewestNotes(
            {(each.task_id, each.setup_id): each for each in self.settings_used},
            {(each.task_id, each.setup_id): each for each in self.output_files},
            {(each.task_id, each.setup_id): each for each in self.looks},
            {(each.task_id, each.setup_id): each for each in self.playbacks},
        )

    @cached_property
    def parity(self) -> Parity:
        """Which pairs were tested alike, on which task."""
        return Parity(self)

    @cached_property
    def analysis(self) -> Analysis:
        """What the core makes of it."""
        return analyse(build_study(self))

    @cached_property
    def slowed(self) -> frozenset[UUID]:
        """Runs whose marks show that they slowed down."""
        found = set()
        for run in self.runs:
            marks = self.marks_of.get(run.id)
            if marks and run.status == "ok" and run.value is not None:
                points = progress_of(marks)
                if slowed_down([*points, CoreMark(run.value, 1.0)]):
                    found.add(run.id)
        return frozenset(found)


def progress_of(marks: Iterable[records.Mark]) -> list[CoreMark]:
    """The marks that say how far a run was."""
    return [CoreMark(m.elapsed_s, m.fraction) for m in marks if m.fraction is not None]


def build_study(book: Book) -> Study:
    """Turn a book into the core's columns."""
    s = book.shootout
    baseline = book.baseline
    return Study(
        setups=tuple(setup.label for setup in book.setups),
        tasks=tuple(
            TaskFacts(task.name, Measure(task.measure), task.app, task.work, task.unit)
            for task in book.tasks
        ),
        rounds=tuple(round_.name for round_ in book.rounds),
        runs=_columns(book),
        baseline=None if baseline is None else book.setup_index[baseline.id],
        mix=mix_of(book),
        prices=tuple(tested_price(book, setup).amount for setup in book.setups),
        settings=Settings(
            s.confidence, s.materiality, s.prior_df, s.prior_cv, s.update_prior_df,
            s.update_prior_cv,
        ),
        broken=book.parity.broken,
    )  # fmt: skip


def mix_of(book: Book) -> tuple[float, ...]:
    """Equal weights over the tasks that have runs; all tasks while none has.

    A task that another follows counts only until that one has runs.
    """
    with_runs = {run.task_id for run in book.runs if run.status == "ok"}
    if not with_runs:
        return tuple(0.0 if task.superseded else 1.0 for task in book.tasks)
    replaced: set[UUID | None] = set()
    before = {task.id: task.follows_id for task in book.tasks}
    for task in book.tasks:
        # Every earlier revision of a task with runs is replaced by it.
        at = task.follows_id if task.id in with_runs else None
        while at is not None and at not in replaced:
            replaced.add(at)
            at = before.get(at)
    return tuple(
        1.0 if task.id in with_runs and task.id not in replaced else 0.0 for task in book.tasks
    )


def _columns(book: Book) -> RunTable:
    round_at = {round_.id: i for i, round_ in enumerate(book.rounds)}
    rows = book.runs
    return RunTable(
        setup=np.array([book.setup_index[r.setup_id] for r in rows], dtype=np.intp),
        task=np.array([book.task_index[r.task_id] for r in rows], dtype=np.intp),
        round=np.array([round_at[r.round_id] for r in rows], dtype=np.intp),
        order=np.array([r.place for r in rows], dtype=np.int64),
        value=np.array([np.nan if r.value is None else r.value for r in rows], dtype=float),
        u=np.array([r.u for r in rows], dtype=float),
        status=np.array([STATUS_CODE[RunStatus(r.status)] for r in rows], dtype=np.int8),
        bound=np.array([r.bound for r in rows], dtype=bool),
    )


class BookShelf:
    """Keeps the latest books in memory, by shootout and revision."""

    def __init__(self) -> None:
        self._books: OrderedDict[tuple[UUID, int], Book] = OrderedDict()
        self._gates: dict[tuple[UUID, int], threading.Lock] = {}
        self._lock = threading.Lock()

    def take(self, database: Database, slug: str) -> Book:
        """Give the book of a shootout as it stands now.

        Raises:
            NotFoundError: no such shootout.
        """
        with transaction(database) as session:
            shootout = shootouts.get_shootout(session, slug)
            key = (shootout.id, shootout.revision)
            with self._lock:
                gate = self._gates.setdefault(key, threading.Lock())
            # After a change every open page asks at once: one of them loads, the others wait.
            with gate:
                return self._kept(key) or self._keep(key, load_book(session, shootout))

    def _kept(self, key: tuple[UUID, int]) -> Book | None:
        with self._lock:
            book = self._books.get(key)
            if book is not None:
                self._books.move_to_end(key)
                self._gates.pop(key, None)
            return book

    def _keep(self, key: tuple[UUID, int], book: Book) -> Book:
        with self._lock:
            self._books[key] = book
            self._gates.pop(key, None)
            while len(self._books) > _KEPT_BOOKS:
                self._books.popitem(last=False)
        return book


SHELF = BookShelf()


def warm_shelf(database: Database, most: int = 4) -> None:
    """Take the newest books ahead of the first reader, who would wait for them."""
    try:
        with transaction(database) as session:
            slugs = [each.slug for each in shootouts.list_shootouts(session)[:most]]
        for slug in slugs:
            SHELF.take(database, slug).analysis  # noqa: B018 - computed once and kept
    except DeskError:
        # The reader's own request meets the same trouble and says it.
        return


def load_book(session: Session, shootout: records.Shootout, *, archive: bool = False) -> Book:
    """Load everything in a shootout; what is in the archive only where it is asked for."""
    machines = lineup.list_machines(session, shootout.id, archived=None if archive else False)
    all_tasks = tasks.list_tasks(session, shootout.id)
    there = {setup.id for machine in machines for setup in machine.setups}
    own_runs = tuple(r for r in runs.list_runs(session, shootout.id) if r.setup_id in there)
    kept = {run.id for run in own_runs}
    marks = runs.list_shootout_marks(session, shootout.id)
    files = timelines.list_files(session, shootout.id)
    words = overrules.list_overrules(session, shootout.id)
    return Book(
        shootout,
        machines,
        tuple(task for task in all_tasks if task.measure != OBSERVATION),
        shootouts.list_rounds(session, shootout.id),
        own_runs,
        tuple(mark for mark in marks if mark.run_id in kept),
        timelines.list_timelines(session, shootout.id),
        tuple(f for f in files if f.setup_id is None or f.setup_id in there),
        tuple(o for o in words if {o.setup_a_id, o.setup_b_id} <= there),
        lineup.list_free_rows(session, shootout.id),
        tuple(task for task in all_tasks if task.measure == OBSERVATION),
        _of(there, outputs.list_settings_used(session, shootout.id)),
        _of(there, outputs.list_output_files(session, shootout.id)),
        _of(there, outputs.list_looks(session, shootout.id)),
        _of(there, outputs.list_playbacks(session, shootout.id)),
        _of(there, outputs.list_trials(session, shootout.id)),
        _of(there, outputs.list_troubles(session, shootout.id)),
    )


def _of(setups: set[UUID], noted: tuple[_Noted, ...]) -> tuple[_Noted, ...]:
    return tuple(each for each in noted if each.setup_id in setups)
