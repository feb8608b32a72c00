"""The published cases: same numbers to 1e-8, same calls, ranks, flags and lists."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from true_margin.core.analysis import analyse
from true_margin.core.errors import QuantityError
from true_margin.core.quantities import AmbiguousElapsed, Elapsed, parse_elapsed
from true_margin.exchange.case_file import build_case
from true_margin.exchange.case_result import result_object

CHANCE = re.compile(r"p_fastest$|surety$|models\.fastest\.")
"""What is drawn at random: two sets of draws agree to about a hundredth."""
VECTORS = Path(__file__).parents[1] / "vectors"
CASES = sorted(
    path.stem for path in VECTORS.glob("*.json") if path.stem not in ("claims", "durations")
)
DURATIONS = json.loads((VECTORS / "durations.json").read_text())


def differences(ours: Any, theirs: Any, path: str = "") -> Iterator[str]:
    """Every place where two results differ by more than is agreed."""
    if isinstance(theirs, dict):
        if not isinstance(ours, dict) or ours.keys() != theirs.keys():
            yield f"{path}: keys {ours} against {theirs}"
            return
        for key in theirs:
            yield from differences(ours[key], theirs[key], f"{path}.{key}")
    elif isinstance(theirs, list):
        if not isinstance(ours, list) or len(ours) != len(theirs):
            yield f"{path}: {ours} against {theirs}"
            return
        for place, (one, other) in enumerate(zip(ours, theirs, strict=True)):
            yield from differences(one, other, f"{path}[{place}]")
    elif isinstance(theirs, float) and isinstance(ours, (int, float)):
        agreed = 0.015 if CHANCE.search(path) else 1e-8
        if not math.isclose(ours, theirs, rel_tol=0, abs_tol=agreed):
            yield f"{path}: {ours} against {theirs}"
    elif ours != theirs:
        yield f"{path}: {ours!r} against {theirs!r}"


@pytest.mark.parametrize("name", CASES)
def test_case_agrees(name: str) -> None:
    vector = json.loads((VECTORS / f"{name}.json").read_text())
    case = build_case(vector["case"])
    result = result_object(analyse(case.study), case.viewer)
    assert list(differences(result, vector["expected"])) == []


def test_comparison_of_results_can_fail() -> None:
    assert list(differences({"a": 1.0 + 1e-7}, {"a": 1.0}))
    assert list(differences({"p_fastest": 0.52}, {"p_fastest": 0.5}))
    assert not list(differences({"p_fastest": 0.51}, {"p_fastest": 0.5}))
    assert list(differences({"call": "clear"}, {"call": "ahead"}))


@pytest.mark.parametrize(("text", "seconds", "resolution"), DURATIONS["accept"])
def test_time_is_read(text: str, seconds: float, resolution: float) -> None:
    elapsed = parse_elapsed(text)
    assert isinstance(elapsed, Elapsed)
    assert elapsed.seconds == pytest.approx(seconds, abs=1e-9)
    assert elapsed.resolution_s == pytest.approx(resolution, abs=1e-12)


@pytest.mark.parametrize(("text", "clock", "decimal"), DURATIONS["ambiguous"])
def test_time_with_two_meanings_keeps_both(text: str, clock: float, decimal: float) -> None:
    elapsed = parse_elapsed(text)
    assert isinstance(elapsed, AmbiguousElapsed)
    assert elapsed.as_clock.seconds == pytest.approx(clock)
    assert elapsed.as_decimal.seconds == pytest.approx(decimal)


@pytest.mark.parametrize("text", DURATIONS["reject"])
def test_time_is_refused(text: str) -> None:
    with pytest.raises(QuantityError):
        parse_elapsed(text)
