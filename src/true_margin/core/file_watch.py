"""When an export began and ended, by looks at the file that it writes.

The rules are stated here and know no disk: each look says which files there are, how
large, and when they last changed, in seconds of one clock.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

QUIET_LOOKS = 5
"""A file that did not change over so many looks has stopped growing."""
LEAST_QUIET_S = 2.0
WHOLE = 0.9
"""A file smaller than this part of its expected size is not whole."""
MARK_STEP = 0.02


class Happened(StrEnum):
    """What a look showed."""

    STARTED = "started"
    MARK = "mark"
    STOPPED = "stopped"
    FAILED = "failed"


@dataclass(frozen=True, slots=True)
class FileSeen:
    """A file at one look.

    Attributes:
        name: of the file, without its folder.
        size: in bytes.
        changed_s: when it or its name last changed, by the looks' clock.
        open: whether a program holds it open; None where that cannot be told.
    """

    name: str
    size: int
    changed_s: float
    open: bool | None = None


@dataclass(frozen=True, slots=True)
class WatchEvent:
    """Something that happened, by the looks' clock; ``fraction`` of the expected size."""

    kind: Happened
    at_s: float
    fraction: float | None = None
    reason: str | None = None


class FileWatch:
    """Follows the files of one export.

    Rules:
        *Start*: the first byte of a file that was not there, or not so, when the watch was
        armed; it lies between two looks and is put in their middle, or before the file's
        last change where that is earlier. Or a person's key starts it, before any byte.
        *End*: the last change (a rename included) of a file with the wanted name, once it
        has not changed over five looks and two seconds, nobody holds it open, and no other
        file beside it is still changing.
        *Failed*: nothing with the wanted name although all is quiet and closed for as long
        as ``give_up_s``; or a whole file was expected to be larger; or the file is gone.
        Both ends are therefore off by less than the time between two looks.
    """

    def __init__(
        self,
        wanted: Callable[[str], bool],
        poll_s: float,
        *,
        expected_bytes: int | None = None,
        give_up_s: float = 60.0,
    ) -> None:
        """Arm a watch.

        Args:
            wanted: says whether a name is that of the finished export.
            poll_s: time between two looks, more than 0.
            expected_bytes: size of the finished file, for marks.
            give_up_s: quiet time after which an export without its file has failed.
        """
        self._wanted = wanted
        self._quiet_s = max(LEAST_QUIET_S, QUIET_LOOKS * poll_s)
        self._expected = expected_bytes
        self._give_up_s = max(give_up_s, self._quiet_s)
        self._before: dict[str, FileSeen] | None = None
        self._last: dict[str, FileSeen] = {}
        self._last_at = 0.0
        self._change_at = 0.0
        self._change_from = 0.0
        self._marked = 0.0
        self._written = False
        self.started_s: float | None = None
        self.done = False

    def arm(self, files: list[FileSeen]) -> None:
        """Take what is there as being there before, while a person's key is waited for."""
        self._before = {file.name: file for file in files}
        self._last = self._before

    def begin(self, at_s: float) -> WatchEvent:
        """Start by a person's key, before the first byte is there."""
        self.started_s = at_s
        self._change_from = self._change_at = at_s
        return WatchEvent(Happened.STARTED, at_s)

    def observe(self, at_s: float, files: list[FileSeen]) -> list[WatchEvent]:
        """Take in a look; gives what happened since the last one."""
        now = {file.name: file for file in files}
        if self._before is None:
            self._before, self._last, self._last_at = now, now, at_s
            return []
        if self.done:
            return []
        own = {
            name: file
            for name, file in now.items()
            if self._before.get(name) != file and (file.size > 0 or self.started_s is not None)
        }
        events = []
        self._written = self._written or bool(own)
        if self.started_s is None and own:
            events.append(self._start(at_s, own))
        if self.started_s is not None:
            self._note_change(at_s, own)
            events += self._mark(at_s, own)
            events += self._end(at_s, own)
        self._last, self._last_at = now, at_s
        return events

    def _start(self, at_s: float, files: dict[str, FileSeen]) -> WatchEvent:
        first_change = min(file.changed_s for file in files.values())
        latest = min(at_s, max(first_change, self._last_at))
        self.started_s = (self._last_at + latest) / 2
        self._change_from, self._change_at = self._last_at, at_s
        return WatchEvent(Happened.STARTED, self.started_s)

    def _note_change(self, at_s: float, files: dict[str, FileSeen]) -> None:
        seen = {name: (file.size, file.changed_s) for name, file in files.items()}
        known = {
            name: (file.size, file.changed_s)
            for name, file in self._last.items()
            if self._before is None or self._before.get(name) != file
        }
        if seen != known:
            self._change_from, self._change_at = self._last_at, at_s

    def _mark(self, at_s: float, files: dict[str, FileSeen]) -> list[WatchEvent]:
        if self._expected is None or not files or at_s != self._change_at:
            return []
        fraction = min(1.0, max(file.size for file in files.values()) / self._expected)
        if fraction - self._marked < MARK_STEP or fraction >= 1.0:
            return []
        self._marked = fraction
        return [WatchEvent(Happened.MARK, at_s, fraction)]

    def _end(self, at_s: float, files: dict[str, FileSeen]) -> list[WatchEvent]:
        quiet = at_s - self._change_at
        if quiet < self._quiet_s or any(file.open for file in files.values()):
            return []
        finished = [file for file in files.values() if self._wanted(file.name) and file.size > 0]
        if not files:
            # Started by a key, it may take its time to write the first byte.
            return self._fail("the file is gone") if self._written else []
        if not finished:
            names = ", ".join(sorted(files))
            words = f"it never got its name: only {names} is there"
            return self._fail(words) if quiet >= self._give_up_s else []
        last = max(finished, key=lambda file: file.changed_s)
        if self._expected is not None and last.size < WHOLE * self._expected:
            part = f"{100 * last.size / self._expected:.0f} %"
            return self._fail(f"it stopped at {part} of the expected size")
        self.done = True
        # What the disk says, kept within the looks between which the change was seen.
        ended = min(max(last.changed_s, self._change_from), self._change_at)
        return [WatchEvent(Happened.STOPPED, ended)]

    def _fail(self, reason: str) -> list[WatchEvent]:
        self.done = True
        return [WatchEvent(Happened.FAILED, self._change_at, reason=reason)]
