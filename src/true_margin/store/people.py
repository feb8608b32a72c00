"""People, what they may do, invitations and sign-ins in the store; nothing is deleted."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from sqlalchemy import ColumnElement, Select, func, or_, select, text, update
from sqlalchemy.orm import Session

from true_margin.store.clocks import SKEW
from true_margin.store.errors import MissingRowError
from true_margin.store.news import CHANNEL, PEOPLE
from true_margin.store.rows import get_row, insert_row, record_of
from true_margin.store.tables import ShootoutRow
from true_margin.store.tables_bench import PairedDeviceRow
from true_margin.store.tables_people import (
    InvitationRow,
    KnownBrowserRow,
    MembershipRow,
    PersonRow,
    SignedInRow,
    SignInTryRow,
)

PEOPLE_LOCK = 84370002
"""Two owners who end each other at once would leave none; the number is arbitrary but fixed."""
SEEN_EVERY = timedelta(minutes=1)
"""A request more than this after the last one is noted; each would be a write of its own."""


@dataclass(frozen=True, slots=True)
class Account:
    """A person's account; ``ended_at`` where it is good no longer."""

    id: UUID
    email: str
    name: str
    made_at: datetime
    ended_at: datetime | None


@dataclass(frozen=True, slots=True)
class Membership:
    """A role in one shootout, or in all where ``shootout_id``, its name and slug are None."""

    id: UUID
    person_id: UUID
    shootout_id: UUID | None
    shootout: str | None
    slug: str | None
    role: str
    made_at: datetime
    made_by: str


@dataclass(frozen=True, slots=True)
class Invitation:
    """An invitation; its link is told once and only a hash of it is kept.

    ``made_by_id`` is None where it was made at the machine itself, ``role`` where it gives an
    account (``person_id``) a new password.
    """

    id: UUID
    role: str | None
    shootout_id: UUID | None
    person_id: UUID | None
    note: str | None
    made_at: datetime
    made_by: str
    made_by_id: UUID | None
    expires_at: datetime
    used_at: datetime | None
    withdrawn_at: datetime | None


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


def list_accounts(session: Session) -> tuple[Account, ...]:
    """List all accounts by name, ended ones too."""
    rows = session.scalars(select(PersonRow).order_by(PersonRow.name, PersonRow.email))
    return tuple(record_of(row, Account) for row in rows)


def get_account(session: Session, person_id: UUID) -> Account:
    """Get an account.

    Raises:
        MissingRowError: there is none.
    """
    return record_of(get_row(session, PersonRow, person_id, "person"), Account)


def find_account(session: Session, email: str) -> tuple[Account, str] | None:
    """Find an account that has not ended by its address, with the hash of its password."""
    row = session.scalar(
        select(PersonRow).where(PersonRow.email == email, PersonRow.ended_at.is_(None))
    )
    return None if row is None else (record_of(row, Account), row.password_hash)


def email_known(session: Session, email: str) -> bool:
    """Whether an account has this address, ended or not."""
    return session.scalar(select(PersonRow.id).where(PersonRow.email == email)) is not None


def add_account(session: Session, email: str, name: str, password_hash: str) -> UUID:
    """Add an account."""
    return insert_row(
        session, PersonRow, {"email": email, "name": name, "password_hash": password_hash}
    )


def set_password(session: Session, person_id: UUID, password_hash: str) -> None:
    """Give an account another password."""
    get_row(session, PersonRow, person_id, "person").password_hash = password_hash
    session.flush()


def end_account(session: Session, person_id: UUID, now: datetime) -> None:
    """End an account, with its sign-ins and its paired devices."""
    row = get_row(session, PersonRow, person_id, "person")
    row.ended_at = row.ended_at or now
    session.flush()
    end_all_signed_in(session, person_id, now)
    session.execute(
        update(PairedDeviceRow)
        .where(PairedDeviceRow.person_id == person_id, PairedDeviceRow.revoked_at.is_(None))
        .values(revoked_at=now)
    )


def in_turn(session: Session) -> None:
    """Let nobody else change who may do what until this transaction ends."""
    session.execute(text("select pg_advisory_xact_lock(:key)"), {"key": PEOPLE_LOCK})


def owners_left(session: Session) -> int:
    """How many accounts own all shootouts."""
    return (
        session.scalar(
            select(func.count(func.distinct(PersonRow.id)))
            .join(MembershipRow, MembershipRow.person_id == PersonRow.id)
            .where(
                PersonRow.ended_at.is_(None),
                MembershipRow.ended_at.is_(None),
                MembershipRow.shootout_id.is_(None),
                MembershipRow.role == "owner",
            )
        )
        or 0
    )


