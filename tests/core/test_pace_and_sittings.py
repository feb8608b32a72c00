"""Pace from marks, and what to run next."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.helpers import analysed, margin_of, runs_of
from true_margin.core.cells import Basis, Spread
from true_margin.core.checks import ProgressPoint
from true_margin.core.margins import Call
from true_margin.core.pace import elapsed_at, gap_to_best, projected_finish, rising_marks
from true_margin.core.settling import runs_before_data
from true_margin.core.sittings import (
    Candidate,
    Hands,
    OpenPair,
    open_pairs,
    propose_sitting,
    rank_next_runs,
)

M = math.log(1.03)


@pytest.mark.parametrize(
    ("marks", "finish"),
    [
        ([], None),
        ([(30, 0.0)], None),
        ([(60, 0.25)], 240.0),
        # The pace of the last fifth counts, not the slow beginning.
        ([(100, 0.2), (150, 0.4), (160, 0.45)], 160 + 0.55 * (160 - 100) / 0.25),
        ([(60, 0.25), (150, 0.5)], 330.0),
        ([(60, 0.25), (90, 0.2), (150, 0.5)], 330.0),
        ([(100, 1.0)], 100.0),
    ],
)
def test_projected_finish(marks: list[tuple[float, float]], finish: float | None) -> None:
    found = projected_finish([ProgressPoint(*mark) for mark in marks])
    assert found == (None if finish is None else pytest.approx(finish))


@given(st.lists(st.tuples(st.floats(0, 1e4), st.floats(0, 1)), max_size=12))
def test_a_projection_never_lies_before_the_last_mark(points: list[tuple[float, float]]) -> None:
    marks = [ProgressPoint(*point) for point in points]
    rising = rising_marks(marks)
    finish = projected_finish(marks)
    assert (finish is None) == (not rising)
    if finish is not None:
        assert finish >= rising[-1].elapsed_s
        assert projected_finish(marks[::-1]) == finish


def test_an_even_pace_finishes_when_it_should() -> None:
    marks = [ProgressPoint(e, e / 400) for e in range(20, 400, 20)]
    for k in range(1, len(marks)):
        assert projected_finish(marks[:k]) == pytest.approx(400)


def test_the_gap_to_the_best_at_the_same_fraction() -> None:
    best = [ProgressPoint(100, 0.5)]
    assert elapsed_at(best, 300, 0.25) == pytest.approx(50)
    assert elapsed_at(best, 300, 0.75) == pytest.approx(200)
    assert elapsed_at([], 300, 0.75) == pytest.approx(225)
    assert gap_to_best([ProgressPoint(130, 0.5)], best, 300) == pytest.approx(30)
    assert gap_to_best([ProgressPoint(130, 0.5)], [], 300) == pytest.approx(-20)
    assert gap_to_best([], best, 300) is None


@pytest.mark.parametrize(
    ("difference", "cv", "runs"),
    # n = ceil(2 s² (t + t)² / h²) at df 3 (3.182 and 0.978) and h = ln(1 + difference).
    [(0.05, 0.02, 6), (0.05, 0.01, 2), (0.10, 0.02, 2), (0.02, 0.02, 36)],
)
def test_runs_before_any_data(difference: float, cv: float, runs: int) -> None:
    found = runs_before_data(difference, Spread(cv, 3.0, 0, 0.0, Basis.ASSUMED), M, 0.95)
    size = math.log1p(difference)
    needed = size if size >= M else max(size, M - size)
    assert found.runs_each == math.ceil(2 * cv**2 * (3.182446 + 0.978472) ** 2 / needed**2)
    assert (found.runs_each, found.worth_it) == (runs, runs <= 25)


def pair(a: int, b: int, needed: float = 0.02) -> OpenPair:
    return OpenPair(a, b, 0.05, needed, 4.0)


def candidate(setup: int, minutes: float, runs: int, *pairs: OpenPair, task: int = 0) -> Candidate:
    return Candidate(setup, task, minutes, runs, 0.02, pairs)


def test_the_open_pairs_are_those_of_the_analysis() -> None:
    analysis = analysed(runs_of({"A": [100, 104], "B": [101, 103], "C": [300, 301]}))
    found = open_pairs(analysis, 0)
    assert [(p.a, p.b) for p in found] == [(0, 1)]
    margin = margin_of(analysis, "A", "B")
    assert margin.call is Call.OPEN
    assert found[0].half_width == pytest.approx((margin.hi - margin.lo) / 2)
    assert found[0].needed == pytest.approx(max(abs(margin.log_ratio), M - abs(margin.log_ratio)))


def test_the_next_run_settles_most_per_minute() -> None:
    first = candidate(0, 5, 2, pair(0, 1), pair(0, 2))
    same_but_slow = candidate(1, 10, 2, pair(0, 1), pair(1, 2))
    well_known = candidate(2, 5, 9, pair(0, 2))
    settles_nothing = candidate(3, 1, 2)
    ranked = rank_next_runs([settles_nothing, well_known, same_but_slow, first])
    assert [c.setup for c in ranked] == [0, 1, 2]
    tied = [candidate(0, 5, 3, pair(0, 1)), candidate(1, 5, 3, pair(0, 1))]
    assert [c.setup for c in rank_next_runs(tied)] == [0, 1]


def test_a_sitting_fits_its_budget_and_takes_turns() -> None:
    desk = [candidate(s, 5, 2, pair(0, 1), pair(1, 2), pair(0, 2)) for s in range(3)]
    sitting = propose_sitting(desk, 47)
    assert [run.setup for run in sitting.runs] == [0, 1, 2, 0, 1, 2, 0, 1, 2]
    assert (sitting.minutes, sitting.change_overs) == (45, 0)
    assert propose_sitting(desk, 4).runs == ()
    assert propose_sitting([], 90).runs == ()


def test_setups_that_share_parts_are_run_in_blocks() -> None:
    desk = [candidate(s, 5, 2, pair(0, 1), pair(1, 2), pair(0, 2)) for s in range(3)]
    sitting = propose_sitting(desk, 40, Hands([frozenset({0, 1})], 6))
    order = [run.setup for run in sitting.runs]
    assert order.index(1) > max(place for place, setup in enumerate(order) if setup == 0)
    assert [run.setup for run in sitting.runs if run.change_over] == [1]
    assert sitting.minutes == 5 * len(order) + 6
    assert sitting.minutes <= 40


@given(
    st.lists(
        st.tuples(st.integers(0, 5), st.floats(0.5, 30), st.integers(1, 9)),
        max_size=8,
        unique_by=lambda c: c[0],
    ),
    st.floats(1, 300),
)
def test_no_sitting_is_longer_than_its_budget(
    drawn: list[tuple[int, float, int]], budget: float
) -> None:
    desk = [candidate(s, minutes, runs, pair(s, s + 1)) for s, minutes, runs in drawn]
    shared = [frozenset({0, 1}), frozenset({2, 3, 4})]
    sitting = propose_sitting(desk, budget, Hands(shared, 5))
    assert sitting.minutes <= budget + 1e-9
    assert sitting.minutes == pytest.approx(
        sum(run.minutes for run in sitting.runs) + 5 * sitting.change_overs
    )


def test_machines_side_by_side_do_more_in_the_same_time() -> None:
    desk = [candidate(s, 5, 2, pair(0, 1), pair(1, 2), pair(0, 2)) for s in range(3)]
    sitting = propose_sitting(desk, 17, Hands(side_by_side=True, handling_minutes=1))
    assert len(sitting.runs) == 9, "three on each, where one after the other only three fit"
    assert sitting.minutes == 15
    assert [run.starts_min for run in sitting.runs] == [0, 0, 0, 5, 5, 5, 10, 10, 10]
    # One person does not press on three at once for ever.
    busy = propose_sitting(desk, 17, Hands(side_by_side=True, handling_minutes=4))
    assert len(busy.runs) == 4


def test_what_shares_parts_takes_turns_while_others_run() -> None:
    desk = [candidate(s, 5, 2, pair(0, 1), pair(1, 2), pair(0, 2)) for s in range(3)]
    hands = Hands([frozenset({0, 1})], 6, side_by_side=True)
    sitting = propose_sitting(desk, 22, hands)
    starts = {(run.setup, run.starts_min) for run in sitting.runs}
    assert {each for each in starts if each[0] == 2} == {(2, 0), (2, 5), (2, 10), (2, 15)}
    turns = sorted((at, setup) for setup, at in starts if setup != 2)
    changed = next(run for run in sitting.runs if run.change_over)
    before = [at for at, setup in turns if setup == 0]
    assert changed.starts_min == max(before) + 5 + 6
    assert sitting.minutes <= 22


@given(
    st.lists(
        st.tuples(st.integers(0, 5), st.floats(0.5, 30), st.integers(1, 9)),
        max_size=8,
        unique_by=lambda c: c[0],
    ),
    st.floats(1, 120),
    st.floats(0, 3),
)
def test_side_by_side_nothing_ends_after_the_time_there_is(
    drawn: list[tuple[int, float, int]], budget: float, handling: float
) -> None:
    desk = [candidate(s, minutes, runs, pair(s, s + 1)) for s, minutes, runs in drawn]
    hands = Hands([frozenset({0, 1}), frozenset({2, 3, 4})], 5, True, handling)
    sitting = propose_sitting(desk, budget, hands)
    ends = [run.starts_min + run.minutes for run in sitting.runs]
    assert max(ends, default=0.0) <= sitting.minutes + 1e-9
    assert sitting.minutes <= budget + 1e-9
    assert handling * len(sitting.runs) <= budget + 1e-9
    for setup in {run.setup for run in sitting.runs}:
        own = sorted(
            (run.starts_min, run.starts_min + run.minutes)
            for run in sitting.runs
            if hands.lane_of(run.setup) == hands.lane_of(setup)
        )
        assert all(one[1] <= two[0] + 1e-9 for one, two in pairwise(own))
