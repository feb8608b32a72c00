"""What an upgrade comes to in words: hours, worth, and when it has paid for itself."""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal

from true_margin.core.numerals import fixed, short
from true_margin.core.upgrade import Payback, PaybackKind, Upgrade
from true_margin.core.weekly import Span
from true_margin.core.wording import count_of
from true_margin.desk.picks.words.money import say_hours, say_money, say_number, say_span, years_of
from true_margin.store.records.viewers import Viewer

WEEKS_A_MONTH = 52 / 12


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
