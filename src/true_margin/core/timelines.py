"""Timelines: what an edit contains, and its fingerprint.

A fingerprint does not depend on file paths, on markers, or on which app wrote
the file; it does depend on clip order, source ranges, rates, tracks, gaps,
transitions, and effects with their parameters. Times are rationals of a
second, so that no frame is lost to rounding.
"""

from __future__ import annotations

import hashlib
import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from fractions import Fraction
from functools import cached_property, lru_cache


class ItemKind(StrEnum):
    """What stands on a track."""

    CLIP = "clip"
    GAP = "gap"
    TRANSITION = "transition"


@dataclass(frozen=True, slots=True)
class Effect:
    """An effect by name, with its parameters as sorted pairs of text."""

    name: str
    parameters: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True, slots=True)
class Item:
    """One thing on a track; times in seconds.

    Attributes:
        kind: clip, gap or transition.
        media: file name without its folder; the transition's kind; empty for a gap.
        start: where the source range begins; 0 for gaps and transitions.
        duration: how long it lasts; for a transition how far it reaches.
        rate: of the clip's media, in frames per second; 0 where it has none.
        effects: in the order in which they are applied.
    """

    kind: ItemKind
    media: str
    start: Fraction
    duration: Fraction
    rate: Fraction = Fraction(0)
    effects: tuple[Effect, ...] = ()

    @property
    def takes_time(self) -> bool:
        """False for a transition, which lies across its neighbours."""
        return self.kind is not ItemKind.TRANSITION


@dataclass(frozen=True, slots=True)
class Track:
    """Items in their order; ``kind`` is video or audio."""

    kind: str
    items: tuple[Item, ...]


@dataclass(frozen=True)
class Edit:
    """An edit in plain values; make one with ``normal_timeline``."""

    rate: Fraction
    tracks: tuple[Track, ...] = field(default=())

    @cached_property
    def length(self) -> Fraction:
        """Length in seconds: that of the longest track."""
        return max((_track_length(track) for track in self.tracks), default=Fraction(0))

    @cached_property
    def fingerprint(self) -> str:
        """A digest of what it contains, as 64 hexadecimal digits."""
        digest = hashlib.sha256(f"rate {self.rate}\n".encode())
        for track in self.tracks:
            digest.update(f"track {track.kind}\n".encode())
            for item in track.items:
                digest.update(repr(signature(item)).encode())
        return digest.hexdigest()

    @property
    def clips(self) -> int:
        """Number of clips on all tracks."""
        return sum(item.kind is ItemKind.CLIP for track in self.tracks for item in track.items)

    @property
    def effects(self) -> int:
        """Number of effects on all clips."""
        return sum(len(item.effects) for track in self.tracks for item in track.items)

    @property
    def media(self) -> tuple[str, ...]:
        """Names of the media files, each once, in order of appearance."""
        names = (i.media for t in self.tracks for i in t.items if i.kind is ItemKind.CLIP)
        return tuple(dict.fromkeys(names))


def normal_timeline(rate: Fraction, tracks: Iterable[Track]) -> Edit:
    """Make a timeline in its one normal form.

    Writers differ in what does not matter: empty tracks, gaps in two pieces,
    a gap at the end, items of no length. All of that is taken out here.

    Args:
        rate: frames per second, above 0.
        tracks: in their order, lowest first.
    """
    normal = (Track(track.kind, _normal_items(track.items)) for track in tracks)
    return Edit(rate, tuple(track for track in normal if track.items))


def _normal_items(items: Sequence[Item]) -> tuple[Item, ...]:
    kept: list[Item] = []
    for item in items:
        if item.duration == 0:
            continue
        last = kept[-1] if kept else None
        if item.kind is ItemKind.GAP and last is not None and last.kind is ItemKind.GAP:
            kept[-1] = Item(ItemKind.GAP, "", Fraction(0), last.duration + item.duration)
        else:
            kept.append(item)
    if kept and kept[-1].kind is ItemKind.GAP:
        kept.pop()
    return tuple(kept)


def _track_length(track: Track) -> Fraction:
    return sum((item.duration for item in track.items if item.takes_time), Fraction(0))


def signature(item: Item) -> tuple[object, ...]:
    """All that makes an item what it is, in values that are quick to hash and to write."""
    return (
        item.kind.value,
        item.media,
        item.start.numerator,
        item.start.denominator,
        item.duration.numerator,
        item.duration.denominator,
        item.rate.numerator,
        item.rate.denominator,
        tuple((effect.name, effect.parameters) for effect in item.effects),
    )


