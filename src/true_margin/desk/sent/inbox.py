"""What others sent in: taken as files, decided upon one by one, and never mixed with own runs."""

from __future__ import annotations

import hmac
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.choices import SentState
from true_margin.core.wording import count_of, format_elapsed, listed
from true_margin.desk.book.analysis import analysis_of, model_label
from true_margin.desk.book.book import Book
from true_margin.desk.book.sent import runs_by_task
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.sent.compared import against, beside
from true_margin.exchange.apart import RESULT, read_apart
from true_margin.exchange.sent_result import SentError, SentFile, read_sent
from true_margin.store import records, sent, shootouts
from true_margin.store.database import Database
from true_margin.store.shootout_lookup import home_of
from true_margin.watcher.kit import seal_of

MOST_WAITING = 500
"""So many results wait for a decision at once: more are no inbox."""


@dataclass(frozen=True, slots=True)
class SentTaskView:
    """One task of a result: its runs in words, and what is usual for it."""

    name: str
    runs: str
    problem: str | None


@dataclass(frozen=True, slots=True)
class SentView:
    """A result that was sent in, as text only.

    ``against`` is how it does against the setup here that it is held against, in a sentence;
    ``beside`` where it would stand among all here. ``facts`` are what the sender's machine
    said of itself.
    """

    id: UUID
    state: str
    sealed: bool
    sender: str | None
    model: str
    note: str | None
    made_at: datetime | None
    received_at: datetime
    received_by: str
    tasks: tuple[SentTaskView, ...]
    facts: tuple[str, ...]
    setup_id: UUID | None
    same_model: bool
    against: str
    beside: str
    why: str | None
    judged_at: datetime | None
    judged_by: str | None
    can_erase: bool


@dataclass(frozen=True, slots=True)
class Inbox:
    """All that was sent in to a shootout, newest first; ``says`` is what it tells of samples."""

    kit_id: UUID | None
    made_at: datetime | None
    results: tuple[SentView, ...]
    waiting: int
    accepted: int
    says: str


def show_inbox(database: Database, slug: str) -> Inbox:
    """Show what was sent in to a shootout."""
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        kit = sent.find_kit(session, book.shootout.id)
        results = sent.list_sent(session, book.shootout.id)
    return Inbox(
        None if kit is None else kit.id,
        None if kit is None else kit.made_at,
        tuple(_view(book, result) for result in results),
        sum(result.state == SentState.NEW for result in results),
        sum(result.state == SentState.ACCEPTED for result in results),
        _says(book),
    )


def receive(database: Database, slug: str, text: str, who: str) -> Inbox:
    """Take a result file; it counts nowhere until it is accepted.

    Raises:
        RefusedError: it is no result, of another shootout, or here already.
    """
    try:
        file = read_apart(RESULT, read_sent, text)
    except SentError as error:
        raise RefusedError("text", error.reason) from error
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        kit = sent.find_kit(session, shootout.id)
        if kit is None or file.sent.kit != kit.id:
            raise RefusedError(
                "text", "This result was made with another shootout’s kit. Nothing was stored."
            )
        there = sent.list_sent(session, shootout.id)
        if any(result.digest == file.digest for result in there):
            raise RefusedError("text", "This result is here already. Nothing was stored twice.")
        if sum(result.state == SentState.NEW for result in there) >= MOST_WAITING:
            raise RefusedError(
                "text", f"{MOST_WAITING} results wait already: decide on some first."
            )
        sent.add_sent(
            session,
            {
                "shootout_id": shootout.id,
                "digest": file.digest,
                "content": file.sent.model_dump(mode="json"),
                "sealed": _is_sealed(file, kit),
                "received_at": datetime.now(UTC),
                "received_by": who,
                "state": SentState.NEW,
            },
        )
        shootouts.bump_revision(session, shootout.id)
    return show_inbox(database, slug)


def _is_sealed(file: SentFile, kit: records.Kit) -> bool:
    own = seal_of(file.text, kit.secret).encode()
    return hmac.compare_digest(own, file.seal.encode("utf-8", "surrogatepass"))


MOVES: dict[str, frozenset[str]] = {
    SentState.NEW: frozenset({SentState.ACCEPTED, SentState.DECLINED}),
    SentState.ACCEPTED: frozenset({SentState.WITHDRAWN}),
    SentState.DECLINED: frozenset({SentState.ACCEPTED}),
    SentState.WITHDRAWN: frozenset({SentState.ACCEPTED}),
    SentState.ERASED: frozenset(),
}
"""What may be decided, from each state."""


