"""Timelines from files: OpenTimelineIO (``.otio``, ``.otioz``) and CMX 3600 (``.edl``)."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Iterator
from fractions import Fraction
from functools import lru_cache
from pathlib import PurePosixPath
from typing import Any
from urllib.parse import unquote, urlsplit

import opentimelineio as otio

from true_margin.core.errors import CoreError
from true_margin.core.timelines import (
    Edit,
    Effect,
    Item,
    ItemKind,
    Track,
    exact_rate,
    normal_timeline,
)
from true_margin.exchange.archives import ArchiveError, unpack

MAX_BYTES = 100_000_000
MAX_EXPANDED_BYTES = 200_000_000
MOST_PACKED = 20_000
"""Media files may lie beside the timeline; they are left alone."""
FORMATS = ("otio", "otioz", "edl")
DEFAULT_EDL_RATE = 25.0
_DEPTH = 12
_EVENT = re.compile(r"^\s*\d{3,6}\s")
_TIMECODE = re.compile(r"^\d{2}:[0-5]\d:[0-5]\d[:;.]\d{2}$")
_INF = re.compile(r'"(?:[^"\\]|\\.)*"|(?P<inf>\bInf\b)')
"""The library also takes ``Inf`` for infinity, which Python's reader does not know."""
_UNITY = 1e-9


class TimelineError(CoreError):
    """The file cannot be read as a timeline; says what is wrong and what to do."""


def read_timeline(name: str, content: bytes, *, rate: float | None = None) -> Edit:
    """Read a timeline from a file.

    Args:
        name: file name; only its ending matters.
        content: the file.
        rate: frames per second of an ``.edl``, which does not say it itself; 25 unless given,
            30000/1001 where it says drop-frame.

    Returns:
        The timeline in its normal form.

    Raises:
        TimelineError: too large, of another format, broken, or without a clip.
    """
    if len(content) > MAX_BYTES:
        raise TimelineError(f"The file is larger than {MAX_BYTES // 1_000_000} MB.")
    ending = PurePosixPath(name.lower()).suffix.lstrip(".")
    if ending not in FORMATS:
        raise TimelineError(f"{name} is not a timeline file: use .otio, .otioz or .edl.")
    if ending == "otioz":
        content = _unpack(content)
    document = _read_edl(content, rate) if ending == "edl" else _read_otio(content)
    timeline = _convert(document)
    if timeline.clips == 0:
        raise TimelineError("The timeline holds no clip, so there is nothing to compare.")
    return timeline


def _unpack(content: bytes) -> bytes:
    """Take ``content.otio`` out of the archive; nothing else in it is touched."""
    name = "content.otio"
    try:
        files = unpack(
            content,
            lambda entry: name if entry == name else None,
            most_files=MOST_PACKED,
            most_bytes=MAX_EXPANDED_BYTES,
        )
    except ArchiveError as error:
        raise TimelineError(f"The file cannot be opened: {error.reason}.") from error
    if name not in files:
        raise TimelineError("The archive holds no content.otio; is it an .otioz?")
    return files[name]


def _text(content: bytes) -> str:
    try:
        return content.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise TimelineError("The file is not UTF-8 text, so it is no timeline.") from None


def _read_otio(content: bytes) -> otio.schema.Timeline:
    text = _text(content)
    # Python's reader first: the library's own is native code that deep nesting would crash.
    try:
        json.loads(_INF.sub(_whole_infinity, text) if "Inf" in text else text)
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise TimelineError(f"The file is not JSON ({where}: {error.msg}).") from error
    except RecursionError as error:
        raise TimelineError("The file is nested too deeply to be a timeline.") from error
    try:
        document = otio.adapters.read_from_string(text, "otio_json")
    except Exception as error:
        raise TimelineError(f"The file is not OpenTimelineIO: {_first_line(error)}") from error
    if not isinstance(document, otio.core.SerializableObject):
        raise TimelineError("The file is not OpenTimelineIO: it is JSON of another kind.")
    if not isinstance(document, otio.schema.Timeline):
        kind = type(document).__name__
        raise TimelineError(f"The file holds a {kind}, not a timeline; export the whole timeline.")
    return document


