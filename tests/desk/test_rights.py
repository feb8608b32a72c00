"""Who may do what: every role against every right, here, elsewhere and over all."""

from __future__ import annotations

from uuid import uuid4

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.desk.access.rights import LOCAL, NOBODY, Right, Who

HERE, ELSEWHERE = uuid4(), uuid4()
ROLES = ("reader", "editor", "owner")
OF_A_ROLE = {
    "reader": {Right.READ},
    "editor": {Right.READ, Right.WRITE},
    "owner": {Right.READ, Right.WRITE, Right.OWN},
}


def person(**roles: str) -> Who:
    places = {"here": HERE, "elsewhere": ELSEWHERE, "all": None}
    return Who("Ada", "person", {places[name]: role for name, role in roles.items()}, uuid4())


@pytest.mark.parametrize("role", ROLES)
@pytest.mark.parametrize("where", ["here", "all"])
def test_a_role_is_enough_for_its_rights_and_no_other(role: str, where: str) -> None:
    who = person(**{where: role})
    may = {right for right in (Right.READ, Right.WRITE, Right.OWN) if who.may(right, HERE)}
    assert may == OF_A_ROLE[role]


@pytest.mark.parametrize("role", ROLES)
def test_a_role_elsewhere_is_none_here(role: str) -> None:
    who = person(elsewhere=role)
    assert who.role_in(HERE) is None
    assert not any(who.may(right, HERE) for right in (Right.READ, Right.WRITE, Right.OWN))
    # Where no shootout is named, working on any will do; deciding over all will not.
    assert who.may(Right.READ)
    assert who.may(Right.WRITE) is (role != "reader")
    assert not who.may(Right.OWN)


def test_the_stronger_of_two_roles_counts() -> None:
    assert person(here="reader", all="editor").role_in(HERE) == "editor"
    assert person(here="owner", all="reader").role_in(HERE) == "owner"
    assert person(here="owner", all="reader").role_in(ELSEWHERE) == "reader"


@pytest.mark.parametrize(
    ("roles", "makes"),
    [
        ({"all": "owner"}, True),
        ({"all": "editor"}, True),
        ({"all": "reader"}, False),
        ({"here": "owner"}, False),
        ({}, False),
    ],
)
def test_shootouts_are_made_by_whoever_works_on_all(roles: dict[str, str], makes: bool) -> None:
    assert person(**roles).may(Right.MAKE) is makes


def test_a_device_works_on_its_bench_and_makes_nothing() -> None:
    phone = Who("phone (paired)", "device", {HERE: "editor"})
    assert phone.may(Right.KNOWN)
    assert phone.may(Right.WRITE, HERE)
    assert not phone.may(Right.READ, ELSEWHERE)
    assert not phone.may(Right.OWN, HERE)
    # Even one that would have such a role.
    assert not Who("phone", "device", {None: "owner"}).may(Right.MAKE)


def test_the_person_at_the_machine_may_everything_and_nobody_nothing() -> None:
    for right in Right:
        assert LOCAL.may(right, HERE)
        assert LOCAL.may(right)
        assert NOBODY.may(right, HERE) is (right is Right.NONE)
        assert NOBODY.may(right) is (right is Right.NONE)


PLACES = st.sampled_from([HERE, ELSEWHERE, None])


@given(st.dictionaries(PLACES, st.sampled_from(ROLES)), PLACES)
def test_more_roles_never_take_a_right(roles: dict[object, str], home: object) -> None:
    who = Who("Ada", "person", roles)  # type: ignore[arg-type]
    for right in (Right.READ, Right.WRITE, Right.OWN):
        if who.may(right, home):  # type: ignore[arg-type]
            more = Who("Ada", "person", {**roles, None: "owner"})  # type: ignore[dict-item]
            assert more.may(right, home)  # type: ignore[arg-type]
    if who.may(Right.OWN, home):  # type: ignore[arg-type]
        assert who.may(Right.WRITE, home)  # type: ignore[arg-type]
        assert who.may(Right.READ, home)  # type: ignore[arg-type]
