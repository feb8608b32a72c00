"""Times reading a timeline and comparing two, at 1 000 and at 20 000 clips.

Run it with ``make bench``. The second timeline differs in one trim, one moved
clip and one that is missing, as edits on two machines do; the worst case beside
it has every clip trimmed.
"""

from __future__ import annotations

import time
from collections.abc import Callable

import opentimelineio as otio

from true_margin.core.timeline_differences import compare_timelines
from true_margin.core.timelines import Edit
from true_margin.exchange.timeline_files import read_timeline

RATE = 25.0
TRACKS = 4


def document(clips: int, *, edited: bool = False, all_trimmed: bool = False) -> bytes:
    """Write a timeline of so many clips on four tracks, with an effect on every third."""
    made = otio.schema.Timeline("edit")
    made.global_start_time = otio.opentime.RationalTime(0, RATE)
    for number in range(TRACKS):
        track = otio.schema.Track(kind="Video" if number < 2 else "Audio")
        track.extend(one_clip(number, place, all_trimmed) for place in range(clips // TRACKS))
        made.tracks.append(track)
    if edited:
        edit(made.tracks[0])
    content: bytes = made.to_json_string().encode()
    return content


def one_clip(track: int, place: int, trimmed: bool) -> otio.schema.Clip:
    """One clip of a few media files, so that the same media comes again and again."""
    frames = 20 + place % 37 - trimmed
    clip = otio.schema.Clip(
        media_reference=otio.schema.ExternalReference(f"file:///m/take{track}{place % 9}.mov"),
        source_range=otio.opentime.TimeRange(
            otio.opentime.RationalTime(place * 3, RATE), otio.opentime.RationalTime(frames, RATE)
        ),
    )
    if place % 3 == 0:
        clip.effects.append(otio.schema.Effect(effect_name="grade", metadata={"lift": place % 5}))
    return clip


def edit(track: otio.schema.Track) -> None:
    """Trim one clip, move one to the end, and take one out."""
    one = track[10]
    one.source_range = otio.opentime.TimeRange(
        one.source_range.start_time, one.source_range.duration - otio.opentime.RationalTime(1, RATE)
    )
    moved = track.pop(20)
    track.append(moved)
    track.pop(len(track) // 2)


def best(function: Callable[[], object], repeats: int = 3) -> float:
    """Seconds of the best of some calls."""
    taken = []
    for _ in range(repeats):
        begin = time.perf_counter()
        function()
        taken.append(time.perf_counter() - begin)
    return min(taken)


def measure(clips: int) -> None:
    """Print the times of one size."""
    one, other, worst = (
        document(clips),
        document(clips, edited=True),
        document(clips, all_trimmed=True),
    )
    parsed: list[Edit] = [read_timeline("x.otio", each) for each in (one, other, worst)]
    found = compare_timelines(parsed[0], parsed[1])
    if len(found) != 3:
        raise SystemExit(f"three edits were made, {len(found)} found: no time counts")
    read_s = best(lambda: read_timeline("x.otio", one).fingerprint)
    diff_s = best(lambda: compare_timelines(parsed[0], parsed[1]))
    worst_s = best(lambda: compare_timelines(parsed[0], parsed[2]))
    print(
        f"{clips:>6} clips ({len(one) / 1e6:.1f} MB): read and fingerprint {read_s:.3f} s "
        f"({1e6 * read_s / clips:.0f} µs a clip), compare {diff_s:.3f} s "
        f"({1e6 * diff_s / clips:.0f} µs a clip), compare with every clip trimmed {worst_s:.3f} s",
        flush=True,
    )


def main() -> None:
    """Print the table."""
    for clips in (1_000, 20_000):
        measure(clips)


if __name__ == "__main__":
    main()
