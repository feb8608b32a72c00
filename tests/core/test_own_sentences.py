"""What the app says itself, it reads: every sentence about a pair is a claim, and a true one."""

from __future__ import annotations

import itertools
from collections.abc import Mapping
from enum import StrEnum

import pytest

from tests.core.test_claims import case
from true_margin.core.checks import Check
from true_margin.core.claims.check import check_line, names_of
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.labels import (
    METHOD,
    PARITY_WEIGHT,
    RESULT,
    RUN_FLAG,
    RUN_STATUS,
    VERDICT,
    field_label,
    label_of,
)
from true_margin.core.margins import Call, Margin
from true_margin.core.parity import Weight
from true_margin.core.readings import ReadingMethod
from true_margin.core.study import RunStatus
from true_margin.core.wording import prove_margin, say_margin


def test_every_stored_value_has_a_label() -> None:
    tables: tuple[tuple[Mapping[str, str], type[StrEnum]], ...] = (
        (RESULT, Call),
        (VERDICT, Verdict),
        (RUN_STATUS, RunStatus),
        (RUN_FLAG, Check),
        (METHOD, ReadingMethod),
        (PARITY_WEIGHT, Weight),
    )
    for table, choice in tables:
        assert [each.value for each in choice if each.value not in table] == []
    assert label_of(RESULT, "of another table") == "of another table"
    assert [field_label(name) for name in ("tasks.0.amount", "who", "_")] == ["amount", "name", "_"]


def test_sentences_about_pairs_are_read_and_hold() -> None:
    analysis = case()
    study = analysis.study
    names, little = names_of(analysis), study.settings.materiality
    said = 0
    for comparison in analysis.tasks:
        setups = comparison.pairs.contrasts.setups.tolist()
        on = study.tasks[comparison.task or 0].name
        for i, j in itertools.combinations(range(len(setups)), 2):
            margin = comparison.pairs.margin(i, j)
            if margin.call is Call.NOT_COMPARABLE:
                continue
            a, b = (study.setups[setups[k]] for k in (i, j))
            sentence = say_margin(margin, a, b, little).removesuffix(".")
            found = check_line(analysis, names, f"{sentence} on {on}.")
            assert found is not None, sentence
            assert found.verdict in (Verdict.HOLDS, Verdict.LIKELY), (sentence, found.reason)
            said += 1
    assert said > 5


def margin(log: float, lo: float, hi: float, call: Call) -> Margin:
    return Margin(0, 1, log, 0.01, 9.0, lo, hi, call, 0.02)


@pytest.mark.parametrize(
    ("found", "proof"),
    [
        (margin(0.15, 0.1, 0.2, Call.CLEAR), "95 % interval 11 to 22 %."),
        (margin(1.0, 0.9, 1.1, Call.CLEAR), "95 % interval 2.46 to 3.00 times as fast."),
        (
            margin(0.05, 0.004, 0.096, Call.AHEAD),
            "Best estimate 5.1 % faster; 95 % interval 0.4 to 10 %.",
        ),
        (
            margin(0.01, -0.02, 0.04, Call.OPEN),
            "A could be 2.0 % slower or 4.1 % faster (95 % interval).",
        ),
        (
            margin(0.2, -0.6, 1.0, Call.OPEN),
            "Best estimate 1.22 times as fast; 95 % interval 0.55 to 2.72 times.",
        ),
        (margin(0.0, -1.0, 1.0, Call.NOT_COMPARABLE), ""),
    ],
)
def test_the_proof_of_an_answer(found: Margin, proof: str) -> None:
    assert prove_margin(found, "A", "B", 0.95) == proof
    turned = Margin(
        1, 0, -found.log_ratio, 0.01, 9.0, -found.hi, -found.lo, found.call, found.handicap
    )
    if found.log_ratio > 0:
        assert prove_margin(turned, "B", "A", 0.95) == proof
