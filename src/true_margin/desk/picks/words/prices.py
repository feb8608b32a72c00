"""Prices in words: at which one the pick turns, offers that end, what is worth waiting for."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import ROUND_CEILING, Decimal
from enum import StrEnum

from true_margin.core.flips import Flip
from true_margin.core.wording import count_of, format_ratio
from true_margin.desk.picks.words.money import say_money, say_round
from true_margin.store.records.viewers import Viewer


def say_flip_clause(
    price: Decimal, currency: str, *, endless: bool, bounded: bool, is_pick: bool
) -> str:
    """At which price a setup becomes the pick, or the pick loses, without how surely.

    Args:
        price: at which the pick turns.
        currency: of it.
        endless: whether no price turns it.
        bounded: whether only the budget does.
        is_pick: whether the setup is the pick.
    """
    if endless:
        return "stays the pick at any price" if is_pick else "would win at any price"
    if is_pick:
        return f"stays the pick up to {say_money(price, currency)}"
    limit = f"at {say_money(price, currency)} or less" if bounded else _or_less(price, currency)
    return f"would win {limit}"


def say_flip(flip: Flip, currency: str, *, is_pick: bool) -> str:
    """At which price a setup becomes the pick, or the pick loses, in a clause."""
    if flip.price is None:
        return "not the pick at any price"
    said = say_flip_clause(
        flip.price, currency, endless=flip.endless, bounded=flip.bounded, is_pick=is_pick
    )
    if flip.endless:
        return said
    if flip.bounded:
        return f"{said} (the budget)"
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


def _or_less(price: Decimal, currency: str) -> str:
    """Up to which price something would win: below the whole price that it just misses."""
    whole = price.to_integral_value(ROUND_CEILING)
    if whole == price:
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
    return f"would win {_or_less(flip.price, currency).replace(f' {currency}', '')}"


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
