"""What must hold of every analysis, whatever the runs."""

from __future__ import annotations

import math
from typing import Any

import pytest
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st

from true_margin.core.analysis import Analysis, Comparison, analyse
from true_margin.core.errors import SpreadUnknownError
from true_margin.core.margins import CALL_ORDER, Call
from true_margin.exchange.case_file import build_study
from true_margin.exchange.case_result import result_object
from true_margin.exchange.case_tables import result_table

SETUPS, TASKS, ROUNDS = "ABCD", "TU", ("old", "new")
RUN = st.fixed_dictionaries(
    {
        "setup": st.sampled_from(SETUPS),
        "task": st.sampled_from(TASKS),
        "round": st.sampled_from(ROUNDS),
        "value": st.floats(1.0, 5000.0),
        "u": st.floats(0.0, 5.0),
        "status": st.sampled_from(["ok", "ok", "ok", "void", "failed"]),
    }
)
RUNS = st.lists(RUN, min_size=1, max_size=30)
CALM = settings(max_examples=30, deadline=None, suppress_health_check=[HealthCheck.too_slow])
SAME_APP = {task: {"app": "Heddle"} for task in TASKS}


def analysed(runs: list[dict[str, Any]], **more: Any) -> Analysis:
    case = {"runs": runs, "rounds": list(ROUNDS), "tasks": SAME_APP, **more}
    return analyse(build_study(case))


def comparisons(analysis: Analysis) -> list[Comparison]:
    return [*analysis.tasks, *([] if analysis.mix is None else [analysis.mix])]


@CALM
@given(RUNS)
def test_ladders_and_those_below_hold_every_setup_once(runs: list[dict[str, Any]]) -> None:
    analysis = analysed(runs)
    for comparison in comparisons(analysis):
        on = [rung.setup for rung in comparison.rungs]
        off = [row.setup for row in comparison.standing.off]
        assert sorted([*on, *off]) == list(range(len(analysis.study.setups)))
        for row in comparison.standing.off:
            assert row.lacks or row.cannot or row.no_bridge


@CALM
@given(RUNS)
def test_ranks_hold_together(runs: list[dict[str, Any]]) -> None:
    for comparison in comparisons(analysed(runs)):
        k = len(comparison.rungs)
        speeds = [rung.log_speed for rung in comparison.rungs]
        assert speeds == sorted(speeds, reverse=True)
        for place, rung in enumerate(comparison.rungs, start=1):
            assert 1 <= rung.best_rank <= place <= rung.worst_rank <= k
        if k:
            assert math.fsum(rung.p_fastest or 0.0 for rung in comparison.rungs) == pytest.approx(
                1.0
            )


@CALM
@given(RUNS)
def test_margins_are_the_same_from_both_sides(runs: list[dict[str, Any]]) -> None:
    for comparison in comparisons(analysed(runs)):
        pairs = comparison.pairs
        for i in range(len(pairs.lo)):
            for j in range(len(pairs.lo)):
                if i != j:
                    there, back = pairs.margin(i, j), pairs.margin(j, i)
                    assert there.call is back.call
                    assert (there.lo, there.hi) == pytest.approx((-back.hi, -back.lo), abs=1e-9)
                    assert there.se == pytest.approx(back.se, abs=1e-12)


@CALM
@given(RUNS, st.sampled_from([0.5, 0.8, 0.9]))
def test_less_confidence_never_opens_a_call(runs: list[dict[str, Any]], confidence: float) -> None:
    sure, bold = analysed(runs), analysed(runs, confidence=confidence)
    for one, other in zip(comparisons(sure), comparisons(bold), strict=True):
        assert (other.pairs.hi - other.pairs.lo <= one.pairs.hi - one.pairs.lo + 1e-12).all()
        was_open = one.pairs.call == CALL_ORDER.index(Call.OPEN)
        is_open = other.pairs.call == CALL_ORDER.index(Call.OPEN)
        assert not (is_open & ~was_open).any()


@CALM
@given(RUNS, st.sampled_from(SETUPS))
def test_voids_and_failures_move_no_figure(runs: list[dict[str, Any]], setup: str) -> None:
    extra = [
        {**runs[0], "setup": runs[0]["setup"], "status": status, "value": 1.0}
        for status in ("void", "failed")
    ]
    counted = [run for run in runs if run["status"] == "ok"]
    if not counted:
        return
    one, other = analysed(runs), analysed([*runs, *extra])
    for task in range(len(one.study.tasks)):
        ours = {one.study.setups[r.setup]: r.log_speed for r in one.tasks[task].rungs}
        name = one.study.tasks[task].name
        at = next(i for i, t in enumerate(other.study.tasks) if t.name == name)
        theirs = {other.study.setups[r.setup]: r.log_speed for r in other.tasks[at].rungs}
        assert theirs == pytest.approx(ours)


@CALM
@given(RUNS)
def test_a_run_at_the_mean_adds_no_scatter(runs: list[dict[str, Any]]) -> None:
    """Adding a run at its cell's mean adds a degree of freedom and no scatter."""
    ok = [run for run in runs if run["status"] == "ok"]
    if not ok:
        return
    cell = [
        r["value"] for r in ok if all(r[key] == ok[0][key] for key in ("setup", "task", "round"))
    ]
    mean = math.exp(math.fsum(math.log(value) for value in cell) / len(cell))
    before = analysed(runs)
    after = analysed([*runs, {**ok[0], "value": mean}])
    name = ok[0]["task"]
    place = next(i for i, task in enumerate(before.study.tasks) if task.name == name)
    one, other = before.cells.spread[place], after.cells.spread[place]
    assert one is not None
    assert other is not None
    scatter = [float(each.cells.scatter.sum()) for each in (before, after)]
    assert scatter[1] == pytest.approx(scatter[0], abs=1e-9)
    assert other.df == one.df + 1


def _dwarfed() -> list[dict[str, Any]]:
    """Runs in which one cell's weight dwarfs the other round's."""
    same = {"setup": "A", "task": "T", "round": "old", "value": 1.0, "u": 0.0, "status": "ok"}
    new, other = {**same, "round": "new"}, {**same, "setup": "B"}
    return [
        *[same] * 7,
        new,
        *[{**same, "task": "U"}] * 6,
        other,
        {**other, "round": "new", "u": 1.0},
    ]


@CALM
@given(RUNS, st.sampled_from([0.0, 0.5, 1.0, 3.0]), st.floats(0, 0.05))
@example(_dwarfed(), 0.5, 1.175494351e-38)
@example(_dwarfed()[:1], 0.5, 3.15e-158)
def test_every_analysis_can_be_printed_or_is_refused(
    runs: list[dict[str, Any]], df: float, cv: float
) -> None:
    try:
        analysis = analysed(runs, prior_df=df, prior_cv=cv)
    except SpreadUnknownError as refused:
        assert "spread unknown" in refused.reason
        return
    assert set(result_object(analysis)) == {
        "spread",
        "setup_spread",
        "serial",
        "first_run",
        "models",
        "rounds",
        "update_spread",
        "margins",
        "ladders",
        "off_ladder",
        "flags",
    }
    assert result_table(analysis).endswith("\n")


@CALM
@given(RUNS)
def test_names_of_setups_do_not_matter(runs: list[dict[str, Any]]) -> None:
    renamed = [{**run, "setup": f"machine {run['setup']}"} for run in runs]
    one, other = analysed(runs), analysed(renamed)
    for ours, theirs in zip(comparisons(one), comparisons(other), strict=True):
        assert [r.setup for r in ours.rungs] == [r.setup for r in theirs.rungs]
        assert (ours.pairs.call == theirs.pairs.call).all()
