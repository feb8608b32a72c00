"""Looks at a folder: which files there are, how large, when they changed, who holds them."""

from __future__ import annotations

import os
import time
from collections.abc import Iterator
from pathlib import Path

from true_margin.core.file_watch import FileSeen

PROCESSES = Path("/proc")


class Clock:
    """One monotonic clock, and the disk's times put on it."""

    def __init__(self) -> None:
        self._offset = time.time() - time.monotonic()

    def now(self) -> float:
        """Now, in seconds."""
        return time.monotonic()

    def of_disk(self, wall_s: float) -> float:
        """A time of the file system by this clock."""
        return wall_s - self._offset


def look_at(folder: Path, clock: Clock, before: dict[str, FileSeen]) -> list[FileSeen]:
    """Look at the files of a folder.

    Args:
        folder: where the export writes.
        clock: that the answer is told by.
        before: the last look, by name; only a file that is as it was then is asked for
            who holds it open, because that takes a while.
    """
    found = []
    for entry in _entries(folder):
        try:
            state = entry.stat()
        except OSError:
            continue
        # The change time moves with a rename too, the modification time does not.
        changed = clock.of_disk(state.st_ctime)
        last = before.get(entry.name)
        same = last is not None and (last.size, last.changed_s) == (state.st_size, changed)
        held = is_open(folder / entry.name) if same else None
        found.append(FileSeen(entry.name, state.st_size, changed, held))
    return found


def _entries(folder: Path) -> Iterator[os.DirEntry[str]]:
    try:
        with os.scandir(folder) as entries:
            yield from (entry for entry in entries if entry.is_file(follow_symlinks=False))
    except FileNotFoundError:
        return


def is_open(path: Path) -> bool | None:
    """Say whether a program holds a file open; None where the system does not tell."""
    if not PROCESSES.is_dir():
        return None
    wanted = str(path.resolve())
    blind = False
    for process in PROCESSES.iterdir():
        if not process.name.isdigit() or int(process.name) == os.getpid():
            continue
        try:
            links = list((process / "fd").iterdir())
        except PermissionError:
            blind = True
            continue
        except OSError:
            continue
        if any(_target(link) == wanted for link in links):
            return True
    return None if blind else False


def _target(link: Path) -> str | None:
    try:
        return os.readlink(link)  # noqa: PTH115 - a string is compared, thousands of times
    except OSError:
        return None
