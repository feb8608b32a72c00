"""Sentences about heat, noise and power, read in full and judged by what meters showed."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.claims.check import Checked
from true_margin.core.claims.context import Around
from true_margin.core.claims.meter_judge import Metered, judge_meter
from true_margin.core.claims.meters import Meter, read_meter
from true_margin.core.claims.names import Names

SETUPS = ["Tower", "Slim", "Quill", "Brick"]
TASKS = ["Parade", "Stills"]
NAMES = Names(SETUPS, SETUPS, TASKS, ["Heddle", "Heddle"])
# Nobody noted the Brick's noise; of the Slim power on one task alone.
METERED = Metered(
    heat={(0, 0): 71.0, (0, 1): 64.0, (1, 0): 92.4, (2, 0): 93.5, (3, 1): 88.0},
    noise={(0, 0): 31.0, (1, 0): 44.0, (2, 0): 38.2},
    power={(0, 0): 240.0, (0, 1): 210.0, (1, 0): 62.0, (2, 0): 64.0, (2, 1): 35.0, (3, 0): 80.0},
)


def check(text: str, around: Around | None = None) -> Checked | None:
    claim = read_meter(text, NAMES) if around is None else read_meter(text, NAMES, around)
    return None if claim is None else judge_meter(claim, METERED, SETUPS, TASKS)


@pytest.mark.parametrize(
    ("text", "verdict"),
    [
        # Amounts, as people say them.
        ("The Slim hits 92 degrees.", "holds"),
        ("The Slim reaches about ninety degrees", "holds"),
        ("The Slim climbs to 100 °C.", "overstated"),
        ("The Slim gets up to 70 degrees.", "understated"),
        ("The Slim gets over 90 degrees.", "holds"),
        ("The Tower stays under 80 degrees.", "holds"),
        ("The Slim stays under 80 degrees.", "understated"),
        ("The Tower reaches 64 degrees on Stills.", "holds"),
        ("The Quill peaks at 38 dB.", "holds"),
        ("The Quill is 45 decibels loud.", "overstated"),
        ("The Slim draws 62 watts.", "holds"),
        ("Under load the Slim draws 60W.", "holds"),
        ("So the Slim draws about 60 W under load on Parade.", "holds"),
        # Of two tasks nobody can know which is meant.
        ("The Tower draws 240 watts.", "asked"),
        ("The Tower draws 240 watts on Parade.", "holds"),
        # Pairs, on what both were metered on.
        ("The Tower is quieter than the Slim.", "holds"),
        ("The Slim is louder than the Tower.", "holds"),
        ("The Slim is quieter than the Tower.", "backwards"),
        ("The Slim is cooler than the Quill.", "within noise"),
        ("The Slim draws less power than the Tower.", "holds"),
        ("The Slim draws less power than the Quill.", "within noise"),
        ("The Tower draws more power than the Slim on Stills.", "untested"),
        ("The Tower is 13 decibels quieter than the Slim.", "holds"),
        ("Honestly, the Tower's quieter than the Slim by 13 dB.", "holds"),
        ("The Tower is 20 degrees cooler than the Slim.", "holds"),
        ("The Tower is 40 degrees cooler than the Slim.", "overstated"),
        ("The Slim draws 180 watts less than the Tower.", "holds"),
        ("The Tower is quieter than the Brick.", "untested"),
        # How much: a word has limits too.
        ("The Tower is much quieter than the Slim.", "holds"),
        ("The Quill is a lot quieter than the Slim.", "overstated"),
        ("The Tower is slightly cooler than the Slim.", "understated"),
        ("The Quill is a bit quieter than the Slim.", "holds"),
        ("The Slim draws far less power than the Tower.", "holds"),
        # The most and the least, of all that were metered.
        ("The Tower is the coolest.", "holds"),
        # The Quill was metered on one task, the Brick on another one.
        ("The Brick is cooler than the Quill.", "untested"),
        ("The Tower is cooler than the Brick.", "holds"),
        ("The Quill is the hottest.", "within noise"),
        ("The Slim is the hottest machine.", "within noise"),
        ("The Tower is the quietest of them all.", "likely"),
        ("The Tower is the loudest.", "backwards"),
        ("The Slim draws the least power.", "within noise"),
        ("The Slim is the loudest.", "likely"),
        ("The Quill draws the most power.", "backwards"),
    ],
)
def test_a_claim_is_held_against_the_meters(text: str, verdict: str) -> None:
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
        "The Slim is faster than the Tower.",
        "The Slim hits 92 degrees, but only on battery.",
        "Is the Tower quieter than the Slim?",
        "They say the Tower is quieter than the Slim.",
        "The Slim might hit 92 degrees.",
        "The Slim hits 92 watts less than the Tower degrees.",
        "The Slim draws 92 degrees less power than the Tower.",
        "The Slim is 20 watts quieter than the Tower.",
        "The Zebra is quieter than the Slim.",
        "The Tower arrived in a huge box.",
        "The Tower is quieter than the Slim and faster than the Quill.",
    ],
)
def test_what_is_not_surely_read_is_left_to_others(text: str) -> None:
    claim = read_meter(text, NAMES)
    assert claim is None, claim


def test_what_stands_around_it_keeps_it_from_a_sure_verdict() -> None:
    text = "The Tower is quieter than the Slim."
    assert check(text, Around(after="Not on the stills, though.")) is None
    # A task that was announced before may be the one that is meant.
    assert check(text, Around(topic=(1,))) is None
    assert check(text, Around(before="Hello.")) is not None


values = st.dictionaries(
    st.tuples(st.integers(0, 3), st.integers(0, 1)), st.floats(20, 400), max_size=8
)


@given(
    st.builds(Metered, heat=values, noise=values, power=values),
    st.integers(0, 3),
    st.integers(0, 3),
    st.sampled_from(
        [
            "{a} reaches 80 degrees.",
            "{a} reaches 40 decibels.",
            "{a} draws 100 watts.",
            "{a} draws 100 watts on Stills.",
            "{a} is quieter than {b}.",
            "{a} is hotter than {b}.",
            "{a} draws more power than {b}.",
            "{a} is 20 degrees cooler than {b}.",
            "{a} is the loudest.",
            "{a} draws the least power.",
        ]
    ),
)
def test_what_is_said_instead_holds_when_it_is_said(
    metered: Metered, a: int, b: int, form: str
) -> None:
    if a == b:
        return
    claim = read_meter(form.format(a=SETUPS[a], b=SETUPS[b]), NAMES)
    assert claim is not None
    found = judge_meter(claim, metered, SETUPS, TASKS)
    if found.say is not None:
        said = read_meter(found.say, NAMES)
        assert said is not None, found.say
        assert judge_meter(said, metered, SETUPS, TASKS).verdict == "holds", found.say


def test_a_reading_is_believed_to_so_much() -> None:
    near = Metered(heat={}, noise={(0, 0): 30.0, (1, 0): 30.9}, power={})
    far = Metered(heat={}, noise={(0, 0): 30.0, (1, 0): 31.1}, power={})
    claim = read_meter("The Tower is quieter than the Slim.", NAMES)
    assert claim is not None
    assert claim.meter is Meter.NOISE
    assert judge_meter(claim, near, SETUPS, TASKS).verdict == "within noise"
    assert judge_meter(claim, far, SETUPS, TASKS).verdict == "holds"
