"""Claims about models: one sample was timed, or a few, and a shop sells another."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest

from tests.core.helpers import margin_of, runs_of
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.claims.check import Checked, check_line, names_of
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.margins import student_quantile
from true_margin.exchange.case_file import build_study

OAK, BIRCH, ELM = [100.0, 101.0, 99.0], [104.5, 105.5, 103.5], [300.0, 303.0, 297.0]


def one_each(**more: Any) -> Analysis:
    """One sample of each: Birch takes 4.5 % longer than Oak, Elm three times as long."""
    runs = runs_of({"Oak": OAK, "Birch": BIRCH, "Elm": ELM}, "film")
    prices = {"Oak": "1000", "Birch": "1000", "Elm": "500"}
    return analyse(build_study({"baseline": "Birch", "runs": runs, "prices": prices, **more}))


def two_of_oak() -> Analysis:
    """Two samples of the model Oak, of which the second is dearer and 1 % slower."""
    second = [1.01 * time for time in OAK]
    runs = runs_of({"Oak no 1": OAK, "Oak no 2": second, "Birch": BIRCH, "Elm": ELM}, "film")
    setups = {name: {"model": "Oak"} for name in ("Oak no 1", "Oak no 2")}
    prices = {"Oak no 1": "1000", "Oak no 2": "1200", "Birch": "1000", "Elm": "900"}
    case = {"baseline": "Birch", "runs": runs, "setups": setups, "prices": prices}
    return analyse(build_study(case))


def check(analysis: Analysis, text: str) -> Checked:
    found = check_line(analysis, names_of(analysis), text)
    assert found is not None, text
    return found


def verdicts(text: str, analysis: Analysis | None = None) -> tuple[Verdict, Verdict]:
    """Of the machines that were tested, and of their models."""
    found = check(one_each() if analysis is None else analysis, text)
    assert found.of_models is not None, text
    return found.verdict, found.of_models.verdict


@pytest.mark.parametrize(
    ("text", "tested", "models"),
    [
        ("Oak is faster than Birch on film.", Verdict.HOLDS, Verdict.NOISE),
        ("Oak is 4.5 % faster than Birch on film.", Verdict.LIKELY, Verdict.NOISE),
        ("Birch is slower than Oak on film.", Verdict.HOLDS, Verdict.NOISE),
        ("Oak is 3 times as fast as Elm on film.", Verdict.HOLDS, Verdict.LIKELY),
        ("Oak is faster than Elm on film.", Verdict.HOLDS, Verdict.HOLDS),
        ("Elm is faster than Oak on film.", Verdict.BACKWARDS, Verdict.BACKWARDS),
        ("Oak is faster than Birch in every task.", Verdict.HOLDS, Verdict.NOISE),
        ("Oak is the fastest on film.", Verdict.HOLDS, Verdict.LIKELY),
        ("Elm is the slowest on film.", Verdict.HOLDS, Verdict.HOLDS),
        ("Birch is the fastest on film.", Verdict.BACKWARDS, Verdict.NOISE),
        ("Oak saves 4.5 seconds over Birch on film.", Verdict.LIKELY, Verdict.NOISE),
        ("Oak is better value than Birch.", Verdict.HOLDS, Verdict.NOISE),
        ("Oak is the best value.", Verdict.HOLDS, Verdict.NOISE),
    ],
)
def test_a_comparison_is_judged_for_the_models_too(
    text: str, tested: Verdict, models: Verdict
) -> None:
    assert verdicts(text) == (tested, models)


def test_the_interval_of_the_models_has_both_samples_in_it() -> None:
    analysis = one_each()
    found = check(analysis, "Oak is 1.05 times as fast as Birch on film.")
    margin = margin_of(analysis, "Oak", "Birch")
    spread = analysis.unit_spread
    by_samples = 2 * spread.cv**2
    variance = margin.se**2 + by_samples
    spent = margin.se**4 / margin.df + by_samples**2 / spread.df
    half = float(student_quantile(0.95, np.array(variance**2 / spent))) * math.sqrt(variance)
    own = found.of_models
    assert own is not None
    assert own.value == pytest.approx(found.value, rel=1e-12)
    assert own.lo == pytest.approx(math.exp(margin.log_ratio - half), rel=1e-9)
    assert own.hi == pytest.approx(math.exp(margin.log_ratio + half), rel=1e-9)


def test_seconds_saved_by_models_carry_the_samples_of_both() -> None:
    analysis = one_each()
    found = check(analysis, "Oak saves 4.5 seconds over Birch on film.")
    own = found.of_models
    assert own is not None
    assert None not in (own.lo, own.hi, found.lo, found.hi)
    assert own.lo < found.lo < found.hi < own.hi  # type: ignore[operator]
    # Half a width is at least that of the samples alone: t · σ_u · √(t_a² + t_b²).
    alone = 2.776 * 0.015 * math.hypot(100.0, 104.5)
    assert (own.hi - own.lo) / 2 > 0.9 * alone  # type: ignore[operator]


def test_samples_that_are_taken_for_alike_ask_nothing_more() -> None:
    analysis = one_each(unit_prior_cv=0)
    assert check(analysis, "Oak is faster than Birch on film.").of_models is None


@pytest.mark.parametrize(
    "text", ["Oak exports film in under 2 minutes.", "Oak takes 1:40 on film."]
)
def test_what_is_said_of_one_alone_compares_no_models(text: str) -> None:
    assert check(one_each(), text).of_models is None


def test_a_name_that_is_a_models_alone_means_the_model() -> None:
    analysis = two_of_oak()
    found = check(analysis, "Oak is over twice as fast as Elm on film.")
    assert found.verdict is Verdict.HOLDS
    assert found.models == ("Oak",)
    theta = analysis.fit.theta[:, 0]
    place = {name: at for at, name in enumerate(analysis.study.setups)}
    mean = (theta[place["Oak no 1"]] + theta[place["Oak no 2"]]) / 2 - theta[place["Elm"]]
    assert found.value == pytest.approx(math.exp(mean), rel=1e-12)


def test_a_line_about_a_model_names_the_model() -> None:
    found = check(two_of_oak(), "Oak is 4 times as fast as Elm on film.")
    assert found.verdict is Verdict.OVERSTATED
    assert found.say is not None
    assert found.say.startswith("Oak is over 2.")


@pytest.mark.parametrize(
    "text", ["Oak is 3 times as fast as Elm on film.", "Elm takes 3 times as long as Oak on film."]
)
def test_the_line_to_say_of_the_models_holds_of_them(text: str) -> None:
    analysis = one_each()
    models = check(analysis, text).of_models
    assert models is not None
    assert models.say is not None
    assert verdicts(models.say, analysis)[1] is Verdict.HOLDS


def test_a_sample_is_still_named_by_its_own_name() -> None:
    tested, models = verdicts("Oak no 1 is faster than Elm on film.", two_of_oak())
    assert (tested, models) == (Verdict.HOLDS, Verdict.HOLDS)


def test_two_samples_of_one_model_are_no_two_models() -> None:
    found = check(two_of_oak(), "Oak no 1 is faster than Oak no 2 on film.")
    assert found.of_models is None


def test_a_model_costs_what_its_cheapest_sample_does() -> None:
    # At 1000 Oak is 2.95 times as fast as Elm at 900; at 1200 it would be less.
    found = check(two_of_oak(), "Oak is better value than Elm.")
    assert found.verdict is Verdict.HOLDS
    assert found.value == pytest.approx(3 / math.sqrt(1.01) * 900 / 1000, rel=2e-3)


def test_a_time_of_a_model_is_asked_of_a_sample() -> None:
    found = check(two_of_oak(), "Oak exports film in under 2 minutes.")
    assert found.verdict is Verdict.UNTESTED
    assert "name one of the samples" in found.reason
