"""A folder that programs write into, by a clock of its own: what a watch would have seen."""

from __future__ import annotations

import heapq
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from random import Random

from true_margin.core.file_seen import FileSeen, Happened, WatchEvent
from true_margin.core.file_watch import FileWatch

Step = tuple[float, Callable[["Folder"], None]]
LONGEST_S = 400.0


@dataclass
class Inode:
    """A file as the disk keeps it."""

    number: int
    born: float
    size: int = 0
    modified: float = 0.0
    changed: float = 0.0
    holders: int = 0


@dataclass
class Folder:
    """One folder, and the rest of the same disk (``elsewhere``).

    ``tells_born`` and ``tells_open`` are what the system tells; ``skew`` is by how much the disk's
    clock is ahead of the watcher's, ``grain`` how coarsely it tells a time. ``tells_names`` is
    whether a new name moves the time of change, ``tells_key`` whether a file is known again by
    it. ``slow`` is how much of the time between two looks one of them may take.
    """

    tells_born: bool = True
    tells_open: bool = True
    tells_names: bool = True
    tells_key: bool = True
    slow: float = 0.0
    skew: float = 0.0
    grain: float = 0.0
    now: float = 0.0
    files: dict[str, Inode] = field(default_factory=dict)
    elsewhere: dict[str, Inode] = field(default_factory=dict)
    _numbers: int = 0

    def create(self, name: str, *, size: int = 0, held: bool = True, away: bool = False) -> None:
        """Make a file, and hold it open."""
        self._numbers += 1
        node = Inode(self._numbers, self.now, size, self.now, self.now, int(held))
        (self.elsewhere if away else self.files)[name] = node

    def write(self, name: str, size: int = 1000, *, away: bool = False) -> None:
        """Append so many bytes."""
        node = (self.elsewhere if away else self.files)[name]
        node.size += size
        node.modified = node.changed = self.now

    def fill(self, name: str) -> None:
        """Write into room that was taken before: the size stays."""
        self.write(name, 0)

    def truncate(self, name: str) -> None:
        """Begin an old file anew, in place."""
        node = self.files[name]
        node.size, node.holders = 0, node.holders + 1
        node.modified = node.changed = self.now

    def hold(self, name: str) -> None:
        """Open a file."""
        self.files[name].holders += 1

    def close(self, name: str, *, away: bool = False) -> None:
        """Let go of a file."""
        (self.elsewhere if away else self.files)[name].holders -= 1

    def rename(self, old: str, new: str) -> None:
        """Give a file another name."""
        self.files[new] = self.files.pop(old)
        self.files[new].changed = self.now

    def move_in(self, old: str, new: str) -> None:
        """Move a file here from elsewhere on the disk."""
        self.files[new] = self.elsewhere.pop(old)
        self.files[new].changed = self.now

    def copied_times(self, name: str, modified: float) -> None:
        """Set the time of a copy to that of what it is a copy of."""
        self.files[name].modified, self.files[name].changed = modified, self.now

    def touch_rights(self, name: str) -> None:
        """Change who may read a file, and nothing in it."""
        self.files[name].changed = self.now

    def delete(self, name: str) -> None:
        """Remove a file."""
        del self.files[name]

    def look(self, before: dict[str, FileSeen]) -> list[FileSeen]:
        """What a look shows."""
        found = []
        for name, node in self.files.items():
            changed, modified, born = (
                self._told(each) for each in (node.changed, node.modified, node.born)
            )
            if not self.tells_names:
                changed = modified
            seen = FileSeen(
                name,
                node.size,
                changed,
                None,
                modified,
                born if self.tells_born else None,
                node.number if self.tells_key else None,
                (round(changed * 1e9), round(modified * 1e9)),
                names_told=self.tells_names,
            )
            last = before.get(name)
            held = None
            if self.tells_open and last is not None and last.state == seen.state:
                held = node.holders > 0
            found.append(replace(seen, open=held))
        return found

    def _told(self, moment: float) -> float:
        at = moment + self.skew
        return at if not self.grain else at // self.grain * self.grain


@dataclass(frozen=True)
class Export:
    """What happens in a folder, and when the export truly began and ended.

    ``steps`` are by the watcher's clock, which begins at 0 when the watch is armed; those before
    happen before. ``began`` and ``ended`` are None where it never came to an end.
    """

    steps: tuple[Step, ...]
    began: float | None
    ended: float | None


GIVE_UP_S = 30.0
FINISHED = ".mp4"


def watched(
    export: Export, folder: Folder, rng: Random, poll: float = 0.5, expected: int | None = None
) -> WatchEvent | None:
    """What a watch says at the end of an export."""
    rules = FileWatch(
        lambda name: name.endswith(FINISHED), poll, expected_bytes=expected, give_up_s=GIVE_UP_S
    )
    for at, files, began in looks(export, folder, rng, poll):
        for event in rules.observe(at, files, began):
            if event.kind in (Happened.STOPPED, Happened.FAILED):
                return event
    return None


def looks(
    export: Export, folder: Folder, rng: Random, poll: float = 0.5
) -> Iterator[tuple[float, list[FileSeen], float]]:
    """What is seen of an export, when the look was done, and when it was begun; looks come at a
    random phase, and a little late."""
    queue = [(at, place, step) for place, (at, step) in enumerate(export.steps)]
    heapq.heapify(queue)
    at, before = 0.0, dict[str, FileSeen]()
    while at < LONGEST_S:
        while queue and queue[0][0] <= at:
            folder.now, _, step = heapq.heappop(queue)
            step(folder)
        folder.now = at
        files = folder.look(before)
        began, at = at, at + folder.slow * poll * rng.uniform(0.0, 1.0)
        before = {file.name: file for file in files}
        yield at, files, began
        at += poll * rng.uniform(1.0, 1.04) if at else poll * rng.uniform(0.2, 1.0)
