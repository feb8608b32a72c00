"""What is in one timeline and not in the other, in words with timecodes."""

from __future__ import annotations

from bisect import bisect_left
from collections import defaultdict, deque
from dataclasses import dataclass
from enum import StrEnum
from fractions import Fraction
from itertools import pairwise

from true_margin.core.numerals import short, trimmed
from true_margin.core.timelines import (
    Edit,
    Item,
    ItemKind,
    PlacedItem,
    format_timecode,
    placed_items,
    signature,
)
from true_margin.core.wording import count_of


class Change(StrEnum):
    """How two timelines differ at one place."""

    RATE = "rate changed"
    TRACK = "track missing"
    MISSING = "missing"
    ADDED = "added"
    MOVED = "moved"
    TRIMMED = "trimmed"
    EFFECTS = "effects changed"
    GAP = "gap changed"


@dataclass(frozen=True, slots=True)
class EditDifference:
    """One difference; ``here`` and ``there`` say what stands on each side.

    Attributes:
        change: what kind of difference it is.
        track: number of the track, from 1; 0 for the whole timeline.
        at: moment on the first timeline (the second, where the first lacks it), in seconds.
        name: of the clip, track or transition.
        here, there: what stands in the first and in the second, in words.
    """

    change: Change
    track: int
    at: Fraction
    name: str
    here: str
    there: str


def compare_timelines(one: Edit, other: Edit) -> tuple[EditDifference, ...]:
    """List what is in one timeline and not in the other.

    Items that are equal are matched in order, and out of order as moved; what
    is left is matched by its media between the same neighbours. The cost grows
    as n log n in the number of items.

    Returns:
        Differences by track and moment; empty where both have one fingerprint.
    """
    found: list[EditDifference] = []
    if one.rate != other.rate:
        here, there = f"{_rate(one.rate)} frames/s", f"{_rate(other.rate)} frames/s"
        found.append(EditDifference(Change.RATE, 0, Fraction(0), "timeline", here, there))
    for place in range(max(len(one.tracks), len(other.tracks))):
        if place >= len(one.tracks) or place >= len(other.tracks):
            found.append(_lone_track(one, other, place))
        else:
            found += _compare_tracks(one, other, place)
    return tuple(found)


def _rate(rate: Fraction) -> str:
    return trimmed(float(rate), 3)


def _lone_track(one: Edit, other: Edit, place: int) -> EditDifference:
    here = place < len(one.tracks)
    track = (one if here else other).tracks[place]
    words = f"{track.kind} track of {count_of(len(track.items), 'item')}"
    sides = (words, "no such track") if here else ("no such track", words)
    return EditDifference(Change.TRACK, place + 1, Fraction(0), f"track {place + 1}", *sides)


def _compare_tracks(one: Edit, other: Edit, place: int) -> list[EditDifference]:
    ours, theirs = placed_items(one.tracks[place]), placed_items(other.tracks[place])
    pairs = _equal_pairs(ours, theirs)
    anchors = _longest_rising(pairs)
    moved = sorted(set(pairs) - set(anchors))
    found = [_moved(one, ours[i], theirs[j], place) for i, j in moved]
    matched = {i for i, _ in pairs}, {j for _, j in pairs}
    edges = [(-1, -1), *anchors, (len(ours), len(theirs))]
    for (i, j), (next_i, next_j) in pairwise(edges):
        left = [ours[k] for k in range(i + 1, next_i) if k not in matched[0]]
        right = [theirs[k] for k in range(j + 1, next_j) if k not in matched[1]]
        found += _compare_rest(one, left, right, place)
    return sorted(found, key=lambda difference: difference.at)


def _equal_pairs(ours: list[PlacedItem], theirs: list[PlacedItem]) -> list[tuple[int, int]]:
    """Pair equal items: the first with the first, the second with the second."""
    waiting: defaultdict[tuple[object, ...], deque[int]] = defaultdict(deque)
    for j, placed in enumerate(theirs):
        waiting[signature(placed.item)].append(j)
    pairs = []
    for i, placed in enumerate(ours):
        queue = waiting.get(signature(placed.item))
        if queue:
            pairs.append((i, queue.popleft()))
    return pairs


