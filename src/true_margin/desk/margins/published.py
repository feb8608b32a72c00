"""Figures that others published, set beside ours; they never count."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from true_margin.core.errors import QuantityError
from true_margin.core.margins import Call, own_half
from true_margin.core.published import Beside, FigureKind, published_log, set_beside
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.margins.verdicts import margin_between
from true_margin.desk.margins.words.beside import NO_FIGURE_OF_OURS, say_published
from true_margin.store import inquiries, records, shootouts
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class PublishedView:
    """A published figure with its verdict in words; ``inside`` is None where ours is missing."""

    figure: records.PublishedFigure
    inside: bool | None
    words: str


def published_on(book: Book, task: int | None, a: int, b: int) -> tuple[PublishedView, ...]:
    """Published figures of a pair, or of one of its setups alone, on a task or the mix."""
    key = None if task is None else book.tasks[task].id
    pair = {book.setups[a].id, book.setups[b].id}
    return tuple(
        _view(book, each, task)
        for each in book.published
        if each.withdrawn_at is None
        and each.task_id == key
        and {each.setup_a_id, each.setup_b_id} - {None} <= pair
    )


def _view(book: Book, figure: records.PublishedFigure, task: int | None) -> PublishedView:
    beside = _beside(book, figure, task)
    if beside is None:
        return PublishedView(figure, None, NO_FIGURE_OF_OURS)
    timed = task is not None and book.tasks[task].measure == "time"
    alone = figure.kind == FigureKind.VALUE
    return PublishedView(figure, beside.inside, say_published(beside, alone=alone, timed=timed))


def _beside(book: Book, figure: records.PublishedFigure, task: int | None) -> Beside | None:
    kind = FigureKind(figure.kind)
    comparison = analysis_of(book).comparison(task)
    a = book.setup_index.get(figure.setup_a_id)
    if comparison is None or a is None:
        return None
    published = published_log(kind, figure.value)
    if kind is not FigureKind.VALUE:
        b = book.setup_index.get(figure.setup_b_id) if figure.setup_b_id else None
        margin = None if b is None else margin_between(comparison, a, b)
        if margin is None or margin.call is Call.NOT_COMPARABLE:
            return None
        return set_beside(published, margin.log_ratio, margin.lo, margin.hi)
    contrasts = comparison.pairs.contrasts
    places = contrasts.setups.tolist()
    if task is None or a not in places:
        return None
    at = places.index(a)
    theta = float(contrasts.estimate[at])
    half = own_half(contrasts, at, book.shootout.confidence)
    # A time falls where log speed rises.
    value = -theta if book.tasks[task].measure == "time" else theta
    return set_beside(published, value, value - half, value + half)


def note_published(
    database: Database, slug: str, fields: Mapping[str, Any], who: str
) -> records.PublishedFigure:
    """Note a figure that somebody published."""
    book = SHELF.take(database, slug)
    kind = FigureKind(fields["kind"])
    try:
        published_log(kind, fields["value"])
    except QuantityError as error:
        raise RefusedError("value", error.reason) from error
    if fields.get("task_id") is not None and fields["task_id"] not in book.task_index:
        raise RefusedError("task_id", "This task is not timed in this shootout.")
    pair = (fields["setup_a_id"], fields.get("setup_b_id"))
    if pair[0] not in book.setup_index or (pair[1] and pair[1] not in book.setup_index):
        raise RefusedError("setup_a_id", "This setup is not in this line-up.")
    if (kind is FigureKind.VALUE) != (pair[1] is None) or pair[0] == pair[1]:
        raise RefusedError("setup_b_id", "A comparison needs two setups; a value alone needs one.")
    if kind is FigureKind.VALUE and fields.get("task_id") is None:
        raise RefusedError("task_id", "A time or an amount belongs to one task, not to the mix.")
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        shootouts.bump_revision(session, home)
        now = datetime.now(UTC)
        key = inquiries.add_published(session, home, {**fields, "who": who, "noted_at": now})
        return next(f for f in inquiries.list_published(session, home) if f.id == key)


def withdraw_published(database: Database, figure_id: UUID) -> records.PublishedFigure:
    """Withdraw a published figure; it stays on record."""
    with transaction(database) as session:
        home = inquiries.withdraw_published(session, figure_id, datetime.now(UTC))
        shootouts.bump_revision(session, home)
        found = inquiries.list_published(session, home)
    kept = next((each for each in found if each.id == figure_id), None)
    if kept is None:
        raise NotFoundError(f"There is no published figure {figure_id}.")
    return kept
