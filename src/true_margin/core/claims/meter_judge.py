"""Claims about heat, noise and power held against what meters showed.

A meter has no interval here: it is believed to so much, and what lies within that is no
difference. Heat and noise are the highest that was noted of a setup, power is the mean of a task.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

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

    def of(self, meter: Meter, setup: int, task: int | None) -> dict[int, float]:
        """Readings of a setup by task, or on one task alone."""
        every = {Meter.HEAT: self.heat, Meter.NOISE: self.noise, Meter.POWER: self.power}[meter]
        return {
            on: value for (at, on), value in every.items() if at == setup and task in (None, on)
        }


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
    if claim.meter is Meter.POWER and len(own) > 1:
        return _say_which_task(own, tasks)
    # Heat and noise are the highest that they were, on whatever task.
    value = max(own.values())
    verdict = _judge_amount(claim, value, _believed(claim.meter, value))
    on = f" on {tasks[claim.task]}" if claim.task is not None else ""
    say = f"{setups[claim.a]} {_VERB[claim.meter]} {_figure(claim.meter, value)}{on}."
    return _told(verdict, claim, say, value)


def _say_which_task(on: Iterable[int], tasks: list[str]) -> Checked:
    named = listed([tasks[task] for task in on])
    return Checked(Verdict.ASKED, reason=f"It was noted on {named}: say on which task.")


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


@dataclass(frozen=True, slots=True)
class _Apart:
    """How far apart two are on each task that both were metered on; ``sides`` says which way."""

    one: Mapping[int, float]
    other: Mapping[int, float]
    by: Mapping[int, float]
    sides: frozenset[int]


def _apart(claim: MeterClaim, metered: Metered, b: int) -> _Apart:
    """Hold like against like: a reading on one task says nothing of another one's."""
    one = metered.of(claim.meter, claim.a, claim.task)
    other = metered.of(claim.meter, b, claim.task)
    by = {task: one[task] - other[task] for task in one if task in other}
    sides = frozenset(
        _side(apart, _believed(claim.meter, max(one[task], other[task])))
        for task, apart in by.items()
    )
    return _Apart(one, other, by, sides)


def _judge_pair(
    claim: MeterClaim, metered: Metered, setups: list[str], tasks: list[str]
) -> Checked:
    assert claim.b is not None, "a pair has two"
    found = _apart(claim, metered, claim.b)
    if not found.by:
        unknown = _unknown(claim.meter, [setups[claim.b]])
        reason = "It was noted of the two on different tasks." if found.other else unknown
        return Checked(Verdict.UNTESTED, reason=reason)
    on = f" on {tasks[claim.task]}" if claim.task is not None else ""
    say = _say_pair(claim, found.sides, setups, on)
    reason = _NO_INTERVAL
    if len(found.by) == 1:
        ((task, _),) = found.by.items()
        shown = [_figure(claim.meter, side[task]) for side in (found.one, found.other)]
        reason = f"{shown[0].split(' ')[0]} against {shown[1]}. {_NO_INTERVAL}"
    if found.sides != {claim.sign}:
        verdict = Verdict.BACKWARDS if found.sides == {-claim.sign} else Verdict.NOISE
    elif claim.number is None:
        verdict = _judge_degree(claim, found)
    elif len(found.by) > 1:
        return _say_which_task(found.by, tasks)
    else:
        ((task, apart),) = found.by.items()
        room = _believed(claim.meter, max(found.one[task], found.other[task]))
        verdict = _judge_amount(claim, abs(apart), room)
        return _told(verdict, claim, say, abs(apart))
    told = None if verdict is Verdict.HOLDS else say
    return Checked(verdict, say=told, reason=reason, a=claim.a, b=claim.b, task=claim.task)


def _judge_degree(claim: MeterClaim, found: _Apart) -> Verdict:
    """Hold "much" and "slightly" against how far apart the two are, wherever both were noted."""
    much = MUCH[claim.meter]
    # Power is much less as a part of the other's, heat and noise by so many units.
    part = claim.meter is Meter.POWER
    by = [
        abs(apart) / (max(found.one[task], found.other[task]) if part else 1.0)
        for task, apart in found.by.items()
    ]
    if claim.degree == "much" and min(by) < much:
        return Verdict.OVERSTATED
    too_little = claim.degree == "slightly" and max(by) >= much
    return Verdict.UNDERSTATED if too_little else Verdict.HOLDS


def _side(apart: float, room: float) -> int:
    """Which side shows more: 1 the first, −1 the second, 0 neither."""
    return 0 if abs(apart) <= room else (1 if apart > 0 else -1)


_NO_INTERVAL = "As meters showed it, without an interval."


def _say_pair(claim: MeterClaim, sides: frozenset[int], setups: list[str], on: str) -> str | None:
    """Which of the two shows more, where that is so wherever both were noted."""
    assert claim.b is not None, "a pair has two"
    if sides not in ({1}, {-1}):
        return None
    a, b, less = setups[claim.a], setups[claim.b], sides == {-1}
    if claim.meter is Meter.POWER:
        return f"{a} draws {'less' if less else 'more'} power than {b}{on}."
    word = next(
        word
        for word, (meter, sign) in THAN_WORDS.items()
        if meter is claim.meter and sign == (-1 if less else 1)
    )
    return f"{a} is {word} than {b}{on}."


def _judge_most(claim: MeterClaim, metered: Metered, setups: list[str]) -> Checked:
    verdict, unknown = _most(claim, metered, setups)
    reason = _NO_INTERVAL
    if unknown:
        reason = f"Of all that were metered on its tasks. {_unknown(claim.meter, unknown)}"
    say = None
    if verdict in (Verdict.NOISE, Verdict.BACKWARDS):
        each = (replace(claim, a=setup) for setup in range(len(setups)))
        sure = (one for one in each if _most(one, metered, setups)[0] is Verdict.HOLDS)
        say = next((_say_most(one, setups) for one in sure), None)
    return Checked(verdict, say=say, reason=reason, a=claim.a)


def _most(claim: MeterClaim, metered: Metered, setups: list[str]) -> tuple[Verdict, list[str]]:
    """Whether a setup shows the most, or the least, of all, and whom it cannot be held against."""
    others = [setup for setup in range(len(setups)) if setup != claim.a]
    found = {setup: _apart(claim, metered, setup).sides for setup in others}
    unknown = [setups[setup] for setup in others if not found[setup]]
    sides = [each for each in found.values() if each]
    if not sides:
        return Verdict.UNTESTED, unknown
    if any(each == {-claim.sign} for each in sides):
        return Verdict.BACKWARDS, unknown
    if any(each != {claim.sign} for each in sides):
        return Verdict.NOISE, unknown
    return (Verdict.LIKELY if unknown else Verdict.HOLDS), unknown


def _say_most(claim: MeterClaim, setups: list[str]) -> str:
    if claim.meter is Meter.POWER:
        return f"{setups[claim.a]} draws the {'most' if claim.sign > 0 else 'least'} power."
    word = next(word for word, what in MOST_WORDS.items() if what == (claim.meter, claim.sign))
    return f"{setups[claim.a]} is the {word}."


def _unknown(meter: Meter, names: list[str]) -> str:
    what = {Meter.HEAT: "heat", Meter.NOISE: "noise", Meter.POWER: "power"}[meter]
    return f"No reading of {what} is noted of {listed(names, 4)}."
