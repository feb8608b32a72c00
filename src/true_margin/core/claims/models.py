"""Claims about models: the same sentence, judged by what is known of other samples too.

Section 11 of the computation page. One machine of a model was timed, or a few; what a shop
sells is another. So every comparison is judged a second time, by the intervals of the models.
"""

from __future__ import annotations

import math
from dataclasses import replace
from decimal import Decimal

import numpy as np

from true_margin.core.analysis import Analysis, Comparison
from true_margin.core.claims.evidence import say_over
from true_margin.core.claims.forms import OF_PRICES, Claim, Form
from true_margin.core.claims.judge import Judge, end_of, say_place
from true_margin.core.claims.names import Names
from true_margin.core.claims.result import Checked
from true_margin.core.claims.verdicts import Verdict, judge_place
from true_margin.core.claims.words import Told
from true_margin.core.ladder import simultaneous_quantiles
from true_margin.core.margins import Call, Margin, Saving, student_quantile
from true_margin.core.samples import ModelTable, add_units
from true_margin.core.study import FlagArray, Study

ALONE = (Form.TIME, Form.REAL_TIME)
"""What is said of one setup alone compares nothing."""


class ModelJudge(Judge):
    """Judges claims by the models that the named setups are samples of."""

    def __init__(self, analysis: Analysis, names: Names) -> None:
        super().__init__(analysis, names)
        study = analysis.study
        # The lines to say name models, each at the least price of its samples.
        self._study = replace(study, setups=study.model_of, prices=_least_prices(study))

    def judge_models(self, claim: Claim) -> Checked | None:
        """Judge a comparison for the models.

        Returns:
            The verdict; None where the claim compares no models, samples are taken for alike
            and none has several, or nothing is known of the pair.
        """
        study = self._analysis.study
        several = len(set(study.model_of)) < len(study.setups)
        if claim.form in ALONE or claim.form in OF_PRICES or claim.apps is not None:
            return None
        if self._analysis.unit_spread.cv == 0.0 and not several:
            return None
        judged = self.judge(claim)
        told = judged.verdict not in (Verdict.UNTESTED, Verdict.UNREAD, Verdict.ASKED)
        return judged if told else None

    def _margin(self, a: int, b: int, task: int | None) -> tuple[Comparison, Margin] | None:
        found = super()._margin(a, b, task)
        table = self._analysis.models(task)
        if found is None or table is None:
            return None
        places = self._places(table, a, b)
        if places is None or not self._comparable(table, found[0])[places]:
            return None
        pair = table.pair(*places)
        own = pair.models
        margin = replace(
            found[1],
            log_ratio=pair.log_ratio,
            se=own.se,
            df=own.df,
            lo=own.lo,
            hi=own.hi,
            call=own.call,
            handicap=None,
            confidence=pair.confidence,
        )
        return found[0], margin

    def _places(self, table: ModelTable, a: int, b: int) -> tuple[int, int] | None:
        """Places of the models of two setups; None where it is one model, or one is not there."""
        models = self._analysis.study.model_of
        if models[a] == models[b] or not {models[a], models[b]} <= set(table.names):
            return None
        return table.names.index(models[a]), table.names.index(models[b])

    def _by_evidence(self, claim: Claim, a: int, b: int, task: int | None) -> Checked:  # noqa: ARG002
        # A bound, or a note, tells of one machine.
        return self._untested(a, b, task)

    def _say(self, claim: Told) -> str:
        # So wide an interval proves its nearer end, not its middle.
        margin = claim.margin
        if margin is not None and claim.b is not None and margin.call in (Call.CLEAR, Call.AHEAD):
            on = "" if claim.task is None else f" on {self._study.tasks[claim.task].name}"
            names = self._study.setups[claim.a], self._study.setups[claim.b]
            return say_over(*names, (margin.lo, margin.hi), on) or super()._say(claim)
        return super()._say(claim)

    def _saving(self, comparison: Comparison, a: int, b: int) -> Saving:
        table = self._analysis.models(comparison.task)
        places = None if table is None else self._places(table, a, b)
        assert table is not None
        assert places is not None, "a margin was found before"
        one, other = places
        seconds = np.exp(-table.estimate)
        contrasts = comparison.on_ladder
        gradient = seconds[one] * table.mean[one] - seconds[other] * table.mean[other]
        units = seconds[one] * table.by_unit[one] - seconds[other] * table.by_unit[other]
        alone = np.array([max(float(gradient @ contrasts.covariance @ gradient), 0.0)])
        df = np.array([table.df[one, other]])
        square = np.array([float(units @ units)])
        variance, df = add_units(alone, df, square, table.unit_spread)
        confidence = table.pair(one, other).confidence
        half = float(student_quantile(confidence, df)[0]) * math.sqrt(float(variance[0]))
        saved = float(seconds[other] - seconds[one])
        return Saving(saved, saved - half, saved + half)

    def _place(self, claim: Claim, a: int, task: int | None) -> Checked:
        """A place among the models: simultaneous intervals, samples included."""
        table, comparison = self._analysis.models(task), self._analysis.comparison(task)
        model = self._analysis.study.model_of[a]
        if table is None or comparison is None or comparison.bounded or model not in table.names:
            return self._untested(a, None, task)
        m = len(table.names)
        if m < 2:
            return self._untested(a, None, task)
        faster = _surely_faster(table, self._comparable(table, comparison))
        best = (1 + faster.sum(axis=0)).tolist()
        worst = (m - faster.sum(axis=1)).tolist()
        at, first = table.names.index(model), claim.form is Form.FASTEST
        end = end_of(claim, m)
        chance = self._analysis.model_chances(task)[model] if first else None
        verdict = judge_place((best[at], worst[at]), end, chance)
        order = sorted(range(m), key=lambda i: (-float(table.estimate[i]), table.names[i]))
        ends = order if first else order[::-1]
        on = "" if task is None else f" on {self._study.tasks[task].name}"
        lead, next_to = table.names[ends[0]], table.names[ends[1]]
        say: str | None = f"{lead} and {next_to}: too close to call{on}."
        if claim.form is Form.PLACE:
            own = f"{model} is the {say_place(best[at])}{on}."
            say = own if best[at] == worst[at] else None
        elif best[ends[0]] == worst[ends[0]] == end:
            say = f"{lead} is the {claim.form.value.removeprefix('the ')}{on}."
        return Checked(verdict, "rank", float(order.index(at) + 1), best[at], worst[at], say)

    def _comparable(self, table: ModelTable, comparison: Comparison) -> FlagArray:
        on = np.isin(comparison.pairs.contrasts.setups, comparison.standing.on)
        return table.comparable(comparison.pairs.comparable[np.ix_(on, on)])


def _least_prices(study: Study) -> tuple[Decimal | None, ...]:
    models = study.model_of
    least: dict[str, Decimal] = {}
    for model, price in zip(models, study.prices, strict=False):
        if price is not None:
            least[model] = min(price, least.get(model, price))
    return tuple(least.get(model) for model in models)


def _surely_faster(table: ModelTable, comparable: FlagArray) -> FlagArray:
    """Entry (i, j) is True where model i is faster than j beyond doubt, all pairs at once."""
    variance, df = table.widened()
    off = ~np.eye(len(table.names), dtype=bool)
    q = simultaneous_quantiles(table.confidence, table.strict, float(df[off].min()))
    apart = table.estimate[:, None] - table.estimate[None, :]
    return np.asarray((apart > q / math.sqrt(2.0) * np.sqrt(variance)) & comparable & off)
