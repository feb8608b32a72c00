"""Probe files: what is read of them, and what is refused."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.exchange.probe_files import MAX_BYTES, ProbeError, read_probe

VIDEO: dict[str, Any] = {
    "codec_type": "video",
    "codec_name": "hevc",
    "width": 3840,
    "height": 2160,
    "pix_fmt": "yuv420p10le",
    "avg_frame_rate": "60000/1001",
    "color_primaries": "bt709",
    "color_transfer": "bt709",
    "color_space": "unknown",
}
FORMAT: dict[str, Any] = {
    "format_name": "mov,mp4",
    "duration": "660.000000",
    "size": "4950000000",
    "bit_rate": "60000000",
}
SOUND = {"codec_type": "audio", "codec_name": "pcm_s24le"}


def probe(*streams: dict[str, Any], **more: Any) -> bytes:
    return json.dumps({"streams": streams, "format": {**FORMAT, **more}}).encode()


def test_a_video() -> None:
    facts = read_probe(probe(SOUND, VIDEO))
    assert (facts.length_s, facts.size_bytes, facts.codec) == (660.0, 4_950_000_000, "hevc")
    assert (facts.size, facts.depth, facts.bit_rate) == ("3840x2160", 10, 60.0)
    assert facts.frame_rate == pytest.approx(59.94, abs=0.01)
    assert (facts.containers, facts.colour) == (("mov", "mp4"), "bt709")


def test_sound_alone_and_numbers_that_are_no_text() -> None:
    facts = read_probe(probe(SOUND, duration=2100, size=5_000_000))
    assert (facts.length_s, facts.codec, facts.size, facts.depth) == (
        2100.0,
        "pcm_s24le",
        None,
        None,
    )


def test_the_length_may_stand_at_the_stream() -> None:
    assert read_probe(probe({**VIDEO, "duration": "12.5"}, duration=None)).length_s == 12.5


@pytest.mark.parametrize(
    ("rate", "found"), [("50/1", 50.0), ("0/0", None), ("1/0", None), ("x", None), (None, None)]
)
def test_frame_rates(rate: str | None, found: float | None) -> None:
    stream = {**VIDEO, "avg_frame_rate": rate}
    assert read_probe(probe(stream)).frame_rate == found


@pytest.mark.parametrize(
    ("pixels", "depth"), [("yuv420p", 8), ("yuv422p12le", 12), ("p010le", 10), ("gray16be", 16)]
)
def test_bit_depths(pixels: str, depth: int) -> None:
    assert read_probe(probe({**VIDEO, "pix_fmt": pixels})).depth == depth


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (b"", "not JSON"),
        (b"ffff", "not JSON"),
        (b"[]", "off at the file"),
        (b"{}", "off at streams"),
        (b'{"streams": [{}], "format": {}}', r"off at streams\.0\.codec_type"),
        (probe(), "neither a picture nor a sound"),
        (probe(VIDEO, duration="0"), "names no length"),
        (probe(VIDEO, duration="nan"), "names no length"),
        (b"[" * 200_000, "not JSON"),
        (b" " * (MAX_BYTES + 1), "2 MB at most"),
        (probe({**VIDEO, "width": "wide"}), r"streams\.0\.width"),
    ],
)
def test_what_is_no_probe_file_says_why(content: bytes, says: str) -> None:
    with pytest.raises(ProbeError, match=says):
        read_probe(content)


@given(
    st.recursive(
        st.none() | st.booleans() | st.floats() | st.text(max_size=8) | st.integers(),
        lambda inner: (
            st.lists(inner, max_size=3)
            | st.dictionaries(
                st.sampled_from(["streams", "format", "codec_type", "duration", "width", "size"]),
                inner,
            )
        ),
    )
)
def test_any_json_is_a_probe_file_or_refused(document: Any) -> None:
    try:
        facts = read_probe(json.dumps(document).encode())
    except ProbeError as error:
        assert error.reason
        return
    assert facts.length_s is not None
