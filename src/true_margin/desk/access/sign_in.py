"""Signing in and out: passwords, who is signed in where, and who somebody is by a token."""

from __future__ import annotations

import hashlib
import secrets
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache
from uuid import UUID

from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher
from sqlalchemy.orm import Session
from zxcvbn.frequency_lists import FREQUENCY_LISTS

from true_margin.desk.access.rights import Who
from true_margin.desk.errors import NotFoundError, RefusedError, TooManyError, transaction
from true_margin.store import people
from true_margin.store.database import Database
from true_margin.store.news import EVERYTHING, PEOPLE
from true_margin.store.people import Account, SignedIn

IDLE = timedelta(days=7)
LONGEST = timedelta(days=30)
"""A sign-in ends after so long without a request, and after so long in any case."""
LEAST_PASSWORD, MOST_PASSWORD = 10, 200
WRONG_WITHIN = timedelta(minutes=15)
MOST_WRONG_ACCOUNT, MOST_WRONG_ADDRESS = 8, 40
BELIEVED_S, BELIEVED_DEAF_S = 10.0, 1.0
"""Who somebody is, is believed so long where changes of people are heard, else a moment only."""
MOST_BELIEVED = 10_000
_HASHER = PasswordHash((Argon2Hasher(),))


class _Believed:
    """Who was found by which token, and when; begun anew whenever people change."""

    def __init__(self) -> None:
        self.found: dict[tuple[str, str], tuple[float, Who]] = {}

    def forget(self) -> None:
        # Another one: a look that began before the change puts what it found into the old.
        self.found = {}


_BELIEVED = _Believed()


@dataclass(frozen=True, slots=True)
class SignedInNow:
    """Somebody who just signed in: the token is told once and kept by the browser alone."""

    token: str
    account: Account


def hash_secret(secret: str) -> str:
    """Only this is kept of a token: who reads the database cannot use it."""
    return hashlib.sha256(secret.encode()).hexdigest()


def hash_password(password: str) -> str:
    """What is kept of a password."""
    return _HASHER.hash(password)


def check_password(password: str, email: str, name: str) -> None:
    """Refuse a password that is short, or among those that are tried first.

    Raises:
        RefusedError: says which.
    """
    if len(password) < LEAST_PASSWORD:
        reason = f"A password of {LEAST_PASSWORD} signs or more is needed; a sentence will do."
        raise RefusedError("password", reason)
    if len(password) > MOST_PASSWORD:
        reason = f"A password may have {MOST_PASSWORD} signs at most."
        raise RefusedError("password", reason)
    folded = password.casefold()
    own = {
        email.casefold(),
        email.casefold().partition("@")[0],
        name.casefold(),
        "true margin",
        "truemargin",
    }
    bare = folded.strip("0123456789!?.-_ ")
    if folded in _common() or bare in _common() or bare in own or len(set(folded)) < 4:
        reason = "This password is among those that are tried first: take another."
        raise RefusedError("password", reason)


@cache
def _common() -> frozenset[str]:
    return frozenset(FREQUENCY_LISTS["passwords"])


def sign_in(
    database: Database, email: str, password: str, browser: str, address: str
) -> SignedInNow:
    """Sign somebody in.

    Raises:
        TooManyError: too many wrong tries for this account, or from this address.
        RefusedError: address and password do not belong together; never says which is off.
    """
    now, email = datetime.now(UTC), tidy_email(email)[:254]
    with transaction(database) as session:
        by_account, by_address = people.count_wrong(session, email, address, now - WRONG_WITHIN)
        if by_account >= MOST_WRONG_ACCOUNT or by_address >= MOST_WRONG_ADDRESS:
            raise TooManyError("password", "Too many wrong tries. Wait a quarter of an hour.")
        found = people.find_account(session, email)
    # As long as for an account that is there, so that time does not tell which are.
    good, fresh = _HASHER.verify_and_update(
        password[:MOST_PASSWORD], _nobodys_hash() if found is None else found[1]
    )
    token = secrets.token_urlsafe(32)
    with transaction(database) as session:
        people.note_try(session, email, address, now, worked=good and found is not None)
        if good and found is not None:
            if fresh is not None:
                people.set_password(session, found[0].id, fresh)
            people.sign_in(
                session, found[0].id, hash_secret(token), browser[:200], address[:80], now
            )
    if found is None or not good:
        raise RefusedError("password", "Address and password do not belong together.")
    return SignedInNow(token, found[0])


