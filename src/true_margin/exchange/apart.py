"""Reading files from outside in a process of its own, which has little memory and little time.

A file can crash its reader, hang it, or make it ask for all the memory there is. Here that
ends a process that does nothing else, and whoever brought the file is told.
"""

from __future__ import annotations

import os
import resource
import threading
import time
from collections.abc import Callable
from concurrent.futures import TimeoutError as LateError
from dataclasses import dataclass
from multiprocessing import get_context
from pathlib import Path
from typing import ParamSpec, TypeVar

from pebble import ProcessExpired, ProcessPool

from true_margin.core.errors import CoreError
from true_margin.exchange import data_pack, probe_files, sent_result, timeline_files

P = ParamSpec("P")
R = TypeVar("R")

READERS = 2
"""Files that are read at the same time; others wait for their turn."""
MOST_READ = 200
"""A reader is replaced after so many files, so that nothing gathers in it."""
ROOM_BYTES = 450_000_000
"""Memory that a reader may take beyond what it has before it reads anything."""


@dataclass(frozen=True, slots=True)
class Kind:
    """A kind of file: how it is called, and how long the largest one may take, in seconds."""

    name: str
    most_s: float


PACK = Kind("pack", 120.0)
TIMELINE = Kind("timeline", 60.0)
PROBE = Kind("probe file", 10.0)
BODY = Kind("request", 20.0)
RESULT = Kind("result file", 20.0)


LOOK_S = 1.0
LOADED = (data_pack, probe_files, sent_result, timeline_files)
"""What reads: a process has it before its memory is limited, and needs no more for it."""


class ApartError(CoreError):
    """The file cannot be read with the memory and in the time that there are, or crashes."""


class _Readers:
    """The processes, begun when the first file comes."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._pool: ProcessPool | None = None

    def pool(self) -> ProcessPool:
        with self._lock:
            if self._pool is None or not self._pool.active:
                self._pool = ProcessPool(
                    max_workers=READERS,
                    max_tasks=MOST_READ,
                    initializer=_hold_in,
                    context=get_context("spawn"),
                )
            return self._pool

    def close(self) -> None:
        with self._lock:
            if self._pool is not None:
                self._pool.stop()  # type: ignore[no-untyped-call]
                self._pool.join()
                self._pool = None


_READERS = _Readers()


def read_apart(kind: Kind, read: Callable[P, R], *args: P.args, **more: P.kwargs) -> R:
    """Read a file in a process of its own.

    Args:
        kind: of file.
        read: a function of a module, which refuses with a ``CoreError`` of one reason; what it
            is given and what it gives travel between processes.
        args, more: what it is given.

    Raises:
        CoreError: as ``read`` raises it.
        ApartError: it took too long or too much memory, or crashed.
    """
    future = _READERS.pool().schedule(read, args=args, kwargs=more, timeout=kind.most_s)
    try:
        answer: R = future.result()
    except CoreError:
        raise
    except LateError as error:
        raise ApartError(
            f"Reading this {kind.name} takes more than {kind.most_s:.0f} s, so it was given up. "
            f"Nothing was stored."
        ) from error
    except (MemoryError, ProcessExpired) as error:
        raise ApartError(
            f"This {kind.name} is damaged, or larger than can be read here: reading it took more "
            f"memory than there is for it, or crashed. Nothing was stored."
        ) from error
    except Exception as error:
        raise ApartError(
            f"This {kind.name} cannot be read ({type(error).__name__}: {str(error)[:200]}). "
            f"Nothing was stored."
        ) from error
    return answer


def close_readers() -> None:
    """End the processes; the next file starts others."""
    _READERS.close()


def _hold_in() -> None:
    """Limit the memory of this process, beyond what it has once the readers are loaded."""
    threading.Thread(target=_end_with, args=(os.getppid(),), daemon=True).start()
    pages = int(Path("/proc/self/statm").read_text().split()[0])
    most = pages * resource.getpagesize() + ROOM_BYTES
    resource.setrlimit(resource.RLIMIT_AS, (most, most))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))


def _end_with(parent: int) -> None:
    """End this process once the one that began it is gone, however that ended."""
    while os.getppid() == parent:
        time.sleep(LOOK_S)
    os._exit(0)
