"""Claims about a viewer's pick held against what Picks works out for that viewer."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from true_margin.core.claims.advice import WEEKS_IN, Advice, AdviceClaim
from true_margin.core.claims.forms import Form
from true_margin.core.claims.result import Checked
from true_margin.core.claims.verdicts import Figure, Verdict, judge_number, region
from true_margin.core.numerals import short
from true_margin.core.upgrade import PaybackKind
from true_margin.core.weekly import Span
from true_margin.core.wording import listed

SURE, LIKELY = 0.95, 0.8
"""From these chances on a pick holds, or is likely."""
NOTHING = -1.0
"""Before any time of payback: none of them is nothing."""


_TURNED = {Verdict.OVERSTATED: Verdict.UNDERSTATED, Verdict.UNDERSTATED: Verdict.OVERSTATED}


_NEVER = (Verdict.BACKWARDS, "It never pays for itself.")
_NO_WEEKS = {
    PaybackKind.AT_ONCE: (Verdict.ASKED, "It costs no more than the old machine sells for."),
    PaybackKind.SLOWER: (Verdict.ASKED, "It is slower, and frees money at once."),
    PaybackKind.NOT_SURE: (Verdict.NOISE, "It is not sure to pay for itself."),
}


@dataclass(frozen=True, slots=True)
class Gain:
    """What a machine gains a viewer over their own: hours, and what is left after its price."""

    saved_week: Span
    saved_year: Span
    net_worth: Span
    payback: PaybackKind
    payback_weeks: Span | None


@dataclass(frozen=True, slots=True)
class Answer:
    """What Picks says for a viewer.

    Attributes:
        viewer: their name.
        pick: place of the setup that is picked; None for none.
        keep: place of their own; None for none.
        group: setups that are as good as the pick, itself among them.
        chance: that nothing beats the pick.
        gains: of each setup over their own, where both are known.
        years: for which they will use it.
    """

    viewer: str
    pick: int | None
    keep: int | None
    group: frozenset[int]
    chance: float
    gains: Mapping[int, Gain]
    years: float = 3.0


def judge_advice(claim: AdviceClaim, answer: Answer, setups: Sequence[str]) -> Checked:
    """Hold a claim against a viewer's answer.

    Args:
        claim: what is said, of this viewer.
        answer: what Picks says for them.
        setups: names, by place.

    Returns:
        The verdict, with a line that holds where something is known.
    """
    if answer.pick is None:
        return Checked(Verdict.UNTESTED, reason=f"There is no pick for {answer.viewer} yet.")
    if claim.advice is Advice.PICK:
        found = _judge_pick(claim, answer, setups)
    elif claim.advice is Advice.WORTH:
        found = _judge_worth(claim, answer, setups)
    else:
        found = _judge_gain(claim, answer, setups)
    say = None if found.verdict is Verdict.HOLDS else found.say
    return replace(found, say=say, a=claim.setup)


def _order(answer: Answer, setups: Sequence[str]) -> str:
    assert answer.pick is not None, "there is a pick"
    verb = "keep" if answer.pick == answer.keep else "buy"
    return f"The {answer.viewer} should {verb} the {setups[answer.pick]}."


def _judge_pick(claim: AdviceClaim, answer: Answer, setups: Sequence[str]) -> Checked:
    say, own = _order(answer, setups), claim.setup == answer.pick
    if claim.keeps is not None and claim.keeps != (claim.setup == answer.keep):
        # Nobody buys what they have, nor keeps what they have not.
        has = "has" if claim.setup == answer.keep else "does not have"
        reason = f"The {answer.viewer} {has} the {setups[claim.setup]}."
        return Checked(Verdict.BACKWARDS, say=say, reason=reason)
    if not own and claim.setup in answer.group:
        reason = f"By this viewer's rule it is as good as the pick, the {setups[answer.pick or 0]}."
        return Checked(Verdict.NOISE, say=say, reason=reason)
    sure = Verdict.HOLDS if answer.chance >= SURE else Verdict.LIKELY
    if not own:
        wrong = Verdict.OVERSTATED if answer.chance >= LIKELY else Verdict.NOISE
        return Checked(sure if claim.denied else wrong, say=say)
    if claim.denied:
        return Checked(Verdict.BACKWARDS, say=say)
    # The pick is the pick, however sure: that is told beside it.
    percent = short(round(100 * answer.chance))
    reason = f"Nothing beats it in {percent} of 100." if answer.chance < SURE else ""
    return Checked(Verdict.HOLDS, reason=reason)


def _judge_worth(claim: AdviceClaim, answer: Answer, setups: Sequence[str]) -> Checked:
    """Worth it is what is picked and gains something; not worth it is what gains nothing."""
    name, gain = setups[claim.setup], answer.gains.get(claim.setup)
    if claim.setup == answer.keep:
        return Checked(Verdict.UNTESTED, reason=f"{answer.viewer} owns it already.")
    picked = claim.setup in answer.group
    gains = gain is None or gain.net_worth.lo > 0
    loses = gain is not None and gain.net_worth.hi < 0
    if picked and not gains:
        reason = "It is the pick, and it is not shown to pay for itself: say which you mean."
        return Checked(Verdict.ASKED, reason=reason)
    if not picked and gain is not None and gain.net_worth.lo > 0:
        reason = (
            f"It pays for itself, and the pick for {answer.viewer} is the "
            f"{setups[answer.pick or 0]}: say which you mean."
        )
        return Checked(Verdict.ASKED, reason=reason)
    worth = picked and gains
    if not worth and not loses and answer.chance < LIKELY:
        return Checked(Verdict.NOISE, say=_order(answer, setups))
    is_so = worth != claim.denied
    said = "is worth it" if worth else "is not worth it"
    say = f"The {name} {said} for the {answer.viewer}."
    return Checked(Verdict.HOLDS if is_so else Verdict.BACKWARDS, say=say)


def _judge_gain(claim: AdviceClaim, answer: Answer, setups: Sequence[str]) -> Checked:
    assert claim.number is not None, "an amount has a number"
    name, gain = setups[claim.setup], answer.gains.get(claim.setup)
    if gain is None:
        reason = f"Nothing is known of {name} against what {answer.viewer} has."
        return Checked(Verdict.UNTESTED, reason=reason)
    allowed = region(Form.SAVED, claim.number, claim.hedge)
    if claim.advice is Advice.HOURS:
        span, each = _saved(gain, answer.years, claim.per)
        say, unit, none = _say_hours(name, answer.viewer, span.value, each), f"hours {each}", 0.0
    else:
        if gain.payback_weeks is None or gain.payback is not PaybackKind.WEEKS:
            verdict, reason = _NO_WEEKS.get(gain.payback, _NEVER)
            return Checked(verdict, reason=reason)
        span, unit, none = gain.payback_weeks, "weeks", NOTHING
        say = _say_payback(name, answer.viewer, span.value)
    figure = Figure(span.value, span.lo, span.hi, none)
    verdict = judge_number(figure, claim.number.value, allowed)
    if claim.advice is Advice.PAYBACK:
        # Who says that it pays for itself sooner claims more, not less.
        verdict = _TURNED.get(verdict, verdict)
    return Checked(
        verdict,
        quantity=unit,
        value=span.value,
        lo=span.lo,
        hi=span.hi,
        # Two digits said with "about" must hold all of the interval.
        say=say if span.lo >= 0.86 * span.value > 0 and span.hi <= 1.14 * span.value else None,
    )


def _saved(gain: Gain, years: float, per: str) -> tuple[Span, str]:
    """Hours that are saved in a week, a year or over all the years of use; and the words."""
    if per == "week":
        return gain.saved_week, "a week"
    if per == "year":
        return gain.saved_year, "a year"
    year = gain.saved_year
    return Span(years * year.value, years * year.lo, years * year.hi), "over its life"


def _say_hours(name: str, viewer: str, hours: float, each: str) -> str:
    return f"The {name} saves the {viewer} about {short(hours, 2)} hours {each}."


def _say_payback(name: str, viewer: str, weeks: float) -> str:
    unit = "week" if weeks < 9 else "month" if weeks < 36 * WEEKS_IN["month"] else "year"
    number = short(weeks / WEEKS_IN[unit], 2)
    return f"The {name} pays for itself in about {number} {unit}s for the {viewer}."


def which_viewer(claim: AdviceClaim, viewers: Sequence[str]) -> int | Checked:
    """Place of the viewer that is meant: the one that is named, or the only one there is."""
    if claim.viewer is not None:
        return claim.viewer
    if len(viewers) == 1:
        return 0
    if not viewers:
        return Checked(Verdict.UNTESTED, reason="There is no viewer yet for whom this could hold.")
    return Checked(Verdict.ASKED, reason=f"Say for whom: {listed(viewers, 4)}.")
