"""Times and amounts as typed, their resolution, and the uncertainty of a reading."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.errors import QuantityError
from true_margin.core.quantities import (
    MAX_ELAPSED_S,
    AmbiguousElapsed,
    Elapsed,
    parse_amount,
    parse_elapsed,
)
from true_margin.core.readings import ReadingMethod, reading_uncertainty
from true_margin.core.study import Bound
from true_margin.core.timecodes import elapsed_from_timecodes
from true_margin.core.wording import format_elapsed


def read(text: str) -> Elapsed:
    elapsed = parse_elapsed(text)
    assert isinstance(elapsed, Elapsed), f"{text} has two meanings"
    return elapsed


@pytest.mark.parametrize(
    ("text", "seconds", "resolution"),
    [
        ("0:37,4", 37.4, 0.1),
        ("1h 26m", 5160, 60),
        ("1 hour 2 minutes 3 seconds", 3723, 1),
        ("2 hrs", 7200, 3600),
        ("6 min 17", 377, 1),
        ("1h26", 5160, 60),
        ('37"', 37, 1),
        ("6′17″", 377, 1),
        ("6’17”", 377, 1),
        ("5 SEC", 5, 1),
        ("PT1H2M3.5S", 3723.5, 0.1),
        ("pt90m", 5400, 60),
        ("18.4m", 1104, 6),
        ("18.475 min", 1108.5, 0.06),
        ("18.60 min", 1116, 0.6),
        ("1,5 h", 5400, 360),
        ("  6:17  ", 377, 1),
        ("6\u00a0min\u00a017\u00a0s", 377, 1),
        ("720:00:00", MAX_ELAPSED_S, 1),
        ("0.001", 0.001, 0.001),
    ],
)
def test_forms(text: str, seconds: float, resolution: float) -> None:
    elapsed = read(text)
    assert elapsed.seconds == pytest.approx(seconds, abs=1e-9)
    assert elapsed.resolution_s == pytest.approx(resolution, abs=1e-12)
    assert (elapsed.approximate, elapsed.bound) == (False, None)


@pytest.mark.parametrize(
    "text", ["~10m", "about 10m", "ca 10m", "ca. 10m", "circa 10m", "About 10m"]
)
def test_approximate_words(text: str) -> None:
    assert read(text) == Elapsed(600, 60, approximate=True)


@pytest.mark.parametrize("text", ["> 20 min", "over 20 min", ">20m", "more than 20 min"])
def test_bounds_are_not_values(text: str) -> None:
    assert read(text) == Elapsed(1200, 60, bound=Bound.OVER)


def test_bound_may_be_approximate() -> None:
    assert read("over about 20 min") == Elapsed(1200, 60, approximate=True, bound=Bound.OVER)


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "no time given"),
        ("   ", "no time given"),
        ("-5", "cannot be negative"),
        ("−5 min", "cannot be negative"),
        ("0:00", "more than zero"),
        ("0 s", "more than zero"),
        ("nan", "not a finite"),
        ("inf", "not a finite"),
        ("٣:١٧", "digits 0 to 9"),
        ("６:17", "digits 0 to 9"),
        ("4:75", "4:75 has 75 seconds. Type 5m15s, or 5:15."),
        ("4m75s", "Type 5m15s"),
        ("1h 75m", "75 minutes. Type 2:15:00."),
        ("1:60:00", "Type 2:00:00."),
        ("soon", "type it like"),
        ("6:17 5", "type it like"),
        ("6:17:", "type it like"),
        ("5 s 3 m", "hours, then minutes"),
        ("5 m 3 m", "hours, then minutes"),
        ("1.5 m 3 s", "only the last number"),
        ("1,2345.6", "which signs part thousands"),
        ("721 h", "more than 30 days"),
        ("1e5", "type it like"),
        ("PT", "type it like"),
        ("~", "type it like"),
        ("5 parsecs", "type it like"),
    ],
)
def test_rejects_say_what_to_do(text: str, says: str) -> None:
    with pytest.raises(QuantityError) as refused:
        parse_elapsed(text)
    assert says in refused.value.reason


@pytest.mark.parametrize(
    ("text", "clock", "decimal"),
    [
        ("18.40 min", 1120, 1104),
        ("1.30 h", 5400, 4680),
        ("~12,05 m", 725, 723),
        ("1h 2.30 min", 3750, 3738),
    ],
)
def test_two_decimals_below_sixty_are_asked_about(text: str, clock: float, decimal: float) -> None:
    elapsed = parse_elapsed(text)
    assert isinstance(elapsed, AmbiguousElapsed)
    assert elapsed.as_clock.seconds == pytest.approx(clock)
    assert elapsed.as_decimal.seconds == pytest.approx(decimal)


@pytest.mark.parametrize("text", ["18.00 min", "18.4 min", "18.400 min", "18.75 min", "18.40 s"])
def test_nothing_to_ask(text: str) -> None:
    assert isinstance(parse_elapsed(text), Elapsed)


@given(st.integers(1, 30 * 24 * 3600 * 10))
def test_what_is_written_is_read_back(tenths: int) -> None:
    written = format_elapsed(tenths / 10, 0.1)
    assert read(written).seconds == pytest.approx(tenths / 10, abs=1e-6)
    assert read(written).resolution_s == pytest.approx(0.1)


@given(st.text(max_size=30))
def test_any_text_is_read_or_refused(text: str) -> None:
    try:
        elapsed = parse_elapsed(text)
    except QuantityError as refused:
        assert refused.reason
        return
    for meaning in (
        [elapsed] if isinstance(elapsed, Elapsed) else [elapsed.as_clock, elapsed.as_decimal]
    ):
        assert 0 < meaning.seconds <= MAX_ELAPSED_S
        assert meaning.resolution_s > 0


@given(st.text("0123456789:.,'\"hmsin ~>PTaboutca-", max_size=14))
def test_texts_that_look_like_times(text: str) -> None:
    try:
        parse_elapsed(text)
    except QuantityError as refused:
        assert (
            text.strip() in refused.reason
            or repr(text) in refused.reason
            or "no time given" in refused.reason
        )


@pytest.mark.parametrize(
    ("text", "value", "resolution"),
    [
        ("1530", 1530, 1),
        ("64.5", 64.5, 0.1),
        ("2,5", 2.5, 0.1),
        ("64 tracks", 64, 1),
        ("12.50 frames/s", 12.5, 0.01),
    ],
)
def test_amounts(text: str, value: float, resolution: float) -> None:
    amount = parse_amount(text)
    assert (amount.value, amount.resolution) == pytest.approx((value, resolution))


def test_amount_bounds_and_approximations() -> None:
    assert parse_amount("at least 64").bound is Bound.OVER
    assert parse_amount("~64").approximate


@pytest.mark.parametrize("text", ["", "0", "-3", "many", "nan", "1,00,0", "6:17"])
def test_amounts_refused(text: str) -> None:
    with pytest.raises(QuantityError):
        parse_amount(text)


@pytest.mark.parametrize(
    ("method", "resolution", "expected"),
    [
        (ReadingMethod.STATED, 1.0, 1 / (2 * math.sqrt(3))),
        (ReadingMethod.LOG, 0.01, 0.01 / (2 * math.sqrt(3))),
        (ReadingMethod.STOPWATCH, 1.0, math.hypot(0.35, 1 / (2 * math.sqrt(3)))),
        (ReadingMethod.ONE_PRESS, 0.1, math.hypot(0.25, 0.1 / (2 * math.sqrt(3)))),
        (ReadingMethod.REMEMBERED, 60.0, math.hypot(60 / math.sqrt(3), 60 / (2 * math.sqrt(3)))),
    ],
)
def test_uncertainty_by_method(method: ReadingMethod, resolution: float, expected: float) -> None:
    assert reading_uncertainty(resolution, method) == pytest.approx(expected, rel=1e-12)


def test_uncertainty_of_a_watch_and_a_recording() -> None:
    watched = reading_uncertainty(0.01, ReadingMethod.WATCH, poll_interval_s=2.0)
    assert watched == pytest.approx(math.hypot(2 / math.sqrt(6), 0.01 / (2 * math.sqrt(3))))
    recorded = reading_uncertainty(0.04, ReadingMethod.RECORDING, frames_per_s=25.0)
    assert recorded == pytest.approx(math.hypot(1 / (25 * math.sqrt(6)), 0.04 / (2 * math.sqrt(3))))


def test_approximate_adds_its_resolution() -> None:
    plain = reading_uncertainty(60.0)
    assert reading_uncertainty(60.0, approximate=True) == pytest.approx(
        math.hypot(plain, 60 / math.sqrt(3))
    )


@pytest.mark.parametrize(
    ("method", "missing"),
    [(ReadingMethod.WATCH, "poll_interval_s"), (ReadingMethod.RECORDING, "frames_per_s")],
)
def test_a_reading_that_lacks_its_rate_is_refused(method: ReadingMethod, missing: str) -> None:
    with pytest.raises(QuantityError, match=missing):
        reading_uncertainty(1.0, method)


@pytest.mark.parametrize(
    ("start", "end", "rate", "seconds"),
    [
        ("00:00:01:00", "00:01:01:12", 25.0, 60.48),
        ("01:00:00:00", "01:00:00:01", 50.0, 0.02),
        ("00:00:59;28", "00:01:00;02", 29.97, 2 / 29.97),
        ("00:09:59;28", "00:10:00;00", 29.97, 2 / 29.97),
    ],
)
def test_two_timecodes_make_a_time(start: str, end: str, rate: float, seconds: float) -> None:
    elapsed = elapsed_from_timecodes(start, end, rate)
    assert elapsed.seconds == pytest.approx(seconds, rel=1e-9)
    assert elapsed.resolution_s == pytest.approx(1 / rate)


@pytest.mark.parametrize(
    ("start", "end", "rate"),
    [
        ("00:00:01:00", "00:00:01:00", 25.0),
        ("00:00:02:00", "00:00:01:00", 25.0),
        ("00:00:01:25", "00:00:02:00", 25.0),
        ("00:00:61:00", "00:02:00:00", 25.0),
        ("1:00", "2:00", 25.0),
        ("00:00:01:00", "00:00:02:00", 0.0),
        ("00:00:01:00", "00:00:02:00", math.nan),
    ],
)
def test_timecodes_refused(start: str, end: str, rate: float) -> None:
    with pytest.raises(QuantityError):
        elapsed_from_timecodes(start, end, rate)
