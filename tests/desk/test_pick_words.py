"""Sentences of Picks from their values: each state of each in one line."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from uuid import UUID

import pytest

from true_margin.core.flips import Flip
from true_margin.core.upgrade import Payback, PaybackKind, Upgrade
from true_margin.core.weekly import Span
from true_margin.desk.picks.words.answer import say_keeping, say_pick
from true_margin.desk.picks.words.money import say_per_hour
from true_margin.desk.picks.words.prices import (
    OfferEnd,
    Wait,
    WaitState,
    say_flip,
    say_flip_short,
    say_offer,
    say_over_budget,
    say_same_money,
    say_wait,
)
from true_margin.desk.picks.words.upgrades import say_upgrade
from true_margin.store.records.viewers import Viewer

VIEWER = Viewer(
    id=UUID(int=1),
    name="Filmer",
    position=0,
    weekly=True,
    rule="worth",
    currency="EUR",
    region=None,
    tax_percent=None,
    budget=Decimal(1500),
    owned_setup_id=None,
    resale=Decimal(100),
    hour_value=Decimal(40),
    attended=0.5,
    weeks=48.0,
    horizon_years=3.0,
    energy_price=None,
    needs=[],
    tasks=(),
    retired_at=None,
    version=1,
)


def amount(text: str | None) -> Decimal | None:
    return None if text is None else Decimal(text)


def flip(
    price: str | None,
    lo: str | None = None,
    hi: str | None = None,
    bounded: bool = False,
    endless: bool = False,
) -> Flip:
    return Flip(0, amount(price), amount(lo), amount(hi), bounded=bounded, endless=endless)


def plain(text: str) -> str:
    return text.replace("\u00a0", " ")


@pytest.mark.parametrize(
    ("found", "is_pick", "words", "short"),
    [
        (flip(None), False, "not the pick at any price", "at no price"),
        (flip("0", endless=True), False, "would win at any price", "at any price"),
        (flip("0", endless=True), True, "stays the pick at any price", "at any price"),
        (
            flip("1500", bounded=True),
            False,
            "would win at 1 500 EUR or less (the budget)",
            "would win at 1 500 or less",
        ),
        (
            flip("1500", bounded=True),
            True,
            "stays the pick up to 1 500 EUR (the budget)",
            "stays up to 1 500",
        ),
        (
            flip("930", "930", "930"),
            False,
            "would win at 930 EUR or less",
            "would win at 930 or less",
        ),
        (
            flip("939.99", "900", "980.4"),
            False,
            "would win below 940 EUR (somewhere between 900 and 980 EUR)",
            "would win below 940",
        ),
        (flip("1379", None, None), True, "stays the pick up to 1 379 EUR", "stays up to 1 379"),
    ],
)
def test_flip_prices(found: Flip, is_pick: bool, words: str, short: str) -> None:
    assert plain(say_flip(found, "EUR", is_pick=is_pick)) == words
    assert plain(say_flip_short(found, "EUR", is_pick=is_pick)) == short


WAIT = Wait("M", "B", 1.2, "a talk", Decimal(1200), WaitState.WORTH_IT, 1.03)
SAID = "claimed to be 1.20 times as fast as B (a talk), not tested"


@pytest.mark.parametrize(
    ("wait", "words"),
    [
        (
            WAIT,
            "M, 1 200 EUR: worth waiting for if the claim holds. It must be at least 1.03 times as "
            f"fast as B; it is {SAID}.",
        ),
        (
            replace(WAIT, state=WaitState.NOT_WORTH_IT, needed=1.4),
            "M, 1 200 EUR: not worth waiting for, even if the claim holds. It must be at least 1.40 "
            f"times as fast as B; it is {SAID}.",
        ),
        (
            replace(WAIT, state=WaitState.NO_PRICE, price=None, needed=None),
            f"M is {SAID}. It has no price yet, so nothing follows from it.",
        ),
        (
            replace(WAIT, state=WaitState.MISSES_NEEDS, needed=None, missed=("needs quiet: loud",)),
            "M, 1 200 EUR, drops out: needs quiet: loud.",
        ),
        (
            replace(WAIT, state=WaitState.OVER_BUDGET, needed=None),
            f"M, 1 200 EUR, is not out yet and over the budget of 1 500 EUR; it is {SAID}.",
        ),
        (
            replace(WAIT, state=WaitState.NEVER, needed=None),
            f"M, 1 200 EUR, is not out yet and at that price no speed would do; it is {SAID}.",
        ),
    ],
)
def test_machines_that_are_not_out(wait: Wait, words: str) -> None:
    assert plain(say_wait(wait, VIEWER)) == words


@pytest.mark.parametrize(
    ("offer", "words"),
    [
        (
            OfferEnd("C", Decimal(1400), 2, "C", "B"),
            "The C offer (1 400 EUR) ends in 2 days. Then the pick is B; until then it is C.",
        ),
        (
            OfferEnd("C", None, 1, "B", "B"),
            "The C offer ends in 1 day. The pick does not depend on it.",
        ),
        (
            OfferEnd("C", Decimal(1400), 0, "C", "keeping A"),
            "The C offer (1 400 EUR) ends today. Then the pick is keeping A; until then it is C.",
        ),
    ],
)
def test_offers_that_end(offer: OfferEnd, words: str) -> None:
    assert plain(say_offer(offer, "EUR")) == words


@pytest.mark.parametrize(
    ("ratio", "less", "beaten", "words"),
    [
        (1.5, "200", True, "B is as fast or faster and 200 EUR cheaper"),
        (1.5, "0", True, "B is as fast or faster for the same money"),
        (None, "200", True, "B is as fast and 200 EUR cheaper"),
        (0.9, "50", False, "nearest cheaper choice: B, 50 EUR less for 0.90 times the speed"),
    ],
)
def test_the_same_money(ratio: float | None, less: str, beaten: bool, words: str) -> None:
    assert plain(say_same_money("B", ratio, Decimal(less), "EUR", beaten=beaten)) == words


UPGRADE = Upgrade(
    Span(0.5, 0.48, 0.52),
    Span(24.0, 23.0, 25.0),
    Span(480.0, 460.0, 500.0),
    Span(640.0, 580.0, 700.0),
    Payback(PaybackKind.WEEKS, Span(86.7, 82.0, 91.0)),
    0.556,
    0.556,
)


def test_an_upgrade() -> None:
    words = say_upgrade(UPGRADE, Decimal(900), VIEWER)
    assert words.hours == "0.50 h a week, 0.48 to 0.52"
    assert words.year == "24 h a year, 23 to 25"
    assert words.worth == "480 EUR a year, 460 to 500"
    assert words.payback == "pays for itself in 19 to 21 months"
    assert words.net_worth == "640 EUR over 3 years, 580 to 700"
    assert words.break_even == (
        "pays for itself within 3 years from 0.56 h of exports a week on (0.56 times as much as now)"
    )


@pytest.mark.parametrize(
    ("factor", "words"),
    [
        (None, "no amount of this work pays for it within 3 years"),
        (0.0, "any amount of work pays for it"),
        (1.0, "pays for itself within 3 years from 1 h of exports a week on (as now)"),
        (
            2.5,
            "pays for itself within 3 years from 2.5 h of exports a week on (2.5 times as much as now)",
        ),
    ],
)
def test_from_how_much_work_on_it_pays(factor: float | None, words: str) -> None:
    found = replace(UPGRADE, break_even=factor, break_even_hours=factor)
    assert say_upgrade(found, Decimal(900), VIEWER).break_even == words


@pytest.mark.parametrize(
    ("kind", "hours", "words"),
    [
        (PaybackKind.AT_ONCE, Span(0.5, 0.4, 0.6), "pays for itself at once"),
        (PaybackKind.NEVER, Span(-0.5, -0.6, -0.4), "never pays for itself"),
        (
            PaybackKind.NEVER,
            Span(0.5, 0.4, 0.6),
            "never pays for itself (waiting is set to cost nothing)",
        ),
    ],
)
def test_paybacks_that_are_no_weeks(kind: PaybackKind, hours: Span, words: str) -> None:
    found = replace(UPGRADE, payback=Payback(kind), saved_week=hours)
    assert say_upgrade(found, Decimal(900), VIEWER).payback.startswith(words)


def test_small_sentences() -> None:
    said = say_pick("Keep the A", "Nothing is more than 3 % faster at this work.", "Likely (83 %)")
    assert said == "Keep the A. Nothing is more than 3 % faster at this work. Likely (83 %)."
    names = [say_keeping("A", keep=keep) for keep in (True, False)]
    assert names == ["keeping A", "A"]
    assert plain(say_over_budget(VIEWER, Decimal(1500))) == "over the budget of 1 500 EUR"
    hour = say_per_hour(Span(2.5, 2.4, 120.0), "EUR", 2.0)
    assert hour == "2.50 EUR for each hour saved over 2 years (2.40 to 120)"
