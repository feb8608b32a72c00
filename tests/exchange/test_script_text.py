"""Scripts, articles and subtitles as sentences."""

from __future__ import annotations

import pytest

from true_margin.exchange.script_text import MOST_SIGNS, ScriptError, read_script


def lines(text: str) -> list[tuple[int, str]]:
    return [(line.number, line.text) for line in read_script(text)]


def test_sentences_of_a_script_keep_their_line() -> None:
    text = "Hello.\n\nA is faster than B. It takes 1.5 minutes less! Really?\nC, at 2.5 GHz"
    assert lines(text) == [
        (1, "Hello."),
        (3, "A is faster than B."),
        (3, "It takes 1.5 minutes less!"),
        (3, "Really?"),
        (4, "C, at 2.5 GHz"),
    ]


def test_subtitles_are_read_without_their_times() -> None:
    srt = (
        "1\r\n00:00:01,000 --> 00:00:03,500\r\n<i>Halyard L is faster</i>\r\n\r\n"
        "2\r\n00:00:03,500 --> 00:00:05,000\r\nthan Tarn Desk. And now\r\n\r\n"
        "3\r\n00:00:05,000 --> 00:00:06,000\r\nthe stills\r\n"
    )
    assert lines(srt) == [(3, "Halyard L is faster than Tarn Desk."), (7, "And now the stills")]
    vtt = "WEBVTT\n\nNOTE by hand\n\n00:01.000 --> 00:02.000 align:left\nA beats B.\n"
    assert lines(vtt) == [(6, "A beats B.")]


def test_a_script_that_is_too_long_is_refused() -> None:
    with pytest.raises(ScriptError, match="200000 are the most"):
        read_script("x" * (MOST_SIGNS + 1))
    assert lines("") == []
