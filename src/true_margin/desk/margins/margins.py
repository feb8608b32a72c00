"""The ladder of a task, or of the mix, as the Margins stage shows it."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from uuid import UUID

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.cells import Basis
from true_margin.core.completion import wilson
from true_margin.core.ladder import Rung
from true_margin.core.margins import Call
from true_margin.core.out_of_line import RESTLESS
from true_margin.core.run_remarks import run_remarks
from true_margin.core.speed import speed_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import spec_value
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError
from true_margin.desk.margins.beside import BesideRow, list_beside
from true_margin.desk.margins.off_ladder import OffRow, list_off
from true_margin.desk.margins.pair_call import rounds_of_carried
from true_margin.desk.margins.summary import summary_of
from true_margin.desk.margins.verdicts import margin_between
from true_margin.desk.margins.words.inquiries import inquiry_line
from true_margin.desk.margins.words.rankings import (
    NO_TASKS,
    NOTHING_APART,
    UPDATE_UNEVEN,
    name_mix,
    name_speed,
    no_baseline,
    say_completion,
    say_estimated,
    say_restless,
    say_specs,
)
from true_margin.desk.margins.worth import (
    SharedRanks,
    as_shown,
    leading_group,
    resolution_of,
    saved_words,
    shared_ranks,
)
from true_margin.store import records
from true_margin.store.database import Database

MIX = "mix"


@dataclass(frozen=True, slots=True)
class LadderRow:
    """One setup on the ladder.

    ``ratio``, ``lo`` and ``hi`` are times as fast as the baseline; ``typical``
    is the fitted time in seconds, or the amount; ``saved`` is what it takes less than the
    baseline, in seconds, between the two times as they are shown; ``carried`` marks figures
    that come from earlier rounds.
    """

    setup_id: UUID
    label: str
    detail: str
    place: int
    best_rank: int
    worst_rank: int
    ratio: float | None
    lo: float | None
    hi: float | None
    call: str
    p_fastest: float | None
    typical: float | None
    saved: float | None
    speed: float | None
    runs: int
    carried: bool
    completion: str | None


@dataclass(frozen=True, slots=True)
class TaskChoice:
    """A task that a ladder can be shown for; ``key`` goes into the address."""

    key: str
    name: str
    measure: str
    runs: int


@dataclass(frozen=True, slots=True)
class OpenCalls:
    """How many calls are open on a task."""

    key: str
    open_calls: int


@dataclass(frozen=True, slots=True)
class LadderView:
    """The ladder of one task, or of the mix.

    ``headline`` is the answer and ``detail`` what else there is to say; ``summary`` is both.
    ``groups`` are the rows that share their ranks with nobody else.
    """

    key: str
    title: str
    choices: tuple[TaskChoice, ...]
    measure: str | None
    unit: str | None
    speed_unit: str | None
    round: str | None
    baseline_id: UUID | None
    baseline: str | None
    confidence: float
    materiality: float
    spread_cv: float | None
    spread_basis: str | None
    resolution: float | None
    rows: tuple[LadderRow, ...]
    groups: tuple[SharedRanks, ...]
    beside: tuple[BesideRow, ...]
    off: tuple[OffRow, ...]
    summary: str
    headline: str
    detail: str
    worth: str
    notes: tuple[str, ...]
    open_calls: int


def show_ladder(database: Database, slug: str, key: str | None) -> LadderView:
    """Give the ladder of a task (by id), of the mix, or of the first task with runs."""
    return ladder_of(SHELF.take(database, slug), key)


def ladder_of(book: Book, key: str | None) -> LadderView:
    """The ladder of a task of a book, worked out once."""
    return book.cached(("ladder", key), lambda: _ladder(book, key))


def _ladder(book: Book, key: str | None) -> LadderView:
    task = task_index(book, key)
    comparison = analysis_of(book).comparison(task)
    choices = tuple(_choice(book, i) for i in range(len(book.tasks)))
    if comparison is None:
        return _empty(book, choices)
    spread = None if task is None else analysis_of(book).cells.spread[task]
    facts = None if task is None else book.tasks[task]
    said = summary_of(book, comparison)
    times = [math.exp(-rung.log_speed) for rung in comparison.rungs]
    step = resolution_of(times) if times and facts and facts.measure == "time" else None
    return LadderView(
        key=MIX if facts is None else str(facts.id),
        title=title(book, task),
        choices=choices,
        measure=None if facts is None else facts.measure,
        unit=None if facts is None else facts.unit,
        speed_unit=speed_unit(facts),
        round=book.rounds[-1].name if book.rounds else None,
        baseline_id=None if book.baseline is None else book.baseline.id,
        baseline=None if book.baseline is None else book.baseline.label,
        confidence=book.shootout.confidence,
        materiality=book.shootout.materiality,
        spread_cv=None if spread is None else spread.cv,
        spread_basis=None if spread is None else spread.basis.value,
        resolution=step,
        rows=tuple(
            _row(book, comparison, rung, at, step) for at, rung in enumerate(comparison.rungs)
        ),
        groups=shared_ranks(comparison),
        beside=tuple(list_beside(book, comparison)),
        off=tuple(list_off(book, comparison)),
        summary=said.whole,
        headline=said.headline,
        detail=said.detail,
        worth=_worth(comparison, step),
        notes=tuple(_notes(book, comparison)),
        open_calls=comparison.pairs.count(Call.OPEN),
    )


def count_open(database: Database, slug: str) -> tuple[OpenCalls, ...]:
    """Count the open calls of every task."""
    book = SHELF.take(database, slug)
    return tuple(
        OpenCalls(str(task.id), analysis_of(book).tasks[i].pairs.count(Call.OPEN))
        for i, task in enumerate(book.tasks)
    )


def task_index(book: Book, key: str | None) -> int | None:
    """The task meant by an address: an id, ``mix``, or none (the first with runs)."""
    if key == MIX:
        return None
    if key is None:
        there = np.flatnonzero(book.index.ok.any(axis=0))
        return int(there[0]) if len(there) else None
    found = next((i for i, task in enumerate(book.tasks) if str(task.id) == key), None)
    if found is None:
        raise NotFoundError(f"There is no task {key} in this shootout.")
    return found


def _choice(book: Book, task: int) -> TaskChoice:
    facts = book.tasks[task]
    runs = int(book.index.kept[:, task].sum())
    return TaskChoice(str(facts.id), facts.name, facts.measure, runs)


def title(book: Book, task: int | None) -> str:
    """Name a task, or the mix, as a heading."""
    if task is None:
        return name_mix(sum(w > 0 for w in analysis_of(book).study.mix))
    return book.tasks[task].name


def speed_unit(task: records.Task | None) -> str | None:
    """Say in what a task's speed is given; None where it has none."""
    if task is None or task.measure != "time" or task.work is None:
        return None
    return name_speed(task.unit)


