"""The matrix of fairness: each condition that could matter, for each setup, in one view."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from uuid import UUID

from true_margin.core.parity import Condition, ConditionDifference, Facts, Weight, say_condition
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.margins.words.fairness import (
    AS_SAVED,
    DIFFERS,
    fit_cell,
    known_on,
    say_caveat,
    say_verdict,
)

JOB = {
    Condition.TIMELINE: "Same edit",
    Condition.SETTINGS: "Same export settings",
    Condition.OUTPUT: "Same output",
    Condition.APP_VERSION: "App version",
}
AROUND = {
    Condition.TIMING: "How timed",
    Condition.ROOM: "Room",
    Condition.POWER: "Power",
    Condition.BACKGROUND: "Background programs",
    Condition.DRIVES: "Drives",
    Condition.ENCODER: "Encoder path",
    Condition.SCREEN: "Screens",
    Condition.CACHES: "Caches and previews",
}
SAME, UNKNOWN = "same", "unknown"


@dataclass(frozen=True, slots=True)
class FairCell:
    """One condition of one setup: same, unknown, or what its difference weighs.

    ``words`` is short and may be empty, ``full`` is all that is known.
    """

    setup_id: UUID
    state: str
    words: str
    full: str


@dataclass(frozen=True, slots=True)
class FairRow:
    """One condition over all setups; ``base`` is the baseline's own value."""

    title: str
    job: bool
    base: str
    cells: tuple[FairCell, ...]


@dataclass(frozen=True, slots=True)
class FairMatrix:
    """The matrix: its columns after the baseline, its rows, and the verdict above it."""

    verdict: str
    because: tuple[str, ...]
    setup_ids: tuple[UUID, ...]
    labels: tuple[str, ...]
    rows: tuple[FairRow, ...]


def matrix_of(book: Book, tasks: Sequence[int], broken: int) -> FairMatrix | None:
    """The matrix of some tasks together; None without a baseline that did any of them.

    Args:
        book: of the shootout.
        tasks: their places.
        broken: how many pairs on them did not do the same job, and stand so.
    """
    if book.baseline is None:
        return None
    base = book.setup_index[book.baseline.id]
    facts = parity_of(book).facts
    on = [task for task in tasks if (base, task) in facts]
    others = [s for s in range(len(book.setups)) if s != base and any((s, t) in facts for t in on)]
    if not on or not others:
        return None
    apart = {
        (setup, task): parity_of(book).between(task, base, setup)
        for setup in others
        for task in on
        if (setup, task) in facts
    }
    rows = []
    for condition, title in (*JOB.items(), *AROUND.items()):
        cells = tuple(_cell(book, condition, setup, base, on, apart) for setup in others)
        known = any(cell.state != UNKNOWN for cell in cells)
        if known or (condition in JOB and condition is not Condition.APP_VERSION):
            values = [facts[base, task].values.get(condition) for task in on]
            own = {_short(condition, value) for value in values if value is not None}
            rows.append(FairRow(title, condition in JOB, own.pop() if len(own) == 1 else "", cells))
    because = tuple(_caveats(book, base, others, on))
    return FairMatrix(
        say_verdict(len(because), broken, unknown=_is_unknown(rows)),
        because,
        tuple(book.setups[s].id for s in others),
        tuple(book.setups[s].label for s in others),
        tuple(rows),
    )


def _cell(
    book: Book,
    condition: Condition,
    setup: int,
    base: int,
    tasks: Sequence[int],
    apart: Mapping[tuple[int, int], Sequence[ConditionDifference]],
) -> FairCell:
    """One cell over some tasks: the heaviest difference, else whether all is known."""
    key, facts = book.setups[setup].id, parity_of(book).facts
    found = [
        (difference, task)
        for task in tasks
        for difference in apart.get((setup, task), ())
        if difference.condition is condition
    ]
    if found:
        order = list(Weight)
        heaviest, task = max(found, key=lambda each: order.index(each[0].weight))
        value = facts[setup, task].values.get(condition)
        several = value is None or _alone(condition, value) is None
        words = DIFFERS if value is None or several else _short(condition, value)
        return FairCell(key, heaviest.weight.value, words, heaviest.there or heaviest.here)
    did = [task for task in tasks if (setup, task) in facts]
    known = [
        task
        for task in did
        if _known(condition, facts[setup, task]) and _known(condition, facts[base, task])
    ]
    if did and len(known) == len(did):
        return FairCell(key, SAME, "", "")
    return FairCell(key, UNKNOWN, "", known_on(len(known), len(did)))


def _is_unknown(rows: Sequence[FairRow]) -> bool:
    """Whether something about the job is not known."""
    return any(cell.state == UNKNOWN for row in rows if row.job for cell in row.cells)


def _known(condition: Condition, facts: Facts) -> bool:
    return condition in facts.values


def _alone(condition: Condition, value: str | Mapping[str, str]) -> str | None:
    """A value of one part, without the name of that part; None where it has several."""
    parts = [value] if isinstance(value, str) else list(value.values())
    return say_condition(condition, parts[0]) if len(parts) == 1 else None


def _short(condition: Condition, value: str | Mapping[str, str]) -> str:
    """A value as it fits a cell; a file's mark tells nobody anything."""
    return AS_SAVED if condition is Condition.TIMELINE else fit_cell(_alone(condition, value))


def _caveats(book: Book, base: int, others: Sequence[int], tasks: Sequence[int]) -> Iterator[str]:
    """What could affect the times, each condition once: who had what."""
    sides: dict[Condition, dict[str, dict[str, None]]] = {}
    usual: dict[Condition, str] = {}
    facts = parity_of(book).facts
    for setup in others:
        for task in tasks:
            for d in parity_of(book).between(task, base, setup):
                if d.weight is Weight.CONFOUNDS:
                    label = book.setups[setup].label
                    there, here = (
                        _said(d.condition, facts.get((s, task)), words)
                        for s, words in ((setup, d.there), (base, d.here))
                    )
                    sides.setdefault(d.condition, {}).setdefault(there, {})[label] = None
                    usual[d.condition] = here
    for condition, found in sides.items():
        having = {there: tuple(labels) for there, labels in found.items()}
        yield say_caveat(condition.value, having, usual[condition], book.setups[base].label)


def _said(condition: Condition, facts: Facts | None, words: str) -> str:
    """A value in a sentence: alone where it has one part, else all that differs."""
    value = None if facts is None else facts.values.get(condition)
    return words if value is None else _alone(condition, value) or words
