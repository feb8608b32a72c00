"""What is known of the files of an export from look to look: since when, until when, under which
name."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from true_margin.core.file_seen import FileSeen, Key


@dataclass(frozen=True)
class Within:
    """A moment that lies between two others."""

    early: float
    late: float

    @property
    def middle(self) -> float:
        return (self.early + self.late) / 2

    @property
    def width(self) -> float:
        return max(self.late - self.early, 0.0)


@dataclass(frozen=True)
class Track:
    """What is known of one file that the export may have written.

    ``doubt`` says why its beginning may be another; ``moved`` whether it seems to have been
    written elsewhere; ``looked_s`` is the look that showed its last
    change; ``here`` whether it was there at the last look.
    """

    key: Key
    seen: FileSeen
    first: Within
    last: Within
    looked_s: float
    here: bool = True
    doubt: str | None = None
    moved: bool = False


class Names:
    """What files are known by from look to look, whatever they are called."""

    def __init__(self) -> None:
        self._last: dict[Key, FileSeen] = {}
        self._called: dict[str, Key] = {}

    def of(self, files: Sequence[FileSeen]) -> dict[Key, FileSeen]:
        """The files of a look by what each is known by."""
        names = {file.name for file in files}
        gone = {key: file for key, file in self._last.items() if file.name not in names}
        before = {file.name: file for file in self._last.values()}
        now: dict[Key, FileSeen] = {}
        for file in files:
            key = file.key
            if key is None:
                last = before.get(file.name)
                same = last is not None and last.content == file.content
                key = self._called.get(file.name, file.name) if same else None
                key = self._keyless(file, gone, last is not None) if key is None else key
                while key in now:
                    key = f"{key}'"
                self._called[file.name] = key
            now[key] = file
        self._last = now
        return now

    def _keyless(self, file: FileSeen, gone: dict[Key, FileSeen], known: bool) -> Key:
        """What a file is known by that is new at this look, or has changed since the last."""
        for key, old in gone.items():
            if old.key is None and old.size > 0 and old.content == file.content:
                del gone[key]
                return key
        return self._called.get(file.name, file.name) if known else file.name
