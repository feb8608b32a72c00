"""Tries of one address shut nobody else out, and are counted before they are looked at."""

from __future__ import annotations

import pytest

from true_margin.app import tries
from true_margin.app.tries import Tries, network_of


def test_one_address_waits_and_the_others_do_not() -> None:
    counted = Tries(3, 60.0)
    assert [counted.begin("10.0.0.1") for _ in range(4)] == [True, True, True, False]
    assert counted.begin("10.0.0.2")
    counted.worked("10.0.0.1")
    assert [counted.begin("10.0.0.1"), counted.begin("10.0.0.1")] == [True, False]


def test_after_a_while_it_may_be_tried_again() -> None:
    counted = Tries(1, -1.0)
    assert [counted.begin("10.0.0.1") for _ in range(3)] == [True] * 3


def test_addresses_of_one_network_count_as_one() -> None:
    counted = Tries(2, 60.0)
    assert counted.begin("2001:db8::1")
    assert counted.begin("2001:db8::ffff:2")
    assert not counted.begin("2001:db8:0:0:9::1")
    assert counted.begin("2001:db8:0:1::1")
    assert network_of("::ffff:10.0.0.7") == "10.0.0.7"


def test_only_so_many_addresses_are_remembered(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(tries, "MOST_ADDRESSES", 2)
    counted = Tries(1, 60.0)
    assert all(counted.begin(address) for address in ("a", "b", "c"))
    assert not counted.begin("c")
    assert counted.begin("a"), "it was seen longest ago"
    counted.worked("never seen")
