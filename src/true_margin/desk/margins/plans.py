"""What was planned before the first run, frozen with its day, and what was done otherwise."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import UTC, datetime

from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.margins.words import plans as words
from true_margin.exchange.pack_public import is_private
from true_margin.store import plans, records, runs, shootouts
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class FrozenPlan:
    """A plan in words: ``says`` what was planned, ``otherwise`` what was done otherwise."""

    frozen_at: datetime
    who: str
    says: str
    otherwise: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class PlanView:
    """The plan that counts; None where none was frozen. ``why_not`` says why none can be now."""

    plan: FrozenPlan | None
    earlier: int
    why_not: str | None


def show_plan(database: Database, slug: str) -> PlanView:
    """Give the plan of a shootout, and what was done otherwise."""
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        refusal = _refusal(book, runs.first_run_at(session, book.shootout.id))
    newest = _newest(book)
    frozen = None
    if newest is not None:
        otherwise = tuple(done_otherwise(book, newest))
        frozen = FrozenPlan(newest.frozen_at, newest.who, say_plan(book, newest), otherwise)
    why_not = None if refusal is None else refusal.reason
    return PlanView(frozen, max(0, len(book.plans) - 1), why_not)


def _newest(book: Book) -> records.Plan | None:
    return book.plans[-1] if book.plans else None


def freeze_plan(database: Database, slug: str, counting: str | None, who: str) -> PlanView:
    """Freeze what is planned as the shootout stands: its tasks, setups, runs and settings.

    Args:
        database: where it is.
        slug: of the shootout.
        counting: what would count as a difference, in the reviewer's own.
        who: who freezes it.

    Raises:
        RefusedError: a run was made already, or there is nothing to plan yet.
    """
    book = SHELF.take(database, slug)
    s = book.shootout
    fields = {
        "runs": s.planned_runs,
        "confidence": s.confidence,
        "materiality": s.materiality,
        "words": counting,
        "who": who,
        "frozen_at": datetime.now(UTC),
    }
    timed = [task for task in book.tasks if not task.superseded]
    parts = [
        *({"task_id": task.id} for task in timed),
        *({"setup_id": setup.id} for setup in book.setups),
    ]
    with transaction(database) as session:
        refusal = _refusal(book, runs.first_run_at(session, s.id))
        if refusal is not None:
            raise refusal
        # What came in meanwhile has made the book stale.
        shootouts.bump_revision(session, s.id)
        now = shootouts.get_shootout(session, slug)
        if now.revision != s.revision + 1:
            raise RefusedError("plan", words.CHANGED_MEANWHILE)
        plans.add_plan(session, s.id, fields, parts)
    return show_plan(database, slug)


def _refusal(book: Book, first: datetime | None) -> RefusedError | None:
    """Why no plan can be frozen as things stand; None where one can.

    Args:
        book: of the shootout.
        first: when its first run was made, on a machine in the archive too.
    """
    if first is not None:
        return RefusedError("plan", words.too_late(first))
    if book.shootout.planned_runs is None:
        return RefusedError("planned_runs", words.NO_RUNS_PLANNED)
    if not book.setups or not any(not task.superseded for task in book.tasks):
        return RefusedError("plan", words.NOTHING_TO_PLAN)
    return None


def say_plan(book: Book, plan: records.Plan) -> str:
    """What was planned, in a sentence."""
    names = {task.id: task.name for task in book.tasks}
    tasks = [names[key] for key in plan.task_ids if key in names]
    return words.say_planned(
        words.Planned(
            on=plan.frozen_at,
            runs=plan.runs,
            setups=len(plan.setup_ids),
            tasks=tuple(tasks),
            confidence=plan.confidence,
            materiality=plan.materiality,
            words=plan.words,
        )
    )


def done_otherwise(book: Book, plan: records.Plan) -> Iterator[str]:
    """What was done otherwise than planned, a sentence each."""
    s = book.shootout
    if s.confidence != plan.confidence:
        yield words.judged_at(s.confidence, plan.confidence)
    if s.materiality != plan.materiality:
        yield words.matters_from(s.materiality, plan.materiality)
    if s.planned_runs != plan.runs:
        yield words.runs_planned(s.planned_runs, plan.runs)
    if not book.runs:
        return
    yield from _other_parts(book, plan)
    yield from _other_runs(book, plan)
    voided = sum(run.status == "void" for run in book.runs)
    if voided:
        yield words.say_voided(voided)


def _other_parts(book: Book, plan: records.Plan) -> Iterator[str]:
    """Tasks and setups that were timed though not planned, and planned though not timed."""
    tried = book.index.tried
    tasks = {task.id: (task.name, tried[:, at].any()) for at, task in enumerate(book.tasks)}
    setups = {setup.id: (setup.label, tried[at].any()) for at, setup in enumerate(book.setups)}
    for noun, every, planned in (("task", tasks, plan.task_ids), ("setup", setups, plan.setup_ids)):
        more = [name for key, (name, timed) in every.items() if timed and key not in planned]
        less = [name for key, (name, timed) in every.items() if not timed and key in planned]
        if more:
            yield words.not_planned(more)
        if less:
            yield words.not_timed(less)
        gone = sum(key not in every for key in planned)
        if gone:
            yield words.archived_since(gone, noun)


def _other_runs(book: Book, plan: records.Plan) -> Iterator[str]:
    """Places with fewer, or more, runs that count than planned."""
    fewer, more = [], []
    for key in plan.task_ids:
        at = book.task_index.get(key)
        if at is None or not book.index.tried[:, at].any():
            continue
        for setup_id in plan.setup_ids:
            place = book.setup_index.get(setup_id)
            if place is None or not book.index.tried[place].any():
                continue
            count = int(book.index.ok[place, at])
            said = (book.setups[place].label, book.tasks[at].name, count)
            if count < plan.runs:
                fewer.append(said)
            elif count > plan.runs:
                more.append(said)
    if fewer:
        yield words.other_runs(fewer, plan.runs, more=False)
    if more:
        yield words.other_runs(more, plan.runs, more=True)


def plan_lines(book: Book) -> Iterator[str]:
    """The plan and what was done otherwise, as an edition prints it; nothing without a plan."""
    newest = _newest(book)
    if newest is None:
        return
    own = newest.words
    # An edition holds the sign that something private stood there, in place of it.
    if own is not None and is_private(own.removeprefix("(")):
        newest = replace(newest, words=None)
    yield say_plan(book, newest)
    yield words.say_otherwise(list(done_otherwise(book, newest)))
