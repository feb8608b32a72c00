"""Thousands, decimals, ranges and times in words, as reviewers write them."""

from __future__ import annotations

import math

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from true_margin.app.reader import numerals_of
from true_margin.core.entry_line import read_entry
from true_margin.core.errors import QuantityError
from true_margin.core.figure_notes import take_notes_off
from true_margin.core.numerals import PLAIN, fixed, localised, writing
from true_margin.core.quantities import Elapsed, parse_amount, parse_elapsed
from true_margin.core.study import Bound
from true_margin.core.typed_numbers import plain_numbers, signs_of_column
from true_margin.core.wording import format_elapsed

READERS = {name: numerals_of(name) for name in ("en-GB", "de-DE", "fr-FR", "en-IN")}


@pytest.mark.parametrize(
    ("text", "reader", "value"),
    [
        ("3,210", "en-GB", 3210),
        ("3,210", "de-DE", 3.21),
        ("3.210", "de-DE", 3210),
        ("3.210", "en-GB", 3.21),
        ("3 210", "en-GB", 3210),
        ("3\u202f210", "fr-FR", 3210),
        ("3 210,5", "fr-FR", 3210.5),
        ("2,390 EUR", "en-GB", 2390),
        ("6,850 MB/s", "en-GB", 6850),
        ("6900MB/s", "en-GB", 6900),
        ("1,234,567", "en-GB", 1234567),
        ("1.234.567,5", "de-DE", 1234567.5),
        ("1,234.5", "de-DE", 1234.5),
        ("1,23,456", "en-IN", 123456),
        ("84 tracks", "en-GB", 84),
        ("0,125", "en-GB", 0.125),
        ("64.5", "en-GB", 64.5),
        ("1'530", "en-GB", 1530),
    ],
)
def test_amounts_are_read_as_their_reader_writes(text: str, reader: str, value: float) -> None:
    assert parse_amount(text, READERS[reader]).value == pytest.approx(value)


def test_without_a_reader_a_single_comma_is_before_decimals() -> None:
    assert parse_amount("3,210").value == 3.21
    assert parse_amount("1,234,567").value == 1234567


@pytest.mark.parametrize("text", ["1,23,45", "1.2.3", "1,2345,678", "1.234,56.7"])
def test_signs_that_part_nothing_are_asked_about(text: str) -> None:
    with pytest.raises(QuantityError, match="which signs part thousands"):
        parse_amount(text)


@pytest.mark.parametrize("reader", READERS)
@given(value=st.integers(1, 10**9), digits=st.integers(0, 3))
def test_what_is_printed_is_read_back(reader: str, value: int, digits: int) -> None:
    """Never read otherwise than it was printed, thousands set apart or not."""
    signs = READERS[reader]
    number = value / 10**digits
    with writing(signs):
        for printed in (fixed(number, digits, grouped=True), localised(f"{number:.{digits}f}")):
            whole, _, part = printed.rpartition(signs.point)
            # One sign with three digits behind it and none before: only the grouped is sure.
            if digits == 3 and signs.group in ".," and len(whole) <= 3:
                continue
            assert parse_amount(printed, signs).value == pytest.approx(number), (printed, part)


@pytest.mark.parametrize("reader", READERS)
@given(seconds=st.floats(0.1, 90_000), resolution=st.sampled_from([0.001, 0.01, 0.1, 1.0]))
def test_clock_times_are_read_back(reader: str, seconds: float, resolution: float) -> None:
    seconds = max(seconds, resolution)
    with writing(READERS[reader]):
        printed = format_elapsed(seconds, resolution)
        found = parse_elapsed(printed, READERS[reader])
    assert isinstance(found, Elapsed)
    assert found.seconds == pytest.approx(seconds, abs=resolution)


@pytest.mark.parametrize("reader", READERS)
def test_what_a_program_tells_reads_the_same_for_everybody(reader: str) -> None:
    """A bench and a watcher write clocks with a point, whoever looks on."""
    assert parse_elapsed("0:37.250", READERS[reader]) == Elapsed(37.25, 0.001)


@given(st.text(max_size=80))
def test_any_text_keeps_what_is_no_number(text: str) -> None:
    plain = plain_numbers(text, PLAIN)
    assert [c for c in plain if c.isalpha()] == [c for c in text if c.isalpha()]
    assert sum(c in "0123456789" for c in plain) == sum(c in "0123456789" for c in text)


@pytest.mark.parametrize(
    ("text", "seconds", "resolution", "approximate"),
    [
        ("almost 9 min", 540, 60, True),
        ("about 45 minutes", 2700, 60, True),
        ("I think 45 min", 2700, 60, True),
        ("I think about 45 min", 2700, 60, True),
        ("roughly 3 hours", 10800, 3600, True),
        ("20 minutes or so", 1200, 60, True),
        ("just over two and a half minutes", 150, 6, True),
        ("half an hour", 1800, 60, False),
        ("a quarter of an hour", 900, 60, False),
        ("two hours", 7200, 3600, False),
        ("1:14 h", 4440, 60, False),
        ("1:14 min", 74, 1, False),
        ("2:50 to 3:10", 180, 20, False),
        ("2:50–3:10", 180, 20, False),
        ("between 2:50 and 3:10", 180, 20, False),
        ("6 to 7 min", 390, 60, False),
        ("3 h ± 5 min", 10800, 600, False),
        ("45 min +/- 5", 2700, 600, False),
    ],
)
def test_times_as_people_say_them(
    text: str, seconds: float, resolution: float, approximate: bool
) -> None:
    found = parse_elapsed(text)
    assert isinstance(found, Elapsed)
    assert (found.seconds, found.resolution_s) == pytest.approx((seconds, resolution))
    assert (found.approximate, found.bound) == (approximate, None)


