"""Timecodes, rates, the normal form and the outline of a timeline."""

from __future__ import annotations

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.timeline_differences import Change, compare_timelines
from true_margin.core.timelines import (
    Edit,
    Item,
    ItemKind,
    Track,
    exact_rate,
    format_timecode,
    normal_timeline,
    outline,
)

NTSC = Fraction(30000, 1001)


def clip(media: str, frames: int, start: int = 0) -> Item:
    return Item(ItemKind.CLIP, media, Fraction(start, 25), Fraction(frames, 25), Fraction(25))


def gap(frames: int) -> Item:
    return Item(ItemKind.GAP, "", Fraction(0), Fraction(frames, 25))


def edit(*items: Item) -> Edit:
    return normal_timeline(Fraction(25), [Track("video", items)])


@pytest.mark.parametrize(
    ("given_rate", "exact"),
    [
        (23.976, Fraction(24000, 1001)),
        (23.98, Fraction(24000, 1001)),
        (24.0, Fraction(24)),
        (29.97, NTSC),
        (29.97002997, NTSC),
        (59.94, Fraction(60000, 1001)),
        (12.5, Fraction(25, 2)),
        (1000.0, Fraction(1000)),
    ],
)
def test_rates_behind_floats(given_rate: float, exact: Fraction) -> None:
    assert exact_rate(given_rate) == exact


@pytest.mark.parametrize("rate", [0.0, -25.0, float("nan"), float("inf")])
def test_rates_that_are_none(rate: float) -> None:
    with pytest.raises(ValueError, match="frames per second"):
        exact_rate(rate)


@pytest.mark.parametrize(
    ("frame", "rate", "text"),
    [
        (0, Fraction(25), "00:00:00:00"),
        (1517, Fraction(25), "00:01:00:17"),
        (90000, Fraction(25), "01:00:00:00"),
        (1799, NTSC, "00:00:59;29"),
        (1800, NTSC, "00:01:00;02"),
        (17981, NTSC, "00:09:59;29"),
        (17982, NTSC, "00:10:00;00"),
        (107892, NTSC, "01:00:00;00"),
        (3600, Fraction(60000, 1001), "00:01:00;04"),
        (24, Fraction(24000, 1001), "00:00:01:00"),
    ],
)
def test_timecodes(frame: int, rate: Fraction, text: str) -> None:
    assert format_timecode(Fraction(frame) / rate, rate) == text


def test_drop_frame_counts_every_frame_once() -> None:
    texts = [format_timecode(frame / NTSC, NTSC) for frame in range(40_000)]
    assert len(set(texts)) == len(texts)
    assert texts == sorted(texts)


def test_what_writers_do_differently_is_taken_out() -> None:
    plain = edit(clip("a", 10), gap(5), clip("b", 10))
    other = normal_timeline(
        Fraction(25),
        [
            Track("video", ()),
            Track("video", (clip("a", 10), gap(2), gap(0), gap(3), clip("b", 10), gap(100))),
            Track("audio", (gap(50),)),
        ],
    )
    assert plain.fingerprint == other.fingerprint
    assert other.length == 1


def test_totals() -> None:
    timeline = edit(clip("a", 10), clip("b", 10), clip("a", 5))
    assert (timeline.clips, timeline.effects, timeline.media) == (3, 0, ("a", "b"))


@given(
    st.lists(st.sampled_from("abcd"), min_size=1, max_size=12),
    st.lists(st.sampled_from("abcd"), min_size=1, max_size=12),
)
def test_every_difference_has_a_place(one: list[str], other: list[str]) -> None:
    ours, theirs = (edit(*(clip(name, 10) for name in names)) for names in (one, other))
    found = compare_timelines(ours, theirs)
    assert (found == ()) == (one == other) == (ours.fingerprint == theirs.fingerprint)
    counts = [sum(d.change is change for d in found) for change in (Change.MISSING, Change.ADDED)]
    assert len(one) - counts[0] == len(other) - counts[1]


def test_a_longer_gap_is_a_changed_gap() -> None:
    (found,) = compare_timelines(
        edit(clip("a", 10), gap(5), clip("b", 10)), edit(clip("a", 10), gap(7), clip("b", 10))
    )
    assert (found.change, found.here) == (Change.GAP, "a gap of 5 frames at 00:00:00:10")


def test_the_outline_joins_what_is_too_thin() -> None:
    thin = edit(*(clip(f"t{i}", 1) for i in range(1000)), clip("long", 9000))
    (blocks,) = outline(thin, most=100)
    assert len(blocks) < 30
    assert sum(block.clips for block in blocks) == 1001
    assert blocks[-1].name == "long"
    assert sum(block.length for block in blocks) == pytest.approx(400.0)
    (few,) = outline(edit(clip("a", 10), gap(10), clip("b", 10)))
    assert [(b.start, b.length, b.name) for b in few] == [(0.0, 0.4, "a"), (0.8, 0.4, "b")]
