"""Films that were cut off are known by their boxes; other files are let be."""

from __future__ import annotations

import struct
from pathlib import Path

import pytest

from true_margin.watcher.whole import is_cut_off


def _box(kind: bytes, content: bytes = b"", *, said: int | None = None) -> bytes:
    return struct.pack(">I4s", len(content) + 8 if said is None else said, kind) + content


def _long(kind: bytes, content: bytes) -> bytes:
    return struct.pack(">I4sQ", 1, kind, len(content) + 16) + content


HEAD = _box(b"ftyp", b"isom")
WHOLE = HEAD + _box(b"mdat", b"x" * 90) + _box(b"moov", b"y" * 30)


@pytest.mark.parametrize(
    ("content", "cut"),
    [
        (WHOLE, False),
        (HEAD + _box(b"moov", b"y") + _box(b"mdat", b"x" * 9), False),
        (HEAD + _long(b"mdat", b"x" * 90) + _box(b"moov"), False),
        (HEAD + _box(b"moov", b"y") + _box(b"mdat", b"x" * 9, said=0), False),
        (HEAD + _box(b"mdat", b"x" * 90), True),
        (WHOLE[:-10], True),
        (HEAD + _long(b"mdat", b"x" * 90)[:60], True),
        (HEAD + _box(b"mdat", b"x" * 9, said=3), True),
        (HEAD, True),
        (b"no film at all", False),
        (b"", False),
        (b"\x00\x00", False),
    ],
)
def test_a_film_that_was_cut_off_is_known(tmp_path: Path, content: bytes, cut: bool) -> None:
    file = tmp_path / "film.mp4"
    file.write_bytes(content)
    assert is_cut_off(file) is cut


def test_a_file_that_cannot_be_read_is_not_said_to_be_cut_off(tmp_path: Path) -> None:
    assert not is_cut_off(tmp_path / "none.mp4")
