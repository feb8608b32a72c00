"""Judging a claim: the figure, its interval, and the verdict, form by form.

Section 11 of the computation page.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from decimal import Decimal

from true_margin.core.analysis import Analysis, Comparison
from true_margin.core.bounds import BoundRung
from true_margin.core.claims.evidence import judge_bound, noted_words, say_proven
from true_margin.core.claims.forms import Claim, Form
from true_margin.core.claims.names import NamedThing, Names
from true_margin.core.claims.numbers import Hedge
from true_margin.core.claims.verdicts import (
    MUCH,
    OF_MARGIN,
    SLIGHT,
    STRENGTH,
    Figure,
    Verdict,
    figure_of,
    judge_number,
    judge_place,
    judge_sameness,
    region,
)
from true_margin.core.claims.words import Told, say_instead
from true_margin.core.ladder import Rung
from true_margin.core.margins import Call, Margin, Saving, decide_call, own_half, time_saved
from true_margin.core.numerals import fixed
from true_margin.core.same_work import margin_between_tasks
from true_margin.core.study import Measure, Study
from true_margin.core.wording import listed


@dataclass(frozen=True, slots=True)
class Checked:
    """A claim with its verdict.

    Attributes:
        verdict: what the data says.
        quantity: what the figure is, such as "times as fast"; None where there is none.
        value, lo, hi: the figure and its interval, in the claim's unit.
        say: a line that holds, to say instead or as well; None where there is none.
        reason: why it was not judged, or what is worth knowing; empty otherwise.
        a, b: indices of the setups, where they are single ones.
        task: index of the task; None for the mix or several.
        cause: the cause that the sentence names.
        of_models: the same for the models that the machines are samples of; None where that
            is no other question.
        models: names of the models, where the claim itself is about models.
    """

    verdict: Verdict
    quantity: str | None = None
    value: float | None = None
    lo: float | None = None
    hi: float | None = None
    say: str | None = None
    reason: str = ""
    a: int | None = None
    b: int | None = None
    task: int | None = None
    cause: str | None = None
    of_models: Checked | None = None
    models: tuple[str, ...] = ()


_MANY = {
    "is known by a bound alone": "are known by a bound alone",
    "was not tested on it": "were not tested on it",
}
"""Why several cannot be judged, where it is said otherwise of one."""


class Judge:
    """Judges claims about one analysis: about the machines that were tested."""

    def __init__(self, analysis: Analysis, names: Names) -> None:
        self._analysis, self._names = analysis, names
        self._study: Study = analysis.study
        self._m = math.log1p(self._study.settings.materiality)

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
        if claim.form in (Form.TIME, Form.REAL_TIME):
            found = self._alone(claim, a, task)
        elif claim.form in (Form.FASTEST, Form.SLOWEST):
            found = self._place(claim.form, a, task)
        elif claim.form is Form.BEST_VALUE:
            found = self._best_value(a)
        elif b is None:
            found = Checked(Verdict.UNREAD, reason="Compared with what?")
        elif claim.form is Form.EVERY:
            found = self._every(claim, a, b)
        elif claim.form is Form.VALUE:
            found = self._value(a, b)
        elif claim.form is Form.SAVED:
            found = self._saved(claim, a, b, task)
        elif claim.hedge is Hedge.UP_TO:
            found = self._up_to(claim, a, b)
        else:
            found = self._pair(claim, a, b, task)
        return replace(found, a=a, b=b, task=task)

    def _margin(self, a: int, b: int, task: int | None) -> tuple[Comparison, Margin] | None:
        comparison = self._analysis.comparison(task)
        if comparison is None:
            return None
        places = comparison.pairs.contrasts.setups.tolist()
        if a not in places or b not in places:
            return None
        margin = comparison.pairs.margin(places.index(a), places.index(b))
        return None if margin.call is Call.NOT_COMPARABLE else (comparison, margin)

    def _untested(self, a: int, b: int | None, task: int | None) -> Checked:
        who = [self._study.setups[s] for s in (a, b) if s is not None]
        on = "the mix" if task is None else self._study.tasks[task].name
        return Checked(
            Verdict.UNTESTED,
            reason=f"{listed(who)} cannot be {'judged' if b is None else 'compared'} on {on}: "
            f"{self._why_untested(a, b, task)}.",
        )

    def _why_untested(self, a: int, b: int | None, task: int | None) -> str:
        """The one thing that stands in the way of judging a setup, or two."""
        comparison = self._analysis.comparison(task)
        off = {} if comparison is None else {each.setup: each for each in comparison.standing.off}
        setups = [s for s in (a, b) if s is not None]
        for field, words in (
            ("cannot", "failed it"),
            ("bounds", "is known by a bound alone"),
            ("lacks", "was not tested on it"),
        ):
            who = [self._study.setups[s] for s in setups if s in off and getattr(off[s], field)]
            if who:
                return f"{listed(who)} {words if len(who) == 1 else _MANY.get(words, words)}"
        if any(off[s].not_same_job for s in setups if s in off):
            return "they did not do the same job"
        if any(off[s].no_bridge for s in setups if s in off):
            return "no machine was tested in both of their rounds"
        return "they did not do the same job" if b is not None else "it was not tested there"

    def _say(self, claim: Told) -> str:
        return say_instead(claim, self._study)

    def _pair(self, claim: Claim, a: int, b: int, task: int | None) -> Checked:
        found = self._margin(a, b, task)
        if found is None:
            return self._by_evidence(claim, a, b, task)
        margin = found[1]
        told = Told(claim.form, a, b, task, margin)
        if claim.number is not None:
            figure = figure_of(claim.form, margin)
            allowed = region(claim.form, claim.number, claim.hedge)
            verdict = judge_number(figure, claim.number.value, allowed)
            return _with(verdict, claim.form.value, figure, self._say(told))
        figure = figure_of(Form.RATIO, margin)
        if claim.form is Form.SAME:
            verdict = judge_sameness(margin)
        elif claim.form is Form.OPEN:
            near = margin.call in (Call.OPEN, Call.LEVEL)
            verdict = Verdict.HOLDS if near else Verdict.UNDERSTATED
        else:
            verdict = self._bare(claim.sign, claim.degree, margin)
        reason = ""
        if verdict is Verdict.NOISE and margin.call is Call.LEVEL:
            reason = "Too small to matter."
        return replace(_with(verdict, Form.RATIO.value, figure, self._say(told)), reason=reason)

    def _by_evidence(self, claim: Claim, a: int, b: int, task: int | None) -> Checked:
        """Judge a pair that was not measured by its bounds, or say what was noted of it."""
        untested = self._untested(a, b, task)
        if task is None:
            return untested
        bound = self._analysis.bound_margin(task, a, b)
        if bound is not None:
            ends = (math.exp(bound.lo), math.exp(bound.hi))
            return Checked(
                judge_bound(claim, bound),
                Form.RATIO.value,
                lo=ends[0] if bound.low is not None else None,
                hi=ends[1] if bound.high is not None else None,
                say=say_proven(self._analysis, bound, task),
                reason="Known by a bound alone.",
            )
        words = noted_words(self._analysis, a, b, task)
        return untested if words is None else replace(untested, reason=words)

    def _bare(self, sign: int, degree: str, margin: Margin) -> Verdict:
        if margin.call is Call.LEVEL or margin.lo < 0 < margin.hi:
            return Verdict.NOISE
        if sign * margin.log_ratio < 0:
            return Verdict.BACKWARDS
        if not degree:
            return Verdict.HOLDS
        ends = sorted(math.exp(sign * x) for x in (margin.lo, margin.hi))
        figure = Figure(math.exp(sign * margin.log_ratio), ends[0], ends[1], 1.0)
        if degree == "much":
            return judge_number(figure, MUCH, (MUCH, math.inf))
        return judge_number(figure, SLIGHT, (1.0, SLIGHT))

    def _up_to(self, claim: Claim, a: int, b: int) -> Checked:
        tasks = self._weighted() if claim.tasks is None else list(claim.tasks)
        figures = {
            task: figure_of(claim.form, found[1])
            for task in tasks
            if (found := self._margin(a, b, task)) is not None and claim.form in OF_MARGIN
        }
        if not figures or claim.number is None:
            return self._untested(a, b, None)
        sign = 1 if claim.number.value > next(iter(figures.values())).none else -1
        task = max(figures, key=lambda t: sign * figures[t].value)
        figure = figures[task]
        allowed = region(claim.form, claim.number, Hedge.NONE)
        verdict = judge_number(figure, claim.number.value, allowed)
        found = self._margin(a, b, task)
        assert found is not None
        say = self._say(Told(claim.form, a, b, task, found[1]))
        return _with(verdict, claim.form.value, figure, say)

    def _weighted(self) -> list[int]:
        return [task for task, weight in enumerate(self._study.mix) if weight > 0]

    def _every(self, claim: Claim, a: int, b: int) -> Checked:
        tasks = self._weighted() if claim.tasks is None else list(claim.tasks)
        found = {task: self._margin(a, b, task) for task in tasks}
        calls = {
            task: Verdict.UNTESTED if each is None else self._bare(claim.sign, "", each[1])
            for task, each in found.items()
        }
        verdicts = list(calls.values())
        back = verdicts.count(Verdict.BACKWARDS)
        if Verdict.UNTESTED in verdicts or not verdicts:
            verdict = Verdict.UNTESTED
        elif back:
            verdict = Verdict.BACKWARDS if back == len(verdicts) else Verdict.OVERSTATED
        else:
            verdict = max(verdicts, key=STRENGTH.index)
        name_a, name_b = self._study.setups[a], self._study.setups[b]
        ahead = [self._study.tasks[t].name for t, v in calls.items() if v is Verdict.HOLDS]
        word = "faster" if claim.sign > 0 else "slower"
        say = f"{name_a} is {word} than {name_b} on {listed(ahead)}." if ahead else None
        if verdict is Verdict.HOLDS and claim.tasks is None:
            say = f"{name_a} is {word} than {name_b} in every task."
        return Checked(verdict, say=say)

    def _saved(self, claim: Claim, a: int, b: int, task: int | None) -> Checked:
        if task is None:
            return Checked(Verdict.UNREAD, reason="Time saved belongs to one task: say on which.")
        found = self._margin(a, b, task)
        if found is None or self._study.tasks[task].measure is not Measure.TIME:
            return self._untested(a, b, task)
        saving = self._saving(found[0], a, b)
        ends = sorted((claim.sign * saving.lo, claim.sign * saving.hi))
        figure = Figure(claim.sign * saving.seconds, ends[0], ends[1], 0.0)
        assert claim.number is not None
        allowed = region(claim.form, claim.number, claim.hedge)
        verdict = judge_number(figure, claim.number.value, allowed)
        told = Told(claim.form, a, b, task, found[1], saving.seconds)
        return _with(verdict, "seconds", figure, self._say(told))

    def _saving(self, comparison: Comparison, a: int, b: int) -> Saving:
        """Seconds that a saves over b on the task of a comparison."""
        contrasts = comparison.pairs.contrasts
        places = contrasts.setups.tolist()
        level = self._study.settings.confidence
        return time_saved(contrasts, places.index(a), places.index(b), level)

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
        if lo <= figure.value <= hi:
            inside = lo <= figure.lo and figure.hi <= hi
            verdict = Verdict.HOLDS if inside else Verdict.LIKELY
        else:
            # Overstated is what flatters the setup: less time, or more speed, than it has.
            flatters = (claim.number.value < figure.value) != real
            verdict = Verdict.OVERSTATED if flatters else Verdict.UNDERSTATED
        told = Told(claim.form, a, None, task, None, figure.value)
        unit = Form.REAL_TIME.value if real else "seconds"
        return _with(verdict, unit, figure, self._say(told))

    def _place(self, form: Form, a: int, task: int | None) -> Checked:
        comparison = self._analysis.comparison(task)
        rungs = () if comparison is None else comparison.rungs
        bounded = () if comparison is None else comparison.bounded
        if any(each.setup == a for each in bounded):
            return self._place_by_bound(form, a, task, (*rungs, *bounded))
        rung = next((r for r in rungs if r.setup == a), None)
        if rung is None or len(rungs) + len(bounded) < 2:
            return self._untested(a, None, task)
        first = form is Form.FASTEST
        end = 1 if first else len(rungs) + len(bounded)
        ranks, chance = (rung.best_rank, rung.worst_rank), rung.p_fastest if first else None
        verdict = judge_place(ranks, end, chance)
        if bounded:
            return self._place_by_bound(form, a, task, (*rungs, *bounded), verdict)
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
        return _with(verdict, "value", figure_of(Form.RATIO, margin), say)

    def _place_by_bound(
        self,
        form: Form,
        a: int,
        task: int | None,
        places: Sequence[Rung | BoundRung],
        known: Verdict | None = None,
    ) -> Checked:
        """A first or last place where some are known by bounds only: by the ranks alone."""
        end = 1 if form is Form.FASTEST else len(places)
        own = next(each for each in places if each.setup == a)
        verdict = judge_place((own.best_rank, own.worst_rank), end, None)
        sure = next((p for p in places if p.best_rank == p.worst_rank == end), None)
        on = "" if task is None else f" on {self._study.tasks[task].name}"
        word = form.value.removeprefix("the ")
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
        return _with(verdict, "value", figure_of(Form.RATIO, worst), say)

    def _two_apps(self, claim: Claim) -> Checked:
        """One setup in two apps, on the task that is named or the only one that both do."""
        assert claim.apps is not None
        setup = None if claim.a is None else claim.a.which[0]
        within = set(range(len(self._study.tasks))) if claim.tasks is None else set(claim.tasks)
        chosen = []
        for app in claim.apps:
            own = [t for t in sorted(within) if self._names.apps[t].casefold() == app.casefold()]
            if len(own) != 1:
                reason = f"{app} does {len(own)} of the tasks that may be meant: name the task."
                return Checked(Verdict.ASKED if own else Verdict.UNTESTED, reason=reason)
            chosen.append(own[0])
        if setup is None:
            return Checked(Verdict.UNREAD, reason="Which machine?")
        doubt = self._study.doubt_between(*chosen)
        if doubt is not None and not doubt.nearly:
            reason = f"They are not the same work, by a person's word: {doubt.reason}"
            return Checked(Verdict.UNTESTED, reason=reason)
        margin = margin_between_tasks(self._analysis, setup, *chosen)
        if margin is None or claim.form not in (*OF_MARGIN, Form.BARE, Form.SAME):
            return self._untested(setup, None, chosen[0])
        figure = figure_of(claim.form if claim.number else Form.RATIO, margin)
        if claim.number is not None:
            allowed = region(claim.form, claim.number, claim.hedge)
            verdict = judge_number(figure, claim.number.value, allowed)
        elif claim.form is Form.SAME:
            verdict = judge_sameness(margin)
        else:
            verdict = self._bare(claim.sign, claim.degree, margin)
        one, other = claim.apps
        name = self._study.setups[setup]
        ratio = math.exp(margin.log_ratio)
        say = f"{name} is {fixed(ratio, 2)} times as fast in {one} as in {other}."
        told = replace(_with(verdict, claim.form.value, figure, say), a=setup)
        if doubt is not None:
            told = replace(told, reason=f"Only nearly the same work: {doubt.reason}")
        return told


def _members(found: NamedThing) -> tuple[int, ...]:
    """Setups that a name stands for; one of them for a model, whose samples are judged as one."""
    return found.which[:1] if found.model else found.which


def _with(verdict: Verdict, quantity: str, figure: Figure, say: str | None) -> Checked:
    return Checked(verdict, quantity, figure.value, figure.lo, figure.hi, say)


def _ask(text: str, which: list[str]) -> Checked:
    return Checked(Verdict.ASKED, reason=f"{text} may mean {listed(which)}: say which.")
