"""Checks that flag runs: each fires where it should, and only there."""

from __future__ import annotations

import pytest

from tests.core.helpers import analysed, runs_of
from true_margin.core.checks import Check, ProgressPoint, slowed_down, wrong_output

STEADY = [100.0, 100.4, 99.8, 100.1, 99.9, 100.2]


def flags(times: list[float], **more: object) -> list[tuple[int | None, Check]]:
    return [(f.run, f.check) for f in analysed(runs_of({"A": times}), **more).flags]


def test_steady_runs_raise_no_flag() -> None:
    assert flags(STEADY) == []


def test_one_far_off_among_many_is_odd() -> None:
    assert (5, Check.ODD_ONE) in flags([*STEADY[:5], 130.0, 100.0])


def test_one_of_many_is_held_against_the_spread_of_the_others() -> None:
    assert (5, Check.ODD_ONE) in flags([100.0] * 5 + [140.0])
    assert flags([100.0, 101.0, 99.0, 100.5, 99.5, 103.0]) == []


def test_of_few_the_farthest_is_odd() -> None:
    assert flags([100.0, 100.2, 110.0]) == [(2, Check.ODD_ONE)]


def test_of_two_both_are_odd() -> None:
    assert flags([100.0, 120.0]) == [(0, Check.ODD_ONE), (1, Check.ODD_ONE)]


def test_the_cell_does_not_vouch_for_itself() -> None:
    """The spread is taken without the cell, so a wild pair cannot hide in its own scatter."""
    runs = runs_of({"A": [100.0, 120.0], "B": [50.0, 50.1, 50.05]})
    found = analysed(runs).flags
    assert {(f.setup, f.check) for f in found} == {(0, Check.ODD_ONE)}


def test_a_cold_first_run() -> None:
    assert (0, Check.FIRST_DIFFERS) in flags([112.0, 100.0, 100.2])
    assert (0, Check.FIRST_DIFFERS) not in flags([100.0, 112.0, 100.2])


def test_first_is_by_order_not_by_list() -> None:
    runs = runs_of({"A": [100.0, 100.2, 112.0]})
    for run, order in zip(runs, (2, 3, 1), strict=True):
        run["order"] = order
    assert (2, Check.FIRST_DIFFERS) in [(f.run, f.check) for f in analysed(runs).flags]


def test_drift_is_the_cells() -> None:
    drifting = [100.0 * 1.004**i for i in range(6)]
    assert (None, Check.DRIFTING) in flags(drifting)
    assert (None, Check.DRIFTING) not in flags(drifting[:4])
    assert (None, Check.DRIFTING) not in flags([100.0, 100.3, 99.9, 100.2, 99.8, 100.1])


def test_a_perfect_line_drifts_and_equal_runs_do_not() -> None:
    assert (None, Check.DRIFTING) in flags([2.0, 4.0, 8.0, 16.0, 32.0])
    assert flags([100.0] * 6) == []


def test_a_reading_coarser_than_the_spread() -> None:
    runs = runs_of({"A": [900.0, 905.0]})
    runs[0]["u"] = 40.0
    assert [(f.run, f.check) for f in analysed(runs).flags] == [(0, Check.COARSE)]


def test_without_prior_a_lone_cell_raises_no_flag() -> None:
    assert flags([100.0, 120.0], prior_df=0) == []


def test_voids_are_not_flagged() -> None:
    runs = runs_of({"A": [100.0, 100.2, 160.0]})
    runs[2]["status"] = "void"
    assert analysed(runs).flags == ()


def marks(*points: tuple[float, float]) -> list[ProgressPoint]:
    return [ProgressPoint(elapsed, fraction) for elapsed, fraction in points]


def test_slowing_down_shows_in_the_marks() -> None:
    hot = marks((60, 0.2), (120, 0.4), (200, 0.6), (300, 0.8), (400, 1.0))
    even = marks((60, 0.2), (120, 0.4), (180, 0.6), (240, 0.8), (300, 1.0))
    assert slowed_down(hot)
    assert not slowed_down(even)


@pytest.mark.parametrize("points", [[], [(10.0, 1.0)], [(10.0, 0.5), (30.0, 0.9)]])
def test_marks_that_do_not_cover_the_run_say_nothing(points: list[tuple[float, float]]) -> None:
    assert not slowed_down(marks(*points))


def test_late_and_backward_marks_are_ignored() -> None:
    assert not slowed_down(
        marks((60, 0.2), (70, 0.1), (120, 0.4), (180, 0.6), (180, 0.5), (300, 1.0))
    )


def test_just_above_the_limit_is_not_slow() -> None:
    assert not slowed_down(marks((90, 1 / 3), (190, 2 / 3), (289.9, 1.0)))
    assert slowed_down(marks((90, 1 / 3), (190, 2 / 3), (291, 1.0)))


@pytest.mark.parametrize(
    ("length", "size", "wrong"),
    [
        (660.0, 100e6, False),
        (660.02, 100e6, False),
        (660.03, 100e6, True),
        (660.0, 104e6, False),
        (660.0, 94e6, True),
    ],
)
def test_output_off_by_a_frame_or_five_percent(length: float, size: float, wrong: bool) -> None:
    others = [99e6, 100e6, 101e6]
    assert wrong_output(length, size, 660.0, others, frames_per_s=50.0) is wrong


def test_a_first_output_has_no_size_to_differ_from() -> None:
    assert not wrong_output(660.0, 5.0, 660.0, [], frames_per_s=50.0)


def test_where_nothing_else_scatters_nothing_is_odd() -> None:
    # Without a prior, and with every other cell flat, there is no spread to be far off by.
    runs = runs_of({"A": [100.0, 100.0], "B": [100.0, 101.0, 100.0]})
    odd = (Check.ODD_ONE, Check.FIRST_DIFFERS)
    assert [f for f in analysed(runs, prior_df=0).flags if f.check in odd] == []
