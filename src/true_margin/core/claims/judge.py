"""Judging a claim: the figure, its interval, and the verdict, form by form.

Section 11 of the computation page.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace
from decimal import Decimal

from true_margin.core.bounds import BoundRung
from true_margin.core.claims.counts import judge_count
from true_margin.core.claims.forms import OF_PRICES, Claim, Form
from true_margin.core.claims.names import NamedThing
from true_margin.core.claims.numbers import Hedge, SpokenNumber
from true_margin.core.claims.pair_judge import PairJudge, with_figure
from true_margin.core.claims.prices import judge_price
from true_margin.core.claims.result import Checked
from true_margin.core.claims.verdicts import (
    STRENGTH,
    Figure,
    Verdict,
    figure_of,
    judge_place,
    region,
)
from true_margin.core.claims.words import Told
from true_margin.core.ladder import Rung
from true_margin.core.margins import Margin, decide_call, own_half
from true_margin.core.numerals import short
from true_margin.core.study import Measure
from true_margin.core.wording import listed


class Judge(PairJudge):
    """Judges claims about one analysis: about the machines that were tested."""

    def judge(self, claim: Claim) -> Checked:
        """Judge a claim."""
        if claim.missing is not None:
            where = f"Nothing here is called {claim.missing!r}."
            return Checked(Verdict.UNTESTED, reason=where)
        for found in (claim.a, claim.b):
            several = found is not None and found.kind == "S" and len(found.which) > 1
            if found is not None and several and not found.model:
                return _ask(found.text, [self._study.setups[s] for s in found.which])
        many = claim.hedge is Hedge.UP_TO or claim.form is Form.EVERY
        if claim.tasks is not None and len(claim.tasks) > 1 and not many and claim.apps is None:
            which = [self._study.tasks[t].name for t in claim.tasks]
            return _ask("the task", which)
        if claim.apps is not None:
            return self._two_apps(claim)
        judged = [self._one(claim, a, b) for a, b in self._pairs(claim)]
        if not judged:
            return Checked(Verdict.UNREAD, reason="This compares a machine with itself.")
        # A group is as good as its weakest member.
        return max(judged, key=lambda each: STRENGTH.index(each.verdict))

    def _pairs(self, claim: Claim) -> Iterator[tuple[int, int | None]]:
        for a in () if claim.a is None else _members(claim.a):
            others: tuple[int | None, ...] = (None,) if claim.b is None else _members(claim.b)
            for b in others:
                if a != b:
                    yield a, b

    def _one(self, claim: Claim, a: int, b: int | None) -> Checked:
        task = None if claim.tasks is None else claim.tasks[0]
        found = self._of_one(claim, a, b, task)
        if found is None:
            found = (
                Checked(Verdict.UNREAD, reason="Compared with what?")
                if b is None
                else self._of_two(claim, a, b, task)
            )
        whole = claim.form in OF_PRICES or claim.form is Form.COUNT
        return replace(found, a=a, b=b, task=found.task if whole or claim.every else task)

    def _of_one(self, claim: Claim, a: int, b: int | None, task: int | None) -> Checked | None:
        """Judge what needs no second setup; None where it does."""
        if claim.form in OF_PRICES:
            return judge_price(self._study, claim, a, b)
        if claim.form in (Form.TIME, Form.REAL_TIME):
            return self._alone(claim, a, task)
        if claim.below is not None:
            return self._fastest_below(claim.below, a, task)
        if claim.form in PLACES:
            return self._place(claim, a, task)
        if claim.form is Form.BEST_VALUE:
            return self._best_value(a)
        return self._count(claim, a, b) if claim.form is Form.COUNT else None

    def _of_two(self, claim: Claim, a: int, b: int, task: int | None) -> Checked:
        if claim.form is Form.EVERY:
            return self._every(claim, a, b)
        if claim.form is Form.VALUE:
            return self._value(a, b)
        if claim.form is Form.SAVED:
            return self._saved(claim, a, b, task)
        if claim.hedge is Hedge.UP_TO:
            return self._up_to(claim, a, b)
        return self._in_each(claim, a, b) if claim.every else self._pair(claim, a, b, task)

    def _count(self, claim: Claim, a: int, b: int | None) -> Checked:
        """In how many tasks one is ahead of another, or of all."""
        verdicts, nearest = [], []
        for task in self._weighted():
            if b is None:
                first = self._place(replace(claim, form=Form.FASTEST, number=None), a, task)
                verdicts.append(first.verdict)
                nearest.append(first.value == 1.0)
                continue
            found = self._margin(a, b, task)
            known = Verdict.UNTESTED if found is None else self._bare(1, "", found[1])
            verdicts.append(known)
            nearest.append(found is not None and found[1].log_ratio > 0)
        other = None if b is None else self._study.setups[b]
        return judge_count(claim, verdicts, nearest, (self._study.setups[a], other))

    def _fastest_below(self, price: float, a: int, task: int | None) -> Checked:
        """The fastest of those that cost less than so much: ahead of each of the others."""
        prices = self._study.prices
        own = prices[a] if prices else None
        name = self._study.setups[a]
        if own is None:
            return Checked(Verdict.UNTESTED, reason=f"{name} has no price here.")
        if float(own) > price:
            reason = f"{name} costs {short(float(own), 2)}."
            return Checked(Verdict.OVERSTATED, reason=reason)
        found = []
        for other, cost in enumerate(prices):
            if other == a or (cost is not None and float(cost) > price):
                continue
            if cost is None:
                reason = f"{self._study.setups[other]} has no price here."
                found.append(Checked(Verdict.UNTESTED, reason=reason))
            else:
                found.append(self._pair(Claim(Form.BARE), a, other, task))
        if not found:
            return Checked(Verdict.HOLDS, reason=f"Nothing else costs under {short(price, 2)}.")
        return max(found, key=lambda each: STRENGTH.index(each.verdict))

    def _alone(self, claim: Claim, a: int, task: int | None) -> Checked:
        if task is None:
            return Checked(Verdict.UNREAD, reason="A time belongs to one task: say on which.")
        facts = self._study.tasks[task]
        comparison = self._analysis.comparison(task)
        places = [] if comparison is None else comparison.pairs.contrasts.setups.tolist()
        real = claim.form is Form.REAL_TIME
        timed = facts.measure is Measure.TIME
        if comparison is None or a not in places or not timed:
            return self._untested(a, None, task)
        if real and (facts.work is None or facts.unit not in ("s", None)):
            reason = f"{facts.name} has no real time: its work is not seconds of timeline."
            return Checked(Verdict.UNTESTED, reason=reason)
        contrasts = comparison.pairs.contrasts
        at = places.index(a)
        theta = float(contrasts.estimate[at])
        half = own_half(contrasts, at, self._study.settings.confidence)
        seconds = [math.exp(-x) for x in (theta, theta + half, theta - half)]
        if real:
            work = facts.work or 1.0
            seconds = [work / x for x in (seconds[0], seconds[2], seconds[1])]
        figure = Figure(seconds[0], seconds[1], seconds[2], math.nan)
        assert claim.number is not None
        lo, hi = region(claim.form, claim.number, claim.hedge)
        if _to_the_second(claim) and not _agrees(claim.number, figure):
            flatters = claim.number.value < figure.value
            verdict = Verdict.OVERSTATED if flatters else Verdict.UNDERSTATED
        elif lo <= figure.value <= hi:
            inside = lo <= figure.lo and figure.hi <= hi
            verdict = Verdict.HOLDS if inside else Verdict.LIKELY
        else:
            # Overstated is what flatters the setup: less time, or more speed, than it has.
            flatters = (claim.number.value < figure.value) != real
            verdict = Verdict.OVERSTATED if flatters else Verdict.UNDERSTATED
        told = Told(claim.form, a, None, task, None, figure.value)
        unit = Form.REAL_TIME.value if real else "seconds"
        return with_figure(verdict, unit, figure, self._say(told))

    def _place(self, claim: Claim, a: int, task: int | None) -> Checked:
        form = claim.form
        comparison = self._analysis.comparison(task)
        rungs = () if comparison is None else comparison.rungs
        bounded = () if comparison is None else comparison.bounded
        if any(each.setup == a for each in bounded):
            return self._place_by_bound(claim, a, task, (*rungs, *bounded))
        rung = next((r for r in rungs if r.setup == a), None)
        if rung is None or len(rungs) + len(bounded) < 2:
            return self._untested(a, None, task)
        first = form is Form.FASTEST
        end = end_of(claim, len(rungs) + len(bounded))
        ranks, chance = (rung.best_rank, rung.worst_rank), rung.p_fastest if first else None
        verdict = judge_place(ranks, end, chance)
        if bounded:
            return self._place_by_bound(claim, a, task, (*rungs, *bounded), verdict)
        if form is Form.PLACE:
            return self._of_place(rungs, rung, verdict, task)
        leader = rungs[0] if first else rungs[-1]
        on = "" if task is None else f" on {self._study.tasks[task].name}"
        sure = leader.best_rank == leader.worst_rank
        name = self._study.setups[leader.setup]
        say = (
            f"{name} is the {form.value.removeprefix('the ')}{on}."
            if sure
            else (
                f"{name} and {self._study.setups[rungs[1 if first else -2].setup]}: "
                f"too close to call{on}."
            )
        )
        return Checked(
            verdict, "rank", float(rungs.index(rung) + 1), rung.best_rank, rung.worst_rank, say
        )

    def _of_place(
        self, rungs: Sequence[Rung], rung: Rung, verdict: Verdict, task: int | None
    ) -> Checked:
        """A place between the first and the last; the line to say is its own place, if sure."""
        on = "" if task is None else f" on {self._study.tasks[task].name}"
        name = self._study.setups[rung.setup]
        say = None
        if rung.best_rank == rung.worst_rank:
            say = f"{name} is the {say_place(rung.best_rank)}{on}."
        at = float(rungs.index(rung) + 1)
        return Checked(verdict, "rank", at, rung.best_rank, rung.worst_rank, say)

    def _worth(self, a: int, b: int) -> Margin | None:
        """The margin of value of a over b on the mix."""
        found = self._margin(a, b, None)
        prices = self._study.prices
        if found is None or not prices:
            return None
        one, other = prices[a], prices[b]
        if one is None or other is None or min(one, other) <= Decimal(0):
            return None
        shift = math.log(float(other / one))
        margin = found[1]
        lo, hi = margin.lo + shift, margin.hi + shift
        return replace(
            margin,
            log_ratio=margin.log_ratio + shift,
            lo=lo,
            hi=hi,
            call=decide_call(lo, hi, self._m),
        )

    def _value(self, a: int, b: int) -> Checked:
        margin = self._worth(a, b)
        if margin is None:
            return Checked(Verdict.UNTESTED, reason="A price or a measurement is missing.")
        verdict = self._bare(1, "", margin)
        better, worse = (a, b) if margin.log_ratio > 0 else (b, a)
        say = f"{self._study.setups[better]} is better value than {self._study.setups[worse]}."
        if verdict is Verdict.NOISE:
            say = f"{self._study.setups[a]} and {self._study.setups[b]} are about as good value."
        return with_figure(verdict, "value", figure_of(Form.RATIO, margin), say)

    def _place_by_bound(
        self,
        claim: Claim,
        a: int,
        task: int | None,
        places: Sequence[Rung | BoundRung],
        known: Verdict | None = None,
    ) -> Checked:
        """A first or last place where some are known by bounds only: by the ranks alone."""
        end = end_of(claim, len(places))
        own = next(each for each in places if each.setup == a)
        verdict = judge_place((own.best_rank, own.worst_rank), end, None)
        sure = next((p for p in places if p.best_rank == p.worst_rank == end), None)
        on = "" if task is None else f" on {self._study.tasks[task].name}"
        word = say_place(end) if claim.form is Form.PLACE else claim.form.value.removeprefix("the ")
        say = None if sure is None else f"{self._study.setups[sure.setup]} is the {word}{on}."
        return Checked(
            known or verdict,
            "rank",
            lo=own.best_rank,
            hi=own.worst_rank,
            say=say,
            reason="Some are known by a bound alone.",
        )

    def _best_value(self, a: int) -> Checked:
        others = [s for s in range(len(self._study.setups)) if s != a]
        margins = [m for s in others if (m := self._worth(a, s)) is not None]
        if not margins:
            return Checked(Verdict.UNTESTED, reason="A price or a measurement is missing.")
        worst = min(margins, key=lambda margin: margin.log_ratio)
        verdict = max((self._bare(1, "", m) for m in margins), key=STRENGTH.index)
        best = a if worst.log_ratio > 0 else worst.b
        say = f"{self._study.setups[best]} is better value than {self._study.setups[a]}."
        if best == a:
            say = f"{self._study.setups[a]} is the best value."
        return with_figure(verdict, "value", figure_of(Form.RATIO, worst), say)


PLACES = (Form.FASTEST, Form.SLOWEST, Form.PLACE)


def end_of(claim: Claim, many: int) -> int:
    """The place that is claimed, of so many."""
    if claim.form is Form.PLACE and claim.number is not None:
        return int(claim.number.value)
    return 1 if claim.form is Form.FASTEST else many


def say_place(place: int) -> str:
    """A place as a superlative: "fastest", "2nd fastest".

    Example:
        >>> say_place(1), say_place(3), say_place(12)
        ('fastest', '3rd fastest', '12th fastest')
    """
    if place == 1:
        return "fastest"
    ending = "th" if 10 < place % 100 < 14 else {1: "st", 2: "nd", 3: "rd"}.get(place % 10, "th")
    return f"{place}{ending} fastest"


A_SECOND = 0.5
"""Half the last digit of a time that is said to the second."""


def _to_the_second(claim: Claim) -> bool:
    """Whether a time is said as it is read off: "33:52", not "34 minutes", not "about 33:52"."""
    said = claim.number
    exact = claim.form is Form.TIME and claim.hedge is Hedge.NONE and said is not None
    return exact and said is not None and said.half_digit <= A_SECOND and said.value >= 60.0


def _agrees(said: SpokenNumber, figure: Figure) -> bool:
    """Whether a time that was read off may still be read off: it lies in the interval."""
    near = abs(said.value - figure.value) <= 2.0 * said.half_digit
    return near or figure.lo - said.half_digit <= said.value <= figure.hi + said.half_digit


def _ask(text: str, which: list[str]) -> Checked:
    return Checked(Verdict.ASKED, reason=f"{text} may mean {listed(which)}: say which.")


def _members(found: NamedThing) -> tuple[int, ...]:
    """Setups that a name stands for; one of them for a model, whose samples are judged as one."""
    return found.which[:1] if found.model else found.which
