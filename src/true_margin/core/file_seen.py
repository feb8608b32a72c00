"""What a watch of files sees and says: files at a look, and what happened."""

from __future__ import annotations

from dataclasses import dataclass
from enum import Enum
from typing import Union

Key = Union[int, str]


class Happened(str, Enum):
    """What a look showed."""

    STARTED = "started"
    MARK = "mark"
    STOPPED = "stopped"
    FAILED = "failed"


@dataclass(frozen=True)
class FileSeen:
    """A file at one look.

    Attributes:
        name: of the file, without its folder.
        size: in bytes.
        changed_s: when it or its name last changed, by the looks' clock.
        open: whether a program holds it open, while it stayed as it is; None where that cannot
            be told.
        modified_s: when its content last changed; None for ``changed_s``.
        born_s: when it was made; None where that cannot be told.
        key: what stays the same when it gets another name; None for its name.
        stamp: both times as the disk keeps them, in whole nanoseconds, by which two looks are
            held against each other; None for those above.
        names_told: whether ``changed_s`` moves with a new name; without it a new name lies
            between two looks.
    """

    name: str
    size: int
    changed_s: float
    open: bool | None = None
    modified_s: float | None = None
    born_s: float | None = None
    key: Key | None = None
    stamp: tuple[int, int] | None = None
    names_told: bool = True

    @property
    def content_s(self) -> float:
        """When its content last changed, as far as that is told."""
        return self.changed_s if self.modified_s is None else self.modified_s

    @property
    def content(self) -> tuple[int, float]:
        """Differs where something was written."""
        return self.size, self.content_s if self.stamp is None else self.stamp[1]

    @property
    def coarse(self) -> bool:
        """Whether the disk tells whole seconds only."""
        return self.stamp is not None and not any(each % 1_000_000_000 for each in self.stamp)

    @property
    def state(self) -> tuple[str, int, float, float]:
        """Differs where something was written, or it got another name."""
        changed = self.changed_s if self.stamp is None else self.stamp[0]
        return self.name, self.size, changed, self.content[1]


@dataclass(frozen=True)
class WatchEvent:
    """Something that happened, by the looks' clock.

    Attributes:
        kind: what.
        at_s: when.
        fraction: of the expected size.
        reason: why it failed.
        started_s: of an end: when the export began, as it is known now.
        spread_s: of an end: the time between two looks that would leave the length as unsure as
            it is, for two ends that may lie anywhere between two looks.
        doubt: why the length may be wrong, of a start as far as that is known then; None where
            nothing speaks against it.
        name: of an end: of the finished file.
        key: of a start: what the file is known by that began it; None where a person did.
    """

    kind: Happened
    at_s: float
    fraction: float | None = None
    reason: str | None = None
    started_s: float | None = None
    spread_s: float | None = None
    doubt: str | None = None
    name: str | None = None
    key: Key | None = None


@dataclass(frozen=True)
class Earlier:
    """What an earlier watch noted of a start: when, by which file, and what spoke against it."""

    started_s: float
    key: Key | None = None
    doubt: str | None = None
