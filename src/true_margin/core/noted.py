"""What becomes of ratios that were noted elsewhere: where they stand in, and where not.

Sections 4 and 5 of the computation page. Notes are not chained and not averaged.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from true_margin.core.bounds import BoundMargin
from true_margin.core.margins import Margin
from true_margin.core.notes import NoteStatus
from true_margin.core.rounds import Fit
from true_margin.core.study import FloatArray, IndexArray, Note, NotedRatio, Study


@dataclass(frozen=True, slots=True)
class JudgedNote:
    """A note and what becomes of it.

    Attributes:
        note: as it was given.
        status: what becomes of it.
        agrees: whether its interval and the measured one overlap; None where nothing was
            measured.
    """

    note: Note
    status: NoteStatus
    agrees: bool | None


@dataclass(frozen=True, slots=True)
class NotedRung:
    """The place of a setup on a ladder by notes alone; it has no ranks and no chance.

    Attributes:
        setup: index of the setup.
        log_speed: where the notes place it.
        log_ratio: less that of the baseline; None where that is not on the ladder.
        notes: those that place it, one a weighted task that was not measured.
    """

    setup: int
    log_speed: float
    log_ratio: float | None
    notes: tuple[Note, ...]

    @property
    def ratio(self) -> float | None:
        """Times as fast as the baseline; None where that is not on the ladder."""
        return None if self.log_ratio is None else math.exp(self.log_ratio)


def judge_notes(
    study: Study,
    measured: Callable[[int, int, int], Margin | None],
    bounded: Callable[[int, int, int], BoundMargin | None],
) -> tuple[JudgedNote, ...]:
    """Say of every note what becomes of it.

    Args:
        study: with its notes.
        measured: gives the measured margin of a task and two setups, if there is one.
        bounded: gives that by bounds, if there is one.
    """
    seen: set[tuple[int, frozenset[int]]] = set()
    found = []
    for note in study.notes:
        margin = measured(note.task, note.a, note.b)
        pair = note.task, frozenset((note.a, note.b))
        status, agrees = NoteStatus.STANDS_IN, None
        if margin is not None:
            status, agrees = NoteStatus.MEASURED, _overlaps(note.ratio, margin)
        elif bounded(note.task, note.a, note.b) is not None:
            status = NoteStatus.BOUND
        elif pair in seen:
            status = NoteStatus.EARLIER
        seen.add(pair)
        found.append(JudgedNote(note, status, agrees))
    return tuple(found)


def _overlaps(ratio: NotedRatio, margin: Margin) -> bool:
    above = ratio.lo is None or ratio.lo <= margin.hi
    return above and (ratio.hi is None or ratio.hi >= margin.lo)


def note_of_pair(study: Study, task: int, a: int, b: int) -> tuple[NotedRatio, Note] | None:
    """The first note that names two setups on a task, as speed of a over b."""
    for note in study.notes:
        if note.task == task and {note.a, note.b} == {a, b}:
            return (note.ratio if note.a == a else note.ratio.turned()), note
    return None


def place_by_note(
    study: Study, fit: Fit, task: int, setup: int, on: Sequence[int]
) -> tuple[float, Note] | None:
    """Log speed of a setup by the first note against one that stands on a ladder.

    Args:
        study, fit: with notes and measured speeds.
        task: index of the task.
        setup: index of the setup.
        on: setups that are measured on the ladder.
    """
    for note in study.notes:
        if note.task != task or note.ratio.log_ratio is None or setup not in (note.a, note.b):
            continue
        other, sign = (note.b, 1.0) if note.a == setup else (note.a, -1.0)
        if other in on:
            return float(fit.theta[other, task]) + sign * note.ratio.log_ratio, note
    return None


def noted_rung(
    study: Study,
    fit: Fit,
    weights: FloatArray,
    setup: int,
    on: Sequence[int],
    component: IndexArray,
    zero: float | None,
) -> NotedRung | None:
    """Place a setup on a ladder by notes, where every weighted task is measured or noted.

    Args:
        study, fit: with notes and measured speeds.
        weights: of the tasks, summing to 1.
        setup: index of the setup.
        on: setups that are measured on the ladder.
        component: label of the ladder on each weighted task.
        zero: log speed of the baseline; None where it is not on the ladder.
    """
    total, notes = 0.0, []
    for task, label in zip(np.flatnonzero(weights).tolist(), component.tolist(), strict=True):
        if int(fit.component[setup, task]) == label:
            total += float(weights[task] * fit.theta[setup, task])
            continue
        found = place_by_note(study, fit, task, setup, on)
        if found is None:
            return None
        total += float(weights[task]) * found[0]
        notes.append(found[1])
    if not notes:
        return None
    return NotedRung(setup, total, None if zero is None else total - zero, tuple(notes))
