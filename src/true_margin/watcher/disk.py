"""Looks at a folder: which files there are, how large, when they changed, who holds them."""

from __future__ import annotations

import ctypes
import math
import os
import shutil
import stat
import subprocess
import sys
import time
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path

from true_margin.core.file_seen import FileSeen
from true_margin.watcher.birth import born_at

PROCESSES = Path("/proc")
NO_CHANGE_TIME = sys.platform == "win32"
"""Whether the system keeps no time that moves with a new name."""


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
    # Of the clocks that never jump, the one that goes on while the machine sleeps.
    name = "CLOCK_MONOTONIC" if sys.platform == "darwin" else "CLOCK_BOOTTIME"
    clock = getattr(time, name, None)
    return time.monotonic() if clock is None else time.clock_gettime(clock)


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
    changed_ns = state.st_ctime_ns
    if NO_CHANGE_TIME:
        # Where others keep when a file changed, this system keeps when it was made.
        born, changed_ns = state.st_ctime if born is None else born, state.st_mtime_ns
    # The change time moves with a new name too, the modification time does not. A number of a
    # file that has gone is given to the next one, which was made later.
    made = "" if born is None else f"{born:.6f}"
    return FileSeen(
        path.name,
        state.st_size,
        clock.of_disk(changed_ns / 1e9),
        None,
        clock.of_disk(state.st_mtime),
        None if born is None else clock.of_disk(born),
        f"{state.st_ino}:{made}" if state.st_ino else path.name,
        (changed_ns, state.st_mtime_ns),
        names_told=not NO_CHANGE_TIME,
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
    if sys.platform == "win32":
        return _asked_of_windows(path)
    return _held_by_process(path) if PROCESSES.is_dir() else _listed_open(path)


def _held_by_process(path: Path) -> bool | None:
    """By the links of every process to what it holds."""
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


def _listed_open(path: Path) -> bool | None:
    """By the system's list of open files, which knows of this person's programs alone: one that
    is not listed may be held by somebody else's."""
    try:
        asked = ["lsof", "-F", "p", "--", str(path)]
        done = subprocess.run(asked, capture_output=True, timeout=5, check=False, text=True)
    except (OSError, subprocess.SubprocessError):
        return None
    holders = {line[1:] for line in done.stdout.splitlines() if line.startswith("p")}
    return True if holders - {str(os.getpid())} else None


class _Holders(ctypes.Structure):
    """``FILE_PROCESS_IDS_USING_FILE_INFORMATION``, with room for a few."""

    _fields_ = (("many", ctypes.c_ulong), ("ids", ctypes.c_void_p * 63))


_ATTRIBUTES, _SHARE_ALL, _EXISTING, _WHO_HOLDS_IT = 0x80, 7, 3, 47


def _asked_of_windows(path: Path) -> bool | None:
    """By asking whose handles there are, with one that stands in nobody's way."""
    windows = ctypes.windll  # type: ignore[attr-defined]
    create = windows.kernel32.CreateFileW
    create.restype = ctypes.c_void_p
    handle = create(str(path), _ATTRIBUTES, _SHARE_ALL, None, _EXISTING, 0, None)
    if handle in (None, ctypes.c_void_p(-1).value):
        return None
    try:
        told, status = _Holders(), (ctypes.c_void_p * 2)()
        failed = windows.ntdll.NtQueryInformationFile(
            ctypes.c_void_p(handle),
            ctypes.byref(status),
            ctypes.byref(told),
            ctypes.sizeof(told),
            _WHO_HOLDS_IT,
        )
    finally:
        windows.kernel32.CloseHandle(ctypes.c_void_p(handle))
    if failed:
        return None
    return any(each != os.getpid() for each in told.ids[: told.many])


def _target(link: Path) -> str | None:
    try:
        return os.readlink(link)  # noqa: PTH115 - a string is compared, thousands of times
    except OSError:
        return None
