"""Cards on a timeline, so that they drop straight into the edit, with the lines to say."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import opentimelineio as otio

from true_margin.core.timelines import exact_rate


@dataclass(frozen=True, slots=True)
class CardClip:
    """A card in the edit: its picture or film, its title, its length in s, what to say.

    ``at_s`` is when it comes; None for right after the one before it.
    """

    picture: str
    title: str
    seconds: float
    say: str
    at_s: float | None = None


@dataclass(frozen=True, slots=True)
class Caption:
    """Words that are said from one moment to another, in seconds."""

    at_s: float
    until_s: float
    text: str


def spans_of(clips: Sequence[CardClip], rate: float) -> list[tuple[int, int]]:
    """The first frame and the count of frames of each card; none begins before another ends."""
    spans, frame = [], 0
    for clip in clips:
        if clip.at_s is not None:
            frame = max(frame, round(Fraction(clip.at_s) * exact_rate(rate)))
        frames = frames_of(clip.seconds, rate)
        spans.append((frame, frames))
        frame += frames
    return spans


def _timeline(name: str, clips: Sequence[CardClip], rate: float) -> otio.schema.Timeline:
    exact = float(exact_rate(rate))

    def span(start: int, frames: int) -> otio.opentime.TimeRange:
        return otio.opentime.TimeRange(
            otio.opentime.RationalTime(start, exact), otio.opentime.RationalTime(frames, exact)
        )

    track = otio.schema.Track("cards", kind=otio.schema.TrackKind.Video)
    before = 0
    for clip, (start, frames) in zip(clips, spans_of(clips, rate), strict=True):
        if start > before:
            track.append(otio.schema.Gap(source_range=span(0, start - before)))
        whole = span(0, frames)
        media = otio.schema.ExternalReference(f"cards/{clip.picture}", available_range=whole)
        own = otio.schema.Clip(clip.title, media, whole)
        if clip.say:
            own.markers.append(otio.schema.Marker(name=clip.say, marked_range=span(0, 1)))
        track.append(own)
        before = start + frames
    timeline = otio.schema.Timeline(name, global_start_time=otio.opentime.RationalTime(0, exact))
    timeline.tracks.append(track)
    return timeline


def write_timeline(name: str, clips: Sequence[CardClip], rate: float) -> bytes:
    """Write OpenTimelineIO: one track, a clip a card, each at its time, a marker at its line.

    Args:
        name: of the timeline.
        clips: in their order.
        rate: frames per second.
    """
    text: str = _timeline(name, clips, rate).to_json_string(indent=2)
    return text.encode()


def write_cut_list(name: str, clips: Sequence[CardClip], rate: float) -> bytes:
    """Write the same as a cut list (CMX 3600), which knows whole rates only.

    A rate of 1000/1001 is counted as the whole one: its frames have the same numbers.
    """
    whole = float(round(exact_rate(rate)))
    timeline = _timeline(name, clips, rate)
    for part in timeline.tracks[0]:
        own = part.source_range
        part.source_range = otio.opentime.TimeRange(
            otio.opentime.RationalTime(own.start_time.value, whole),
            otio.opentime.RationalTime(own.duration.value, whole),
        )
        if isinstance(part, otio.schema.Clip):
            part.media_reference.available_range = part.source_range
            part.markers.clear()
    timeline.global_start_time = otio.opentime.RationalTime(0, whole)
    text: str = otio.adapters.write_to_string(timeline, "cmx_3600", rate=whole)
    return text.encode()


def frames_of(seconds: float, rate: float) -> int:
    """Whole frames of a length, one at least."""
    return max(1, round(Fraction(seconds) * exact_rate(rate)))


def write_lines(clips: Sequence[CardClip], rate: float) -> str:
    """Write WebVTT: what to say while each card stands."""
    exact = exact_rate(rate)
    spans = spans_of(clips, rate)
    return write_captions(
        [
            Caption(float(start / exact), float((start + frames) / exact), clip.say)
            for clip, (start, frames) in zip(clips, spans, strict=True)
        ]
    )


def write_captions(captions: Sequence[Caption]) -> str:
    """Write WebVTT; what has no words has no cue."""
    parts = ["WEBVTT\n"]
    for each in captions:
        # A cue ends where an arrow stands in it, and holds no blank line.
        say = " ".join(each.text.replace("-->", "→").split())
        say = say.replace("&", "&amp;").replace("<", "&lt;")
        if say:
            parts.append(f"{_stamp(each.at_s)} --> {_stamp(each.until_s)}\n{say}\n")
    return "\n".join(parts)


def _stamp(at_s: float) -> str:
    seconds, rest = divmod(round(1000 * at_s), 1000)
    minutes, second = divmod(seconds, 60)
    hours, minute = divmod(minutes, 60)
    return f"{hours:02d}:{minute:02d}:{second:02d}.{rest:03d}"
