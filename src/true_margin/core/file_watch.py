"""When an export began and ended, by looks at the files that it writes.

The rules are stated here and know no disk: each look says which files there are, how large,
when they last changed and who holds them, in seconds of one clock. What cannot be known by looks
is said as a doubt; it is never passed over.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

from true_margin.core.file_seen import Earlier, FileSeen, Happened, Key, WatchEvent
from true_margin.core.file_tracks import Names, Track, Within

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
WRITTEN_BEFORE = "it was being written when the watch was armed"
MOVED = "it was written elsewhere and moved here"


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
        *Names*: where nothing else tells two files apart, one that has gone and another with the
        very same content in the same look are one file, which got another name.
        *Doubt*: it was being written when the watch was armed; it was written elsewhere and moved
        here; its content is older than its beginning; another file came first and stayed; a second
        one began when the first had been at rest; nothing was seen for a while. The length is
        told, and why it may be wrong.
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
        self._names = Names()
        self._tracks: dict[Key, Track] = {}
        self._last_at = 0.0
        self._change_at = 0.0
        self._marked = 0.0
        self._pressed: float | None = None
        self._gap: float | None = None
        self._other_clock = False
        self._earlier: Earlier | None = None
        self.started_s: float | None = None
        self.done = False

    def arm(self, at_s: float, files: Sequence[FileSeen], began_s: float | None = None) -> None:
        """Take what is there as being there before, while a person's key is waited for."""
        self._before = self._names.of(files)
        self._at_rest = {key for key, file in self._before.items() if self._rests(file, at_s)}
        self._last_at = at_s if began_s is None else began_s

    def begin(self, at_s: float) -> WatchEvent:
        """Start by a person's key, before the first byte is there."""
        self.started_s = self._pressed = self._change_at = at_s
        return WatchEvent(Happened.STARTED, at_s)

    def go_on(self, earlier: Earlier, before: Sequence[FileSeen]) -> None:
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

    def observe(
        self, at_s: float, files: list[FileSeen], began_s: float | None = None
    ) -> list[WatchEvent]:
        """Take in a look; gives what happened since the last one.

        Args:
            at_s: when it was done: nothing that it shows happened later.
            files: what it shows.
            began_s: when it was begun: what it does not show may have happened since; None for
                a look that takes no time.
        """
        if self._before is None:
            self.arm(at_s, files, began_s)
            return []
        if self.done:
            return []
        before = set(self._tracks)
        self._follow(at_s, files)
        events = []
        if self.started_s is None and self._tracks:
            key, begun = min(self._tracks.items(), key=lambda each: each[1].first.middle)
            self.started_s = begun.first.middle
            doubt = begun.doubt or (MOVED if begun.moved else None)
            events.append(WatchEvent(Happened.STARTED, self.started_s, doubt=doubt, key=key))
        if self.started_s is not None:
            self._note_gap(at_s, begun=bool(before))
            events += self._mark(at_s)
            events += self._end(at_s)
        self._last_at = at_s if began_s is None else began_s
        return events

    def _rests(self, file: FileSeen, at_s: float) -> bool:
        """Whether nobody seems to write a file at this look."""
        if file.open is True:
            return False
        closed = file.open is False
        return at_s - file.content_s >= (CLOSED_QUIET_S if closed else self._quiet_s)

    def _follow(self, at_s: float, files: list[FileSeen]) -> None:
        now = self._names.of(files)
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

    def _begun(self, key: Key, file: FileSeen, at_s: float) -> Track:
        """A file at the look that showed its first byte."""
        assert self._before is not None, "armed"
        born = self._born(file, at_s)
        last = self._last_change(file, at_s, named=True)
        if key in self._before and key not in self._at_rest:
            first = Within(self._last_at, at_s) if born is None else Within(born, born)
            return Track(key, file, first, last, at_s, doubt=WRITTEN_BEFORE)
        new = key not in self._before and key not in self._empty
        made = born if new else None
        # What is older than the last look, and was not here then, comes from elsewhere.
        oldest = file.content_s if made is None else made
        if not self._tells_when(file, at_s, new=new):
            moved = new and not file.names_told and oldest < self._last_at - TICK_S
            return Track(key, file, Within(self._last_at, at_s), last, at_s, moved=moved)
        first = Within(max(self._last_at, made or 0.0), min(at_s, file.changed_s))
        moved = new and oldest < self._last_at - self._slack
        if moved and made is not None:
            first = Within(made, made)
        return Track(key, file, first, last, at_s, moved=moved)

    def _born(self, file: FileSeen, at_s: float) -> float | None:
        """When a file was made, where that is told of itself: a system may give a new file the
        time of one of the same name that it takes the place of."""
        assert self._before is not None, "armed"
        if file.born_s is None:
            return None
        for old in self._before.values():
            if old.name == file.name and old.key != file.key and old.born_s == file.born_s:
                return None
        return min(file.born_s, at_s)

    def _tells_when(self, file: FileSeen, at_s: float, *, new: bool) -> bool:
        """Whether a file's own times tell when it began to be here."""
        if new and not file.names_told and file.content_s < self._last_at - TICK_S:
            # A name or a copy that came later than what is in it: no reason to doubt the clock.
            return False
        return self._told_right(file, file.changed_s, at_s)

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

    def _last_change(
        self, file: FileSeen, at_s: float, *, named: bool, set_back: bool = False
    ) -> Within:
        """When a file changed that is another than at the last look: as the disk says, where
        that can be believed; ``named`` where it got its name since then."""
        early = self._last_at - TICK_S
        if not file.names_told and (named or set_back):
            # A new name comes after the last that was written, whenever that was.
            known = named and not file.coarse and early <= file.content_s <= at_s
            return Within(max(self._last_at, file.content_s) if known else self._last_at, at_s)
        # A time of the content that was set back, as whoever copies does, is not when that was.
        set_back = file.content_s < early <= file.changed_s
        told = file.changed_s if named or set_back else file.content_s
        if self._told_right(file, told, at_s):
            told = min(max(told, self._last_at), at_s)
            return Within(max(told - TICK_S / 2, self._last_at), min(told + TICK_S / 2, at_s))
        return Within(self._last_at, at_s)

    def _grown(self, track: Track, file: FileSeen, at_s: float) -> Track:
        """A file at a later look."""
        named = track.seen.name != file.name
        if track.here and not named and track.seen.content == file.content:
            # Other rights, or nothing at all.
            return replace(track, seen=file)
        self._change_at = at_s
        # A clock never goes back: whoever copies has set the time to that of the original.
        set_back = file.content_s < track.seen.content_s
        last = self._last_change(file, at_s, named=named, set_back=set_back)
        # What goes on growing here is written here, by whatever clock.
        written = track.seen.content != file.content
        moved = track.moved if file.names_told or not written else set_back
        return replace(track, seen=file, here=True, last=last, looked_s=at_s, moved=moved)

    def _note_gap(self, at_s: float, *, begun: bool) -> None:
        gap = at_s - self._last_at
        if begun and gap > max(GAP_S, GAP_LOOKS * self._poll_s):
            self._gap = max(self._gap or 0.0, gap)

    @property
    def _here(self) -> list[Track]:
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

    def _quiet_enough(self, at_s: float, here: list[Track], finished: list[Track]) -> bool:
        """Whether all is quiet for long enough, by what is known of who holds the files."""
        if any(track.seen.open for track in here):
            return False
        done = at_s - max((track.looked_s for track in finished), default=math.inf)
        # Something beside it that never rests, such as a log, does not hold the end up for ever.
        quiet = max(at_s - self._change_at, done if done >= self._give_up_s else 0.0)
        blind = any(track.seen.open is None for track in here)
        return quiet >= (self._blind_s if blind else self._quiet_s)

    def _stopped(self, finished: list[Track], last: Track) -> WatchEvent:
        from_s = min(track.first.early for track in finished) - TICK_S
        gone = [track for track in self._tracks.values() if not track.here]
        # A part was there when what it became a part of began.
        own = [*finished, *(track for track in gone if track.looked_s >= from_s)]
        begun = min(own, key=lambda track: track.first.middle)
        first = begun.first if self._pressed is None else Within(self._pressed, self._pressed)
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

    def _doubts(self, own: list[Track], last: Track, started: float) -> Iterator[str]:
        """Everything that speaks against a length."""
        if self._earlier is not None:
            yield from self._doubts_of_earlier(self._earlier, own)
        if self._pressed is None:
            yield from (track.doubt for track in own if track.doubt)
            yield from (MOVED for track in own if track.moved)
            for track in self._tracks.values():
                if track not in own and track.first.late < started - self._slack:
                    ahead = started - track.first.middle
                    yield f"{track.seen.name} came {ahead:.0f} s before it"
        for track in self._tracks.values():
            if track.here and track not in own and track.last.early > last.last.late:
                yield f"{track.seen.name} was written after it"
        yield from self._doubts_of_two(own)
        modified = last.seen.modified_s
        if modified is not None and not self._other_clock and modified < started - self._slack:
            yield "its content is older than its beginning here: it may be a copy"
        if self._gap is not None:
            yield f"nothing was seen for {self._gap:.0f} s: did the machine sleep?"

    def _doubts_of_two(self, own: list[Track]) -> Iterator[str]:
        """Where nobody tells who holds a file, two exports in a row may look like one."""
        quiet_from: float | None = None
        for track in sorted(own, key=lambda track: track.first.middle):
            if not track.here or not self._wanted(track.seen.name):
                continue
            if quiet_from is not None and track.first.early - quiet_from >= self._quiet_s:
                ago = track.first.early - quiet_from
                yield f"{track.seen.name} began {ago:.0f} s after the one before it: two exports?"
            quiet_from = max(quiet_from or track.last.late, track.last.late)

    def _doubts_of_earlier(self, earlier: Earlier, own: list[Track]) -> Iterator[str]:
        """What speaks against a start that another watch noted, and this one did not see."""
        if earlier.doubt is not None:
            yield earlier.doubt
        if earlier.key is not None and all(t.key != earlier.key for t in own):
            yield "the file that began it is none of what was finished"
        if sum(track.here and self._wanted(track.seen.name) for track in own) > 1:
            yield "several files were finished while nobody may have looked"

    def _fail(self, reason: str) -> list[WatchEvent]:
        self.done = True
        return [WatchEvent(Happened.FAILED, self._change_at, reason=reason)]
