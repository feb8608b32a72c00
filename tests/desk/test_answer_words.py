"""The answer of Picks in words, from stand-ins that hold just what a sentence needs."""

from __future__ import annotations

import math
from decimal import Decimal
from types import SimpleNamespace
from typing import Any
from uuid import UUID

import numpy as np
import pytest

from true_margin.core.cells import Basis
from true_margin.core.contest import NoPick, Rule
from true_margin.core.margins import Call, Margin
from true_margin.core.samples import UnitSpread
from true_margin.core.upgrade import Payback, PaybackKind
from true_margin.core.weekly import Span
from true_margin.desk.picks.words.answer import (
    PickContext,
    say_keeping,
    say_level,
    say_no_gain,
    say_nothing,
    say_pick,
    say_reason,
    say_samples,
    say_second,
    say_surety,
    say_what,
    with_article,
)
from true_margin.desk.picks.words.money import (
    hour_figures,
    say_hours,
    say_money,
    say_number,
    say_per_hour,
    say_round,
    say_span,
    years_of,
)
from true_margin.desk.picks.words.upgrades import say_payback
from true_margin.store.records.viewers import Viewer

LABELS = ("Old Desk", "Brick", "Tower")
"""Places of the contest: the owned one, the pick, the runner-up."""


def plain(text: str) -> str:
    return text.replace("\u00a0", " ")


def viewer(**changes: Any) -> Viewer:
    fields: dict[str, Any] = {
        "id": UUID(int=1),
        "name": "Filmer",
        "position": 0,
        "weekly": True,
        "rule": "fastest",
        "currency": "EUR",
        "region": None,
        "tax_percent": None,
        "budget": Decimal(1500),
        "owned_setup_id": None,
        "resale": Decimal(100),
        "hour_value": Decimal(40),
        "attended": 0.5,
        "weeks": 48.0,
        "horizon_years": 3.0,
        "energy_price": None,
        "needs": [],
        "tasks": (),
        "retired_at": None,
        "version": 1,
    }
    return Viewer(**{**fields, **changes})


def margin(ratio: float, call: Call) -> Margin:
    log = math.log(ratio)
    return Margin(1, 2, log, 0.01, 20.0, log - 0.02, log + 0.02, call, 0.0, 0.95)


def context(
    rule: Rule = Rule.FASTEST,
    *,
    between: Margin | None = None,
    prices: tuple[int, ...] = (0, 94000, 137900),
    scores: tuple[float, ...] = (0.0, 500.0, 300.0),
    group: tuple[int, ...] = (1,),
    by: str = "rule",
    of: Viewer | None = None,
) -> PickContext:
    """A pick of the Brick before the Tower; the Old Desk is owned."""
    pair = between or margin(1.2, Call.CLEAR)
    contest: Any = SimpleNamespace(
        viewer=SimpleNamespace(rule=rule),
        market=SimpleNamespace(unit=Decimal("0.01")),
        keep=0,
        price=np.array(prices),
        speeds=SimpleNamespace(pairs=SimpleNamespace(margin=lambda _a, _b: pair)),
        scores=lambda _price: np.array(scores),
        half=np.full((3, 3), 50.0),
        threshold=30.0,
    )
    decision: Any = SimpleNamespace(group=group, by=by)
    return PickContext(LABELS, (("Parade", 360.0),), 0.03, of or viewer(), contest, decision)


def test_what_to_do() -> None:
    assert plain(say_what(context(), 1)) == "Buy the Brick, 940 EUR"
    assert plain(say_what(context(), 0)) == "Keep the Old Desk"
    assert say_keeping("Old Desk", keep=True) == "keeping Old Desk"
    assert say_no_gain("Brick", "Old Desk") == (
        "That the Brick saves you time over your Old Desk is not shown."
    )


@pytest.mark.parametrize(
    ("rule", "pick", "budget", "says"),
    [
        (Rule.FASTEST, 1, 1500, "Nothing under 1 500 EUR is more than 3 % faster at this work."),
        (Rule.FASTEST, 1, None, "Nothing is more than 3 % faster at this work."),
        (Rule.VALUE, 1, None, "Nothing gives more than 3 % more speed for its money."),
        (
            Rule.WORTH,
            1,
            1500,
            "Nothing within the budget gains this viewer over 30 EUR more in 3 years.",
        ),
        (Rule.WORTH, 0, None, "No upgrade gains over 30 EUR in 3 years, its price paid."),
        (Rule.ENOUGH, 1, None, "It is the cheapest that is fast enough: Parade within 6:00."),
    ],
)
def test_why_it_is_the_pick(rule: Rule, pick: int, budget: int | None, says: str) -> None:
    of = viewer(budget=None if budget is None else Decimal(budget))
    assert plain(say_reason(context(rule, of=of), pick)) == says


