"""Ladders: order, simultaneous ranks, chances, and who stands below."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy import stats

from tests.core.helpers import analysed, runs_of
from true_margin.core.analysis import Analysis
from true_margin.core.ladder import chance_fastest, studentized_range


def ladder(analysis: Analysis, task: int | None = 0) -> list[tuple[str, int, int]]:
    comparison = analysis.comparison(task)
    assert comparison is not None
    names = analysis.study.setups
    return [(names[r.setup], r.best_rank, r.worst_rank) for r in comparison.rungs]


@pytest.mark.parametrize(
    ("confidence", "k", "df"),
    [
        (0.95, 3, 10.0),
        (0.95, 2, 3.0),
        (0.99, 8, 24.0),
        (0.9, 20, 60.0),
        (0.95, 5, 2.5),
        (0.95, 4, 0.8),
    ],
)
def test_studentized_range_equals_the_general_routine(confidence: float, k: int, df: float) -> None:
    peer = stats.studentized_range.ppf(confidence, k, df)
    assert studentized_range(confidence, k, df) == pytest.approx(peer, rel=2e-8)


def test_studentized_range_equals_the_published_tables() -> None:
    # Upper 5 % points: 3 means, 10 df; 5 means, 20 df; 10 means, infinite df.
    published = {(3, 10.0): 3.877, (5, 20.0): 4.232, (10, math.inf): 4.474}
    for (k, df), q in published.items():
        assert studentized_range(0.95, k, df) == pytest.approx(q, abs=6e-4)


def test_between_two_it_is_students_t() -> None:
    for df in (1.0, 4.0, 37.5):
        t = stats.t.ppf(0.975, df)
        assert studentized_range(0.95, 2, df) == pytest.approx(t * math.sqrt(2), rel=1e-8)


def test_clear_order() -> None:
    analysis = analysed(runs_of({"A": [100.0], "B": [150.0], "C": [225.0]}))
    assert ladder(analysis) == [("A", 1, 1), ("B", 2, 2), ("C", 3, 3)]


def test_ranks_are_shared_where_the_runs_cannot_tell() -> None:
    analysis = analysed(runs_of({"A": [100.0], "B": [101.0], "C": [300.0]}))
    assert ladder(analysis) == [("A", 1, 2), ("B", 1, 2), ("C", 3, 3)]


def test_all_pairs_at_once_is_stricter_than_one_pair() -> None:
    """A difference that one t interval would call real shares ranks among eight."""
    times = {f"S{i}": [100.0] for i in range(7)} | {"X": [88.0]}
    analysis = analysed(runs_of(times))
    names = list(analysis.study.setups)
    pairs = analysis.tasks[0].pairs
    assert pairs.margin(names.index("X"), 0).lo > 0
    assert ladder(analysis)[0] == ("X", 1, 8)


def test_equal_speeds_stand_in_name_order() -> None:
    analysis = analysed(runs_of({"b": [100.0], "C": [100.0], "a": [100.0]}))
    assert [name for name, *_ in ladder(analysis)] == ["C", "a", "b"]


def test_one_setup_alone() -> None:
    analysis = analysed(runs_of({"A": [100.0]}))
    (rung,) = analysis.tasks[0].rungs
    assert (rung.best_rank, rung.worst_rank, rung.p_fastest, rung.ratio) == (1, 1, 1.0, 1.0)


def test_a_mix_ladder_needs_every_weighted_task() -> None:
    runs = runs_of({"A": [100.0], "B": [90.0], "C": [80.0]}, "T") + runs_of(
        {"A": [10.0], "B": [9.0]}, "U"
    )
    runs.append({"setup": "C", "task": "U", "status": "failed"})
    runs += runs_of({"D": [70.0]}, "T")
    analysis = analysed(runs)
    assert [name for name, *_ in ladder(analysis, None)] == ["B", "A"]
    assert analysis.mix is not None
    off = {
        analysis.study.setups[o.setup]: (o.lacks, o.cannot, o.no_bridge)
        for o in analysis.mix.standing.off
    }
    assert off == {"C": ((), (1,), False), "D": ((1,), (), False)}


def test_tasks_without_weight_do_not_matter() -> None:
    runs = runs_of({"A": [100.0], "B": [90.0]}, "T") + runs_of({"A": [10.0]}, "U")
    analysis = analysed(runs, mix={"T": 1.0})
    assert [name for name, *_ in ladder(analysis, None)] == ["B", "A"]


def test_a_setup_that_failed_and_later_succeeded_stands() -> None:
    runs = [*runs_of({"A": [100.0], "B": [90.0]}), {"setup": "B", "task": "T", "status": "failed"}]
    assert len(ladder(analysed(runs))) == 2


def test_without_the_baseline_the_largest_group_stands() -> None:
    runs = [
        *runs_of({"A": [100.0]}, "U", "old"),
        *runs_of({"B": [90.0]}, "T", "old"),
        *runs_of({"C": [80.0], "D": [85.0]}, "T", "new"),
    ]
    analysis = analysed(runs, rounds=["old", "new"], baseline="A")
    task = next(i for i, t in enumerate(analysis.study.tasks) if t.name == "T")
    assert [name for name, *_ in ladder(analysis, task)] == ["C", "D"]
    assert [r.ratio for r in analysis.tasks[task].rungs] == [None, None]


def test_a_faster_baseline_only_moves_the_ratios() -> None:
    runs = runs_of({"A": [100.0, 101.0], "B": [80.0], "C": [60.0]})
    one, other = analysed(runs, baseline="A"), analysed(runs, baseline="C")
    ratios = [r.ratio for r in one.tasks[0].rungs]
    assert [r.p_fastest for r in one.tasks[0].rungs] == [r.p_fastest for r in other.tasks[0].rungs]
    assert ladder(one) == ladder(other)
    assert ratios[-1] == 1.0
    assert other.tasks[0].rungs[0].ratio == 1.0


def test_chances_sum_to_one_and_are_repeatable() -> None:
    runs = runs_of({"A": [100.0], "B": [101.0], "C": [102.0], "D": [150.0]})
    first = [r.p_fastest or 0.0 for r in analysed(runs).tasks[0].rungs]
    assert sum(first) == pytest.approx(1.0)
    assert first == [r.p_fastest for r in analysed(runs).tasks[0].rungs]
    assert first == sorted(first, reverse=True)


def test_chance_between_two_is_exact() -> None:
    estimate = np.array([0.03, 0.0])
    covariance = np.diag([0.0004, 0.0004])
    chance = chance_fastest(estimate, covariance, 5.0, 1)
    expected = stats.t.cdf(0.03 / math.sqrt(0.0008), 5)
    assert chance[0] == pytest.approx(expected, rel=1e-10)
    assert chance.sum() == pytest.approx(1.0)


def test_chance_among_three_equals_an_independent_draw() -> None:
    estimate = np.array([0.02, 0.01, 0.0])
    covariance = np.array([[4.0, 1.0, 0.0], [1.0, 3.0, 0.5], [0.0, 0.5, 5.0]]) * 1e-4
    ours = chance_fastest(estimate, covariance, 6.0, 8)
    peer = stats.multivariate_t(estimate, covariance, df=6, seed=3).rvs(200_000)
    theirs = np.bincount(peer.argmax(axis=1), minlength=3) / 200_000
    assert ours == pytest.approx(theirs, abs=0.01)


def test_hopeless_setups_have_no_chance() -> None:
    estimate = np.array([0.0, -5.0, -6.0])
    chance = chance_fastest(estimate, np.eye(3) * 1e-4, 1e9, 1)
    assert chance.tolist() == [1.0, 0.0, 0.0]


def test_no_runs_make_empty_ladders() -> None:
    assert analysed([]).mix is None
    only_failed = analysed([{"setup": "A", "task": "T", "status": "failed"}])
    assert ladder(only_failed) == []
    assert [o.cannot for o in only_failed.tasks[0].standing.off] == [(0,)]
