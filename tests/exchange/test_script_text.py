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


ROLLING = """WEBVTT

00:00:01.000 --> 00:00:03.000
<v Ann>the Tower beats<00:00:02.000><c> the Slim</c>

00:00:03.000 --> 00:00:05.000
the Tower beats the Slim
in every task

00:00:06.500 --> 00:00:08.000
in every task
the Quill is &gt; fine
"""


def test_captions_that_roll_up_say_each_line_once_and_end_at_pauses() -> None:
    assert lines(ROLLING) == [
        (4, "the Tower beats the Slim in every task."),
        (12, "the Quill is > fine."),
    ]


def test_captions_with_stops_keep_them() -> None:
    text = (
        "1\n00:00:01,000 --> 00:00:02,000\nThe Tower wins.\n\n"
        "2\n00:00:09,000 --> 00:00:10,000\nThe Slim is\n\n"
        "3\n00:00:19,000 --> 00:00:20,000\nslower.\n"
    )
    assert [said for _, said in lines(text)] == ["The Tower wins.", "The Slim is slower."]


def test_who_speaks_is_left_out() -> None:
    text = (
        "ANN: The Tower wins.\r\nBO: No.\r\nANN: Yes.\r\n&gt;&gt; BO: Fine.\r\n"
        "UHD: ten minutes.\r\n"
    )
    # A name that stands once may be anything: here it is a task.
    assert [said for _, said in lines(text)] == [
        "The Tower wins.",
        "No.",
        "Yes.",
        "Fine.",
        "UHD: ten minutes.",
    ]


def test_marks_that_nobody_sees_change_nothing() -> None:
    assert lines("\ufeff\u200fThe Tower\u200b wins.") == [(1, "The Tower wins.")]
