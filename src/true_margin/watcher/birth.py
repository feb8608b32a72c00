"""When a file was made, as the system tells it."""

from __future__ import annotations

import ctypes
import os
import struct
from functools import lru_cache
from typing import Any

_AT_FDCWD = -100
_BTIME = 0x800
"""``STATX_BTIME``: the only field that is asked for; see statx(2)."""
_SIZE = 256
_MASK, _BORN = "=I", "=qI"
_BORN_AT = 80


def born_at(path: str, state: os.stat_result) -> float | None:
    """When a file was made, in seconds since 1970; None where that cannot be told.

    Args:
        path: of the file.
        state: what ``stat`` said of it.
    """
    told = getattr(state, "st_birthtime", None)
    if told is not None:
        return float(told)
    ask = _statx()
    if ask is None:
        return None
    answer = ctypes.create_string_buffer(_SIZE)
    if ask(_AT_FDCWD, os.fsencode(path), 0, _BTIME, answer) != 0:
        return None
    (mask,) = struct.unpack_from(_MASK, answer.raw, 0)
    if not mask & _BTIME:
        return None
    seconds, nanos = struct.unpack_from(_BORN, answer.raw, _BORN_AT)
    return float(seconds + nanos / 1e9)


@lru_cache(maxsize=1)
def _statx() -> Any:
    """The system's call, where its library has it; Python has none before 3.12."""
    try:
        return ctypes.CDLL(None, use_errno=True).statx
    except (AttributeError, OSError):
        return None
