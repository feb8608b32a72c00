"""Export settings as they are typed and read, and outputs held against them."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.errors import QuantityError
from true_margin.core.outputs import OutputFacts, Part, is_another_clip, judge_output
from true_margin.core.task_rows import PRESETS, SETTINGS, read_settings, settings_line

GOOD = OutputFacts(
    length_s=360.0,
    size_bytes=540_000_000,
    containers=("mov", "mp4"),
    codec="h264",
    size="1080x1920",
    frame_rate=25.0,
    depth=8,
    bit_rate=12.0,
    colour="bt709",
)
WANTED = {
    "codec": "H.264",
    "container": "mp4",
    "size": "1080x1920",
    "frame_rate": 25.0,
    "depth": 8,
    "colour": "BT.709",
}


def wrong(facts: OutputFacts, *others: OutputFacts, length_s: float | None = 360.0) -> set[Part]:
    return {part.part for part in judge_output(facts, WANTED, length_s, others) if not part.ok}


def changed(**fields: object) -> OutputFacts:
    values = {name: getattr(GOOD, name) for name in GOOD.__dataclass_fields__}
    return OutputFacts(**{**values, **fields})


def test_settings_are_typed_kept_in_their_order_and_taken_back() -> None:
    settings = read_settings({}, {"bit_rate": "60 Mbit/s", "size": "3840 × 2160", "codec": "HEVC"})
    assert list(settings.items()) == [("codec", "HEVC"), ("size", "3840x2160"), ("bit_rate", 60.0)]
    assert read_settings(settings, {"size": None, "codec": ""}) == {"bit_rate": 60.0}


@pytest.mark.parametrize(
    ("field", "text", "says"),
    [
        ("size", "wide", "no picture size"),
        ("size", "1920", "no picture size"),
        ("frame_rate", "fast", "not a number"),
        ("frame_rate", "0", "more than 0"),
        ("passes", "0", "at least 1"),
        ("encoder", "magic", "none of: hardware, software"),
        ("wings", "2", "no such export setting"),
    ],
)
def test_settings_that_cannot_be_say_which(field: str, text: str, says: str) -> None:
    with pytest.raises(QuantityError, match=says):
        read_settings({}, {field: text})


@pytest.mark.parametrize(
    ("settings", "line"),
    [
        ({}, ""),
        ({"codec": "HEVC"}, "HEVC"),
        ({"frame_rate": 29.97}, "29.97 frames/s"),
        ({"passes": 1, "encoder": "software"}, "1 pass, software encoder"),
        ({"rate_control": "constant quality", "passes": 2}, "constant quality, 2 passes"),
        ({"container": "mov", "other": "with alpha"}, "mov, with alpha"),
    ],
)
def test_settings_in_one_line(settings: dict[str, object], line: str) -> None:
    assert settings_line(settings) == line


@pytest.mark.parametrize("name", PRESETS)
def test_our_presets_can_be_stored(name: str) -> None:
    settings = read_settings({}, PRESETS[name])
    assert set(settings) == set(PRESETS[name])
    assert settings_line(settings)


@given(st.dictionaries(st.sampled_from([s.field for s in SETTINGS]), st.text(max_size=30)))
def test_any_settings_are_read_or_refused_and_read_the_same_again(typed: dict[str, str]) -> None:
    try:
        settings = read_settings({}, typed)
    except QuantityError as error:
        assert error.reason
        return
    assert read_settings(settings, {}) == settings


def test_an_output_as_wanted() -> None:
    assert wrong(GOOD, GOOD, GOOD) == set()
    assert len(judge_output(GOOD, WANTED, 360.0, [GOOD])) == len(Part)


@pytest.mark.parametrize(
    ("facts", "part"),
    [
        (changed(length_s=360.0 + 1 / 24), Part.LENGTH),
        (changed(size_bytes=500_000_000), Part.FILE_SIZE),
        (changed(containers=("matroska", "webm")), Part.CONTAINER),
        (changed(codec="hevc"), Part.CODEC),
        (changed(size="720x1280"), Part.SIZE),
        (changed(frame_rate=24.0), Part.FRAME_RATE),
        (changed(depth=10), Part.DEPTH),
        (changed(colour="bt2020 smpte2084"), Part.COLOUR),
    ],
)
def test_an_output_that_is_off_names_its_part(facts: OutputFacts, part: Part) -> None:
    assert wrong(facts, GOOD, GOOD) == {part}


@pytest.mark.parametrize(
    "facts",
    [
        changed(length_s=360.0 + 1 / 25),
        changed(size_bytes=560_000_000),
        changed(codec="avc1"),
        changed(frame_rate=25.04),
    ],
)
def test_what_is_within_tolerance_is_the_same(facts: OutputFacts) -> None:
    assert wrong(facts, GOOD, GOOD) == set()


def test_what_nobody_says_is_no_difference() -> None:
    assert judge_output(OutputFacts(), WANTED, 360.0) == ()
    assert judge_output(GOOD, {}, None) == ()
    # Without a word in the task, colour is held against what most of the others have.
    others = [changed(colour="bt601"), changed(colour="bt601"), GOOD]
    (colour,) = (p for p in judge_output(GOOD, {}, None, others) if p.part is Part.COLOUR)
    assert (colour.wanted, colour.ok) == ("bt601", False)


@pytest.mark.parametrize(
    ("length_s", "timeline_s", "another"),
    [
        (360.0, 360.0, False),
        (343.0, 360.0, False),
        (341.0, 360.0, True),
        (90.0, 360.0, True),
        (90.0, None, False),
        (None, 360.0, False),
    ],
)
def test_the_length_of_another_clip(
    length_s: float | None, timeline_s: float | None, another: bool
) -> None:
    assert is_another_clip(changed(length_s=length_s), timeline_s) is another
