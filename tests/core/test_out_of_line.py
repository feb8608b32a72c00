"""What looks wrong by the figures alone; figures of others; completion."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.core.helpers import analysed, runs_of
from true_margin.core.analysis import Analysis
from true_margin.core.completion import wilson
from true_margin.core.errors import CoreError, QuantityError
from true_margin.core.out_of_line import Finding, FindingKind, find_out_of_line
from true_margin.core.published import FigureKind, published_log, set_beside


def found(analysis: Analysis, kind: FindingKind, **more: object) -> list[Finding]:
    k = len(analysis.study.setups)
    better = np.asarray(more.get("better", np.zeros((k, k), dtype=bool)))
    work = more.get("same_work", ())
    assert isinstance(work, tuple)
    return [each for each in find_out_of_line(analysis, better, work) if each.kind is kind]


def test_a_better_machine_that_loses() -> None:
    analysis = analysed(runs_of({"A": [130.0, 131.0], "B": [100.0, 101.0]}))
    better = np.array([[False, True], [False, False]])
    (each,) = found(analysis, FindingKind.BETTER_LOSES, better=better)
    assert (each.a, each.b, each.task) == (0, 1, 0)
    assert each.value == pytest.approx(-math.log(1.3), abs=0.01)
    assert found(analysis, FindingKind.BETTER_LOSES, better=better.T) == []


def test_an_app_far_off_its_usual_ratio() -> None:
    one = runs_of({s: [100.0, 100.4] for s in "ABCD"}, "one")
    other = runs_of({s: [150.0, 150.5] for s in "ABC"} | {"D": [100.0, 100.3]}, "two")
    analysis = analysed(one + other)
    (each,) = found(analysis, FindingKind.APP_RATIO, same_work=((0, 1),))
    assert (each.a, each.task, each.other_task) == (3, 0, 1)
    assert math.exp(each.limit) == pytest.approx(1.5, abs=0.01)


def test_two_setups_have_no_usual_ratio() -> None:
    runs = runs_of({"A": [100.0], "B": [100.0]}, "one")
    runs += runs_of({"A": [150.0], "B": [100.0]}, "two")
    assert found(analysed(runs), FindingKind.APP_RATIO, same_work=((0, 1),)) == []


def test_a_task_that_tells_nothing_apart() -> None:
    times = {s: [100.0 + i / 50 for i in range(6)] for s in "ABC"}
    (each,) = found(analysed(runs_of(times)), FindingKind.NOTHING_APART)
    assert each.task == 0


def test_a_bridge_that_disagrees_and_a_carried_figure_that_leads() -> None:
    runs = runs_of({"A": [110.0, 110.2], "B": [110.0, 110.1], "C": [150.0, 150.2]}, "T", "old")
    runs += runs_of({"A": [100.0, 100.1], "B": [100.0, 100.2], "C": [100.0, 100.1]}, "T", "new")
    runs += runs_of({"D": [60.0, 60.1]}, "T", "old")
    analysis = analysed(runs, rounds=["old", "new"])
    (bridge,) = found(analysis, FindingKind.BRIDGE)
    assert (bridge.a, bridge.round) == (2, 0)
    carried = found(analysis, FindingKind.CARRIED)
    assert {each.a for each in carried} == {3}


@pytest.mark.parametrize(
    ("kind", "value", "ratio"),
    [
        (FigureKind.TIMES, 1.5, 1.5),
        (FigureKind.FASTER, 50.0, 1.5),
        (FigureKind.LESS_TIME, 50.0, 2.0),
        (FigureKind.VALUE, 377.0, 377.0),
    ],
)
def test_published_figures_mean_one_ratio(kind: FigureKind, value: float, ratio: float) -> None:
    assert math.exp(published_log(kind, value)) == pytest.approx(ratio)


@pytest.mark.parametrize(
    ("kind", "value"),
    [
        (FigureKind.TIMES, 0.0),
        (FigureKind.FASTER, -5.0),
        (FigureKind.LESS_TIME, 100.0),
        (FigureKind.VALUE, math.nan),
        (FigureKind.TIMES, math.inf),
    ],
)
def test_a_figure_that_nobody_can_mean_is_refused(kind: FigureKind, value: float) -> None:
    with pytest.raises(QuantityError):
        published_log(kind, value)


def test_beside_ours_it_is_inside_or_off_by_a_factor() -> None:
    inside = set_beside(math.log(1.5), math.log(1.45), math.log(1.4), math.log(1.52))
    assert (inside.inside, inside.off) == (True, pytest.approx(1.0))
    above = set_beside(math.log(2.0), math.log(1.45), math.log(1.4), math.log(1.6))
    assert (above.inside, above.off) == (False, pytest.approx(2.0 / 1.6))
    below = set_beside(math.log(1.0), math.log(1.45), math.log(1.25), math.log(1.6))
    assert below.off == pytest.approx(1.25)


@pytest.mark.parametrize(
    ("done", "tried", "lo", "hi"),
    # Worked by the formula in Wilson (1927).
    [(3, 4, 0.3006, 0.9544), (0, 5, 0.0, 0.4345), (5, 5, 0.5655, 1.0), (1, 2, 0.0945, 0.9055)],
)
def test_completion_has_wilsons_interval(done: int, tried: int, lo: float, hi: float) -> None:
    assert wilson(done, tried) == pytest.approx((lo, hi), abs=1e-4)


@pytest.mark.parametrize(("done", "tried"), [(0, 0), (3, 2), (-1, 2)])
def test_no_share_of_nothing(done: int, tried: int) -> None:
    with pytest.raises(CoreError):
        wilson(done, tried)
