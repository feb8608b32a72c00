"""Links do no more than whoever made them may do when they are used."""

from __future__ import annotations

from collections.abc import Callable
from uuid import uuid4

import pytest

from tests.app.accounts import PASSWORD, account, who_of
from tests.desk.helpers import Bench, new_bench
from true_margin.desk.access import pairing, people, sign_in
from true_margin.desk.access.rights import LOCAL, Who
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.tasks import tasks
from true_margin.store import people as kept
from true_margin.store import shootout_lookup
from true_margin.store.database import Database

NEW = "a newer bench of mine"


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, f"Links {uuid4().hex[:6]}")


def email() -> str:
    return f"{uuid4().hex[:8]}@bench.test"


def gone(database: Database, token: str) -> None:
    """The link is good no longer, neither to look at nor to use."""
    with pytest.raises(NotFoundError, match="good no longer"):
        people.find_invitation(database, token)
    with pytest.raises(NotFoundError, match="good no longer"):
        people.accept(database, token, email(), "Somebody", NEW)


def end_account(database: Database, who: Who) -> None:
    assert who.person_id is not None
    people.end_account(database, LOCAL, who.person_id)


def take_role(database: Database, who: Who) -> None:
    assert who.person_id is not None
    people.set_role(database, LOCAL, who.person_id, None, "editor")


def change_password(database: Database, who: Who) -> None:
    sign_in.change_password(database, who, PASSWORD, NEW)


@pytest.mark.parametrize("ends", [end_account, take_role, change_password])
def test_what_an_owner_made_ends_with_them(
    bench: Bench, ends: Callable[[Database, Who], None]
) -> None:
    database = bench.database
    account(database, "owner")  # Somebody must own all shootouts when the other is gone.
    maker = who_of(database, account(database, "owner"))
    other = account(database, "owner")
    links = [
        people.invite(database, maker, "owner").token,
        people.invite(database, maker, "reader", bench.slug).token,
        people.invite_to_new_password(database, maker, other.account.id).token,
    ]
    assert people.find_invitation(database, links[0]).made_by_id == maker.person_id
    ends(database, maker)
    for token in links:
        gone(database, token)
    assert sign_in.who_is(database, other.token) is not None, "and the other's account is as it was"


def test_the_right_is_judged_when_the_link_is_used(bench: Bench) -> None:
    database = bench.database
    maker = account(database, "owner", bench.slug)
    token = people.invite(database, who_of(database, maker), "owner", bench.slug).token
    with database.transaction() as session:
        # A role that ends in any other way than the usual one, such as by hand.
        kept.set_membership(
            session,
            maker.account.id,
            shootout_lookup.home_of_slug(session, bench.slug),
            "reader",
            by="by hand",
            now=maker.account.made_at,
        )
    gone(database, token)


def test_a_link_to_a_new_password_ends_with_any_change_of_it(bench: Bench) -> None:
    database = bench.database
    reader = account(database, "reader", bench.slug)
    first, second = (
        people.invite_to_new_password(database, LOCAL, reader.account.id).token for _ in range(2)
    )
    people.accept(database, first, "", "", NEW)
    gone(database, second)
    third = people.invite_to_new_password(database, LOCAL, reader.account.id).token
    again = sign_in.sign_in(database, reader.account.email, NEW, "a browser", "10.8.0.1")
    sign_in.change_password(database, who_of(database, again), NEW, PASSWORD)
    gone(database, third)


def test_no_link_gives_an_ended_account_a_password(bench: Bench) -> None:
    account(bench.database, "owner")
    reader = account(bench.database, "reader", bench.slug)
    token = people.invite_to_new_password(bench.database, LOCAL, reader.account.id).token
    people.end_account(bench.database, LOCAL, reader.account.id)
    gone(bench.database, token)


def test_a_code_of_somebody_who_left_pairs_nothing(bench: Bench) -> None:
    database = bench.database
    account(database, "owner")
    editor = account(database, "editor", bench.slug)
    code = pairing.make_code(database, bench.slug, who_of(database, editor)).code
    people.end_account(database, LOCAL, editor.account.id)
    with pytest.raises(RefusedError, match="wrong or too old"):
        pairing.pair(database, code, "phone")
    later = account(database, "editor", bench.slug)
    who = who_of(database, later)
    token = pairing.pair_at_once(database, bench.slug, "phone", who).token
    assert pairing.device_of(database, token) is not None
    people.set_role(database, LOCAL, later.account.id, bench.slug, None)
    assert pairing.device_of(database, token) is None


def test_presets_belong_to_whoever_made_them(bench: Bench) -> None:
    database = bench.database
    ours, theirs = (account(database, "editor", bench.slug).account.id for _ in range(2))
    name = f"Master {uuid4().hex[:6]}"

    def codec(person_id: object) -> str | None:
        words = tasks.task_words(database, person_id)  # type: ignore[arg-type]
        return next((p.settings.get("codec") for p in words.presets if p.name == name), None)

    tasks.keep_preset(database, name, {"codec": "HEVC"})
    tasks.keep_preset(database, name, {"codec": "H.264"}, ours)
    assert (codec(ours), codec(theirs), codec(None)) == ("H.264", "HEVC", "HEVC")
    tasks.keep_preset(database, name, {"codec": "AV1"}, theirs)
    tasks.keep_preset(database, name, {"codec": "H.264"}, ours)
    assert (codec(ours), codec(theirs), codec(None)) == ("H.264", "AV1", "HEVC")
