"""Whatever a file does to its reader ends that reader, and nobody else."""

from __future__ import annotations

import os

import pytest

from tests.exchange import greedy
from true_margin.core.errors import CoreError
from true_margin.exchange.apart import PROBE, ROOM_BYTES, ApartError, Kind, read_apart

SOON = Kind("file", 0.5)


@pytest.mark.parametrize(
    ("read", "said"),
    [
        (greedy.hang, "more than 0 s|more than 1 s"),
        (greedy.grow, "more memory than there is for it"),
        (greedy.crash, "or crashed"),
        (greedy.stumble, "cannot be read .KeyError: 'tracks'"),
    ],
)
def test_what_asks_for_too_much_is_given_up_with_a_reason(read: object, said: str) -> None:
    kind = SOON if read is greedy.hang else PROBE
    with pytest.raises(ApartError, match=said):
        read_apart(kind, read, b"abc")  # type: ignore[arg-type]
    assert read_apart(PROBE, greedy.give, b"abc") == b"cba", "the next file is read"


def test_a_refusal_comes_back_as_it_was_said() -> None:
    with pytest.raises(CoreError, match="line 3 is off") as caught:
        read_apart(PROBE, greedy.refuse, b"abc")
    assert not isinstance(caught.value, ApartError)


def test_files_are_read_in_another_process_with_the_memory_that_is_left_to_it() -> None:
    assert read_apart(PROBE, os.getpid) != os.getpid()
    assert read_apart(PROBE, greedy.whole, ROOM_BYTES // 2) == ROOM_BYTES // 2
    with pytest.raises(ApartError, match="memory"):
        read_apart(PROBE, greedy.whole, 2 * ROOM_BYTES)
