"""Inquiries: dated steps from a suspicion to what came out; nothing that was said is hidden."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.choices import CountedRuns, StepKind
from true_margin.desk.book.book import Book
from true_margin.desk.book.editing_log import say_seen
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.margins.words.inquiries import COUNTS, inquiry_line, say_run
from true_margin.store import inquiries, records, runs, shootouts
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class StepThing:
    """A run or an entry of the log that belongs to a step, named with its setup and task."""

    id: UUID
    sort: str
    words: str


@dataclass(frozen=True, slots=True)
class StepView:
    """One step: what was done, when, by whom, with its runs and what was seen.

    ``counts`` says in words which runs count, where the step closed the inquiry.
    """

    place: int
    kind: str
    words: str | None
    counts: str | None
    who: str
    noted_at: datetime
    things: tuple[StepThing, ...]


@dataclass(frozen=True, slots=True)
class InquiryView:
    """An inquiry with its steps and runs, and what it comes to in one line."""

    inquiry: records.Inquiry
    task: str | None
    setups: tuple[str, ...]
    runs: tuple[records.Run, ...]
    steps: tuple[StepView, ...]
    line: str


def inquiry_view(book: Book, inquiry: records.Inquiry) -> InquiryView:
    """An inquiry with the names of what it is about."""
    task = book.task_index.get(inquiry.task_id) if inquiry.task_id else None
    places = (book.setup_index.get(s) for s in (inquiry.setup_a_id, inquiry.setup_b_id) if s)
    linked = (book.place_of.get(key) for key in inquiry.run_ids)
    return InquiryView(
        inquiry,
        None if task is None else book.tasks[task].name,
        tuple(book.setups[p].label for p in places if p is not None),
        tuple(book.runs[place] for place in linked if place is not None),
        tuple(_step(book, step) for step in inquiry.steps),
        inquiry_line(inquiry),
    )


def _step(book: Book, step: records.InquiryStep) -> StepView:
    own = [book.runs[book.place_of[key]] for key in step.run_ids if key in book.place_of]
    seen: list[tuple[records.Trial | records.Trouble, str]] = [
        *((each, "trial") for each in book.trials if each.id in step.trial_ids),
        *((each, "trouble") for each in book.troubles if each.id in step.trouble_ids),
    ]
    return StepView(
        step.place,
        step.kind,
        step.words,
        step.counts and COUNTS[step.counts],
        step.who,
        step.noted_at,
        (
            *(StepThing(run.id, "run", _run_words(book, run)) for run in own),
            *(StepThing(each.id, sort, say_seen(book, each)) for each, sort in seen),
        ),
    )


def _run_words(book: Book, run: records.Run) -> str:
    task = next(task for task in (*book.tasks, *book.observed) if task.id == run.task_id)
    setup = book.setups[book.setup_index[run.setup_id]].label
    return say_run(setup, task, run)


def inquiries_on(book: Book, task: int | None, setups: tuple[int, ...]) -> tuple[InquiryView, ...]:
    """The inquiries that touch a result: its task, or all of it, and one of its setups."""
    own = {book.setups[s].id for s in setups}
    key = None if task is None else book.tasks[task].id
    return tuple(
        inquiry_view(book, each)
        for each in book.inquiries
        if (each.task_id is None or task is None or each.task_id == key)
        and (each.setup_a_id is None or {each.setup_a_id, each.setup_b_id} & own)
    )


def open_inquiry(database: Database, slug: str, fields: Mapping[str, Any], who: str) -> InquiryView:
    """Open an inquiry on something out of line, with what is suspected as its first step.

    With an ``outcome`` it is closed at once: somebody says why it is left as it is, and all its
    runs count.

    Raises:
        RefusedError: it is about something that is not in this shootout.
    """
    book = SHELF.take(database, slug)
    if fields.get("task_id") is not None and fields["task_id"] not in book.task_index:
        raise RefusedError("task_id", "This task is not timed in this shootout.")
    for name in ("setup_a_id", "setup_b_id"):
        if fields.get(name) is not None and fields[name] not in book.setup_index:
            raise RefusedError(name, "This setup is not in this line-up.")
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        shootouts.bump_revision(session, home)
        now = datetime.now(UTC)
        told = {name: value for name, value in fields.items() if name != "outcome"}
        key = inquiries.add_inquiry(session, home, {**told, "who": who, "opened_at": now})
        noted = {"who": who, "noted_at": now}
        first = {"kind": StepKind.SUSPECTED, "words": fields["suspected"]}
        inquiries.add_step(session, key, {**first, **noted})
        if fields.get("outcome"):
            last = {
                "kind": StepKind.CAME_OUT,
                "words": fields["outcome"],
                "counts": CountedRuns.BOTH,
            }
            opened = next(i for i in inquiries.list_inquiries(session, home) if i.id == key)
            inquiries.change_inquiry(session, opened, opened.version, _summary(last, now))
            inquiries.add_step(session, key, {**last, **noted})
    return _shown(database, slug, key)


def add_step(
    database: Database, inquiry_id: UUID, version: int, step: Mapping[str, Any], who: str
) -> InquiryView:
    """Add a step to an inquiry; ``counts`` with what came out closes it.

    Args:
        database: where the inquiry is.
        inquiry_id: the inquiry.
        version: of the inquiry, as it was seen.
        step: ``kind``, ``words``, ``counts``, ``run_ids``, ``trial_ids``, ``trouble_ids``.
        who: who did it.

    Raises:
        RefusedError: the step says nothing, or the inquiry is closed, or something that is
            attached is not of this shootout.
        StaleError: somebody added a step since.
    """
    with transaction(database) as session:
        home = inquiries.inquiry_home(session, inquiry_id)
        slug = shootouts.slug_of(session, home)
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        shootouts.bump_revision(session, home)
        known = next(i for i in inquiries.list_inquiries(session, home) if i.id == inquiry_id)
        _check(known, step)
        _check_attached(session, book, step)
        now = datetime.now(UTC)
        inquiries.change_inquiry(session, known, version, _summary(step, now))
        told = {name: step.get(name) for name in ("kind", "words", "counts")}
        key = inquiries.add_step(session, inquiry_id, {**told, "who": who, "noted_at": now})
        inquiries.link_runs(session, inquiry_id, step.get("run_ids") or (), key)
        seen = (step.get(name) or () for name in ("trial_ids", "trouble_ids"))
        inquiries.link_seen(session, key, *seen)
    return _shown(database, slug, inquiry_id)


def _check(known: records.Inquiry, step: Mapping[str, Any]) -> None:
    kind = step["kind"]
    attached = any(step.get(name) for name in ("run_ids", "trial_ids", "trouble_ids"))
    if known.closed_at is not None and kind != StepKind.REOPENED:
        raise RefusedError("kind", "This inquiry is closed: open it again first.")
    if known.closed_at is None and kind == StepKind.REOPENED:
        raise RefusedError("kind", "This inquiry is open.")
    if step.get("counts") and kind != StepKind.CAME_OUT:
        raise RefusedError("counts", "Say what came out before you say which runs count.")
    if not step.get("words") and not (kind == StepKind.AGAIN and attached):
        raise RefusedError("words", "Say in words what was done, or attach what was tried again.")
    taken = set(known.run_ids) & set(step.get("run_ids") or ())
    if taken:
        raise RefusedError("run_ids", "One of these runs belongs to an earlier step already.")


def _check_attached(session: Session, book: Book, step: Mapping[str, Any]) -> None:
    for key in step.get("run_ids") or ():
        if runs.run_home(session, key) != book.shootout.id:
            raise RefusedError("run_ids", "One of these runs is not in this shootout.")
    for name, entries in (("trial_ids", book.trials), ("trouble_ids", book.troubles)):
        if not set(step.get(name) or ()) <= {each.id for each in entries}:
            raise RefusedError(name, "One of these entries is not in this shootout's log.")


def _summary(step: Mapping[str, Any], now: datetime) -> dict[str, Any]:
    """What a step changes of what the inquiry says as a whole."""
    words = step.get("words")
    match step["kind"]:
        case StepKind.SUSPECTED:
            return {"suspected": words}
        case StepKind.CHANGED:
            return {"changed": words}
        case StepKind.CAME_OUT:
            counts = step.get("counts")
            return {"outcome": words, "counts": counts, "closed_at": now if counts else None}
        case StepKind.REOPENED:
            return {"counts": None, "closed_at": None}
        case _:
            return {}


def _shown(database: Database, slug: str, key: UUID) -> InquiryView:
    book = SHELF.take(database, slug)
    found = next((each for each in book.inquiries if each.id == key), None)
    if found is None:
        raise NotFoundError(f"There is no inquiry {key}.")
    return inquiry_view(book, found)