def _longest_rising(pairs: list[tuple[int, int]]) -> list[tuple[int, int]]:
    """The longest chain of pairs in order on both sides (Schensted 1961)."""
    tails: list[int] = []
    ends: list[int] = []
    before: list[int] = []
    for place, (_, j) in enumerate(pairs):
        at = bisect_left(tails, j)
        before.append(ends[at - 1] if at else -1)
        if at == len(tails):
            tails.append(j)
            ends.append(place)
        else:
            tails[at], ends[at] = j, place
    chain = []
    place = ends[-1] if ends else -1
    while place >= 0:
        chain.append(pairs[place])
        place = before[place]
    return chain[::-1]


def _compare_rest(
    one: Edit, left: list[PlacedItem], right: list[PlacedItem], place: int
) -> list[EditDifference]:
    """Match what is left between two anchors by kind and media, in order."""
    waiting: defaultdict[tuple[ItemKind, str], deque[PlacedItem]] = defaultdict(deque)
    for placed in right:
        waiting[placed.item.kind, placed.item.media].append(placed)
    found = []
    for placed in left:
        same = waiting.get((placed.item.kind, placed.item.media))
        if same:
            found.append(_changed(one, placed, same.popleft(), place))
        else:
            words = _words(one, placed)
            found.append(_difference(Change.MISSING, placed, place, words, "not there"))
    for placed in (p for queue in waiting.values() for p in queue):
        words = _words(one, placed)
        found.append(_difference(Change.ADDED, placed, place, "not there", words))
    return found


def _difference(
    change: Change, placed: PlacedItem, place: int, here: str, there: str
) -> EditDifference:
    name = placed.item.media or placed.item.kind.value
    return EditDifference(change, place + 1, placed.start, name, here, there)


def _moved(one: Edit, here: PlacedItem, there: PlacedItem, place: int) -> EditDifference:
    words = (f"at {format_timecode(each.start, one.rate)}" for each in (here, there))
    return _difference(Change.MOVED, here, place, *words)


def _changed(one: Edit, here: PlacedItem, there: PlacedItem, place: int) -> EditDifference:
    if here.item.kind is ItemKind.GAP:
        change = Change.GAP
    elif (here.item.start, here.item.duration) != (there.item.start, there.item.duration):
        change = Change.TRIMMED
    elif here.item.rate != there.item.rate:
        rates = (f"{_rate(each.item.rate)} frames/s" for each in (here, there))
        return _difference(Change.RATE, here, place, *rates)
    else:
        effects = (_effect_words(each.item) for each in (here, there))
        return _difference(Change.EFFECTS, here, place, *effects)
    return _difference(change, here, place, _words(one, here), _words(one, there))


def _words(one: Edit, placed: PlacedItem) -> str:
    item, rate = placed.item, one.rate
    frames = item.duration * rate
    length = f"{short(float(frames))} frames"
    if item.kind is ItemKind.GAP:
        return f"a gap of {length} at {format_timecode(placed.start, rate)}"
    if item.kind is ItemKind.TRANSITION:
        return f"a {item.media} over {length} at {format_timecode(placed.start, rate)}"
    source = item.rate or rate
    begin, end = item.start, item.start + item.duration
    return (
        f"{format_timecode(begin, source)} to {format_timecode(end, source)} of its media, "
        f"{length}, at {format_timecode(placed.start, rate)}"
    )


def _effect_words(item: Item) -> str:
    if not item.effects:
        return "no effects"
    return "; ".join(
        effect.name
        + (f" ({', '.join(f'{k} {v}' for k, v in effect.parameters)})" if effect.parameters else "")
        for effect in item.effects
    )
