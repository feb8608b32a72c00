"""What was planned before the first run, frozen with its day, and what was done otherwise."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import UTC, datetime

from true_margin.core.numerals import say_day, short
from true_margin.core.wording import count_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import plans, records, shootouts
from true_margin.store.database import Database

MOST_NAMED = 6
"""So many places are named in a line; of more than these it says how many."""


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
    return plan_view(SHELF.take(database, slug))


def plan_view(book: Book) -> PlanView:
    """The plan of a book."""
    newest = book.plans[-1] if book.plans else None
    frozen = None
    if newest is not None:
        otherwise = tuple(done_otherwise(book, newest))
        frozen = FrozenPlan(newest.frozen_at, newest.who, say_plan(book, newest), otherwise)
    refusal = _refusal(book)
    return PlanView(
        frozen, max(0, len(book.plans) - 1), None if refusal is None else refusal.reason
    )


def freeze_plan(database: Database, slug: str, words: str | None, who: str) -> PlanView:
    """Freeze what is planned as the shootout stands: its tasks, setups, runs and settings.

    Args:
        database: where it is.
        slug: of the shootout.
        words: what would count as a difference, in the reviewer's own.
        who: who freezes it.

    Raises:
        RefusedError: a run was made already, or there is nothing to plan yet.
    """
    book = SHELF.take(database, slug)
    refusal = _refusal(book)
    if refusal is not None:
        raise refusal
    s = book.shootout
    fields = {
        "runs": s.planned_runs,
        "confidence": s.confidence,
        "materiality": s.materiality,
        "words": words,
        "who": who,
        "frozen_at": datetime.now(UTC),
    }
    timed = [task for task in book.tasks if not task.superseded]
    parts = [
        *({"task_id": task.id} for task in timed),
        *({"setup_id": setup.id} for setup in book.setups),
    ]
    with transaction(database) as session:
        # A run that came in meanwhile has made the book stale.
        shootouts.bump_revision(session, s.id)
        now = shootouts.get_shootout(session, slug)
        if now.revision != s.revision + 1:
            raise RefusedError("plan", "Something was changed meanwhile: look again, then freeze.")
        plans.add_plan(session, s.id, fields, parts)
    return show_plan(database, slug)


def _refusal(book: Book) -> RefusedError | None:
    """Why no plan can be frozen as things stand; None where one can."""
    if book.runs:
        first = min(run.started_at or run.created_at for run in book.runs)
        day = say_day(first, whole=True)
        return RefusedError("plan", f"The first run is of {day}: a plan is frozen before it.")
    if book.shootout.planned_runs is None:
        return RefusedError("planned_runs", "Say first how many runs are planned.")
    if not book.setups or not any(not task.superseded for task in book.tasks):
        return RefusedError("plan", "A plan needs a setup and a task at least.")
    return None


def say_plan(book: Book, plan: records.Plan) -> str:
    """What was planned, in a sentence."""
    names = {task.id: task.name for task in book.tasks}
    tasks = [names[key] for key in plan.task_ids if key in names]
    words = f" What would count: {plan.words}" if plan.words else ""
    return (
        f"Planned on {say_day(plan.frozen_at, whole=True)}, before the first run: "
        f"{count_of(plan.runs, 'run')} of each of {count_of(len(plan.setup_ids), 'setup')} on "
        f"{_named(tasks)}, judged at {short(100 * plan.confidence)} %; a difference matters from "
        f"{short(100 * plan.materiality)} %.{words}"
    )


def done_otherwise(book: Book, plan: records.Plan) -> Iterator[str]:
    """What was done otherwise than planned, a sentence each."""
    s = book.shootout
    if s.confidence != plan.confidence:
        yield _instead("Judged at", s.confidence, plan.confidence)
    if s.materiality != plan.materiality:
        yield _instead("A difference matters from", s.materiality, plan.materiality)
    if s.planned_runs != plan.runs:
        now = "no" if s.planned_runs is None else str(s.planned_runs)
        yield f"Judged as if {now} runs had been planned, instead of {plan.runs}."
    if not book.runs:
        return
    yield from _other_parts(book, plan)
    yield from _other_runs(book, plan)
    voided = sum(run.status == "void" for run in book.runs)
    if voided == 1:
        yield "1 run was voided, with its reason."
    elif voided:
        yield f"{voided} runs were voided, each with its reason."


def _instead(what: str, now: float, planned: float) -> str:
    return f"{what} {short(100 * now)} % instead of {short(100 * planned)} %."


def _other_parts(book: Book, plan: records.Plan) -> Iterator[str]:
    """Tasks and setups that were timed though not planned, and planned though not timed."""
    tried = book.index.tried
    timed = {
        "tasks": [(t.id, t.name) for at, t in enumerate(book.tasks) if tried[:, at].any()],
        "setups": [(u.id, u.label) for at, u in enumerate(book.setups) if tried[at].any()],
    }
    planned = {"tasks": plan.task_ids, "setups": plan.setup_ids}
    every = {
        "tasks": [(t.id, t.name) for t in book.tasks],
        "setups": [(u.id, u.label) for u in book.setups],
    }
    for kind, own in timed.items():
        more = [name for key, name in own if key not in planned[kind]]
        if more:
            yield f"Timed though not planned: {_named(more)}."
        done = {key for key, _ in own}
        less = [name for key, name in every[kind] if key in planned[kind] and key not in done]
        if less:
            yield f"Planned and not timed: {_named(less)}."
        gone = len(planned[kind]) - sum(key in planned[kind] for key, _ in every[kind])
        if gone:
            yield f"Planned and in the archive now: {count_of(gone, kind[:-1])}."


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
            said = f"{book.setups[place].label} on {book.tasks[at].name} ({count})"
            if count < plan.runs:
                fewer.append(said)
            elif count > plan.runs:
                more.append(said)
    if fewer:
        yield f"Fewer runs than the {plan.runs} planned: {_named(fewer)}."
    if more:
        yield f"More runs than the {plan.runs} planned: {_named(more)}."


def _named(names: Iterable[str]) -> str:
    own = list(names)
    if len(own) <= 1:
        return "".join(own)
    if len(own) > MOST_NAMED:
        return f"{', '.join(own[:MOST_NAMED])} and {len(own) - MOST_NAMED} more"
    return f"{', '.join(own[:-1])} and {own[-1]}"


def plan_lines(book: Book) -> Iterator[str]:
    """The plan and what was done otherwise, as an edition prints it; nothing without a plan."""
    frozen = plan_view(book).plan
    if frozen is None:
        return
    yield frozen.says
    if frozen.otherwise:
        yield f"Done otherwise than planned: {' '.join(frozen.otherwise)}"
    else:
        yield "Nothing was done otherwise than planned."
