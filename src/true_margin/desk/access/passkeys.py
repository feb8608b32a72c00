"""Passkeys: signing in by what a device keeps and its owner unlocks, without a password.

Registration and assertion as in Web Authentication, level 3 (W3C), sections 7.1 and 7.2; what
they ask to be held against each other is done by the package ``webauthn``.
"""

from __future__ import annotations

import json
import secrets
from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta
from typing import Any, TypeVar
from uuid import UUID

import webauthn
from webauthn.helpers import base64url_to_bytes, parse_client_data_json
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from true_margin.desk.access.rights import Who
from true_margin.desk.access.sign_in import SignedInNow, find_known, let_in, prove_password
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.store import passkeys, sign_ins
from true_margin.store.database import Database
from true_margin.store.passkeys import Passkey

CHALLENGE_LIVES = timedelta(minutes=5)
"""As long as somebody may look for the device and unlock it."""
CHALLENGE_BYTES = 32
MOST_PASSKEYS = 20
MOST_NAME = 80
_FIELD = "passkey"
_NOT_GOOD = "This passkey was not accepted here. Sign in by your password."
_TOO_LATE = "That took too long, or was done before. Try again."
Verified = TypeVar("Verified")


@dataclass(frozen=True, slots=True)
class Site:
    """For which site passkeys are made: a device offers them there and nowhere else.

    Attributes:
        name: of the host, which is no address of numbers.
        origin: scheme, host and port, as a browser says them.
    """

    name: str
    origin: str


@dataclass(frozen=True, slots=True)
class Ways:
    """How somebody can sign in besides by a password."""

    passkeys: tuple[Passkey, ...]
    codes_left: int


def show_ways(database: Database, who: Who) -> Ways:
    """Show the passkeys of somebody, and how many recovery codes are left."""
    if who.person_id is None:
        return Ways((), 0)
    with transaction(database) as session:
        return Ways(
            passkeys.list_passkeys(session, who.person_id),
            passkeys.count_codes(session, who.person_id),
        )


def begin_passkey(database: Database, who: Who, site: Site, password: str) -> dict[str, Any]:
    """Say what a browser needs to make a passkey.

    Args:
        database: where accounts are kept.
        who: for whom.
        site: for which it shall be good.
        password: of this person, so that nobody who finds a browser open adds a way in.

    Raises:
        RefusedError: it is not their password, or they have as many passkeys as can be.
        TooManyError: it was wrong too often.
    """
    account = prove_password(database, who, "password", password)
    challenge, now = secrets.token_bytes(CHALLENGE_BYTES), database.clocks.now()
    with transaction(database) as session:
        standing = passkeys.list_passkeys(session, account.id)
        if len(standing) >= MOST_PASSKEYS:
            raise RefusedError(_FIELD, f"There are {MOST_PASSKEYS} passkeys: end one first.")
        passkeys.add_challenge(session, challenge, account.id, now, CHALLENGE_LIVES)
    options = webauthn.generate_registration_options(
        rp_id=site.name,
        rp_name="True Margin",
        user_id=account.id.bytes,
        user_name=account.email,
        user_display_name=account.name,
        challenge=challenge,
        exclude_credentials=[
            PublicKeyCredentialDescriptor(id=each.credential_id) for each in standing
        ],
        authenticator_selection=AuthenticatorSelectionCriteria(
            # Kept in the device with its owner, and unlocked each time: it stands for both
            # the address and the password.
            resident_key=ResidentKeyRequirement.REQUIRED,
            user_verification=UserVerificationRequirement.REQUIRED,
        ),
    )
    return dict(json.loads(webauthn.options_to_json(options)))


