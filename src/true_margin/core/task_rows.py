"""What a task may say of itself: operations, events, export settings, presets."""

from __future__ import annotations

import re
from collections.abc import Mapping
from types import MappingProxyType
from typing import Any

from true_margin.core.choices import Operation, PlaybackQuality, TaskMeasure
from true_margin.core.errors import QuantityError
from true_margin.core.numerals import PLAIN, Numerals
from true_margin.core.specs import CellKind, Spec, SpecValue, parse_spec, say_spec

OPERATIONS = tuple(Operation)
PLAYBACK = Operation.PLAYBACK
OBSERVATION = TaskMeasure.OBSERVATION
"""Measure of a task that is looked at, not timed; it stands in no figure."""
EVENTS = (
    "key press",
    "dialog closed",
    "first byte",
    "progress at 100 %",
    "file closed",
    "window ready",
)
"""Between which two of them a run is timed; other words are allowed."""
QUALITIES = tuple(PlaybackQuality)
"""The best preview quality that was held without dropped frames."""

SETTINGS = (
    Spec("codec", "Codec", names=("video codec", "format")),
    Spec("container", "Container"),
    Spec("size", "Size"),
    Spec("frame_rate", "Frame rate", kind=CellKind.NUMBER, unit="frames/s", most=1000),
    Spec("depth", "Bit depth", kind=CellKind.WHOLE, unit="bit", least=1, most=32),
    Spec(
        "rate_control",
        "Rate control",
        choices=("constant quality", "constant bit rate", "variable bit rate"),
    ),
    Spec("bit_rate", "Bit rate", kind=CellKind.NUMBER, unit="Mbit/s", most=1e6),
    Spec("passes", "Passes", kind=CellKind.WHOLE, least=1, most=10),
    Spec("encoder", "Encoder", kind=CellKind.CHOICE, choices=("hardware", "software")),
    Spec("colour", "Colour"),
    Spec("other", "Anything else", kind=CellKind.LONG),
)
"""Export settings, field by field."""
SIZES: Mapping[str, str] = MappingProxyType(
    {
        **dict.fromkeys(("720p", "hd"), "1280x720"),
        **dict.fromkeys(("1080p", "1080i", "fullhd", "fhd"), "1920x1080"),
        **dict.fromkeys(("1440p", "qhd"), "2560x1440"),
        **dict.fromkeys(("2160p", "4k", "uhd", "4kuhd", "uhd4k"), "3840x2160"),
        **dict.fromkeys(("dci4k", "4kdci"), "4096x2160"),
        **dict.fromkeys(("4320p", "8k", "8kuhd", "uhd8k"), "7680x4320"),
    }
)
"""Sizes of pictures by their common names, in pixels; 4K is that of screens."""
_SIZE = re.compile(r"^(\d{2,5})\s*[x×]\s*(\d{2,5})$", re.IGNORECASE)

PRESETS: Mapping[str, Mapping[str, str]] = MappingProxyType(
    {
        "Big screen, 50 frames": {
            "codec": "HEVC",
            "container": "mp4",
            "size": "3840x2160",
            "frame_rate": "50",
            "depth": "10",
            "rate_control": "variable bit rate",
            "bit_rate": "60",
            "encoder": "hardware",
            "colour": "bt709",
        },
        "Village web page": {
            "codec": "H.264",
            "container": "mp4",
            "size": "1920x1080",
            "frame_rate": "25",
            "depth": "8",
            "rate_control": "variable bit rate",
            "bit_rate": "12",
            "encoder": "hardware",
            "colour": "bt709",
        },
        "Upright for phones": {
            "codec": "H.264",
            "container": "mp4",
            "size": "1080x1920",
            "frame_rate": "25",
            "depth": "8",
            "rate_control": "variable bit rate",
            "bit_rate": "12",
            "encoder": "hardware",
            "colour": "bt709",
        },
        "Keep for years, software": {
            "codec": "H.264",
            "container": "mkv",
            "size": "3840x2160",
            "frame_rate": "25",
            "depth": "10",
            "rate_control": "constant quality",
            "passes": "1",
            "encoder": "software",
            "colour": "bt709",
        },
    }
)
"""Settings to start from, as they would be typed."""


def read_settings(
    known: Mapping[str, Any], typed: Mapping[str, str | None], signs: Numerals = PLAIN
) -> dict[str, SpecValue]:
    """Lay typed export settings over the known ones; an empty one is taken back.

    Raises:
        QuantityError: no such setting, or one that its field cannot hold; begins with
            the setting's title.
    """
    by_field = {spec.field: spec for spec in SETTINGS}
    found = dict(known)
    for field, text in typed.items():
        if field not in by_field:
            raise QuantityError(f"{field}: there is no such export setting")
        value = parse_spec(by_field[field], text or "", signs)
        if field == "size" and value is not None:
            value = picture_size(str(value))
        if value is None:
            found.pop(field, None)
        else:
            found[field] = value
    return {spec.field: found[spec.field] for spec in SETTINGS if spec.field in found}


def picture_size(text: str) -> str:
    """Read a picture size, typed as width by height or by its common name.

    Raises:
        QuantityError: it is neither.

    Example:
        >>> picture_size("UHD"), picture_size("1920 × 1080")
        ('3840x2160', '1920x1080')
    """
    named = SIZES.get("".join(text.lower().split()))
    if named is not None:
        return named
    match = _SIZE.match(text)
    if match is None:
        raise QuantityError(
            f"Size: {text!r} is no picture size; type it like 1920x1080, 1080p or 4K"
        )
    return f"{match[1]}x{match[2]}"


def settings_line(settings: Mapping[str, Any]) -> str:
    """Write export settings as one readable line; empty where nothing is set.

    Example:
        >>> settings_line({"codec": "HEVC", "size": "3840x2160", "frame_rate": 50.0,
        ...                "depth": 10, "bit_rate": 60.0, "encoder": "hardware"})
        '3840x2160 at 50 frames/s, HEVC, 10 bit, 60 Mbit/s, hardware encoder'
    """
    text = {field: say_spec(value) for field, value in settings.items()}
    rate = f"{text['frame_rate']} frames/s" if "frame_rate" in text else ""
    codec = " in ".join(text[f] for f in ("codec", "container") if f in text)
    bits = f"{text['bit_rate']} Mbit/s" if "bit_rate" in text else ""
    parts = [
        " at ".join(part for part in (text.get("size", ""), rate) if part),
        codec,
        f"{text['depth']} bit" if "depth" in text else "",
        " ".join(part for part in (text.get("rate_control", ""), bits) if part),
        _passes(text.get("passes")),
        f"{text['encoder']} encoder" if "encoder" in text else "",
        f"colour {text['colour']}" if "colour" in text else "",
        text.get("other", ""),
    ]
    return ", ".join(part for part in parts if part)


def _passes(text: str | None) -> str:
    if text is None:
        return ""
    return f"{text} pass" if text == "1" else f"{text} passes"
