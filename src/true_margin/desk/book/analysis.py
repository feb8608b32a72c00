"""What the core makes of a book."""

from __future__ import annotations

from collections.abc import Iterable
from uuid import UUID

import numpy as np

from true_margin.core.analysis import Analysis, analyse
from true_margin.core.checks import ProgressPoint as CoreMark
from true_margin.core.checks import slowed_down
from true_margin.core.choices import JudgedAs
from true_margin.core.notes import parse_ratio
from true_margin.core.study import Measure, Note, Settings, Study, TaskDoubt, TaskFacts
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.book.derived import derived
from true_margin.desk.book.prices import tested_price
from true_margin.desk.book.sent import sent_samples
from true_margin.store import records


@derived
def analysis_of(book: Book) -> Analysis:
    """What the core makes of a book."""
    return analyse(build_study(book))


@derived
def slowed_runs(book: Book) -> frozenset[UUID]:
    """Runs whose marks show that they slowed down."""
    found = set()
    for key, marks in book.marks_of.items():
        run = book.runs[book.place_of[key]]
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
            TaskFacts(
                task.name, Measure(task.measure), task.app, task.work, task.unit, s.planned_runs
            )
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
            unit_prior_cv=s.unit_prior_cv,
        ),
        broken=parity_of(book).broken,
        units=_samples(book),
        models=tuple(model_label(book, setup) for setup in book.setups),
        notes=tuple(
            Note(
                book.task_index[each.task_id],
                book.setup_index[each.setup_id],
                book.setup_index[each.against_id],
                parse_ratio(each.typed),
                each.source,
            )
            for each in book.ratios
            if each.withdrawn_at is None and each.task_id in book.task_index
        ),
        doubts=tuple(
            TaskDoubt(places[0], places[1], word.judged_as == JudgedAs.NEARLY, word.reason or "")
            for pair, word in book.doubted_tasks.items()
            if len(places := sorted(book.task_index[t] for t in pair if t in book.task_index)) == 2
        ),
        sent=sent_samples(book),
    )


def _samples(book: Book) -> tuple[int, ...]:
    """Which physical sample each setup is a state of: its machine."""
    place = {machine.id: at for at, machine in enumerate(book.machines)}
    return tuple(place[book.machine_of[setup.id].id] for setup in book.setups)


def model_label(book: Book, setup: records.Setup) -> str:
    """The model that a setup stands for, in the same state; its own label where none is said."""
    machine = book.machine_of[setup.id]
    if machine.model is None:
        return setup.label
    return machine.model if len(machine.setups) == 1 else f"{machine.model} {setup.name}"


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
