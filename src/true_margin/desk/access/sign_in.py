"""Signing in and out: passwords, who is signed in where, and who somebody is by a token."""

from __future__ import annotations

import hashlib
import secrets
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import cache
from uuid import UUID

from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher
from sqlalchemy.orm import Session
from zxcvbn.frequency_lists import FREQUENCY_LISTS

from true_margin.desk.access.rights import Who
from true_margin.desk.errors import NotFoundError, RefusedError, TooManyError, transaction
from true_margin.store import invitations, people, sign_ins
from true_margin.store.database import Database
from true_margin.store.news import EVERYTHING, PEOPLE
from true_margin.store.records.accounts import Account
from true_margin.store.sign_ins import SignedIn

IDLE = timedelta(days=7)
LONGEST = timedelta(days=30)
"""A sign-in ends after so long without a request, and after so long in any case."""
LEAST_PASSWORD, MOST_PASSWORD = 10, 200
WRONG_WITHIN = timedelta(minutes=15)
MOST_WRONG_HERE, MOST_WRONG_ADDRESS, MOST_WRONG_ACCOUNT = 8, 40, 200
"""For one account from one address, from one address for any, and for one account from all
addresses together, which stops a thousand machines that guess slowly."""
MOST_WRONG_KNOWN = 20
"""In a browser in which the person has signed in before: what others do does not count there."""
HASHES = threading.BoundedSemaphore(2)
HASH_WAIT_S = 5.0
"""A hash takes 64 MB and a core: more at once would be a way to take both from everybody."""
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
    """Somebody who just signed in: tokens are told once and kept by the browser alone.

    ``known`` is the one by which this browser is known from now on; None where it was before.
    """

    token: str
    account: Account
    known: str | None = None


def hash_secret(secret: str) -> str:
    """Only this is kept of a token: who reads the database cannot use it."""
    return hashlib.sha256(secret.encode()).hexdigest()


def hash_password(password: str) -> str:
    """What is kept of a password.

    Raises:
        TooManyError: more are worked out than can be at once.
    """
    with _hashing("password"):
        return _HASHER.hash(password)


def check_password(password: str, email: str, name: str) -> None:
    """Refuse a password that is short, or among those that are tried first.

    Raises:
        RefusedError: says which.
    """
    if len(password) < LEAST_PASSWORD:
        reason = f"A password of {LEAST_PASSWORD} characters or more is needed; a sentence is fine."
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
    # With and without digits at its ends: a name may end in some itself.
    bare = {folded, folded.strip("!?.-_ "), folded.strip("0123456789!?.-_ ")}
    if bare & _common() or bare & own or len(set(folded)) < 4:
        reason = "This password is among those that are tried first: take another."
        raise RefusedError("password", reason)


@cache
def _common() -> frozenset[str]:
    return frozenset(FREQUENCY_LISTS["passwords"])


def sign_in(
    database: Database,
    email: str,
    password: str,
    browser: str,
    address: str,
    known: str | None = None,
) -> SignedInNow:
    """Sign somebody in.

    Args:
        database: where accounts are kept.
        email: of the account.
        password: as it was typed.
        browser: what it says of itself.
        address: where it asks from.
        known: the token of a browser that signed in before, if it has one.

    Raises:
        TooManyError: too many wrong tries, or more at once than can be looked at.
        RefusedError: address and password do not belong together; never says which is off.
    """
    email = tidy_email(email)[:254]
    with transaction(database) as session:
        known_id = find_known(session, email, known)
        tried = count_first(session, "password", email, address, known_id, database.clocks.now())
        found = people.find_account(session, email)
    # As long as for an account that is there, so that time does not tell which are.
    with _hashing("password"):
        good, fresh = _HASHER.verify_and_update(
            password[:MOST_PASSWORD], _nobodys_hash() if found is None else found[1]
        )
    if found is None or not good:
        raise RefusedError("password", "Wrong e-mail or password.")
    account = found[0]
    with transaction(database) as session:
        sign_ins.try_worked(session, tried)
        if fresh is not None:
            people.set_password(session, account.id, fresh)
        return let_in(session, account, browser, address, known_id, database.clocks.now())


def let_in(
    session: Session,
    account: Account,
    browser: str,
    address: str,
    known_id: UUID | None,
    now: datetime,
) -> SignedInNow:
    """Sign somebody in who has proved who they are, and know this browser from now on.

    Args:
        session: in which it is kept.
        account: whose it is.
        browser: what it says of itself.
        address: where it asks from.
        known_id: which known browser of this account it is; None where it is not yet known.
        now: the moment, by the clock that judges what has ended.
    """
    token, known_now = secrets.token_urlsafe(32), None
    sign_ins.sign_in(session, account.id, hash_secret(token), browser[:200], address[:80], now)
    if known_id is None:
        known_now = secrets.token_urlsafe(32)
        sign_ins.know_browser(session, account.id, hash_secret(known_now))
    return SignedInNow(token, account, known_now)


