"""Setups below the ladder: why each is not on it, and the run that would mend it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.ladder import OffLadder
from true_margin.core.parity import Condition, Weight
from true_margin.core.study import Bound
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.margins.words.rankings import (
    NOT_THE_SAME_JOB,
    Failures,
    another_job,
    on_a_bound,
    say_assumed,
    say_bounds,
    say_mend,
    tied_to_nothing,
    why_off,
)
from true_margin.store import records


@dataclass(frozen=True, slots=True)
class Mend:
    """A run that would bring a setup onto the ladder, in words."""

    setup_id: UUID
    task_id: UUID
    words: str


@dataclass(frozen=True, slots=True)
class OffRow:
    """A setup below the ladder, why, and what would mend it; None where no run would."""

    setup_id: UUID
    label: str
    reason: str
    bound: str | None
    mend: Mend | None


def list_off(book: Book, comparison: Comparison) -> Iterator[OffRow]:
    """List who is not on a ladder, and would not be by bounds or notes either."""
    for off in comparison.standing.off:
        setup = book.setups[off.setup]
        names = [book.tasks[t].name for t in off.lacks]
        bounded = [
            on_a_bound(book.tasks[t].name, bound_words(book, setup, t))
            for t in (_bounded(book, off.setup) if comparison.task is None else [])
        ]
        failed = [book.tasks[t].name for t in off.cannot]
        bound = bound_words(book, setup, comparison.task)
        failures = _how_failed(book, off)
        mix = comparison.task is None
        why = (
            tied_to_nothing(bound)
            if bound is not None
            else why_off(names, failed, bounded, failures, mix=mix)
        )
        if off.not_same_job:
            why = _other_job(book, off.setup, comparison.task)
        mend = None if off.not_same_job else _mend(book, off, comparison.task)
        yield OffRow(setup.id, setup.label, why + _assumed(book, setup), bound, mend)


def _other_job(book: Book, setup: int, task: int | None) -> str:
    """What makes a setup's job another than the baseline's: the first thing that breaks it."""
    base = analysis_of(book).study.baseline
    if base is None:
        return NOT_THE_SAME_JOB
    mix = np.flatnonzero(analysis_of(book).study.mix).tolist()
    for each in mix if task is None else [task]:
        for differs in parity_of(book).between(each, setup, base):
            if differs.weight is Weight.BREAKS:
                # Of an edit there is only its mark, which tells a reader nothing.
                edit = differs.condition is Condition.TIMELINE
                sides = None if edit else (differs.here, differs.there)
                on = book.tasks[each].name if task is None else None
                return another_job(on, differs.condition.value, sides)
    return NOT_THE_SAME_JOB


def _bounded(book: Book, setup: int) -> list[int]:
    """Tasks of the mix of which only bounds are known on a setup."""
    analysis = analysis_of(book)
    return [
        task
        for task in np.flatnonzero(analysis.study.mix).tolist()
        if not np.isfinite(analysis.fit.theta[setup, task])
        and bound_words(book, book.setups[setup], task) is not None
    ]


def _mend(book: Book, off: OffLadder, task: int | None) -> Mend | None:
    """The run that would bring a setup onto the ladder, or the first of them."""
    setup = book.setups[off.setup]
    if book.machine_of[setup.id].retired_at is not None or setup.assumed_ratio is not None:
        return None
    bounded = _bounded(book, off.setup) if task is None else []
    missing = [*off.lacks, *off.cannot, *bounded]
    tied = not off.no_bridge
    if off.no_bridge:
        mix = np.flatnonzero(analysis_of(book).study.mix)
        missing = mix.tolist() if task is None else [task]
    if not missing:
        return None
    # The cheapest of several comes first: the one that takes the setup's rivals least time.
    first = min(missing, key=lambda t: (usual_seconds(book, t) or math.inf, t))
    seconds = usual_seconds(book, first)
    words = say_mend(
        book.tasks[first].name,
        setup.label,
        seconds,
        len(missing) - 1,
        tied=tied,
        again=first in off.cannot,
    )
    return Mend(setup.id, book.tasks[first].id, words)


def usual_seconds(book: Book, task: int) -> float | None:
    """What a run of a task takes on the setup in the middle, in seconds; None where unknown."""
    if book.tasks[task].measure != "time":
        return None
    theta = analysis_of(book).fit.theta[:, task]
    known = theta[np.isfinite(theta)]
    return float(np.exp(-np.median(known))) if len(known) else None


def _assumed(book: Book, setup: records.Setup) -> str:
    """What is said of a setup that was not measured, and by whom."""
    at = book.setup_index.get(setup.assumed_against_id) if setup.assumed_against_id else None
    if at is None or setup.assumed_ratio is None:
        return ""
    return say_assumed(setup.assumed_ratio, book.setups[at].label, setup.assumed_source)


def _how_failed(book: Book, off: OffLadder) -> Failures:
    """The failures that keep a setup off, with their reasons, each once."""
    tasks = {book.tasks[t].id for t in off.cannot}
    setup = book.setups[off.setup].id
    reasons = (
        run.reason
        for run in book.runs
        if run.status == "failed" and run.setup_id == setup and run.task_id in tasks and run.reason
    )
    told = tuple(dict.fromkeys(reasons))[:3]
    tries = sum(
        1
        for run in book.runs
        if run.setup_id == setup and run.task_id in tasks and run.status != "void"
    )
    return Failures(tries, told)


def bound_words(book: Book, setup: records.Setup, task: int | None) -> str | None:
    """What bounds say of a setup on a task, the tightest of each side."""
    if task is None or not (book.index.table.bound != 0).any():
        return None
    known: dict[str, list[float]] = {}
    for run in book.runs:
        here = run.setup_id == setup.id and run.task_id == book.tasks[task].id
        if here and run.bound and run.status == "ok" and run.value is not None:
            known.setdefault(run.bound, []).append(run.value)
    over, under = known.get(Bound.OVER), known.get(Bound.UNDER)
    # The tightest of each side says all that the others say.
    return say_bounds(
        max(over) if over else None,
        min(under) if under else None,
        amount=book.tasks[task].measure == "amount",
    )
