"""Passkeys and recovery codes through the app, with a device that can be bent."""

from __future__ import annotations

from typing import Any

import pytest
from fastapi.testclient import TestClient

from tests.app.accounts import PASSWORD, account
from tests.app.authenticator import PRESENT, VERIFIED, Device, coded
from tests.conftest import PROJECT
from true_margin.app.access import Access
from true_margin.app.main import make_app
from true_margin.desk.access import passkeys, recovery, sign_in
from true_margin.store.database import Database

HOST = "bench.example"
HTTPS = f"https://{HOST}"


def browser(database: Database, address: str | None = HTTPS, host: str = HTTPS) -> TestClient:
    app = make_app(database, PROJECT / "web" / "dist", access=Access(sign_in=True, address=address))
    return TestClient(app, base_url=host, follow_redirects=False, raise_server_exceptions=False)


def signed_in(database: Database) -> tuple[TestClient, str]:
    """A browser in which somebody is signed in, and their e-mail address."""
    email, here = account(database, "editor").account.email, browser(database)
    answer = here.post("/sign-in", data={"email": email, "password": PASSWORD})
    assert answer.status_code == 303, answer.text
    return here, email


def add_passkey(here: TestClient, device: Device) -> Any:
    options = here.post("/api/v1/me/passkeys/begin", json={"password": PASSWORD})
    assert options.status_code == 200, options.text
    body = {"name": " The  phone ", "credential": device.make(options.json())}
    return here.post("/api/v1/me/passkeys", json=body)


def come_in(elsewhere: TestClient, device: Device) -> Any:
    options = elsewhere.post("/sign-in/passkey/begin").json()
    return elsewhere.post("/sign-in/passkey", json=device.sign(options))


def test_a_passkey_signs_in_without_address_or_password(database: Database) -> None:
    here, _ = signed_in(database)
    device = Device(HTTPS, HOST)
    added = add_passkey(here, device)
    assert added.status_code == 201, added.text
    assert [each["name"] for each in added.json()["passkeys"]] == ["The phone"]
    elsewhere = browser(database)
    assert elsewhere.get("/api/v1/me").status_code == 401
    answer = come_in(elsewhere, device)
    assert answer.status_code == 200, answer.text
    assert "__Host-tm_person" in answer.headers["set-cookie"]
    name = here.get("/api/v1/me").json()["name"]
    assert elsewhere.get("/api/v1/me").json()["name"] == name
    (listed,) = elsewhere.get("/api/v1/me/ways").json()["passkeys"]
    assert listed["used_at"] is not None


def test_a_passkey_that_ended_signs_nobody_in(database: Database) -> None:
    here, _ = signed_in(database)
    device = Device(HTTPS, HOST)
    key = add_passkey(here, device).json()["passkeys"][0]["id"]
    assert here.put(f"/api/v1/me/passkeys/{key}/ended").json()["passkeys"] == []
    refused = come_in(browser(database), device)
    assert (refused.status_code, "password" in refused.json()["detail"]) == (422, True)
    # Nor is it made again: who ended it did not want this device.
    assert add_passkey(here, device).status_code == 422


def test_nobody_ends_the_passkey_of_another(database: Database) -> None:
    here, _ = signed_in(database)
    other, _ = signed_in(database)
    device = Device(HTTPS, HOST)
    key = add_passkey(here, device).json()["passkeys"][0]["id"]
    assert other.put(f"/api/v1/me/passkeys/{key}/ended").status_code == 404
    assert come_in(browser(database), device).status_code == 200


def test_an_answer_is_good_once(database: Database) -> None:
    here, _ = signed_in(database)
    device, elsewhere = Device(HTTPS, HOST), browser(database)
    add_passkey(here, device)
    answer = device.sign(elsewhere.post("/sign-in/passkey/begin").json())
    assert elsewhere.post("/sign-in/passkey", json=answer).status_code == 200
    again = browser(database).post("/sign-in/passkey", json=answer)
    assert (again.status_code, "done before" in again.json()["detail"]) == (422, True)


def test_an_answer_to_what_nobody_asked_is_refused(database: Database) -> None:
    here, _ = signed_in(database)
    device = Device(HTTPS, HOST)
    add_passkey(here, device)
    made_up = device.sign({"challenge": coded(b"x" * 32)})
    assert browser(database).post("/sign-in/passkey", json=made_up).status_code == 422
    # What was asked for a new passkey is no leave to sign in.
    options = here.post("/api/v1/me/passkeys/begin", json={"password": PASSWORD}).json()
    assert browser(database).post("/sign-in/passkey", json=device.sign(options)).status_code == 422


