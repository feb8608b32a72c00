"""Cards on a timeline and the lines to say: to the frame, at rates that are no whole numbers."""

from __future__ import annotations

import itertools
import json
import re
from fractions import Fraction

import opentimelineio as otio
import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.exchange.card_timeline import CardClip, frames_of, write_lines, write_timeline

RATES = (23.976, 24.0, 25.0, 29.97, 30.0, 50.0, 59.94)
_CUE = re.compile(r"(\d\d):(\d\d):(\d\d)\.(\d{3}) --> (\d\d):(\d\d):(\d\d)\.(\d{3})")


def clip(seconds: float, say: str = "A is ahead.", number: int = 1) -> CardClip:
    return CardClip(f"{number:02d}-bar.png", f"Card {number}", seconds, say)


def cues(text: str) -> list[tuple[float, float]]:
    found = []
    for parts in _CUE.findall(text):
        h, m, s, ms, *end = (int(part) for part in parts)
        found.append(
            (
                3600 * h + 60 * m + s + ms / 1000,
                3600 * end[0] + 60 * end[1] + end[2] + end[3] / 1000,
            )
        )
    return found


@pytest.mark.parametrize(
    ("seconds", "rate", "frames"),
    [
        (5.0, 25.0, 125),
        (5.0, 24.0, 120),
        (5.0, 23.976, 120),
        (5.0, 29.97, 150),
        (0.001, 25.0, 1),
        (3600.0, 29.97, 107_892),
    ],
)
def test_a_length_is_whole_frames(seconds: float, rate: float, frames: int) -> None:
    assert frames_of(seconds, rate) == frames


@pytest.mark.parametrize("rate", RATES)
def test_the_timeline_is_read_back_with_clips_one_after_the_other(rate: float) -> None:
    clips = [clip(4.0, number=1), clip(6.5, number=2), clip(2.0, number=3)]
    written = write_timeline("Festival cards", clips, rate)
    timeline = otio.adapters.read_from_string(written.decode(), "otio_json")
    (track,) = timeline.video_tracks()
    assert timeline.name == "Festival cards"
    assert [each.name for each in track] == ["Card 1", "Card 2", "Card 3"]
    assert [each.media_reference.target_url for each in track] == [
        f"cards/{number:02d}-bar.png" for number in (1, 2, 3)
    ]
    starts = [each.range_in_parent().start_time.value for each in track]
    lengths = [each.duration().value for each in track]
    assert starts == [0, lengths[0], lengths[0] + lengths[1]]
    assert lengths == [frames_of(each.seconds, rate) for each in clips]
    # Nothing of this machine gets out with it.
    assert "/" not in re.sub(r"cards/|\d/\d", "", json.dumps(json.loads(written)))


@given(st.lists(st.floats(0.04, 600), min_size=1, max_size=12), st.sampled_from(RATES))
def test_lines_stand_while_their_cards_do(lengths: list[float], rate: float) -> None:
    clips = [clip(seconds, number=number) for number, seconds in enumerate(lengths, 1)]
    found = cues(write_lines(clips, rate))
    timeline = otio.adapters.read_from_string(
        write_timeline("t", clips, rate).decode(), "otio_json"
    )
    (track,) = timeline.video_tracks()
    assert len(found) == len(clips)
    for (begin, end), each in zip(found, track, strict=True):
        span = each.range_in_parent()
        # A frame of 29.97 is 1001/30000 of a second: that exactly, not 1/29.97.
        frame = 1 / Fraction(span.duration.rate).limit_denominator(1001)
        assert begin == pytest.approx(float(span.start_time.value * frame), abs=0.00051)
        assert end == pytest.approx(begin + float(span.duration.value * frame), abs=0.0011)
    assert all(one[1] == other[0] for one, other in itertools.pairwise(found))


def test_a_line_cannot_break_out_of_its_cue() -> None:
    said = "One\n\n00:00:09.000 --> 00:00:10.000\nB <b>wins</b> & A loses"
    text = write_lines([clip(3.0, said), clip(2.0, "   "), clip(2.0, "Then this.")], 25.0)
    assert text.startswith("WEBVTT\n\n")
    assert cues(text) == [(0.0, 3.0), (5.0, 7.0)], "a card with nothing to say has no cue"
    assert "One 00:00:09.000 → 00:00:10.000 B &lt;b>wins&lt;/b> &amp; A loses" in text
