"""The book of a shootout: everything in it, and what the core makes of it.

Loaded whole, analysed once, and kept until something in the shootout changes.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TypeVar
from uuid import UUID

import numpy as np
from sqlalchemy.orm import Session

from true_margin.core.analysis import Analysis, analyse
from true_margin.core.checks import Mark as CoreMark
from true_margin.core.checks import slowed_down
from true_margin.core.study import Measure, Settings, Study, TaskFacts
from true_margin.core.task_rows import OBSERVATION
from true_margin.desk.conditions import Parity
from true_margin.desk.errors import DeskError, transaction
from true_margin.desk.noted import NewestNotes
from true_margin.desk.prices import tested_price
from true_margin.desk.run_index import Places, RunIndex, index_runs
from true_margin.store import (
    inquiries,
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
    no figure. ``stamps`` are those of the latest run and mark that it holds.
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
    inquiries: tuple[records.Inquiry, ...] = ()
    published: tuple[records.PublishedFigure, ...] = ()
    stamps: tuple[int, int] = (0, 0)

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
        measured: list[bool] = np.asarray(self.index.ok.any(axis=1)).tolist()
        first = next((s for s, there in zip(self.setups, measured, strict=True) if there), None)
        return first or next(iter(self.setups), None)

    @cached_property
    def index(self) -> RunIndex:
        """The runs in columns, with counts of them."""
        rounds = {round_.id: i for i, round_ in enumerate(self.rounds)}
        return index_runs(self.runs, Places(self.setup_index, self.task_index, rounds))

    @cached_property
    def place_of(self) -> dict[UUID, int]:
        """Place of each run in the book."""
        return {run.id: place for place, run in enumerate(self.runs)}

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
        for key, marks in self.marks_of.items():
            run = self.runs[self.place_of[key]]
            if run.status == "ok" and run.value is not None:
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
        runs=book.index.table,
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
    there: list[bool] = np.asarray(book.index.ok.any(axis=0)).tolist()
    with_runs = {task.id for task, own in zip(book.tasks, there, strict=True) if own}
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


class BookShelf:
    """Keeps the latest books in memory, by shootout and revision."""

    def __init__(self) -> None:
        self._books: OrderedDict[tuple[UUID, int], Book] = OrderedDict()
        self._gates: dict[tuple[UUID, int], threading.Lock] = {}
        self._newest: dict[UUID, int] = {}
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
                return self._kept(key) or self._keep(key, self._load(session, shootout))

    def _load(self, session: Session, shootout: records.Shootout) -> Book:
        with self._lock:
            before = self._books.get((shootout.id, self._newest.get(shootout.id, -1)))
        if before is None or before.shootout.rest_revision != shootout.rest_revision:
            return load_book(session, shootout)
        return follow_book(session, shootout, before)

    def _kept(self, key: tuple[UUID, int]) -> Book | None:
        with self._lock:
            book = self._books.get(key)
            if book is not None:
                self._books.move_to_end(key)
                self._gates.pop(key, None)
            return book

    def _keep(self, key: tuple[UUID, int], book: Book) -> Book:
        with self._lock:
            # Nobody asks for an earlier revision again.
            self._books.pop((key[0], self._newest.get(key[0], -1)), None)
            self._books[key] = book
            self._newest[key[0]] = max(key[1], self._newest.get(key[0], -1))
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
    all_runs, run_stamp = runs.read_runs(session, shootout.id)
    own_runs = tuple(r for r in all_runs if r.setup_id in there)
    kept = {run.id for run in own_runs}
    marks, mark_stamp = runs.read_marks(session, shootout.id)
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
        inquiries.list_inquiries(session, shootout.id),
        inquiries.list_published(session, shootout.id),
        (run_stamp, mark_stamp),
    )


def follow_book(session: Session, shootout: records.Shootout, before: Book) -> Book:
    """Make the book anew where only runs, marks and settings were written since ``before``.

    What was written is read alone, and what does not rest on it is taken over.
    """
    changed, run_stamp = runs.read_runs(session, shootout.id, before.stamps[0])
    new_marks, mark_stamp = runs.read_marks(session, shootout.id, before.stamps[1])
    stamps = (max(run_stamp, before.stamps[0]), max(mark_stamp, before.stamps[1]))
    there = [run for run in changed if run.setup_id in before.setup_index]
    at, rows = _merged(before, there)
    marks = before.marks
    if new_marks:
        known = {run.id for run in rows}
        added = {(m.run_id, m.elapsed_s): m for m in (*marks, *new_marks) if m.run_id in known}
        marks = tuple(sorted(added.values(), key=lambda m: m.elapsed_s))
    book = replace(before, shootout=shootout, runs=rows, marks=marks, stamps=stamps)
    _take_over(before, book, at, there)
    return book


def _merged(
    before: Book, changed: Sequence[records.Run]
) -> tuple[list[int] | None, tuple[records.Run, ...]]:
    """Put changed and new runs into a book's runs.

    Returns:
        Where each changed run stands, None where the order is another; and all runs.
    """
    rows = list(before.runs)
    at = []
    for run in changed:
        place = before.place_of.get(run.id)
        if place is None:
            at.append(len(rows))
            rows.append(run)
        else:
            at.append(place)
            rows[place] = run
    near = {p for place in at for p in (place, place + 1) if 0 < p < len(rows)}
    if all(rows[p - 1].place <= rows[p].place for p in near):
        return at, tuple(rows)
    return None, tuple(sorted(rows, key=lambda run: run.place))


def _take_over(
    before: Book, book: Book, at: list[int] | None, changed: Sequence[records.Run]
) -> None:
    """Give a book what was worked out of the one before and still holds."""
    known, own = before.__dict__, book.__dict__
    for name in ("setups", "setup_index", "task_index", "machine_of", "noted"):
        if name in known:
            own[name] = known[name]
    if book.marks is before.marks and "marks_of" in known:
        own["marks_of"] = known["marks_of"]
    if at is not None and "index" in known:
        own["index"] = before.index.replaced(at, changed) if changed else before.index
        own["place_of"] = {
            **before.place_of, **{run.id: p for run, p in zip(changed, at, strict=True)}
        } if changed else before.place_of  # fmt: skip
    judged = ("subject", "trial_rows")
    if all(getattr(before.shootout, n) == getattr(book.shootout, n) for n in judged) and (
        "parity" in known and before.index.methods == book.index.methods
    ):
        own["parity"] = known["parity"]
    if "analysis" in known:
        own["analysis"] = analyse(build_study(book), before=before.analysis)


def _of(setups: set[UUID], noted: tuple[_Noted, ...]) -> tuple[_Noted, ...]:
    return tuple(each for each in noted if each.setup_id in setups)
