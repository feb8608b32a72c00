"""Pairing: which other devices may work on a bench, by a code that is shown on the desk."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from datetime import datetime, timedelta
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.desk.access.rights import LOCAL, Right, Who
from true_margin.desk.access.sign_in import hash_secret as _hash
from true_margin.desk.access.sign_in import roles_of
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import devices, people, records, runs, shootouts
from true_margin.store.database import Database

SIGNS = "23456789ABCDEFGHJKMNPQRSTUVWXYZ"
"""Signs of a code; those that are easily taken for another are left out."""
CODE_LENGTH = 6
MOST_NAME_SIGNS = 60
CODE_LIVES = timedelta(minutes=10)


@dataclass(frozen=True, slots=True)
class PairCode:
    """A code to type on the other device; good for one device, for a while."""

    code: str
    expires_at: datetime


@dataclass(frozen=True, slots=True)
class Paired:
    """A device that was just paired: its token is told once and kept by it alone."""

    token: str
    slug: str


@dataclass(frozen=True, slots=True)
class KnownDevice:
    """A device that a request came from, and the bench that it may work on."""

    id: UUID
    name: str
    slug: str
    who: Who


def make_code(database: Database, slug: str, who: Who = LOCAL) -> PairCode:
    """Make a code for one more device of somebody; the one before it is good no longer."""
    code = "".join(secrets.choice(SIGNS) for _ in range(CODE_LENGTH))
    expires_at = database.clocks.now() + CODE_LIVES
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        devices.add_code(session, home, _hash(code), expires_at, who.person_id)
    return PairCode(code, expires_at)


def pair(database: Database, code: str, name: str) -> Paired:
    """Pair a device by a code.

    Raises:
        RefusedError: the code is wrong, too old, or was used.
    """
    now, token = database.clocks.now(), secrets.token_urlsafe(32)
    with transaction(database) as session:
        found = devices.use_code(session, _hash(tidy_code(code)), now, CODE_LIVES)
        if found is None or (
            found[1] is not None and _works_there(session, found[1], found[0]) is None
        ):
            raise RefusedError("code", "This code is wrong or too old: ask the desk for a new one.")
        fields = {
            "name": name.strip()[:MOST_NAME_SIGNS] or "a device",
            "token_hash": _hash(token),
            "paired_at": now,
            "seen_at": now,
            "person_id": found[1],
        }
        devices.add_device(session, found[0], fields)
        return Paired(token, shootouts.slug_of(session, found[0]))


def tidy_code(code: str) -> str:
    """A code as it was typed: without spaces and dashes, in capitals."""
    return "".join(sign for sign in code.upper() if sign.isalnum())


def pair_at_once(database: Database, slug: str, name: str, who: Who) -> Paired:
    """Pair a program of the app's own for somebody, without a code."""
    now, token = database.clocks.now(), secrets.token_urlsafe(32)
    with transaction(database) as session:
        devices.add_device(
            session,
            shootouts.get_shootout(session, slug).id,
            {
                "name": name,
                "token_hash": _hash(token),
                "paired_at": now,
                "seen_at": now,
                "person_id": who.person_id,
            },
        )
    return Paired(token, slug)


def device_of(database: Database, token: str, *, owned: bool = False) -> KnownDevice | None:
    """Say which device a token is of; None where it was revoked, or never was.

    A device that a person paired does no more than that person may do today.

    Args:
        database: where devices are kept.
        token: that the device was told when it was paired.
        owned: True where there are accounts: a device of nobody gets in no longer.
    """
    with transaction(database) as session:
        device = devices.find_device(session, _hash(token), database.clocks.now())
        if device is None or (owned and device.person_id is None):
            return None
        home, name, person_id = device.shootout_id, f"{device.name} (paired)", device.person_id
        if person_id is not None:
            owner = _works_there(session, person_id, home)
            if owner is None:
                return None
            name = f"{device.name[:25]} (paired by {owner})"
        who = Who(name[:80], "device", {home: "editor"}, person_id)
        return KnownDevice(device.id, device.name, shootouts.slug_of(session, home), who)


def _works_there(session: Session, person_id: UUID, home: UUID) -> str | None:
    """The name of whoever paired a device, if they may still do what it does."""
    account = people.get_account(session, person_id)
    who = Who(account.name, "person", roles_of(session, person_id), person_id)
    return account.name if account.ended_at is None and who.may(Right.WRITE, home) else None


def owns_run(database: Database, slug: str, run_id: UUID) -> bool:
    """Whether a run is of this shootout."""
    with transaction(database) as session:
        return shootouts.slug_of(session, runs.run_home(session, run_id)) == slug


def list_devices(database: Database, slug: str) -> tuple[records.PairedDevice, ...]:
    """List the devices of a bench, newest first, revoked ones too."""
    with transaction(database) as session:
        return devices.list_devices(session, shootouts.get_shootout(session, slug).id)


def revoke(database: Database, device_id: UUID) -> tuple[records.PairedDevice, ...]:
    """Let a device in no longer; gives those of its bench."""
    with transaction(database) as session:
        home = devices.revoke_device(session, device_id, database.clocks.now())
        return devices.list_devices(session, home)
