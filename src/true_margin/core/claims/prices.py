"""Claims about prices: known exactly, so that they hold or do not.

Section 11 of the computation page: prices are read on a day; no interval belongs to them.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from decimal import Decimal

from true_margin.core.claims.forms import Claim, Form
from true_margin.core.claims.numbers import Hedge, SpokenNumber
from true_margin.core.claims.result import Checked
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.numerals import short
from true_margin.core.study import Study
from true_margin.core.wording import format_percent, format_ratio

OF_A_PRICE = 0.025
"""How near a price must be that is said without a hedge, as a part of it."""
ABOUT_A_PRICE = 0.1


def judge_price(study: Study, claim: Claim, a: int, b: int | None) -> Checked:
    """Judge what is said of one price, or of two."""
    named = [s for s in (a, b) if s is not None]
    missing = [study.setups[s] for s in named if _price(study, s) is None]
    if missing:
        return Checked(Verdict.UNTESTED, reason=f"{missing[0]} has no price here.")
    if claim.form in (Form.CHEAPEST, Form.DEAREST):
        return _end(study, claim.form, a)
    one = _known(study, a)
    if b is None:
        return _alone(study, claim, a, one)
    return _pair(study, claim, (a, b), (one, _known(study, b)))


def _price(study: Study, setup: int) -> Decimal | None:
    return study.prices[setup] if study.prices else None


def _known(study: Study, setup: int) -> float:
    found = _price(study, setup)
    assert found is not None
    return float(found)


def _alone(study: Study, claim: Claim, a: int, price: float) -> Checked:
    assert claim.number is not None
    say = f"{study.setups[a]} costs {short(price, 2)}."
    verdict = Verdict.HOLDS
    if not _near(price, claim.number, claim.hedge):
        # Overstated is what flatters: a lower price than it has.
        low = claim.number.value < price
        verdict = Verdict.OVERSTATED if low else Verdict.UNDERSTATED
    return Checked(verdict, "price", price, price, price, say)


_FIGURES: dict[Form, tuple[Callable[[float, float], float], float]] = {
    Form.PRICE_MORE: (lambda one, other: one - other, 0.0),
    Form.PRICE_PERCENT: (lambda one, other: 100.0 * (one / other - 1.0), 0.0),
    Form.PRICE_RATIO: (lambda one, other: one / other, 1.0),
    Form.DEARER: (lambda one, other: one - other, 0.0),
}


def _pair(
    study: Study, claim: Claim, setups: tuple[int, int], prices: tuple[float, float]
) -> Checked:
    figure, none = _FIGURES[claim.form]
    one, other = prices
    if other == 0.0 and claim.form in (Form.PRICE_RATIO, Form.PRICE_PERCENT):
        reason = f"{study.setups[setups[1]]} costs nothing: no ratio can be said."
        return Checked(Verdict.UNTESTED, reason=reason)
    value = figure(one, other)
    said = claim.number
    if said is None:
        verdict = _of_bare(claim.sign, value)
    else:
        signed = value if claim.form is Form.PRICE_RATIO else claim.sign * value
        verdict = _of_number(signed, none, said, claim.hedge)
    say = _say(study, claim.form, setups, prices)
    return Checked(verdict, claim.form.value, value, value, value, say)


def _of_bare(sign: int, value: float) -> Verdict:
    """Dearer (sign 1), cheaper (−1), or the same (0)."""
    if sign == 0:
        return Verdict.HOLDS if value == 0 else Verdict.UNDERSTATED
    if value == 0:
        return Verdict.NOISE
    return Verdict.HOLDS if sign * value > 0 else Verdict.BACKWARDS


def _of_number(value: float, none: float, said: SpokenNumber, hedge: Hedge) -> Verdict:
    if value == none:
        return Verdict.NOISE
    if (value - none) * (said.value - none) < 0:
        return Verdict.BACKWARDS
    if _near(value, said, hedge):
        return Verdict.HOLDS
    further = abs(said.value - none) > abs(value - none)
    return Verdict.OVERSTATED if further else Verdict.UNDERSTATED


def _near(value: float, said: SpokenNumber, hedge: Hedge) -> bool:
    c = said.value
    room = (ABOUT_A_PRICE if hedge is Hedge.ABOUT else OF_A_PRICE) * abs(c)
    lo, hi = c - room, c + room
    if hedge is Hedge.OVER:
        lo, hi = c, math.inf
    elif hedge in (Hedge.UNDER, Hedge.UP_TO):
        lo, hi = -math.inf, c
    elif hedge is Hedge.ALMOST:
        lo, hi = 0.9 * c, c
    return lo - 1e-9 <= value <= hi + 1e-9


def _say(study: Study, form: Form, setups: tuple[int, int], prices: tuple[float, float]) -> str:
    """What holds of two prices, the claim's first one first."""
    (a, b), (one, other) = (study.setups[s] for s in setups), prices
    if one == other:
        return f"{a} and {b} cost the same."
    how = "more" if one > other else "less"
    if form is Form.PRICE_RATIO and one / other >= 1.1:
        return f"{a} costs {format_ratio(one / other)} times as much as {b}."
    if form is Form.PRICE_PERCENT:
        return f"{a} costs {format_percent(100 * abs(one / other - 1))} % {how} than {b}."
    return f"{a} costs {short(abs(one - other), 2)} {how} than {b}."


def _end(study: Study, form: Form, a: int) -> Checked:
    """The cheapest or the dearest: of all, so that every price must be known."""
    unknown = [
        name for name, price in zip(study.setups, study.prices, strict=True) if price is None
    ]
    known = [(float(p), s) for s, p in enumerate(study.prices) if p is not None]
    first = min(known) if form is Form.CHEAPEST else max(known)
    own = _known(study, a)
    word = "cheapest" if form is Form.CHEAPEST else "most expensive"
    say = f"{study.setups[first[1]]} is the {word}."
    if own != first[0]:
        return Checked(Verdict.BACKWARDS, "price", own, own, own, say)
    if unknown:
        reason = f"{unknown[0]} has no price here."
        return Checked(Verdict.UNTESTED, reason=reason)
    shared = [s for price, s in known if price == own]
    if len({study.model_of[s] for s in shared}) > 1:
        others = next(s for s in shared if s != a)
        reason = f"{study.setups[others]} costs the same."
        say = f"{study.setups[a]} costs {short(own, 2)}."
        return Checked(Verdict.NOISE, "price", own, own, own, say, reason)
    return Checked(Verdict.HOLDS, "price", own, own, own, say)
