"""Why a run is flagged: the figures in the sentence are those that the check compared."""

from __future__ import annotations

import math
import re

import numpy as np
import pytest
from scipy import stats

from tests.core.helpers import Runs, analysed, runs_of
from true_margin.core.analysis import Analysis
from true_margin.core.checks import Check, Flag, ProgressPoint, flag_runs, slowed_down
from true_margin.core.flag_words import explain_flag, slowed_words
from true_margin.core.numerals import Numerals, writing

CALM = [100.0, 100.4, 99.7]


def flags_of(times: Runs, **more: object) -> tuple[Analysis, tuple[Flag, ...]]:
    found = analysed(runs_of(times), **more)
    return found, flag_runs(found.study, found.cells)


def words_of(times: Runs, check: Check, **more: object) -> list[str]:
    found, flags = flags_of(times, **more)
    return [explain_flag(found.study, found.cells, each) for each in flags if each.check is check]


def test_an_odd_one_of_many_says_how_far_it_is_from_the_others() -> None:
    times = [100.0, 101.0, 99.0, 100.5, 99.5, 130.0]
    (said,) = words_of({"A": times, "B": CALM}, Check.ODD_ONE)
    v = -np.log(times)
    assert said.startswith(f"odd: {100 * math.expm1(v[:5].mean() - v[5]):.0f} % slower than ")
    assert "the other 5" in said


def test_an_odd_one_that_was_fast_says_faster() -> None:
    (said,) = words_of({"A": [100.0, 101.0, 99.0, 100.5, 99.5, 70.0], "B": CALM}, Check.ODD_ONE)
    assert re.search(r"^odd: \d+ % faster than the other 5", said)


def test_of_a_pair_both_are_odd_against_the_spread_seen_elsewhere() -> None:
    said = words_of({"A": [100.0, 120.0], "B": CALM, "C": CALM}, Check.ODD_ONE)
    assert len(said) == 2
    assert "20 % faster than the other run" in said[0]
    assert "20 % slower than the other run" in said[1]
    # What it is held against stands in the sentence: three spreads, with two runs' own doubt.
    found = re.search(
        r"flagged beyond ([\d.]+) %, three times the usual spread \(([\d.]+) %", said[0]
    )
    assert found is not None
    assert float(found[1]) == pytest.approx(3 * float(found[2]) * math.sqrt(2), rel=0.05)


def test_of_few_only_the_farthest_is_odd() -> None:
    (said,) = words_of({"A": [100.0, 100.3, 125.0], "B": CALM, "C": CALM}, Check.ODD_ONE)
    assert "25 % slower than the other 2" in said


def test_a_first_run_that_differs_is_held_against_the_rest() -> None:
    times = {"A": [115.0, 100.0, 100.2, 99.9], "B": CALM, "C": CALM}
    (said,) = words_of(times, Check.FIRST_DIFFERS)
    assert said.startswith("first differs: 15 % slower than the other 3")


def test_a_drift_says_its_slope_its_runs_and_its_p() -> None:
    times = [100.0, 102.1, 103.9, 106.0, 108.1, 109.9]
    (said,) = words_of({"A": times}, Check.DRIFTING)
    line = stats.linregress(range(6), -np.log(times))
    assert said.startswith(f"drifting: each of 6 runs {-100 * line.slope:.2g} % slower than")
    assert line.pvalue < 0.0001
    assert "p under 0.0001" in said
    (faster,) = words_of({"A": times[::-1]}, Check.DRIFTING)
    assert "% faster than the one before" in faster


def test_a_line_without_any_residual_drifts_for_sure() -> None:
    (said,) = words_of({"A": [100.0 * 1.02**n for n in range(6)]}, Check.DRIFTING)
    assert "each of 6 runs 2 % slower than the one before" in said


def test_a_coarse_reading_is_held_against_the_spread_of_its_task() -> None:
    runs = [{**run, "u": 1.0} for run in runs_of({"A": [10.0, 10.0]})]
    found = analysed([*runs, *runs_of({"B": [10.0, 10.01, 9.99]})])
    flags = [each for each in flag_runs(found.study, found.cells) if each.check is Check.COARSE]
    assert len(flags) == 2
    said = explain_flag(found.study, found.cells, flags[0])
    assert said.startswith("rough timing: good to 10 % only, runs of this task vary by ")


def test_words_follow_whoever_reads_them() -> None:
    found, flags = flags_of({"A": [100.0, 101.0, 99.0, 100.5, 99.5, 130.0], "B": CALM})
    odd = next(each for each in flags if each.check is Check.ODD_ONE)
    with writing(Numerals(",", ".")):
        assert re.search(r"the usual spread \(1,\d %", explain_flag(found.study, found.cells, odd))


@pytest.mark.parametrize(
    ("marks", "says"),
    [
        ([(60, 1 / 3), (120, 2 / 3), (200, 1.0)], "ran at 75 % of the pace of the first"),
        ([(60, 1 / 3), (120, 2 / 3), (240, 1.0)], "ran at 50 % of the pace of the first"),
        ([(60, 0.5)], "slowed down"),
    ],
)
def test_how_much_a_run_slowed_down(marks: list[tuple[float, float]], says: str) -> None:
    found = [ProgressPoint(*mark) for mark in marks]
    assert says in slowed_words(found)
    # Without marks enough nobody says that it did.
    assert slowed_down(found) is (says != "slowed down")


def test_runs_that_differ_by_nothing_are_not_flagged() -> None:
    assert flags_of({"A": [100.0] * 7, "B": [120.0] * 3})[1] == ()