@pytest.mark.parametrize(
    ("rule", "between", "prices", "scores", "says"),
    [
        (
            Rule.FASTEST,
            margin(1.2, Call.CLEAR),
            (0, 94000, 137900),
            (0.0, 0.0, 0.0),
            "Runner-up: Tower (1 379 EUR), 20 % slower.",
        ),
        (
            Rule.FASTEST,
            margin(2.5, Call.CLEAR),
            (0, 94000, 137900),
            (0.0, 0.0, 0.0),
            "Runner-up: Tower (1 379 EUR), which takes 2.5 times as long.",
        ),
        (
            Rule.FASTEST,
            margin(1.04, Call.AHEAD),
            (0, 94000, 94000),
            (0.0, 0.0, 0.0),
            "Runner-up: Tower (940 EUR), slightly slower.",
        ),
        (
            Rule.FASTEST,
            margin(1.01, Call.OPEN),
            (0, 94000, 94000),
            (0.0, 0.0, 0.0),
            "Runner-up: Tower (940 EUR), which may be slightly slower or faster (too close to "
            "call).",
        ),
        (
            Rule.FASTEST,
            margin(1.0, Call.LEVEL),
            (0, 94000, 137900),
            (0.0, 0.0, 0.0),
            "Tower (1 379 EUR) is just as fast but costs 439 EUR more.",
        ),
        (
            Rule.FASTEST,
            margin(1.0, Call.LEVEL),
            (0, 94000, 90000),
            (0.0, 0.0, 0.0),
            "Tower (900 EUR) is just as fast and costs 40 EUR less.",
        ),
        (
            Rule.ENOUGH,
            margin(1.2, Call.CLEAR),
            (0, 94000, 94000),
            (0.0, 0.0, 0.0),
            "Tower (940 EUR) is fast enough too and costs the same.",
        ),
        (
            Rule.FASTEST,
            margin(1.2, Call.NOT_COMPARABLE),
            (0, 94000, 137900),
            (0.0, 0.0, 0.0),
            "Runner-up: Tower (1 379 EUR), which did not do the same job, so how far apart the two "
            "are is not known.",
        ),
        (
            Rule.WORTH,
            margin(1.2, Call.CLEAR),
            (0, 94000, 137900),
            (0.0, 500.0, 300.0),
            "Runner-up: Tower (1 379 EUR), 200 EUR worse over that time.",
        ),
        (
            Rule.WORTH,
            margin(1.2, Call.CLEAR),
            (0, 94000, 137900),
            (0.0, 500.0, 480.0),
            "Runner-up: Tower (1 379 EUR), perhaps 20 EUR worse over that time.",
        ),
        (
            Rule.WORTH,
            margin(1.2, Call.CLEAR),
            (0, 94000, 137900),
            (0.0, 500.0, 510.0),
            "Runner-up: Tower (1 379 EUR), 10 EUR better over that time, too little to count.",
        ),
        (
            Rule.VALUE,
            margin(1.2, Call.CLEAR),
            (0, 94000, 137900),
            (0.0, 0.0, math.log(0.8)),
            "Runner-up: Tower (1 379 EUR), 20 % less speed for the money.",
        ),
    ],
)
def test_what_came_second_and_why_it_lost(
    rule: Rule, between: Margin, prices: tuple[int, ...], scores: tuple[float, ...], says: str
) -> None:
    said = context(rule, between=between, prices=prices, scores=scores)
    assert plain(say_second(said, 1, 2)) == says


def test_keeping_may_come_second() -> None:
    said = context(between=margin(1.5, Call.CLEAR))
    assert plain(say_second(said, 1, 0)) == "Runner-up: Keeping Old Desk, 50 % slower."


