"""Claims about setups that are known by a bound, or by what somebody else noted."""

from __future__ import annotations

from functools import cache
from typing import Any

import pytest

from tests.core.helpers import runs_of
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.claims.check import Checked, check_line
from true_margin.core.claims.names import Names
from true_margin.core.claims.verdicts import Verdict
from true_margin.exchange.case_file import build_study


@cache
def case() -> Analysis:
    """Oak takes 100 s on film, Birch 150 s, Elm over 400 s, Ash under 30 s; Fir is only noted."""
    runs: list[dict[str, Any]] = [
        *runs_of({"Oak": [100.0, 101.0, 99.0], "Birch": [150.0, 151.0, 149.0]}, "film"),
        {"setup": "Elm", "task": "film", "value": 400.0, "bound": ">"},
        {"setup": "Ash", "task": "film", "value": 30.0, "bound": "<"},
    ]
    ratios = [{"task": "film", "a": "Fir", "b": "Oak", "ratio": "42 % faster", "source": "a shop"}]
    return analyse(build_study({"baseline": "Oak", "runs": runs, "ratios": ratios}))


def check(text: str) -> Checked:
    study = case().study
    names = Names(study.setups, study.setups, ["film"], ["film"])
    found = check_line(case(), names, text)
    assert found is not None, text
    return found


@pytest.mark.parametrize(
    ("text", "verdict"),
    [
        ("Oak is faster than Elm on film.", Verdict.HOLDS),
        ("Elm is slower than Oak on film.", Verdict.HOLDS),
        ("Oak is over 3 times as fast as Elm on film.", Verdict.HOLDS),
        ("Oak is much faster than Elm on film.", Verdict.HOLDS),
        # True perhaps, and not proven by one end.
        ("Oak is 4 times as fast as Elm on film.", Verdict.UNTESTED),
        ("Oak is over 5 times as fast as Elm on film.", Verdict.UNTESTED),
        ("Oak is slightly faster than Elm on film.", Verdict.UNTESTED),
        ("Elm is faster than Oak on film.", Verdict.UNTESTED),
        ("Oak and Elm are the same on film.", Verdict.UNTESTED),
        ("Ash is over 3 times as fast as Oak on film.", Verdict.HOLDS),
        ("Elm takes over 3 times as long as Oak on film.", Verdict.HOLDS),
        ("Elm takes over 200 % more time than Oak on film.", Verdict.HOLDS),
        ("Ash is the fastest on film.", Verdict.HOLDS),
        ("Oak is the fastest on film.", Verdict.BACKWARDS),
        ("Elm is the slowest on film.", Verdict.HOLDS),
        ("Birch is the slowest on film.", Verdict.BACKWARDS),
        ("Fir is 42 % faster than Oak on film.", Verdict.UNTESTED),
        ("Oak is slower than Fir on film.", Verdict.UNTESTED),
    ],
)
def test_a_bound_holds_what_it_proves_and_a_note_nothing(text: str, verdict: Verdict) -> None:
    assert check(text).verdict is verdict, text


def test_what_is_proven_is_offered_and_holds_itself() -> None:
    found = check("Elm is faster than Oak on film.")
    assert found.reason == "Known by a bound alone."
    assert found.say is not None
    assert found.say.startswith("Oak is over 3.")
    assert check(found.say).verdict is Verdict.HOLDS
    first = check("Oak is the fastest on film.")
    assert first.say == "Ash is the fastest on film."


def test_a_note_is_told_with_its_source() -> None:
    assert check("Oak is slower than Fir on film.").reason == (
        "Noted elsewhere, not measured here: Fir is said to be 1.42 times as fast as Oak (a shop)."
    )