@pytest.mark.parametrize(
    ("text", "bound", "seconds"),
    [
        ("over two hours", Bound.OVER, 7200),
        ("< 6 min", Bound.UNDER, 360),
        ("> 2 h", Bound.OVER, 7200),
    ],
)
def test_bounds_in_words(text: str, bound: Bound, seconds: float) -> None:
    found = parse_elapsed(text)
    assert isinstance(found, Elapsed)
    assert (found.seconds, found.bound) == (seconds, bound)


@pytest.mark.parametrize(
    "text", ["3:10 to 2:50", "> 2 h to 3 h", "1 min ± 5 min", "to 5 min", "two"]
)
def test_what_is_no_range_says_so(text: str) -> None:
    if text == "two":
        assert parse_elapsed(text) == Elapsed(2.0, 1.0)
        return
    with pytest.raises(QuantityError):
        parse_elapsed(text)


def test_amounts_may_be_ranges() -> None:
    found = parse_amount("58 to 62 tracks")
    assert (found.value, found.resolution) == (60.0, 4.0)
    assert math.isclose(parse_amount("60 ± 2").resolution, 4.0)


@pytest.mark.parametrize(
    ("line", "value"),
    [
        ("A / points / 6,850 MB/s", "6,850 MB/s"),
        ("A/points/6850 MB/s", "6850 MB/s"),
        ("A / points / 30 frames/s / 1", "30 frames/s"),
        ("A / parade / 45 min +/- 5", "45 min +/- 5"),
        ("A/parade/6:17", "6:17"),
        ("A / parade / about 2:50 to 3:10 log", "about 2:50 to 3:10"),
    ],
)
def test_a_slash_of_a_unit_parts_nothing(line: str, value: str) -> None:
    read = read_entry(line, ["A", "B"], ["points", "parade"], ["1"])
    assert (read.setup.index, read.task.index is None, read.value) == (0, False, value)


def test_about_a_range_is_a_range() -> None:
    found = parse_elapsed("about 2:50 to 3:10")
    assert isinstance(found, Elapsed)
    assert (found.seconds, found.resolution_s) == (180, 20)


@pytest.mark.parametrize(
    ("cells", "reader", "signs"),
    [
        (["3,210", "2,987"], "en-GB", (".", ",")),
        (["3,210", "64,5"], "en-GB", (",", ".")),
        (["3.210", "64,5"], "de-DE", (",", ".")),
        (["3.210", "64.5"], "de-DE", (".", ",")),
        (["3.210", "2.987"], "de-DE", None),
        (["3,210.5"], "de-DE", (".", ",")),
        (["0,125", "1,530"], "en-GB", (",", ".")),
        (["6:17", "5:58.2"], "de-DE", (",", ".")),
        ([], "en-GB", (".", ",")),
    ],
)
def test_a_column_tells_by_which_signs_it_is_written(
    cells: list[str], reader: str, signs: tuple[str, str] | None
) -> None:
    found = signs_of_column(cells, READERS[reader])
    assert (None if found is None else (found.point, found.group)) == signs


@pytest.mark.parametrize(
    ("text", "body", "notes"),
    [
        ("3150, best 3210", "3150", ("best 3210",)),
        ("3,150, best 3,210", "3,150", ("best 3,210",)),
        ("3150 (best 3210)", "3150", ("best 3210",)),
        ("6:17 mean of 5", "6:17", ("mean of 5",)),
        ("Average of 3: 6:17", "6:17", ("Average of 3",)),
        ("mean of 5 3150, best 3210", "3150", ("mean of 5", "best 3210")),
        ("best 3210", "3210", ("best",)),
        ("6:17, max 6:40 log", "6:17 log", ("max 6:40",)),
        ("64.5 MB/s, worst 58 MB/s", "64.5 MB/s", ("worst 58 MB/s",)),
        ("9 min", "9 min", ()),
        ("failed best driver", "failed best driver", ()),
        ("failed best of 3 tries", "failed best of 3 tries", ()),
        ("void 3 min in", "void 3 min in", ()),
        ("2:50 to 3:10", "2:50 to 3:10", ()),
        ("", "", ()),
    ],
)
def test_what_stands_beside_a_figure_is_its_note(
    text: str, body: str, notes: tuple[str, ...]
) -> None:
    assert take_notes_off(text) == (body, notes)


@settings(max_examples=200)
@given(st.text(max_size=60))
def test_taking_notes_off_loses_nothing_of_a_text(text: str) -> None:
    body, notes = take_notes_off(text)
    left = sorted(c for c in f"{body}{''.join(notes)}" if c.isalnum())
    assert left == sorted(c for c in text if c.isalnum())
