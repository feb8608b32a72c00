"""Rankings over all versions: against a fit written out, and by hand."""

from __future__ import annotations

import math

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import stdtrit

from tests.core.standing import VERSIONS, drawn, timed
from true_margin.core.all_time import AllTime, rank_all_time, version_key
from true_margin.core.contrasts import own_variances
from true_margin.core.study import Measure, Settings
from true_margin.core.worth_timing import worth_timing


def test_versions_are_put_in_the_order_of_their_numbers() -> None:
    names = ["6.10", "6.9", "6.2b", "10", "6.2", "6"]
    assert sorted(names, key=version_key) == ["6", "6.2", "6.2b", "6.9", "6.10", "10"]


@given(st.text(max_size=30), st.text(max_size=30))
def test_any_two_version_names_have_an_order(one: str, other: str) -> None:
    assert (version_key(one) < version_key(other)) or (version_key(other) <= version_key(one))


def test_figures_agree_with_a_weighted_fit_that_is_written_out() -> None:
    analysis = timed(drawn())
    fit, cells = analysis.fit, analysis.cells
    ranking = rank_all_time(analysis)
    setups, earlier = len(analysis.study.setups), len(VERSIONS) - 1
    design = np.zeros((len(cells), setups + earlier))
    design[np.arange(len(cells)), cells.setup] = 1.0
    for row, round_ in enumerate(cells.round.tolist()):
        if round_ < earlier:
            design[row, setups + round_] = 1.0
    # What updates do unevenly is one more error of a cell outside of the newest version.
    variance = 1.0 / cells.weight + np.where(cells.round < earlier, fit.update.cv**2, 0.0)
    peer = sm.WLS(cells.value, design, weights=1.0 / variance).fit()
    covariance = peer.cov_params(scale=1.0)
    for each in ranking.standings:
        assert math.log(each.value) == pytest.approx(-peer.params[each.setup], abs=1e-8)
        # The interval's middle and half width, on the log scale.
        place = int(np.flatnonzero(analysis.compare(0).pairs.contrasts.setups == each.setup)[0])
        df = min(float(analysis.compare(0).pairs.contrasts.own_df[place]), 1e10)
        half = stdtrit(df, 0.975) * math.sqrt(covariance[each.setup, each.setup])
        assert math.log(each.hi / each.lo) / 2 == pytest.approx(half, abs=1e-8)
    effects = [*peer.params[setups:], 0.0]
    for step in ranking.steps:
        gain = effects[step.after] - effects[step.before]
        assert step.log_gain == pytest.approx(gain, abs=1e-8)
        along = np.zeros(setups + earlier)
        along[setups + step.before] = -1.0
        if step.after < earlier:
            along[setups + step.after] = 1.0
        se = math.sqrt(along @ covariance @ along)
        # The half width is a quantile of Student's t, never below the normal one.
        assert (step.hi - step.lo) / 2 > 1.959 * se


def by_hand() -> AllTime:
    """Two machines tie 1 to 2 (10 % and 10 % faster); one was timed in 1 alone."""
    settings = Settings(update_prior_cv=0.0)
    return rank_all_time(
        timed(
            [
                ("Yard", 0, [110.0, 110.0]),
                ("Yard", 1, [100.0, 100.0]),
                ("Twin", 0, [55.0, 55.0]),
                ("Twin", 1, [50.0, 50.0]),
                ("Gone", 0, [220.0, 220.0]),
                ("New", 1, [25.0, 25.0]),
            ],
            versions=("1", "2"),
            settings=settings,
        )
    )


def test_a_machine_that_was_timed_before_is_carried_over_by_what_the_update_did() -> None:
    ranking = by_hand()
    names = ("Yard", "Twin", "Gone", "New")
    assert [names[each.setup] for each in ranking.standings] == ["New", "Twin", "Yard", "Gone"]
    gone = ranking.standings[-1]
    assert gone.value == pytest.approx(200.0)
    assert (gone.last, gone.updates) == (0, 1)
    assert ranking.standings[0].updates == 0
    (step,) = ranking.steps
    assert math.exp(step.log_gain) == pytest.approx(1.1)
    assert step.links == (0, 1)


def test_carried_figures_are_mostly_less_sure_than_measured_ones() -> None:
    for seed in range(5):
        ranking = rank_all_time(timed(drawn(seed)))
        width = {s.setup: math.log(s.hi / s.lo) for s in ranking.standings}
        carried = [width[s.setup] for s in ranking.standings if s.updates]
        measured = [width[s.setup] for s in ranking.standings if not s.updates]
        assert np.median(carried) > np.median(measured)


