"""One run to come: the interval that a viewer's own time is promised with."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.core.helpers import analysed, runs_of
from true_margin.core.margins import student_quantile
from true_margin.core.predictions import predict_run

OAK, BIRCH = [100.0, 102.0, 101.0, 99.0], [150.0, 151.0, 149.0, 150.5]


def test_mean_scatter_and_sample_stand_in_the_interval() -> None:
    analysis = analysed(runs_of({"Oak": OAK, "Birch": BIRCH}, "T"))
    found = predict_run(analysis, [0], 0)
    assert found is not None
    spread, cells = analysis.cells.spread[0], analysis.cells
    assert spread is not None
    share = float(cells.shares.variance[0])
    one_run = spread.cv**2 * share
    of_mean = 1.0 / float(cells.weight[0])
    variance = of_mean + one_run + 2 * 0.015**2
    # Scatter and mean know the same spread: one part, whose root is added up.
    own_df = analysis.compare(0).pairs.contrasts.own_df[0]
    root = of_mean / math.sqrt(own_df) + one_run * math.sqrt(
        1 / spread.df + float(cells.shares.inverse_df[0])
    )
    df = variance**2 / (root**2 + (2 * 0.015**2) ** 2 / 4)
    half = float(student_quantile(0.95, np.array(df))) * math.sqrt(variance)
    typical = math.exp(np.log(OAK).mean())
    assert found.seconds == pytest.approx(typical, rel=1e-9)
    assert found.lo == pytest.approx(typical * math.exp(-half), rel=1e-9)
    assert found.hi == pytest.approx(typical * math.exp(half), rel=1e-9)


def test_samples_that_are_alike_leave_scatter_and_mean() -> None:
    runs = runs_of({"Oak": OAK, "Birch": BIRCH}, "T")
    wide = predict_run(analysed(runs), [0], 0)
    narrow = predict_run(analysed(runs, unit_prior_cv=0), [0], 0)
    assert wide is not None
    assert narrow is not None
    assert wide.lo < narrow.lo < narrow.hi < wide.hi


def test_two_samples_of_a_model_tell_more_than_one() -> None:
    times = {"Oak 1": OAK, "Oak 2": [100.5, 101.5, 100.0, 101.0], "Birch": BIRCH}
    models = {"Oak 1": {"model": "Oak"}, "Oak 2": {"model": "Oak"}}
    analysis = analysed(runs_of(times, "T"), setups=models)
    one, both = predict_run(analysis, [0], 0), predict_run(analysis, [0, 1], 0)
    assert one is not None
    assert both is not None
    assert both.hi / both.lo < one.hi / one.lo


def test_what_was_not_measured_is_not_predicted() -> None:
    runs = [*runs_of({"Oak": OAK, "Birch": BIRCH}, "T"), *runs_of({"Oak": OAK}, "U")]
    analysis = analysed(runs)
    assert predict_run(analysis, [1], 1) is None
    assert predict_run(analysis, [0], 1) is not None


def test_an_amount_is_no_time() -> None:
    tasks = {"T": {"measure": "amount"}}
    assert predict_run(analysed(runs_of({"Oak": OAK}, "T"), tasks=tasks), [0], 0) is None


def test_of_runs_on_other_samples_the_interval_holds_its_share() -> None:
    # True spread 2 %, samples differ by 1.5 %, as the priors say: 95 in 100, give or take.
    random = np.random.default_rng(20_261_129)
    inside = 0
    rounds = 400
    for _ in range(rounds):
        unit = random.normal(0, 0.015, 3)
        v = -math.log(300.0) + unit[:, None] + random.normal(0, 0.02, (3, 3))
        times = dict(zip("ABC", np.exp(-v).tolist(), strict=True))
        found = predict_run(analysed(runs_of(times, "T")), [0], 0)
        assert found is not None
        new = 300.0 * math.exp(-random.normal(0, 0.015) - random.normal(0, 0.02))
        inside += found.lo <= new <= found.hi
    # Four standard errors below 95 in 100 is 90.6.
    assert 0.906 <= inside / rounds <= 1.0
