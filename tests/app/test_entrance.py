"""The entrance: signing in and out, invitations, other sites, proxies, devices of a person."""

from __future__ import annotations

import re
import threading
from datetime import UTC, datetime
from uuid import uuid4

import pytest
from fastapi.testclient import TestClient

from tests.app.accounts import PASSWORD, account, who_of
from tests.conftest import PROJECT
from tests.desk.helpers import Bench, new_bench
from true_margin.app.access import LOOPBACK_NAMES, Access
from true_margin.app.main import make_app
from true_margin.desk.access import pairing, people, sign_in
from true_margin.desk.access.rights import LOCAL, find_home
from true_margin.desk.errors import RefusedError, TooManyError
from true_margin.desk.runs import runs
from true_margin.store import sign_ins
from true_margin.store.database import Database
from true_margin.store.news import PEOPLE, News
from true_margin.store.people import list_accounts

HTTPS = "https://bench.example"


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Entrance")


def browser(database: Database, access: Access | None = None, **more: str) -> TestClient:
    """A browser that is not signed in; ``more`` are headers that it sends."""
    access = access or Access(sign_in=True, address=HTTPS)
    app = make_app(database, PROJECT / "web" / "dist", access=access)
    return TestClient(
        app,
        base_url=access.address or "http://127.0.0.1:8437",
        follow_redirects=False,
        headers=more,
        raise_server_exceptions=False,
    )


def invited(
    database: Database, slug: str | None = None, role: str = "editor"
) -> tuple[TestClient, str]:
    """Somebody who used an invitation; gives their browser and e-mail address."""
    email = f"{uuid4().hex[:8]}@bench.test"
    made = people.invite(database, LOCAL, role, slug)
    here = browser(database)
    answer = here.post(
        f"/invitation/{made.token}",
        data={"name": "Ada  Quill", "email": f" {email.upper()} ", "password": PASSWORD},
    )
    assert (answer.status_code, answer.headers["location"]) == (303, "/"), answer.text
    return here, email


def test_an_invitation_makes_an_account_once(database: Database, bench: Bench) -> None:
    made = people.invite(database, LOCAL, "editor", bench.slug)
    here = browser(database)
    page = here.get(f"/invitation/{made.token}")
    assert page.status_code == 200
    assert "You will work on one shootout" in page.text
    assert page.headers["referrer-policy"] == "no-referrer"
    weak = {"name": "Ada", "email": "ada@bench.test", "password": "password123"}
    refused = here.post(f"/invitation/{made.token}", data=weak)
    assert refused.status_code == 422
    assert "tried first" in refused.text
    good = {**weak, "email": f"{uuid4().hex[:8]}@bench.test", "password": PASSWORD}
    let_in = here.post(f"/invitation/{made.token}", data=good)
    cookie = let_in.headers["set-cookie"]
    assert cookie.startswith("__Host-tm_person=")
    for word in ("HttpOnly", "Secure", "SameSite=lax", "Path=/"):
        assert word in cookie
    assert here.get("/api/v1/me").json()["name"] == "Ada"
    assert [s["slug"] for s in here.get("/api/v1/shootouts").json()] == [bench.slug]
    again = browser(database).post(f"/invitation/{made.token}", data=good)
    assert again.status_code == 404
    assert "good no longer" in again.text


def test_an_account_joins_another_shootout_by_an_invitation(
    database: Database, bench: Bench
) -> None:
    here, email = invited(database, bench.slug)
    other = new_bench(database, "Also theirs")
    link = f"/invitation/{people.invite(database, LOCAL, 'reader', other.slug).token}"
    stranger = browser(database).post(
        link, data={"name": "A", "email": email, "password": PASSWORD}
    )
    assert "sign in, then open this again" in stranger.text
    assert "Join as Ada Quill" in here.get(link).text
    assert here.post(link).status_code == 303
    assert {s["slug"] for s in here.get("/api/v1/shootouts").json()} == {bench.slug, other.slug}
    assert here.post(link).status_code == 404
    # A weaker role does not take the stronger one away.
    weaker = people.invite(database, LOCAL, "reader", bench.slug).token
    assert here.post(f"/invitation/{weaker}").status_code == 303
    round_ = {"name": "Still mine", "versions": {}}
    assert here.post(f"/api/v1/shootouts/{bench.slug}/rounds", json=round_).status_code == 201


