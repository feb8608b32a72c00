"""What lies ahead of a pick: the steps of the frontier, offers that end, machines not out yet."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from uuid import UUID

from true_margin.core.flips import needed_speed
from true_margin.core.frontier import frontier_steps
from true_margin.core.numerals import fixed
from true_margin.core.picks import Contest
from true_margin.core.wording import count_of, format_ratio, ratio_of
from true_margin.desk.book.book import Book
from true_margin.desk.picks.solve import Prices, Solved, solve
from true_margin.desk.picks.words import say_hours, say_money, years_of
from true_margin.store.records.viewers import Viewer


@dataclass(frozen=True, slots=True)
class PickStep:
    """A step along the frontier, in words."""

    start: str
    end: str
    price: str
    saved: str | None
    per_hour: str | None


def steps_of(book: Book, viewer: Viewer, contest: Contest | None) -> Iterator[PickStep]:
    if contest is None:
        return
    labels = [book.setups[int(s)].label for s in contest.setups]
    found = frontier_steps(
        contest.speeds,
        contest.price,
        contest.market.unit,
        confidence=book.shootout.confidence,
        weeks=contest.viewer.waiting.weeks,
        years=contest.viewer.horizon,
    )
    for step in found:
        per_hour = None
        if step.per_hour is not None:
            span = (step.per_hour.value, step.per_hour.lo, step.per_hour.hi)
            each = [fixed(x, 2 if x < 100 else 0) for x in span]
            years = years_of(contest.viewer.horizon)
            first = f"{each[0]} {viewer.currency} an hour saved over {years}"
            per_hour = f"{first}, {each[1]} to {each[2]}"
        yield PickStep(
            labels[step.start],
            labels[step.end],
            f"+{say_money(step.price, viewer.currency)}",
            None if step.saved is None else say_hours(step.saved, "a year"),
            per_hour,
        )


def offers_of(book: Book, viewer: Viewer, solved: Solved, what_if: Prices | None) -> Iterator[str]:
    """What each offer in force does to the pick, once it ends."""
    seen: set[UUID] = set()
    for setup, price in zip(book.setups, solved.prices, strict=True):
        if price.until is None or price.record_id is None or price.record_id in seen:
            continue
        seen.add(price.record_id)
        after = solve(book, viewer, what_if, (price.record_id,), solved.speeds)
        now, then = _name_of(book, solved), _name_of(book, after)
        machine = book.machine_of[setup.id].name
        left = (price.until - book.shootout.price_date).days
        days = "today" if left == 0 else f"in {count_of(left, 'day')}"
        amount = "" if price.amount is None else f" ({say_money(price.amount, viewer.currency)})"
        what = "the pick stays" if now == then else f"then {then} is picked, today {now}"
        yield f"The offer on {machine}{amount} ends {days}; {what}."


def _name_of(book: Book, solved: Solved) -> str:
    if solved.contest is None or solved.decision is None or solved.decision.pick is None:
        return "nothing"
    pick = solved.decision.pick
    label = book.setups[int(solved.contest.setups[pick])].label
    return f"keeping {label}" if pick == solved.contest.keep else label


def waits_of(book: Book, viewer: Viewer, solved: Solved) -> Iterator[str]:
    """Setups that are not out yet: how fast each would have to be at its price."""
    if solved.contest is None:
        return
    speeds = solved.contest.speeds
    for at, setup in enumerate(book.setups):
        against = (
            book.setup_index.get(setup.assumed_against_id) if setup.assumed_against_id else None
        )
        if against is None or setup.assumed_ratio is None or speeds.place(at) is not None:
            continue
        price, place = solved.prices[at], speeds.place(against)
        said = (
            f"said to be {format_ratio(setup.assumed_ratio)} times as fast as "
            f"{book.setups[against].label}, not measured ({setup.assumed_source})"
        )
        if price.amount is None:
            yield f"{setup.label} is {said}. It has no price yet, so nothing follows from it."
            continue
        name = f"{setup.label}, {say_money(price.amount, viewer.currency)}"
        if solved.missed[at]:
            yield f"{name}, drops out: {'; '.join(solved.missed[at])}."
            continue
        budget = viewer.budget
        if budget is not None and price.amount > budget:
            over = say_money(budget, viewer.currency)
            yield f"{name}, is not out yet and over the budget of {over}; it is {said}."
            continue
        needed = needed_speed(solved.contest, price.amount)
        if needed is None:
            yield f"{name}, is not out yet and at that price no speed would do; it is {said}."
            continue
        if place is None:
            continue
        ratio = needed - float(speeds.theta[place])
        enough = math.log(setup.assumed_ratio) >= ratio
        verdict = (
            "Worth waiting for if that holds" if enough else "Not worth waiting for on that word"
        )
        yield (
            f"Wait for {name}? It would be picked from {format_ratio(ratio_of(ratio))} times "
            f"{book.setups[against].label} on. It is {said}. {verdict}."
        )
