"""Marks of every kind, slowing down while it happens, timecodes, and why runs are flagged."""

from __future__ import annotations

import pytest

from true_margin.core.bench_rows import BEFORE_START, wrong_of
from true_margin.core.checks import ProgressPoint
from true_margin.core.entry_line import read_entry
from true_margin.core.errors import QuantityError
from true_margin.core.flag_words import slowed_words
from true_margin.core.mark_rows import check_mark, own_estimates
from true_margin.core.pace import slowing_down
from true_margin.core.readings import ReadingMethod
from true_margin.core.timecodes import parse_timecodes


def test_a_mark_keeps_only_what_it_says() -> None:
    mark = {"elapsed_s": 5, "power_w": 80, "fraction": None, "event": " fan starts "}
    assert check_mark(mark) == {"elapsed_s": 5.0, "power_w": 80.0, "event": "fan starts"}


@pytest.mark.parametrize("elapsed", [None, -1.0, float("inf"), "soon", True])
def test_a_mark_needs_its_time(elapsed: object) -> None:
    with pytest.raises(QuantityError, match="elapsed"):
        check_mark({"elapsed_s": elapsed, "power_w": 80})  # type: ignore[dict-item]


def test_estimates_are_judged_against_the_true_end() -> None:
    marks = [{"elapsed_s": 10.0, "left_s": 90.0}, {"elapsed_s": 20.0, "fraction": 0.5}]
    (found,) = own_estimates(marks, 80.0)
    assert (found.said_s, found.error_s) == (100.0, 20.0)


@pytest.mark.parametrize(
    ("marks", "slow"),
    [
        ([(60, 0.3), (120, 0.6)], False),
        ([(60, 0.3), (160, 0.6)], True),
        ([(60, 0.3), (126, 0.6)], False),
        ([(60, 0.3)], False),
        ([], False),
        ([(60, 0.3), (100, 0.31), (200, 0.5)], True),
    ],
)
def test_slowing_down_is_seen_while_it_happens(
    marks: list[tuple[float, float]], slow: bool
) -> None:
    assert slowing_down([ProgressPoint(*mark) for mark in marks]) is slow


@pytest.mark.parametrize(
    ("text", "seconds", "rate"),
    [
        ("00:00:01:00 - 00:01:01:12 @ 25", 60.48, 25.0),
        ("00:00:01:00-00:01:01:12@25", 60.48, 25.0),
        ("00:00:00;00 to 00:01:00;02 at 29.97 fps", 60.06, 30000 / 1001),
        ("01:00:00:00 – 01:00:10:00 @ 23,98", 10.01, 24000 / 1001),
    ],
)
def test_two_timecodes_and_a_rate(text: str, seconds: float, rate: float) -> None:
    found = parse_timecodes(text)
    assert found is not None
    assert found[0].seconds == pytest.approx(seconds, abs=0.001)
    assert found[1] == pytest.approx(rate)


def test_timecodes_that_cannot_be_and_texts_that_are_none() -> None:
    with pytest.raises(QuantityError, match="not after start"):
        parse_timecodes("00:01:00:00 - 00:00:00:00 @ 25")
    with pytest.raises(QuantityError, match="below"):
        parse_timecodes("00:00:00:00 - 00:00:00:26 @ 25")
    assert parse_timecodes("6:17") is None
    assert parse_timecodes("00:00:01:00 - 00:01:01:12") is None


def test_an_entry_line_takes_timecodes_whole() -> None:
    line = "hal l / par / 00:00:00;00 - 00:01:00;02 @ 29.97"
    entry = read_entry(line, ["Halyard L"], ["Lantern parade"], [])
    assert entry.value == "00:00:00;00 - 00:01:00;02 @ 29.97"
    assert entry.method is ReadingMethod.RECORDING
    spaced = read_entry(
        "hal l; par; 6:17 log; spring", ["Halyard L"], ["Lantern parade"], ["spring"]
    )
    assert (spaced.value, spaced.round and spaced.round.index) == ("6:17", 0)


def test_what_was_wrong_before_a_start() -> None:
    assert wrong_of({}) == ()
    assert wrong_of({check.field: True for check in BEFORE_START}) == ()
    assert wrong_of({"fresh_boot": False}) == ("not freshly booted",)


def test_slowing_is_said_with_its_pace() -> None:
    marks = [ProgressPoint(60, 1 / 3), ProgressPoint(120, 2 / 3), ProgressPoint(200, 1.0)]
    assert "at 75 % of the pace of the first" in slowed_words(marks)