def _whole_infinity(found: re.Match[str]) -> str:
    return "Infinity" if found["inf"] else found[0]


def _read_edl(content: bytes, rate: float | None) -> otio.schema.Timeline:
    text = _text(content)
    drop = any(
        "DROP FRAME" in line and "NON" not in line
        for line in text.upper().splitlines()
        if line.startswith("FCM")
    )
    _check_timecodes(text)
    given = rate if rate is not None else (30000 / 1001 if drop else DEFAULT_EDL_RATE)
    try:
        exact = float(exact_rate(given))
        document = otio.adapters.read_from_string(text, "cmx_3600", rate=exact)
    except Exception as error:
        raise TimelineError(
            f"The edit list cannot be read at {given:g} frames/s: {_first_line(error)}"
        ) from error
    if not isinstance(document, otio.schema.Timeline):
        raise TimelineError("The edit list holds several timelines; export one.")
    return document


def _check_timecodes(text: str) -> None:
    """Look at the times of each event; the library reads some broken ones as others."""
    for number, line in enumerate(text.splitlines(), start=1):
        if _EVENT.match(line):
            broken = [c for c in line.split()[-4:] if ":" in c and not _TIMECODE.match(c)]
            if broken:
                raise TimelineError(
                    f"Line {number}: {broken[0][:20]!r} is no timecode; one looks like 01:02:03:04."
                )


def _first_line(error: Exception) -> str:
    lines = str(error).strip().splitlines()
    return lines[0][:200] if lines else type(error).__name__


def _convert(document: otio.schema.Timeline) -> Edit:
    rate = _rate_of(document)
    layers = list(document.tracks)
    tracks = [
        Track(_kind_of(layer), tuple(_items(_children_of(layer), _DEPTH, f"track {number}")))
        for number, layer in enumerate(layers, start=1)
    ]
    return normal_timeline(rate, tracks)


def _kind_of(layer: Any) -> str:
    audio = isinstance(layer, otio.schema.Track) and layer.kind == otio.schema.TrackKind.Audio
    return "audio" if audio else "video"


def _children_of(layer: Any) -> Iterable[Any]:
    """What stands on a layer of a stack: a track's items; anything else stands there alone."""
    return layer if isinstance(layer, otio.schema.Track) else [layer]


def _rate_of(document: otio.schema.Timeline) -> Fraction:
    """Rate of the timeline: its start time's, else that of the first clip."""
    try:
        if document.global_start_time is not None:
            return exact_rate(document.global_start_time.rate)
        for clip in document.find_clips():
            return exact_rate(clip.trimmed_range().duration.rate)
    except Exception as error:
        reason = f"The rate of the timeline cannot be told: {_first_line(error)}."
        raise TimelineError(reason) from error
    raise TimelineError("The timeline holds no clip, so there is nothing to compare.")


def _items(children: Iterable[Any], depth: int, where: str) -> Iterator[Item]:
    """Turn what stands on a track into items.

    Args:
        children: of the track.
        depth: how many timelines inside timelines may follow.
        where: the track's place, for errors.

    Raises:
        TimelineError: something on it cannot be read; names its place.
    """
    for number, child in enumerate(children, start=1):
        here = f"{where}, item {number}"
        try:
            yield _item(child, depth, here)
        except TimelineError:
            raise
        except Exception as error:
            # The library raises whatever its native code does; a file may hold anything.
            name = str(getattr(child, "name", "") or type(child).__name__)[:60]
            raise TimelineError(
                f"{here[0].upper()}{here[1:]} ({name}) cannot be read: {_first_line(error)}."
            ) from error


