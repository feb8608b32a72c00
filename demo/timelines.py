"""Writes the demo's timelines: the edits that were exported, as each machine has them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
import opentimelineio as otio


@dataclass(frozen=True)
class Plan:
    """An edit to draw: its cameras take turns until the length is filled; rate in frames/s."""

    name: str
    length_s: int
    rate: float
    cameras: tuple[str, ...]
    shot_s: tuple[float, float]
    effect: str | None
    sound: bool = True


PLANS = (
    Plan("Lantern parade", 660, 50.0, ("street-a", "street-b"), (4.0, 14.0), "grade"),
    Plan("Backstage diary", 360, 25.0, ("phone", "screen"), (3.0, 9.0), None),
    Plan("Curtain titles", 90, 50.0, ("curtain", "title"), (2.0, 5.0), "drop shadow"),
    Plan("Hall recording", 2100, 25.0, ("hall-stereo",), (120.0, 400.0), None, sound=False),
)


def draw_timeline(plan: Plan, rng: np.random.Generator) -> otio.schema.Timeline:
    """Draw one edit: shots of the cameras in turn, a gap before the last, sound below."""
    document = otio.schema.Timeline(plan.name)
    document.global_start_time = otio.opentime.RationalTime(0, plan.rate)
    audio_only = not plan.sound
    picture = otio.schema.Track(kind="Audio" if audio_only else "Video")
    left, shot = round(plan.length_s * plan.rate), 0
    while left > 0:
        frames = min(left, round(float(rng.uniform(*plan.shot_s)) * plan.rate))
        camera = plan.cameras[shot % len(plan.cameras)]
        clip = _clip(f"{camera}-{shot // 6 + 1:02d}", int(rng.integers(0, 9000)), frames, plan.rate)
        if plan.effect is not None and shot % 2 == 0:
            strength = round(float(rng.uniform(0.1, 0.9)), 2)
            clip.effects.append(
                otio.schema.Effect(effect_name=plan.effect, metadata={"strength": strength})
            )
        picture.append(clip)
        left, shot = left - frames, shot + 1
    document.tracks.append(picture)
    if plan.sound:
        sound = otio.schema.Track(kind="Audio")
        sound.append(_clip("mixer", 0, round(plan.length_s * plan.rate), plan.rate, ending="wav"))
        document.tracks.append(sound)
    return document


def _clip(name: str, start: int, frames: int, rate: float, ending: str = "mov") -> otio.schema.Clip:
    return otio.schema.Clip(
        name=name,
        media_reference=otio.schema.ExternalReference(f"file:///media/season/{name}.{ending}"),
        source_range=otio.opentime.TimeRange(
            otio.opentime.RationalTime(start, rate), otio.opentime.RationalTime(frames, rate)
        ),
    )


def on_another_disk(document: otio.schema.Timeline, folder: str) -> otio.schema.Timeline:
    """The same edit as another machine saves it: other paths, other names, a marker."""
    copied = document.deepcopy()
    copied.name += " (copy)"
    for clip in copied.find_clips():
        file_name = clip.media_reference.target_url.rsplit("/", 1)[-1]
        clip.media_reference.target_url = f"{folder}/{file_name}"
        clip.name = f"{clip.name} copy"
    copied.tracks[0][0].markers.append(otio.schema.Marker(name="check the sound here"))
    return copied


def trimmed_by_one_frame(document: otio.schema.Timeline, place: int) -> otio.schema.Timeline:
    """The same edit with one clip one frame shorter, as a slip of the mouse makes it."""
    copied = document.deepcopy()
    clip = copied.tracks[0][place]
    range_ = clip.source_range
    clip.source_range = otio.opentime.TimeRange(
        range_.start_time, range_.duration - otio.opentime.RationalTime(1, range_.duration.rate)
    )
    return copied


def written(document: otio.schema.Timeline) -> bytes:
    """The file of a timeline."""
    text: str = document.to_json_string(indent=1)
    return (text + "\n").encode()
