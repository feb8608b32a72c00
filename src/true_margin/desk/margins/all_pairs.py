"""Every pair of a ladder at once."""

from __future__ import annotations

import math
from dataclasses import dataclass
from uuid import UUID

from true_margin.core.margins import CALL_ORDER, Call
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.margins import MIX, task_index, title
from true_margin.desk.margins.words.rankings import NO_TASKS
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class PairCell:
    """The call of one pair: the setup of the row over that of the column."""

    call: str
    ratio: float | None
    lo: float | None
    hi: float | None


@dataclass(frozen=True, slots=True)
class PairRow:
    """One setup against those that are slower, in the ladder's order."""

    setup_id: UUID
    label: str
    cells: tuple[PairCell, ...]


@dataclass(frozen=True, slots=True)
class AllPairs:
    """All pairs of a task or the mix; row i holds cells for the setups before it."""

    key: str
    title: str
    rows: tuple[PairRow, ...]
    counts: dict[str, int]


def show_all_pairs(database: Database, slug: str, key: str | None) -> AllPairs:
    """Give the call of every pair on a task, or on the mix, fastest setup first."""
    book = SHELF.take(database, slug)
    task = task_index(book, key)
    comparison = analysis_of(book).comparison(task)
    if comparison is None:
        return AllPairs(MIX, NO_TASKS, (), {})
    pairs = comparison.pairs
    speed = pairs.contrasts.estimate
    order = sorted(range(len(speed)), key=lambda i: (-speed[i], i))
    rows = []
    for place, i in enumerate(order):
        setup = book.setups[int(pairs.contrasts.setups[i])]
        cells = []
        for j in order[:place]:
            call = CALL_ORDER[int(pairs.call[j, i])]
            known = call is not Call.NOT_COMPARABLE
            cells.append(
                PairCell(
                    call.value,
                    math.exp(float(speed[j] - speed[i])) if known else None,
                    math.exp(float(pairs.lo[j, i])) if known else None,
                    math.exp(float(pairs.hi[j, i])) if known else None,
                )
            )
        rows.append(PairRow(setup.id, setup.label, tuple(cells)))
    counts = {call.value: pairs.count(call) for call in CALL_ORDER}
    own = MIX if task is None else str(book.tasks[task].id)
    return AllPairs(own, title(book, task), tuple(rows), counts)
