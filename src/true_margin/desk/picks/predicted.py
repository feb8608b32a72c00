"""How long one run takes on a machine of a viewer's own: an interval for it, in words."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID

from true_margin.core.predictions import predict_run
from true_margin.core.wording import format_elapsed
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.picks.contenders import contender_name
from true_margin.desk.picks.solve import Solved
from true_margin.store.records.viewers import Viewer, ViewerTask

NINETEEN_IN_TWENTY = 0.95


@dataclass(frozen=True, slots=True)
class PredictedRun:
    """One run to come on another sample of what is picked.

    ``seconds`` as it most likely takes, ``lo`` and ``hi`` the ends that hold it as often as the
    shootout's confidence says; ``span`` are the ends as times, ``words`` all of it in a
    sentence; ``accepted`` says whether the viewer stated a time for it.
    """

    task_id: UUID
    task: str
    seconds: float
    lo: float
    hi: float
    span: str
    accepted: bool
    words: str


def predicted_runs(book: Book, viewer: Viewer, solved: Solved) -> Iterator[PredictedRun]:
    """One run of each task that this viewer does, on a sample of what is picked."""
    decision, speeds = solved.decision, solved.speeds
    if decision is None or decision.pick is None or speeds is None:
        return
    analysis = analysis_of(book)
    members, name = speeds.of(decision.pick), contender_name(book, speeds, decision.pick)
    for part in viewer.tasks:
        at = book.task_index.get(part.task_id)
        if at is None or not _is_done(viewer, part):
            continue
        found = predict_run(analysis, members, at)
        if found is None:
            continue
        task = book.tasks[at]
        span = f"{_time(found.lo)} to {_time(found.hi)}"
        yield PredictedRun(
            task.id,
            task.name,
            found.seconds,
            found.lo,
            found.hi,
            span,
            part.accepted_s is not None,
            f"On {_a(name)} of your own, one run of {task.name} takes {span}, "
            f"{how_often(found.confidence)}.",
        )


def _is_done(viewer: Viewer, part: ViewerTask) -> bool:
    if part.accepted_s is not None and viewer.rule == "enough":
        return True
    return (part.amount if viewer.weekly else part.weight) > 0


def how_often(confidence: float) -> str:
    """How often an interval holds what is to come, in words.

    Example:
        >>> how_often(0.95), how_often(0.9)
        ('nineteen times in twenty', '90 times in 100')
    """
    if abs(confidence - NINETEEN_IN_TWENTY) < 1e-9:
        return "nineteen times in twenty"
    return f"{100 * confidence:g} times in 100"


def _time(seconds: float) -> str:
    return format_elapsed(seconds, 0.1 if seconds < 60 else 1.0)


def _a(name: str) -> str:
    return f"{'an' if name[:1].upper() in 'AEIOU' else 'a'} {name}"
