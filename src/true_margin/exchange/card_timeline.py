"""Cards on a timeline, so that they drop straight into the edit, with the lines to say."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import opentimelineio as otio

from true_margin.core.timelines import exact_rate


@dataclass(frozen=True, slots=True)
class CardClip:
    """A card in the edit: its picture's name, its title, its length in s, what to say."""

    picture: str
    title: str
    seconds: float
    say: str


def write_timeline(name: str, clips: Sequence[CardClip], rate: float) -> bytes:
    """Write OpenTimelineIO: one track, one clip a card, one after the other.

    Args:
        name: of the timeline.
        clips: in their order.
        rate: frames per second.
    """
    exact = float(exact_rate(rate))
    track = otio.schema.Track("cards", kind=otio.schema.TrackKind.Video)
    for clip in clips:
        frames = frames_of(clip.seconds, rate)
        span = otio.opentime.TimeRange(
            otio.opentime.RationalTime(0, exact), otio.opentime.RationalTime(frames, exact)
        )
        media = otio.schema.ExternalReference(f"cards/{clip.picture}", available_range=span)
        track.append(otio.schema.Clip(clip.title, media, span))
    timeline = otio.schema.Timeline(name, global_start_time=otio.opentime.RationalTime(0, exact))
    timeline.tracks.append(track)
    text: str = timeline.to_json_string(indent=2)
    return text.encode()


def frames_of(seconds: float, rate: float) -> int:
    """Whole frames of a length, one at least."""
    return max(1, round(Fraction(seconds) * exact_rate(rate)))


def write_lines(clips: Sequence[CardClip], rate: float) -> str:
    """Write WebVTT: what to say while each card stands."""
    parts, frames = ["WEBVTT\n"], 0
    for clip in clips:
        begin = frames
        frames += frames_of(clip.seconds, rate)
        # A cue ends where an arrow stands in it, and holds no blank line.
        say = " ".join(clip.say.replace("-->", "→").split())
        say = say.replace("&", "&amp;").replace("<", "&lt;")
        if say:
            parts.append(f"{_stamp(begin, rate)} --> {_stamp(frames, rate)}\n{say}\n")
    return "\n".join(parts)


def _stamp(frames: int, rate: float) -> str:
    thousandths = round(1000 * Fraction(frames) / exact_rate(rate))
    seconds, rest = divmod(thousandths, 1000)
    minutes, second = divmod(seconds, 60)
    hours, minute = divmod(minutes, 60)
    return f"{hours:02d}:{minute:02d}:{second:02d}.{rest:03d}"
