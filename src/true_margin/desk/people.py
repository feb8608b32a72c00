"""Accounts: inviting people, what each may do, signing in and out."""

from __future__ import annotations

import hashlib
import re
import secrets
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from functools import cache
from uuid import UUID

from pwdlib import PasswordHash
from pwdlib.hashers.argon2 import Argon2Hasher
from sqlalchemy.orm import Session
from zxcvbn.frequency_lists import FREQUENCY_LISTS

from true_margin.desk.errors import (
    NotAllowedError,
    NotFoundError,
    RefusedError,
    TooManyError,
    transaction,
)
from true_margin.desk.rights import Right, Who
from true_margin.store import homes, people, shootouts
from true_margin.store.database import Database
from true_margin.store.people import Account, Invitation, Membership, SignedIn, SignInTry

ROLES = ("owner", "editor", "reader")
"""Strongest first."""
INVITATION_LIVES = timedelta(days=7)
IDLE = timedelta(days=7)
LONGEST = timedelta(days=30)
"""A sign-in ends after so long without a request, and after so long in any case."""
LEAST_PASSWORD, MOST_PASSWORD = 10, 200
WRONG_WITHIN = timedelta(minutes=15)
MOST_WRONG_ACCOUNT, MOST_WRONG_ADDRESS = 8, 40
BELIEVED_S = 1.0
MOST_BELIEVED = 10_000
_FOUND: dict[tuple[str, str], tuple[float, Who]] = {}
_HASHER = PasswordHash((Argon2Hasher(),))
_EMAIL = re.compile(r"^[^@\s]+@[^@\s]+$")


@dataclass(frozen=True, slots=True)
class SignedInNow:
    """Somebody who just signed in: the token is told once and kept by the browser alone."""

    token: str
    account: Account


@dataclass(frozen=True, slots=True)
class Member:
    """An account and what it may do."""

    account: Account
    memberships: tuple[Membership, ...]


@dataclass(frozen=True, slots=True)
class Invited:
    """An invitation as a list shows it, in words."""

    invitation: Invitation
    to: str


@dataclass(frozen=True, slots=True)
class PeopleView:
    """Everybody who gets in, open invitations, and the newest tries to sign in."""

    members: tuple[Member, ...]
    invitations: tuple[Invited, ...]
    tries: tuple[SignInTry, ...]


@dataclass(frozen=True, slots=True)
class NewInvitation:
    """A new invitation; ``token`` is told once."""

    invitation: Invitation
    token: str


def hash_secret(secret: str) -> str:
    """Only this is kept of a token: who reads the database cannot use it."""
    return hashlib.sha256(secret.encode()).hexdigest()


def is_set_up(database: Database) -> bool:
    """Whether somebody owns all shootouts, or holds an invitation to."""
    with transaction(database) as session:
        waiting = people.list_invitations(session, datetime.now(UTC))
        return people.owners_left(session) > 0 or any(
            each.role == "owner" and each.shootout_id is None for each in waiting
        )


def invite(
    database: Database, who: Who, role: str, slug: str | None = None, note: str | None = None
) -> NewInvitation:
    """Invite somebody to one shootout, or to all.

    Raises:
        NotFoundError: no such shootout.
        RefusedError: only its owner invites.
    """
    token = secrets.token_urlsafe(24)
    with transaction(database) as session:
        home = None if slug is None else shootouts.get_shootout(session, slug).id
        _only_owners(who, home)
        key = people.add_invitation(
            session, hash_secret(token), datetime.now(UTC) + INVITATION_LIVES, who.name,
            role=role, shootout_id=home, note=note or None,
        )  # fmt: skip
        return NewInvitation(people.get_invitation(session, key), token)


def invite_to_new_password(database: Database, who: Who, person_id: UUID) -> NewInvitation:
    """Make a link by which somebody gives their account a new password."""
    token = secrets.token_urlsafe(24)
    with transaction(database) as session:
        _only_owners(who, None)
        people.get_account(session, person_id)
        key = people.add_invitation(
            session, hash_secret(token), datetime.now(UTC) + INVITATION_LIVES, who.name,
            person_id=person_id,
        )  # fmt: skip
        return NewInvitation(people.get_invitation(session, key), token)


