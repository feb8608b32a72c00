"""What is not surely read: the guess, the status, and the verdict after a person's yes."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.core.test_spoken_claims import case
from true_margin.core.analysis import analyse
from true_margin.core.claims.check import around_each, check_line, judge_readings, names_of
from true_margin.core.claims.context import ALONE, Around
from true_margin.core.claims.forms import Form
from true_margin.core.claims.learn import Phrasing, phrasing_of, read_learnt
from true_margin.core.claims.reading import (
    NEEDS_A_TASK,
    NUMBERED,
    PAIRED,
    Reading,
    ReadingError,
    claim_of,
)
from true_margin.core.claims.result import Checked, Status
from true_margin.core.claims.verdicts import Verdict

SLIM, TOWER, QUILL = "Brindle Slim", "Brindle Tower", "Quill 540"


def check(text: str, around: Around = ALONE) -> Checked:
    found = check_line(case(), names_of(case()), text, around)
    assert found is not None, text
    return found


def script(*sentences: str) -> Checked:
    """The last sentence of a script."""
    around = around_each(names_of(case()), sentences)
    return check(sentences[-1], around[-1])


def words(reading: Reading) -> tuple[str | None, str, float | None, str | None, str | None]:
    study = case().study
    a, b = (None if s is None else study.setups[s] for s in (reading.a, reading.b))
    task = None if reading.task is None else study.tasks[reading.task].name.split(",")[0]
    return a, reading.form.value, reading.number, b, task


@pytest.mark.parametrize(
    ("text", "reading", "verdict"),
    [
        # A clause that the grammar does not know is left out, and a person is asked.
        (
            "The Tower, and nobody expected that, is twice as fast as the Slim in UHD.",
            (TOWER, "times as fast", 2.0, SLIM, "Wedding film"),
            "holds",
        ),
        # The task that stands in a clause is the task.
        (
            "When you're cleaning the ski reel, the Tower is faster than the Slim.",
            (TOWER, "faster", None, SLIM, "Ski reel"),
            "holds",
        ),
        # Words nobody listed: the names and the number that stand there.
        (
            "The Tower gallops home 60 % sooner than the Slim on the ski reel.",
            (TOWER, "% faster", 60.0, SLIM, "Ski reel"),
            "understated",
        ),
        # "Three times faster" has two meanings; the plainer is offered.
        (
            "The Tower is three times faster than the Slim on the ski reel.",
            (TOWER, "times as fast", 3.0, SLIM, "Ski reel"),
            "holds",
        ),
    ],
)
def test_what_is_not_sure_is_asked_about_part_by_part(
    text: str, reading: tuple[object, ...], verdict: str
) -> None:
    found = check(text)
    assert found.status is Status.CONFIRM
    assert [words(each) for each in found.readings] == [reading]
    assert found.would_be is not None
    assert found.would_be.verdict == verdict
    # Nothing is said of it before somebody confirmed it.
    assert found.verdict in (Verdict.ASKED, Verdict.UNREAD)


def test_the_sentences_around_fill_what_is_missing() -> None:
    found = script("Now the raw portraits.", "The Quill beats the Tower.")
    assert words(found.readings[0]) == (QUILL, "faster", None, TOWER, "Raw portraits")
    found = script("The Quill is small.", "It is faster than the Slim in UHD.")
    assert words(found.readings[0]) == (QUILL, "faster", None, SLIM, "Wedding film")
    found = script("The Tower and the Slim.", "The former is faster than the latter in UHD.")
    assert words(found.readings[0])[0] == TOWER
    assert words(found.readings[0])[3] == SLIM
    # A heading ends what was spoken of: then it is not known which, and nothing is judged.
    found = script("The Quill is small.", "## Speed", "It is faster than the Slim in UHD.")
    assert found.readings[0].a is None
    assert found.would_be is None


@pytest.mark.parametrize(
    "text",
    [
        "The Quill 640 is twice as fast as the Slim.",
        "The Tower is twice as fast as the Slim at 3D rendering.",
        "The next Quill will be twice as fast as the Tower.",
        "Before the update the Slim beat the Tower in UHD.",
        "The maker says the Tower is twice as fast as the Slim, and that is not true.",
        "The Tower is -33 % faster than the Quill on the ski reel.",
        "Both of them beat the Slim in UHD.",
    ],
)
def test_what_may_mean_anything_gets_no_guess(text: str) -> None:
    assert check(text).readings == ()


def test_two_claims_get_two_rows() -> None:
    found = check("The Tower beats the Quill, and the Quill in turn beats the Slim on 1080p.")
    assert [words(each)[0] for each in found.readings] == [TOWER, QUILL]
    assert {words(each)[4] for each in found.readings} == {"Wedding film"}


def test_a_sure_reading_is_told_too() -> None:
    found = check("The Tower is about twice as fast as the Slim in UHD.")
    assert found.status is Status.JUDGED
    assert words(found.readings[0]) == (TOWER, "times as fast", 2.0, SLIM, "Wedding film")
    assert found.readings[0].hedge == "about"


def test_a_confirmed_reading_is_judged_like_any_claim() -> None:
    names = names_of(case())
    base = check("The Tower is twice as fast as the Slim in UHD.").readings[0]
    assert judge_readings(case(), names, [base]).verdict is Verdict.HOLDS
    changed = replace(base, number=3.0)
    assert judge_readings(case(), names, [changed]).verdict is Verdict.OVERSTATED
    assert judge_readings(case(), names, [base, changed]).verdict is Verdict.OVERSTATED


@pytest.mark.parametrize("form", list(Form))
def test_a_reading_with_a_part_missing_is_refused_with_the_part(form: Form) -> None:
    names = names_of(case())
    whole = Reading(form, 0, 1, 0, 2.0, 5.0)
    assert claim_of(whole, names).form is form
    for part, needed in (
        ("a", True),
        ("b", form in PAIRED),
        ("number", form in NUMBERED),
        ("task", form in NEEDS_A_TASK),
    ):
        lacking = replace(whole, **{part: None})  # type: ignore[arg-type]
        if needed:
            with pytest.raises(ReadingError) as refused:
                claim_of(lacking, names)
            assert refused.value.part == part
        else:
            assert claim_of(lacking, names).form is form
    with pytest.raises(ReadingError, match="with itself"):
        claim_of(replace(whole, b=0), names)


@pytest.mark.parametrize(
    ("text", "verdict"),
    [
        # Prices are known exactly: Slim 1200, Tower 2400, Quill 1600, Dunmore 1400.
        ("The Tower costs 800 more than the Quill.", "holds"),
        ("The Tower costs 1,000 euros more than the Quill.", "overstated"),
        ("The Tower is 500 euros dearer than the Quill.", "understated"),
        ("The Tower is twice the price of the Slim.", "holds"),
        ("The Tower costs three times as much as the Slim.", "overstated"),
        ("The Slim is 50 % cheaper than the Tower.", "holds"),
        ("The Slim is cheaper than the Tower.", "holds"),
        ("The Slim is more expensive than the Tower.", "backwards"),
        ("The Slim is the cheapest machine here.", "holds"),
        ("The Quill is the cheapest.", "backwards"),
        ("The Tower is the most expensive.", "holds"),
        ("The Slim costs 1,200 euros.", "holds"),
        ("The Slim costs about 1,250.", "holds"),
        ("The Slim costs under a thousand.", "overstated"),
        # Places, ranges, counts, every task.
        ("The Tower comes first on the ski reel.", "holds"),
        ("The Slim is the fifth fastest on the ski reel.", "holds"),
        ("The Tower is the second fastest on the ski reel.", "backwards"),
        ("The Tower is between 50 and 60 % faster than the Quill on the ski reel.", "holds"),
        ("The Tower is 10 to 20 % faster than the Quill on the ski reel.", "understated"),
        ("The Tower is three to four times as fast as the Quill on the ski reel.", "overstated"),
        ("The Tower beats the Slim in five of five tasks.", "holds"),
        ("The Tower beats the Slim in four of five tasks.", "understated"),
        ("The Quill beats the Tower in three of five tasks.", "overstated"),
        ("The Tower beats the Slim in 3 of 7 tasks.", "untested"),
        ("The Quill never beats the Tower on anything.", "backwards"),
        ("The Tower is the fastest machine under two thousand on the ski reel.", "overstated"),
        ("The Quill is the fastest machine under two thousand on the ski reel.", "holds"),
        # A time that is said to the second is one that can be read off.
        ("The Slim takes 10:00 in UHD.", "holds"),
        ("The Slim takes 9:40 in UHD.", "overstated"),
        ("The Slim takes 10:20 in UHD.", "understated"),
        ("The Slim takes about 9:40 in UHD.", "holds"),
    ],
)
def test_what_reviewers_say_beyond_ratios(text: str, verdict: str) -> None:
    found = check(text)
    assert found.verdict.value == verdict
    if found.say is not None:
        again = check_line(case(), names_of(case()), found.say)
        assert again is not None
        assert again.verdict is Verdict.HOLDS, found.say


def test_an_unknown_price_is_said_not_guessed() -> None:
    study = case().study
    lacking = analyse(replace(study, prices=(None, *study.prices[1:])))
    for text in ("The Slim is cheaper than the Tower.", "The Dunmore full is the cheapest."):
        found = check_line(lacking, names_of(lacking), text)
        assert found is not None
        assert found.verdict is Verdict.UNTESTED
        assert found.reason == "Brindle Slim has no price here."


def learnt(text: str) -> Phrasing | None:
    found = check(text)
    return phrasing_of(text, found.readings[0], names_of(case()))


def test_a_confirmed_phrasing_is_read_again_in_full_only() -> None:
    phrasing = learnt("The Tower gallops home 60 % sooner than the Slim on the ski reel.")
    assert phrasing is not None
    assert phrasing.pattern == "‹a› gallops home ‹n› % sooner than ‹b› on ‹t›"
    names = names_of(case())

    def again(text: str) -> Checked:
        found = check_line(case(), names, text, learnt=[phrasing])
        assert found is not None
        return found

    sure = again("The Quill gallops home 50 % sooner than the Slim on 1080p.")
    assert sure.status is Status.JUDGED
    assert words(sure.readings[0]) == (QUILL, "% faster", 50.0, SLIM, "Wedding film")
    # One word more, and it is asked about as before.
    more = again("The Quill gallops home 50 % sooner than the Slim on 1080p or so.")
    assert more.status is not Status.JUDGED
    # What stands around it casts the same doubt as on any sentence.
    doubted = check_line(
        case(),
        names,
        "The Quill gallops home 50 % sooner than the Slim on 1080p.",
        Around(after="Not on the ski reel, though."),
        [phrasing],
    )
    assert doubted is not None
    assert doubted.status is Status.CONFIRM


def test_only_a_sentence_that_says_all_of_it_is_learnt() -> None:
    names = names_of(case())
    text = "It gallops home 60 % sooner than the Slim on the ski reel."
    leaning = script("The Tower is big.", text)
    assert leaning.readings[0].a is not None
    assert phrasing_of(text, leaning.readings[0], names) is None
    # The task was taken from the sentence before.
    text = "The Quill beats the Tower."
    leaning = script("Now the raw portraits.", text)
    assert phrasing_of(text, leaning.readings[0], names) is None
    # A third name has no part in what was confirmed.
    text = "The Tower, not the Quill, beats the Slim on UHD."
    assert phrasing_of(text, Reading(Form.BARE, 1, 0, 0), names) is None


def test_another_number_than_the_one_that_is_said_is_not_learnt() -> None:
    text = "The Tower gallops home 60 % sooner than the Slim on the ski reel."
    changed = replace(check(text).readings[0], number=50.0)
    assert phrasing_of(text, changed, names_of(case())) is None


def test_a_number_in_no_figures_belongs_to_the_phrasing() -> None:
    names = names_of(case())
    reading = Reading(Form.RATIO, 1, 0, 0, 2.0)
    phrasing = phrasing_of("The Tower laps the Slim once on UHD.", reading, names)
    assert phrasing is not None
    assert phrasing.number == 2.0
    claim = read_learnt("The Quill laps the Slim once on 1080p.", names, [phrasing])
    assert claim is not None
    assert claim.number is not None
    assert claim.number.value == 2.0
    assert read_learnt("The Quill laps the Slim twice on 1080p.", names, [phrasing]) is None