def list_memberships(session: Session, person_id: UUID | None = None) -> tuple[Membership, ...]:
    """List what stands, of one person or of everybody; those for all shootouts first."""
    query = (
        select(MembershipRow, ShootoutRow.name, ShootoutRow.slug)
        .outerjoin(ShootoutRow, ShootoutRow.id == MembershipRow.shootout_id)
        .where(MembershipRow.ended_at.is_(None))
        .order_by(MembershipRow.shootout_id.is_not(None), ShootoutRow.name)
    )
    if person_id is not None:
        query = query.where(MembershipRow.person_id == person_id)
    return tuple(
        record_of(row, Membership, shootout=name, slug=slug)
        for row, name, slug in session.execute(query)
    )


def set_membership(
    session: Session,
    person_id: UUID,
    shootout_id: UUID | None,
    role: str | None,
    *,
    by: str,
    now: datetime,
) -> None:
    """Give a person a role, or none; what stood before stays on record as ended."""
    session.execute(
        update(MembershipRow)
        .where(
            MembershipRow.person_id == person_id,
            MembershipRow.ended_at.is_(None),
            MembershipRow.shootout_id.is_not_distinct_from(shootout_id),
        )
        .values(ended_at=now)
    )
    if role is not None:
        insert_row(
            session,
            MembershipRow,
            {"person_id": person_id, "shootout_id": shootout_id, "role": role, "made_by": by},
        )


def add_invitation(
    session: Session,
    token_hash: str,
    expires_at: datetime,
    by: str,
    by_id: UUID | None,
    *,
    role: str | None = None,
    shootout_id: UUID | None = None,
    person_id: UUID | None = None,
    note: str | None = None,
) -> UUID:
    """Keep an invitation."""
    return insert_row(
        session,
        InvitationRow,
        {
            "token_hash": token_hash,
            "expires_at": expires_at,
            "made_by": by,
            "made_by_id": by_id,
            "role": role,
            "shootout_id": shootout_id,
            "person_id": person_id,
            "note": note,
        },
    )


def find_invitation(session: Session, token_hash: str, now: datetime) -> Invitation | None:
    """Find an invitation that can still be used."""
    row = session.scalar(_usable(token_hash, now))
    return None if row is None else record_of(row, Invitation)


def use_invitation(session: Session, token_hash: str, now: datetime) -> Invitation | None:
    """Use an invitation up; None where somebody else was first, or it is good no longer."""
    row = session.scalar(_usable(token_hash, now).with_for_update())
    if row is None:
        return None
    row.used_at = now
    session.flush()
    return record_of(row, Invitation)


def _usable(token_hash: str, now: datetime) -> Select[InvitationRow]:
    return select(InvitationRow).where(
        InvitationRow.token_hash == token_hash,
        InvitationRow.used_at.is_(None),
        InvitationRow.withdrawn_at.is_(None),
        InvitationRow.expires_at > now,
    )


def get_invitation(session: Session, invitation_id: UUID) -> Invitation:
    """Get an invitation.

    Raises:
        MissingRowError: there is none.
    """
    return record_of(get_row(session, InvitationRow, invitation_id, "invitation"), Invitation)


def list_invitations(session: Session, now: datetime) -> tuple[Invitation, ...]:
    """List the invitations that can still be used, newest first."""
    rows = session.scalars(
        select(InvitationRow)
        .where(
            InvitationRow.used_at.is_(None),
            InvitationRow.withdrawn_at.is_(None),
            InvitationRow.expires_at > now,
        )
        .order_by(InvitationRow.made_at.desc())
    )
    return tuple(record_of(row, Invitation) for row in rows)


def withdraw_invitation(session: Session, invitation_id: UUID, now: datetime) -> None:
    """Withdraw an invitation."""
    row = get_row(session, InvitationRow, invitation_id, "invitation")
    row.withdrawn_at = row.withdrawn_at or now
    session.flush()


def withdraw_links(session: Session, person_id: UUID, now: datetime) -> None:
    """Withdraw the links that somebody made, and those that give them a new password."""
    session.execute(
        update(InvitationRow)
        .where(
            or_(InvitationRow.made_by_id == person_id, InvitationRow.person_id == person_id),
            InvitationRow.used_at.is_(None),
            InvitationRow.withdrawn_at.is_(None),
        )
        .values(withdrawn_at=now)
    )


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
