"""The book of a shootout: everything in it, and what the core makes of it.

Loaded whole, analysed once, and kept until something in the shootout changes.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable
from dataclasses import dataclass
from functools import cached_property
from threading import RLock
from typing import Any, TypeVar
from uuid import UUID

import numpy as np

from true_margin.core.analysis import Analysis, analyse
from true_margin.core.checks import Mark as CoreMark
from true_margin.core.checks import slowed_down
from true_margin.core.needs import Seen
from true_margin.core.numerals import Numerals, numerals
from true_margin.core.study import Measure, Settings, Study, TaskFacts
from true_margin.desk.book.conditions import Parity
from true_margin.desk.book.needs import see_setups
from true_margin.desk.book.noted import NewestNotes
from true_margin.desk.book.pick_observed import Readings, read_marks
from true_margin.desk.book.prices import tested_price
from true_margin.desk.book.run_index import Places, RunIndex, index_runs
from true_margin.store import records
from true_margin.store.cards import KeptCard
from true_margin.store.records.viewers import Viewer
from true_margin.store.scripts import Script

Made = TypeVar("Made")
MOST_LANGUAGES = 8
"""Answers of a book are kept in so many ways of writing at once."""


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
    viewers: tuple[Viewer, ...] = ()
    script: Script | None = None
    cards: tuple[KeptCard, ...] = ()
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
    def seen(self) -> tuple[Seen, ...]:
        """What is known of each setup besides its speed."""
        return see_setups(self)

    @cached_property
    def readings(self) -> Readings:
        """What marks say of heat, noise and power."""
        return read_marks(self)

    def answer(self, asked: Hashable, make: Callable[[], Made]) -> Made:
        """Give what was worked out of this book for a question, as it is written now.

        Where many ask the same at once, one works it out and the others wait for it.

        Args:
            asked: the question.
            make: works it out.
        """
        known = self._known()
        if asked not in known:
            with self._working:
                if asked not in known:
                    known[asked] = make()
        made: Made = known[asked]
        return made

    def _known(self) -> dict[Hashable, Any]:
        every, signs = self._answers, numerals()
        if signs not in every and len(every) >= MOST_LANGUAGES:
            every.clear()
        return every.setdefault(signs, {})

    @cached_property
    def _answers(self) -> dict[Numerals, dict[Hashable, Any]]:
        return {}

    @cached_property
    def _working(self) -> RLock:
        # One answer may ask for another.
        return RLock()

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
            s.confidence,
            s.materiality,
            s.prior_df,
            s.prior_cv,
            s.update_prior_df,
            s.update_prior_cv,
        ),
        broken=book.parity.broken,
    )


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
