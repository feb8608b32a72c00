"""Money, wording, the entry line, and the runs that a pair needs."""

from __future__ import annotations

import math
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.helpers import analysed, margin_of, runs_of
from true_margin.core.entry_line import MatchState, entry_name, match_name, read_entry
from true_margin.core.errors import QuantityError
from true_margin.core.margins import Call, Margin
from true_margin.core.money import Money, parse_price
from true_margin.core.notes import read_note
from true_margin.core.readings import ReadingMethod
from true_margin.core.settling import RunNoise, needed_half_width, runs_to_settle, settling_of
from true_margin.core.study import RunStatus
from true_margin.core.wording import (
    format_elapsed,
    format_ratio,
    percent_faster,
    percent_less_time,
    ratio_of,
    say_margin,
)

SETUPS = ["Tarn Desk", "Halyard S mains", "Halyard S battery", "Halyard L", "Cairn Brick"]
TASKS = ["Lantern parade, export UHD", "Lantern parade, render", "Curtain titles"]


@pytest.mark.parametrize(
    ("text", "amount"),
    [
        ("1290", "1290"),
        ("1 290", "1290"),
        ("1290,50", "1290.50"),
        ("0", "0"),
        ("12 345.6", "12345.6"),
    ],
)
def test_prices(text: str, amount: str) -> None:
    assert parse_price(text, "EUR") == Money(Decimal(amount), "EUR")


@pytest.mark.parametrize("text", ["", "-1", "1.290.00", "12 34", "free", "1e3", "NaN", "1290.505"])
def test_prices_refused(text: str) -> None:
    with pytest.raises(QuantityError, match="type it like 1290"):
        parse_price(text, "EUR")


@pytest.mark.parametrize("currency", ["eur", "EURO", "", "€"])
def test_currencies_refused(currency: str) -> None:
    with pytest.raises(QuantityError, match="three letters"):
        parse_price("5", currency)


def test_value_and_frontier() -> None:
    runs = runs_of({"A": [100.0], "B": [50.0], "C": [60.0], "D": [40.0], "E": [40.0]})
    prices = {"A": "500", "B": "1000", "C": "1200", "D": "3000"}
    values = {v.setup: v for v in analysed(runs, prices=prices).values}
    assert len(values) == 4  # E has no price
    assert values[1].value == pytest.approx(1.0)
    assert values[3].value == pytest.approx(2.5 / 6)
    assert {i for i, v in values.items() if v.frontier} == {0, 1, 3}


def test_equal_price_and_speed_both_stay_on_the_frontier() -> None:
    values = analysed(runs_of({"A": [100.0], "B": [100.0]}), prices={"A": "5", "B": "5"}).values
    assert [v.frontier for v in values] == [True, True]


def test_a_gift_has_no_value_ratio() -> None:
    values = analysed(runs_of({"A": [100.0], "B": [50.0]}), prices={"A": "0", "B": "5"}).values
    assert [v.value for v in values] == [None, None]


@pytest.mark.parametrize(
    ("seconds", "resolution", "text"),
    [
        (377.2, 0.1, "6:17.2"),
        (377, 1, "6:17"),
        (3599.96, 0.1, "1:00:00.0"),
        (59.999, 0.01, "1:00.00"),
        (0.4, 1, "0:00"),
        (86399, 60, "23:59:59"),
        (37.4, 0.05, "0:37.40"),
    ],
)
def test_clock_writing(seconds: float, resolution: float, text: str) -> None:
    assert format_elapsed(seconds, resolution) == text


def test_ratios_have_two_decimals() -> None:
    assert [format_ratio(r) for r in (1.5323, 1.004, 0.99, 0.5)] == ["1.53", "1.00", "0.99", "0.50"]


def test_the_four_ways_are_not_the_same_number() -> None:
    delta = math.log(95 / 62)
    assert percent_faster(delta) == pytest.approx(53.2258, abs=1e-4)
    assert percent_less_time(delta) == pytest.approx(34.7368, abs=1e-4)


def margin(delta: float, lo: float, hi: float, call: Call) -> Margin:
    return Margin(0, 1, delta, 0.01, 5, lo, hi, call, None)


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (Call.CLEAR, "A is 35 % faster than B."),
        (Call.AHEAD, "A is faster than B, perhaps by less than 3 %."),
        (Call.LEVEL, "A and B are equally fast (within 3 %)."),
        (Call.OPEN, "Not enough runs to compare A and B."),
    ],
)
def test_sentences(call: Call, words: str) -> None:
    assert say_margin(margin(0.3, 0.2, 0.4, call), "A", "B", 0.03) == words
    assert say_margin(margin(-0.3, -0.4, -0.2, call), "B", "A", 0.03) == words