@lru_cache(maxsize=1024)
def exact_rate(rate: float) -> Fraction:
    """Give the exact rate behind a float: 23.976 is 24000/1001.

    Raises:
        ValueError: not a positive finite number.

    Example:
        >>> exact_rate(29.97)
        Fraction(30000, 1001)
    """
    if not (math.isfinite(rate) and rate > 0):
        raise ValueError(f"rate {rate!r}: a positive number of frames per second is needed")
    nominal = round(rate * 1.001)
    if nominal and abs(rate - nominal * 1000 / 1001) < 0.0045 and abs(rate - round(rate)) > 0.001:
        return Fraction(nominal * 1000, 1001)
    return Fraction(rate).limit_denominator(10_000)


def format_timecode(seconds: Fraction, rate: Fraction) -> str:
    """Write a moment as ``HH:MM:SS:FF``; drop-frame rates as ``HH:MM:SS;FF``.

    Reference:
        SMPTE ST 12-1: drop-frame counting leaves out two frame numbers a minute
        (four at 60/1.001) but each tenth.

    Example:
        >>> format_timecode(Fraction(1001, 500), Fraction(30000, 1001))
        '00:00:02;00'
    """
    frames = round(seconds * rate)
    nominal = round(rate)
    drop = rate.denominator == 1001 and nominal % 30 == 0
    if drop:
        dropped = nominal // 15
        tens, rest = divmod(frames, 600 * nominal - 9 * dropped)
        frames += 9 * dropped * tens
        if rest > dropped:
            frames += dropped * ((rest - dropped) // (60 * nominal - dropped))
    rest, frame = divmod(frames, nominal)
    minutes, second = divmod(rest, 60)
    hours, minute = divmod(minutes, 60)
    return f"{hours:02d}:{minute:02d}:{second:02d}{';' if drop else ':'}{frame:02d}"


@dataclass(frozen=True, slots=True)
class PlacedItem:
    """An item with the moment at which it stands, in seconds."""

    item: Item
    start: Fraction


def placed_items(track: Track) -> list[PlacedItem]:
    """Give the items of a track with the moments at which they stand."""
    at, placed = Fraction(0), []
    for item in track.items:
        placed.append(PlacedItem(item, at))
        at += item.duration if item.takes_time else 0
    return placed


@dataclass(frozen=True, slots=True)
class Block:
    """A stretch of a track as it is drawn; times in seconds.

    Attributes:
        start, length: where it stands.
        clips: how many clips it stands for; 0 for a gap.
        effects: how many effects they carry.
        name: media of the clip, where it is one.
    """

    start: float
    length: float
    clips: int
    effects: int
    name: str


def outline(timeline: Edit, *, most: int = 300) -> tuple[tuple[Block, ...], ...]:
    """Give each track as blocks that can be drawn: clips too thin to see are joined.

    Args:
        timeline: what to draw.
        most: blocks a track at most; clips shorter than 1/most of the whole are
            joined with their neighbours.
    """
    thin = timeline.length / most if most else Fraction(0)
    return tuple(_blocks(track, thin) for track in timeline.tracks)


def _blocks(track: Track, thin: Fraction) -> tuple[Block, ...]:
    blocks: list[Block] = []
    joined: list[PlacedItem] = []

    def close() -> None:
        if joined:
            length = sum((p.item.duration for p in joined), Fraction(0))
            name = joined[0].item.media if len(joined) == 1 else ""
            effects = sum(len(p.item.effects) for p in joined)
            clips = sum(p.item.kind is ItemKind.CLIP for p in joined)
            blocks.append(Block(float(joined[0].start), float(length), clips, effects, name))
            joined.clear()

    for placed in placed_items(track):
        if placed.item.kind is ItemKind.GAP and placed.item.duration >= thin:
            close()
        elif placed.item.takes_time:
            if placed.item.duration >= thin or _length(joined) >= thin:
                close()
            joined.append(placed)
    close()
    return tuple(blocks)


def _length(joined: list[PlacedItem]) -> Fraction:
    # Only ever a few: a block is closed as soon as it can be seen.
    return joined[-1].start + joined[-1].item.duration - joined[0].start if joined else Fraction(0)
