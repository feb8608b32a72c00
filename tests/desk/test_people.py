"""Accounts and paired devices at the desk: what is refused, and that nobody is locked out."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from uuid import uuid4

import pytest
from sqlalchemy import text

from tests.app.accounts import PASSWORD, account, who_of
from tests.desk.helpers import Bench, new_bench
from true_margin.desk.access import pairing, people, sign_in
from true_margin.desk.access.rights import LOCAL, Right, find_home
from true_margin.desk.errors import NotAllowedError, NotFoundError, RefusedError, TooManyError
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Accounts at the desk")


def email() -> str:
    return f"{uuid4().hex[:10]}@bench.test"


@pytest.mark.parametrize(
    ("address", "name", "password", "field"),
    [
        ("no address", "Ada", PASSWORD, "email"),
        ("two words@bench.test", "Ada", PASSWORD, "email"),
        ("a" * 260 + "@bench.test", "Ada", PASSWORD, "email"),
        ("ada@bench.test", "   ", PASSWORD, "name"),
        ("ada@bench.test", "A" * 41, PASSWORD, "name"),
        ("ada@bench.test", "Ada", "short", "password"),
        ("ada@bench.test", "Ada", "p" * 201, "password"),
        ("ada@bench.test", "Ada", "1234567890", "password"),
        ("ada@bench.test", "Ada", "truemargin!!", "password"),
        ("adalovelace@bench.test", "Ada", "AdaLovelace1", "password"),
        ("ada@bench.test", "Ada of the bench", "ada of the bench", "password"),
        ("ada@bench.test", "Ada", "aaaaaaaaaaaaab", "password"),
    ],
)
def test_an_account_that_will_not_do_leaves_the_invitation_good(
    bench: Bench, address: str, name: str, password: str, field: str
) -> None:
    token = people.invite(bench.database, LOCAL, "reader", bench.slug).token
    with pytest.raises(RefusedError) as refused:
        people.accept(bench.database, token, address, name, password)
    assert refused.value.field == field
    made = people.accept(bench.database, token, email(), "Ada", PASSWORD)
    assert made.name == "Ada"


def test_an_address_is_one_however_it_is_typed(bench: Bench) -> None:
    address = email()
    first = people.invite(bench.database, LOCAL, "reader", bench.slug).token
    people.accept(
        bench.database, first, f"  {address.upper()} ", "  Ada   of the  bench ", PASSWORD
    )
    second = people.invite(bench.database, LOCAL, "reader", bench.slug).token
    with pytest.raises(RefusedError, match="account with this address already"):
        people.accept(bench.database, second, address, "Ben", PASSWORD)
    signed_in = sign_in.sign_in(bench.database, f" {address} ", PASSWORD, "a browser", "10.9.0.1")
    assert signed_in.account.name == "Ada of the bench"


def test_an_invitation_ends_with_its_days_and_when_it_is_withdrawn(bench: Bench) -> None:
    old = people.invite(bench.database, LOCAL, "reader", bench.slug)
    with bench.database.transaction() as session:
        session.execute(
            text("update invitations set expires_at = :then where id = :id"),
            {"then": datetime.now(UTC) - timedelta(seconds=1), "id": old.invitation.id},
        )
    withdrawn = people.invite(bench.database, LOCAL, "reader", bench.slug)
    people.withdraw_invitation(bench.database, LOCAL, withdrawn.invitation.id)
    for token in (old.token, withdrawn.token, "never was"):
        with pytest.raises(NotFoundError, match="good no longer"):
            people.find_invitation(bench.database, token)
        with pytest.raises(NotFoundError, match="good no longer"):
            people.accept(bench.database, token, email(), "Ada", PASSWORD)


def test_joining_never_weakens_a_role(bench: Bench) -> None:
    editor = account(bench.database, "editor", bench.slug)
    home = find_home(bench.database, "shootouts", bench.slug)
    for role, then in (("reader", "editor"), ("owner", "owner"), ("editor", "owner")):
        token = people.invite(bench.database, LOCAL, role, bench.slug).token
        people.join(bench.database, token, who_of(bench.database, editor))
        assert who_of(bench.database, editor).role_in(home) == then
        with pytest.raises(NotFoundError, match="good no longer"):
            people.join(bench.database, token, who_of(bench.database, editor))


def test_a_new_password_by_link_ends_what_was_signed_in(bench: Bench) -> None:
    reader = account(bench.database, "reader", bench.slug)
    asked = people.invite_to_new_password(bench.database, LOCAL, reader.account.id)
    shown = people.show_people(bench.database, LOCAL)
    assert f"a new password for {reader.account.name}" in {each.to for each in shown.invitations}
    # It is for that account: nobody joins anything with it.
    other = who_of(bench.database, account(bench.database, "reader", bench.slug))
    with pytest.raises(NotFoundError):
        people.join(bench.database, asked.token, other)
    people.accept(bench.database, asked.token, "", "", "another bench of mine")
    assert sign_in.who_is(bench.database, reader.token) is None
    address = reader.account.email
    with pytest.raises(RefusedError, match="Wrong e-mail or password"):
        sign_in.sign_in(bench.database, address, PASSWORD, "a browser", "10.9.0.2")
    again = sign_in.sign_in(
        bench.database, address, "another bench of mine", "a browser", "10.9.0.2"
    )
    assert again.account.id == reader.account.id


def test_only_owners_decide_and_only_about_their_own(bench: Bench) -> None:
    elsewhere = new_bench(bench.database, "Somebody else's")
    owner = who_of(bench.database, account(bench.database, "owner", bench.slug))
    editor = who_of(bench.database, account(bench.database, "editor", bench.slug))
    reader = account(bench.database, "reader", elsewhere.slug)
    with pytest.raises(NotAllowedError, match="Only owners"):
        people.show_people(bench.database, editor)
    for who in (editor, owner):
        with pytest.raises(NotFoundError):
            people.invite(bench.database, who, "reader", elsewhere.slug)
        with pytest.raises(NotFoundError):
            people.set_role(bench.database, who, reader.account.id, elsewhere.slug, "editor")
        with pytest.raises(NotFoundError):
            people.end_account(bench.database, who, reader.account.id)
        with pytest.raises(NotFoundError):
            people.invite_to_new_password(bench.database, who, reader.account.id)
    shown = people.show_people(bench.database, owner)
    assert reader.account.id not in {each.account.id for each in shown.members}
    assert shown.tries == ()
    assert all(
        m.shootout_id == find_home(bench.database, "shootouts", bench.slug)
        for each in shown.members
        for m in each.memberships
    )


def test_whoever_makes_a_shootout_owns_it(bench: Bench) -> None:
    maker = account(bench.database, "editor")
    made = new_bench(bench.database, "Made by an editor of all")
    home = find_home(bench.database, "shootouts", made.slug)
    assert home is not None
    assert not who_of(bench.database, maker).may(Right.OWN, home)
    people.own_what_was_made(bench.database, who_of(bench.database, maker), home)
    assert who_of(bench.database, maker).may(Right.OWN, home)
    # The person at the machine has no account to give it to, and needs none.
    people.own_what_was_made(bench.database, LOCAL, home)


def test_an_account_that_ended_is_given_no_role(bench: Bench) -> None:
    reader = account(bench.database, "reader", bench.slug)
    account(bench.database, "owner")
    people.end_account(bench.database, LOCAL, reader.account.id)
    with pytest.raises(RefusedError, match="has ended"):
        people.set_role(bench.database, LOCAL, reader.account.id, bench.slug, "editor")
    with pytest.raises(NotFoundError, match="no shootout"):
        people.set_role(bench.database, LOCAL, reader.account.id, "nowhere", "editor")
    with pytest.raises(RefusedError, match="Wrong e-mail or password"):
        sign_in.sign_in(bench.database, reader.account.email, PASSWORD, "a browser", "10.9.0.3")


def test_changing_ones_password_is_slowed_down_like_signing_in(bench: Bench) -> None:
    reader = account(bench.database, "reader", bench.slug)
    who = who_of(bench.database, reader)
    with pytest.raises(RefusedError, match="no accounts here"):
        sign_in.change_password(bench.database, LOCAL, PASSWORD, "a newer bench of mine")
    for _ in range(sign_in.MOST_WRONG_HERE):
        with pytest.raises(RefusedError, match="not your password"):
            sign_in.change_password(bench.database, who, "not it at all", "a newer bench of mine")
    with pytest.raises(TooManyError):
        sign_in.change_password(bench.database, who, PASSWORD, "a newer bench of mine")


def test_another_password_ends_all_other_browsers(bench: Bench) -> None:
    here = account(bench.database, "reader", bench.slug)
    there = sign_in.sign_in(
        bench.database, here.account.email, PASSWORD, "another browser", "10.9.0.4"
    )
    who = who_of(bench.database, here)
    assert len(sign_in.list_signed_in(bench.database, who)) == 2
    with pytest.raises(RefusedError, match="tried first"):
        sign_in.change_password(bench.database, who, PASSWORD, "password1234")
    sign_in.change_password(bench.database, who, PASSWORD, "a newer bench of mine")
    assert sign_in.who_is(bench.database, there.token) is None
    assert sign_in.who_is(bench.database, here.token) is not None


def test_one_signs_out_of_ones_own_browsers_only(bench: Bench) -> None:
    one, other = (account(bench.database, "reader", bench.slug) for _ in range(2))
    his = who_of(bench.database, other)
    assert his.signed_in_id is not None
    with pytest.raises(NotFoundError):
        sign_in.end_signed_in(bench.database, who_of(bench.database, one), his.signed_in_id)
    with pytest.raises(NotFoundError):
        sign_in.end_signed_in(bench.database, LOCAL, his.signed_in_id)
    assert sign_in.who_is(bench.database, other.token) is not None
    assert sign_in.list_signed_in(bench.database, LOCAL) == ()
    sign_in.sign_out(bench.database, LOCAL)
    sign_in.sign_out(bench.database, his)
    assert sign_in.who_is(bench.database, other.token) is None


def test_a_code_pairs_one_device_however_it_is_typed(bench: Bench) -> None:
    code = pairing.make_code(bench.database, bench.slug).code
    assert not set(code) & set("01IOL")
    typed = f" {code[:3].lower()} - {code[3:]} "
    paired = pairing.pair(bench.database, typed, "  " + "phone " * 40)
    assert paired.slug == bench.slug
    known = pairing.device_of(bench.database, paired.token)
    assert known is not None
    assert len(known.name) <= pairing.MOST_NAME_SIGNS
    assert known.who.name.endswith("(paired)")
    with pytest.raises(RefusedError, match="wrong or too old"):
        pairing.pair(bench.database, code, "a second phone")


def test_a_code_ends_with_its_minutes(bench: Bench) -> None:
    code = pairing.make_code(bench.database, bench.slug).code
    with bench.database.transaction() as session:
        session.execute(
            text("update pair_codes set expires_at = :then"), {"then": datetime.now(UTC)}
        )
    with pytest.raises(RefusedError, match="wrong or too old"):
        pairing.pair(bench.database, code, "phone")


def test_a_device_does_what_its_person_may_today(bench: Bench) -> None:
    editor = account(bench.database, "editor", bench.slug)
    token = pairing.pair_at_once(
        bench.database, bench.slug, "phone", who_of(bench.database, editor)
    ).token
    known = pairing.device_of(bench.database, token, owned=True)
    assert known is not None
    assert known.who.name == f"phone (paired by {editor.account.name})"
    people.set_role(bench.database, LOCAL, editor.account.id, bench.slug, "reader")
    assert pairing.device_of(bench.database, token, owned=True) is None
    people.set_role(bench.database, LOCAL, editor.account.id, bench.slug, "editor")
    assert pairing.device_of(bench.database, token, owned=True) is not None
    (device,) = pairing.list_devices(bench.database, bench.slug)
    (revoked,) = pairing.revoke(bench.database, device.id)
    assert revoked.revoked_at is not None
    assert pairing.device_of(bench.database, token) is None


def test_a_device_of_nobody_is_no_way_in_where_people_sign_in(bench: Bench) -> None:
    token = pairing.pair_at_once(bench.database, bench.slug, "phone", LOCAL).token
    assert pairing.device_of(bench.database, token) is not None
    assert pairing.device_of(bench.database, token, owned=True) is None
    assert pairing.device_of(bench.database, "never was") is None


def test_a_run_belongs_to_one_shootout(bench: Bench) -> None:
    run = bench.run("A", "6:17").run
    elsewhere = new_bench(bench.database, "Beside it")
    assert pairing.owns_run(bench.database, bench.slug, run.id)
    assert not pairing.owns_run(bench.database, elsewhere.slug, run.id)
