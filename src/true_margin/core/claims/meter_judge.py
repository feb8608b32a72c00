"""Claims about heat, noise and power held against what meters showed.

A meter has no interval here: it is believed to so much, and what lies within that is no
difference. Heat and noise are the highest that was noted of a setup, power is the mean of a task.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from true_margin.core.claims.meters import MOST_WORDS, THAN_WORDS, UNIT_WORD, Meter, MeterClaim
from true_margin.core.claims.numbers import Hedge
from true_margin.core.claims.result import Checked
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.numerals import short
from true_margin.core.wording import listed

BELIEVED: Mapping[Meter, tuple[float, float]] = {
    Meter.HEAT: (2.0, 0.0),
    Meter.NOISE: (1.0, 0.0),
    Meter.POWER: (1.0, 0.05),
}
"""To how much a reading is believed: in its unit, and as a part of it; the larger counts."""
MUCH: Mapping[Meter, float] = {Meter.HEAT: 10.0, Meter.NOISE: 6.0, Meter.POWER: 0.3}
"""From this on two are much apart: in degrees, in decibels, as a part of the larger power."""
_VERB = {Meter.HEAT: "reaches", Meter.NOISE: "reaches", Meter.POWER: "draws"}


@dataclass(frozen=True, slots=True)
class Metered:
    """What meters showed, by setup and task: peaks of heat and noise, the mean power."""

    heat: Mapping[tuple[int, int], float]
    noise: Mapping[tuple[int, int], float]
    power: Mapping[tuple[int, int], float]

    def of(self, meter: Meter, setup: int, task: int | None) -> dict[int | None, float]:
        """Readings of a setup: power by task; heat and noise the highest, where none is named."""
        every = {Meter.HEAT: self.heat, Meter.NOISE: self.noise, Meter.POWER: self.power}[meter]
        own: dict[int | None, float] = {
            on: value for (at, on), value in every.items() if at == setup and task in (None, on)
        }
        if meter is Meter.POWER or task is not None or not own:
            return own
        return {None: max(own.values())}


def judge_meter(
    claim: MeterClaim, metered: Metered, setups: list[str], tasks: list[str]
) -> Checked:
    """Hold a claim against what meters showed.

    Args:
        claim: what is said.
        metered: what was noted.
        setups, tasks: their names, by place.

    Returns:
        The verdict, with a line that holds where something is known.
    """
    own = metered.of(claim.meter, claim.a, claim.task)
    if not own:
        return Checked(Verdict.UNTESTED, reason=_unknown(claim.meter, [setups[claim.a]]))
    if claim.most:
        return _judge_most(claim, metered, setups)
    if claim.b is not None:
        return _judge_pair(claim, metered, setups, tasks)
    if len(own) > 1:
        on = listed([tasks[task] for task in own if task is not None])
        return Checked(Verdict.ASKED, reason=f"It was noted on {on}: say on which task.")
    ((task, value),) = own.items()
    assert claim.number is not None, "an amount alone has a number"
    verdict = _judge_amount(claim, value, _believed(claim.meter, value))
    on = f" on {tasks[task]}" if task is not None else ""
    say = f"{setups[claim.a]} {_VERB[claim.meter]} {_figure(claim.meter, value)}{on}."
    return _told(verdict, claim, say, value)


def _told(verdict: Verdict, claim: MeterClaim, say: str | None, value: float) -> Checked:
    return Checked(
        verdict,
        quantity=str(claim.meter),
        value=value,
        say=None if verdict is Verdict.HOLDS else say,
        reason="As a meter showed it, without an interval.",
        a=claim.a,
        b=claim.b,
        task=claim.task,
    )


def _believed(meter: Meter, value: float) -> float:
    fixed, part = BELIEVED[meter]
    return max(fixed, part * abs(value))


def _figure(meter: Meter, value: float) -> str:
    return f"{short(round(value))} {UNIT_WORD[meter]}"


def _judge_amount(claim: MeterClaim, value: float, room: float) -> Verdict:
    """Hold an amount against a reading: too much said is overstated, too little understated."""
    assert claim.number is not None, "an amount has a number"
    said, room = claim.number.value, max(room, claim.number.half_digit)
    if claim.hedge in (Hedge.OVER, Hedge.UNDER):
        more = claim.hedge is Hedge.OVER
        if (value >= said) if more else (value <= said):
            return Verdict.HOLDS
        return Verdict.OVERSTATED if more else Verdict.UNDERSTATED
    if claim.hedge is Hedge.ABOUT:
        room = max(room, 0.1 * said)
    low = 0.9 * said if claim.hedge is Hedge.ALMOST else said
    if low - room <= value <= said + room:
        return Verdict.HOLDS
    return Verdict.OVERSTATED if said > value else Verdict.UNDERSTATED


def _judge_pair(
    claim: MeterClaim, metered: Metered, setups: list[str], tasks: list[str]
) -> Checked:
    assert claim.b is not None, "a pair has two"
    one = metered.of(claim.meter, claim.a, claim.task)
    other = metered.of(claim.meter, claim.b, claim.task)
    both = [task for task in one if task in other]
    if not both:
        reason = (
            "It was noted of the two on different tasks."
            if other
            else _unknown(claim.meter, [setups[claim.b]])
        )
        return Checked(Verdict.UNTESTED, reason=reason)
    apart = {task: one[task] - other[task] for task in both}
    room = {task: _believed(claim.meter, max(one[task], other[task])) for task in both}
    sides = {_side(apart[task], room[task]) for task in both}
    say = _say_pair(claim, sides, setups)
    reason = _NO_INTERVAL
    if len(both) == 1:
        shown = [_figure(claim.meter, side[both[0]]) for side in (one, other)]
        reason = f"{shown[0].split(' ')[0]} against {shown[1]}. {_NO_INTERVAL}"
    if sides != {claim.sign}:
        verdict = Verdict.BACKWARDS if sides == {-claim.sign} else Verdict.NOISE
        return Checked(verdict, say=say, reason=reason, a=claim.a, b=claim.b)
    if claim.number is None:
        # Power is much less as a part of the other's, heat and noise by so many units.
        part = claim.meter is Meter.POWER
        unit = {task: max(one[task], other[task]) if part else 1.0 for task in both}
        verdict = _judge_degree(claim, [abs(apart[task]) / unit[task] for task in both])
        told = None if verdict is Verdict.HOLDS else say
        return Checked(verdict, say=told, reason=reason, a=claim.a, b=claim.b)
    if len(both) > 1:
        on = listed([tasks[task] for task in both if task is not None])
        return Checked(Verdict.ASKED, reason=f"It was noted on {on}: say on which task.")
    ((task, by),) = apart.items()
    verdict = _judge_amount(claim, abs(by), room[task])
    return _told(verdict, claim, say, abs(by))


def _judge_degree(claim: MeterClaim, apart: list[float]) -> Verdict:
    """Hold "much" and "slightly" against how far apart the two are, wherever both were noted."""
    much = MUCH[claim.meter]
    if claim.degree == "much" and min(apart) < much:
        return Verdict.OVERSTATED
    return (
        Verdict.UNDERSTATED
        if claim.degree == "slightly" and max(apart) >= much
        else (Verdict.HOLDS)
    )


def _side(apart: float, room: float) -> int:
    """Which side shows more: 1 the first, −1 the second, 0 neither."""
    return 0 if abs(apart) <= room else (1 if apart > 0 else -1)


_NO_INTERVAL = "As meters showed it, without an interval."


def _say_pair(claim: MeterClaim, sides: set[int], setups: list[str]) -> str | None:
    """Which of the two shows more, where that is so wherever both were noted."""
    assert claim.b is not None, "a pair has two"
    if sides not in ({1}, {-1}):
        return None
    a, b, less = setups[claim.a], setups[claim.b], sides == {-1}
    if claim.meter is Meter.POWER:
        return f"{a} draws {'less' if less else 'more'} power than {b}."
    word = next(
        word
        for word, (meter, sign) in THAN_WORDS.items()
        if meter is claim.meter and sign == (-1 if less else 1)
    )
    return f"{a} is {word} than {b}."


def _judge_most(claim: MeterClaim, metered: Metered, setups: list[str]) -> Checked:
    known = dict(_comparable(claim, metered, len(setups)))
    others = {setup: value for setup, value in known.items() if setup != claim.a}
    unknown = [name for setup, name in enumerate(setups) if setup not in known]
    if not others or claim.a not in known:
        return Checked(Verdict.UNTESTED, reason=_unknown(claim.meter, unknown))
    own = known[claim.a]
    next_one = max(others.values()) if claim.sign > 0 else min(others.values())
    ahead, room = claim.sign * (own - next_one), _believed(claim.meter, max(own, next_one))
    if ahead > room:
        if unknown:
            reason = f"Of all that were metered. {_unknown(claim.meter, unknown)}"
            return Checked(Verdict.LIKELY, reason=reason, a=claim.a)
        return Checked(Verdict.HOLDS, reason=_NO_INTERVAL, a=claim.a)
    verdict = Verdict.NOISE if ahead >= -room else Verdict.BACKWARDS
    return Checked(verdict, say=_say_most(claim, known, unknown, setups), reason=_NO_INTERVAL)


def _say_most(
    claim: MeterClaim, known: Mapping[int, float], unknown: list[str], setups: list[str]
) -> str | None:
    """Who shows the most, or the least, where all were metered and one is sure to."""
    first, second, *_ = sorted(known, key=lambda setup: -claim.sign * known[setup])
    ahead = claim.sign * (known[first] - known[second])
    if unknown or ahead <= _believed(claim.meter, max(known[first], known[second])):
        return None
    if claim.meter is Meter.POWER:
        return f"{setups[first]} draws the {'most' if claim.sign > 0 else 'least'} power."
    word = next(word for word, what in MOST_WORDS.items() if what == (claim.meter, claim.sign))
    return f"{setups[first]} is the {word}."


def _comparable(claim: MeterClaim, metered: Metered, setups: int) -> Iterator[tuple[int, float]]:
    """Readings of every setup that can be held against the claimed one's: on its tasks alone."""
    own = metered.of(claim.meter, claim.a, claim.task)
    for setup in range(setups):
        found = metered.of(claim.meter, setup, claim.task)
        if own.keys() <= found.keys():
            yield setup, sum(found[task] for task in own) / len(own)


def _unknown(meter: Meter, names: list[str]) -> str:
    what = {Meter.HEAT: "heat", Meter.NOISE: "noise", Meter.POWER: "power"}[meter]
    return f"No reading of {what} is noted of {listed(names, 4)}."
