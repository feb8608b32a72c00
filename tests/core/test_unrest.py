"""Setups that scatter more than others."""

from __future__ import annotations

import numpy as np
import pytest

from tests.core.helpers import analysed
from true_margin.core.analysis import Analysis
from true_margin.core.cells import VARIANCE_SHARE_P


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
    assert analysis.cells.variance_share_p is not None
    assert analysis.cells.variance_share_p < VARIANCE_SHARE_P
    assert analysis.cells.variance_share[3] > 1.5
    assert max(analysis.cells.variance_share[:3]) < 1.0
    se = analysis.compare(0).pairs.contrasts.se
    assert se[0, 3] > 1.5 * se[0, 1]
    # What is known of a setup's own share limits the degrees of freedom.
    assert analysis.cells.df_of(0) < analysis.cells.spread[0].df  # type: ignore[union-attr]


def test_setups_that_scatter_alike_share_one_spread() -> None:
    analysis = shootout(1.0)
    assert analysis.cells.variance_share.tolist() == [1.0] * 4
    assert analysis.cells.df_of(0) == analysis.cells.spread[0].df  # type: ignore[union-attr]


def test_one_odd_run_is_no_unrest() -> None:
    assert shootout(1.0, odd=True).cells.variance_share.tolist() == [1.0] * 4


@pytest.mark.parametrize("tasks", [1, 2])
def test_few_cells_prove_nothing(tasks: int) -> None:
    """With one or two tasks the order of four scatters is chance."""
    found = [
        shootout(1.0, tasks=tasks, seed=seed).cells.variance_share.tolist() for seed in range(20)
    ]
    assert sum(each != [1.0] * 4 for each in found) <= 4


def test_readings_that_are_all_alike_are_no_proof_of_calm() -> None:
    runs = [
        {"setup": setup, "task": task, "value": 100.0}
        for setup in "AB"
        for task in "TU"
        for _ in range(3)
    ]
    assert analysed(runs).cells.variance_share.tolist() == [1.0, 1.0]
