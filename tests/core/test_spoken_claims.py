"""Claims as people speak them: none passes in silence, and none holds that should not."""

from __future__ import annotations

import csv
import json
from functools import cache

import pytest

from tests.conftest import PROJECT
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.claims.check import check_line, names_of
from true_margin.core.claims.context import ALONE, Around, around_each
from true_margin.core.claims.idioms import say_plainly
from true_margin.core.claims.notice import notices
from true_margin.core.claims.parts import parts_of
from true_margin.core.claims.result import Status
from true_margin.core.claims.rewrite import plain_words, take_denial
from true_margin.exchange.case_file import build_study

SPOKEN, SECOND, THIRD = (
    list(csv.reader((PROJECT / f"tests/core/{name}.csv").read_text().splitlines()))[1:]
    for name in ("spoken", "spoken_second", "spoken_third")
)
POSITIVE = {"holds", "likely"}
REFUSED = {"unread", "asked", "untested"}


@cache
def case() -> Analysis:
    return analyse(build_study(json.loads((PROJECT / "tests/core/spoken_case.json").read_text())))


def verdict(text: str, around: Around = ALONE) -> str:
    found = check_line(case(), names_of(case()), text, around)
    return "none" if found is None else found.verdict.value


ALL = (*SPOKEN, *SECOND, *THIRD)


@pytest.mark.parametrize(("expected", "text"), ALL, ids=[text[:60] for _, text in ALL])
def test_no_spoken_claim_is_silent_or_wrongly_held(expected: str, text: str) -> None:
    allowed, found = set(expected.split("/")), verdict(text)
    if found in POSITIVE:
        assert "holds" in allowed
    if found == "none":
        assert "none" in allowed


def test_most_spoken_claims_are_judged_and_rightly() -> None:
    claims = [(set(expected.split("/")), verdict(text)) for expected, text in SPOKEN]
    claims = [(allowed, found) for allowed, found in claims if allowed != {"none"}]
    right = sum(
        found in allowed or (found == "likely" and "holds" in allowed) for allowed, found in claims
    )
    assert right / len(claims) > 0.65


@pytest.mark.parametrize(
    ("sentences", "sure", "confirmed"),
    [(SPOKEN, 0.65, 0.85), (SECOND, 0.75, 0.95), (THIRD, 0.6, 0.85)],
)
def test_most_are_right_at_once_or_once_a_person_said_yes(
    sentences: list[list[str]], sure: float, confirmed: float
) -> None:
    """The share of claims that are judged, or refused, rightly; and that a yes makes right."""
    at_once = once_said = claims = 0
    for expected, text in sentences:
        allowed = set(expected.split("/"))
        found = check_line(case(), names_of(case()), text)
        if allowed == {"none"} or found is None:
            continue
        claims += 1
        judged = found if found.status is Status.JUDGED else found.would_be
        came_to = "unread" if judged is None else judged.verdict.value
        right = bool({came_to, "holds" if came_to == "likely" else came_to} & allowed) or (
            found.status is not Status.JUDGED and bool(allowed & REFUSED)
        )
        at_once += right and found.status is not Status.CONFIRM
        once_said += right
    assert at_once / claims >= sure
    assert once_said / claims >= confirmed


def script(*sentences: str) -> list[str]:
    around = around_each(names_of(case()), sentences)
    return [verdict(text, beside) for text, beside in zip(sentences, around, strict=True)]


def test_a_task_that_was_announced_is_asked_about_never_taken_silently() -> None:
    assert script("Now the raw portraits.", "The Tower beats the Slim.")[1] == "asked"
    assert script("## Choir session", "The Quill is faster than the Slim.")[1] == "asked"
    # A sentence that names its own task, or all of them, is clear.
    assert script("Now the raw portraits.", "The Tower beats the Slim on 1080p.")[1] == "holds"
    assert script("Now the raw portraits.", "The Tower beats the Slim in every task.")[1] == "holds"
    # So it is after a while, and under another heading.
    others = ("The box is grey.",) * 3
    assert script("Now the raw portraits.", *others, "The Tower beats the Slim.")[-1] == "holds"
    assert script("Now UHD.", "## At last", "The Tower beats the Slim.")[-1] == "holds"


def test_what_is_taken_back_is_not_judged() -> None:
    said = "The Quill is faster than the Slim."
    assert script(said)[0] == "holds"
    assert script(said, "Not in the choir session, though.")[0] == "asked"
    assert script("It would be wrong to claim that", "the Tower beats the Slim.")[1] == "asked"
    assert script("The Tower beats the Slim?", "Wrong.")[0] == "asked"
    assert verdict("Is the Tower faster than the Slim?") == "none"


