"""When an export began and ended, by looks at the files that it writes.

The rules are stated here and know no disk: each look says which files there are, how large,
when they last changed and who holds them, in seconds of one clock. What cannot be known by looks
is said as a doubt; it is never passed over.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from enum import StrEnum

QUIET_LOOKS = 5
"""A file that did not change over so many looks has stopped growing."""
LEAST_QUIET_S = 3.0
CLOSED_QUIET_S = 0.5
"""A file that nobody holds rests after so long."""
BLIND_S = 60.0
"""Where nobody can say who holds a file, it must be quiet for so long: an export may pause."""
WHOLE = 0.9
"""A file smaller than this part of its expected size is not whole."""
MARK_STEP = 0.02
TICK_S = 0.02
"""How finely a file system tells a time, at the worst of those that tell it finely."""
GAP_S, GAP_LOOKS = 10.0, 10
"""After so long without a look the machine slept, or stood still."""
Key = int | str


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
        open: whether a program holds it open, while it stayed as it is; None where that cannot
            be told.
        modified_s: when its content last changed; None for ``changed_s``.
        born_s: when it was made; None where that cannot be told.
        key: what stays the same when it gets another name; None for its name.
        stamp: both times as the disk keeps them, in whole nanoseconds, by which two looks are
            held against each other; None for those above.
    """

    name: str
    size: int
    changed_s: float
    open: bool | None = None
    modified_s: float | None = None
    born_s: float | None = None
    key: Key | None = None
    stamp: tuple[int, int] | None = None

    @property
    def identity(self) -> Key:
        """What it is known by, whatever it is called."""
        return self.name if self.key is None else self.key

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


@dataclass(frozen=True, slots=True)
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


@dataclass(frozen=True, slots=True)
class Earlier:
    """What an earlier watch noted of a start: when, by which file, and what spoke against it."""

    started_s: float
    key: Key | None = None
    doubt: str | None = None


@dataclass(frozen=True, slots=True)
class _Within:
    """A moment that lies between two others."""

    early: float
    late: float

    @property
    def middle(self) -> float:
        return (self.early + self.late) / 2

    @property
    def width(self) -> float:
        return max(self.late - self.early, 0.0)


@dataclass(frozen=True, slots=True)
class _Track:
    """What is known of one file that the export may have written.

    ``doubt`` says why its beginning may be another; ``looked_s`` is the look that showed its last
    change; ``here`` whether it was there at the last look.
    """

    seen: FileSeen
    first: _Within
    last: _Within
    looked_s: float
    here: bool = True
    doubt: str | None = None


