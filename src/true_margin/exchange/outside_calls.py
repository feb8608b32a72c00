"""Asking services outside: few at a time, for a limited time in all, for a limited answer."""

from __future__ import annotations

import threading
import time
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import httpx2

AT_ONCE = 4
"""A service that dawdles keeps so many waiting, and nobody who asks for anything else."""
CALLS = threading.BoundedSemaphore(AT_ONCE)


class OutsideCallError(Exception):
    """There was no answer; ``late`` where the time was up."""

    def __init__(self, reason: str, *, late: bool = False) -> None:
        super().__init__(reason)
        self.late = late


@dataclass(frozen=True, slots=True)
class Answer:
    """What a service answered; ``content`` None where it was more than asked for."""

    status: int
    content: bytes | None


def ask(
    address: str,
    *,
    within_s: float,
    most_bytes: int,
    params: Mapping[str, str | Sequence[str]] | None = None,
) -> Answer:
    """Ask a service.

    Args:
        address: of what is asked for.
        within_s: for the whole of it, waiting for one's turn included.
        most_bytes: of the answer; more is not read.
        params: of the query.

    Raises:
        OutsideCallError: it cannot be reached, or not in this time.
    """
    ends = time.monotonic() + within_s
    if not CALLS.acquire(timeout=within_s):
        raise OutsideCallError("too many wait for services outside", late=True)
    try:
        left = max(ends - time.monotonic(), 0.001)
        with httpx2.stream("GET", address, params=params, timeout=left) as answer:
            parts, length = [], 0
            for part in answer.iter_bytes():
                length += len(part)
                if length > most_bytes:
                    return Answer(answer.status_code, None)
                # Each byte may come in time, and all of them never.
                if time.monotonic() > ends:
                    raise OutsideCallError("the answer does not end", late=True)
                parts.append(part)
            return Answer(answer.status_code, b"".join(parts))
    except httpx2.TimeoutException as error:
        raise OutsideCallError("no answer in time", late=True) from error
    except (httpx2.HTTPError, httpx2.InvalidURL) as error:
        raise OutsideCallError("cannot be reached") from error
    finally:
        CALLS.release()
