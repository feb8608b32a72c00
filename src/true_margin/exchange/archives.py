"""Archives from outside: unpacked in memory, by count and size that are held to while reading."""

from __future__ import annotations

import io
import struct
import zipfile
import zlib
from collections.abc import Callable

from true_margin.core.errors import CoreError

METHODS = (zipfile.ZIP_STORED, zipfile.ZIP_DEFLATED)
"""Other methods give out any amount at once, whatever the archive says that it holds."""
_CHUNK = 1 << 16
_BROKEN = (
    zipfile.BadZipFile,
    zlib.error,
    struct.error,
    RuntimeError,
    NotImplementedError,
    OSError,
    EOFError,
    ValueError,
    OverflowError,
    IndexError,
)
"""Beside its own error the library lets through what its parts raise on places and sizes that
cannot be."""


class ArchiveError(CoreError):
    """The archive is damaged, or holds more than it may."""


def unpack(
    content: bytes, wanted: Callable[[str], str | None], *, most_files: int, most_bytes: int
) -> dict[str, bytes]:
    """Unpack a zip archive in memory; names inside are never used as paths.

    Args:
        content: of the archive.
        wanted: gives the name under which an entry is kept; None where it is left alone.
        most_files: entries that the archive may hold.
        most_bytes: of all that is unpacked, counted while it is: what an archive says of its
            own sizes is not believed.

    Raises:
        ArchiveError: no whole zip archive, packed by another method than deflate, or more
            than may be.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            entries = [entry for entry in archive.infolist() if not entry.is_dir()]
            if len(entries) > most_files:
                raise ArchiveError(f"the archive holds more than {most_files} files")
            left, files = most_bytes, {}
            for entry in entries:
                name = wanted(entry.filename)
                if name is None:
                    continue
                files[name] = _read(archive, entry, left)
                left -= len(files[name])
            return files
    except ArchiveError:
        raise
    except _BROKEN as error:
        raise ArchiveError(f"this is not a whole zip archive: {error}") from error


def _read(archive: zipfile.ZipFile, entry: zipfile.ZipInfo, most: int) -> bytes:
    if entry.compress_type not in METHODS:
        raise ArchiveError(
            f"{entry.filename[:80]} is packed by a method that is not read here; pack it anew "
            f"with the usual one (deflate)"
        )
    parts, length = [], 0
    with archive.open(entry) as file:
        while part := file.read(_CHUNK):
            length += len(part)
            if length > most:
                raise ArchiveError("the archive is too large when unpacked")
            parts.append(part)
    return b"".join(parts)