def _item(child: Any, depth: int, where: str) -> Item:
    if isinstance(child, otio.schema.Transition):
        reach = _seconds(child.in_offset) + _seconds(child.out_offset)
        kind = child.transition_type or child.name or "transition"
        return Item(ItemKind.TRANSITION, kind, Fraction(0), reach)
    if isinstance(child, otio.schema.Gap) or not child.enabled:
        # A clip that is switched off plays as nothing.
        return Item(ItemKind.GAP, "", Fraction(0), _seconds(child.duration()))
    if isinstance(child, otio.schema.Clip):
        return _clip(child)
    return _nested(child, depth, where)


def _clip(clip: otio.schema.Clip) -> Item:
    range_ = clip.trimmed_range()
    return Item(
        ItemKind.CLIP,
        _media(clip),
        _seconds(range_.start_time),
        _seconds(range_.duration),
        exact_rate(range_.duration.rate),
        tuple(_effects(clip)),
    )


def _nested(child: Any, depth: int, where: str) -> Item:
    """A timeline inside the timeline: known by what it holds."""
    if depth == 0:
        raise TimelineError(f"{where[0].upper()}{where[1:]}: timelines are nested too deeply.")
    layers = child if isinstance(child, otio.schema.Stack) else [child]
    inner = normal_timeline(
        Fraction(1),
        [
            Track("video", tuple(_items(_children_of(layer), depth - 1, f"{where}, track {n}")))
            for n, layer in enumerate(layers, start=1)
        ],
    )
    range_ = child.trimmed_range()
    return Item(
        ItemKind.CLIP,
        f"nested {inner.fingerprint[:12]}",
        _seconds(range_.start_time),
        _seconds(range_.duration),
        exact_rate(range_.duration.rate),
        tuple(_effects(child)),
    )


def _media(clip: otio.schema.Clip) -> str:
    reference = clip.media_reference
    url = getattr(reference, "target_url", None) or getattr(reference, "target_url_base", None)
    if url:
        path = unquote(urlsplit(url).path or url) if "://" in url else unquote(url)
        name = path.replace("\\", "/").rstrip("/").rsplit("/", 1)[-1]
        if name:
            return name
    return str((reference.name if reference is not None else "") or clip.name or "unnamed")


def _effects(item: Any) -> Iterator[Effect]:
    effects = item.effects
    # By place: the library's own iterator costs more than all else here.
    for effect in (effects[place] for place in range(len(effects))):
        name = effect.effect_name or effect.name or type(effect).__name__
        parameters = dict(_flat("", effect.metadata))
        if isinstance(effect, otio.schema.LinearTimeWarp):
            if abs(effect.time_scalar - 1.0) < _UNITY and not parameters:
                continue
            parameters["speed"] = _plain(effect.time_scalar)
        if getattr(effect, "enabled", True):
            yield Effect(name, tuple(sorted(parameters.items())))


def _flat(prefix: str, value: Any) -> Iterator[tuple[str, str]]:
    """Parameters as pairs: nested ones by a dotted name, numbers in one form."""
    if isinstance(value, dict) or hasattr(value, "items"):
        for key, inner in value.items():
            yield from _flat(f"{prefix}.{key}" if prefix else str(key), inner)
    elif not isinstance(value, (str, bytes)) and hasattr(value, "__iter__"):
        for place, inner in enumerate(value):
            yield from _flat(f"{prefix}[{place}]", inner)
    else:
        yield prefix, _plain(value)


def _plain(value: Any) -> str:
    # 1 and 1.0 are one number, whoever wrote it.
    if isinstance(value, (int, float)) and not isinstance(value, bool):
        return f"{value:.10g}"
    return str(value)


def _seconds(time: otio.opentime.RationalTime) -> Fraction:
    return _exact_seconds(time.value, time.rate)


# Lengths come again and again in an edit, and a rational costs more than a look.
@lru_cache(maxsize=65_536)
def _exact_seconds(value: float, rate: float) -> Fraction:
    exact = exact_rate(rate)
    if value.is_integer():
        return Fraction(int(value) * exact.denominator, exact.numerator)
    return Fraction(value).limit_denominator(1_000_000) / exact
