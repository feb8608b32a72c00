"""What reading a damaged archive can raise, all of it."""

from __future__ import annotations

import struct
import zipfile
import zlib

BROKEN_ARCHIVE = (
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
