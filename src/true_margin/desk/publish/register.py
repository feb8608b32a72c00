"""Every figure that left the house with an edition, and whether it still holds."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from true_margin.core.numerals import PLAIN, localised, writing
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import transaction
from true_margin.desk.publish.frozen import frozen_book
from true_margin.desk.publish.shown_figures import shown_figures
from true_margin.store import editions
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class RegisterRow:
    """A figure as the newest edition that has it shows it, and as it would read now.

    ``now`` is None where nothing of the kind is known any more; ``earlier`` is what editions
    before said otherwise.
    """

    task: str
    label: str
    shown: str
    edition: int
    published_at: datetime
    now: str | None
    holds: bool
    earlier: tuple[str, ...]


def show_register(database: Database, slug: str) -> tuple[RegisterRow, ...]:
    """Show every figure that was published of a shootout; those that hold no more come first."""
    book = SHELF.take(database, slug)
    _note(database, slug)
    with transaction(database) as session:
        figures = editions.list_figures(session, book.shootout.id)
    with writing(PLAIN):
        now = shown_figures(book)
    by_what: dict[tuple[str, str], list[editions.EditionFigure]] = {}
    for figure in figures:
        by_what.setdefault((figure.task, figure.label), []).append(figure)
    rows = []
    for what, said in by_what.items():
        newest = said[0]
        earlier = [
            f"edition {each.number}: {localised(each.shown)}"
            for each in said
            if each.shown != newest.shown
        ]
        reads = now.get(what)
        rows.append(
            RegisterRow(
                *what,
                localised(newest.shown),
                newest.number,
                newest.published_at,
                None if reads is None else localised(reads),
                reads == newest.shown,
                tuple(earlier),
            )
        )
    return tuple(sorted(rows, key=lambda row: (row.holds, row.task, row.label)))


def _note(database: Database, slug: str) -> None:
    """Note the figures of editions that were published before anybody noted them."""
    with transaction(database) as session:
        missing = [edition for home, edition in editions.without_figures(session) if home == slug]
    for edition in missing:
        with writing(PLAIN):
            figures = shown_figures(frozen_book(database, edition))
        with transaction(database) as session:
            editions.add_figures(session, edition.id, figures)


def note_missing(database: Database) -> None:
    """Note the figures of all editions that have none noted, so that they can be found."""
    with transaction(database) as session:
        slugs = dict.fromkeys(slug for slug, _ in editions.without_figures(session))
    for slug in slugs:
        _note(database, slug)
