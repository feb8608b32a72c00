"""Fairness: what differed against the baseline, and a person's word on what broke."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import UUID

import numpy as np

from true_margin.core.parity import Condition, Weight, say_condition
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.margins.fairness_matrix import FairMatrix, matrix_of
from true_margin.desk.margins.words.fairness import NOT_NOTED, name_parts, say_known
from true_margin.desk.tasks.outputs import SameJobTally, tally_same_job
from true_margin.store import overrules, records, shootouts, tasks
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class Tally:
    """How many pairs were not given the same job somewhere, and how many setups differ
    from the baseline in something that may move a time."""

    breaks: int
    muddy: int


def tally(book: Book) -> Tally:
    """Count what stands in the way of a fair comparison; overruled breaks apart."""
    broken = parity_of(book).broken
    pairs = 0 if broken is None else int(broken.any(axis=0).sum()) // 2
    if book.baseline is None:
        return Tally(pairs, 0)
    base = book.setup_index[book.baseline.id]
    others = (setup for setup in range(len(book.setups)) if setup != base)
    return Tally(pairs, sum(_muddied(book, setup, base) for setup in others))


def _muddied(book: Book, setup: int, base: int) -> bool:
    return any(
        difference.weight is Weight.CONFOUNDS
        for task in range(len(book.tasks))
        for difference in parity_of(book).between(task, base, setup)
    )


def overrule(
    database: Database, task_id: UUID, pair: tuple[UUID, UUID], reason: str, who: str
) -> records.Overrule:
    """Overrule what breaks a pair on a task; the reason is printed wherever the margin is.

    Raises:
        RefusedError: nothing breaks the pair there, or it is overruled already.
    """
    with transaction(database) as session:
        home = tasks.task_home(session, task_id)
        slug = shootouts.slug_of(session, home)
    book = SHELF.take(database, slug)
    a, b = (book.setup_index.get(setup) for setup in pair)
    if a is None or b is None or a == b:
        raise RefusedError("setups", "Two setups of this shootout are needed.")
    task = book.task_index[task_id]
    if not parity_of(book).breaks(task, a, b):
        raise RefusedError("setups", "Nothing breaks this pair on this task.")
    if (task, frozenset((a, b))) in parity_of(book).overruled:
        raise RefusedError("setups", "This pair is overruled already.")
    with transaction(database) as session:
        shootouts.bump_revision(session, home)
        key = overrules.add_overrule(
            session,
            {
                "task_id": task_id,
                "setup_a_id": pair[0],
                "setup_b_id": pair[1],
                "reason": reason,
                "who": who,
                "made_at": datetime.now(UTC),
            },
        )
        return next(o for o in overrules.list_overrules(session, home) if o.id == key)


def withdraw(database: Database, overrule_id: UUID, who: str) -> records.Overrule:
    """Withdraw an overrule; it stays on record, with who did it.

    Raises:
        NotFoundError: no such overrule.
    """
    with transaction(database) as session:
        task_id = overrules.withdraw_overrule(session, overrule_id, datetime.now(UTC), who)
        home = tasks.task_home(session, task_id)
        shootouts.bump_revision(session, home)
        found = overrules.list_overrules(session, home)
    kept = next((each for each in found if each.id == overrule_id), None)
    if kept is None:
        raise NotFoundError(f"There is no overrule {overrule_id}.")
    return kept


@dataclass(frozen=True, slots=True)
class FairnessSide:
    """What setups have in a condition, and which ones."""

    value: str
    setups: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class FairnessLine:
    """One condition that differs from the baseline's somewhere."""

    condition: str
    weight: str
    why: str
    sides: tuple[FairnessSide, ...]
    tasks: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class BrokenPair:
    """A pair that was not given the same job on a task, with a person's word on it if any."""

    task_key: str
    task: str
    a_id: UUID
    a: str
    b_id: UUID
    b: str
    conditions: tuple[str, ...]
    overrule: records.Overrule | None


