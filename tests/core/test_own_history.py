"""One machine over the years: what it lost by itself is told from what updates did."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.core.standing import timed
from true_margin.core.analysis import Analysis
from true_margin.core.own_history import Change, OwnChange, lasting_change, own_changes


def rows(last: float) -> list[tuple[str, int, list[float]]]:
    """An update of 10 % that two others say; the yardstick takes ``last`` after it."""
    return [
        ("Yard", 0, [110.0, 110.2, 109.8]),
        ("Yard", 1, [last, last * 1.001, last * 0.999]),
        ("One", 0, [55.0, 55.1]),
        ("One", 1, [50.0, 50.1]),
        ("Two", 0, [220.0, 220.3]),
        ("Two", 1, [200.0, 200.2]),
    ]


def changes(analysis: Analysis) -> tuple[OwnChange, ...]:
    return own_changes(analysis.study, 0, analysis.study.runs.round)


def test_a_machine_that_gains_what_the_others_gain_keeps_its_pace() -> None:
    (change,) = changes(timed(rows(100.0), versions=("1", "2")))
    assert change.log_ratio == pytest.approx(0.0, abs=0.002)
    assert change.change in (Change.SAME, Change.OPEN)
    assert lasting_change([change]) is None


def test_a_machine_that_lost_a_fifth_is_slower_beyond_the_update() -> None:
    (change,) = changes(timed(rows(125.0), versions=("1", "2")))
    assert change.log_ratio == pytest.approx(math.log(100 / 125), abs=0.003)
    assert change.change is Change.SLOWER
    assert lasting_change([change]) == change


def test_alone_over_an_update_nothing_is_known_of_itself() -> None:
    analysis = timed(
        [("Yard", 0, [110.0, 111.0]), ("Yard", 1, [125.0, 126.0])], versions=("1", "2")
    )
    (change,) = changes(analysis)
    assert change.change is Change.UNTIED
    assert math.isnan(change.log_ratio)
    assert lasting_change([change]) is None


def test_two_stretches_in_one_version_compare_without_any_other_machine() -> None:
    analysis = timed([("Yard", 0, [100.0, 100.1, 120.0, 120.2])], versions=("1",))
    (change,) = own_changes(analysis.study, 0, np.array([0, 0, 1, 1]))
    assert change.change is Change.SLOWER
    assert change.log_ratio == pytest.approx(math.log(100.05 / 120.1), abs=1e-3)


def test_after_an_update_that_nobody_ties_the_next_stretch_is_the_first_again() -> None:
    analysis = timed(
        [
            ("Yard", 0, [120.0, 120.2]),
            ("Yard", 1, [110.0, 110.2]),
            ("Yard", 2, [100.0, 100.1]),
            ("One", 1, [55.0, 55.1]),
            ("One", 2, [50.0, 50.1]),
        ],
        versions=("1", "2", "3"),
    )
    first, second = changes(analysis)
    assert (first.change, first.against) == (Change.UNTIED, 0)
    assert (second.against, round(second.log_ratio, 2)) == (1, 0.0)


def said(*each: Change) -> list[OwnChange]:
    return [OwnChange(at + 1, 0, 0.0, 0.0, 0.0, change) for at, change in enumerate(each)]


def test_what_passed_is_no_lasting_change() -> None:
    slower, same, untied = Change.SLOWER, Change.SAME, Change.UNTIED
    assert lasting_change(said(slower, same)) is None
    since = lasting_change(said(same, slower, untied, slower))
    assert since is not None
    assert since.stretch == 2
    turned = lasting_change(said(slower, Change.FASTER))
    assert turned is not None
    assert turned.stretch == 2