class FileWatch:
    """Follows the files of one export.

    Rules:
        *Start*: the first byte of a file that was not there when the watch was armed, or of one
        that lay at rest then and is written anew. It lies between two looks, not before the file
        was made and not after it last changed. Or a person's key starts it, before any byte.
        What counts is the file with the wanted name, under whatever name it began, and every
        file that was gone by the end: parts that were joined. A file that stays and is not
        wanted starts nothing.
        *End*: the last change (a new name included) of a file with the wanted name, once it has
        not changed over five looks and three seconds, nobody holds it open, and no other file
        beside it is still changing. Where nobody can say who holds it, it must be quiet for
        ``blind_s``: unknown is not closed.
        *Failed*: nothing with the wanted name although all is quiet and closed for as long
        as ``give_up_s``; or a whole file was expected to be larger; or the file is gone.
        *Doubt*: it was being written when the watch was armed; it was written elsewhere and moved
        here; its content is older than its beginning; another file came first and stayed; nothing
        was seen for a while. The length is told, and why it may be wrong.
    """

    def __init__(
        self,
        wanted: Callable[[str], bool],
        poll_s: float,
        *,
        expected_bytes: int | None = None,
        give_up_s: float = 60.0,
        blind_s: float = BLIND_S,
    ) -> None:
        """Arm a watch.

        Args:
            wanted: says whether a name is that of the finished export.
            poll_s: time between two looks, more than 0.
            expected_bytes: size of the finished file, for marks.
            give_up_s: quiet time after which an export without its file has failed.
            blind_s: quiet time after which a file that somebody may hold has ended.
        """
        self._wanted = wanted
        self._poll_s = poll_s
        self._quiet_s = max(LEAST_QUIET_S, QUIET_LOOKS * poll_s)
        self._expected = expected_bytes
        self._give_up_s = max(give_up_s, self._quiet_s)
        self._blind_s = max(blind_s, self._quiet_s)
        self._before: dict[Key, FileSeen] | None = None
        self._at_rest: set[Key] = set()
        self._empty: set[Key] = set()
        self._tracks: dict[Key, _Track] = {}
        self._last_at = 0.0
        self._change_at = 0.0
        self._marked = 0.0
        self._pressed: float | None = None
        self._gap: float | None = None
        self._other_clock = False
        self._earlier: Earlier | None = None
        self.started_s: float | None = None
        self.done = False

    def arm(self, at_s: float, files: Iterable[FileSeen]) -> None:
        """Take what is there as being there before, while a person's key is waited for."""
        self._before = {file.identity: file for file in files}
        self._at_rest = {key for key, file in self._before.items() if self._rests(file, at_s)}
        self._last_at = at_s

    def begin(self, at_s: float) -> WatchEvent:
        """Start by a person's key, before the first byte is there."""
        self.started_s = self._pressed = self._change_at = at_s
        return WatchEvent(Happened.STARTED, at_s)

    def go_on(self, earlier: Earlier, before: Iterable[FileSeen]) -> None:
        """Go on with an export that began before this watch was there.

        Args:
            earlier: the start, as an earlier watch noted it.
            before: what was there before it began.
        """
        self.arm(earlier.started_s, before)
        # What was being written then is told by what was noted of the start.
        self._at_rest = set(self._before or ())
        self.started_s = self._change_at = self._pressed = earlier.started_s
        self._earlier = earlier

    def observe(self, at_s: float, files: list[FileSeen]) -> list[WatchEvent]:
        """Take in a look; gives what happened since the last one."""
        if self._before is None:
            self.arm(at_s, files)
            return []
        if self.done:
            return []
        before = set(self._tracks)
        self._follow(at_s, files)
        events = []
        if self.started_s is None and self._tracks:
            begun = min(self._tracks.values(), key=lambda track: track.first.middle)
            self.started_s = begun.first.middle
            events.append(
                WatchEvent(
                    Happened.STARTED, self.started_s, doubt=begun.doubt, key=begun.seen.identity
                )
            )
        if self.started_s is not None:
            self._note_gap(at_s, begun=bool(before))
            events += self._mark(at_s)
            events += self._end(at_s)
        self._last_at = at_s
        return events

    def _rests(self, file: FileSeen, at_s: float) -> bool:
        """Whether nobody seems to write a file at this look."""
        if file.open is True:
            return False
        closed = file.open is False
        return at_s - file.content_s >= (CLOSED_QUIET_S if closed else self._quiet_s)

    def _follow(self, at_s: float, files: list[FileSeen]) -> None:
        now = {file.identity: file for file in files}
        for key, file in now.items():
            track = self._tracks.get(key)
            if track is not None:
                self._tracks[key] = self._grown(track, file, at_s)
            elif self._is_own(key, file):
                self._tracks[key] = self._begun(key, file, at_s)
                self._change_at = at_s
            elif file.size == 0:
                self._empty.add(key)
        for key, track in self._tracks.items():
            if key not in now and track.here:
                self._tracks[key] = replace(track, here=False, looked_s=at_s)
                self._change_at = at_s

    def _is_own(self, key: Key, file: FileSeen) -> bool:
        """Whether something was written into a file since the watch was armed."""
        assert self._before is not None, "armed"
        if file.size == 0 and self.started_s is None:
            return False
        before = self._before.get(key)
        if before is None:
            return True
        # An old file that only got another name, or other rights, is none of the export's.
        return before.content != file.content or (
            before.name != file.name and key not in self._at_rest
        )

    def _begun(self, key: Key, file: FileSeen, at_s: float) -> _Track:
        """A file at the look that showed its first byte."""
        assert self._before is not None, "armed"
        doubt = None
        first = _Within(self._last_at, at_s)
        born = None if file.born_s is None else min(file.born_s, at_s)
        if key in self._before and key not in self._at_rest:
            doubt = "it was being written when the watch was armed"
            first = first if born is None else _Within(born, born)
        elif self._told_right(file, file.changed_s, at_s):
            made = None if key in self._before or key in self._empty else born
            first = _Within(max(self._last_at, made or 0.0), min(at_s, file.changed_s))
            new = key not in self._before and key not in self._empty
            # What is older than the last look, and was not here then, comes from elsewhere.
            oldest = file.content_s if made is None else made
            if new and oldest < self._last_at - self._slack:
                doubt = "it was written elsewhere and moved here"
                first = first if made is None else _Within(made, made)
        last = self._last_change(file, at_s, named=True)
        return _Track(file, first, last, at_s, doubt=doubt)

    @property
    def _slack(self) -> float:
        """By so much a file system's clock may differ from this one's before it is doubted."""
        return max(self._poll_s, 1.0)

    def _told_right(self, file: FileSeen, told: float, at_s: float) -> bool:
        """Whether the disk tells of a change since the last look that it was then, and finely: a
        drive in the network may go by another clock."""
        if file.coarse:
            return False
        right = self._last_at - TICK_S <= told <= at_s + TICK_S
        self._other_clock = self._other_clock or not right
        return right

    def _last_change(self, file: FileSeen, at_s: float, *, named: bool) -> _Within:
        """When a file changed that is another than at the last look: as the disk says, where
        that can be believed; ``named`` where it got its name since then."""
        early = self._last_at - TICK_S
        # A time of the content that was set back, as whoever copies does, is not when that was.
        set_back = file.content_s < early <= file.changed_s
        told = file.changed_s if named or set_back else file.content_s
        if self._told_right(file, told, at_s):
            told = min(max(told, self._last_at), at_s)
            return _Within(max(told - TICK_S / 2, self._last_at), min(told + TICK_S / 2, at_s))
        return _Within(self._last_at, at_s)

    def _grown(self, track: _Track, file: FileSeen, at_s: float) -> _Track:
        """A file at a later look."""
        named = track.seen.name != file.name
        if track.here and not named and track.seen.content == file.content:
            # Other rights, or nothing at all.
            return replace(track, seen=file)
        self._change_at = at_s
        last = self._last_change(file, at_s, named=named)
        return replace(track, seen=file, here=True, last=last, looked_s=at_s)

    def _note_gap(self, at_s: float, *, begun: bool) -> None:
        gap = at_s - self._last_at
        if begun and gap > max(GAP_S, GAP_LOOKS * self._poll_s):
            self._gap = max(self._gap or 0.0, gap)

    @property
    def _here(self) -> list[_Track]:
        return [track for track in self._tracks.values() if track.here]

    def _mark(self, at_s: float) -> list[WatchEvent]:
        if self._expected is None or not self._here or at_s != self._change_at:
            return []
        fraction = min(1.0, max(track.seen.size for track in self._here) / self._expected)
        if fraction - self._marked < MARK_STEP or fraction >= 1.0:
            return []
        self._marked = fraction
        return [WatchEvent(Happened.MARK, at_s, fraction)]

    def _end(self, at_s: float) -> list[WatchEvent]:
        here = self._here
        finished = [
            track for track in here if self._wanted(track.seen.name) and track.seen.size > 0
        ]
        quiet = at_s - self._change_at
        if not self._quiet_enough(at_s, here, finished):
            return []
        if not here:
            # Started by a key, it may take its time to write the first byte.
            return self._fail("the file is gone") if self._tracks else []
        if not finished:
            names = ", ".join(sorted(track.seen.name for track in here))
            words = f"it never got its name: only {names} is there"
            return self._fail(words) if quiet >= self._give_up_s else []
        last = max(finished, key=lambda track: (track.last.late, track.seen.size))
        if self._expected is not None and last.seen.size < WHOLE * self._expected:
            part = f"{100 * last.seen.size / self._expected:.0f} %"
            return self._fail(f"it stopped at {part} of the expected size")
        self.done = True
        return [self._stopped(finished, last)]

    def _quiet_enough(self, at_s: float, here: list[_Track], finished: list[_Track]) -> bool:
        """Whether all is quiet for long enough, by what is known of who holds the files."""
        if any(track.seen.open for track in here):
            return False
        done = at_s - max((track.looked_s for track in finished), default=math.inf)
        # Something beside it that never rests, such as a log, does not hold the end up for ever.
        quiet = max(at_s - self._change_at, done if done >= self._give_up_s else 0.0)
        blind = any(track.seen.open is None for track in here)
        return quiet >= (self._blind_s if blind else self._quiet_s)

    def _stopped(self, finished: list[_Track], last: _Track) -> WatchEvent:
        from_s = min(track.first.early for track in finished) - self._slack
        gone = [track for track in self._tracks.values() if not track.here]
        # A part was there when what it became a part of began.
        own = [*finished, *(track for track in gone if track.looked_s >= from_s)]
        begun = min(own, key=lambda track: track.first.middle)
        first = begun.first if self._pressed is None else _Within(self._pressed, self._pressed)
        started = first.middle
        ended = max(last.last.middle, started)
        spread = math.sqrt((first.width**2 + last.last.width**2) / 2)
        doubts = dict.fromkeys(self._doubts(own, last, started))
        return WatchEvent(
            Happened.STOPPED,
            ended,
            started_s=started,
            spread_s=max(spread, TICK_S),
            doubt="; ".join(doubts) or None,
            name=last.seen.name,
        )

    def _doubts(self, own: list[_Track], last: _Track, started: float) -> Iterator[str]:
        """Everything that speaks against a length."""
        if self._earlier is not None:
            yield from self._doubts_of_earlier(self._earlier, own)
        if self._pressed is None:
            yield from (track.doubt for track in own if track.doubt)
            for track in self._tracks.values():
                if track not in own and track.first.late < started - self._slack:
                    ahead = started - track.first.middle
                    yield f"{track.seen.name} came {ahead:.0f} s before it"
        for track in self._tracks.values():
            if track.here and track not in own and track.last.early > last.last.late:
                yield f"{track.seen.name} was written after it"
        modified = last.seen.modified_s
        if modified is not None and not self._other_clock and modified < started - self._slack:
            yield "its content is older than its beginning here: it may be a copy"
        if self._gap is not None:
            yield f"nothing was seen for {self._gap:.0f} s: did the machine sleep?"

    def _doubts_of_earlier(self, earlier: Earlier, own: list[_Track]) -> Iterator[str]:
        """What speaks against a start that another watch noted, and this one did not see."""
        if earlier.doubt is not None:
            yield earlier.doubt
        if earlier.key is not None and all(t.seen.identity != earlier.key for t in own):
            yield "the file that began it is none of what was finished"
        if sum(track.here and self._wanted(track.seen.name) for track in own) > 1:
            yield "several files were finished while nobody may have looked"

    def _fail(self, reason: str) -> list[WatchEvent]:
        self.done = True
        return [WatchEvent(Happened.FAILED, self._change_at, reason=reason)]
