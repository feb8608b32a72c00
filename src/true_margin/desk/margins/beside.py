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
from true_margin.core.notes import say_note
from true_margin.core.wording import format_ratio
from true_margin.desk.book.book import Book
from true_margin.desk.margins.off_ladder import bound_words


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
    low, high = rung.best_rank, rung.worst_rank
    ranks = f"{low}" if low == high else f"{low}–{high}"
    parts = []
    if base is not None:
        for words, ratio in (("at least", rung.at_least), ("at most", rung.at_most)):
            if ratio is not None:
                parts.append(f"{words} {format_ratio(ratio)} times as fast as {base.label}")
    words = " and ".join(parts) or "not tied to the baseline"
    return BesideRow(
        setup.id,
        setup.label,
        Evidence.BOUND,
        rung.at_least,
        rung.at_most,
        None,
        ranks,
        f"{bound}: {words}, by a bound alone" if bound else f"{words}, by a bound alone",
    )


def _noted(book: Book, rung: NotedRung) -> BesideRow:
    setup = book.setups[rung.setup]
    said = "; ".join(
        f"{say_note(note.ratio, book.setups[note.a].label, book.setups[note.b].label)} "
        f"({note.source})"
        for note in rung.notes
    )
    ratio, (first, *more) = rung.ratio, rung.notes
    lo = hi = None
    if ratio is not None and not more and first.ratio.log_ratio is not None:
        own = first.ratio if first.a == rung.setup else first.ratio.turned()
        middle = own.log_ratio or 0.0
        lo = None if own.lo is None else ratio * math.exp(own.lo - middle)
        hi = None if own.hi is None else ratio * math.exp(own.hi - middle)
    return BesideRow(setup.id, setup.label, Evidence.NOTED, lo, hi, ratio, "", f"noted: {said}")
