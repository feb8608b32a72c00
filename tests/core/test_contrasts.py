"""Contrasts beyond pairs of setups, held against the whole design written out."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.helpers import analysed, runs_of
from tests.core.test_rounds import design_of, two_round_case
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.bridges import list_updates
from true_margin.core.effects import effect_variances
from true_margin.core.margins import Call
from true_margin.core.same_work import fixed_cost, margin_between_tasks


def whole_covariance(analysis: Analysis) -> np.ndarray:
    """Covariance of θ by setup, then task, and of δ last, by the general formula."""
    design, groups = design_of(analysis)
    variance = np.diag(1 / analysis.cells.weight)
    variance += analysis.fit.update.cv**2 * groups @ groups.T
    return np.asarray(np.linalg.inv(design.T @ np.linalg.solve(variance, design)))


@pytest.mark.parametrize("seed", range(4))
def test_two_tasks_of_one_setup(seed: int) -> None:
    """A·T over A·U: both lean on the same update and the same uneven landing."""
    analysis = two_round_case(seed)
    contrast = np.array([1, -1, 0, 0, 0, 0, 0.0])
    margin = margin_between_tasks(analysis, 0, 0, 1)
    assert margin is not None
    covariance = whole_covariance(analysis)
    assert margin.se == pytest.approx(math.sqrt(contrast @ covariance @ contrast), rel=1e-9)
    theta = analysis.fit.theta
    assert margin.log_ratio == pytest.approx(theta[0, 0] - theta[0, 1], rel=1e-12)
    assert (margin.a, margin.b) == (0, 1)


def test_a_carried_task_against_one_of_the_latest_round() -> None:
    analysis = two_round_case(3)
    contrast = np.array([0, 0, 0, 0, 1, -1, 0.0])
    margin = margin_between_tasks(analysis, 2, 0, 1)
    assert margin is not None
    covariance = whole_covariance(analysis)
    assert margin.se == pytest.approx(math.sqrt(contrast @ covariance @ contrast), rel=1e-9)


def test_two_apps_need_no_bridge_but_two_rounds_of_one_app_do() -> None:
    runs = runs_of({"A": [100.0]}, "T", "old") + runs_of({"A": [150.0]}, "U", "new")
    apart = analysed(runs, rounds=["old", "new"])
    margin = margin_between_tasks(apart, 0, 0, 1)
    assert margin is not None
    assert (margin.call, margin.ratio) == (Call.CLEAR, pytest.approx(1.5))
    tasks = {"T": {"app": "one"}, "U": {"app": "one"}}
    alike = analysed(runs, rounds=["old", "new"], tasks=tasks)
    assert margin_between_tasks(alike, 0, 0, 1) is None


@pytest.mark.parametrize("seed", range(4))
def test_an_update_has_the_variance_of_the_fit(seed: int) -> None:
    analysis = two_round_case(seed)
    (effect,) = effect_variances(analysis.fit, analysis.cells, 0)
    assert effect.variance == pytest.approx(whole_covariance(analysis)[-1, -1], rel=1e-9)
    (update,) = list_updates(analysis.fit, analysis.cells, 0.95)
    assert update.lo < update.log_effect < update.hi
    assert [bridge.setup for bridge in update.bridges] == [0, 1, 2]


def test_the_bridge_that_is_off_is_named() -> None:
    old, new = (110.0, 111.0), (100.0, 100.9)
    runs = []
    for setup, extra in (("A", 1.0), ("B", 1.0), ("C", 1.25)):
        runs += runs_of({setup: [v * extra for v in old]}, "T", "old")
        runs += runs_of({setup: list(new)}, "T", "new")
    analysis = analysed(runs, rounds=["old", "new"])
    (update,) = list_updates(analysis.fit, analysis.cells, 0.95)
    assert max(update.bridges, key=lambda bridge: abs(bridge.z)).setup == 2
    assert update.bridges[0].log_effect == pytest.approx(-math.log(1.1), abs=0.001)


def test_start_up_and_rate_come_apart() -> None:
    """20 s of start-up and half a second for each second: 80 s and 320 s."""
    runs = runs_of({"A": [80.0, 80.2, 79.8]}, "short") + runs_of({"A": [320.0, 320.4]}, "long")
    tasks = {"short": {"work": 120.0, "unit": "s"}, "long": {"work": 600.0, "unit": "s"}}
    analysis = analysed(runs, tasks=tasks)
    names = [task.name for task in analysis.study.tasks]
    found = fixed_cost(analysis, 0, names.index("short"), names.index("long"))
    assert found is not None
    assert found.start[0] == pytest.approx(20.0, abs=0.2)
    assert found.rate[0] == pytest.approx(0.5, abs=0.001)
    assert found.start[1] < found.start[0] < found.start[2]
    turned = fixed_cost(analysis, 0, names.index("long"), names.index("short"))
    assert turned is not None
    assert turned.start == pytest.approx(found.start)


def test_start_up_needs_two_lengths() -> None:
    runs = runs_of({"A": [80.0]}, "short") + runs_of({"A": [320.0]}, "long")
    same = analysed(runs, tasks={"short": {"work": 60.0}, "long": {"work": 60.0}})
    none = analysed(runs, tasks={"short": {"work": 60.0}, "long": {}})
    assert fixed_cost(same, 0, 0, 1) is None
    assert fixed_cost(none, 0, 0, 1) is None


def test_a_setting_changes_no_estimate() -> None:
    before = two_round_case(2)
    later = analyse(before.study, before=before)
    assert later.fit is before.fit
    assert later.compare(0).pairs.lo.tolist() == before.compare(0).pairs.lo.tolist()


@settings(max_examples=30, deadline=None)
@given(seed=st.integers(0, 10_000), setups=st.integers(2, 5), tasks=st.integers(1, 4))
def test_the_fit_holds_for_any_shape(seed: int, setups: int, tasks: int) -> None:
    """Random cells in three rounds of one app, some missing, against generalised least squares."""
    rng = np.random.default_rng(seed)
    runs = [
        {"setup": f"S{s}", "task": f"T{t}", "round": f"r{r}", "value": float(rng.lognormal(4, 0.3))}
        for s in range(setups)
        for t in range(tasks)
        for r in range(3)
        if rng.uniform() < 0.6
        for _ in range(int(rng.integers(1, 3)))
    ]
    if not runs:
        return
    apps = {run["task"]: {"app": "one"} for run in runs}
    analysis = analysed(runs, tasks=apps, rounds=["r0", "r1", "r2"])
    cells, fit = analysis.cells, analysis.fit
    outside = sorted(
        {
            (int(c), int(r))
            for c, r in zip(fit.component[cells.setup, cells.task], cells.round, strict=True)
        }
    )
    latest = {c: max(r for d, r in outside if d == c) for c, _ in outside}
    effects = [(c, r) for c, r in outside if r != latest[c]]
    nodes = sorted({(int(s), int(t)) for s, t in zip(cells.setup, cells.task, strict=True)})
    design = np.zeros((len(cells), len(nodes) + len(effects)))
    groups: dict[tuple[int, int], int] = {}
    member = np.full(len(cells), -1)
    for row, (s, t, r) in enumerate(zip(cells.setup, cells.task, cells.round, strict=True)):
        design[row, nodes.index((int(s), int(t)))] = 1
        key = (int(fit.component[s, t]), int(r))
        if key in effects:
            design[row, len(nodes) + effects.index(key)] = 1
            member[row] = groups.setdefault((int(s), int(r)), len(groups))
    z = (member[:, None] == np.arange(len(groups))).astype(float)
    variance = np.diag(1 / cells.weight) + fit.update.cv**2 * z @ z.T
    inverse = np.linalg.inv(variance)
    covariance = np.linalg.inv(design.T @ inverse @ design)
    peer = covariance @ design.T @ inverse @ cells.value
    ours = np.array([fit.theta[s, t] for s, t in nodes])
    assert ours == pytest.approx(peer[: len(nodes)], abs=1e-7)
    for task in range(len(analysis.study.tasks)):
        pairs = analysis.compare(task).pairs
        at = [nodes.index((int(s), task)) for s in pairs.contrasts.setups]
        theirs = covariance[np.ix_(at, at)]
        spread = np.diag(theirs)[:, None] + np.diag(theirs)[None, :] - 2 * theirs
        assert pairs.contrasts.se**2 == pytest.approx(np.maximum(spread, 0), abs=1e-9)
