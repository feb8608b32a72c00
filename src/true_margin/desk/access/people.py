"""Accounts: inviting people, and what each may do."""

from __future__ import annotations

import re
import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.choices import Role
from true_margin.desk.access.rights import Right, Who
from true_margin.desk.access.sign_in import (
    changing,
    check_password,
    hash_password,
    hash_secret,
    roles_of,
    tidy_email,
)
from true_margin.desk.errors import NotAllowedError, NotFoundError, RefusedError, transaction
from true_margin.store import invitations, passkeys, people, shootout_lookup, shootouts, sign_ins
from true_margin.store.database import Database
from true_margin.store.invitations import Invitation
from true_margin.store.people import Membership
from true_margin.store.records.accounts import Account
from true_margin.store.sign_ins import SignInTry

ROLES = tuple(Role)
"""Strongest first."""
INVITATION_LIVES = timedelta(days=7)
_EMAIL = re.compile(r"^[^@\s]+@[^@\s]+$")


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


def is_set_up(database: Database) -> bool:
    """Whether somebody owns all shootouts, or holds an invitation to."""
    with transaction(database) as session:
        waiting = invitations.list_invitations(session, database.clocks.now())
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
        key = invitations.add_invitation(
            session,
            hash_secret(token),
            database.clocks.now() + INVITATION_LIVES,
            who.name,
            who.person_id,
            role=role,
            shootout_id=home,
            note=note or None,
        )
        return NewInvitation(invitations.get_invitation(session, key), token)


def invite_to_new_password(database: Database, who: Who, person_id: UUID) -> NewInvitation:
    """Make a link by which somebody gives their account a new password."""
    token = secrets.token_urlsafe(24)
    with transaction(database) as session:
        _only_owners(who, None)
        people.get_account(session, person_id)
        key = invitations.add_invitation(
            session,
            hash_secret(token),
            database.clocks.now() + INVITATION_LIVES,
            who.name,
            who.person_id,
            person_id=person_id,
        )
        return NewInvitation(invitations.get_invitation(session, key), token)


def find_invitation(database: Database, token: str) -> Invitation:
    """Find an invitation that can still be used.

    Raises:
        NotFoundError: it was used, withdrawn, is too old, or never was.
    """
    with transaction(database) as session:
        found = invitations.find_invitation(session, hash_secret(token), database.clocks.now())
        return _good(session, found)


def _good(session: Session, found: Invitation | None) -> Invitation:
    """An invitation whose maker may still make it; a link does no more than who made it."""
    if found is None:
        raise NotFoundError(_GONE)
    if found.made_by_id is not None:
        maker = people.get_account(session, found.made_by_id)
        now = Who(maker.name, "person", roles_of(session, maker.id), maker.id)
        if maker.ended_at is not None or not now.may(Right.OWN, found.shootout_id):
            raise NotFoundError(_GONE)
    if found.person_id is not None and people.get_account(session, found.person_id).ended_at:
        raise NotFoundError(_GONE)
    return found


_GONE = "This invitation is good no longer: ask whoever sent it for a new one."


def accept(database: Database, token: str, email: str, name: str, password: str) -> Account:
    """Use an invitation: make the account, or give it its new password.

    Raises:
        NotFoundError: it is good no longer.
        RefusedError: the address, name or password will not do.
    """
    now, email, name = database.clocks.now(), tidy_email(email), " ".join(name.split())
    with changing(database) as session:
        # Not while a role of the maker is being taken: one of the two comes first.
        people.in_turn(session)
        found = _good(session, invitations.use_invitation(session, hash_secret(token), now))
        if found.person_id is not None:
            account = people.get_account(session, found.person_id)
            check_password(password, account.email, account.name)
            people.set_password(session, account.id, hash_password(password))
            sign_ins.end_all_signed_in(session, account.id, now)
            invitations.withdraw_links(session, account.id, now)
            sign_ins.forget_browsers(session, account.id, now)
            # Whoever asks an owner for a link may have lost a device, or had a guest.
            passkeys.end_all_passkeys(session, account.id, now)
            passkeys.withdraw_codes(session, account.id, now)
            return account
        if not _EMAIL.match(email) or len(email) > 254:
            raise RefusedError("email", "This is no e-mail address.")
        if not 1 <= len(name) <= 40:
            raise RefusedError(
                "name", "A name of 1 to 40 characters is needed: it is shown with your runs."
            )
        if people.email_known(session, email):
            # Whoever holds an invitation is trusted to learn that.
            reason = "There is an account with this address already: sign in, then open this again."
            raise RefusedError("email", reason)
        check_password(password, email, name)
        key = people.add_account(session, email, name, hash_password(password))
        people.set_membership(
            session, key, found.shootout_id, found.role, by=found.made_by, now=now
        )
        return people.get_account(session, key)


