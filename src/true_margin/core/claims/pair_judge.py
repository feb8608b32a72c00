"""Judging what a claim says of two setups: their margin, task by task or of all.

Section 11 of the computation page.
"""

from __future__ import annotations

import math
from dataclasses import replace

from true_margin.core.analysis import Analysis, Comparison
from true_margin.core.claims.evidence import judge_bound, noted_words, say_proven
from true_margin.core.claims.forms import Claim, Form
from true_margin.core.claims.names import Names
from true_margin.core.claims.negation import deny
from true_margin.core.claims.numbers import Hedge, SpokenNumber
from true_margin.core.claims.result import Checked
from true_margin.core.claims.verdicts import (
    MUCH,
    OF_MARGIN,
    SLIGHT,
    STRENGTH,
    Figure,
    Verdict,
    figure_of,
    judge_number,
    judge_sameness,
    region,
)
from true_margin.core.claims.words import Told, say_instead
from true_margin.core.margins import Call, Margin, Saving, time_saved
from true_margin.core.numerals import fixed
from true_margin.core.same_work import margin_between_tasks
from true_margin.core.study import Measure, Study
from true_margin.core.wording import listed

_MANY = {
    "is known by a bound alone": "are known by a bound alone",
    "was not tested on it": "were not tested on it",
}
"""Why several cannot be judged, where it is said otherwise of one."""


class PairJudge:
    """Judges what compares two setups of one analysis."""

    def __init__(self, analysis: Analysis, names: Names) -> None:
        self._analysis, self._names = analysis, names
        self._study: Study = analysis.study
        self._m = math.log1p(self._study.settings.materiality)

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
        compared = self._margin(a, b, task)
        if compared is None:
            return self._by_evidence(claim, a, b, task)
        margin = compared[1]
        told = Told(claim.form, a, b, task, margin)
        if claim.number is not None:
            figure = figure_of(claim.form, margin)
            verdict = judge_number(figure, *allowed_by(claim, claim.number, figure))
            return with_figure(verdict, claim.form.value, figure, self._say(told))
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
        return replace(
            with_figure(verdict, Form.RATIO.value, figure, self._say(told)), reason=reason
        )

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
        return with_figure(verdict, claim.form.value, figure, say)

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

    def _in_each(self, claim: Claim, a: int, b: int) -> Checked:
        """What is said of every task, or denied of each: as good as the weakest."""
        found = []
        for task in self._weighted() if claim.tasks is None else claim.tasks:
            one = replace(self._pair(claim, a, b, task), a=a, b=b, task=task)
            found.append(self._denied(one, claim) if claim.denied else one)
        if not found:
            return self._untested(a, b, None)
        weakest = max(found, key=lambda each: STRENGTH.index(each.verdict))
        if weakest.verdict is Verdict.HOLDS:
            return weakest
        names = self._study.tasks
        where = "" if weakest.task is None else f"On {names[weakest.task].name} it is not so."
        stands = weakest.verdict in (Verdict.LIKELY, Verdict.UNTESTED)
        return weakest if stands else replace(weakest, reason=where)

    def _denied(self, found: Checked, claim: Claim) -> Checked:
        return deny(found, claim, self._study.settings.materiality)

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
        return with_figure(verdict, "seconds", figure, self._say(told))

    def _saving(self, comparison: Comparison, a: int, b: int) -> Saving:
        """Seconds that a saves over b on the task of a comparison."""
        contrasts = comparison.pairs.contrasts
        places = contrasts.setups.tolist()
        level = self._study.settings.confidence
        return time_saved(contrasts, places.index(a), places.index(b), level)

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
            verdict = judge_number(figure, *allowed_by(claim, claim.number, figure))
        elif claim.form is Form.SAME:
            verdict = judge_sameness(margin)
        else:
            verdict = self._bare(claim.sign, claim.degree, margin)
        one, other = claim.apps
        name = self._study.setups[setup]
        ratio = math.exp(margin.log_ratio)
        say = f"{name} is {fixed(ratio, 2)} times as fast in {one} as in {other}."
        told = replace(with_figure(verdict, claim.form.value, figure, say), a=setup)
        if doubt is not None:
            told = replace(told, reason=f"Only nearly the same work: {doubt.reason}")
        return told


def allowed_by(
    claim: Claim, number: SpokenNumber, figure: Figure
) -> tuple[float, tuple[float, float]]:
    """The number that is said, of a range the end that is nearer, and what it allows."""
    if claim.high is None:
        return number.value, region(claim.form, number, claim.hedge)
    lo, hi = sorted((number.value, claim.high.value))
    room = max(number.half_digit, claim.high.half_digit)
    nearer = min(max(figure.value, lo), hi)
    return nearer, (lo - room, hi + room)


def with_figure(verdict: Verdict, quantity: str, figure: Figure, say: str | None) -> Checked:
    return Checked(verdict, quantity, figure.value, figure.lo, figure.hi, say)
