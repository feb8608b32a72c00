"""Setups beside the ladder: known by a bound, or by a ratio that somebody else noted."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from enum import StrEnum
from uuid import UUID

from true_margin.core.analysis import Comparison
from true_margin.core.bounds import BoundRung
from true_margin.core.noted import NotedRung
from true_margin.desk.book.book import Book
from true_margin.desk.margins.off_ladder import bound_words
from true_margin.desk.margins.words.rankings import ranks_between, say_by_bound, say_by_notes


class Evidence(StrEnum):
    """How a setup is known that was not measured."""

    BOUND = "bound"
    NOTED = "noted"


@dataclass(frozen=True, slots=True)
class BesideRow:
    """A setup that was not measured, and what is known of it against the baseline.

    ``lo`` and ``hi`` are the ends that are known, as ratios; ``ratio`` is that of a note.
    """

    setup_id: UUID
    label: str
    evidence: Evidence
    lo: float | None
    hi: float | None
    ratio: float | None
    ranks: str
    words: str


def list_beside(book: Book, comparison: Comparison) -> Iterator[BesideRow]:
    """Those known by bounds first, with their ranks; then those that notes place."""
    for bounded in comparison.bounded:
        yield _bounded(book, bounded, comparison.task)
    for noted in comparison.noted:
        yield _noted(book, noted)


def _bounded(book: Book, rung: BoundRung, task: int | None) -> BesideRow:
    setup, base = book.setups[rung.setup], book.baseline
    bound = bound_words(book, setup, task)
    name = None if base is None else base.label
    return BesideRow(
        setup.id,
        setup.label,
        Evidence.BOUND,
        rung.at_least,
        rung.at_most,
        None,
        ranks_between(rung.best_rank, rung.worst_rank),
        say_by_bound(bound, rung.at_least, rung.at_most, name),
    )


def _noted(book: Book, rung: NotedRung) -> BesideRow:
    setup = book.setups[rung.setup]
    words = say_by_notes(
        [
            (note.ratio, (book.setups[note.a].label, book.setups[note.b].label), note.source)
            for note in rung.notes
        ]
    )
    ratio, (first, *more) = rung.ratio, rung.notes
    lo = hi = None
    if ratio is not None and not more and first.ratio.log_ratio is not None:
        own = first.ratio if first.a == rung.setup else first.ratio.turned()
        middle = own.log_ratio or 0.0
        lo = None if own.lo is None else ratio * math.exp(own.lo - middle)
        hi = None if own.hi is None else ratio * math.exp(own.hi - middle)
    return BesideRow(setup.id, setup.label, Evidence.NOTED, lo, hi, ratio, "", words)
