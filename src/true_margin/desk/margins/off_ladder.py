"""Setups below the ladder: why each is not on it, and the run that would mend it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.ladder import OffLadder
from true_margin.core.numerals import fixed, short
from true_margin.core.parity import Condition, Weight
from true_margin.core.study import Bound
from true_margin.core.wording import count_of, format_elapsed, listed
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
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
            f"{book.tasks[t].name} ({bound_words(book, setup, t)})"
            for t in (_bounded(book, off.setup) if comparison.task is None else [])
        ]
        failed = [book.tasks[t].name for t in off.cannot]
        bound = bound_words(book, setup, comparison.task)
        failures = _how_failed(book, off)
        why = (
            f"only a bound, linked to nothing here: {bound}"
            if bound is not None
            else _why_off(names, failed, bounded, comparison.task, failures)
        )
        if off.not_same_job:
            why = _other_job(book, off.setup, comparison.task)
        mend = None if off.not_same_job else _mend(book, off, comparison.task)
        yield OffRow(setup.id, setup.label, why + _assumed(book, setup), bound, mend)


def _other_job(book: Book, setup: int, task: int | None) -> str:
    """What makes a setup's job another than the baseline's: the first thing that breaks it."""
    base = analysis_of(book).study.baseline
    why = "not the same job as the baseline's"
    if base is None:
        return why
    mix = np.flatnonzero(analysis_of(book).study.mix).tolist()
    for each in mix if task is None else [task]:
        for differs in parity_of(book).between(each, setup, base):
            if differs.weight is Weight.BREAKS:
                on = f" on {book.tasks[each].name}" if task is None else ""
                # Of an edit there is only its mark, which tells a reader nothing.
                edit = differs.condition is Condition.TIMELINE
                what = "" if edit else f", {differs.here} against {differs.there}"
                return f"{why}{on}: {differs.condition.value} differs{what}"
    return why


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
    more = f", then {count_of(len(missing) - 1, 'more task')}" if len(missing) > 1 and tied else ""
    about = "" if seconds is None else f" (about {max(1, round(seconds / 60))} min)"
    tie = "" if tied else " in the latest round, to link it to the others"
    again = " once more" if first in off.cannot else ""
    words = f"run {book.tasks[first].name} on {setup.label}{again}{tie}{about}{more}"
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
    words = f"{fixed(setup.assumed_ratio, 2)} times as fast as {book.setups[at].label}"
    return f"; claimed: {words} ({setup.assumed_source})"


def _how_failed(book: Book, off: OffLadder) -> str:
    """The reasons of the failures that keep a setup off, each once."""
    if not off.cannot:
        return ""
    tasks = {book.tasks[t].id for t in off.cannot}
    setup = book.setups[off.setup].id
    reasons = (
        run.reason
        for run in book.runs
        if run.status == "failed" and run.setup_id == setup and run.task_id in tasks and run.reason
    )
    told = list(dict.fromkeys(reasons))[:3]
    tries = sum(
        1
        for run in book.runs
        if run.setup_id == setup and run.task_id in tasks and run.status != "void"
    )
    return f"{tries} of {tries}" + (f": {'; '.join(told)}" if told else "")


def _why_off(
    lacks: list[str], cannot: list[str], bounded: list[str], task: int | None, failures: str
) -> str:
    reasons = []
    if bounded:
        reasons.append(f"known by a bound alone on {listed(bounded, 3)}")
    if cannot:
        on = "" if task is not None else f" on {listed(cannot, 3)}"
        reasons.append(f"failed{on} {failures}")
    if lacks:
        reasons.append("not tested" if task is not None else f"not tested on {listed(lacks, 3)}")
    if not reasons:
        reasons.append("tested only in another round; no machine links it to the baseline's")
    return "; ".join(reasons)


def bound_words(book: Book, setup: records.Setup, task: int | None) -> str | None:
    """What bounds say of a setup on a task, the tightest of each side."""
    if task is None or not (book.index.table.bound != 0).any():
        return None
    known: dict[str, list[float]] = {}
    for run in book.runs:
        here = run.setup_id == setup.id and run.task_id == book.tasks[task].id
        if here and run.bound and run.status == "ok" and run.value is not None:
            known.setdefault(run.bound, []).append(run.value)
    amount = book.tasks[task].measure == "amount"
    tightest = {
        sign: max(values) if sign == Bound.OVER else min(values) for sign, values in known.items()
    }
    parts = [
        f"{words} {short(tightest[sign]) if amount else format_elapsed(tightest[sign])}"
        for sign, words in ((Bound.OVER, "more than"), (Bound.UNDER, "less than"))
        if sign in tightest
    ]
    return " and ".join(parts) or None
