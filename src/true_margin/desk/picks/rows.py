"""The field behind a pick: each setup with price, speed, flip price, payback, observations."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from uuid import UUID

import numpy as np

from true_margin.core.flips import Flip, flip_price
from true_margin.core.frontier import beaten_by, frontier_chances, on_frontier
from true_margin.core.margins import Call, student_quantile
from true_margin.core.picks import Contest, Rule, Why, why_out
from true_margin.core.weekly import Span, break_even, hours_saved, payback
from true_margin.core.wording import format_ratio, ratio_of
from true_margin.desk.book.book import Book
from true_margin.desk.picks.observed import Observed, beyond_speed, observed_of
from true_margin.desk.picks.solve import Solved
from true_margin.desk.picks.viewer_prices import SetupPrice
from true_margin.desk.picks.words import (
    say_hours,
    say_money,
    say_number,
    say_payback,
    say_round,
    say_span,
    years_of,
)
from true_margin.store.records.viewers import Viewer


@dataclass(frozen=True, slots=True)
class FlipView:
    """The price at which a setup becomes the pick, or the pick loses; ``words`` say it.

    ``price`` is None where it wins at no price; ``bounded`` where only the budget ends it.
    """

    price: Decimal | None
    lo: Decimal | None
    hi: Decimal | None
    bounded: bool
    endless: bool
    words: str


@dataclass(frozen=True, slots=True)
class Upgrade:
    """A setup against the owned one: hours saved, what they are worth, and payback."""

    week: Span
    hours: str
    year: str
    worth: str
    payback: str
    break_even: str
    net_worth: str | None


@dataclass(frozen=True, slots=True)
class PickRow:
    """One setup on the ladder of a viewer's work.

    ``ratio`` is times as fast as the reference; ``open`` says whether it may be picked,
    ``why`` why not; ``value`` is speed ratio over price ratio.
    """

    setup_id: UUID
    machine_id: UUID
    label: str
    keep: bool
    price: SetupPrice
    ratio: float
    lo: float
    hi: float
    hours: Span | None
    open: bool
    why: str | None
    frontier: bool
    p_frontier: float
    value: Span | None
    same_money: str | None
    flip: FlipView | None
    upgrade: Upgrade | None
    beyond: str | None
    observed: Observed


def rows_of(
    book: Book, viewer: Viewer, solved: Solved, contest: Contest | None, reference: int | None
) -> tuple[PickRow, ...]:
    speeds = solved.speeds
    if speeds is None or contest is None or reference is None:
        return ()
    pick = None if solved.decision is None else solved.decision.pick
    frontier = set(on_frontier(speeds.theta, contest.price).tolist())
    chances = frontier_chances(speeds, contest.price)
    order = np.argsort(-speeds.theta, kind="stable").tolist()
    return tuple(
        _row(
            book,
            viewer,
            solved,
            contest,
            reference,
            place,
            place in frontier,
            float(chances[place]),
            pick,
        )
        for place in order
    )


def _row(
    book: Book,
    viewer: Viewer,
    solved: Solved,
    contest: Contest,
    reference: int,
    place: int,
    frontier: bool,
    chance: float,
    pick: int | None,
) -> PickRow:
    speeds = contest.speeds
    at = int(speeds.setups[place])
    setup = book.setups[at]
    log = float(speeds.theta[place] - speeds.theta[reference])
    told = bool(speeds.pairs.comparable[place, reference]) and place != reference
    half = float(speeds.half[place, reference]) if told else 0.0
    owned_at = speeds.place(contest.viewer.owned)
    is_owned = place == owned_at
    hours = None
    if speeds.weekly is not None:
        own = speeds.weekly.hours
        week = float(own.estimate[place])
        quantile = student_quantile(book.shootout.confidence, own.own_df[place : place + 1])
        spread = float(quantile[0]) * math.sqrt(max(float(own.covariance[place, place]), 0.0))
        hours = Span(week, max(week - spread, 0.0), week + spread)
    return PickRow(
        setup.id,
        book.machine_of[setup.id].id,
        setup.label,
        is_owned,
        solved.prices[at],
        ratio_of(log),
        ratio_of(log - half),
        ratio_of(log + half),
        hours,
        bool(contest.open_to(contest.price)[place]),
        _why_not(viewer, solved, contest, place, is_owned),
        frontier,
        chance,
        _value(contest, place, reference, log, half),
        _same_money(book, viewer, contest, place),
        _flip(viewer, solved, contest, place, pick),
        None if is_owned or owned_at is None else _upgrade(book, viewer, contest, place, owned_at),
        None
        if is_owned or contest.viewer.owned is None
        else beyond_speed(book, contest.viewer.owned, at),
        observed_of(book, at, viewer, speeds.weekly),
    )


def _why_not(
    viewer: Viewer, solved: Solved, contest: Contest, place: int, is_owned: bool
) -> str | None:
    why = why_out(contest, place)
    at = int(contest.setups[place])
    if why is None:
        return None
    if why is Why.NEED:
        return "; ".join(solved.missed[at])
    if is_owned and contest.viewer.rule is Rule.VALUE:
        return "owned: it costs nothing, so its value has no measure"
    if why is Why.UNPRICED:
        return solved.prices[at].problem or "no price"
    if why is Why.BUDGET and viewer.budget is not None:
        return f"over the budget of {say_money(viewer.budget, viewer.currency)}"
    return "not fast enough"


def _value(contest: Contest, place: int, reference: int, log: float, half: float) -> Span | None:
    price, base = int(contest.price[place]), int(contest.price[reference])
    if price <= 0 or base <= 0:
        return None
    part = math.log(price / base)
    return Span(ratio_of(log - part), ratio_of(log - half - part), ratio_of(log + half - part))


def _same_money(book: Book, viewer: Viewer, contest: Contest, place: int) -> str | None:
    """What the money for a setup buys elsewhere in the line-up."""
    speeds, price = contest.speeds, contest.price
    if price[place] < 0:
        return None
    better = beaten_by(speeds, price, place)
    others = [
        i
        for i in range(len(price))
        if i != place and 0 <= price[i] <= price[place] and i != contest.keep
    ]
    other = (
        better
        if better is not None
        else max(others, key=lambda i: float(speeds.theta[i]), default=None)
    )
    if other is None:
        return None
    margin = speeds.pairs.margin(other, place)
    label = book.setups[int(speeds.setups[other])].label
    less = say_money(int(price[place] - price[other]) * contest.market.unit, viewer.currency)
    cheaper = f", {less} cheaper" if price[other] < price[place] else ""
    if margin.call is Call.NOT_COMPARABLE:
        return None
    if margin.call is Call.LEVEL:
        return f"beaten by {label}: level{cheaper}"
    times = f"{format_ratio(margin.ratio)} times as fast"
    if better is not None:
        return f"beaten by {label}: {times}{cheaper}"
    return f"for no more money at best {label}: {times}{cheaper}"


def _flip(
    viewer: Viewer, solved: Solved, contest: Contest, place: int, pick: int | None
) -> FlipView | None:
    if (
        solved.contest is None
        or place == contest.keep
        or place == contest.speeds.place(contest.viewer.owned)
    ):
        return None
    if int(contest.setups[place]) in contest.market.barred:
        return None
    flip = flip_price(contest, place, pick)
    return FlipView(
        flip.price,
        flip.lo,
        flip.hi,
        flip.bounded,
        flip.endless,
        _say_flip(flip, viewer, is_pick=place == pick),
    )


def _say_flip(flip: Flip, viewer: Viewer, *, is_pick: bool) -> str:
    def money(amount: Decimal) -> str:
        return say_money(amount, viewer.currency)

    if flip.price is None:
        return "wins at no price"
    if flip.endless:
        return "stays the pick at any price" if is_pick else "wins at any price"
    if flip.bounded:
        end = money(flip.price)
        return (
            f"stays the pick up to the budget of {end}"
            if is_pick
            else f"wins at {end}, the budget, or less"
        )
    said = (
        f"stays the pick up to {money(flip.price)}"
        if is_pick
        else f"wins up to {money(flip.price)}"
    )
    if flip.lo == flip.hi == flip.price:
        return said
    lo = "no price" if flip.lo is None else say_round(float(flip.lo), viewer.currency)
    hi = "any price" if flip.hi is None else say_round(float(flip.hi), viewer.currency)
    ends = [end.removesuffix(f" {viewer.currency}") for end in (lo, hi)]
    return f"{said}; as far as speeds are known, {ends[0]} to {ends[1]}"


def _upgrade(
    book: Book, viewer: Viewer, contest: Contest, place: int, owned: int
) -> Upgrade | None:
    weekly = contest.speeds.weekly
    told = bool(contest.speeds.pairs.comparable[place, owned])
    if weekly is None or contest.price[place] < 0 or not told:
        return None
    who = contest.viewer
    saved = hours_saved(weekly, place, owned, book.shootout.confidence)
    price = int(contest.price[place]) * contest.market.unit
    back = payback(price, who.resale, saved, who.waiting)
    year = Span(*(x * who.waiting.weeks for x in (saved.value, saved.lo, saved.hi)))
    worth = Span(*map(who.waiting.yearly_worth, (saved.value, saved.lo, saved.hi)))
    factor = break_even(price, who.resale, saved.value, who.waiting, who.horizon)
    cost = float(price - who.resale)
    net = Span(*(x * who.horizon - cost for x in (worth.value, worth.lo, worth.hi)))
    return Upgrade(
        saved,
        say_hours(saved, "a week"),
        say_hours(year, "a year"),
        say_span(worth, viewer.currency, "a year"),
        say_payback(back, price, who.resale, saved, viewer),
        _say_break_even(factor, weekly.hours.estimate[owned], who.horizon),
        say_span(net, viewer.currency, f"over {years_of(who.horizon)}"),
    )


def _say_break_even(factor: float | None, hours: float, years: float) -> str:
    if factor is None:
        return f"no amount of this work pays it back in {years_of(years)}"
    if factor == 0:
        return "any amount of work pays"
    need = factor * float(hours)
    times = (
        f"{say_number(factor)} times this work"
        if factor >= 1.005 or factor < 0.995
        else "this work"
    )
    return f"pays in {years_of(years)} from {times} on ({say_number(need)} h a week on the owned)"
