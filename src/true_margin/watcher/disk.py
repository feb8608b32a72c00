"""Looks at a folder: which files there are, how large, when they changed, who holds them."""

from __future__ import annotations

import math
import os
import shutil
import stat
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from true_margin.core.file_seen import FileSeen
from true_margin.watcher.birth import born_at

PROCESSES = Path("/proc")


class Clock:
    """One clock that never jumps, and the disk's times put on it."""

    def now(self) -> float:
        """Now, in seconds; a machine that sleeps goes on counting where the system can."""
        return _seconds()

    def of_disk(self, wall_s: float) -> float:
        """A time of the file system by this clock."""
        # Asked each time: a clock that is set meanwhile moves what lies before it, too.
        return wall_s - (time.time() - _seconds())

    def to_wall(self, at_s: float) -> float:
        """A time of this clock in seconds since 1970."""
        return at_s + (time.time() - _seconds())


def _seconds() -> float:
    boot = getattr(time, "CLOCK_BOOTTIME", None)
    return time.monotonic() if boot is None else time.clock_gettime(boot)


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
        path = folder / entry.name
        seen = _see(path, clock)
        if seen is None:
            continue
        last = before.get(entry.name)
        if last is not None and last.state == seen.state:
            held = is_open(path)
            # Whoever wrote once more and let go while it was asked who holds it has changed it.
            again = _see(path, clock)
            if again is None:
                continue
            seen = replace(again, open=held if seen.state == again.state else None)
        found.append(seen)
    return found


def _see(path: Path, clock: Clock) -> FileSeen | None:
    """A file as it stands now; None where it has gone."""
    try:
        state = path.lstat()
    except OSError:
        return None
    if not stat.S_ISREG(state.st_mode):
        return None
    born = born_at(str(path), state)
    # The change time moves with a new name too, the modification time does not. A number of a
    # file that has gone is given to the next one, which was made later.
    made = "" if born is None else f"{born:.6f}"
    return FileSeen(
        path.name,
        state.st_size,
        clock.of_disk(state.st_ctime),
        None,
        clock.of_disk(state.st_mtime),
        None if born is None else clock.of_disk(born),
        f"{state.st_ino}:{made}" if state.st_ino else path.name,
        (state.st_ctime_ns, state.st_mtime_ns),
    )


def free_bytes(folder: Path) -> float:
    """Room that is left on the disk of a folder; infinite where that cannot be told."""
    try:
        return float(shutil.disk_usage(folder).free)
    except OSError:
        return math.inf


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
