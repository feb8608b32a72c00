"""The sentences of Picks: the pick with its surety, what came second, why others are out."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import ROUND_CEILING, ROUND_HALF_UP, Decimal
from enum import StrEnum

from true_margin.core.cells import Basis
from true_margin.core.contest import Contest, NoPick, Rule
from true_margin.core.currencies import minor_unit
from true_margin.core.flips import Flip
from true_margin.core.margins import Call, Margin
from true_margin.core.numerals import fixed, localised, short
from true_margin.core.picks import Decision
from true_margin.core.samples import UnitSpread
from true_margin.core.upgrade import Payback, PaybackKind, Upgrade
from true_margin.core.weekly import Span
from true_margin.core.wording import (
    TWICE,
    count_of,
    format_elapsed,
    format_percent,
    format_ratio,
    likelihood,
    listed,
    percent_faster,
    ratio_of,
    say_chance,
)
from true_margin.desk.book.book import Book
from true_margin.desk.picks.contenders import contender_name
from true_margin.store.records.viewers import Viewer

RULE_OF = {"fastest": Rule.FASTEST, "value": Rule.VALUE, "worth": Rule.WORTH, "enough": Rule.ENOUGH}
WEEKS_A_MONTH = 52 / 12
OWN_WORDS = ("the", "a", "an", "my", "our", "your", "their", "his", "her")
"""A name that begins with one of these needs no article."""


def say_money(amount: Decimal, currency: str) -> str:
    """Write money: thousands parted by a space, the minor unit only where there is any.

    Example:
        >>> say_money(Decimal("1553.39"), "EUR").replace("\u00a0", " ")
        '1 553.39 EUR'
    """
    exact = amount.quantize(minor_unit(currency), rounding=ROUND_HALF_UP)
    whole = exact == exact.to_integral_value()
    written = fixed(exact, 0, grouped=True) if whole else localised(f"{exact:,}")
    return f"{written} {currency}"


def say_round(amount: float, currency: str) -> str:
    """Write money that is only known roughly, without its minor unit."""
    return say_money(Decimal(round(amount)), currency)


def say_span(span: Span, currency: str, per: str = "") -> str:
    """Write money that is only known roughly, with its interval.

    Example:
        >>> say_span(Span(464.2, 454.0, 473.9), "EUR", "a year")
        '464 EUR a year, 454 to 474'
    """
    ends = [say_round(x, currency).removesuffix(f" {currency}") for x in (span.lo, span.hi)]
    return f"{say_round(span.value, currency)}{per and f' {per}'}, {ends[0]} to {ends[1]}"


def say_number(value: float) -> str:
    """Write a number with two digits that count, never as a power of ten.

    Example:
        >>> say_number(0.634), say_number(26.4), say_number(143.0)
        ('0.63', '26', '143')
    """
    return short(value, 2) if value < 100 else f"{round(value)}"


@dataclass(frozen=True, slots=True)
class PickContext:
    """What the sentences need to know."""

    book: Book
    viewer: Viewer
    contest: Contest
    decision: Decision

    def label(self, place: int) -> str:
        """Name of a contender."""
        return contender_name(self.book, self.contest.speeds, place)

    def price(self, place: int) -> str:
        """Price of a contender."""
        return say_money(
            int(self.contest.price[place]) * self.contest.market.unit, self.viewer.currency
        )

    def margin(self, a: int, b: int) -> Margin:
        """Margin of one contender over another at this work."""
        return self.contest.speeds.pairs.margin(a, b)

    @property
    def within(self) -> str:
        """The budget that the pick keeps to, in words; empty for none."""
        if self.viewer.budget is None:
            return ""
        return f" under {say_money(self.viewer.budget, self.viewer.currency)}"


def say_what(said: PickContext, pick: int) -> str:
    """What to do: which one to buy, at what price, or which to keep."""
    if pick == said.contest.keep:
        return f"Keep {with_article(said.label(pick))}"
    return f"Buy {with_article(said.label(pick))}, {said.price(pick)}"


def say_no_gain(pick: str, owned: str) -> str:
    """That it is not shown that a pick saves any time over what somebody has."""
    return f"That {with_article(pick)} saves you time over your {owned} is not shown."


def with_article(name: str) -> str:
    """A name as it stands in a sentence that tells somebody to buy it.

    Example:
        >>> with_article("Cairn Brick"), with_article("The loaner"), with_article("my old one")
        ('the Cairn Brick', 'The loaner', 'my old one')
    """
    first = name.split(" ", 1)[0].casefold()
    return name if first in OWN_WORDS else f"the {name}"


def say_surety(chance: float) -> str:
    """How sure the pick is, as a word and its figure."""
    word = likelihood(chance)
    return f"{word[0].upper()}{word[1:]} ({say_chance(chance)})"


def say_pick(what: str, reason: str, surety: str) -> str:
    """The pick as an order, its reason, and how sure that is."""
    return f"{what}. {reason} {surety}."


def say_reason(said: PickContext, pick: int) -> str:
    """Why it is the pick: what would have to be true of another for it not to be."""
    rule = said.contest.viewer.rule
    percent = f"more than {short(100 * said.book.shootout.materiality)} %"
    keep = pick == said.contest.keep
    if rule is Rule.FASTEST:
        return f"Nothing{said.within} is {percent} faster at this work."
    if rule is Rule.VALUE:
        return f"Nothing{said.within} gives {percent} more speed for its money."
    if rule is Rule.WORTH:
        years = years_of(said.viewer.horizon_years)
        # By how much is part of it: the chance beside it is of that, not of nothing at all.
        matters = say_round(said.contest.threshold, said.viewer.currency)
        # Two numbers are as many as a sentence bears: the budget is named, not counted out.
        inside = " within the budget" if said.within else ""
        if keep:
            return f"No upgrade{inside} gains over {matters} in {years}, its price paid."
        return f"Nothing{inside} gains this viewer over {matters} more in {years}."
    return f"It is the cheapest that is fast enough: {say_limits(said.book, said.viewer)}."


def say_limits(book: Book, viewer: Viewer) -> str:
    """The times that a viewer accepts."""
    each = [
        f"{book.tasks[book.task_index[part.task_id]].name} within {format_elapsed(part.accepted_s)}"
        for part in viewer.tasks
        if part.accepted_s is not None and part.task_id in book.task_index
    ]
    return ", ".join(each)


def years_of(years: float) -> str:
    """A horizon in words."""
    return "1 year" if years == 1 else f"{short(years)} years"


def say_level(said: PickContext, pick: int, second: int | None) -> str | None:
    """Who is as good as the pick, and what decided; empty where the runner-up alone is."""
    others = [said.label(i) for i in said.decision.group if i != pick]
    if not others or [i for i in said.decision.group if i != pick] == [second]:
        return None
    names = listed(others)
    by = {
        "price": f"{said.label(pick)} costs less"
        if pick != said.contest.keep
        else "keeping it costs nothing",
        "noise": f"they cost the same, and {said.label(pick)} is the quieter",
        "order": f"they cost the same; {said.label(pick)} comes first in the line-up",
    }[said.decision.by]
    are = "is" if len(others) == 1 else "are"
    return f"{names} {are} as good by this rule; {by}."


def say_second(said: PickContext, pick: int, second: int) -> str:
    """What came second, and why it lost."""
    keep = second == said.contest.keep
    name = said.label(second) if keep else f"{said.label(second)} ({said.price(second)})"
    rule = said.contest.viewer.rule
    dearer = int(said.contest.price[second] - said.contest.price[pick]) * said.contest.market.unit
    money = say_money(abs(dearer), said.viewer.currency)
    costs = (
        f"but costs {money} more"
        if dearer > 0
        else f"and costs {money} less"
        if dearer < 0
        else "and costs the same"
    )
    level = said.margin(pick, second).call is Call.LEVEL
    if rule is Rule.FASTEST and level:
        return f"{name} is just as fast {costs}."
    if rule is Rule.ENOUGH:
        return f"{name} is fast enough too {costs}."
    start = f"Keeping {name}" if keep else name
    return f"Runner-up: {start}, {_lost(said, pick, second)}."


def _lost(said: PickContext, pick: int, second: int) -> str:
    rule = said.contest.viewer.rule
    margin = said.margin(pick, second)
    if margin.call is Call.NOT_COMPARABLE:
        return "which did not do the same job, so how far apart the two are is not known"
    if rule is Rule.WORTH:
        worth = said.contest.scores(said.contest.price)
        gap = float(worth[pick] - worth[second])
        half = float(said.contest.half[pick, second])
        money = say_round(abs(gap), said.viewer.currency)
        # How many years is said of the pick itself.
        if gap < 0:
            return f"{money} better over that time, too little to count"
        perhaps = "" if gap > half else "perhaps "
        return f"{perhaps}{money} worse over that time"
    if rule is Rule.VALUE:
        scores = said.contest.scores(said.contest.price)
        log = float(scores[second] - scores[pick])
        part = format_percent(100.0 * abs(1.0 - ratio_of(log)))
        return f"{part} % {'less' if log < 0 else 'more'} speed for the money"
    if margin.call is Call.CLEAR:
        word = "slower" if margin.log_ratio > 0 else "faster"
        if ratio_of(abs(margin.log_ratio)) >= TWICE:
            times = f"{short(ratio_of(abs(margin.log_ratio)), 2)} times as long"
            return f"which takes {times}" if margin.log_ratio > 0 else f"{times} here"
        return f"{format_percent(percent_faster(abs(margin.log_ratio)))} % {word}"
    if margin.call is Call.AHEAD:
        return f"slightly {'slower' if margin.log_ratio > 0 else 'faster'}"
    return "which may be slightly slower or faster (too close to call)"


SAMPLES_ALIKE = (
    "Samples of one model are taken to be alike, as this shootout is set: what holds of the "
    "machines that were timed is said of their models."
)


def say_samples(spread: UnitSpread, names: list[str], machines: float, models: float) -> str:
    """How much less is known of two models than of the two machines that were timed.

    Args:
        spread: how much samples of a model differ.
        names: of the two.
        machines, models: half widths of the two intervals, on the log scale.
    """
    how = {
        Basis.ASSUMED: f"assumed ({fixed(100 * spread.cv, 1)} %)",
        Basis.PARTLY: f"partly measured ({fixed(100 * spread.cv, 1)} %)",
        Basis.MEASURED: f"measured ({fixed(100 * spread.cv, 1)} %)",
    }[spread.basis]
    timed = (
        "One sample of each model was timed, and how much samples differ is "
        if spread.basis is Basis.ASSUMED
        else "How much samples of a model differ is "
    )
    known = [f"± {fixed(100 * math.expm1(half), 1)} %" for half in (machines, models)]
    said = (
        f"{timed}{how}. The ratio of {names[0]} to {names[1]} is known to {known[0]}, that of "
        f"their models to {known[1]}."
    )
    if spread.basis is not Basis.ASSUMED:
        return said
    return f"{said} Where samples are in truth alike, the surety is said too low."


def say_nothing(said_by: NoPick, viewer: Viewer, cheapest: str | None) -> tuple[str, str]:
    """Why there is no pick, and the field to look at."""
    money = "" if viewer.budget is None else say_money(viewer.budget, viewer.currency)
    return {
        NoPick.NO_WORK: (
            "Say how much of each task this viewer does a week: every amount is 0."
            if viewer.weekly
            else "Every weight is 0: give at least one task some weight.",
            "tasks",
        ),
        NoPick.NO_SETUPS: (
            "No machine was tested on all of this work. Time the missing runs, or leave a task "
            "out.",
            "tasks",
        ),
        NoPick.NO_PRICES: (
            "No machine that did this work has a price yet. Add prices to get a pick.",
            "prices",
        ),
        NoPick.NEEDS: (
            "No machine with a price meets all the needs. The list says which each one misses.",
            "needs",
        ),
        NoPick.BUDGET: (
            f"Nothing costs {money} or less"
            + (f": the cheapest is {cheapest}." if cheapest else "."),
            "budget",
        ),
        NoPick.NOT_FAST: (
            "Nothing within the budget is fast enough: accept a longer time, or raise the budget.",
            "accepted",
        ),
        NoPick.NO_WEEKLY: (
            "Money saved needs the weekly work: say how much of each task a week.",
            "tasks",
        ),
        NoPick.NO_LIMIT: ("Say for at least one task which time is fast enough.", "accepted"),
    }[said_by]


def say_payback(
    found: Payback, price: Decimal, resale: Decimal, hours: Span, viewer: Viewer
) -> str:
    """When a machine has paid for itself, in words."""
    kind = found.kind
    if kind is PaybackKind.AT_ONCE:
        return "pays for itself at once: it costs no more than their current machine sells for"
    if kind is PaybackKind.SLOWER:
        more = say_money(resale - price, viewer.currency)
        return f"slower by {short(-hours.value, 2)} h a week, but frees {more} now"
    if kind is PaybackKind.NEVER:
        if hours.hi <= 0:
            return "never pays for itself"
        return "never pays for itself (waiting is set to cost nothing)"
    assert found.weeks is not None, "a payback in weeks has weeks"
    if kind is PaybackKind.NOT_SURE:
        soonest = _months(found.weeks.lo)
        return f"not sure: in {soonest} at the soonest, perhaps never"
    lo, hi = _months(found.weeks.lo), _months(found.weeks.hi)
    return f"pays for itself in {lo if lo == hi else _shortened(lo, hi)}"


def _payback_span(found: Payback) -> str:
    """Its interval; empty where there is none."""
    if found.weeks is None:
        return ""
    lo, hi = _months(found.weeks.lo), _months(found.weeks.hi)
    if found.kind is PaybackKind.NOT_SURE:
        return f"{lo} at the soonest, perhaps never"
    return lo if lo == hi else _shortened(lo, hi)


def _payback_short(found: Payback) -> str:
    """The same in two words, for a figure that stands large."""
    if found.weeks is not None and found.kind is not PaybackKind.NOT_SURE:
        return _months(found.weeks.value)
    return {PaybackKind.AT_ONCE: "at once", PaybackKind.NOT_SURE: "not sure"}.get(
        found.kind, "never"
    )


def _months(weeks: float) -> str:
    """Weeks in the unit that a person would use.

    Example:
        >>> _months(6.2), _months(30.0), _months(300.0)
        ('6 weeks', '7 months', '5.8 years')
    """
    if weeks < 9:
        count = max(1, math.floor(weeks + 0.5))
        return count_of(count, "week")
    months = weeks / WEEKS_A_MONTH
    if months < 36:
        return f"{math.floor(months + 0.5)} months"
    years = months / 12
    return f"{fixed(years, 1)} years" if years < 100 else "over 100 years"


def _shortened(lo: str, hi: str) -> str:
    number, unit = lo.split(" ", 1)
    return f"{number} to {hi}" if hi.endswith(unit) else f"{lo} to {hi}"


def say_hours(span: Span, per: str) -> str:
    """Hours saved with their interval.

    Example:
        >>> say_hours(Span(1.92, 1.7, 2.1), "a week")
        '1.9 h a week, 1.7 to 2.1'
    """
    value, lo, hi = hour_figures(span)
    return f"{value} h {per}, {lo} to {hi}"


def hour_figures(span: Span) -> tuple[str, str, str]:
    """Hours and their ends, with as many digits as they are worth."""
    digits = 0 if abs(span.value) >= 20 else 1 if abs(span.value) >= 1 else 2
    return fixed(span.value, digits), fixed(span.lo, digits), fixed(span.hi, digits)


@dataclass(frozen=True, slots=True)
class UpgradeWords:
    """An upgrade in words."""

    hours: str
    year: str
    worth: str
    payback: str
    break_even: str
    net_worth: str
    payback_short: str
    payback_span: str


def say_upgrade(found: Upgrade, price: Decimal, viewer: Viewer) -> UpgradeWords:
    """An upgrade in words.

    Args:
        found: what it comes to.
        price: of the machine, in the viewer's currency.
        viewer: who owns the other one.
    """
    years = years_of(viewer.horizon_years)
    return UpgradeWords(
        say_hours(found.saved_week, "a week"),
        say_hours(found.saved_year, "a year"),
        say_span(found.worth_year, viewer.currency, "a year"),
        say_payback(found.payback, price, viewer.resale, found.saved_week, viewer),
        _say_break_even(found, years),
        _say_net_worth(found.net_worth, viewer.currency, years),
        _payback_short(found.payback),
        _payback_span(found.payback),
    )


def _say_net_worth(span: Span, currency: str, years: str) -> str:
    """What is left after its price, or how much is short of it."""
    if span.value >= 0:
        return say_span(span, currency, f"over {years}")
    return say_span(Span(-span.value, -span.hi, -span.lo), currency, f"short over {years}")


def _say_break_even(found: Upgrade, years: str) -> str:
    factor, hours = found.break_even, found.break_even_hours
    if factor is None or hours is None:
        return f"no amount of this work pays for it within {years}"
    if factor == 0:
        return "any amount of work pays for it"
    near = 0.995 <= factor < 1.005
    times = "as now" if near else f"{say_number(factor)} times as much as now"
    return (
        f"pays for itself within {years} from {say_number(hours)} h of exports a week on ({times})"
    )


def say_flip(flip: Flip, currency: str, *, is_pick: bool) -> str:
    """At which price a setup becomes the pick, or the pick loses, in a clause."""
    if flip.price is None:
        return "not the pick at any price"
    if flip.endless:
        return "stays the pick at any price" if is_pick else "would win at any price"
    price = say_money(flip.price, currency)
    if flip.bounded:
        stays = f"stays the pick up to {price} (the budget)"
        return stays if is_pick else f"would win at {price} or less (the budget)"
    said = f"stays the pick up to {price}" if is_pick else f"would win {_or_less(flip, currency)}"
    if flip.lo == flip.hi == flip.price:
        return said
    lo, hi = (
        None if end is None else say_round(float(end), currency) for end in (flip.lo, flip.hi)
    )
    if lo == hi:
        return said
    if lo is None:
        return f"{said} (at most {hi}, perhaps at no price)"
    if hi is None:
        return f"{said} (at least {lo}, perhaps at any price)"
    return f"{said} (somewhere between {lo.removesuffix(f' {currency}')} and {hi})"


def _or_less(flip: Flip, currency: str) -> str:
    """Up to which price something would win: below the whole price that it just misses."""
    assert flip.price is not None
    whole = flip.price.to_integral_value(ROUND_CEILING)
    if whole == flip.price:
        return f"at {say_money(whole, currency)} or less"
    return f"below {say_money(whole, currency)}"


def say_flip_short(flip: Flip, currency: str, *, is_pick: bool) -> str:
    """The same in a few signs, beside a scale of prices."""
    if flip.price is None:
        return "at no price"
    if flip.endless:
        return "at any price"
    if is_pick:
        return f"stays up to {say_money(flip.price, currency).removesuffix(f' {currency}')}"
    return f"would win {_or_less(flip, currency).replace(f' {currency}', '')}"


def say_same_money(
    label: str, ratio: float | None, less: Decimal, currency: str, *, beaten: bool
) -> str:
    """What the money for a setup buys elsewhere.

    Args:
        label: of the other setup.
        ratio: times as fast it is; None where the two are level.
        less: how much cheaper it is, 0 for not.
        currency: of that.
        beaten: whether the other is surely no worse.
    """
    if beaten or ratio is None:
        cheaper = f"and {say_money(less, currency)} cheaper" if less > 0 else "for the same money"
        as_fast = "as fast" if ratio is None else "as fast or faster"
        return f"{label} is {as_fast} {cheaper}"
    times = f"{format_ratio(ratio)} times the speed"
    if less > 0:
        return f"nearest cheaper choice: {label}, {say_money(less, currency)} less for {times}"
    return f"for the same money: {label}, {times}"


OWNED_NO_VALUE = "their current machine: it costs nothing, so its value has no measure"


def say_over_budget(viewer: Viewer, budget: Decimal) -> str:
    """That a price is over the budget."""
    return f"over the budget of {say_money(budget, viewer.currency)}"


def say_per_hour(span: Span, currency: str, years: float) -> str:
    """What an hour saved costs along a step of the frontier."""
    each = [fixed(x, 2 if x < 100 else 0) for x in (span.value, span.lo, span.hi)]
    return (
        f"{each[0]} {currency} for each hour saved over {years_of(years)} ({each[1]} to {each[2]})"
    )


@dataclass(frozen=True, slots=True)
class OfferEnd:
    """An offer that ends: of which machine, when, and who is picked before and after."""

    machine: str
    amount: Decimal | None
    days: int
    now: str
    then: str


def say_offer(offer: OfferEnd, currency: str) -> str:
    """What the end of an offer does to the pick."""
    days = "today" if offer.days == 0 else f"in {count_of(offer.days, 'day')}"
    amount = "" if offer.amount is None else f" ({say_money(offer.amount, currency)})"
    turned = f"Then the pick is {offer.then}; until then it is {offer.now}."
    what = "The pick does not depend on it." if offer.now == offer.then else turned
    return f"The {offer.machine} offer{amount} ends {days}. {what}"


class WaitState(StrEnum):
    """What may be said of a machine that is not out."""

    NO_PRICE = "no price"
    MISSES_NEEDS = "misses needs"
    OVER_BUDGET = "over the budget"
    NEVER = "no speed would do"
    WORTH_IT = "worth waiting for if the claim holds"
    NOT_WORTH_IT = "not worth waiting for, even if the claim holds"


@dataclass(frozen=True, slots=True)
class Wait:
    """A machine that is not out: what is said of it, and how fast it would have to be.

    ``assumed`` is how many times as fast as ``against`` it is said to be, ``needed`` how many
    it would have to be to be picked.
    """

    label: str
    against: str
    assumed: float
    source: str | None
    price: Decimal | None
    state: WaitState
    needed: float | None = None
    missed: tuple[str, ...] = ()


def say_wait(wait: Wait, viewer: Viewer) -> str:
    """Whether to wait for a machine."""
    said = (
        f"claimed to be {format_ratio(wait.assumed)} times as fast as {wait.against} "
        f"({wait.source}), not tested"
    )
    if wait.price is None:
        return f"{wait.label} is {said}. It has no price yet, so nothing follows from it."
    name = f"{wait.label}, {say_money(wait.price, viewer.currency)}"
    if wait.state is WaitState.MISSES_NEEDS:
        return f"{name}, drops out: {'; '.join(wait.missed)}."
    if wait.state is WaitState.OVER_BUDGET and viewer.budget is not None:
        over = say_over_budget(viewer, viewer.budget)
        return f"{name}, is not out yet and {over}; it is {said}."
    if wait.needed is None:
        return f"{name}, is not out yet and at that price no speed would do; it is {said}."
    verdict = wait.state.value
    return (
        f"{name}: {verdict}. It must be at least {format_ratio(wait.needed)} times as fast as "
        f"{wait.against}; it is {said}."
    )


def say_keeping(label: str, *, keep: bool) -> str:
    """Who is picked, in a clause."""
    return f"keeping {label}" if keep else label
