"""The fit against a slow reference: the whole design written out, solved at once."""

from __future__ import annotations

import math
from typing import Any

import numpy as np
import pytest
import statsmodels.api as sm
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.core.helpers import analysed, margin_of, runs_of, study_of
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.cells import Basis

SETUPS, TASKS = ("A", "B", "C"), ("T", "U")


def two_rounds(seed: int, *, effect: float = 0.09, uneven: float = 0.02) -> list[dict[str, Any]]:
    """Three setups on two tasks of one app, before and after an update."""
    rng = np.random.default_rng(seed)
    runs = []
    for round_, delta in (("old", -effect), ("new", 0.0)):
        for s, setup in enumerate(SETUPS):
            landed = rng.normal(0, uneven) if round_ == "old" else 0.0
            for t, task in enumerate(TASKS):
                if round_ == "new" and setup == "C" and task == "U":
                    continue  # carried over from the old round
                for _ in range(2):
                    v = -5 - 0.3 * t + 0.2 * s + delta + landed + rng.normal(0, 0.015)
                    runs.append(
                        {"setup": setup, "task": task, "round": round_, "value": math.exp(-v)}
                    )
    return runs


def two_round_case(seed: int, **more: Any) -> Analysis:
    tasks = {task: {"app": "Heddle"} for task in TASKS}
    return analysed(two_rounds(seed, **more), tasks=tasks, rounds=["old", "new"])


def design_of(analysis: Analysis) -> tuple[np.ndarray, np.ndarray]:
    """Columns of the whole design (θ of each node, then δ of the old round), and Z."""
    cells = analysis.cells
    nodes = sorted({(int(s), int(t)) for s, t in zip(cells.setup, cells.task, strict=True)})
    design = np.zeros((len(cells), len(nodes) + 1))
    for row, (s, t, r) in enumerate(zip(cells.setup, cells.task, cells.round, strict=True)):
        design[row, nodes.index((int(s), int(t)))] = 1
        design[row, -1] = r == 0
    old_setups = sorted({int(s) for s, r in zip(cells.setup, cells.round, strict=True) if r == 0})
    groups = np.zeros((len(cells), len(old_setups)))
    for row, (s, r) in enumerate(zip(cells.setup, cells.round, strict=True)):
        if r == 0:
            groups[row, old_setups.index(int(s))] = 1
    return design, groups


def gls_of(analysis: Analysis) -> Any:
    """The same model by a general routine, τ² taken from the analysis."""
    design, groups = design_of(analysis)
    variance = np.diag(1 / analysis.cells.weight)
    variance += analysis.fit.update.cv**2 * groups @ groups.T
    model = sm.GLS(analysis.cells.value, design, sigma=variance)
    # The peer estimates a scale; ours is known, so only its coefficients are used.
    return model.fit()


@pytest.mark.parametrize("seed", range(6))
def test_fit_equals_generalised_least_squares(seed: int) -> None:
    analysis = two_round_case(seed)
    peer = gls_of(analysis)
    theta = analysis.fit.theta[analysis.fit.component >= 0]
    assert theta == pytest.approx(peer.params[:-1], abs=1e-9)
    (old, new) = sorted(analysis.fit.rounds, key=lambda effect: effect.round, reverse=True)
    assert old.log_effect == pytest.approx(peer.params[-1], abs=1e-9)
    assert (new.log_effect, new.reference) == (0.0, True)


@pytest.mark.parametrize("seed", range(4))
def test_margin_variance_equals_the_covariance_of_the_fit(seed: int) -> None:
    analysis = two_round_case(seed)
    design, groups = design_of(analysis)
    variance = np.diag(1 / analysis.cells.weight)
    variance += analysis.fit.update.cv**2 * groups @ groups.T
    covariance = np.linalg.inv(design.T @ np.linalg.solve(variance, design))
    # Nodes by setup, then task: A·T, A·U, B·T, B·U, C·T, C·U, δ.
    contrast = np.array([0, 1, 0, 0, 0, -1, 0.0])
    margin = margin_of(analysis, "A", "C", task=1)
    assert margin.se == pytest.approx(math.sqrt(contrast @ covariance @ contrast), rel=1e-9)


@pytest.mark.parametrize("seed", range(4))
def test_update_spread_by_moments(seed: int) -> None:
    """Q, C and d as the formulas have them, with M written out."""
    analysis = two_round_case(seed, uneven=0.05)
    design, groups = design_of(analysis)
    w = np.diag(analysis.cells.weight)
    m = w - w @ design @ np.linalg.inv(design.T @ w @ design) @ design.T @ w
    q = float(analysis.cells.value @ m @ analysis.cells.value)
    c = float(np.trace(groups.T @ m @ groups))
    rank = int(np.linalg.matrix_rank(groups.T @ m @ groups, tol=1e-6 * max(1, c)))
    residual_df = len(analysis.cells) - int(np.linalg.matrix_rank(design))
    by_moments = max(0.0, (q - residual_df) / c)
    tau2 = (2 * 0.015**2 + rank * by_moments) / (2 + rank)
    assert analysis.fit.update.cv == pytest.approx(math.sqrt(tau2), rel=1e-8)
    assert analysis.fit.update.df == 2 + rank
    assert analysis.fit.update.evidence_df == rank


