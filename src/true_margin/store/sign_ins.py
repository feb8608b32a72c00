"""Who is signed in where, which browsers are known, and tries that went wrong."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from sqlalchemy import ColumnElement, func, or_, select, update
from sqlalchemy.orm import Session

from true_margin.store.clocks import SKEW
from true_margin.store.errors import MissingRowError
from true_margin.store.news import CHANNEL, PEOPLE
from true_margin.store.records.accounts import Account
from true_margin.store.rows import get_row, insert_row, record_of
from true_margin.store.tables_people import KnownBrowserRow, PersonRow, SignedInRow, SignInTryRow

SEEN_EVERY = timedelta(minutes=1)
"""A request more than this after the last one is noted; each would be a write of its own."""


@dataclass(frozen=True, slots=True)
class SignedIn:
    """A browser in which a person is signed in."""

    id: UUID
    person_id: UUID
    browser: str
    address: str
    made_at: datetime
    seen_at: datetime
    ended_at: datetime | None


@dataclass(frozen=True, slots=True)
class SignInTry:
    """A try to sign in."""

    email: str
    address: str
    at: datetime
    worked: bool


def sign_in(
    session: Session, person_id: UUID, token_hash: str, browser: str, address: str, now: datetime
) -> UUID:
    """Note that a person is signed in in a browser."""
    return insert_row(
        session,
        SignedInRow,
        {
            "person_id": person_id,
            "token_hash": token_hash,
            "browser": browser,
            "address": address,
            "seen_at": now,
        },
    )


def tell_changed(session: Session) -> None:
    """Tell every process that people changed, once the transaction is kept."""
    session.execute(select(func.pg_notify(CHANNEL, PEOPLE)))


def find_signed_in(
    session: Session, token_hash: str, now: datetime, idle: timedelta, longest: timedelta
) -> tuple[SignedIn, Account] | None:
    """Find who is signed in by a token; None where that has ended, or is too old."""
    found = session.execute(
        select(SignedInRow, PersonRow)
        .join(PersonRow, PersonRow.id == SignedInRow.person_id)
        .where(
            SignedInRow.token_hash == token_hash,
            SignedInRow.ended_at.is_(None),
            PersonRow.ended_at.is_(None),
            SignedInRow.seen_at > now - idle,
            SignedInRow.made_at > now - longest,
        )
    ).first()
    if found is None:
        return None
    row, person = found
    if row.seen_at < now - SEEN_EVERY:
        row.seen_at = now
        session.flush()
    return record_of(row, SignedIn), record_of(person, Account)


def list_signed_in(session: Session, person_id: UUID) -> tuple[SignedIn, ...]:
    """List where a person is signed in, newest first."""
    rows = session.scalars(
        select(SignedInRow)
        .where(SignedInRow.person_id == person_id, SignedInRow.ended_at.is_(None))
        .order_by(SignedInRow.seen_at.desc())
    )
    return tuple(record_of(row, SignedIn) for row in rows)


def end_signed_in(session: Session, person_id: UUID, signed_in_id: UUID, now: datetime) -> None:
    """Sign a person out of one browser.

    Raises:
        MissingRowError: it is none of this person's.
    """
    row = get_row(session, SignedInRow, signed_in_id, "sign-in")
    if row.person_id != person_id:
        raise MissingRowError("sign-in", signed_in_id)
    row.ended_at = row.ended_at or now
    session.flush()


def end_all_signed_in(
    session: Session, person_id: UUID, now: datetime, but: UUID | None = None
) -> None:
    """Sign a person out everywhere, or everywhere but in one browser."""
    query = update(SignedInRow).where(
        SignedInRow.person_id == person_id, SignedInRow.ended_at.is_(None)
    )
    if but is not None:
        query = query.where(SignedInRow.id != but)
    session.execute(query.values(ended_at=now))


def know_browser(session: Session, person_id: UUID, token_hash: str) -> UUID:
    """Know a browser in which somebody has signed in."""
    values = {"person_id": person_id, "token_hash": token_hash}
    return insert_row(session, KnownBrowserRow, values)


def find_browser(session: Session, email: str, token_hash: str) -> UUID | None:
    """Find a browser in which whoever has this address signed in before."""
    return session.scalar(
        select(KnownBrowserRow.id)
        .join(PersonRow, PersonRow.id == KnownBrowserRow.person_id)
        .where(
            KnownBrowserRow.token_hash == token_hash,
            KnownBrowserRow.forgotten_at.is_(None),
            PersonRow.email == email,
        )
    )


def forget_browsers(session: Session, person_id: UUID, now: datetime) -> None:
    """Know the browsers of somebody no longer."""
    session.execute(
        update(KnownBrowserRow)
        .where(KnownBrowserRow.person_id == person_id, KnownBrowserRow.forgotten_at.is_(None))
        .values(forgotten_at=now)
    )


@dataclass(frozen=True, slots=True)
class WrongTries:
    """Wrong tries to sign in since a moment, those that are under way counted too.

    Attributes:
        account: for this account, from any browser that is not known.
        address: from this address, for any account.
        both: for this account from this address, since it last worked from there.
        browser: from this known browser.
    """

    account: int
    address: int
    both: int
    browser: int


def count_wrong(
    session: Session,
    email: str,
    address: str,
    browser_id: UUID | None,
    since: datetime,
    now: datetime,
) -> WrongTries:
    """Count wrong tries; until this transaction ends, nobody else counts those of this account
    or of this address."""
    for key in sorted({f"account {email}", f"address {address}"}):
        session.execute(select(func.pg_advisory_xact_lock(func.hashtextextended(key, 0))))
    here = SignInTryRow.email == email, SignInTryRow.address == address
    worked = select(func.max(SignInTryRow.at)).where(*here, SignInTryRow.worked).scalar_subquery()
    strange = SignInTryRow.browser_id.is_(None)
    # One of a time to come was made before the clock was set back: it would lock for as long.
    lately = SignInTryRow.at > since, SignInTryRow.at <= now + SKEW

    def count(*which: ColumnElement[bool]) -> int:
        wrong = select(func.count()).where(~SignInTryRow.worked, *lately, *which)
        return session.scalar(wrong) or 0

    return WrongTries(
        count(SignInTryRow.email == email, strange),
        count(SignInTryRow.address == address, strange),
        count(*here, strange, or_(worked.is_(None), SignInTryRow.at > worked)),
        0 if browser_id is None else count(SignInTryRow.browser_id == browser_id),
    )


def note_try(
    session: Session, email: str, address: str, browser_id: UUID | None, now: datetime
) -> UUID:
    """Keep a try to sign in, as one that has not worked so far."""
    return insert_row(
        session,
        SignInTryRow,
        {"email": email, "address": address, "browser_id": browser_id, "at": now, "worked": False},
    )


def try_worked(session: Session, try_id: UUID) -> None:
    """Say of a try that it worked."""
    session.execute(update(SignInTryRow).where(SignInTryRow.id == try_id).values(worked=True))


def list_tries(session: Session, most: int = 50) -> tuple[SignInTry, ...]:
    """List the newest tries to sign in."""
    rows = session.scalars(select(SignInTryRow).order_by(SignInTryRow.at.desc()).limit(most))
    return tuple(record_of(row, SignInTry) for row in rows)
