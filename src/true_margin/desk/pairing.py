"""Pairing: which other devices may work on a bench, by a code that is shown on the desk."""

from __future__ import annotations

import hashlib
import secrets
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from uuid import UUID

from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import bench, records, runs, shootouts
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


def make_code(database: Database, slug: str) -> PairCode:
    """Make a code for one more device; the one before it is good no longer."""
    code = "".join(secrets.choice(SIGNS) for _ in range(CODE_LENGTH))
    expires_at = datetime.now(UTC) + CODE_LIVES
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        bench.add_code(session, home, _hash(code), expires_at)
    return PairCode(code, expires_at)


def pair(database: Database, code: str, name: str) -> Paired:
    """Pair a device by a code.

    Raises:
        RefusedError: the code is wrong, too old, or was used.
    """
    now, token = datetime.now(UTC), secrets.token_urlsafe(32)
    with transaction(database) as session:
        home = bench.use_code(session, _hash(tidy_code(code)), now)
        if home is None:
            raise RefusedError("code", "This code is wrong or too old: ask the desk for a new one.")
        fields = {
            "name": name.strip()[:MOST_NAME_SIGNS] or "a device", "token_hash": _hash(token),
            "paired_at": now, "seen_at": now,
        }  # fmt: skip
        bench.add_device(session, home, fields)
        return Paired(token, shootouts.slug_of(session, home))


def tidy_code(code: str) -> str:
    """A code as it was typed: without spaces and dashes, in capitals."""
    return "".join(sign for sign in code.upper() if sign.isalnum())


def device_of(database: Database, token: str) -> KnownDevice | None:
    """Say which device a token is of; None where it was revoked, or never was."""
    with transaction(database) as session:
        device = bench.find_device(session, _hash(token), datetime.now(UTC))
        if device is None:
            return None
        return KnownDevice(device.id, device.name, shootouts.slug_of(session, device.shootout_id))


def owns_run(database: Database, slug: str, run_id: UUID) -> bool:
    """Whether a run is of this shootout."""
    with transaction(database) as session:
        return shootouts.slug_of(session, runs.run_home(session, run_id)) == slug


def list_devices(database: Database, slug: str) -> tuple[records.PairedDevice, ...]:
    """List the devices of a bench, newest first, revoked ones too."""
    with transaction(database) as session:
        return bench.list_devices(session, shootouts.get_shootout(session, slug).id)


def revoke(database: Database, device_id: UUID) -> tuple[records.PairedDevice, ...]:
    """Let a device in no longer; gives those of its bench."""
    with transaction(database) as session:
        home = bench.revoke_device(session, device_id, datetime.now(UTC))
        return bench.list_devices(session, home)


def _hash(secret: str) -> str:
    """Only this is kept: who reads the database cannot use it."""
    return hashlib.sha256(secret.encode()).hexdigest()