def test_what_was_asked_long_ago_is_answered_too_late(
    database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    here, _ = signed_in(database)
    device, elsewhere = Device(HTTPS, HOST), browser(database)
    add_passkey(here, device)
    answer = device.sign(elsewhere.post("/sign-in/passkey/begin").json())
    monkeypatch.setattr(passkeys, "CHALLENGE_LIVES", -passkeys.CHALLENGE_LIVES)
    late = elsewhere.post("/sign-in/passkey", json=answer)
    assert (late.status_code, "too long" in late.json()["detail"]) == (422, True)


@pytest.mark.parametrize(
    "bent",
    [
        {"origin": "https://elsewhere.example"},
        {"host": "elsewhere.example"},
        {"flags": PRESENT},
        {"flags": VERIFIED},
        {"flags": 0},
    ],
    ids=["another origin", "another site", "not unlocked", "nobody there", "neither"],
)
def test_a_device_that_says_otherwise_is_refused(database: Database, bent: dict[str, Any]) -> None:
    here, _ = signed_in(database)
    good = Device(HTTPS, HOST)
    add_passkey(here, good)
    off = Device(**{"origin": HTTPS, "host": HOST, **bent})
    assert add_passkey(here, off).status_code == 422
    off.key, off.credential_id = good.key, good.credential_id
    assert come_in(browser(database), off).status_code == 422
    assert come_in(browser(database), good).status_code == 200


def test_another_key_of_the_same_name_is_refused(database: Database) -> None:
    here, _ = signed_in(database)
    good = Device(HTTPS, HOST)
    add_passkey(here, good)
    forged = Device(HTTPS, HOST, credential_id=good.credential_id)
    assert come_in(browser(database), forged).status_code == 422


def test_a_copy_that_signs_behind_the_first_is_refused(database: Database) -> None:
    here, _ = signed_in(database)
    device = Device(HTTPS, HOST, count=5)
    add_passkey(here, device)
    device.count = 9
    assert come_in(browser(database), device).status_code == 200
    device.count = 7
    assert come_in(browser(database), device).status_code == 422


@pytest.mark.parametrize(
    "body",
    [
        b"",
        b"[]",
        b"{",
        b'{"response":{"clientDataJSON":7}}',
        b'{"response":{"clientDataJSON":"e30"}}',
        b'{"response":{"clientDataJSON":"\xff"}}',
        b"[" * 9000,
        b"x" * 40_000,
    ],
)
def test_nonsense_is_refused(database: Database, body: bytes) -> None:
    answer = browser(database).post("/sign-in/passkey", content=body)
    assert answer.status_code == 422, answer.text
    assert answer.json()["detail"].endswith(".")


def test_a_new_passkey_needs_the_password(database: Database) -> None:
    here, _ = signed_in(database)
    refused = here.post("/api/v1/me/passkeys/begin", json={"password": "not this one"})
    assert (refused.status_code, refused.json()["field"]) == (422, "password")
    codes = here.post("/api/v1/me/recovery-codes", json={"password": "not this one"})
    assert codes.status_code == 422


@pytest.mark.parametrize(
    ("address", "host", "site"),
    [
        (HTTPS, "127.0.0.1:8437", (HOST, HTTPS)),
        ("https://bench.example:8443", "x", (HOST, "https://bench.example:8443")),
        ("http://bench.example", "bench.example", None),
        ("https://10.0.0.7", "10.0.0.7", None),
        ("https://[fe80::a]", "x", None),
        (None, "127.0.0.1:8437", None),
        (None, "localhost:8437", ("localhost", "http://localhost:8437")),
        (None, "localhost.elsewhere.example", None),
        (None, "elsewhere.example", None),
    ],
)
def test_passkeys_are_for_a_name_by_tls_or_this_machine(
    address: str | None, host: str, site: tuple[str, str] | None
) -> None:
    found = Access(sign_in=True, address=address).site(host)
    assert (None if found is None else (found.name, found.origin)) == site


def test_where_none_can_be_the_page_offers_none(database: Database) -> None:
    numbers = browser(database, None, "http://127.0.0.1:8437")
    assert "passkey.js" not in numbers.get("/sign-in").text
    assert numbers.post("/sign-in/passkey/begin").status_code == 422
    assert "passkey.js" in browser(database).get("/sign-in").text


def test_an_address_asks_so_often_a_minute(database: Database) -> None:
    here = browser(database)
    answers = [here.post("/sign-in/passkey/begin").status_code for _ in range(40)]
    assert answers.count(200) == 30
    assert set(answers[30:]) == {429}


def test_a_link_to_a_new_password_ends_passkeys_and_codes(database: Database) -> None:
    here, email = signed_in(database)
    device = Device(HTTPS, HOST)
    add_passkey(here, device)
    (code, *_) = here.post("/api/v1/me/recovery-codes", json={"password": PASSWORD}).json()["codes"]
    owner = account(database, "owner")
    boss = browser(database)
    boss.post("/sign-in", data={"email": owner.account.email, "password": PASSWORD})
    members = boss.get("/api/v1/people").json()["members"]
    person = next(m["account"]["id"] for m in members if m["account"]["email"] == email)
    link = boss.post(f"/api/v1/people/{person}/new-password").json()["link"]
    fresh = "another one of my own"
    path = link.removeprefix(HTTPS)
    assert browser(database).post(path, data={"password": fresh}).status_code == 303
    assert come_in(browser(database), device).status_code == 422
    form = {"email": email, "code": code, "password": "yet another of mine"}
    assert browser(database).post("/sign-in/recovery", data=form).status_code == 422


def test_a_recovery_code_sets_a_password_once(database: Database) -> None:
    here, email = signed_in(database)
    made = here.post("/api/v1/me/recovery-codes", json={"password": PASSWORD}).json()["codes"]
    assert len(set(made)) == recovery.CODES
    elsewhere, fresh = browser(database), "words that I remember"
    typed = made[0].upper().replace("-", " ")
    form = {"email": f" {email} ", "code": typed, "password": fresh}
    answer = elsewhere.post("/sign-in/recovery", data=form)
    assert (answer.status_code, answer.headers["location"]) == (303, "/")
    assert elsewhere.get("/api/v1/me/ways").json()["codes_left"] == recovery.CODES - 1
    # Everywhere else one is signed out, and the code is spent.
    assert here.get("/api/v1/me").status_code == 401
    again = browser(database).post("/sign-in/recovery", data=form)
    assert (again.status_code, "used before" in again.text) == (422, True)
    assert sign_in.sign_in(database, email, fresh, "a browser", "10.9.9.9").account.email == email


def test_a_password_that_will_not_do_spends_no_code(database: Database) -> None:
    here, email = signed_in(database)
    (code, *_) = here.post("/api/v1/me/recovery-codes", json={"password": PASSWORD}).json()["codes"]
    form = {"email": email, "code": code, "password": "password123"}
    refused = browser(database).post("/sign-in/recovery", data=form)
    assert refused.status_code == 422
    assert code in refused.text
    name = email.partition("@")[0]
    assert (
        browser(database)
        .post("/sign-in/recovery", data={**form, "password": name + "!"})
        .status_code
        == 422
    )
    good = {**form, "password": "a better one than that"}
    assert browser(database).post("/sign-in/recovery", data=good).status_code == 303


def test_new_codes_end_those_before(database: Database) -> None:
    here, email = signed_in(database)
    (old, *_) = here.post("/api/v1/me/recovery-codes", json={"password": PASSWORD}).json()["codes"]
    here.post("/api/v1/me/recovery-codes", json={"password": PASSWORD})
    assert here.get("/api/v1/me/ways").json()["codes_left"] == recovery.CODES
    form = {"email": email, "code": old, "password": "words that I remember"}
    assert browser(database).post("/sign-in/recovery", data=form).status_code == 422


def test_codes_are_guessed_no_oftener_than_passwords(database: Database) -> None:
    _, email = signed_in(database)
    form = {"email": email, "code": "aaaaa-bbbbb-ccccc-ddddd", "password": "words I remember"}
    tries = [browser(database).post("/sign-in/recovery", data=form) for _ in range(10)]
    wrong = sign_in.MOST_WRONG_HERE
    assert [each.status_code for each in tries] == [422] * wrong + [429] * (10 - wrong)
    # The same words for an address that nobody has.
    nobody = browser(database).post("/sign-in/recovery", data={**form, "email": "no@body.test"})
    assert ("do not belong together" in tries[0].text, nobody.status_code) == (True, 422)
    assert "do not belong together" in nobody.text
