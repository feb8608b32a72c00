"""Fairness: what differed against the baseline, and a person's word on what broke."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import UUID

from true_margin.core.parity import Weight
from true_margin.desk.book import SHELF, Book
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
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
    broken = book.parity.broken
    pairs = 0 if broken is None else int(broken.any(axis=0).sum()) // 2
    if book.baseline is None:
        return Tally(pairs, 0)
    base = book.setup_index[book.baseline.id]
    others = (setup for setup in range(len(book.setups)) if setup != base)
    return Tally(pairs, sum(_muddied(book, setup, base) for setup in others))


def _muddied(book: Book, setup: int, base: int) -> bool:
    return any(
        difference.weight is Weight.MUDDIES
        for task in range(len(book.tasks))
        for difference in book.parity.between(task, base, setup)
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
    if not book.parity.breaks(task, a, b):
        raise RefusedError("setups", "Nothing breaks this pair on this task.")
    if (task, frozenset((a, b))) in book.parity.overruled:
        raise RefusedError("setups", "This pair is overruled already.")
    with transaction(database) as session:
        shootouts.bump_revision(session, home)
        key = overrules.add_overrule(
            session,
            {
                "task_id": task_id, "setup_a_id": pair[0], "setup_b_id": pair[1],
                "reason": reason, "who": who, "made_at": datetime.now(UTC),
            },
        )  # fmt: skip
        return next(o for o in overrules.list_overrules(session, home) if o.id == key)


def withdraw(database: Database, overrule_id: UUID) -> records.Overrule:
    """Withdraw an overrule; it stays on record.

    Raises:
        NotFoundError: no such overrule.
    """
    with transaction(database) as session:
        task_id = overrules.withdraw_overrule(session, overrule_id, datetime.now(UTC))
        home = tasks.task_home(session, task_id)
        shootouts.bump_revision(session, home)
        found = overrules.list_overrules(session, home)
    kept = next((each for each in found if each.id == overrule_id), None)
    if kept is None:
        raise NotFoundError(f"There is no overrule {overrule_id}.")
    return kept
