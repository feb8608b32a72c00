"""Recovery codes: how somebody gets in again who has lost the password, without an owner."""

from __future__ import annotations

import re
import secrets

from true_margin.desk.access.rights import Who
from true_margin.desk.access.sign_in import (
    SignedInNow,
    changing,
    check_password,
    count_first,
    find_known,
    hash_password,
    hash_secret,
    let_in,
    prove_password,
    tidy_email,
)
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import invitations, passkeys, people, sign_ins
from true_margin.store.database import Database

CODES = 10
SIGNS = "23456789abcdefghjkmnpqrstuvwxyz"
"""Without those that are read for one another on paper: 0 and o, 1, i and l."""
GROUPS, GROUP_SIGNS = 4, 5
"""31 signs in 20 places are 99 bits: too many to be tried, so that a plain hash will do."""
_WRONG = "Address and code do not belong together, or the code was used before."


def make_codes(database: Database, who: Who, password: str) -> tuple[str, ...]:
    """Make new recovery codes; they are told once, and those before are good no longer.

    Raises:
        RefusedError: it is not their password, or there are no accounts.
        TooManyError: it was wrong too often.
    """
    account = prove_password(database, who, "password", password)
    codes = tuple(_new_code() for _ in range(CODES))
    with transaction(database) as session:
        hashes = (hash_secret(_bare(code)) for code in codes)
        passkeys.set_codes(session, account.id, hashes, database.clocks.now())
    return codes


def recover(
    database: Database,
    email: str,
    code: str,
    password: str,
    browser: str,
    address: str,
    known: str | None = None,
) -> SignedInNow:
    """Set a new password by a recovery code, and sign in; every other browser is signed out.

    Args:
        database: where accounts are kept.
        email: of the account.
        code: as it was typed; hyphens, spaces and capitals do not matter.
        password: as it shall be.
        browser: what it says of itself.
        address: where it asks from.
        known: the token of a browser that signed in before, if it has one.

    Raises:
        TooManyError: too many wrong tries, at passwords and codes together.
        RefusedError: address and code do not belong together, or the password will not do; the
            code is then still good.
    """
    email = tidy_email(email)[:254]
    # What will not do for anybody is no try at a code.
    check_password(password, email, "")
    with transaction(database) as session:
        known_id = find_known(session, email, known)
        tried = count_first(session, "code", email, address, known_id, database.clocks.now())
        found = people.find_account(session, email)
    # Hashed before the code is looked at, so that time does not tell which accounts are there.
    hashed, now = hash_password(password), database.clocks.now()
    if found is None:
        raise RefusedError("code", _WRONG)
    account = found[0]
    with changing(database) as session:
        if not passkeys.take_code(session, account.id, hash_secret(_bare(code)), now):
            raise RefusedError("code", _WRONG)
        # A refusal from here on undoes the transaction: the code stays good.
        check_password(password, account.email, account.name)
        sign_ins.try_worked(session, tried)
        people.set_password(session, account.id, hashed)
        sign_ins.end_all_signed_in(session, account.id, now)
        invitations.withdraw_links(session, account.id, now)
        sign_ins.forget_browsers(session, account.id, now)
        return let_in(session, account, browser, address, None, now)


def _new_code() -> str:
    return "-".join(
        "".join(secrets.choice(SIGNS) for _ in range(GROUP_SIGNS)) for _ in range(GROUPS)
    )


def _bare(code: str) -> str:
    """A code as it is hashed: small letters and digits only.

    Example:
        >>> _bare(" ABCDE-fghjk 23456–789ab ")
        'abcdefghjk23456789ab'
    """
    return re.sub(r"[^0-9a-z]", "", code[:200].casefold())
