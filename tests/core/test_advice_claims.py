"""Sentences about what a viewer should buy, read in full and held against Picks."""

from __future__ import annotations

from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.claims.advice import read_advice
from true_margin.core.claims.advice_judge import Answer, Gain, judge_advice, which_viewer
from true_margin.core.claims.check import Checked
from true_margin.core.claims.context import Around
from true_margin.core.claims.names import Names
from true_margin.core.upgrade import PaybackKind
from true_margin.core.weekly import Span

SETUPS = ["Old Desk", "Brick", "Tower", "Slim"]
NAMES = Names(SETUPS, SETUPS, ["Parade"], ["Heddle"])
VIEWERS = ["Festival filmer", "Teacher"]


def gain(hours: float, worth: float, weeks: float | None) -> Gain:
    """Gains known to a twentieth; without weeks it never pays for itself."""
    return Gain(
        Span(hours, 0.95 * hours, 1.05 * hours),
        Span(48 * hours, 0.95 * 48 * hours, 1.05 * 48 * hours),
        Span(worth, worth - 50, worth + 50),
        PaybackKind.NEVER if weeks is None else PaybackKind.WEEKS,
        None if weeks is None else Span(weeks, 0.95 * weeks, 1.05 * weeks),
    )


# The filmer's pick is the Brick; the Slim is as good, the Tower gains but less, and the teacher
# keeps the old one.
FILMER = Answer(
    "Festival filmer",
    pick=1,
    keep=0,
    group=frozenset({1, 3}),
    chance=0.97,
    gains={1: gain(0.6, 400, 104), 2: gain(0.9, 200, 150), 3: gain(0.6, -300, None)},
)
TEACHER = Answer(
    "Teacher",
    pick=0,
    keep=0,
    group=frozenset({0}),
    chance=0.85,
    gains={1: gain(0.05, -700, None), 2: gain(0.1, -1200, None)},
)


def check(text: str, answers: tuple[Answer, ...] = (FILMER, TEACHER)) -> Checked | None:
    viewers = [each.viewer for each in answers]
    claim = read_advice(text, NAMES, viewers)
    if claim is None:
        return None
    which = which_viewer(claim, viewers)
    return which if isinstance(which, Checked) else judge_advice(claim, answers[which], SETUPS)


@pytest.mark.parametrize(
    ("text", "verdict"),
    [
        # The pick.
        ("The festival filmer should buy the Brick.", "holds"),
        ("Buy the Brick if you are a festival filmer.", "holds"),
        ("For festival filmers the Brick is our pick.", "holds"),
        ("For a festival filmer, buy the Brick.", "holds"),
        ("The Tower is the right machine for the festival filmer.", "overstated"),
        ("The Slim is the pick for the festival filmer.", "within noise"),
        ("The Brick is not our pick for the festival filmer.", "backwards"),
        ("The Tower is not our pick for the festival filmer.", "holds"),
        ("The teacher should keep the Old Desk.", "holds"),
        ("A teacher shouldn't buy the Brick.", "likely"),
        ("The teacher should buy the Tower.", "overstated"),
        # Nobody buys what they have, nor keeps what they have not.
        ("The teacher should buy the Old Desk.", "backwards"),
        ("The festival filmer should keep the Brick.", "backwards"),
        ("Keep the Old Desk if you are a teacher.", "holds"),
        # Worth it.
        ("The Brick is worth it for the festival filmer.", "holds"),
        ("The Brick isn't worth it for the festival filmer.", "backwards"),
        ("The Tower is worth the money for a festival filmer.", "asked"),
        ("The Slim is worth it for the festival filmer.", "asked"),
        ("For the teacher the Tower is not worth it.", "holds"),
        ("The Tower is worth its price for the teacher.", "backwards"),
        ("The Old Desk is worth it for the teacher.", "untested"),
        # Payback: who says that it comes sooner says more.
        ("The Brick pays for itself in two years for the festival filmer.", "holds"),
        ("The Brick pays for itself in about 24 months for the festival filmer.", "holds"),
        ("The Brick pays for itself within a year for the festival filmer.", "overstated"),
        ("The Brick pays for itself within three years for the festival filmer.", "holds"),
        ("The Brick pays for itself in four years for the festival filmer.", "understated"),
        ("The Tower pays for itself in a year for the teacher.", "backwards"),
        # Hours.
        ("The Brick saves the festival filmer half an hour a week.", "likely"),
        ("The Brick saves the festival filmer 36 minutes a week.", "holds"),
        ("The Brick saves about 29 hours a year for the festival filmer.", "holds"),
        ("The Brick saves the festival filmer 60 hours a year.", "overstated"),
        ("The Brick saves the festival filmer over 20 hours a year.", "holds"),
        ("The Brick saves the festival filmer about 86 hours over its life.", "holds"),
        ("The Brick saves 200 hours over its lifetime for the festival filmer.", "overstated"),
        ("The Slim saves the teacher an hour a week.", "untested"),
        # Nobody knows for whom.
        ("The Brick is worth it.", "asked"),
        ("The Tower isn't worth the money.", "asked"),
    ],
)
def test_a_claim_is_held_against_the_answer(text: str, verdict: str) -> None:
    found = check(text)
    assert found is not None, text
    assert found.verdict == verdict, (text, found)
    if found.say is not None:
        again = check(found.say)
        assert again is not None
        assert again.verdict == "holds", found.say


