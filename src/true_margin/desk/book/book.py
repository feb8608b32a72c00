"""The book of a shootout: its rows at one revision, with indices over them.

What follows from the rows stands in the modules that it belongs to: ``analysis``,
``conditions``, ``needs``, ``readings``, ``prices``.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import dataclass, field
from typing import TypeVar
from uuid import UUID

import numpy as np

from true_margin.core.money import RateTable
from true_margin.desk.book.derived import Results, derived
from true_margin.desk.book.noted import NewestNotes
from true_margin.desk.book.run_index import RunIndex, StudyPlaces, index_runs
from true_margin.store import records
from true_margin.store.cards import KeptCard
from true_margin.store.editions import EditionFigure
from true_margin.store.records.viewers import Viewer
from true_margin.store.scripts import Script

Value = TypeVar("Value")


@dataclass(frozen=True, kw_only=True)
class Book:
    """One shootout as it stood at one revision.

    ``tasks`` are those that are timed; ``observed`` are looked at only, and stand in
    no figure; nor do ``withdrawn_marks``. ``stamps`` are those of the latest run and mark
    that it holds; ``rates`` convert its prices; ``said`` is what its last two editions show.
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
    rates: RateTable
    withdrawn_marks: tuple[records.Mark, ...] = ()
    observed: tuple[records.Task, ...] = ()
    settings_used: tuple[records.SettingsUsed, ...] = ()
    output_files: tuple[records.OutputFile, ...] = ()
    looks: tuple[records.OutputLook, ...] = ()
    playbacks: tuple[records.Playback, ...] = ()
    trials: tuple[records.Trial, ...] = ()
    troubles: tuple[records.Trouble, ...] = ()
    entry_pictures: tuple[records.RunPicture, ...] = ()
    ratios: tuple[records.NotedRatio, ...] = ()
    judgements: tuple[records.Judgement, ...] = ()
    plans: tuple[records.Plan, ...] = ()
    inquiries: tuple[records.Inquiry, ...] = ()
    published: tuple[records.PublishedFigure, ...] = ()
    viewers: tuple[Viewer, ...] = ()
    script: Script | None = None
    cards: tuple[KeptCard, ...] = ()
    said: tuple[EditionFigure, ...] = ()
    sent: tuple[records.SentResult, ...] = ()
    stamps: tuple[int, int] = (0, 0)
    results: Results = field(default_factory=Results, init=False, compare=False, repr=False)

    @derived
    def setups(self) -> tuple[records.Setup, ...]:
        """All setups in line-up order."""
        return tuple(setup for machine in self.machines for setup in machine.setups)

    @derived
    def setup_index(self) -> dict[UUID, int]:
        """Place of each setup in the study."""
        return {setup.id: i for i, setup in enumerate(self.setups)}

    @derived
    def task_index(self) -> dict[UUID, int]:
        """Place of each task in the study."""
        return {task.id: i for i, task in enumerate(self.tasks)}

    @derived
    def machine_of(self) -> dict[UUID, records.Machine]:
        """The machine of each setup."""
        return {setup.id: machine for machine in self.machines for setup in machine.setups}

    @derived
    def marks_of(self) -> dict[UUID, list[records.Mark]]:
        """Marks of each run, in time order."""
        found: dict[UUID, list[records.Mark]] = {}
        for mark in self.marks:
            found.setdefault(mark.run_id, []).append(mark)
        return found

    @derived
    def values_of(self) -> dict[tuple[UUID, UUID], list[float]]:
        """Values of the ok runs of each setup on each task, bounds included, in bench order."""
        found: dict[tuple[UUID, UUID], list[float]] = {}
        for run in self.runs:
            if run.status == "ok" and run.value is not None:
                found.setdefault((run.setup_id, run.task_id), []).append(run.value)
        return found

    @derived
    def baseline(self) -> records.Setup | None:
        """The setup that reads 1.00x: the chosen one, else the first measured one."""
        chosen = self.shootout.baseline_setup_id
        if chosen in self.setup_index:
            return self.setups[self.setup_index[chosen]]
        measured: list[bool] = np.asarray(self.index.ok.any(axis=1)).tolist()
        first = next((s for s, there in zip(self.setups, measured, strict=True) if there), None)
        return first or next(iter(self.setups), None)

    @derived
    def index(self) -> RunIndex:
        """The runs in columns, with counts of them."""
        rounds = {round_.id: i for i, round_ in enumerate(self.rounds)}
        return index_runs(self.runs, StudyPlaces(self.setup_index, self.task_index, rounds))

    @derived
    def place_of(self) -> dict[UUID, int]:
        """Place of each run in the book."""
        return {run.id: place for place, run in enumerate(self.runs)}

    @derived
    def noted(self) -> NewestNotes:
        """What counts of what was noted: the newest of each setup on each task."""
        return NewestNotes(
            {(each.task_id, each.setup_id): each for each in self.settings_used},
            {(each.task_id, each.setup_id): each for each in self.output_files},
            {(each.task_id, each.setup_id): each for each in self.looks},
            {(each.task_id, each.setup_id): each for each in self.playbacks},
        )

    @derived
    def looked_at(self) -> dict[tuple[UUID, UUID, str], records.Judgement]:
        """What a person looked at and found the same, by task, setup and part; the newest."""
        return {
            (each.task_id, each.setup_id, each.part): each
            for each in self.judgements
            if each.part is not None and each.setup_id is not None and each.withdrawn_at is None
        }

    @derived
    def doubted_pairs(self) -> dict[tuple[UUID, frozenset[UUID]], records.Judgement]:
        """What a person says of two setups on a task, by task and setups; the newest."""
        return {
            (each.task_id, frozenset((each.setup_id, each.other_setup_id))): each
            for each in self.judgements
            if each.setup_id and each.other_setup_id and each.withdrawn_at is None
        }

    @derived
    def doubted_tasks(self) -> dict[frozenset[UUID], records.Judgement]:
        """What a person says of two tasks, by their ids; the newest."""
        return {
            frozenset((each.task_id, each.other_task_id)): each
            for each in self.judgements
            if each.other_task_id is not None and each.withdrawn_at is None
        }

    def cached(self, key: Hashable, compute: Callable[[], Value]) -> Value:
        """Give what was worked out of this book for a question, as it is written now.

        Args:
            key: the question.
            compute: works the answer out, once.
        """
        return self.results.cached(key, compute)