def _empty(book: Book, choices: tuple[TaskChoice, ...]) -> LadderView:
    s = book.shootout
    return LadderView(
        MIX,
        NO_TASKS,
        choices,
        None,
        None,
        None,
        None,
        None,
        None,
        s.confidence,
        s.materiality,
        None,
        None,
        None,
        (),
        (),
        (),
        (),
        "",
        "",
        "",
        "",
        (),
        0,
    )


def _base_of(comparison: Comparison) -> Rung | None:
    return next((r for r in comparison.rungs if r.setup == comparison.study.baseline), None)


def _worth(comparison: Comparison, step: float | None) -> str:
    """What first place saves against the baseline; empty where nothing takes time or leads."""
    if step is None or len(comparison.rungs) < 2:
        return ""
    group = leading_group(comparison)
    return saved_words(comparison.rungs, group, _base_of(comparison), step)


def _row(
    book: Book, comparison: Comparison, rung: Rung, place: int, step: float | None
) -> LadderRow:
    setup = book.setups[rung.setup]
    base = analysis_of(book).study.baseline
    margin = None if base is None else margin_between(comparison, rung.setup, base)
    is_base = rung.setup == base
    typical, speed = _typical(book, comparison, rung)
    ok, tried = _attempts(book, rung.setup, comparison.task)
    return LadderRow(
        setup.id,
        setup.label,
        _detail(book, setup),
        place,
        rung.best_rank,
        rung.worst_rank,
        rung.ratio,
        None if margin is None or is_base else math.exp(margin.lo),
        None if margin is None or is_base else math.exp(margin.hi),
        "baseline" if is_base else ("" if margin is None else margin.call.value),
        rung.p_fastest,
        typical,
        _saved(comparison, rung, step),
        speed,
        ok,
        carried(book, rung.setup, comparison.task),
        None if ok == tried else _completion(ok, tried, book.shootout.confidence),
    )


