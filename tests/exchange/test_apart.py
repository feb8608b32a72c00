"""Whatever a file does to its reader ends that reader, and nobody else."""

from __future__ import annotations

import os
import subprocess
import sys
from pathlib import Path

import psutil
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


PROGRAM = """
import os, time
from true_margin.exchange.apart import PROBE, read_apart
if __name__ == "__main__":
    print(read_apart(PROBE, os.getpid), flush=True)
    time.sleep(600)
"""


def test_a_reader_ends_with_whoever_began_it(tmp_path: Path) -> None:
    """Also where that was killed, and had no moment to end anything."""
    file = tmp_path / "begins.py"
    file.write_text(PROGRAM)
    with subprocess.Popen([sys.executable, str(file)], stdout=subprocess.PIPE, text=True) as begun:
        assert begun.stdout is not None
        reader = psutil.Process(int(begun.stdout.readline()))
        assert reader.is_running()
        begun.kill()
        begun.wait()
    reader.wait(30)
    assert not reader.is_running()
