"""Claims where something is missing, is open, or is no time: what the vectors' case has none of."""

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

SETUPS = ("Oak", "Birch", "Elm", "Ash")
OAK = {"film": [100.0, 101.0, 99.0], "cut": [50.0, 50.4, 49.7]}


@cache
def case() -> Analysis:
    """Film and cut are times in two apps, points an amount, solo on one machine alone.

    Oak and Birch cannot be told apart on film (an open call), Elm takes twice as long. Ash ran
    points only; Birch has no price.
    """
    runs: list[dict[str, Any]] = [
        *runs_of(
            {"Oak": OAK["film"], "Birch": [101.5, 98.7, 101.9], "Elm": [200.0, 202.0, 198.5]},
            "film",
        ),
        *runs_of(
            {"Oak": OAK["cut"], "Birch": [61.0, 60.5, 60.2], "Elm": [50.1, 49.9, 50.2]}, "cut"
        ),
        *runs_of({"Oak": [900.0, 905.0], "Ash": [450.0, 452.0]}, "points"),
        *runs_of({"Oak": [30.0, 30.1]}, "solo"),
    ]
    tasks = {
        "film": {"app": "Heddle", "work": 400, "unit": "s"},
        "cut": {"app": "Sprocketry", "work": 400, "unit": "s"},
        "points": {"app": "Lens", "measure": "amount", "work": 1, "unit": "points"},
        "solo": {"app": "Lens", "work": 12, "unit": "photos"},
    }
    prices = {"Oak": "1000", "Elm": "400", "Ash": "100"}
    return analyse(build_study({"baseline": "Oak", "tasks": tasks, "runs": runs, "prices": prices}))


def check(text: str) -> Checked:
    study = case().study
    apps = [task.app or task.name for task in study.tasks]
    names = Names(study.setups, study.setups, [task.name for task in study.tasks], apps)
    found = check_line(case(), names, text)
    assert found is not None, text
    return found


@pytest.mark.parametrize(
    ("text", "shown"),
    [
        ("Oak and Elm are equally fast on film", "not the same"),
        ("It is too close to call between Oak and Elm on film", "not the same"),
        ("Oak is slightly faster than Elm on film", "understated"),
        ("Oak and Birch are too close to call on film", "holds"),
    ],
)
def test_a_sameness_that_is_not_so_is_no_understatement(text: str, shown: str) -> None:
    assert check(text).shown == shown


@pytest.mark.parametrize(
    ("text", "verdict"),
    [
        # Open is neither won nor level.
        ("Oak is faster than Birch on film", "within noise"),
        ("It is too close to call between Oak and Birch on film", "holds"),
        ("Too close to call between Oak and Birch on film.", "holds"),
        ("Oak and Birch are too close to call on film", "holds"),
        ("It is too close to call between Oak and Elm on film", "understated"),
        ("Elm is slower than Oak on film", "holds"),
        ("Elm is faster than Oak on film", "backwards"),
        # How much: a word has limits too.
        ("Oak is much faster than Elm on film", "holds"),
        ("Oak is slightly faster than Elm on film", "understated"),
        ("Oak is much faster than Birch on cut", "overstated"),
        # Times saved belong to a task that is timed.
        ("Oak saves 100 seconds over Elm on film", "holds"),
        ("Oak saves 30 seconds over Elm on film", "understated"),
        ("Oak saves 5 minutes over Elm on film", "overstated"),
        ("Oak saves 100 seconds over Elm", "unread"),
        ("Oak saves 100 seconds over Ash on points", "untested"),
        # A time alone, and real time.
        ("Oak exports film in under 2 minutes", "holds"),
        ("Oak exports film in 100 seconds", "holds"),
        ("Oak exports film in 50 seconds", "overstated"),
        ("Oak exports film in 300 seconds", "understated"),
        ("Oak exports points in 10 seconds", "untested"),
        ("Ash exports film in 100 seconds", "untested"),
        ("Oak exports film at 4 times real time", "holds"),
        ("Oak exports film at 8 times real time", "overstated"),
        ("Oak exports solo at 4 times real time", "untested"),
        # Amounts: more is faster.
        ("Oak is twice as fast as Ash on points", "holds"),
        ("Ash is faster than Oak on points", "backwards"),
        # Places, where first and last are shared or alone.
        ("Elm is the slowest on film", "holds"),
        ("Elm is the fastest on film", "backwards"),
        ("Ash is the fastest on film", "untested"),
        ("Oak is the fastest on solo", "untested"),
        # Every task is those that both did with what was weighed.
        ("Oak is faster than Ash in every task", "untested"),
        # Money: no price, no value.
        ("Elm is better value than Birch", "untested"),
        ("Birch is the best value", "untested"),
        # With itself, with nothing, with something that is not there.
        ("Oak is faster than Oak on film", "unread"),
        ("Willow is faster than Oak on film", "untested"),
    ],
)
def test_what_the_data_says(text: str, verdict: str) -> None:
    found = check(text)
    assert (found.verdict.value, text) == (verdict, text), found


@pytest.mark.parametrize(
    ("text", "reason"),
    [
        ("Oak saves 100 seconds over Elm", "say on which"),
        ("Oak exports solo at 4 times real time", "no real time: its work is not seconds"),
        ("Oak is faster than Oak on film", "with itself"),
        ("Willow is faster than Oak on film", "Nothing here is called 'Willow'"),
        ("Birch is the best value", "A price or a measurement is missing."),
        (
            "Ash is faster than Elm on film",
            "Ash and Elm cannot be compared on film: Ash was not tested",
        ),
    ],
)
def test_what_cannot_be_judged_says_why(text: str, reason: str) -> None:
    assert reason in check(text).reason


def test_one_machine_in_two_apps() -> None:
    twice = check("Oak is twice as fast in Sprocketry as in Heddle")
    assert twice.verdict is Verdict.HOLDS
    assert twice.say == "Oak is 2.00 times as fast in Sprocketry as in Heddle."
    assert check("Oak is faster in Heddle than in Sprocketry").verdict is Verdict.BACKWARDS
    # Which of two tasks of one app is meant must be said.
    asked = check("Oak is faster in Heddle than in Lens")
    assert asked.verdict is Verdict.ASKED
    assert "Lens does 2 of the tasks" in asked.reason


def test_a_line_to_say_instead_is_true_by_the_same_check() -> None:
    for text in (
        "Oak is faster than Birch on film",
        "Oak is much faster than Birch on cut",
        "Elm is faster than Oak on film",
        "Oak exports film in 50 seconds",
        "Oak saves 30 seconds over Elm on film",
    ):
        say = check(text).say
        assert say is not None, text
        assert check(say).verdict in (Verdict.HOLDS, Verdict.LIKELY), say


def test_a_shared_first_place_names_both() -> None:
    found = check("Oak is the fastest on film")
    assert found.verdict in (Verdict.NOISE, Verdict.LIKELY)
    assert found.say is not None
    assert found.say.endswith(": too close to call on film.")
    assert "Oak" in found.say
    assert "Birch" in found.say
    assert (found.quantity, found.lo, found.hi) == ("rank", 1, 2)