@cache
def _nobodys_hash() -> str:
    return _HASHER.hash(secrets.token_urlsafe(16))


def tidy_email(email: str) -> str:
    """An address as it is kept: without spaces around, in small letters."""
    return email.strip().casefold()


def who_is(database: Database, token: str) -> Who | None:
    """Say who is signed in by a token; None where nobody is.

    What was found is believed for a while, since a bench asks every second; any change of
    people ends that in every process (``forget``), with the transaction that makes it.
    """
    asked, key = time.monotonic(), (database.url, hash_secret(token))
    before = _BELIEVED.found
    who = _look_up(database, key[1])
    if len(before) > MOST_BELIEVED:
        before.clear()
    if who is not None:
        # Where people changed meanwhile, this is no longer what is looked into.
        before[key] = (asked, who)
    return who


def who_was(database: Database, token: str, *, hears: bool) -> Who | None:
    """Say who was signed in by a token a moment ago, without asking anybody.

    Args:
        database: where accounts are kept.
        token: of the browser.
        hears: whether this process is told of changes.
    """
    known = _BELIEVED.found.get((database.url, hash_secret(token)))
    within_s = BELIEVED_S if hears else BELIEVED_DEAF_S
    return known[1] if known is not None and time.monotonic() - known[0] < within_s else None


def forget(news: str) -> None:
    """Believe nobody to be who they were, where news say that people may have changed."""
    if news in (PEOPLE, EVERYTHING):
        _BELIEVED.forget()


def _look_up(database: Database, token_hash: str) -> Who | None:
    with transaction(database) as session:
        found = people.find_signed_in(session, token_hash, datetime.now(UTC), IDLE, LONGEST)
        if found is None:
            return None
        signed_in, account = found
        return Who(account.name, "person", roles_of(session, account.id), account.id, signed_in.id)


def roles_of(session: Session, person_id: UUID) -> dict[UUID | None, str]:
    """What a person may do, by shootout."""
    return {each.shootout_id: each.role for each in people.list_memberships(session, person_id)}


def sign_out(database: Database, who: Who) -> None:
    """End the sign-in of this browser."""
    if who.person_id is None or who.signed_in_id is None:
        return
    with changing(database) as session:
        people.end_signed_in(session, who.person_id, who.signed_in_id, datetime.now(UTC))


def list_signed_in(database: Database, who: Who) -> tuple[SignedIn, ...]:
    """List where somebody is signed in."""
    if who.person_id is None:
        return ()
    with transaction(database) as session:
        return people.list_signed_in(session, who.person_id)


def end_signed_in(database: Database, who: Who, signed_in_id: UUID) -> tuple[SignedIn, ...]:
    """Sign oneself out of a browser, this or another."""
    if who.person_id is None:
        raise NotFoundError(f"There is no sign-in {signed_in_id}.")
    with changing(database) as session:
        people.end_signed_in(session, who.person_id, signed_in_id, datetime.now(UTC))
        return people.list_signed_in(session, who.person_id)


def change_password(database: Database, who: Who, old: str, new: str) -> None:
    """Give oneself another password; every other browser is signed out.

    Raises:
        RefusedError: the old one is not it, or the new one will not do.
        TooManyError: the old one was wrong too often.
    """
    if who.person_id is None:
        raise RefusedError("old", "There are no accounts here: sign-in is not set up.")
    now = datetime.now(UTC)
    with transaction(database) as session:
        account = people.get_account(session, who.person_id)
        wrong, _ = people.count_wrong(session, account.email, "", now - WRONG_WITHIN)
        if wrong >= MOST_WRONG_ACCOUNT:
            raise TooManyError("old", "Too many wrong tries. Wait a quarter of an hour.")
        found = people.find_account(session, account.email)
    good = found is not None and _HASHER.verify(old[:MOST_PASSWORD], found[1])
    if not good:
        with transaction(database) as session:
            people.note_try(session, account.email, "", now, worked=False)
        raise RefusedError("old", "This is not your password.")
    check_password(new, account.email, account.name)
    with changing(database) as session:
        people.set_password(session, account.id, _HASHER.hash(new))
        people.end_all_signed_in(session, account.id, now, but=who.signed_in_id)


@contextmanager
def changing(database: Database) -> Iterator[Session]:
    """A transaction after which nobody is believed to be who they were."""
    try:
        with transaction(database) as session:
            yield session
            people.tell_changed(session)
    finally:
        _BELIEVED.forget()