def find_known(session: Session, email: str, known: str | None) -> UUID | None:
    """Find the known browser of an account by its token; None where it is none of theirs."""
    return None if known is None else sign_ins.find_browser(session, email, hash_secret(known))


def count_first(
    session: Session, field: str, email: str, address: str, known_id: UUID | None, now: datetime
) -> UUID:
    """Count a try before it is looked at, so that many at once are not more than one by one.

    Raises:
        TooManyError: there were too many before it.
    """
    address = address[:80]
    wrong = sign_ins.count_wrong(session, email, address, known_id, now - WRONG_WITHIN, now)
    if known_id is not None:
        too_many = wrong.browser >= MOST_WRONG_KNOWN
    else:
        too_many = (
            wrong.both >= MOST_WRONG_HERE
            or wrong.address >= MOST_WRONG_ADDRESS
            or wrong.account >= MOST_WRONG_ACCOUNT
        )
    if too_many:
        raise TooManyError(field, "Too many wrong tries. Wait a quarter of an hour.")
    return sign_ins.note_try(session, email, address, known_id, now)


@contextmanager
def _hashing(field: str) -> Iterator[None]:
    """One of the few hashes that are worked out at the same time."""
    if not HASHES.acquire(timeout=HASH_WAIT_S):
        raise TooManyError(field, "Many people sign in right now. Try again in a moment.")
    try:
        yield
    finally:
        HASHES.release()


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
        found = sign_ins.find_signed_in(session, token_hash, database.clocks.now(), IDLE, LONGEST)
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
        sign_ins.end_signed_in(session, who.person_id, who.signed_in_id, database.clocks.now())


def list_signed_in(database: Database, who: Who) -> tuple[SignedIn, ...]:
    """List where somebody is signed in."""
    if who.person_id is None:
        return ()
    with transaction(database) as session:
        return sign_ins.list_signed_in(session, who.person_id)


def end_signed_in(database: Database, who: Who, signed_in_id: UUID) -> tuple[SignedIn, ...]:
    """Sign oneself out of a browser, this or another."""
    if who.person_id is None:
        raise NotFoundError(f"There is no sign-in {signed_in_id}.")
    with changing(database) as session:
        sign_ins.end_signed_in(session, who.person_id, signed_in_id, database.clocks.now())
        return sign_ins.list_signed_in(session, who.person_id)


def prove_password(database: Database, who: Who, field: str, password: str) -> Account:
    """Make sure that it is really this person who changes how they sign in.

    Args:
        database: where accounts are kept.
        who: who is asking.
        field: of the request, that a refusal names.
        password: as it was typed.

    Raises:
        RefusedError: it is not their password, or there are no accounts.
        TooManyError: it was wrong too often.
    """
    if who.person_id is None:
        raise RefusedError(field, "There are no accounts here: sign-in is not set up.")
    with transaction(database) as session:
        account = people.get_account(session, who.person_id)
        # Counted by the browser that is signed in: no stranger's tries keep one from this.
        here = f"signed in {who.signed_in_id}"
        tried = count_first(session, field, account.email, here, None, database.clocks.now())
        found = people.find_account(session, account.email)
    with _hashing(field):
        good = found is not None and _HASHER.verify(password[:MOST_PASSWORD], found[1])
    if not good:
        raise RefusedError(field, "This is not your password.")
    with transaction(database) as session:
        sign_ins.try_worked(session, tried)
    return account


def change_password(database: Database, who: Who, old: str, new: str) -> None:
    """Give oneself another password; every other browser is signed out.

    Raises:
        RefusedError: the old one is not it, or the new one will not do.
        TooManyError: the old one was wrong too often.
    """
    now, account = database.clocks.now(), prove_password(database, who, "old", old)
    check_password(new, account.email, account.name)
    with _hashing("new"):
        hashed = _HASHER.hash(new)
    with changing(database) as session:
        people.set_password(session, account.id, hashed)
        sign_ins.end_all_signed_in(session, account.id, now, but=who.signed_in_id)
        invitations.withdraw_links(session, account.id, now)
        sign_ins.forget_browsers(session, account.id, now)


@contextmanager
def changing(database: Database) -> Iterator[Session]:
    """A transaction after which nobody is believed to be who they were."""
    try:
        with transaction(database) as session:
            yield session
            sign_ins.tell_changed(session)
    finally:
        _BELIEVED.forget()
