"""Whether a film was written to its end, by the boxes that it is made of (ISO/IEC 14496-12)."""

from __future__ import annotations

import struct
from pathlib import Path

_HEAD = 8
_INDEX = b"moov"
MOST_BOXES = 1000


def is_cut_off(path: Path) -> bool:
    """Whether a file is of this kind and misses its index, or ends inside a box.

    A file of another kind, or one that cannot be read, is not said to be.
    """
    try:
        size = path.stat().st_size
        with path.open("rb") as file:
            kinds, at = set(), 0
            for _ in range(MOST_BOXES):
                file.seek(at)
                head = file.read(_HEAD)
                if len(head) < _HEAD:
                    break
                length, kind = struct.unpack(">I4s", head)
                if at == 0 and kind != b"ftyp":
                    return False
                kinds.add(kind)
                if length == 1:
                    long = file.read(_HEAD)
                    length = struct.unpack(">Q", long)[0] if len(long) == _HEAD else 0
                elif length == 0:
                    length = size - at
                if length < _HEAD:
                    return True
                at += length
    except OSError:
        return False
    return b"ftyp" in kinds and (_INDEX not in kinds or at > size)