def test_carried_figures_are_marked() -> None:
    analysis = two_round_case(1)
    assert analysis.fit.carried.tolist() == [[False, False], [False, False], [False, True]]


def test_one_round_needs_no_update_spread() -> None:
    update = analysed(runs_of({"A": [1.0], "B": [2.0]})).fit.update
    assert (update.cv, update.df, update.basis) == (0.0, None, None)


def test_two_setups_that_never_met_have_no_bridge() -> None:
    runs = runs_of({"A": [100.0]}, round_="old") + runs_of({"B": [90.0]}, round_="new")
    analysis = analysed(runs, rounds=["old", "new"])
    assert analysis.fit.component.tolist() == [[0], [1]]
    assert not analysis.tasks[0].pairs.comparable[0, 1]
    assert [off.no_bridge for off in analysis.tasks[0].standing.off] == [True]


def test_each_app_has_its_own_effect() -> None:
    runs = [
        *runs_of({"A": [110.0], "B": [55.0]}, "T", "old"),
        *runs_of({"A": [100.0]}, "T", "new"),
        *runs_of({"A": [80.0], "B": [40.0]}, "U", "old"),
        *runs_of({"A": [80.0]}, "U", "new"),
    ]
    analysis = analysed(runs, rounds=["old", "new"])
    effects = {(e.app, e.round): e.log_effect for e in analysis.fit.rounds}
    assert effects[("T", "old")] == pytest.approx(-math.log(1.1))
    assert effects[("U", "old")] == pytest.approx(0.0)
    # As of the latest round B stands at 50 s on T, although it was measured at 55 s.
    assert math.exp(-analysis.fit.theta[1, 0]) == pytest.approx(50.0)


def test_no_evidence_leaves_the_prior() -> None:
    runs = runs_of({"A": [110.0], "B": [55.0]}, round_="old") + runs_of(
        {"A": [100.0]}, round_="new"
    )
    update = analysed(runs, rounds=["old", "new"]).fit.update
    assert (update.cv, update.df, update.basis) == (pytest.approx(0.015), 2, Basis.ASSUMED)
    none = analysed(runs, rounds=["old", "new"], update_prior_df=0).fit.update
    assert (none.cv, none.df) == (0.0, None)


def test_bridges_that_disagree_are_told() -> None:
    steady = [100.0, 100.1, 99.9, 100.05]
    runs = [
        *runs_of({"A": [t * 1.10 for t in steady], "B": [t * 1.30 for t in steady]}, round_="old"),
        *runs_of({"A": steady, "B": steady}, round_="new"),
    ]
    assert analysed(runs, rounds=["old", "new"], prior_cv=0.001).fit.update.bridges_disagree
    calm = [
        *runs_of({"A": [110.0], "B": [110.5]}, round_="old"),
        *runs_of({"A": [100.0], "B": [100.0]}, round_="new"),
    ]
    assert not analysed(calm, rounds=["old", "new"]).fit.update.bridges_disagree


@given(st.floats(0.2, 5.0), st.integers(0, 3))
@settings(max_examples=25, deadline=None)
def test_ratios_do_not_depend_on_the_unit(scale: float, seed: int) -> None:
    runs = two_rounds(seed)
    scaled = [{**run, "value": run["value"] * scale} for run in runs]
    tasks = {task: {"app": "Heddle"} for task in TASKS}
    one = margin_of(analysed(runs, tasks=tasks, rounds=["old", "new"]), "A", "C", None)
    other = margin_of(analysed(scaled, tasks=tasks, rounds=["old", "new"]), "A", "C", None)
    assert (one.log_ratio, one.se, one.df) == pytest.approx(
        (other.log_ratio, other.se, other.df), abs=1e-9
    )


def test_runs_in_any_list_order_give_the_same() -> None:
    runs = [{**run, "order": place} for place, run in enumerate(two_rounds(2))]
    tasks = {task: {"app": "Heddle"} for task in TASKS}
    more: dict[str, Any] = {"tasks": tasks, "rounds": ["old", "new"], "baseline": "A"}
    forward = study_of(runs, **more)
    backward = study_of(runs[::-1], **more)
    one = margin_of(analyse(forward), "A", "B", None)
    other = margin_of(analyse(backward), "A", "B", None)
    assert (one.log_ratio, one.lo) == pytest.approx((other.log_ratio, other.lo), abs=1e-12)
