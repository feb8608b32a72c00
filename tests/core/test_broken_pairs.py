"""Pairs that did not do the same job: no margin, no order between them."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from tests.core.helpers import runs_of, study_of
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.margins import Call

TIMES = {"A": [100.0, 101.0], "B": [150.0, 151.0], "C": [225.0, 226.0], "D": [340.0, 341.0]}


def analysed_with(
    *pairs: tuple[str, str], tasks: tuple[str, ...] = ("T",), broken_on: int = 0
) -> Analysis:
    runs = [run for task in tasks for run in runs_of(TIMES, task)]
    study = study_of(runs)
    k = len(study.setups)
    broken = np.zeros((len(study.tasks), k, k), dtype=bool)
    for one, other in pairs:
        i, j = study.setups.index(one), study.setups.index(other)
        broken[broken_on, i, j] = broken[broken_on, j, i] = True
    return analyse(replace(study, broken=broken))


def ranks(analysis: Analysis, task: int | None = 0) -> dict[str, tuple[int, int]]:
    comparison = analysis.comparison(task)
    assert comparison is not None
    return {analysis.study.setups[r.setup]: (r.best_rank, r.worst_rank) for r in comparison.rungs}


def test_without_breaks_nothing_changes() -> None:
    assert ranks(analysed_with()) == {"A": (1, 1), "B": (2, 2), "C": (3, 3), "D": (4, 4)}


def test_a_broken_pair_has_no_margin_and_shares_ranks() -> None:
    analysis = analysed_with(("B", "C"))
    pairs = analysis.tasks[0].pairs
    assert pairs.margin(1, 2).call is Call.NOT_COMPARABLE
    assert pairs.margin(1, 3).call is Call.CLEAR
    assert ranks(analysis) == {"A": (1, 1), "B": (2, 3), "C": (2, 3), "D": (4, 4)}


def test_a_break_with_the_baseline_takes_a_setup_off() -> None:
    analysis = analysed_with(("A", "C"))
    assert list(ranks(analysis)) == ["A", "B", "D"]
    (off,) = analysis.tasks[0].standing.off
    assert (analysis.study.setups[off.setup], off.not_same_job, off.no_bridge) == ("C", True, False)


def test_breaks_of_one_task_reach_the_mix_but_no_other_task() -> None:
    analysis = analysed_with(("B", "C"), tasks=("T", "U"), broken_on=1)
    assert ranks(analysis, 0)["B"] == (2, 2)
    assert ranks(analysis, 1)["B"] == (2, 3)
    assert ranks(analysis, None)["B"] == (2, 3)
    assert analysis.mix is not None
    assert analysis.mix.pairs.count(Call.NOT_COMPARABLE) == 1


@pytest.mark.parametrize("pairs", [[("A", "B"), ("A", "C"), ("A", "D")]])
def test_a_baseline_broken_with_all_stands_alone(pairs: list[tuple[str, str]]) -> None:
    analysis = analysed_with(*pairs)
    assert ranks(analysis) == {"A": (1, 1)}
    assert len(analysis.tasks[0].standing.off) == 3