def test_a_cause_hides_no_claim() -> None:
    assert verdict("The Tower beats the Slim because of its cores.") == "holds"
    for cause in (
        "because of its memory on raw portraits",
        "thanks to the app and slower than the Slim on 1080p",
        "due to a bug that has since been fixed",
    ):
        assert verdict(f"The Tower beats the Slim {cause}.") == "unread"


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("The Tower isn't faster than the Quill on raw portraits.", "holds"),
        ("The Quill isn't faster than the Tower on raw portraits.", "backwards"),
        ("The Dunmore full isn't faster than the Quill in UHD.", "holds"),
        ("The Quill is no slower than the Tower on raw portraits.", "holds"),
        ("The Tower is not three times as fast as the Slim in UHD.", "holds"),
        ("The Tower is not twice as fast as the Slim in UHD.", "backwards"),
        ("The Tower is not the fastest in UHD.", "backwards"),
        ("The Tower is not as good as the Slim at parties.", "unread"),
    ],
)
def test_a_denial_turns_the_verdict(text: str, expected: str) -> None:
    assert verdict(text) == expected


def test_of_two_claims_the_weaker_decides() -> None:
    assert verdict("The Tower wins UHD but the Quill wins raw portraits.") == "holds"
    assert verdict("The Tower wins UHD but the Slim wins raw portraits.") == "backwards"
    found = check_line(
        case(), names_of(case()), "The Tower wins UHD but the Slim wins raw portraits."
    )
    assert found is not None
    assert found.reason.startswith("The weakest of 2 claims in one sentence.")
    assert parts_of("the ‹S0› beats the ‹S1›, which beats the ‹S2›") == (
        "the ‹S0› beats the ‹S1›",
        "‹S1› beats the ‹S2›",
    )
    assert parts_of("the ‹S0› is fast") == ("the ‹S0› is fast",)


@pytest.mark.parametrize(
    ("said", "plain"),
    [
        (
            "so, the ‹S0› shaves 2 minutes off the ‹S1›'s time",
            "the ‹S0› saves 2 minutes over the ‹S1›",
        ),
        (
            "compared with the ‹S1›, the ‹S0› is twice as fast",
            "the ‹S0› is twice as fast as the ‹S1›",
        ),
        (
            "seventy-five % faster than the ‹S1›, that's the ‹S0›",
            "the ‹S0› is 75 % faster than the ‹S1›",
        ),
        ("‹S0›, ‹T1›, 10:00", "‹S0› takes 10:00 on ‹T1›"),
        ("if you only export ‹T1›, the ‹S0› wins", "on ‹T1› the ‹S0› wins"),
        ("the ‹S0› breaks the three-minute barrier", "the ‹S0› takes under three minutes"),
    ],
)
def test_speech_becomes_plain_words(said: str, plain: str) -> None:
    assert plain_words(said) == plain


def test_idioms_have_their_strength() -> None:
    assert say_plainly("‹S0› edges out ‹S1› on ‹T2›") == "‹S0› is slightly faster than ‹S1› on ‹T2›"
    assert say_plainly("‹S0› was crushed by ‹S1›") == "‹S0› is much slower than ‹S1›"
    assert say_plainly("‹S0› was bought by ‹S1›") == "‹S0› was bought by ‹S1›"
    assert say_plainly("‹S0› and ‹S1› are neck and neck") == "‹S0› and ‹S1› are the same"
    assert take_denial("the ‹S0› never beats the ‹S1›") == ("the ‹S0› beats the ‹S1›", True)


def test_what_names_a_machine_and_a_figure_is_noticed() -> None:
    assert notices("the ‹S0› drew 90 watts")
    assert notices("the ‹S0› or the ‹S1›")
    assert not notices("the ‹S0› arrived in a huge box")
    assert not notices("that took me 3 evenings")


def test_doubtful_numbers_and_words_are_asked_about() -> None:
    assert verdict("The Tower is 1,650 times as fast as the Slim.") == "asked"
    assert verdict("The Slim beats the Tower on noise.") == "asked"
    assert verdict("The Slim and the Quill run the same raw portraits.") == "none"
    assert verdict("THE TOWER IS TWICE AS FAST AS THE SLIM IN UHD!") == "holds"
    assert verdict("The Tower is twice as fast as the Slim on the UHD wedding.") == "holds"


def test_a_task_that_one_half_names_is_not_guessed_for_the_other() -> None:
    # On raw portraits the Quill is the faster one; over all tasks the Tower is.
    said = "The Tower beats the Quill and the Quill beats the Slim on raw portraits."
    assert verdict(said) == "unread"
    assert verdict("The Tower beats the Quill and the Quill beats the Slim.") == "holds"


def test_what_is_vague_or_denied_by_degree_is_not_judged() -> None:
    for said in (
        "The Slim is worlds apart from the Tower.",
        "The Dunmore full is as good as the Quill in UHD.",
        "The Tower is not much faster than the Slim in the choir session.",
    ):
        assert verdict(said) == "unread", said
    assert verdict("On the same raw portraits the Quill beats the Tower.") == "holds"
