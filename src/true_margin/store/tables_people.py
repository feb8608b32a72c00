"""Tables of who gets in: people, what they may do, invitations, and where they are signed in."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    ForeignKey,
    Index,
    LargeBinary,
    String,
    UniqueConstraint,
    func,
)
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.store.base import Base, Keyed, filled

ROLE = "role IN ('owner', 'editor', 'reader')"


def person_key(*, empty: bool = False) -> Mapped[Any]:
    """The column that says which person a row is of."""
    return mapped_column(ForeignKey("people.id", ondelete="RESTRICT"), index=True, nullable=empty)


def some_shootout() -> Mapped[uuid.UUID | None]:
    """The column that names one shootout, or all of them where it is empty."""
    return mapped_column(ForeignKey("shootouts.id", ondelete="RESTRICT"), index=True)


class PersonRow(Keyed, Base):
    """An account; one that ended stays, because runs name it."""

    __tablename__ = "people"
    __table_args__ = (UniqueConstraint("email"), filled("name"), filled("email"))
    email: Mapped[str] = mapped_column(String(254))
    name: Mapped[str] = mapped_column(String(80))
    password_hash: Mapped[str] = mapped_column(String(200))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    ended_at: Mapped[datetime | None]


class MembershipRow(Keyed, Base):
    """What a person may do with one shootout, or with all where none is named."""

    __tablename__ = "memberships"
    __table_args__ = (
        CheckConstraint(ROLE, name="role_known"),
        Index(
            "uq_memberships_standing",
            "person_id",
            "shootout_id",
            unique=True,
            postgresql_where="ended_at IS NULL",
            postgresql_nulls_not_distinct=True,
        ),
    )
    person_id: Mapped[uuid.UUID] = person_key()
    shootout_id: Mapped[uuid.UUID | None] = some_shootout()
    role: Mapped[str] = mapped_column(String(10))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    made_by: Mapped[str] = mapped_column(String(80))
    ended_at: Mapped[datetime | None]


class InvitationRow(Keyed, Base):
    """A link that makes an account, or gives one a new password; good once and for a while."""

    __tablename__ = "invitations"
    __table_args__ = (
        UniqueConstraint("token_hash"),
        CheckConstraint(ROLE, name="role_known"),
        CheckConstraint("(role IS NULL) = (person_id IS NOT NULL)", name="role_or_person"),
    )
    token_hash: Mapped[str] = mapped_column(String(64))
    role: Mapped[str | None] = mapped_column(String(10))
    shootout_id: Mapped[uuid.UUID | None] = some_shootout()
    person_id: Mapped[uuid.UUID | None] = person_key(empty=True)
    note: Mapped[str | None] = mapped_column(String(120))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    made_by: Mapped[str] = mapped_column(String(80))
    # Empty where it was made at the machine itself, which nobody takes a right from.
    made_by_id: Mapped[uuid.UUID | None] = person_key(empty=True)
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]
    withdrawn_at: Mapped[datetime | None]


class SignedInRow(Keyed, Base):
    """A browser in which a person is signed in; only a hash of its token is kept."""

    __tablename__ = "signed_in"
    __table_args__ = (UniqueConstraint("token_hash"),)
    person_id: Mapped[uuid.UUID] = person_key()
    token_hash: Mapped[str] = mapped_column(String(64))
    browser: Mapped[str] = mapped_column(String(200))
    address: Mapped[str] = mapped_column(String(80))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    seen_at: Mapped[datetime]
    ended_at: Mapped[datetime | None]


class KnownBrowserRow(Keyed, Base):
    """A browser in which a person has signed in before; strangers' tries do not lock it."""

    __tablename__ = "known_browsers"
    __table_args__ = (UniqueConstraint("token_hash"),)
    person_id: Mapped[uuid.UUID] = person_key()
    token_hash: Mapped[str] = mapped_column(String(64))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    forgotten_at: Mapped[datetime | None]


class PasskeyRow(Keyed, Base):
    """A passkey of a person: the public half of a key pair that one of their devices keeps."""

    __tablename__ = "passkeys"
    __table_args__ = (UniqueConstraint("credential_id"), filled("name"))
    person_id: Mapped[uuid.UUID] = person_key()
    credential_id: Mapped[bytes] = mapped_column(LargeBinary)
    public_key: Mapped[bytes] = mapped_column(LargeBinary)
    # How often the device says it has signed; 0 for ever where it does not count.
    sign_count: Mapped[int] = mapped_column(BigInteger)
    name: Mapped[str] = mapped_column(String(80))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    used_at: Mapped[datetime | None]
    ended_at: Mapped[datetime | None]


class PasskeyChallengeRow(Keyed, Base):
    """Random bytes that a device shall sign, once and soon; old ones are cleared away."""

    __tablename__ = "passkey_challenges"
    __table_args__ = (UniqueConstraint("challenge"), Index("ix_passkey_challenges_at", "at"))
    challenge: Mapped[bytes] = mapped_column(LargeBinary)
    # Whose new passkey it is for; empty where somebody signs in and says by it who they are.
    person_id: Mapped[uuid.UUID | None] = person_key(empty=True)
    at: Mapped[datetime]


class RecoveryCodeRow(Keyed, Base):
    """A code, good once, by which a person sets a new password; only a hash of it is kept."""

    __tablename__ = "recovery_codes"
    __table_args__ = (UniqueConstraint("person_id", "code_hash"),)
    person_id: Mapped[uuid.UUID] = person_key()
    code_hash: Mapped[str] = mapped_column(String(64))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    used_at: Mapped[datetime | None]
    withdrawn_at: Mapped[datetime | None]


class SignInTryRow(Keyed, Base):
    """A try to sign in, for the limit and for whoever looks back; no password is kept."""

    __tablename__ = "sign_in_tries"
    __table_args__ = (
        Index("ix_sign_in_tries_email_at", "email", "at"),
        Index("ix_sign_in_tries_address_at", "address", "at"),
    )
    email: Mapped[str] = mapped_column(String(254))
    address: Mapped[str] = mapped_column(String(80))
    at: Mapped[datetime]
    worked: Mapped[bool]
    browser_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("known_browsers.id", ondelete="RESTRICT"), index=True
    )
