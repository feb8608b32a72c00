"""Simulated rigs: what they do to a stopwatch is what they say they do."""

from __future__ import annotations

import math

import numpy as np
import pytest

from true_margin.core.checks import ProgressPoint, slowed_down
from true_margin.standins.rig_model import Rig, run_export


def times(rig: Rig, n: int = 400) -> list[float]:
    rng = np.random.default_rng(1)
    return [run_export(rig, rng).elapsed_s for _ in range(n)]


def test_runs_spread_about_the_true_time() -> None:
    logs = np.log(times(Rig(300.0, spread_cv=0.02)))
    assert math.exp(float(logs.mean())) == pytest.approx(300.0, rel=0.005)
    assert float(logs.std()) == pytest.approx(0.02, rel=0.15)


def test_the_first_run_is_cold() -> None:
    rig = Rig(300.0, spread_cv=0.0, cold_factor=1.1)
    rng = np.random.default_rng(1)
    assert run_export(rig, rng, first=True).elapsed_s == pytest.approx(330.0)
    assert run_export(rig, rng).elapsed_s == pytest.approx(300.0)


def test_a_hot_rig_slows_down_and_its_marks_show_it() -> None:
    rig = Rig(300.0, spread_cv=0.0, heats_after_s=120.0, hot_pace=0.75)
    export = run_export(rig, np.random.default_rng(1))
    assert export.elapsed_s == pytest.approx(120 + 180 / 0.75)
    points = [ProgressPoint(mark["elapsed_s"], mark["fraction"]) for mark in export.marks]
    assert slowed_down([*points, ProgressPoint(export.elapsed_s, 1.0)])
    fractions = [mark["fraction"] for mark in export.marks]
    assert fractions == sorted(fractions)
    assert any(mark.get("event") == "fan starts" for mark in export.marks)


def test_its_own_estimate_is_as_wrong_as_it_was_told() -> None:
    export = run_export(Rig(300.0, spread_cv=0.0, estimate_bias=1.25), np.random.default_rng(1))
    mark = export.marks[5]
    assert mark["left_s"] == pytest.approx(1.25 * (300.0 - mark["elapsed_s"]), abs=1.0)


def test_a_rig_that_crashes_says_how_far_it_came() -> None:
    export = run_export(Rig(300.0, crash_chance=1.0, spread_cv=0.0), np.random.default_rng(3))
    assert export.reason in ("crash", "out of memory")
    assert export.elapsed_s == pytest.approx(300 * export.reached, rel=0.01)
    assert all(mark["elapsed_s"] < export.elapsed_s for mark in export.marks)


def test_the_same_seed_tells_the_same_story() -> None:
    assert times(Rig(100.0), 5) == times(Rig(100.0), 5)