def _saved(comparison: Comparison, rung: Rung, step: float | None) -> float | None:
    base = _base_of(comparison)
    if base is None or step is None or base == rung:
        return None
    took, takes = (as_shown(math.exp(-each.log_speed), step) for each in (base, rung))
    return round(took - takes, 3)


def _completion(ok: int, tried: int, confidence: float) -> str:
    return say_completion(ok, tried, *wilson(ok, tried, confidence))


def _typical(book: Book, comparison: Comparison, rung: Rung) -> tuple[float | None, float | None]:
    """Fitted time (or amount), and speed in work a time, of a setup on a task."""
    if comparison.task is None:
        return None, None
    task = book.tasks[comparison.task]
    if task.measure == "amount":
        return math.exp(rung.log_speed), None
    seconds = math.exp(-rung.log_speed)
    return seconds, speed_of(task.work, task.unit, seconds)


def _attempts(book: Book, setup: int, task: int | None) -> tuple[int, int]:
    """Ok runs, and attempts with voids left out, of a setup."""
    tasks = slice(None) if task is None else task
    return int(book.index.ok[setup, tasks].sum()), int(book.index.tried[setup, tasks].sum())


def carried(book: Book, setup: int, task: int | None) -> bool:
    """Say whether a setup's figure comes from earlier rounds."""
    own = analysis_of(book).fit.carried[setup]
    if task is not None:
        return bool(own[task])
    return bool(own[np.flatnonzero(analysis_of(book).study.mix)].any())


def _detail(book: Book, setup: records.Setup) -> str:
    machine = book.machine_of[setup.id]
    return say_specs(
        machine.specs.get("cores"),
        spec_value(machine, setup, "memory_gb"),
        setup.conditions.get("power"),
        setup.specs.get("clock_ghz"),
    )


def _notes(book: Book, comparison: Comparison) -> Iterable[str]:
    task = comparison.task
    for inquiry in book.inquiries:
        if task is not None and inquiry.task_id == book.tasks[task].id:
            yield inquiry_line(inquiry)
    base = book.baseline
    on = {book.setups[rung.setup].id for rung in comparison.rungs}
    if base is not None and on and base.id not in on:
        yield no_baseline(base.label)
    k = len(comparison.pairs.contrasts.setups)
    if k > 1 and comparison.pairs.count(Call.LEVEL) == k * (k - 1) // 2:
        yield NOTHING_APART
    update = analysis_of(book).fit.update
    carried = analysis_of(book).fit.carried
    tasks = (
        np.flatnonzero(analysis_of(book).study.mix)
        if comparison.task is None
        else np.array([comparison.task])
    )
    if carried[:, tasks].any():
        every = range(len(book.setups))
        basis = update.basis or Basis.ASSUMED
        rounds = rounds_of_carried(book, every, comparison.task)
        yield say_estimated(rounds, update.cv, basis.value)
    if update.bridges_disagree:
        yield UPDATE_UNEVEN
    yield from run_remarks(analysis_of(book))
    for setup in np.flatnonzero(analysis_of(book).cells.factor != 1.0).tolist():
        factor = float(analysis_of(book).cells.factor[setup])
        if factor > RESTLESS:
            yield say_restless(book.setups[setup].label, factor)