@pytest.mark.parametrize(
    "text",
    [
        "The Brick is faster than the Tower.",
        "Should the festival filmer buy the Brick?",
        "The Brick is worth it for the festival filmer, unless they travel.",
        "The maker says the Brick is our pick for the festival filmer.",
        "The Brick is worth a look.",
        "The Brick costs 200 more than the Slim for the festival filmer.",
        "The festival filmer came by.",
        "Buy the Zebra if you are a festival filmer.",
    ],
)
def test_what_is_not_surely_read_is_left_to_others(text: str) -> None:
    assert read_advice(text, NAMES, VIEWERS) is None


def test_what_is_taken_back_beside_it_is_not_read() -> None:
    text = "The Brick is worth it for the festival filmer."
    assert read_advice(text, NAMES, VIEWERS, Around(after="Not on battery, though.")) is None


@pytest.mark.parametrize(
    ("kind", "verdict"),
    [
        (PaybackKind.NEVER, "backwards"),
        (PaybackKind.NOT_SURE, "within noise"),
        (PaybackKind.AT_ONCE, "asked"),
        (PaybackKind.SLOWER, "asked"),
    ],
)
def test_a_payback_that_is_no_time(kind: PaybackKind, verdict: str) -> None:
    known = replace(FILMER, gains={1: replace(gain(0.6, 400, None), payback=kind)})
    found = check("The Brick pays for itself in a year for the festival filmer.", (known,))
    assert found is not None
    assert found.verdict == verdict


def test_the_only_viewer_needs_no_name() -> None:
    found = check("The Brick is our pick.", (FILMER,))
    assert found is not None
    assert found.verdict == "holds"
    nobody = check("The Brick is our pick.", ())
    assert nobody is not None
    assert nobody.verdict == "untested"


@pytest.mark.parametrize("name", ["Filmer (festival)", "C++ teacher", "Élève", "Filmer", "a"])
def test_a_viewer_may_have_any_name(name: str) -> None:
    claim = read_advice(f"The Brick is our pick for {name}.", NAMES, [name, "Festival filmer"])
    assert claim is not None
    assert claim.viewer == 0
    other = read_advice("The Brick is our pick for a festival filmer.", NAMES, ["Filmer", "X"])
    assert other is None


def test_a_pick_that_is_not_sure_says_how_sure_it_is() -> None:
    found = check("The teacher should keep the Old Desk.")
    assert found is not None
    assert found.reason == "Nothing beats it in 85 of 100."


def test_without_a_pick_nothing_is_judged() -> None:
    nothing = Answer("Teacher", None, None, frozenset(), 0.0, {})
    found = check("The teacher should buy the Brick.", (nothing,))
    assert found is not None
    assert (found.verdict, found.say) == ("untested", None)


spans = st.tuples(st.floats(0.01, 5), st.floats(0, 0.3), st.floats(0, 0.3)).map(
    lambda t: Span(t[0], t[0] * (1 - t[1]), t[0] * (1 + t[2]))
)
gains = st.builds(
    Gain,
    spans,
    spans,
    st.tuples(st.floats(-900, 900), st.floats(0, 300)).map(
        lambda t: Span(t[0], t[0] - t[1], t[0] + t[1])
    ),
    st.sampled_from(PaybackKind),
    st.none() | st.floats(1, 900).map(lambda w: Span(w, 0.98 * w, 1.02 * w)),
)


@given(
    st.builds(
        Answer,
        st.just("Festival filmer"),
        st.none() | st.integers(0, 3),
        st.none() | st.integers(0, 3),
        st.frozensets(st.integers(0, 3)),
        st.floats(0.3, 1),
        st.dictionaries(st.integers(0, 3), gains),
    ),
    st.sampled_from(SETUPS),
    st.sampled_from(
        [
            "The {} is our pick for the festival filmer.",
            "The festival filmer should not buy the {}.",
            "The {} is worth it for the festival filmer.",
            "The {} isn't worth it for the festival filmer.",
            "The {} pays for itself in two years for the festival filmer.",
            "The {} saves the festival filmer 30 hours a year.",
            "The {} saves the festival filmer an hour a week.",
        ]
    ),
)
def test_what_is_said_instead_holds_when_it_is_said(answer: Answer, setup: str, form: str) -> None:
    found = check(form.format(setup), (answer,))
    assert found is not None
    if found.say is not None:
        again = check(found.say, (answer,))
        assert again is not None, found.say
        assert again.verdict == "holds", (found.say, again)
