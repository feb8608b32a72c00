"""Readers that ask for too much, each in its own way."""

from __future__ import annotations

import os
import time

from true_margin.core.errors import CoreError


def hang(_content: bytes) -> bytes:
    """Never answer."""
    while True:
        time.sleep(0.01)


def grow(_content: bytes) -> bytes:
    """Ask for all the memory there is."""
    kept = []
    while True:
        kept.append(bytearray(20_000_000))


def crash(_content: bytes) -> bytes:
    """End without a word."""
    os._exit(11)


def stumble(_content: bytes) -> bytes:
    """Fail in a way that nobody thought of."""
    raise KeyError("tracks")


def refuse(content: bytes) -> bytes:
    """Say what is wrong."""
    raise CoreError(f"line {len(content)} is off")


def give(content: bytes) -> bytes:
    """Read what is there."""
    return content[::-1]


def whole(size: int) -> int:
    """Hold so much memory at once, which is allowed."""
    return len(bytearray(size))