def find_invitation(database: Database, token: str) -> Invitation:
    """Find an invitation that can still be used.

    Raises:
        NotFoundError: it was used, withdrawn, is too old, or never was.
    """
    with transaction(database) as session:
        found = people.find_invitation(session, hash_secret(token), datetime.now(UTC))
    if found is None:
        raise NotFoundError(_GONE)
    return found


_GONE = "This invitation is good no longer: ask whoever sent it for a new one."


def accept(database: Database, token: str, email: str, name: str, password: str) -> Account:
    """Use an invitation: make the account, or give it its new password.

    Raises:
        NotFoundError: it is good no longer.
        RefusedError: the address, name or password will not do.
    """
    now, email, name = datetime.now(UTC), _tidy_email(email), " ".join(name.split())
    with _changing(database) as session:
        found = people.use_invitation(session, hash_secret(token), now)
        if found is None:
            raise NotFoundError(_GONE)
        if found.person_id is not None:
            account = people.get_account(session, found.person_id)
            check_password(password, account.email, account.name)
            people.set_password(session, account.id, _HASHER.hash(password))
            people.end_all_signed_in(session, account.id, now)
            return account
        if not _EMAIL.match(email) or len(email) > 254:
            raise RefusedError("email", "This is no e-mail address.")
        if not 1 <= len(name) <= 40:
            raise RefusedError("name", "A name of 1 to 40 signs is needed: it stands at your runs.")
        if people.email_known(session, email):
            # Whoever holds an invitation is trusted to learn that.
            reason = "There is an account with this address already: sign in, then open this again."
            raise RefusedError("email", reason)
        check_password(password, email, name)
        key = people.add_account(session, email, name, _HASHER.hash(password))
        people.set_membership(
            session, key, found.shootout_id, found.role, by=found.made_by, now=now
        )
        return people.get_account(session, key)


def join(database: Database, token: str, who: Who) -> None:
    """Use an invitation with the account that one has; a stronger role stays.

    Raises:
        NotFoundError: it is good no longer, or is for a new password.
    """
    now = datetime.now(UTC)
    with _changing(database) as session:
        found = people.use_invitation(session, hash_secret(token), now)
        if found is None or found.role is None or who.person_id is None:
            raise NotFoundError(_GONE)
        standing = roles_of(session, who.person_id).get(found.shootout_id)
        if standing is None or ROLES.index(found.role) < ROLES.index(standing):
            people.set_membership(
                session, who.person_id, found.shootout_id, found.role, by=found.made_by, now=now
            )


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
    own = {email.casefold(), email.casefold().partition("@")[0], name.casefold(), "true margin",
           "truemargin"}  # fmt: skip
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
    now, email = datetime.now(UTC), _tidy_email(email)[:254]
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


def _tidy_email(email: str) -> str:
    return email.strip().casefold()


def who_is(database: Database, token: str) -> Who | None:
    """Say who is signed in by a token; None where nobody is.

    What was found is believed for a second: a bench asks several times in that. Changes made
    by this process are known at once, those by others after that second.
    """
    asked, key = time.monotonic(), (database.url, hash_secret(token))
    who = _look_up(database, key[1])
    if len(_FOUND) > MOST_BELIEVED:
        _FOUND.clear()
    if who is not None:
        _FOUND[key] = (asked, who)
    return who


def who_was(database: Database, token: str) -> Who | None:
    """Say who was signed in by a token within the last second, without asking anybody."""
    known = _FOUND.get((database.url, hash_secret(token)))
    if known is None or time.monotonic() - known[0] >= BELIEVED_S:
        return None
    return known[1]


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
    with _changing(database) as session:
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
    with _changing(database) as session:
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
    with _changing(database) as session:
        people.set_password(session, account.id, _HASHER.hash(new))
        people.end_all_signed_in(session, account.id, now, but=who.signed_in_id)


