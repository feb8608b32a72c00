"""Small studies for the core's tests, written as lists of runs."""

from __future__ import annotations

from typing import Any

from true_margin.core.analysis import Analysis, Comparison, analyse
from true_margin.core.margins import Margin
from true_margin.core.study import Study
from true_margin.exchange.case_file import build_study

Runs = dict[str, list[float]]


def runs_of(times: Runs, task: str = "T", round_: str = "r1") -> list[dict[str, Any]]:
    """Runs of setups on one task: ``{"A": [100.0, 101.0]}``."""
    return [
        {"setup": setup, "task": task, "round": round_, "value": value}
        for setup, values in times.items()
        for value in values
    ]


def study_of(runs: list[dict[str, Any]], **more: Any) -> Study:
    """A study of these runs, with settings as a case file names them."""
    return build_study({"runs": runs, **more})


def analysed(runs: list[dict[str, Any]], **more: Any) -> Analysis:
    """The analysis of these runs."""
    return analyse(study_of(runs, **more))


def margin_of(analysis: Analysis, a: str, b: str, task: int | None = 0) -> Margin:
    """The margin of setup a over setup b by name."""
    comparison = analysis.comparison(task)
    assert comparison is not None
    return margin_in(analysis, comparison, a, b)


def margin_in(analysis: Analysis, comparison: Comparison, a: str, b: str) -> Margin:
    """The margin of a over b within one comparison."""
    setups = [analysis.study.setups[s] for s in comparison.pairs.contrasts.setups]
    return comparison.pairs.margin(setups.index(a), setups.index(b))