@dataclass(frozen=True, slots=True)
class FairnessView:
    """What differed between setups besides speed, over a task or everything.

    ``known`` says how much is known of the sameness of the job, so that nothing unknown
    passes as the same.
    """

    baseline: str | None
    broken: tuple[BrokenPair, ...]
    lines: tuple[FairnessLine, ...]
    allowed: tuple[FairnessLine, ...]
    known: tuple[str, ...]
    matrix: FairMatrix | None


def show_fairness(database: Database, slug: str, key: str | None) -> FairnessView:
    """Say what differed from the baseline, on one task (by id) or on all; what breaks, first."""
    book = SHELF.take(database, slug)
    tasks = [place for place, task in enumerate(book.tasks) if key in (None, "mix", str(task.id))]
    if not tasks and book.tasks:
        raise NotFoundError(f"There is no task {key} in this shootout.")
    lines = _lines(book, tasks)
    broken = tuple(_broken(book, tasks))
    return FairnessView(
        None if book.baseline is None else book.baseline.label,
        broken,
        tuple(line for line in lines if line.weight != Weight.ALLOWED),
        tuple(line for line in lines if line.weight == Weight.ALLOWED),
        tuple(_known_line(each) for each in tally_same_job(book, tasks)),
        matrix_of(book, tasks, sum(pair.overrule is None for pair in broken)),
    )


def _known_line(tally: SameJobTally) -> str:
    return say_known(tally.part, tally.proved, tally.looked_at, tally.differs, tally.unknown)


def _broken(book: Book, tasks: list[int]) -> Iterator[BrokenPair]:
    standing = parity_of(book).broken
    for task in tasks:
        pairs = set(parity_of(book).overruled)
        found = {frozenset(pair) for at, pair in pairs if at == task}
        if standing is not None:
            found |= {frozenset((int(a), int(b))) for a, b in np.argwhere(standing[task])}
        for a, b in sorted(tuple(sorted(pair)) for pair in found):
            conditions = dict.fromkeys(
                d.condition.value
                for d in parity_of(book).between(task, a, b)
                if d.weight is Weight.BREAKS
            )
            yield BrokenPair(
                str(book.tasks[task].id),
                book.tasks[task].name,
                book.setups[a].id,
                book.setups[a].label,
                book.setups[b].id,
                book.setups[b].label,
                tuple(conditions),
                parity_of(book).overruled.get((task, frozenset((a, b)))),
            )


def _known_words(book: Book, setup: int, task: int, condition: Condition) -> str:
    """All that is known of a condition of a setup on a task, in words."""
    value = parity_of(book).facts[setup, task].values.get(condition)
    if value is None:
        return NOT_NOTED
    words = value if isinstance(value, str) else name_parts(value)
    return say_condition(condition, words)


def _lines(book: Book, tasks: list[int]) -> list[FairnessLine]:
    """Conditions that differ from the baseline's, each once for what it does."""
    if book.baseline is None:
        return []
    base = book.setup_index[book.baseline.id]
    sides: dict[tuple[str, str, str], dict[str, dict[str, None]]] = {}
    where: dict[tuple[str, str, str], set[int]] = {}
    for task in tasks:
        for setup in range(len(book.setups)):
            if setup == base:
                continue
            for d in parity_of(book).between(task, base, setup):
                key = (d.condition.value, d.weight.value, d.why)
                own = sides.setdefault(key, {})
                for each in (base, setup):
                    judged = d.condition is Condition.WORK
                    said = d.here if judged else _known_words(book, each, task, d.condition)
                    own.setdefault(said, {})[book.setups[each].label] = None
                where.setdefault(key, set()).add(task)
    order = [weight.value for weight in reversed(Weight)]
    return [
        FairnessLine(
            key[0],
            key[1],
            key[2],
            tuple(FairnessSide(value, tuple(setups)) for value, setups in own.items()),
            ()
            if len(where[key]) == len(tasks)
            else tuple(book.tasks[t].name for t in sorted(where[key])),
        )
        for key, own in sorted(sides.items(), key=lambda at: (order.index(at[0][1]), at[0][0]))
    ]
