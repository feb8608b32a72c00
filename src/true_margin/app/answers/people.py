"""People, invitations and who is signed in, as the API answers them."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from true_margin.app.answers.base import Answer


class Account(Answer):
    """A person's account; ``ended_at`` where it is good no longer."""

    id: UUID
    email: str
    name: str
    made_at: datetime
    ended_at: datetime | None


class Membership(Answer):
    """A role in one shootout, or in all where ``shootout_id``, its name and slug are None."""

    id: UUID
    person_id: UUID
    shootout_id: UUID | None
    shootout: str | None
    slug: str | None
    role: str
    made_at: datetime
    made_by: str


class Invitation(Answer):
    """An invitation; its link is told once and only a hash of it is kept.

    ``role`` is None where it gives an account (``person_id``) a new password.
    """

    id: UUID
    role: str | None
    shootout_id: UUID | None
    person_id: UUID | None
    note: str | None
    made_at: datetime
    made_by: str
    expires_at: datetime
    used_at: datetime | None
    withdrawn_at: datetime | None


class SignInTry(Answer):
    """A try to sign in."""

    email: str
    address: str
    at: datetime
    worked: bool


class SignedIn(Answer):
    """A browser in which a person is signed in."""

    id: UUID
    person_id: UUID
    browser: str
    address: str
    made_at: datetime
    seen_at: datetime
    ended_at: datetime | None


class Member(Answer):
    """An account and what it may do."""

    account: Account
    memberships: tuple[Membership, ...]


class Invited(Answer):
    """An invitation as a list shows it, in words."""

    invitation: Invitation
    to: str


class PeopleView(Answer):
    """Everybody who gets in, open invitations, and the newest tries to sign in."""

    members: tuple[Member, ...]
    invitations: tuple[Invited, ...]
    tries: tuple[SignInTry, ...]


class OwnSignIn(Answer):
    """A browser in which one is signed in; ``this`` is the one that asks."""

    signed_in: SignedIn
    this: bool


class InvitationLink(Answer):
    """A link to pass on; it is told once."""

    link: str
    to: str
    view: PeopleView


class Passkey(Answer):
    """A passkey of one's own; its key stays on the device that made it."""

    id: UUID
    name: str
    made_at: datetime
    used_at: datetime | None


class Ways(Answer):
    """How one can sign in besides by a password.

    ``can`` is False where this address can have no passkeys: it is one of numbers, or without
    TLS.
    """

    passkeys: tuple[Passkey, ...]
    codes_left: int
    can: bool


class RecoveryCodes(Answer):
    """New recovery codes; they are told once."""

    codes: tuple[str, ...]