def test_nobody_is_shown_the_door_and_comes_back_to_where_they_were(
    database: Database, bench: Bench
) -> None:
    _, email = invited(database, bench.slug)
    here = browser(database)
    sent = here.get(f"/s/{bench.slug}/bench?task=mix")
    assert sent.status_code == 303
    page = here.get(sent.headers["location"])
    then = re.search(r'name="next" value="([^"]*)"', page.text)
    assert then is not None
    assert then[1] == f"/s/{bench.slug}/bench?task=mix"
    wrong = here.post("/sign-in", data={"email": email, "password": "not this one"})
    nobody = here.post("/sign-in", data={"email": "x@bench.test", "password": PASSWORD})
    assert wrong.status_code == nobody.status_code == 422
    assert "Wrong e-mail or password" in wrong.text
    assert "Wrong e-mail or password" in nobody.text
    form = {"email": email, "password": PASSWORD}
    assert here.post("/sign-in", data={**form, "next": "//evil.example"}).headers["location"] == "/"
    back = here.post("/sign-in", data={**form, "next": then[1]})
    assert (back.status_code, back.headers["location"]) == (303, then[1])
    assert here.get(then[1]).status_code == 200


def test_wrong_tries_are_slowed_down_for_the_account_and_for_the_address(
    database: Database, bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    _, email = invited(database, bench.slug)
    here = f"10.9.{uuid4().hex[:6]}"
    for _ in range(sign_in.MOST_WRONG_HERE):
        with pytest.raises(RefusedError, match="Wrong e-mail"):
            sign_in.sign_in(database, email, "wrong", "", here)
    with pytest.raises(TooManyError):
        sign_in.sign_in(database, email, PASSWORD, "", here)
    assert sign_in.sign_in(database, email, PASSWORD, "", "10.9.9.9").account.email == email
    monkeypatch.setattr(sign_in, "MOST_WRONG_ADDRESS", 3)
    address = f"10.8.{uuid4().hex[:6]}"
    for n in range(3):
        with pytest.raises(RefusedError, match="Wrong e-mail"):
            sign_in.sign_in(database, f"guess{n}@bench.test", "wrong", "", address)
    with pytest.raises(TooManyError):
        sign_in.sign_in(database, "guess9@bench.test", "wrong", "", address)


def test_signing_out_ends_this_browser_and_a_new_password_all_others(
    database: Database, bench: Bench
) -> None:
    here, email = invited(database, bench.slug)
    there = browser(database)
    there.post("/sign-in", data={"email": email, "password": PASSWORD})
    assert len(here.get("/api/v1/me/signed-in").json()) == 2
    wrong = here.put("/api/v1/me/password", json={"old": "no", "new": "another bench of mine"})
    assert (wrong.status_code, wrong.json()["field"]) == (422, "old")
    new = here.put("/api/v1/me/password", json={"old": PASSWORD, "new": "another bench of mine"})
    assert [each["this"] for each in new.json()] == [True]
    assert there.get("/api/v1/me").status_code == 401
    assert here.get("/api/v1/me").status_code == 200
    token = here.cookies["__Host-tm_person"]
    assert here.post("/sign-out").headers["location"] == "/sign-in"
    kept = browser(database)
    kept.cookies.set("__Host-tm_person", token)
    assert kept.get("/api/v1/me").status_code == 401


def test_a_sign_in_that_another_process_ended_is_known_at_once(
    database: Database, bench: Bench
) -> None:
    reader = account(database, "reader", bench.slug)
    heard = threading.Event()
    news = News(database.url)
    news.subscribe(sign_in.forget)
    news.subscribe(lambda told: heard.set() if told == PEOPLE else None)
    news.start()
    try:
        assert sign_in.who_is(database, reader.token) is not None
        believed = sign_in.who_was(database, reader.token, hears=True)
        assert believed is not None
        # As another process does it: this one's own memory is not touched.
        with database.transaction() as session:
            sign_ins.end_all_signed_in(session, reader.account.id, datetime.now(UTC))
            sign_ins.tell_changed(session)
        assert heard.wait(10)
        assert sign_in.who_was(database, reader.token, hears=True) is None
        assert sign_in.who_is(database, reader.token) is None
    finally:
        news.close()


def test_an_owner_ends_an_account_and_resets_a_password(database: Database, bench: Bench) -> None:
    owner, _ = invited(database, role="owner")
    guest, email = invited(database, bench.slug, "reader")
    view = owner.get("/api/v1/people").json()
    person = next(m["account"]["id"] for m in view["members"] if m["account"]["email"] == email)
    link = owner.post(f"/api/v1/people/{person}/new-password").json()["link"]
    assert link.startswith(f"{HTTPS}/invitation/")
    fresh = browser(database)
    set_one = fresh.post(link.removeprefix(HTTPS), data={"password": "a wholly new sentence"})
    assert set_one.status_code == 303
    assert guest.get("/api/v1/me").status_code == 401
    assert fresh.get("/api/v1/me").json()["name"] == "Ada Quill"
    assert guest.put(f"/api/v1/people/{person}/ended").status_code == 401
    assert owner.put(f"/api/v1/people/{person}/ended").status_code == 200
    assert fresh.get("/api/v1/me").status_code == 401


def test_somebody_always_owns_everything(database: Database) -> None:
    owner = who_of(database, account(database, "owner"))
    with database.transaction() as session:
        others = [a for a in list_accounts(session) if a.id != owner.person_id]
    person_id = owner.person_id
    assert person_id is not None
    for each in others:
        if each.ended_at is None:
            people.end_account(database, LOCAL, each.id)
    with pytest.raises(RefusedError, match="Somebody must own"):
        people.end_account(database, owner, person_id)
    with pytest.raises(RefusedError, match="Somebody must own"):
        people.set_role(database, owner, person_id, None, "reader")
    assert people.is_set_up(database)


def test_an_owner_of_one_shootout_decides_about_that_one_only(
    database: Database, bench: Bench
) -> None:
    other = new_bench(database, "Not theirs")
    here, _ = invited(database, bench.slug, "owner")
    view = here.get("/api/v1/people").json()
    assert {m["shootout_id"] for each in view["members"] for m in each["memberships"]} == {
        str(person_home(bench))
    }
    assert view["tries"] == []
    mine = here.post("/api/v1/people/invitations", json={"role": "reader", "shootout": bench.slug})
    assert mine.status_code == 201
    for shootout in (other.slug, None):
        body = {"role": "owner", "shootout": shootout}
        assert here.post("/api/v1/people/invitations", json=body).status_code == 404
        person = view["members"][0]["account"]["id"]
        raised = here.put(f"/api/v1/people/{person}/role", json=body)
        assert raised.status_code == 404


def person_home(bench: Bench) -> object:
    return find_home(bench.database, "shootouts", bench.slug)


def test_a_page_of_another_site_changes_nothing(database: Database, bench: Bench) -> None:
    here, _ = invited(database, bench.slug)
    path, body = f"/api/v1/shootouts/{bench.slug}/rounds", {"name": "Evil", "versions": {}}
    for headers in (
        {"Origin": "https://evil.example"},
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site", "Origin": HTTPS},
        {"Origin": "null"},
    ):
        answer = here.post(path, json=body, headers=headers)
        assert (answer.status_code, answer.json()["type"]) == (403, "/problems/forbidden"), headers
    good = here.post(path, json={**body, "name": "Own"}, headers={"Origin": HTTPS})
    assert good.status_code == 201
    # The same holds where nobody signs in.
    local = browser(database, Access(names=LOOPBACK_NAMES))
    assert (
        local.post(path, json=body, headers={"Origin": "https://evil.example"}).status_code == 403
    )


def test_without_sign_in_only_this_machine_is_answered(database: Database, bench: Bench) -> None:
    local = browser(database, Access(names=LOOPBACK_NAMES))
    path = f"/api/v1/shootouts/{bench.slug}"
    assert local.get(path).status_code == 200
    assert local.get(path, headers={"Host": "localhost:8437"}).status_code == 200
    assert local.get(path, headers={"Host": "[::1]:8437"}).status_code == 200
    for headers in (
        {"Host": "rebound.example"},
        {"Host": "127.0.0.1.evil.example"},
        {"X-Forwarded-For": "10.0.0.1"},
        {"Forwarded": "for=10.0.0.1"},
    ):
        answer = local.get(path, headers=headers)
        assert answer.status_code == 403, headers
        assert bench.slug not in answer.text


def test_a_device_does_no_more_than_whoever_paired_it(database: Database, bench: Bench) -> None:
    signed_in = account(database, "editor", bench.slug)
    who = who_of(database, signed_in)
    code = pairing.make_code(database, bench.slug, who).code
    phone = browser(database)
    assert phone.post("/pair", data={"code": code, "name": "phone"}).status_code == 303
    path = f"/api/v1/shootouts/{bench.slug}"
    fields = {
        "setup_id": str(bench.setups["A"]),
        "task_id": str(bench.tasks["Parade"]),
        "typed": "6:10",
        "client_key": uuid4().hex,
    }
    assert phone.post(f"{path}/runs", json=fields).status_code == 201
    made = runs.show_runs(database, bench.slug).runs[-1].run
    assert made.who == f"phone (paired by {who.name})"
    # A program sends the token in a header.
    program = browser(database, None, Authorization=f"Bearer {phone.cookies['tm_device']}")
    assert program.get(f"{path}/bench/lanes").status_code == 200
    assert program.get(f"{path}/devices").status_code == 403
    assert who.person_id is not None
    people.set_role(database, LOCAL, who.person_id, bench.slug, "reader")
    assert phone.get(f"{path}/bench").status_code == 401
    people.set_role(database, LOCAL, who.person_id, bench.slug, "editor")
    assert phone.get(f"{path}/bench").status_code == 200
    people.end_account(database, LOCAL, who.person_id)
    assert phone.get(f"{path}/bench").status_code == 401
    # One that was paired before there were accounts is nobody's, and stays outside.
    token = pairing.pair_at_once(database, bench.slug, "old phone", LOCAL).token
    old = browser(database, None, Authorization=f"Bearer {token}")
    assert old.get(f"{path}/bench").status_code == 401


def test_what_is_changed_says_who(database: Database, bench: Bench) -> None:
    here, _ = invited(database, bench.slug)
    run = bench.run("A", "6:00").run
    voided = here.patch(
        f"/api/v1/runs/{run.id}",
        json={"version": run.version, "status": "void", "reason": "phone rang", "why": "heard it"},
    )
    assert voided.status_code == 200, voided.text
    history = here.get(f"/api/v1/runs/{run.id}").json()["revisions"]
    assert [each["who"] for each in history] == ["Ada Quill"]


def test_what_belongs_to_another_shootout_is_not_reached_by_a_body(
    database: Database, bench: Bench
) -> None:
    other = new_bench(database, "Foreign")
    foreign = other.run("A", "7:00").run
    here, _ = invited(database, bench.slug)
    path, parade = f"/api/v1/shootouts/{bench.slug}", bench.tasks["Parade"]
    a, theirs = str(bench.setups["A"]), str(other.setups["A"])
    key = uuid4().hex
    tries = [
        (
            "POST",
            f"{path}/runs",
            {"setup_id": theirs, "task_id": str(parade), "typed": "6:00", "client_key": key},
        ),
        (
            "POST",
            f"{path}/runs",
            {
                "setup_id": a,
                "task_id": str(other.tasks["Parade"]),
                "typed": "6:00",
                "client_key": key,
            },
        ),
        (
            "POST",
            f"{path}/runs/changes",
            {
                "runs": [{"id": str(foreign.id), "version": 1}],
                "status": "void",
                "reason": "x",
                "why": "x",
            },
        ),
        ("POST", f"{path}/runs/undo", {"runs": [{"id": str(foreign.id), "version": 1}]}),
        ("PATCH", path, {"version": 1, "baseline_setup_id": theirs}),
        ("POST", f"/api/v1/tasks/{parade}/overrules", {"a": a, "b": theirs, "reason": "x"}),
        ("POST", f"{path}/troubles", {"setup_id": theirs, "kind": "crash"}),
        ("POST", f"{path}/earlier", {"slug": other.slug, "task_ids": []}),
        ("GET", f"{path}/earlier/{other.slug}", None),
        ("POST", f"{path}/viewers", {"name": "Spy", "owned_setup_id": theirs}),
        ("POST", f"{path}/cards", {"kind": "bar", "task_id": str(other.tasks["Parade"])}),
    ]
    for method, where, body in tries:
        answer = here.request(method, where, json=body)
        assert answer.status_code in (403, 404, 409, 422), (method, where, body, answer.text)
    assert runs.show_runs(database, other.slug).runs[-1].run.status == "ok"
    assert runs.show_runs(database, bench.slug).runs == ()
