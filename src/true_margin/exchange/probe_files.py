"""What a media probe wrote of an exported file: JSON with ``streams`` and ``format`` objects."""

from __future__ import annotations

import json
import re
from collections.abc import Sequence
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from true_margin.core.errors import CoreError
from true_margin.core.outputs import OutputFacts
from true_margin.core.outside_numbers import read_float, read_ratio

MAX_BYTES = 2_000_000
_DEPTH = re.compile(r"(?:p|le|be)?(9|10|12|14|16)(?:le|be)?$")


class ProbeError(CoreError):
    """The file does not say what an exported file is like; says why."""


_Side = Annotated[int, Field(ge=0, le=1_000_000)]


class _Stream(BaseModel):
    model_config = ConfigDict(extra="ignore", coerce_numbers_to_str=True)

    codec_type: str
    codec_name: str | None = None
    width: _Side | None = None
    height: _Side | None = None
    avg_frame_rate: str | None = None
    r_frame_rate: str | None = None
    bits_per_raw_sample: str | None = None
    pix_fmt: str | None = None
    duration: str | None = None
    color_primaries: str | None = None
    color_transfer: str | None = None
    color_space: str | None = None
    color_range: str | None = None


class _Format(BaseModel):
    model_config = ConfigDict(extra="ignore", coerce_numbers_to_str=True)

    format_name: str | None = None
    duration: str | None = None
    size: str | None = None
    bit_rate: str | None = None


class _Probe(BaseModel):
    model_config = ConfigDict(extra="ignore")

    streams: list[_Stream]
    format: _Format


def read_probe(content: bytes) -> OutputFacts:
    """Read a probe file.

    Raises:
        ProbeError: too large, no JSON, or it names no streams or no length.
    """
    if len(content) > MAX_BYTES:
        raise ProbeError(f"A probe file may have {MAX_BYTES // 1_000_000} MB at most.")
    try:
        document = json.loads(content)
    except (ValueError, RecursionError) as error:
        raise ProbeError("The probe file is not JSON; let the probe write JSON.") from error
    try:
        probe = _Probe.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"]) or "the file"
        raise ProbeError(
            f"The probe file is off at {where}: {first['msg'].lower()}. It needs the objects "
            f"'streams' and 'format', as the usual probe writes them."
        ) from error
    facts = _facts(probe)
    if facts.length_s is None:
        raise ProbeError("The probe file names no length: 'format' needs a duration in seconds.")
    if facts.codec is None:
        raise ProbeError("The probe file names neither a picture nor a sound stream.")
    return facts


def _facts(probe: _Probe) -> OutputFacts:
    picture = _first(probe.streams, "video")
    main = picture or _first(probe.streams, "audio")
    length = _number(probe.format.duration) or _number(main.duration if main else None)
    size, bits = _number(probe.format.size), _number(probe.format.bit_rate)
    return OutputFacts(
        length_s=length,
        size_bytes=None if size is None else int(size),
        containers=tuple((probe.format.format_name or "").split(","))
        if probe.format.format_name
        else (),
        codec=None if main is None else main.codec_name,
        size=_size(picture),
        frame_rate=_rate(picture),
        depth=_depth(picture),
        bit_rate=None if bits is None else bits / 1e6,
        colour=_colour(picture),
    )


def _first(streams: Sequence[_Stream], kind: str) -> _Stream | None:
    return next((stream for stream in streams if stream.codec_type == kind), None)


def _number(text: str | None) -> float | None:
    value = read_float(text or "")
    return value if value is not None and 0 < value < 1e15 else None


def _size(picture: _Stream | None) -> str | None:
    if picture is None or not picture.width or not picture.height:
        return None
    return f"{picture.width}x{picture.height}"


def _rate(picture: _Stream | None) -> float | None:
    for text in (picture.avg_frame_rate, picture.r_frame_rate) if picture else ():
        rate = read_ratio(text or "")
        if rate is not None and 0 < rate < 1e6:
            return float(rate)
    return None


def _depth(picture: _Stream | None) -> int | None:
    if picture is None:
        return None
    bits = _number(picture.bits_per_raw_sample)
    if bits is not None:
        return int(bits)
    if picture.pix_fmt is None:
        return None
    found = _DEPTH.search(picture.pix_fmt)
    return int(found[1]) if found else 8


def _colour(picture: _Stream | None) -> str | None:
    if picture is None:
        return None
    tags = (picture.color_primaries, picture.color_transfer, picture.color_space)
    known: list[Any] = [tag for tag in dict.fromkeys(tags) if tag and tag != "unknown"]
    return " ".join(known) or None
