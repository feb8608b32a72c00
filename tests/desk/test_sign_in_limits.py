"""Wrong tries: counted before they are looked at, and never to the cost of the rightful person."""

from __future__ import annotations

import threading
from concurrent.futures import ThreadPoolExecutor
from uuid import uuid4

import pytest

from tests.app.accounts import PASSWORD, account
from true_margin.desk.access import sign_in
from true_margin.desk.errors import RefusedError, TooManyError
from true_margin.store.database import Database

ADDRESSES = (f"10.7.{n // 250}.{n % 250}" for n in range(60_000))


def tried(database: Database, email: str, address: str, known: str | None = None) -> str:
    try:
        sign_in.sign_in(database, email, "not it at all", "a browser", address, known)
    except TooManyError as error:
        return "later" if "Wait" in error.reason else "busy"
    except RefusedError:
        return "wrong"
    return "in"


def test_tries_at_the_same_time_are_no_more_than_one_by_one(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    email, address = account(database, "reader").account.email, next(ADDRESSES)
    hashed, together, most = [], [0], [0]
    real, lock = sign_in._HASHER.verify_and_update, threading.Lock()

    class Watched:
        """Counts what is hashed, and how much of it at once."""

        def verify_and_update(self, password: str, known: str) -> tuple[bool, str | None]:
            with lock:
                hashed.append(password)
                together[0] += 1
                most[0] = max(most[0], together[0])
            try:
                return real(password, known)
            finally:
                with lock:
                    together[0] -= 1

    monkeypatch.setattr(sign_in, "_HASHER", Watched())
    with ThreadPoolExecutor(30) as many:
        answers = list(many.map(lambda _: tried(database, email, address), range(60)))
    assert len(hashed) <= sign_in.MOST_WRONG_HERE
    assert most[0] <= 2
    assert answers.count("later") == 60 - sign_in.MOST_WRONG_HERE


def test_strangers_do_not_lock_the_rightful_person_out(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sign_in, "MOST_WRONG_ACCOUNT", 12)
    email = account(database, "reader").account.email
    home, there = next(ADDRESSES), next(ADDRESSES)
    first = sign_in.sign_in(database, email, PASSWORD, "a browser", home)
    assert first.known is not None
    assert [tried(database, email, there) for _ in range(9)] == ["wrong"] * 8 + ["later"]
    # From another address one still gets in, in any browser.
    assert sign_in.sign_in(database, email, PASSWORD, "a browser", home).known is not None
    for _ in range(4):
        assert tried(database, email, next(ADDRESSES)) == "wrong"
    # Now the account is slowed down for every browser that is not known, and for no other.
    assert tried(database, email, next(ADDRESSES)) == "later"
    again = sign_in.sign_in(database, email, PASSWORD, "a browser", there, first.known)
    assert again.known is None, "it is known already"


def test_a_known_browser_is_known_for_one_account_until_its_password_changes(
    database: Database,
) -> None:
    one, other = account(database, "reader"), account(database, "reader")
    address = next(ADDRESSES)
    known = sign_in.sign_in(database, one.account.email, PASSWORD, "a browser", address).known
    strange = sign_in.sign_in(database, other.account.email, PASSWORD, "a browser", address, known)
    assert strange.known is not None
    who = sign_in.who_is(database, one.token)
    assert who is not None
    sign_in.change_password(database, who, PASSWORD, "a newer bench of mine")
    again = sign_in.sign_in(
        database, one.account.email, "a newer bench of mine", "a browser", address, known
    )
    assert again.known is not None, "it was forgotten"


def test_a_known_browser_that_guesses_is_slowed_down_too(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(sign_in, "MOST_WRONG_KNOWN", 3)
    email = account(database, "reader").account.email
    known = sign_in.sign_in(database, email, PASSWORD, "a browser", next(ADDRESSES)).known
    answers = [tried(database, email, next(ADDRESSES), known) for _ in range(4)]
    assert answers == ["wrong"] * 3 + ["later"]
    assert tried(database, email, next(ADDRESSES)) == "wrong", "elsewhere nothing was counted"


def test_an_account_that_is_not_there_is_counted_like_any(database: Database) -> None:
    email, address = f"{uuid4().hex}@bench.test", next(ADDRESSES)
    assert [tried(database, email, address) for _ in range(9)] == ["wrong"] * 8 + ["later"]
