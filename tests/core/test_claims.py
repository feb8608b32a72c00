"""Claims: the vectors, sentences judged by hand beforehand, and lines to say instead."""

from __future__ import annotations

import json
import math
from functools import cache

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.conftest import PROJECT
from tests.core.claim_sentences import SENTENCES
from true_margin.core.analysis import Analysis, analyse
from true_margin.core.claims.check import Checked, check_line, names_of
from true_margin.core.claims.forms import Form as ClaimForm
from true_margin.core.claims.numbers import Hedge, SpokenNumber
from true_margin.core.claims.verdicts import Verdict, region
from true_margin.exchange.case_file import build_study

VECTORS = json.loads((PROJECT / "tests" / "vectors" / "claims.json").read_text())


@cache
def case() -> Analysis:
    return analyse(build_study(VECTORS["case"]))


def check(text: str) -> Checked | None:
    return check_line(case(), names_of(case()), text)


def verdict(text: str) -> str:
    found = check(text)
    return "no claim" if found is None else found.verdict.value


@pytest.mark.parametrize(("text", "expected"), VECTORS["claims"])
def test_claim_vectors(text: str, expected: str) -> None:
    assert verdict(text) == expected


@pytest.mark.parametrize(("text", "expected"), SENTENCES)
def test_sentences_judged_by_hand(text: str, expected: str) -> None:
    assert verdict(text) == expected


def test_every_line_to_say_instead_holds() -> None:
    said = {
        found.say
        for text, _ in (*SENTENCES, *VECTORS["claims"])
        if (found := check(text)) is not None and found.say is not None
    }
    assert len(said) > 30
    wrong = {line: verdict(line) for line in said if verdict(line) not in ("holds", "likely")}
    assert wrong == {}


def test_the_figure_stands_with_its_interval() -> None:
    found = check("Halyard L is 1.9 times as fast as Tarn Desk on parade")
    assert found is not None
    assert (found.verdict, found.quantity) == (Verdict.OVERSTATED, "times as fast")
    assert found.value == pytest.approx(702 / 396, rel=1e-3)
    assert found.lo is not None
    assert found.hi is not None
    assert found.lo < 702 / 396 < found.hi
    assert found.say == "Halyard L is 1.77 times as fast as Tarn Desk on parade."
    cause = check("Halyard L beats Tarn Desk on diary thanks to its memory")
    assert cause is not None
    assert cause.cause == "its memory"


@pytest.mark.parametrize(
    ("form", "said", "hedge", "lo", "hi"),
    [
        (ClaimForm.RATIO, SpokenNumber(2.0, 0.5), Hedge.NONE, 2 / 1.05, 2.1),
        (ClaimForm.RATIO, SpokenNumber(2.0, 0.5), Hedge.ABOUT, 2 / 1.05**2, 2 * 1.05**2),
        (ClaimForm.RATIO, SpokenNumber(3.0, 0.5), Hedge.ALMOST, 2.7, 3.15),
        (ClaimForm.PART, SpokenNumber(0.5, 0.0), Hedge.ALMOST, 0.5 / 1.05, 0.5 / 0.9),
        (ClaimForm.FASTER, SpokenNumber(40.0, 0.5), Hedge.NONE, 36.0, 44.0),
        (ClaimForm.FASTER, SpokenNumber(1.0, 0.5), Hedge.NONE, 0.5, 1.5),
        (ClaimForm.SAVED, SpokenNumber(120.0, 30.0), Hedge.ABOUT, 60.0, 180.0),
        (ClaimForm.FASTER, SpokenNumber(40.0, 0.5), Hedge.ALMOST, 36.0, 44.0),
        (ClaimForm.RATIO, SpokenNumber(2.0, 0.5), Hedge.OVER, 2.0, math.inf),
        (ClaimForm.TIME, SpokenNumber(420.0, 30.0), Hedge.UNDER, -math.inf, 420.0),
    ],
)
def test_what_a_number_allows(
    form: ClaimForm, said: SpokenNumber, hedge: Hedge, lo: float, hi: float
) -> None:
    assert region(form, said, hedge) == (pytest.approx(lo), pytest.approx(hi))


@pytest.mark.parametrize(
    "text",
    [
        "finish before " * 20_000,
        "Halyard L " * 20_000 + "is faster",
        "on " * 60_000 + "faster",
        "a " * 100_000,
        "1" * 200_000,
        "Tarn Desk is " + "about " * 60 + "faster",
    ],
)
def test_a_sentence_without_end_is_left_alone_or_refused(text: str) -> None:
    found = check(text)
    assert found is None or found.verdict is Verdict.UNREAD


@given(
    st.lists(
        st.sampled_from(
            [
                "Halyard L",
                "Tarn Desk",
                "the",
                "parade",
                "on",
                "is",
                "twice",
                "as fast as",
                "half",
                "%",
                "12",
                "faster than",
                "takes",
                "of the time of",
                "in",
                "under",
                "7 minutes",
                "and",
                "level",
                "Zebra",
                "because of",
                "up to",
                "every task",
                "real time",
                "‹S0›",
                "2:33",
                "saves",
                "over",
            ]
        ),
        max_size=14,
    )
)
def test_any_words_in_any_order_are_judged_or_refused(words: list[str]) -> None:
    found = check(" ".join(words))
    assert found is None or found.verdict in set(Verdict)
