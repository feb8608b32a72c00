"""Archives that lie: what they unpack to is counted, and only the usual methods are read."""

from __future__ import annotations

import io
import struct
import zipfile

import pytest

from true_margin.exchange.archives import ArchiveError, unpack


def zipped(content: bytes, method: int = zipfile.ZIP_DEFLATED, copies: int = 1) -> bytes:
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", method) as archive:
        for place in range(copies):
            archive.writestr(f"{place}.csv", content)
    return buffer.getvalue()


def declared(archive: bytes, size: int) -> bytes:
    """The archive with another size in its directory and in the head of its only file."""
    at = archive.index(b"PK\x01\x02")
    changed = bytearray(archive)
    changed[at + 24 : at + 28] = struct.pack("<I", size)
    changed[22:26] = struct.pack("<I", size)
    return bytes(changed)


def all_of(name: str) -> str:
    return name


def test_what_is_wanted_is_unpacked_under_its_name() -> None:
    files = unpack(
        zipped(b"x" * 10, copies=3),
        lambda n: None if n == "1.csv" else f"my-{n}",
        most_files=9,
        most_bytes=99,
    )
    assert files == {"my-0.csv": b"x" * 10, "my-2.csv": b"x" * 10}


@pytest.mark.parametrize("method", [zipfile.ZIP_BZIP2, zipfile.ZIP_LZMA])
def test_other_methods_are_refused_before_anything_is_unpacked(method: int) -> None:
    bomb = declared(zipped(b"0" * 50_000_000, method), 100)
    assert len(bomb) < 20_000
    with pytest.raises(ArchiveError, match="pack it anew"):
        unpack(bomb, all_of, most_files=9, most_bytes=1000)


@pytest.mark.parametrize("said", [100, 2**31])
def test_a_size_that_an_archive_declares_is_not_believed(said: int) -> None:
    bomb = declared(zipped(b"0" * 5_000_000), said)
    with pytest.raises(ArchiveError):
        unpack(bomb, all_of, most_files=9, most_bytes=1_000_000)


def test_the_limit_is_for_all_files_together() -> None:
    archive = zipped(b"0" * 400_000, copies=3)
    assert len(unpack(archive, all_of, most_files=3, most_bytes=1_200_000)) == 3
    with pytest.raises(ArchiveError, match="too large when unpacked"):
        unpack(archive, all_of, most_files=3, most_bytes=1_199_999)
    with pytest.raises(ArchiveError, match="more than 2 files"):
        unpack(archive, all_of, most_files=2, most_bytes=1_200_000)
