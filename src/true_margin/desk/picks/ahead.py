"""What lies ahead of a pick: the steps of the frontier, offers that end, machines not out yet."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from uuid import UUID

from true_margin.core.contest import Contest
from true_margin.core.flips import needed_speed
from true_margin.core.frontier import frontier_steps
from true_margin.core.weekly import Span
from true_margin.core.wording import ratio_of
from true_margin.desk.book.book import Book
from true_margin.desk.picks.contenders import contender_name
from true_margin.desk.picks.solve import Prices, Solved, solve
from true_margin.desk.picks.words.answer import say_keeping
from true_margin.desk.picks.words.money import say_hours, say_money, say_per_hour
from true_margin.desk.picks.words.prices import OfferEnd, Wait, WaitState, say_offer, say_wait
from true_margin.store import records
from true_margin.store.records.viewers import Viewer


@dataclass(frozen=True, slots=True)
class StepWords:
    """A step along the frontier in words."""

    price: str
    saved: str | None
    per_hour: str | None


@dataclass(frozen=True, slots=True)
class PickStep:
    """A step along the frontier: how much dearer, hours saved a year, and what one costs.

    Money is in the viewer's currency; ``saved`` and ``per_hour`` are None for a mix, and the
    latter where it is not sure that any time is saved.
    """

    start: str
    end: str
    price: Decimal
    saved: Span | None
    per_hour: Span | None
    words: StepWords


def steps_of(book: Book, viewer: Viewer, contest: Contest | None) -> Iterator[PickStep]:
    """The steps of the frontier, from the cheapest on."""
    if contest is None:
        return
    labels = [contender_name(book, contest.speeds, at) for at in range(len(contest.setups))]
    years = contest.viewer.horizon
    steps = frontier_steps(
        contest.speeds,
        contest.price,
        contest.market.unit,
        confidence=book.shootout.confidence,
        weeks=contest.viewer.waiting.weeks,
        years=years,
    )
    for step in steps:
        hour = step.per_hour
        words = StepWords(
            f"+{say_money(step.price, viewer.currency)}",
            None if step.saved is None else say_hours(step.saved, "a year"),
            None if hour is None else say_per_hour(hour, viewer.currency, years),
        )
        start, end = labels[step.start], labels[step.end]
        yield PickStep(start, end, step.price, step.saved, hour, words)


@dataclass(frozen=True, slots=True)
class OfferView:
    """An offer in force, and what its end does to the pick; ``days`` are left, 0 for today.

    ``then`` is what is picked, or kept, once it has ended.
    """

    machine_id: UUID
    days: int
    until: date
    then: str
    changes: bool
    words: str


def offers_of(
    book: Book, viewer: Viewer, solved: Solved, what_if: Prices | None
) -> Iterator[OfferView]:
    """What each offer in force does to the pick, once it ends."""
    seen: set[UUID] = set()
    for setup, price in zip(book.setups, solved.prices, strict=True):
        if price.until is None or price.record_id is None or price.record_id in seen:
            continue
        seen.add(price.record_id)
        after = solve(book, viewer, what_if, (price.record_id,), solved.by_setup)
        machine = book.machine_of[setup.id]
        days = (price.until - book.shootout.price_date).days
        now, then = _picked_name(book, solved), _picked_name(book, after)
        end = OfferEnd(machine.name, price.amount, days, now, then)
        words = say_offer(end, viewer.currency)
        yield OfferView(machine.id, days, price.until, then, now != then, words)


def _picked_name(book: Book, solved: Solved) -> str:
    if solved.contest is None or solved.decision is None or solved.decision.pick is None:
        return "nothing"
    pick = solved.decision.pick
    label = contender_name(book, solved.contest.speeds, pick)
    return say_keeping(label, keep=pick == solved.contest.keep)


@dataclass(frozen=True, slots=True)
class WaitView:
    """A machine that is not out: how fast it is said to be, and would have to be.

    ``assumed`` and ``needed`` are times as fast as ``against_id``; ``needed`` is None where
    nothing follows, or no speed would do.
    """

    setup_id: UUID
    against_id: UUID
    assumed: float
    needed: float | None
    state: WaitState
    words: str


def waits_of(book: Book, viewer: Viewer, solved: Solved) -> Iterator[WaitView]:
    """Setups that are not out yet: how fast each would have to be at its price."""
    if solved.contest is None:
        return
    for at, setup in enumerate(book.setups):
        against = book.setup_index.get(setup.assumed_against_id or UUID(int=0))
        assumed = setup.assumed_ratio
        if against is None or assumed is None or solved.contest.speeds.place(at) is not None:
            continue
        wait = _wait(book, viewer, solved, solved.contest, setup, against, assumed)
        if wait is not None:
            yield WaitView(
                setup.id,
                book.setups[against].id,
                assumed,
                wait.needed,
                wait.state,
                say_wait(wait, viewer),
            )


def _wait(
    book: Book,
    viewer: Viewer,
    solved: Solved,
    contest: Contest,
    setup: records.Setup,
    against: int,
    assumed: float,
) -> Wait | None:
    """What may be said of one; None where what it is said of did not do this work."""
    at = book.setup_index[setup.id]
    amount = solved.prices[at].amount

    def wait(state: WaitState, needed: float | None = None) -> Wait:
        other, missed = book.setups[against].label, solved.missed[at]
        source = setup.assumed_source
        return Wait(setup.label, other, assumed, source, amount, state, needed, missed)

    if amount is None:
        return wait(WaitState.NO_PRICE)
    if solved.missed[at]:
        return wait(WaitState.MISSES_NEEDS)
    if viewer.budget is not None and amount > viewer.budget:
        return wait(WaitState.OVER_BUDGET)
    needed, place = needed_speed(contest, amount), contest.speeds.place(against)
    if needed is None:
        return wait(WaitState.NEVER)
    if place is None:
        return None
    ratio = needed - float(contest.speeds.theta[place])
    enough = math.log(assumed) >= ratio
    state = WaitState.WORTH_IT if enough else WaitState.NOT_WORTH_IT
    return wait(state, ratio_of(ratio))
