"""Cells and the moderated spread, by hand."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest

from tests.core.helpers import runs_of, study_of
from true_margin.core.cells import Basis, build_cells
from true_margin.core.errors import CaseError, SpreadUnknownError
from true_margin.core.study import check_study


def test_single_runs_rest_on_the_prior() -> None:
    cells = build_cells(study_of(runs_of({"A": [100.0], "B": [110.0]})))
    (spread,) = cells.spread
    assert spread is not None
    assert (spread.cv, spread.df, spread.repeat_df) == (pytest.approx(0.02), 3, 0)
    assert spread.basis is Basis.ASSUMED
    assert cells.value.tolist() == pytest.approx([-math.log(100), -math.log(110)])
    assert cells.weight.tolist() == pytest.approx([1 / 0.02**2] * 2)


def test_repeats_are_blended_with_the_prior() -> None:
    times = {"A": [100.0, 102.0, 101.0], "B": [120.0, 121.0]}
    cells = build_cells(study_of(runs_of(times)))
    parts = [
        float(((v := np.log(values)) - v.mean()) @ (v - v.mean())) for values in times.values()
    ]
    # Each setup's scatter is taken back to what the others' would be.
    scatter = sum(part / share for part, share in zip(parts, cells.shares.variance, strict=True))
    (spread,) = cells.spread
    assert spread is not None
    assert spread.cv == pytest.approx(math.sqrt((3 * 0.02**2 + scatter) / (3 + 3)), rel=1e-12)
    assert (spread.df, spread.basis) == (6, Basis.PARTLY)


def test_spread_is_measured_from_six_repeats_on() -> None:
    cells = build_cells(study_of(runs_of({"A": [100.0 + i / 10 for i in range(7)]})))
    assert cells.spread[0] is not None
    assert cells.spread[0].basis is Basis.MEASURED


def test_a_coarse_reading_weighs_less() -> None:
    runs = runs_of({"A": [100.0, 120.0]})
    runs[1]["u"] = 30.0
    cells = build_cells(study_of(runs, prior_df=1000))
    sharp, coarse = 1 / 0.0219**2, 1 / 0.25**2
    s = cells.spread[0]
    assert s is not None
    sharp = 1 / s.cv**2
    expected = -(sharp * math.log(100) + coarse * math.log(120)) / (sharp + coarse)
    assert cells.value[0] == pytest.approx(expected, rel=1e-12)
    assert cells.weight[0] == pytest.approx(sharp + coarse, rel=1e-12)


def test_voids_failures_and_bounds_take_no_part() -> None:
    runs = runs_of({"A": [100.0, 5.0, 700.0]})
    runs[1]["status"] = "void"
    runs[2]["status"] = "failed"
    runs.append({"setup": "A", "task": "T", "value": "> 20 min"})
    cells = build_cells(study_of(runs))
    assert cells.n.tolist() == [1]
    assert cells.mean.tolist() == pytest.approx([-math.log(100)])


def test_amounts_count_the_other_way() -> None:
    study = study_of(runs_of({"A": [50.0]}), tasks={"T": {"measure": "amount"}})
    assert build_cells(study).value.tolist() == pytest.approx([math.log(50)])


def test_run_order_decides_not_the_list() -> None:
    runs = runs_of({"A": [100.0, 101.0, 102.0]})
    for run, order in zip(runs, (3, 1, 2), strict=True):
        run["order"] = order
    assert build_cells(study_of(runs)).run.tolist() == [1, 2, 0]


def test_no_repeat_and_no_prior_is_refused() -> None:
    with pytest.raises(SpreadUnknownError, match="no repeat and no prior: spread unknown"):
        build_cells(study_of(runs_of({"A": [100.0]}), prior_df=0))


def test_equal_repeats_without_a_prior_are_refused() -> None:
    with pytest.raises(SpreadUnknownError):
        build_cells(study_of(runs_of({"A": [100.0, 100.0]}), prior_df=0))


def test_no_runs_make_no_cells() -> None:
    cells = build_cells(study_of([]))
    assert len(cells) == 0
    assert cells.spread == ()


@pytest.mark.parametrize(
    ("setting", "value"),
    [
        ("confidence", 0.0),
        ("confidence", 1.0),
        ("materiality", -0.1),
        ("prior_df", math.inf),
        ("prior_df", 0.01),
        ("update_prior_df", 1e-300),
        ("prior_cv", math.nan),
    ],
)
def test_settings_out_of_range_are_named(setting: str, value: float) -> None:
    study = study_of(runs_of({"A": [1.0]}))
    with pytest.raises(CaseError) as refused:
        check_study(replace(study, settings=replace(study.settings, **{setting: value})))
    assert refused.value.path == setting


def test_values_out_of_range_are_named_by_place() -> None:
    study = study_of(runs_of({"A": [1.0, 2.0, 3.0]}))
    study.runs.value[2] = -1.0
    with pytest.raises(CaseError, match=r"runs\[2\].value"):
        check_study(study)
