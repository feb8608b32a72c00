"""Sentences about how editing felt and what went wrong."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.choices import TrialGrade
from true_margin.core.claims.feel import (
    FeelClaim,
    judge_fault,
    judge_grade,
    read_feel,
    say_fault,
    say_grade,
)
from true_margin.core.claims.verdicts import Verdict

GRADES = list(TrialGrade)
KINDS = ("scrub", "seek", "playback full", "page switch", "import", "import of stills")


@pytest.mark.parametrize(
    ("text", "claim"),
    [
        (
            "The Halyard S battery is smooth while switching pages",
            FeelClaim("Halyard S battery", None, TrialGrade.SMOOTH, "page switch"),
        ),
        (
            "Pebble is unusable when playing at full quality in Heddle!",
            FeelClaim("Pebble", "Heddle", TrialGrade.UNUSABLE, "playback full"),
        ),
        ("Pebble froze.", FeelClaim("Pebble", None, None, "freeze", None)),
        ("Pebble lost work once", FeelClaim("Pebble", None, None, "work lost", 1)),
        ("It crashed 12 times in Kiln.", FeelClaim("It", "Kiln", None, "crash", 12)),
        ("Pebble never crashed", FeelClaim("Pebble", None, None, "crash", 0)),
        ("Pebble is slow on Lantern parade", None),
        ("Pebble is faster than Tarn Desk", None),
        ("Pebble stutters", None),
        ("", None),
    ],
)
def test_what_is_read(text: str, claim: FeelClaim | None) -> None:
    assert read_feel(text) == claim


@pytest.mark.parametrize("grade", GRADES)
@pytest.mark.parametrize("what", KINDS)
def test_what_is_said_instead_is_read_as_it_is_meant(grade: TrialGrade, what: str) -> None:
    for app in (None, "Heddle"):
        said = say_grade("Halyard S", grade.value, what, app)
        assert read_feel(said) == FeelClaim("Halyard S", app, grade, what)
        assert judge_grade(grade, [grade.value]) == (Verdict.HOLDS, grade.value)


@pytest.mark.parametrize("times", [1, 2, 5, 6, 40])
def test_a_fault_that_is_said_instead_is_read_as_it_is_meant(times: int) -> None:
    for fault in ("crash", "freeze", "work lost"):
        found = read_feel(say_fault("Halyard S", fault, times, None))
        assert found == FeelClaim("Halyard S", None, None, fault, times)
        assert judge_fault(times, times) is Verdict.HOLDS


@pytest.mark.parametrize(
    ("said", "noted", "verdict"),
    [
        ("smooth", [], "untested"),
        ("smooth", ["smooth", "smooth"], "holds"),
        ("smooth", ["smooth", "slow"], "overstated"),
        ("smooth", ["stutters"], "backwards"),
        ("slow", ["smooth"], "backwards"),
        ("slow", ["stutters"], "understated"),
        ("stutters", ["slow"], "overstated"),
        ("stutters", ["smooth", "stutters"], "holds"),
        ("unusable", ["stutters"], "overstated"),
        ("stutters", ["unusable"], "understated"),
    ],
)
def test_a_grade_is_held_against_the_worst(said: str, noted: list[str], verdict: str) -> None:
    assert judge_grade(TrialGrade(said), noted)[0].value == verdict


@given(st.sampled_from(GRADES), st.lists(st.sampled_from([g.value for g in GRADES]), min_size=1))
def test_a_worse_note_never_makes_a_milder_word_hold(said: TrialGrade, noted: list[str]) -> None:
    verdict, worst = judge_grade(said, noted)
    assert (verdict is Verdict.HOLDS) == (worst == said.value)


@given(st.text(max_size=200))
def test_any_text_is_read_or_left(text: str) -> None:
    found = read_feel(text)
    assert found is None or found.what
