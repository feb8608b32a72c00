"""Whether an exported file is the one that its task asks for, part by part."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

import numpy as np

from true_margin.core.checks import SIZE_TOLERANCE, wrong_output
from true_margin.core.numerals import short
from true_margin.core.wording import format_elapsed

USUAL_RATE = 25.0
"""Frames per second where neither the file nor the task says; for the length's tolerance."""
RATE_TOLERANCE = 0.005
OTHER_CLIP = 0.05
"""A length that is further off than this part is probably another clip's."""
_FAMILIES = (
    ("h264", "avc", "x264", "avc1"),
    ("hevc", "h265", "x265", "hvc1"),
    ("matroska", "mkv"),
    ("quicktime", "mov"),
    ("mp4", "m4v"),
    ("jpeg", "mjpeg", "jpg"),
)


@dataclass(frozen=True, slots=True)
class OutputFacts:
    """What a probe says of an exported file; None where it says nothing.

    Attributes:
        length_s: length, in seconds.
        size_bytes: size of the file.
        containers: names of the container.
        codec: of the picture, or of the sound where there is no picture.
        size: picture size, as 1920x1080.
        frame_rate: frames per second.
        depth: bits of a colour component.
        bit_rate: in Mbit/s.
        colour: colour tags in words, such as ``bt709``.
    """

    length_s: float | None = None
    size_bytes: int | None = None
    containers: tuple[str, ...] = ()
    codec: str | None = None
    size: str | None = None
    frame_rate: float | None = None
    depth: int | None = None
    bit_rate: float | None = None
    colour: str | None = None


class Part(StrEnum):
    """What is looked at in an output."""

    LENGTH = "length"
    FILE_SIZE = "file size"
    CONTAINER = "container"
    CODEC = "codec"
    SIZE = "picture size"
    FRAME_RATE = "frame rate"
    DEPTH = "bit depth"
    COLOUR = "colour"


@dataclass(frozen=True, slots=True)
class PartFound:
    """One part of an output: what it is, what was wanted, and whether that is the same."""

    part: Part
    found: str
    wanted: str
    ok: bool


def judge_output(
    facts: OutputFacts,
    settings: Mapping[str, Any],
    length_s: float | None,
    others: Sequence[OutputFacts] = (),
) -> tuple[PartFound, ...]:
    """Hold an exported file against its task and the task's other outputs.

    Args:
        facts: what a probe says of it.
        settings: the task's export settings by field.
        length_s: length of the timeline, in seconds; None where it is not known.
        others: the task's outputs of other setups.

    Returns:
        One entry for each part that both sides know.

    Reference:
        Computation page, section 8, "wrong output": length off by more than a frame, or
        size off by more than 5 % from the median of the others.
    """
    wanted = {field: str(value) for field, value in settings.items()}
    rate = facts.frame_rate or settings.get("frame_rate") or USUAL_RATE
    found = [
        _length(facts, length_s, float(rate)),
        _file_size(facts, [o.size_bytes for o in others if o.size_bytes]),
        _named(Part.CONTAINER, facts.containers, wanted.get("container")),
        _named(Part.CODEC, (facts.codec,) if facts.codec else (), wanted.get("codec")),
        _plain(Part.SIZE, facts.size, wanted.get("size")),
        _rate(facts.frame_rate, settings.get("frame_rate")),
        _plain(Part.DEPTH, facts.depth and str(facts.depth), wanted.get("depth")),
        _colour(facts, wanted.get("colour"), others),
    ]
    return tuple(each for each in found if each is not None)


def is_another_clip(facts: OutputFacts, length_s: float | None) -> bool:
    """Say whether a file is so much longer or shorter that it is probably not of this task."""
    if facts.length_s is None or length_s is None:
        return False
    return abs(facts.length_s / length_s - 1.0) > OTHER_CLIP


def _length(facts: OutputFacts, wanted: float | None, rate: float) -> PartFound | None:
    if facts.length_s is None or wanted is None:
        return None
    off = wrong_output(facts.length_s, 1.0, wanted, (), frames_per_s=rate)
    return PartFound(
        Part.LENGTH, format_elapsed(facts.length_s, 0.01), format_elapsed(wanted, 0.01), not off
    )


def _file_size(facts: OutputFacts, others: Sequence[int]) -> PartFound | None:
    if not facts.size_bytes or not others:
        return None
    usual = float(np.median(np.asarray(others, dtype=float)))
    ok = abs(facts.size_bytes / usual - 1.0) <= SIZE_TOLERANCE
    return PartFound(Part.FILE_SIZE, _megabytes(facts.size_bytes), _megabytes(usual), ok)


def _megabytes(size: float) -> str:
    return f"{short(size / 1e6, 4)} MB"


def _named(part: Part, values: Sequence[str], wanted: str | None) -> PartFound | None:
    if not values or not wanted:
        return None
    ok = any(_family(name) == _family(wanted) for name in values)
    return PartFound(part, " or ".join(values), wanted, ok)


def _family(name: str) -> str:
    plain = re.sub(r"[^a-z0-9]", "", name.lower())
    return next((family[0] for family in _FAMILIES if plain in family), plain)


def _plain(part: Part, value: str | int | None, wanted: str | None) -> PartFound | None:
    if not value or not wanted:
        return None
    return PartFound(part, str(value), wanted, str(value) == wanted)


def _rate(rate: float | None, wanted: float | None) -> PartFound | None:
    if rate is None or wanted is None:
        return None
    ok = abs(rate / float(wanted) - 1.0) <= RATE_TOLERANCE
    return PartFound(Part.FRAME_RATE, short(rate, 5), short(float(wanted), 5), ok)


def _colour(
    facts: OutputFacts, wanted: str | None, others: Sequence[OutputFacts]
) -> PartFound | None:
    """Against the task where it says, else against what most of the others have."""
    if facts.colour is None:
        return None
    if wanted is None:
        tags = [other.colour for other in others if other.colour]
        if not tags:
            return None
        wanted = max(sorted(set(tags)), key=tags.count)
    plain = re.sub(r"[^a-z0-9]", "", wanted.lower())
    ok = plain in re.sub(r"[^a-z0-9]", "", facts.colour.lower())
    return PartFound(Part.COLOUR, facts.colour, wanted, ok)
