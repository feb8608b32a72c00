"""Editions: frozen copies that strangers may read at a secret link."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import UTC, datetime
from uuid import UUID

from true_margin.core.numerals import PLAIN, writing
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.packs import incoming as pack_in
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.publish.corrections import echoes
from true_margin.desk.publish.edition_changes import is_correction, what_changed
from true_margin.desk.publish.frozen import frozen_book, kept_rates
from true_margin.desk.publish.shown_figures import shown_figures
from true_margin.exchange.pack_public import for_strangers
from true_margin.store import editions, room, shootouts
from true_margin.store.database import Database
from true_margin.store.editions import Edition, Link

TOKEN_BYTES = 24


@dataclass(frozen=True, slots=True)
class PublicView:
    """What is published of a shootout: links, newest first, and editions, newest first.

    ``waiting`` says what has changed since the last edition, ``echoes`` which lines of the script
    and which cards still say what it said; ``correction`` is whether something in it is not so.
    """

    links: tuple[Link, ...]
    editions: tuple[Edition, ...]
    waiting: tuple[str, ...]
    echoes: tuple[str, ...]
    correction: bool


@dataclass(frozen=True, slots=True)
class PublicEdition:
    """An edition as a stranger reads it: its frozen book, and every edition, newest first."""

    link: Link
    edition: Edition
    every: tuple[Edition, ...]
    book: Book


def show_public(database: Database, slug: str) -> PublicView:
    """Show links and editions of a shootout, and what another edition would change."""
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        links = editions.list_links(session, book.shootout.id)
        found = editions.list_editions(session, book.shootout.id)
    if not found:
        return PublicView(links, found, (), (), correction=False)
    last = frozen_book(database, found[0])
    waiting, said = book.cached(
        ("changed since", found[0].id),
        lambda: (tuple(what_changed(last, book)), tuple(echoes(last, book))),
    )
    return PublicView(links, found, waiting, said, correction=is_correction(last, book))


def publish_edition(database: Database, slug: str, note: str | None, who: str) -> PublicView:
    """Freeze what the shootout is now; the first edition makes a link as well.

    Raises:
        RefusedError: nothing was measured yet.
    """
    book = SHELF.take(database, slug)
    if analysis_of(book).comparison(None) is None or not book.index.ok.any():
        raise RefusedError("edition", "Nothing was measured yet: an edition needs a run.")
    home = book.shootout.id
    pack = for_strangers(pack_out.export_pack(database, slug))
    frozen = pack_in.import_pack(database, pack, edition_of=home)
    copy = SHELF.take(database, frozen.slug)
    with transaction(database) as session:
        # Locks the shootout, so that two who publish at once get two numbers.
        shootouts.bump_revision(session, home, rest=False)
        before = editions.list_editions(session, home)
        changes: list[str] = []
        if before:
            last = frozen_book(database, before[0])
            with writing(PLAIN):  # kept, and read by everybody
                changes = list(what_changed(last, copy))
        number = before[0].number + 1 if before else 1
        key = editions.add_edition(
            session,
            home,
            number,
            frozen.id,
            note=note or None,
            changes=changes,
            rates=kept_rates(copy),
            house=room.get_house(session),
            who=who,
        )
        with writing(PLAIN):
            editions.add_figures(session, key, shown_figures(copy))
        if not any(link.revoked_at is None for link in editions.list_links(session, home)):
            editions.add_link(session, home, secrets.token_urlsafe(TOKEN_BYTES))
    return show_public(database, slug)


def make_link(database: Database, slug: str) -> PublicView:
    """Make another link to the public page; those before it stay as they are.

    Raises:
        RefusedError: there is no edition yet.
    """
    home = SHELF.take(database, slug).shootout.id
    with transaction(database) as session:
        if not editions.list_editions(session, home):
            raise RefusedError("link", "Publish an edition first: a link would lead nowhere.")
        editions.add_link(session, home, secrets.token_urlsafe(TOKEN_BYTES))
    return show_public(database, slug)


def revoke_link(database: Database, slug: str, link_id: UUID) -> PublicView:
    """Revoke a link for ever: whoever has it finds nothing any more."""
    home = SHELF.take(database, slug).shootout.id
    with transaction(database) as session:
        editions.revoke_link(session, home, link_id, datetime.now(UTC))
    return show_public(database, slug)


def read_edition(database: Database, token: str, number: int | None) -> PublicEdition:
    """Give an edition to whoever has the link; the newest where no number is asked for.

    Raises:
        NotFoundError: the link is not there or revoked, or has no such edition; the words
            are the same, so that nobody learns which.
    """
    with transaction(database) as session:
        link = editions.find_link(session, token)
        found = () if link is None else editions.list_editions(session, link.shootout_id)
    edition = next((each for each in found if number in (None, each.number)), None)
    if link is None or edition is None:
        raise NotFoundError("There is nothing at this address.")
    return PublicEdition(link, edition, tuple(found), frozen_book(database, edition))