def test_what_cannot_be_compared_is_said() -> None:
    said = say_margin(margin(0, 0, 0, Call.NOT_COMPARABLE), "A", "B", 0.03)
    assert said.startswith("A and B cannot be compared")


M = math.log(1.03)


@pytest.mark.parametrize(
    ("delta", "call", "expected"),
    [
        (0.05, Call.OPEN, 0.05),
        (0.01, Call.OPEN, M - 0.01),
        (0.02, Call.OPEN, 0.02),
        (0.05, Call.AHEAD, 0.05 - M),
    ],
)
def test_needed_half_width(delta: float, call: Call, expected: float) -> None:
    assert needed_half_width(margin(delta, 0, 0, call), M) == pytest.approx(expected)


def noise(cv: float, floor: float = 0.0) -> tuple[RunNoise, RunNoise]:
    return RunNoise(cv**2, floor), RunNoise(cv**2, floor)


def test_runs_to_settle_by_hand() -> None:
    need = runs_to_settle(margin(0.04, -0.01, 0.09, Call.OPEN), noise(0.02), M)
    # n = ceil(2 · 0.02² · (2.5706 + 0.9195)² / 0.04²), quantiles at 5 degrees of freedom
    assert need.runs_each == math.ceil(2 * 0.02**2 * (2.570582 + 0.919544) ** 2 / 0.04**2) == 7
    assert need.worth_it


def test_no_number_of_runs_does_better_than_the_clock() -> None:
    pair = margin(0.04, -0.01, 0.09, Call.OPEN)
    assert runs_to_settle(pair, noise(0.02, 0.0001), M).runs_each is None
    assert runs_to_settle(pair, noise(0.02, 0.00001), M).runs_each == 7


def test_runs_that_resemble_each_other_settle_later() -> None:
    pair = margin(0.04, -0.01, 0.09, Call.OPEN)
    assert runs_to_settle(pair, noise(0.02), M, rho=0.5).runs_each == 17


def test_more_runs_than_planned_are_judged_more_strictly() -> None:
    pair = margin(0.04, -0.01, 0.09, Call.OPEN)
    # (4.0321 + 0.9195)² in place of (2.5706 + 0.9195)².
    assert runs_to_settle(pair, noise(0.02), M, planned=3).runs_each == 13
    assert runs_to_settle(pair, noise(0.02), M, planned=7).runs_each == 7


def test_a_tiny_difference_is_not_worth_settling() -> None:
    need = runs_to_settle(margin(0.016, -0.05, 0.09, Call.OPEN), noise(0.05), M)
    assert need.runs_each is not None
    assert need.runs_each > 25
    assert not need.worth_it


def test_sitting_on_the_edge_never_settles() -> None:
    assert runs_to_settle(margin(M, 0.01, 0.05, Call.AHEAD), noise(0.02), M).runs_each is None


def test_the_promised_runs_do_settle() -> None:
    """With the promised number of runs, at the same means and spread, the call is firm."""
    first = analysed(runs_of({"A": [100.0], "B": [104.0]}))
    pair = margin_of(first, "A", "B")
    assert pair.call is Call.OPEN
    need = settling_of(first, 0, pair).runs_each
    assert need is not None
    again = analysed(runs_of({"A": [100.0] * need, "B": [104.0] * need}))
    assert margin_of(again, "A", "B").call is not Call.OPEN


@pytest.mark.parametrize(
    ("text", "index"),
    [
        ("halyard l", 3),
        ("Halyard L", 3),
        ("cairn", 4),
        ("brick", 4),
        ("tarn d", 0),
        ("hal s bat", 2),
        ("h bat", 2),
        ("battery halyard", 2),
    ],
)
def test_short_names_find_one(text: str, index: int) -> None:
    found = match_name(text, SETUPS)
    assert (found.state, found.index) == (MatchState.ONE, index)


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("halyard", MatchState.SEVERAL),
        ("hal s", MatchState.SEVERAL),
        ("zephyr", MatchState.NONE),
        ("", MatchState.MISSING),
        ("  ", MatchState.MISSING),
    ],
)
def test_nothing_is_guessed(text: str, found: MatchState) -> None:
    match = match_name(text, SETUPS)
    assert (match.state, match.index) == (found, None)


def test_an_exact_name_wins_over_longer_ones() -> None:
    assert match_name("halyard", ["Halyard", "Halyard L"]).index == 0


