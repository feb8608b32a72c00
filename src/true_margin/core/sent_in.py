"""Results that others sent in: how their machine does against the one that was tested here.

Two machines of one model are two samples of it, whoever timed them; so what was sent in and
accepted tells how much samples differ. It stands in no other figure.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.special import stdtrit

from true_margin.core.cells import CellTable
from true_margin.core.numerals import short
from true_margin.core.study import FloatArray, Measure, SentRuns, Study
from true_margin.core.wording import TWICE, faster_than, format_percent

BEYOND = 2.0
"""So many standard deviations of what samples differ by are more than samples differ by."""


@dataclass(frozen=True, slots=True)
class SentDifference:
    """A machine that was timed elsewhere against a setup here.

    Attributes:
        log_ratio: mean over their common tasks of log speed there less log speed here.
        own_variance: of the mean of the setup here, by its runs.
        sent_variance: of the mean of what was sent in, likewise.
        df: degrees of freedom of both.
        tasks: the common tasks.
    """

    log_ratio: float
    own_variance: float
    sent_variance: float
    df: float
    tasks: tuple[int, ...]

    @property
    def se(self) -> float:
        """Standard error of the log ratio, by runs alone."""
        return math.sqrt(self.own_variance + self.sent_variance)

    def interval(self, confidence: float) -> tuple[float, float]:
        """Both ends of the log ratio's interval, by runs alone."""
        half = float(stdtrit(min(self.df, 1e10), 0.5 + confidence / 2)) * self.se
        return self.log_ratio - half, self.log_ratio + half


def sent_difference(
    study: Study, cells: CellTable, setup: int, runs: Sequence[SentRuns]
) -> SentDifference | None:
    """Hold what was sent in against the newest round of a setup here, on the tasks of both.

    Returns:
        None where they have no timed task in common.
    """
    found = [pair for each in runs if (pair := _on_task(study, cells, setup, each)) is not None]
    if not found:
        return None
    rows = np.array([row for _, row in found])
    count = len(found)
    tasks = tuple(task for task, _ in found)
    df = min(cells.df_of(task) for task in tasks)
    own, sent = rows[:, 1].sum() / count**2, rows[:, 2].sum() / count**2
    return SentDifference(float(rows[:, 0].mean()), float(own), float(sent), df, tasks)


def _on_task(
    study: Study, cells: CellTable, setup: int, sent: SentRuns
) -> tuple[int, tuple[float, float, float]] | None:
    """Difference, own and sent variance on one task."""
    own = np.flatnonzero((cells.setup == setup) & (cells.task == sent.task))
    spread = cells.spread[sent.task]
    timed = study.tasks[sent.task].measure is Measure.TIME
    if not len(own) or spread is None or not sent.seconds or not timed:
        return None
    newest = own[int(np.argmax(cells.round[own]))]
    seconds: FloatArray = np.asarray(sent.seconds, dtype=float)
    reading = float((sent.u / seconds).max())
    variance = max(spread.cv**2, reading**2) / len(seconds)
    away = float(-np.log(seconds).mean()) - float(cells.value[newest])
    return sent.task, (away, 1.0 / float(cells.weight[newest]), variance)


def sent_moments(study: Study, cells: CellTable) -> list[tuple[float, int, float]]:
    """What accepted results tell of the spread of samples, by setup here.

    Returns:
        For each setup here with samples elsewhere: the squares of the samples about their mean,
        less what runs alone would make of them; degrees of freedom; and the latter.
    """
    by_setup: dict[int, list[SentDifference]] = {}
    for each in study.sent:
        found = sent_difference(study, cells, each.setup, each.runs)
        if found is not None:
            by_setup.setdefault(each.setup, []).append(found)
    moments = []
    for _, differences in sorted(by_setup.items()):
        estimate = np.array([0.0, *(each.log_ratio for each in differences)])
        variances = [differences[0].own_variance, *(each.sent_variance for each in differences)]
        # The setup here is one sample among them: all lie about a mean of their own.
        by_runs = sum(variances) * (1.0 - 1.0 / len(estimate))
        squares = float(((estimate - estimate.mean()) ** 2).sum())
        moments.append((squares - by_runs, len(differences), by_runs))
    return moments


def say_sent(
    difference: SentDifference, name: str, confidence: float, unit_cv: float, *, same_model: bool
) -> str:
    """How a machine elsewhere does against one here, in a sentence.

    Args:
        difference: what was found.
        name: of the one here.
        confidence: of the shootout.
        unit_cv: by how much samples of one model differ.
        same_model: whether both are samples of one model.
    """
    lo, hi = difference.interval(confidence)
    whom = f"{name} here, the same model" if same_model else name
    if lo < 0 < hi:
        return f"No difference to {whom}, as far as these runs tell."
    size = difference.log_ratio
    said = f"{_how(size)} {whom}"
    if not same_model:
        return f"{said}."
    if abs(size) > BEYOND * math.sqrt(2.0) * unit_cv:
        return f"{said}: more than samples differ. Power saving, heat, or other settings?"
    return f"{said}: about as much as samples differ."


def _how(log_ratio: float) -> str:
    """How much faster or slower, as one would say it."""
    if log_ratio >= 0:
        return faster_than(log_ratio)
    if log_ratio > -math.log(TWICE):
        return f"{format_percent(-100.0 * math.expm1(log_ratio))} % slower than"
    return f"Takes {short(math.exp(-log_ratio), 2)} times as long as"