def join(database: Database, token: str, who: Who) -> None:
    """Use an invitation with the account that one has; a stronger role stays.

    Raises:
        NotFoundError: it is good no longer, or is for a new password.
    """
    now = database.clocks.now()
    with changing(database) as session:
        people.in_turn(session)
        found = _good(session, invitations.use_invitation(session, hash_secret(token), now))
        if found.role is None or who.person_id is None:
            raise NotFoundError(_GONE)
        standing = roles_of(session, who.person_id).get(found.shootout_id)
        if standing is None or ROLES.index(found.role) < ROLES.index(standing):
            people.set_membership(
                session, who.person_id, found.shootout_id, found.role, by=found.made_by, now=now
            )


def show_people(database: Database, who: Who) -> PeopleView:
    """Show who gets in, as far as it concerns the shootouts that somebody owns.

    Raises:
        NotAllowedError: they own none.
    """
    with transaction(database) as session:
        standing = people.list_memberships(session)
        names = {each.id: each.name for each in shootouts.list_shootouts(session, archived=True)}
        invited = invitations.list_invitations(session, database.clocks.now())
        accounts = people.list_accounts(session)
        tries = sign_ins.list_tries(session) if who.may(Right.OWN) else ()
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
            for each in invited
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
        home = invitations.get_invitation(session, invitation_id).shootout_id
        _only_owners(who, home)
        invitations.withdraw_invitation(session, invitation_id, database.clocks.now())
    return show_people(database, who)


def set_role(
    database: Database, who: Who, person_id: UUID, slug: str | None, role: str | None
) -> PeopleView:
    """Give a person a role in one shootout or in all, or take it.

    Raises:
        RefusedError: nobody would own all shootouts any more.
    """
    with changing(database) as session:
        home = None if slug is None else shootout_lookup.home_of_slug(session, slug)
        if slug is not None and home is None:
            raise NotFoundError(f"There is no shootout {slug}.")
        _only_owners(who, home)
        people.in_turn(session)
        account = people.get_account(session, person_id)
        if account.ended_at is not None:
            raise RefusedError("person_id", f"The account of {account.name} has ended.")
        now = database.clocks.now()
        if roles_of(session, person_id).get(home) == Role.OWNER and role != Role.OWNER:
            invitations.withdraw_links(session, person_id, now)
        people.set_membership(session, person_id, home, role, by=who.name, now=now)
        _somebody_owns(session)
    return show_people(database, who)


def end_account(database: Database, who: Who, person_id: UUID) -> PeopleView:
    """End an account: signed out everywhere, its devices revoked; its runs keep the name.

    Raises:
        RefusedError: nobody would own all shootouts any more.
    """
    with changing(database) as session:
        _only_owners(who, None)
        people.in_turn(session)
        now = database.clocks.now()
        people.end_account(session, person_id, now)
        invitations.withdraw_links(session, person_id, now)
        sign_ins.forget_browsers(session, person_id, now)
        _somebody_owns(session)
    return show_people(database, who)


def own_what_was_made(database: Database, who: Who, shootout_id: UUID) -> None:
    """Whoever makes a shootout owns it."""
    if who.person_id is None or who.may(Right.OWN, shootout_id):
        return
    with changing(database) as session:
        make_owner(session, who.person_id, shootout_id, who.name)


def make_owner(session: Session, person_id: UUID, shootout_id: UUID, name: str) -> None:
    """Make somebody owner of what they made."""
    people.set_membership(session, person_id, shootout_id, "owner", by=name, now=datetime.now(UTC))
    sign_ins.tell_changed(session)


def _only_owners(who: Who, home: UUID | None) -> None:
    if not who.may(Right.OWN, home):
        raise NotFoundError("There is nothing of yours here.")


def _somebody_owns(session: Session) -> None:
    if people.owners_left(session) == 0:
        reason = "Somebody must own all shootouts: make another person owner first."
        raise RefusedError("role", reason)
