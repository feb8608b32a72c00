"""What a ladder is worth in minutes, and which setups share their ranks."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.ladder import Rung
from true_margin.core.margins import CALL_ORDER, Call
from true_margin.core.study import IndexArray
from true_margin.desk.margins.words.rankings import say_saved, say_shared

LEVEL = CALL_ORDER.index(Call.LEVEL)


@dataclass(frozen=True, slots=True)
class SharedRanks:
    """Setups that share their ranks: the first and the last row, counted from 0, and words."""

    first: int
    last: int
    words: str


def calls_of(comparison: Comparison) -> IndexArray:
    """Calls of the setups on a ladder against each other, fastest first, by their code."""
    setups = comparison.pairs.contrasts.setups.tolist()
    place = [setups.index(rung.setup) for rung in comparison.rungs]
    return comparison.pairs.call[np.ix_(place, place)]


def leading_group(comparison: Comparison) -> list[int]:
    """Rows of those who may lead, or make no difference to who leads, fastest first."""
    level = calls_of(comparison)[0] == LEVEL
    rungs = comparison.rungs
    return [at for at, rung in enumerate(rungs) if at == 0 or rung.best_rank == 1 or level[at]]


def shared_ranks(comparison: Comparison) -> tuple[SharedRanks, ...]:
    """Groups of a ladder that share their ranks and no other's; none where they overlap."""
    ranks = {(rung.best_rank - 1, rung.worst_rank - 1) for rung in comparison.rungs}
    spans = sorted((first, last) for first, last in ranks if first < last)
    apart = [
        span
        for span in spans
        if all(span == other or span[1] < other[0] or other[1] < span[0] for other in spans)
    ]
    calls = calls_of(comparison) if apart else None
    return tuple(_group(calls, first, last) for first, last in apart if calls is not None)


def _group(calls: IndexArray, first: int, last: int) -> SharedRanks:
    own = calls[first : last + 1, first : last + 1] == LEVEL
    np.fill_diagonal(own, val=True)
    return SharedRanks(first, last, say_shared(first, last, same=bool(own.all())))


def resolution_of(seconds: Sequence[float]) -> float:
    """The step in which the times of one ladder are shown, in seconds; the same in every row."""
    shortest = min(seconds)
    return 0.01 if shortest < 10.0 else 0.1 if shortest < 60.0 else 1.0


def as_shown(seconds: float, step: float) -> float:
    """A time as it stands in its row, in seconds: what is saved is between two that stand there."""
    return round(round(seconds / step) * step, 3)


def saved_words(rungs: Sequence[Rung], group: Sequence[int], base: Rung | None, step: float) -> str:
    """What the leading group takes in place of the baseline, and what that saves; may be empty."""
    if base is None or base in [rungs[at] for at in group]:
        return ""
    middle = sum(rungs[at].log_speed for at in group) / len(group)
    lead, took = (as_shown(math.exp(-each), step) for each in (middle, base.log_speed))
    if took <= lead:
        return ""
    return say_saved(lead, took, step, several=len(group) > 1)
