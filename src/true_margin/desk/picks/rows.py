"""The field behind a pick: each setup with price, speed, flip price, payback, observations."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum
from uuid import UUID

import numpy as np

from true_margin.core.contest import Contest, Rule, Why
from true_margin.core.flips import flip_price
from true_margin.core.frontier import beaten_by, frontier_chances, on_frontier
from true_margin.core.margins import Call
from true_margin.core.money import value_of
from true_margin.core.picks import why_out
from true_margin.core.upgrade import PaybackKind, upgrade_to
from true_margin.core.weekly import Span, hours_span
from true_margin.core.wording import ratio_of
from true_margin.desk.book.book import Book
from true_margin.desk.picks.contenders import contender_name
from true_margin.desk.picks.observed import BesidesSpeed, Observed, besides_speed, observed_of
from true_margin.desk.picks.solve import Solved
from true_margin.desk.picks.viewer_prices import SetupPrice
from true_margin.desk.picks.words.prices import (
    OWNED_NO_VALUE,
    say_flip,
    say_flip_short,
    say_over_budget,
    say_same_money,
)
from true_margin.desk.picks.words.upgrades import UpgradeWords, say_upgrade
from true_margin.store.records.viewers import Viewer


class OutReason(StrEnum):
    """Why a setup may not be picked."""

    NEED = "need"
    NO_VALUE = "no value"
    """It is owned and costs nothing, so speed for money has no measure."""
    UNPRICED = "unpriced"
    BUDGET = "budget"
    SLOW = "slow"


@dataclass(frozen=True, slots=True)
class FlipView:
    """The price at which a setup becomes the pick, or the pick loses; ``words`` say it.

    ``price`` is None where it wins at no price; ``bounded`` where only the budget ends it;
    ``short`` says it beside a scale of prices. Money is in the viewer's currency.
    """

    price: Decimal | None
    lo: Decimal | None
    hi: Decimal | None
    bounded: bool
    endless: bool
    words: str
    short: str


@dataclass(frozen=True, slots=True)
class UpgradeView:
    """A setup against the owned one: hours saved, what they are worth, and payback.

    Hours are of a working week and of a year of them, money is in the viewer's currency.
    ``payback_weeks`` are calendar weeks with their ends, where ``payback_reason`` is weeks or
    not sure; an end that is never reached is None. ``break_even`` is a factor on the weekly
    work, None where no amount of work pays.
    """

    saved_week: Span
    saved_year: Span
    worth_year: Span
    net_worth: Span
    payback_reason: PaybackKind
    payback_weeks: float | None
    payback_lo: float | None
    payback_hi: float | None
    break_even: float | None
    break_even_hours: float | None
    words: UpgradeWords


@dataclass(frozen=True, slots=True)
class PickRow:
    """One setup on the ladder of a viewer's work.

    ``ratio`` is times as fast as the reference; ``open`` says whether it may be picked,
    ``out`` why not and ``why`` the same in words; ``value`` is speed ratio over price ratio.
    ``samples`` names the setups whose mean a model is; empty where it is one setup alone.
    """

    setup_id: UUID
    machine_id: UUID
    label: str
    samples: tuple[str, ...]
    keep: bool
    price: SetupPrice
    ratio: float
    lo: float
    hi: float
    hours: Span | None
    open: bool
    out: OutReason | None
    why: str | None
    frontier: bool
    p_frontier: float
    value: Span | None
    same_money: str | None
    flip: FlipView | None
    upgrade: UpgradeView | None
    besides: BesidesSpeed | None
    observed: Observed


def rows_of(
    book: Book,
    viewer: Viewer,
    solved: Solved,
    contest: Contest | None,
    reference: int | None,
    near: int | None = None,
) -> tuple[PickRow, ...]:
    """The contenders, fastest first; of many only the pick, the kept one and those near the pick.

    Args:
        book: of the shootout.
        viewer: who asks.
        solved: what was decided.
        contest: the field.
        reference: place of what reads 1x.
        near: so many nearest to the pick by speed; None for all.
    """
    speeds = solved.speeds
    if speeds is None or contest is None or reference is None:
        return ()
    pick = None if solved.decision is None else solved.decision.pick
    frontier = set(on_frontier(speeds.theta, contest.price).tolist())
    chances = frontier_chances(speeds, contest.price)
    order = np.argsort(-speeds.theta, kind="stable").tolist()
    if near is not None and pick is not None and len(order) > near:
        apart = np.abs(speeds.theta - speeds.theta[pick])
        close = {*np.argsort(apart, kind="stable")[:near].tolist(), pick, contest.keep}
        order = [place for place in order if place in close]
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
    ratios = Span(ratio_of(log), ratio_of(log - half), ratio_of(log + half))
    owned_at = speeds.place(contest.viewer.owned)
    is_owned = place == owned_at
    level, weekly = book.shootout.confidence, speeds.weekly
    out, why = _why_not(viewer, solved, contest, place, is_owned=is_owned)
    against = None if is_owned else owned_at
    owned = None if is_owned else contest.viewer.owned
    return PickRow(
        setup_id=setup.id,
        machine_id=book.machine_of[setup.id].id,
        label=contender_name(book, speeds, place),
        samples=_samples(book, speeds.of(place)),
        keep=is_owned,
        price=solved.prices[at],
        ratio=ratios.value,
        lo=ratios.lo,
        hi=ratios.hi,
        hours=None if weekly is None else hours_span(weekly, place, level),
        open=bool(contest.open_to(contest.price)[place]),
        out=out,
        why=why,
        frontier=frontier,
        p_frontier=chance,
        value=_value(contest, place, reference, ratios),
        same_money=_same_money(book, viewer, contest, place),
        flip=_flip(viewer, solved, contest, place, pick),
        upgrade=None if against is None else _upgrade(book, viewer, contest, place, against),
        besides=None if owned is None or owned == at else besides_speed(book, owned, at),
        observed=observed_of(book, at, viewer, weekly),
    )


def _samples(book: Book, setups: tuple[int, ...]) -> tuple[str, ...]:
    return tuple(book.setups[at].label for at in setups) if len(setups) > 1 else ()


def _why_not(
    viewer: Viewer, solved: Solved, contest: Contest, place: int, *, is_owned: bool
) -> tuple[OutReason | None, str | None]:
    why = why_out(contest, place)
    at = int(contest.setups[place])
    if why is None:
        return None, None
    if why is Why.NEED:
        return OutReason.NEED, "; ".join(solved.missed[at])
    if is_owned and contest.viewer.rule is Rule.VALUE:
        return OutReason.NO_VALUE, OWNED_NO_VALUE
    if why is Why.UNPRICED:
        return OutReason.UNPRICED, solved.prices[at].problem or "no price"
    if why is Why.BUDGET and viewer.budget is not None:
        return OutReason.BUDGET, say_over_budget(viewer, viewer.budget)
    return OutReason.SLOW, "not fast enough"


def _value(contest: Contest, place: int, reference: int, ratios: Span) -> Span | None:
    price, base = (Decimal(int(contest.price[at])) for at in (place, reference))
    each = [value_of(ratio, price, base) for ratio in (ratios.value, ratios.lo, ratios.hi)]
    known = [value for value in each if value is not None]
    return Span(*known) if len(known) == 3 else None


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
    fastest = max(others, key=lambda i: float(speeds.theta[i]), default=None)
    other = fastest if better is None else better
    if other is None:
        return None
    margin = speeds.pairs.margin(other, place)
    if margin.call is Call.NOT_COMPARABLE:
        return None
    label = contender_name(book, speeds, other)
    less = int(price[place] - price[other]) * contest.market.unit
    ratio = None if margin.call is Call.LEVEL else margin.ratio
    return say_same_money(label, ratio, less, viewer.currency, beaten=better is not None)


def _flip(
    viewer: Viewer, solved: Solved, contest: Contest, place: int, pick: int | None
) -> FlipView | None:
    owned = place in (contest.keep, contest.speeds.place(contest.viewer.owned))
    barred = int(contest.setups[place]) in contest.market.barred
    if solved.contest is None or owned or barred:
        return None
    flip = flip_price(contest, place, pick)
    if flip.endless and _priced(contest) < 2:
        return None
    return FlipView(
        flip.price,
        flip.lo,
        flip.hi,
        flip.bounded,
        flip.endless,
        say_flip(flip, viewer.currency, is_pick=place == pick),
        say_flip_short(flip, viewer.currency, is_pick=place == pick),
    )


def _priced(contest: Contest) -> int:
    """How many may be bought at a price that is known: "at any price" is said beside prices."""
    bought = np.arange(len(contest.price)) != (-1 if contest.keep is None else contest.keep)
    return int(np.count_nonzero((contest.price > 0) & bought))


def _upgrade(
    book: Book, viewer: Viewer, contest: Contest, place: int, owned: int
) -> UpgradeView | None:
    weekly, who = contest.speeds.weekly, contest.viewer
    told = bool(contest.speeds.pairs.comparable[place, owned])
    if weekly is None or contest.price[place] < 0 or not told:
        return None
    price = int(contest.price[place]) * contest.market.unit
    level = book.shootout.confidence
    found = upgrade_to(
        weekly, place, owned, price, who.resale, who.waiting, years=who.horizon, confidence=level
    )
    weeks = found.payback.weeks
    return UpgradeView(
        saved_week=found.saved_week,
        saved_year=found.saved_year,
        worth_year=found.worth_year,
        net_worth=found.net_worth,
        payback_reason=found.payback.kind,
        payback_weeks=None if weeks is None else _reached(weeks.value),
        payback_lo=None if weeks is None else _reached(weeks.lo),
        payback_hi=None if weeks is None else _reached(weeks.hi),
        break_even=found.break_even,
        break_even_hours=found.break_even_hours,
        words=say_upgrade(found, price, viewer),
    )


def _reached(weeks: float) -> float | None:
    return weeks if math.isfinite(weeks) else None


def gains_nothing(upgrade: UpgradeView) -> bool:
    """Whether it is not shown that a change saves any time at all."""
    return upgrade.saved_week.lo <= 0
