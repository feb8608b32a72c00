"""Races: where everybody was when, by the marks of their runs."""

from __future__ import annotations

import math
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.checks import ProgressPoint
from true_margin.core.race import (
    MomentKind,
    Runner,
    done_at,
    lead_at,
    moments_of,
    places,
    reached_at,
    runner_of,
)


def run(end_s: float, *marks: tuple[float, float], reached: float | None = 1.0) -> Runner:
    made = runner_of([ProgressPoint(at, part) for at, part in marks], end_s, reached)
    assert made is not None
    return made


FAST_THEN_SLOW = run(100.0, (20.0, 0.5))
EVEN = run(80.0, (40.0, 0.5))


def test_a_run_goes_straight_between_its_marks() -> None:
    assert done_at(FAST_THEN_SLOW, 10.0) == pytest.approx(0.25)
    assert done_at(FAST_THEN_SLOW, 60.0) == pytest.approx(0.75)
    assert done_at(FAST_THEN_SLOW, 500.0) == 1.0
    assert done_at(FAST_THEN_SLOW, -1.0) == 0.0
    assert reached_at(FAST_THEN_SLOW, 0.25) == pytest.approx(10.0)
    assert reached_at(FAST_THEN_SLOW, 0.75) == pytest.approx(60.0)
    assert reached_at(FAST_THEN_SLOW, 1.0) == 100.0


def test_marks_that_go_backwards_or_lie_after_the_end_are_left_out() -> None:
    messy = run(100.0, (20.0, 0.5), (30.0, 0.4), (120.0, 0.9), (50.0, 1.0))
    assert messy.points == ((0.0, 0.0), (20.0, 0.5), (100.0, 1.0))
    assert not run(100.0).marked


def test_a_run_that_failed_stays_where_it_was() -> None:
    failed = run(60.0, (30.0, 0.4), reached=None)
    assert failed.points[-1] == (60.0, 0.4)
    assert not failed.finished
    assert done_at(failed, 1000.0) == 0.4
    assert math.isinf(reached_at(failed, 0.5))
    assert runner_of([], 60.0, None) is None
    assert run(60.0, reached=0.7).points == ((0.0, 0.0), (60.0, 0.7))


def test_who_leads_and_by_how_much() -> None:
    both = [FAST_THEN_SLOW, EVEN]
    early = lead_at(both, 20.0)
    assert early is not None
    assert (early.first, early.second) == (0, 1)
    assert early.gap == pytest.approx(0.25)
    assert early.gap_s == pytest.approx(10.0), "it was a quarter through ten seconds ago"
    late = lead_at(both, 80.0)
    assert late is not None
    assert (late.first, late.second) == (1, 0)
    assert late.gap == pytest.approx(1 - 0.875)
    over = lead_at(both, 1000.0)
    assert over is not None
    assert over.gap_s == pytest.approx(20.0), "the gap at the end is that of the times"
    assert lead_at(both, 0.0) is None
    assert lead_at([], 5.0) is None
    alone = lead_at([EVEN], 5.0)
    assert alone is not None
    assert alone.second is None


def test_what_is_worth_a_word() -> None:
    told = [(each.kind, each.who, each.at_s) for each in moments_of([FAST_THEN_SLOW, EVEN])]
    assert told == [
        (MomentKind.LEAD, 0, 0.0),
        (MomentKind.HALF, 0, 20.0),
        # 0.5 + (t - 20) / 160 = t / 80 at t = 60.
        (MomentKind.LEAD, 1, pytest.approx(60.0)),
        (MomentKind.DONE, 1, 80.0),
        (MomentKind.DONE, 0, 100.0),
    ]


def test_a_lead_that_marks_cannot_show_is_none() -> None:
    hair = run(80.0, (39.8, 0.5), (60.0, 0.745))
    leads = [each.who for each in moments_of([hair, EVEN]) if each.kind is MomentKind.LEAD]
    assert len(leads) == 1


def test_nobody_is_said_to_lead_who_is_drawn_straight() -> None:
    told = moments_of([run(100.0), EVEN, run(50.0)])
    assert [each.who for each in told if each.kind is MomentKind.LEAD] == []
    assert [each.who for each in told if each.kind is MomentKind.DONE] == [2, 1, 0]


RUNS = st.lists(
    st.tuples(
        st.floats(10.0, 1000.0),
        st.lists(st.tuples(st.floats(0.5, 900.0), st.floats(0.01, 0.99)), max_size=6),
    ).map(lambda each: run(each[0], *each[1])),
    min_size=1,
    max_size=6,
)


@given(RUNS, st.floats(0.0, 1100.0))
def test_a_race_only_goes_on(runners: list[Runner], at: float) -> None:
    for runner in runners:
        done = done_at(runner, at)
        assert 0.0 <= done <= 1.0
        assert done_at(runner, at + 1.0) >= done
        if 0 < done < 1:
            assert done_at(runner, reached_at(runner, done)) == pytest.approx(done)


@given(RUNS)
def test_the_order_at_the_end_is_that_of_the_times(runners: list[Runner]) -> None:
    over = max(runner.end_s for runner in runners)
    ends = [runners[who].end_s for who in places(runners, over)]
    assert ends == sorted(ends)
    moments = moments_of(runners)
    assert [each.at_s for each in moments] == sorted(each.at_s for each in moments)
    leads = [each for each in moments if each.kind is MomentKind.LEAD]
    assert all(one.who != two.who for one, two in pairwise(leads))
    marked = [runner for runner in runners if runner.marked]
    if len(marked) > 1:
        assert runners[leads[-1].who].end_s == min(runner.end_s for runner in marked)