def show_people(database: Database, who: Who) -> PeopleView:
    """Show who gets in, as far as it concerns the shootouts that somebody owns.

    Raises:
        NotAllowedError: they own none.
    """
    with transaction(database) as session:
        standing = people.list_memberships(session)
        names = {each.id: each.name for each in shootouts.list_shootouts(session, archived=True)}
        invitations = people.list_invitations(session, datetime.now(UTC))
        accounts = people.list_accounts(session)
        tries = people.list_tries(session) if who.may(Right.OWN) else ()
    if not (who.may(Right.OWN) or "owner" in who.roles.values()):
        raise NotAllowedError("Only owners see who else gets in.")
    shown = [each for each in standing if who.may(Right.OWN, each.shootout_id)]
    members = tuple(
        Member(account, tuple(m for m in shown if m.person_id == account.id))
        for account in accounts
    )
    return PeopleView(
        tuple(m for m in members if m.memberships or who.may(Right.OWN)),
        tuple(
            Invited(each, _to(each, names, accounts))
            for each in invitations
            if who.may(Right.OWN, each.shootout_id)
        ),
        tries,
    )


def _to(invitation: Invitation, names: dict[UUID, str], accounts: Sequence[Account]) -> str:
    if invitation.person_id is not None:
        name = next((a.name for a in accounts if a.id == invitation.person_id), "somebody")
        return f"a new password for {name}"
    home = invitation.shootout_id
    where = "all shootouts" if home is None else names.get(home, "a shootout")
    return f"{invitation.role} of {where}"


def withdraw_invitation(database: Database, who: Who, invitation_id: UUID) -> PeopleView:
    """Withdraw an invitation."""
    with transaction(database) as session:
        home = people.get_invitation(session, invitation_id).shootout_id
        _only_owners(who, home)
        people.withdraw_invitation(session, invitation_id, datetime.now(UTC))
    return show_people(database, who)


def set_role(
    database: Database, who: Who, person_id: UUID, slug: str | None, role: str | None
) -> PeopleView:
    """Give a person a role in one shootout or in all, or take it.

    Raises:
        RefusedError: nobody would own all shootouts any more.
    """
    with _changing(database) as session:
        home = None if slug is None else homes.home_of_slug(session, slug)
        if slug is not None and home is None:
            raise NotFoundError(f"There is no shootout {slug}.")
        _only_owners(who, home)
        people.in_turn(session)
        account = people.get_account(session, person_id)
        if account.ended_at is not None:
            raise RefusedError("person_id", f"The account of {account.name} has ended.")
        people.set_membership(session, person_id, home, role, by=who.name, now=datetime.now(UTC))
        _somebody_owns(session)
    return show_people(database, who)


def end_account(database: Database, who: Who, person_id: UUID) -> PeopleView:
    """End an account: signed out everywhere, its devices revoked; its runs keep the name.

    Raises:
        RefusedError: nobody would own all shootouts any more.
    """
    with _changing(database) as session:
        _only_owners(who, None)
        people.in_turn(session)
        people.end_account(session, person_id, datetime.now(UTC))
        _somebody_owns(session)
    return show_people(database, who)


def own_what_was_made(database: Database, who: Who, shootout_id: UUID) -> None:
    """Whoever makes a shootout owns it."""
    if who.person_id is None or who.may(Right.OWN, shootout_id):
        return
    with _changing(database) as session:
        people.set_membership(
            session, who.person_id, shootout_id, "owner", by=who.name, now=datetime.now(UTC)
        )


@contextmanager
def _changing(database: Database) -> Iterator[Session]:
    """A transaction after which nobody is believed to be who they were."""
    try:
        with transaction(database) as session:
            yield session
    finally:
        _FOUND.clear()


def _only_owners(who: Who, home: UUID | None) -> None:
    if not who.may(Right.OWN, home):
        raise NotFoundError("There is nothing of yours here.")


def _somebody_owns(session: Session) -> None:
    if people.owners_left(session) == 0:
        reason = "Somebody must own all shootouts: make another person owner first."
        raise RefusedError("role", reason)
