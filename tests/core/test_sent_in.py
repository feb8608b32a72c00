"""Results that others sent in: against the setup here, and what they tell of samples."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from tests.core.helpers import runs_of, study_of
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.sent_in import say_sent, sent_difference
from true_margin.core.study import SentRuns, SentSample

TIMES = {"A": [100.0, 101.0, 99.0], "B": [150.0, 151.0, 149.0]}


def field(**more: object) -> Analysis:
    return analyse(study_of([*runs_of(TIMES), *runs_of({"A": [40.0, 40.4]}, "U")], **more))


def sent(*samples: SentSample, **more: object) -> Analysis:
    return analyse(replace(field(**more).study, sent=samples))


def test_a_machine_elsewhere_against_the_one_here() -> None:
    here = field()
    found = sent_difference(here.study, here.cells, 0, [SentRuns(0, (134.0, 134.0), 0.5)])
    assert found is not None
    assert found.log_ratio == pytest.approx(math.log(100 / 134), abs=1e-4)
    spread = here.cells.spread[0]
    assert spread is not None
    assert found.sent_variance == pytest.approx(spread.cv**2 / 2)
    assert found.own_variance == pytest.approx(spread.cv**2 / 3, rel=0.1)
    lo, hi = found.interval(0.95)
    assert lo < found.log_ratio < hi < 0
    assert found.df == spread.df


def test_a_coarse_reading_elsewhere_widens_it() -> None:
    here = field()
    fine = sent_difference(here.study, here.cells, 0, [SentRuns(0, (134.0,), 0.1)])
    coarse = sent_difference(here.study, here.cells, 0, [SentRuns(0, (134.0,), 20.0)])
    assert fine is not None
    assert coarse is not None
    assert coarse.sent_variance == pytest.approx((20 / 134) ** 2)
    assert coarse.sent_variance > fine.sent_variance


def test_only_what_both_did_is_compared() -> None:
    here = field()
    assert sent_difference(here.study, here.cells, 1, [SentRuns(1, (40.0,))]) is None
    assert sent_difference(here.study, here.cells, 0, [SentRuns(0, ())]) is None
    both = sent_difference(here.study, here.cells, 0, [SentRuns(0, (110.0,)), SentRuns(1, (44.0,))])
    assert both is not None
    assert both.tasks == (0, 1)
    assert both.log_ratio == pytest.approx(-math.log(1.1), abs=0.003)


def test_the_newest_round_here_is_compared() -> None:
    runs = [*runs_of({"A": [100.0, 100.0]}), *runs_of({"A": [80.0, 80.0]}, round_="r2")]
    here = analyse(study_of(runs))
    found = sent_difference(here.study, here.cells, 0, [SentRuns(0, (80.0,))])
    assert found is not None
    assert found.log_ratio == pytest.approx(0.0, abs=1e-9)


def test_accepted_samples_tell_how_much_samples_differ() -> None:
    prior = field().unit_spread
    far = sent(SentSample(0, (SentRuns(0, (120.0, 120.0)),)))
    found = sent_difference(far.study, far.cells, 0, far.study.sent[0].runs)
    assert found is not None
    by_runs = (found.own_variance + found.sent_variance) / 2
    own = far.study.settings
    weight = (own.unit_prior_cv**2 / (own.unit_prior_cv**2 + by_runs)) ** 2
    by_moments = found.log_ratio**2 / 2 - by_runs
    total = own.unit_prior_df + weight
    wanted = (own.unit_prior_df * own.unit_prior_cv**2 + weight * by_moments) / total
    assert far.unit_spread.cv == pytest.approx(math.sqrt(wanted))
    assert far.unit_spread.cv > prior.cv
    alike = sent(*(SentSample(0, (SentRuns(0, (100.0, 100.0)),)) for _ in range(6)))
    assert alike.unit_spread.cv < prior.cv
    assert alike.unit_spread.df > prior.df


def test_they_stand_in_no_other_figure() -> None:
    plain, told = field(), sent(SentSample(0, (SentRuns(0, (150.0, 150.0)),)))
    assert (
        (plain.fit.theta[~np.isnan(plain.fit.theta)]).tolist()
        == (told.fit.theta[~np.isnan(told.fit.theta)]).tolist()
    )
    for task in (0, None):
        one, other = plain.comparison(task), told.comparison(task)
        assert one is not None
        assert other is not None
        assert one.pairs.lo.tolist() == other.pairs.lo.tolist()


@pytest.mark.parametrize(
    ("seconds", "words"),
    [
        (100.0, "No difference to A here, the same model, as far as these runs tell."),
        (103.5, "3.4 % slower than A here, the same model: about as much as samples differ."),
        (
            150.0,
            "33 % slower than A here, the same model: more than samples differ. "
            "Power saving, heat, or other settings?",
        ),
        (
            250.0,
            "Takes 2.5 times as long as A here, the same model: more than samples differ. "
            "Power saving, heat, or other settings?",
        ),
        (
            40.0,
            "2.5 times as fast as A here, the same model: more than samples differ. "
            "Power saving, heat, or other settings?",
        ),
    ],
)
def test_what_is_said_of_it(seconds: float, words: str) -> None:
    here = field()
    found = sent_difference(here.study, here.cells, 0, [SentRuns(0, (seconds,) * 4)])
    assert found is not None
    assert say_sent(found, "A", 0.95, here.unit_spread.cv, same_model=True) == words


def test_another_model_is_only_compared() -> None:
    here = field()
    found = sent_difference(here.study, here.cells, 1, [SentRuns(0, (100.0,) * 4)])
    assert found is not None
    assert (
        say_sent(found, "B", 0.95, here.unit_spread.cv, same_model=False) == "50 % faster than B."
    )
