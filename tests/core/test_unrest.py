"""Setups that scatter more than others, runs that resemble each other, and coarse clocks."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.helpers import analysed, margin_of, runs_of, study_of
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.resemblance import mean_variances, sittings_of
from true_margin.core.shares import estimate_shares


def shootout(loud: float, *, odd: bool = False, tasks: int = 5, seed: int = 5) -> Analysis:
    """Four setups, four runs on each task; the last scatters ``loud`` times as much."""
    rng = np.random.default_rng(seed)
    runs = [
        {
            "setup": setup,
            "task": f"T{task}",
            "value": float(100 * np.exp(rng.normal(0, 0.01 * (loud if setup == "D" else 1.0)))),
        }
        for task in range(tasks)
        for setup in "ABCD"
        for _ in range(4)
    ]
    if odd:
        runs[0] |= {"value": 160.0}
    return analysed(runs)


def test_a_setup_that_scatters_more_has_wider_margins() -> None:
    analysis = shootout(4.0)
    factor = analysis.cells.factor
    assert factor[3] > 1.5
    assert max(factor[:3]) < 1.0
    contrasts = analysis.compare(0).pairs.contrasts
    assert contrasts.se[0, 3] > 1.5 * contrasts.se[0, 1]
    # What is known of a setup's own share limits the degrees of freedom.
    assert contrasts.df[0, 3] < analysis.cells.df_of(0)


def test_setups_that_scatter_alike_have_nearly_the_same_share() -> None:
    assert shootout(1.0).cells.factor.tolist() == pytest.approx([1.0] * 4, abs=0.15)


def test_one_odd_run_is_no_unrest() -> None:
    assert shootout(1.0, odd=True).cells.factor.max() < 1.4


def test_shares_are_one_on_average_and_continuous_in_the_data() -> None:
    """A reading that moves a little moves the shares a little: there is no threshold."""
    cells = {"setup": np.array([0, 1, 2]), "task": np.array([0, 0, 0]), "n": np.array([3, 3, 3])}
    before = estimate_shares(3, **cells, scatter=np.array([1e-4, 1e-4, 2e-3]))
    after = estimate_shares(3, **cells, scatter=np.array([1e-4, 1e-4, 2.0001e-3]))
    assert before.variance.mean() == pytest.approx(1.0)
    assert after.variance == pytest.approx(before.variance, rel=1e-4)
    assert after.inverse_df == pytest.approx(before.inverse_df, rel=1e-3)


def test_one_that_was_never_repeated_may_be_quiet_or_restless() -> None:
    runs = runs_of({"A": [100.0, 101.0, 99.5], "B": [120.0, 126.0, 117.0], "C": [150.0]})
    shares = analysed(runs).cells.shares
    assert shares.variance[2] == 1.0
    assert shares.inverse_df[2] > 0


@pytest.mark.parametrize("values", [[100.0], [100.0, 100.0, 100.0]])
def test_with_nothing_to_tell_by_all_are_alike(values: list[float]) -> None:
    shares = analysed(runs_of({"A": values, "B": values})).cells.shares
    assert (shares.variance.tolist(), shares.inverse_df.tolist()) == ([1.0, 1.0], [0.0, 0.0])


@given(st.lists(st.floats(1e-12, 1e3), min_size=2, max_size=6), st.integers(2, 30))
@settings(max_examples=60, deadline=None)
def test_any_scatter_gives_shares(scatter: list[float], n: int) -> None:
    k = len(scatter)
    found = estimate_shares(
        k, np.arange(k), np.zeros(k, dtype=np.intp), np.full(k, n), np.array(scatter)
    )
    assert np.isfinite(found.variance).all()
    assert (found.variance > 0).all()
    assert found.variance.mean() == pytest.approx(1.0)
    assert (found.inverse_df >= 0).all()


def sitting(rho: float, *, order: bool = True, seed: int = 3) -> Analysis:
    """Six setups, nine runs each on two tasks, whose neighbours correlate by ``rho``."""
    rng = np.random.default_rng(seed)
    runs = []
    for setup in "ABCDEF":
        for task in "TU":
            drift = rng.normal(0, 0.02)
            for place in range(9):
                if place:
                    drift = rho * drift + math.sqrt(1 - rho**2) * rng.normal(0, 0.02)
                run = {"setup": setup, "task": task, "value": float(100 * math.exp(drift))}
                runs.append(run | ({"order": place + 1} if order else {}))
    return analysed(runs)


def test_runs_that_resemble_each_other_widen_the_intervals() -> None:
    alike, apart = sitting(0.7), sitting(0.0)
    assert alike.cells.resemblance.fires
    assert alike.cells.resemblance.rho > 0.3
    assert not apart.cells.resemblance.fires
    assert apart.cells.resemblance.rho < 0.1
    # The same runs without their order cannot tell, and are taken for independent.
    blind = sitting(0.7, order=False)
    assert not blind.cells.resemblance.applied
    assert margin_of(alike, "A", "B").se > 1.2 * margin_of(blind, "A", "B").se


def in_sittings(rho: float, *sizes: int, seed: int = 3) -> Analysis:
    """Six setups on two tasks, in sittings of so many runs each, a day apart."""
    rng = np.random.default_rng(seed)
    runs, started = [], []
    for setup in "ABCDEF":
        for task in "TU":
            place = 0
            for day, size in enumerate(sizes):
                drift = rng.normal(0, 0.02)
                for at in range(size):
                    if at:
                        drift = rho * drift + math.sqrt(1 - rho**2) * rng.normal(0, 0.02)
                    place += 1
                    value = float(100 * math.exp(drift))
                    runs.append({"setup": setup, "task": task, "value": value, "order": place})
                    started.append(86_400.0 * day + 200.0 * at)
    study = study_of(runs)
    return analyse(replace(study, runs=replace(study.runs, started=np.array(started))))


def test_a_second_sitting_is_worth_more_than_more_runs_in_one() -> None:
    one, two = in_sittings(0.7, 8), in_sittings(0.7, 4, 4)
    assert one.cells.resemblance.rho > 0.3
    rho = two.cells.resemblance.rho
    # Two means of four that are independent: half the variance of one of them.
    assert rho > 0.2
    spread = two.cells.run_variance[0]
    expected = spread * float(mean_variances(np.array([4]), rho)[0]) / 2
    assert 1.0 / two.cells.weight[0] == pytest.approx(expected, rel=1e-9)
    assert 1.0 / two.cells.weight[0] < spread * float(mean_variances(np.array([8]), rho)[0])


def test_the_night_between_two_sittings_is_no_neighbourhood() -> None:
    # Sittings differ by 10 %, runs within one do not resemble each other.
    steady = in_sittings(0.0, 5, 5)
    shifted = replace(
        steady.study.runs,
        value=steady.study.runs.value * np.where(steady.study.runs.started < 43_200, 1.0, 1.1),
    )
    apart = analyse(replace(steady.study, runs=shifted)).cells.resemblance
    as_one = replace(shifted, started=np.full(len(shifted.started), np.nan))
    together = analyse(replace(steady.study, runs=as_one)).cells.resemblance
    assert together.fires
    assert not apart.fires


def test_sittings_of_two_runs_tell_nothing_of_order() -> None:
    assert not in_sittings(0.7, 2, 2, 2).cells.resemblance.applied


def test_a_long_export_does_not_end_a_sitting() -> None:
    runs = [
        {"setup": setup, "task": "T", "value": 5 * 3600.0 * factor, "order": place + 1}
        for setup in "AB"
        for place, factor in enumerate((1.0, 1.01, 1.02, 1.03))
    ]
    study = study_of(runs)
    started = np.tile(np.arange(4) * 5.2 * 3600.0, 2)
    timed = analyse(replace(study, runs=replace(study.runs, started=started)))
    assert timed.cells.resemblance == analyse(study).cells.resemblance


def test_equal_readings_do_not_resemble_each_other() -> None:
    # Whole seconds: most cells show nothing, and one shows a step. That is no drift.
    flat, step = [34.0, 34.0, 34.0], [41.0, 41.0, 42.0]
    runs = [
        {"setup": setup, "task": "T", "value": value, "order": place + 1, "resolution": 1}
        for setup in "ABCDEFGHIJ"
        for place, value in enumerate(step if setup == "C" else flat)
    ]
    found = analysed(runs).cells.resemblance
    assert found.ratio == pytest.approx(1.5, rel=1e-3)
    assert not found.fires


def test_where_all_readings_are_equal_nothing_is_tested() -> None:
    runs = [
        {"setup": setup, "task": "T", "value": 31.0, "order": place + 1, "resolution": 1}
        for setup in "AB"
        for place in range(3)
    ]
    assert not analysed(runs).cells.resemblance.applied


@given(st.integers(1, 60), st.sampled_from([0.0, 0.1, 0.4, 0.8]))
def test_the_mean_of_runs_that_resemble_each_other(n: int, rho: float) -> None:
    lags = np.abs(np.arange(n)[:, None] - np.arange(n)[None, :])
    whole = float((rho**lags).sum()) / n**2
    assert float(mean_variances(np.array([n]), rho)[0]) == pytest.approx(whole, rel=1e-10)


def test_rounding_is_not_averaged_away() -> None:
    """Thirty runs of 21 s to the second are no better than half a second or so."""
    runs = [
        {"setup": setup, "task": "T", "value": value, "resolution": 1.0}
        for setup, value in (("A", 21.0), ("B", 21.0))
        for _ in range(30)
    ]
    analysis = analysed(runs, prior_cv=0.001)
    floor = (1.0 / (math.sqrt(12.0) * 21.0)) ** 2
    assert analysis.cells.weight.tolist() == pytest.approx([1.0 / floor] * 2)
    assert margin_of(analysis, "A", "B").se == pytest.approx(math.sqrt(2.0 * floor))


def test_topped_up_pairs_are_judged_at_a_fifth_of_the_doubt() -> None:
    runs = runs_of({"A": [100.0, 101.0, 100.4, 100.7], "B": [103.0, 104.0], "C": [110.0, 111.0]})
    analysis = analysed(runs, planned_runs=2)
    pairs = {(a, b): margin_of(analysis, a, b) for a, b in (("A", "B"), ("B", "C"))}
    assert [(m.topped_up, round(m.confidence, 6)) for m in pairs.values()] == [
        (True, 0.99),
        (False, 0.95),
    ]
    without = margin_of(analysed(runs), "A", "B")
    assert (without.topped_up, pairs["A", "B"].se) == (False, pytest.approx(without.se))
    assert pairs["A", "B"].lo < without.lo


@pytest.mark.parametrize(
    ("gaps_h", "expected"),
    [
        # Four hours of nothing end a sitting; a run of its own length does not.
        ((0.1, 0.1, 0.1), 1),
        ((0.1, 5.0, 0.1), 2),
        ((5.0, 5.0, 5.0), 4),
        ((3.9, 3.9, 3.9), 1),
    ],
)
def test_sittings_are_told_apart_by_what_lies_between_runs(
    gaps_h: tuple[float, ...], expected: int
) -> None:
    value = 600.0
    started = np.cumsum([0.0, *(value + 3600.0 * gap for gap in gaps_h)])
    runs = [
        {"setup": "A", "task": "T", "value": value + place, "order": place + 1}
        for place in range(4)
    ]
    study = study_of(runs)
    table = replace(study.runs, started=started)
    first = np.array([0])
    found = sittings_of(replace(study, runs=table), np.arange(4), first)
    assert len(found) == expected


def test_without_times_all_runs_are_of_one_sitting() -> None:
    runs = [{"setup": "A", "task": "T", "value": 600.0, "order": place} for place in (1, 2, 3)]
    assert sittings_of(study_of(runs), np.arange(3), np.array([0])).tolist() == [0]