def test_records_and_the_part_that_updates_had_in_them() -> None:
    ranking = by_hand()
    assert [(r.round, r.setup, round(r.value)) for r in ranking.records] == [(0, 1, 55), (1, 3, 25)]
    assert ranking.by_updates is not None
    part, lo, hi = ranking.by_updates
    assert part == pytest.approx(math.log(1.1) / math.log(55 / 25))
    assert lo < part < hi


def test_amounts_rank_upwards() -> None:
    ranking = rank_all_time(
        timed(
            [("Low", 0, [100.0, 101.0]), ("High", 0, [300.0, 301.0])],
            measure=Measure.AMOUNT,
            versions=("1",),
        )
    )
    assert [each.setup for each in ranking.standings] == [1, 0]
    assert ranking.records[-1].setup == 1
    assert ranking.standings[0].value == pytest.approx(300.5, abs=0.01)


def test_what_nothing_ties_to_the_newest_version_stands_apart() -> None:
    rows = [*drawn(), ("Skerry", 0, [2000.0, 2010.0])]
    versions = ("5.2", *VERSIONS)
    shifted = [(n, at + 1 if n != "Skerry" else 0, v) for n, at, v in rows]
    ranking = rank_all_time(timed(shifted, versions=versions))
    assert ranking.apart == (8,)
    assert 8 not in {each.setup for each in ranking.standings}
    # No update is told of between versions that nothing ties.
    assert [step.before for step in ranking.steps] == [1, 2, 3]


def test_the_ranking_is_that_of_the_newest_version_whatever_the_baseline_is() -> None:
    rows = [("Lost", 0, [50.0, 51.0]), ("One", 1, [30.0, 31.0]), ("Two", 1, [20.0, 21.0])]
    ranking = rank_all_time(timed(rows, versions=("1", "2")))
    assert [each.setup for each in ranking.standings] == [2, 1]
    assert ranking.apart == (0,)


def test_own_variances_are_those_of_the_pairs_diagonal() -> None:
    analysis = timed(drawn())
    contrasts = analysis.compare(0).pairs.contrasts
    variance, df = own_variances(analysis.fit, analysis.cells, 0, contrasts.setups)
    assert variance == pytest.approx(np.diag(contrasts.covariance), rel=1e-12)
    assert df == pytest.approx(contrasts.own_df, rel=1e-12)


def test_the_weakest_link_is_the_one_machine_on_which_most_hangs() -> None:
    ranking = rank_all_time(timed(drawn()))
    links = {(s.before, s.after): s.links for s in ranking.steps}
    assert links == {(0, 1): (0, 2), (1, 2): (0,), (2, 3): (0, 4, 5)}
    weakest = ranking.weakest
    assert weakest is not None
    assert (weakest.before, weakest.after) == (1, 2)
    assert ranking.hanging(weakest) == 3


def test_a_machine_that_skipped_a_version_ties_those_around_it() -> None:
    rows = [("Yard", 0, [110.0, 111.0]), ("Yard", 2, [90.0, 91.0]), ("Mid", 1, [50.0, 51.0])]
    ranking = rank_all_time(timed(rows, versions=("1", "2", "3")))
    # Nothing ties version 2, in which only Mid was timed.
    assert [(s.before, s.after, s.links) for s in ranking.steps] == [(0, 2, (0,))]
    assert ranking.apart == (1,)


def test_without_any_run_there_is_nothing_to_rank() -> None:
    ranking = rank_all_time(timed([], versions=()))
    assert ranking.standings == ranking.steps == ranking.records == ()
    assert ranking.weakest is None


def test_timing_one_of_the_oldest_again_narrows_what_hangs_on_its_link() -> None:
    analysis = timed(drawn())
    ranking = rank_all_time(analysis)
    found = worth_timing(analysis, ranking, range(len(analysis.study.setups)))
    assert {each.setup for each in found} == {1, 2, 3}
    gains = [each.gain / (each.seconds or 1.0) for each in found]
    assert gains == sorted(gains, reverse=True)
    for each in found:
        assert 0 < each.narrows < 1
        assert each.gain > 0
    # Nobody is proposed whom nobody can time.
    assert worth_timing(analysis, ranking, [7]) == ()
    before = rank_all_time(analysis)
    assert before == ranking, "trying out changes nothing"