def finish_passkey(
    database: Database, who: Who, site: Site, credential: dict[str, Any], name: str
) -> Ways:
    """Keep a passkey that a browser has made.

    Raises:
        RefusedError: it does not answer what was asked a moment ago.
    """
    if who.person_id is None:
        raise NotFoundError("There are no accounts here.")
    now, name = database.clocks.now(), " ".join(name.split())[:MOST_NAME] or "a passkey"
    challenge = _challenge_of(credential)
    made = _verified(
        lambda: webauthn.verify_registration_response(
            credential=credential,
            expected_challenge=challenge,
            expected_rp_id=site.name,
            expected_origin=site.origin,
            require_user_verification=True,
        ),
        "This passkey was not made as asked. Try again.",
    )
    with transaction(database) as session:
        if not passkeys.take_challenge(session, challenge, who.person_id, now, CHALLENGE_LIVES):
            raise RefusedError(_FIELD, _TOO_LATE)
        if passkeys.credential_known(session, made.credential_id):
            raise RefusedError(_FIELD, "This passkey is known here already.")
        passkeys.add_passkey(
            session,
            who.person_id,
            made.credential_id,
            made.credential_public_key,
            made.sign_count,
            name,
        )
    return show_ways(database, who)


def end_passkey(database: Database, who: Who, passkey_id: UUID) -> Ways:
    """End a passkey of one's own: whoever has the device signs in by it no longer."""
    if who.person_id is None:
        raise NotFoundError(f"There is no passkey {passkey_id}.")
    with transaction(database) as session:
        passkeys.end_passkey(session, who.person_id, passkey_id, database.clocks.now())
    return show_ways(database, who)


def begin_sign_in(database: Database, site: Site) -> dict[str, Any]:
    """Say what a browser needs to ask its person for a passkey, whoever that is."""
    challenge = secrets.token_bytes(CHALLENGE_BYTES)
    with transaction(database) as session:
        passkeys.add_challenge(session, challenge, None, database.clocks.now(), CHALLENGE_LIVES)
    options = webauthn.generate_authentication_options(
        rp_id=site.name, challenge=challenge, user_verification=UserVerificationRequirement.REQUIRED
    )
    return dict(json.loads(webauthn.options_to_json(options)))


def sign_in_by_passkey(
    database: Database,
    site: Site,
    credential: dict[str, Any],
    browser: str,
    address: str,
    known: str | None = None,
) -> SignedInNow:
    """Sign somebody in by a passkey.

    Args:
        database: where accounts are kept.
        site: at which they are.
        credential: what the browser's device signed.
        browser: what it says of itself.
        address: where it asks from.
        known: the token of a browser that signed in before, if it has one.

    Raises:
        RefusedError: the passkey is none of here, has ended, or did not sign what was asked.
    """
    now, challenge = database.clocks.now(), _challenge_of(credential)
    with transaction(database) as session:
        # Used up whether it is good or not: an answer is looked at once.
        taken = passkeys.take_challenge(session, challenge, None, now, CHALLENGE_LIVES)
    if not taken:
        raise RefusedError(_FIELD, _TOO_LATE)
    with transaction(database) as session:
        found = passkeys.find_passkey(session, _credential_id(credential))
        if found is None:
            raise RefusedError(_FIELD, _NOT_GOOD)
        key, account = found
        signed = _verified(
            lambda: webauthn.verify_authentication_response(
                credential=credential,
                expected_challenge=challenge,
                expected_rp_id=site.name,
                expected_origin=site.origin,
                credential_public_key=key.public_key,
                # A count that does not rise tells of a copied key: refused.
                credential_current_sign_count=key.sign_count,
                require_user_verification=True,
            ),
            _NOT_GOOD,
        )
        passkeys.use_passkey(session, key.id, signed.new_sign_count, now)
        known_id = find_known(session, account.email, known)
        tried = sign_ins.note_try(session, account.email, address[:80], known_id, now)
        sign_ins.try_worked(session, tried)
        return let_in(session, account, browser, address, known_id, now)


def _verified(verify: Callable[[], Verified], refusal: str) -> Verified:
    """What the package made sure of; whatever it could not read is refused."""
    try:
        return verify()
    except (WebAuthnException, ValueError, KeyError, TypeError, AttributeError) as error:
        raise RefusedError(_FIELD, refusal) from error


def _challenge_of(credential: dict[str, Any]) -> bytes:
    """The challenge that an answer says it is for; it is looked up, not believed."""

    def read() -> bytes:
        return parse_client_data_json(
            base64url_to_bytes(credential["response"]["clientDataJSON"])
        ).challenge

    return _verified(read, _NOT_GOOD)


def _credential_id(credential: dict[str, Any]) -> bytes:
    return _verified(lambda: base64url_to_bytes(credential["rawId"]), _NOT_GOOD)