def test_entry_line_taken_apart() -> None:
    entry = read_entry("hal l / titles / 6:17 log / autumn", SETUPS, TASKS, ["spring", "autumn"])
    assert (entry.setup.index, entry.task.index) == (3, 2)
    assert (entry.value, entry.method) == ("6:17", ReadingMethod.LOG)
    assert entry.round is not None
    assert entry.round.index == 1


@pytest.mark.parametrize(
    ("body", "value", "method", "status", "reason"),
    [
        ("6:17", "6:17", ReadingMethod.STOPWATCH, RunStatus.OK, ""),
        ("6m 17s hand", "6m 17s", ReadingMethod.STOPWATCH, RunStatus.OK, ""),
        ("6:17 remembered", "6:17", ReadingMethod.REMEMBERED, RunStatus.OK, ""),
        ("0:04 void false start", "0:04", ReadingMethod.STOPWATCH, RunStatus.VOID, "false start"),
        ("failed: out of disk", "", ReadingMethod.STOPWATCH, RunStatus.FAILED, "out of disk"),
        ("void", "", ReadingMethod.STOPWATCH, RunStatus.VOID, ""),
    ],
)
def test_entry_bodies(
    body: str, value: str, method: ReadingMethod, status: RunStatus, reason: str
) -> None:
    entry = read_entry(f"hal l / titles / {body}", SETUPS, TASKS, [])
    assert (entry.value, entry.method, entry.status, entry.reason) == (
        value,
        method,
        status,
        reason,
    )


def test_with_one_task_its_name_may_be_left_out() -> None:
    entry = read_entry("hal l / 6:17", SETUPS, ["Parade"], [])
    assert (entry.task.index, entry.value) == (0, "6:17")


@given(st.text(max_size=60))
def test_any_line_is_taken_apart(line: str) -> None:
    entry = read_entry(line, SETUPS, TASKS, ["spring"])
    assert entry.part in (0, 1, 2, 3)


def test_names_alike_but_for_signs_are_told_apart_by_the_exact_one() -> None:
    names = ["Halyard-L", "Halyard L", "???", "A/B"]
    assert [match_name(name, names).index for name in names] == [0, 1, 2, 3]
    alike = match_name("halyard l", names)
    assert (alike.state, alike.candidates) == (MatchState.SEVERAL, (0, 1))
    assert match_name("Cairn", ["Cairn", "Cairn"]).state is MatchState.SEVERAL


def test_a_name_with_a_divider_can_be_entered() -> None:
    tasks = ["Export 1080p/50", "Export 1080p"]
    entry = read_entry(f"hal l / {entry_name(tasks[0])} / 6:17", SETUPS, tasks, [])
    assert (entry.task.index, entry.value) == (0, "6:17")


def test_intervals_beyond_all_numbers_are_said_so() -> None:
    """Half a degree of freedom gives ends that no number holds."""
    assert format_ratio(ratio_of(7000.0)) == "over 1000000"
    assert format_ratio(ratio_of(-7000.0)) == "under 0.000001"
    assert ratio_of(0.5) == pytest.approx(math.exp(0.5))


@pytest.mark.parametrize(
    ("body", "status", "reason"),
    [
        ("DNF", "failed", "did not finish"),
        ("dnf: out of disk", "failed", "out of disk"),
        ("crashed", "failed", "crashed"),
        ("crashed at 40 %", "failed", "crashed at 40 %"),
        ("out of memory", "failed", "out of memory"),
        ("failed no disk", "failed", "no disk"),
        ("6:17 void fan on", "void", "fan on"),
        # That nothing was tried is no run: the value says so, and is refused further on.
        ("n/a", "ok", ""),
        ("–", "ok", ""),
    ],
)
def test_a_word_in_place_of_a_time_says_what_became_of_it(
    body: str, status: str, reason: str
) -> None:
    entry = read_entry(f"hal l / titles / {body}", SETUPS, TASKS, [])
    assert (entry.status, entry.reason) == (status, reason)
    assert entry.value == (body if status == "ok" else "6:17" if status == "void" else "")


@pytest.mark.parametrize(
    ("typed", "ratio", "source"),
    [
        ("3.2x tower noted", "3.2x", ""),
        ("-7 % tower published", "-7 %", "published"),
        ("38 % faster than tower, claimed by the maker", "38 % faster", "the maker"),
    ],
)
def test_a_ratio_says_who_says_so(typed: str, ratio: str, source: str) -> None:
    note = read_note(typed)
    assert note is not None
    assert (note.ratio, note.against, note.source) == (ratio, "tower", source)