def decide(
    database: Database, sent_id: UUID, state: str, why: str, setup_id: UUID | None, who: str
) -> Inbox:
    """Accept, decline or withdraw a result, with the reason.

    Args:
        database: where it is.
        sent_id: the result.
        state: that it is to have.
        why: the reason, which stays with it.
        setup_id: of the setup here that is of the same model and state; None where none is.
        who: who decides.

    Raises:
        RefusedError: this cannot be decided of it now, or the setup is of elsewhere.
    """
    with transaction(database) as session:
        home, result = sent.get_sent(session, sent_id)
        if state not in MOVES[result.state]:
            raise RefusedError("state", f"A result that is {result.state} cannot be {state}.")
        if setup_id is not None and home_of(session, "setups", setup_id) != home:
            raise RefusedError("setup_id", "This setup is not in this shootout’s line-up.")
        _change(session, sent_id, home, state, why, who, setup_id=setup_id)
        slug = _slug(session, home)
    return show_inbox(database, slug)


def erase(database: Database, sent_id: UUID, why: str, code: str | None, who: str) -> Inbox:
    """Erase what a result holds, as its sender wishes; that there was one stays on record.

    Args:
        database: where it is.
        sent_id: the result.
        why: who wishes it.
        code: that the sender was given; None where they are known otherwise.
        who: who erases it.

    Raises:
        RefusedError: it was erased already, or the code is of another result.
    """
    with transaction(database) as session:
        home, result = sent.get_sent(session, sent_id)
        if result.content is None:
            raise RefusedError("why", "This result was erased already.")
        if code and sha256(code.casefold().encode()).hexdigest() != result.content.get("code"):
            raise RefusedError("code", "This is not the code of this result.")
        _change(session, sent_id, home, SentState.ERASED, why, who, content=None)
        slug = _slug(session, home)
    return show_inbox(database, slug)


def _slug(session: Session, home: UUID) -> str:
    found = shootouts.find_by_id(session, home)
    assert found is not None, "a result is of a shootout"
    return found.slug


def _change(
    session: Session, sent_id: UUID, home: UUID, state: str, why: str, who: str, **more: Any
) -> None:
    decided = {"state": state, "why": why, "judged_at": datetime.now(UTC), "judged_by": who}
    sent.judge_sent(session, sent_id, {**decided, **more})
    shootouts.bump_revision(session, home)


def _view(book: Book, result: records.SentResult) -> SentView:
    told = result.content or {}
    setup = _setup_of(book, result)
    runs = runs_by_task(book, told)
    same = result.setup_id is not None or (setup is not None and _same_model(book, setup, told))
    return SentView(
        result.id,
        result.state,
        result.sealed,
        told.get("sender"),
        told.get("model", "erased"),
        told.get("note"),
        None if not told else datetime.fromisoformat(told["made_at"]),
        result.received_at,
        result.received_by,
        tuple(_tasks(book, told)),
        tuple(_facts(told)),
        None if setup is None else book.setups[setup].id,
        same,
        against(book, setup, runs, same=same),
        beside(book, runs),
        result.why,
        result.judged_at,
        result.judged_by,
        bool(told),
    )


def _setup_of(book: Book, result: records.SentResult) -> int | None:
    """The setup here that a result is held against: as decided, else the one of its model."""
    if result.setup_id is not None:
        return book.setup_index.get(result.setup_id)
    told = result.content or {}
    return next((s for s in range(len(book.setups)) if _same_model(book, s, told)), None)


def _same_model(book: Book, setup: int, told: dict[str, Any]) -> bool:
    named = str(told.get("model", "")).strip().casefold()
    own = book.setups[setup]
    machine = book.machine_of[own.id]
    names = (own.label, machine.name, machine.model or machine.name, model_label(book, own))
    return named in {name.casefold() for name in names}


def _tasks(book: Book, told: dict[str, Any]) -> Iterator[SentTaskView]:
    for each in told.get("tasks", ()):
        place = book.task_index.get(UUID(each["task"]))
        shown = listed([_run_words(run) for run in each["runs"]], 12)
        if place is None:
            yield SentTaskView("a task that is not here", shown, "This task is not in the line-up.")
            continue
        version = f", {each['app_version']}" if each.get("app_version") else ""
        yield SentTaskView(f"{book.tasks[place].name}{version}", shown, None)


def _run_words(run: dict[str, Any]) -> str:
    seconds = run.get("seconds")
    if run["status"] == "ok" and seconds is not None:
        return format_elapsed(float(seconds), 0.1 if float(seconds) < 600 else 1.0)
    said = "failed" if run["status"] == "failed" else "not counted"
    return f"{said} ({run['reason']})" if run.get("reason") else said


def _facts(told: dict[str, Any]) -> Iterator[str]:
    for part in ("specs", "versions"):
        for title, value in told.get(part, {}).items():
            if title != "name":
                yield f"{title}: {value}"


def _says(book: Book) -> str:
    """What the accepted ones tell of how much samples differ."""
    samples = len(analysis_of(book).study.sent)
    if not samples:
        return ""
    spread = analysis_of(book).unit_spread
    return (
        f"{count_of(samples, 'accepted result')} of models that are here: samples of one model "
        f"differ by about {100 * spread.cv:.1f} %, as far as is known now."
    )