@pytest.mark.parametrize(
    ("group", "by", "second", "says"),
    [
        ((1,), "rule", 2, None),
        # The runner-up says it of itself.
        ((1, 2), "price", 2, None),
        ((1, 2), "price", None, "Tower is as good by this rule; Brick costs less."),
        (
            (1, 2, 0),
            "noise",
            2,
            "Tower and Old Desk are as good by this rule; they cost the same, and Brick is the "
            "quieter.",
        ),
        (
            (1, 2),
            "order",
            None,
            "Tower is as good by this rule; they cost the same; Brick comes first in the line-up.",
        ),
    ],
)
def test_who_is_as_good(
    group: tuple[int, ...], by: str, second: int | None, says: str | None
) -> None:
    assert say_level(context(group=group, by=by), 1, second) == says


@pytest.mark.parametrize("nothing", list(NoPick))
def test_why_there_is_no_pick(nothing: NoPick) -> None:
    words, field = say_nothing(nothing, viewer(), "1 600 EUR")
    assert words.endswith(".")
    assert field in ("tasks", "prices", "needs", "budget", "accepted")
    if nothing is NoPick.BUDGET:
        assert plain(words) == "Nothing costs 1 500 EUR or less: the cheapest is 1 600 EUR."
        assert plain(say_nothing(nothing, viewer(), None)[0]) == "Nothing costs 1 500 EUR or less."


def test_the_pick_in_a_sentence() -> None:
    assert say_surety(0.9) == "Very likely (90 %)"
    assert say_pick("Buy the Brick", "Nothing is faster.", "Very likely (90 %)") == (
        "Buy the Brick. Nothing is faster. Very likely (90 %)."
    )
    assert [with_article(name) for name in ("Brick", "our Brick", "The loaner")] == [
        "the Brick",
        "our Brick",
        "The loaner",
    ]


@pytest.mark.parametrize(
    ("basis", "begins", "ends"),
    [
        (
            Basis.ASSUMED,
            "One sample of each model was timed, and how much samples differ is assumed (2.0 %).",
            "Where samples are in truth alike, the surety is said too low.",
        ),
        (
            Basis.MEASURED,
            "How much samples of a model differ is measured (2.0 %).",
            "that of their models to ± 5.1 %.",
        ),
    ],
)
def test_what_is_known_of_models(basis: Basis, begins: str, ends: str) -> None:
    said = say_samples(UnitSpread(0.02, 3.0, basis), ["Brick", "Tower"], 0.01, 0.05)
    assert plain(said).startswith(begins)
    assert plain(said).endswith(ends)


def test_money_and_hours() -> None:
    assert plain(say_money(Decimal("1553.39"), "EUR")) == "1 553.39 EUR"
    assert plain(say_money(Decimal("1553"), "JPY")) == "1 553 JPY"
    assert plain(say_round(1553.7, "EUR")) == "1 554 EUR"
    assert plain(say_span(Span(464.2, 454.0, 473.9), "EUR", "a year")) == (
        "464 EUR a year, 454 to 474"
    )
    assert hour_figures(Span(29.2, 28.1, 30.4)) == ("29", "28", "30")
    assert say_hours(Span(0.6, 0.59, 0.62), "a week") == "0.60 h a week, 0.59 to 0.62"
    assert [say_number(value) for value in (0.634, 26.4, 143.0)] == ["0.63", "26", "143"]
    assert [years_of(years) for years in (1, 2.5)] == ["1 year", "2.5 years"]
    assert plain(say_per_hour(Span(12.5, 10.0, 150.0), "EUR", 3.0)) == (
        "12.50 EUR for each hour saved over 3 years (10.00 to 150)"
    )


@pytest.mark.parametrize(
    ("weeks", "says"),
    [
        (Span(6.0, 5.0, 7.0), "pays for itself in 5 to 7 weeks"),
        (Span(104.0, 100.0, 108.0), "pays for itself in 23 to 25 months"),
        (Span(300.0, 290.0, 310.0), "pays for itself in 5.6 to 6.0 years"),
        (Span(52.0, 52.0, 52.0), "pays for itself in 12 months"),
    ],
)
def test_when_it_has_paid_for_itself(weeks: Span, says: str) -> None:
    found = Payback(PaybackKind.WEEKS, weeks)
    told = say_payback(found, Decimal(940), Decimal(100), Span(0.6, 0.5, 0.7), viewer())
    assert told == says
