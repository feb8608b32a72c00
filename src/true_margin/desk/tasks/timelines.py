"""Timelines: files as saved on each machine, and whether they are the same edit."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from functools import lru_cache
from typing import Any
from uuid import UUID

from true_margin.core.errors import CoreError
from true_margin.core.timeline_differences import compare_timelines
from true_margin.core.timelines import Edit, format_timecode, outline
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.exchange.apart import TIMELINE, read_apart
from true_margin.exchange.timeline_files import read_timeline
from true_margin.store import records, shootouts, timelines
from true_margin.store.database import Database

MOST_MEDIA = 500
SHOWN = 500
"""Differences that are listed; the rest is counted."""


@dataclass(frozen=True, slots=True)
class BlockView:
    """A stretch of a track as it is drawn; times in seconds, ``clips`` 0 for none."""

    start: float
    length: float
    clips: int
    effects: int
    name: str


@dataclass(frozen=True, slots=True)
class TrackLine:
    """A track as it is drawn; ``kind`` is video or audio."""

    kind: str
    blocks: tuple[BlockView, ...]


@dataclass(frozen=True, slots=True)
class TimelineFacts:
    """What was read of a file.

    ``cuts`` are those of the first track; None in files that were kept before they were
    counted. ``media_names`` holds the first of them.
    """

    rate: str
    length_s: float
    length: str
    clips: int
    effects: int
    media: int
    tracks: tuple[TrackLine, ...]
    cuts: int | None
    media_names: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class FileState:
    """The file of one setup against the reference: same, differs, or unknown without one."""

    setup_id: UUID | None
    label: str
    state: str
    file: records.TimelineFile | None


@dataclass(frozen=True, slots=True)
class TimelineSheet:
    """A timeline, its reference file drawn, and the state of every setup."""

    id: UUID
    name: str
    reference: records.TimelineFile | None
    facts: TimelineFacts | None
    setups: tuple[FileState, ...]


@dataclass(frozen=True, slots=True)
class DifferenceRow:
    """One difference; ``here`` and ``there`` say what stands on each side."""

    change: str
    track: int
    at: str
    name: str
    here: str
    there: str


@dataclass(frozen=True, slots=True)
class DifferenceView:
    """What is in one file and not in the other; ``more`` counts what is not listed."""

    here: str
    there: str
    rows: tuple[DifferenceRow, ...]
    more: int


def reference_of(book: Book, timeline_id: UUID) -> records.TimelineFile | None:
    """The file that others are held against: the newest without a setup, else the first."""
    own = [file for file in book.timeline_files if file.timeline_id == timeline_id]
    kept = [file for file in own if file.setup_id is None]
    return kept[-1] if kept else next(iter(own), None)


def newest_of(book: Book, timeline_id: UUID, setup_id: UUID) -> records.TimelineFile | None:
    """The file of a setup that counts: its newest."""
    key = (timeline_id, setup_id)
    own = [file for file in book.timeline_files if (file.timeline_id, file.setup_id) == key]
    return own[-1] if own else None


def differing(book: Book) -> tuple[tuple[UUID, UUID], ...]:
    """The (timeline, setup) pairs whose file is not the same edit as the reference."""
    found = []
    for timeline_id in dict.fromkeys(file.timeline_id for file in book.timeline_files):
        reference = reference_of(book, timeline_id)
        for setup in book.setups:
            file = newest_of(book, timeline_id, setup.id)
            if file and reference and file.fingerprint != reference.fingerprint:
                found.append((timeline_id, setup.id))
    return tuple(found)


def show_timeline(database: Database, timeline_id: UUID) -> TimelineSheet:
    """Give a timeline with its reference drawn and the state of every setup."""
    with transaction(database) as session:
        name = timelines.timeline_name(session, timeline_id)
        slug = shootouts.slug_of(session, timelines.timeline_home(session, timeline_id))
    book = SHELF.take(database, slug)
    reference = reference_of(book, timeline_id)
    return TimelineSheet(
        timeline_id,
        name,
        reference,
        None if reference is None else _facts(reference.facts),
        tuple(_state(book, timeline_id, setup, reference) for setup in book.setups),
    )


def _state(
    book: Book, timeline_id: UUID, setup: records.Setup, reference: records.TimelineFile | None
) -> FileState:
    file = newest_of(book, timeline_id, setup.id)
    if file is None or reference is None:
        return FileState(setup.id, setup.label, "unknown", None)
    same = file.fingerprint == reference.fingerprint
    return FileState(setup.id, setup.label, "same" if same else "differs", file)


def add_file(
    database: Database, timeline_id: UUID, fields: Mapping[str, Any], who: str
) -> TimelineSheet:
    """Read and keep a file of a timeline.

    ``fields`` holds ``name``, ``content``, ``setup_id`` (None for the reviewer's own)
    and ``edl_rate``.

    Raises:
        RefusedError: it cannot be read; nothing is stored.
    """
    content: bytes = fields["content"]
    timeline = _read(fields["name"], content, fields.get("edl_rate"))
    with transaction(database) as session:
        home = timelines.timeline_home(session, timeline_id)
        shootouts.bump_revision(session, home)
        slug = shootouts.slug_of(session, home)
        if fields["setup_id"] is not None:
            _check_setup(SHELF.take(database, slug), fields["setup_id"])
        timelines.add_file(session, stored_file(timeline_id, timeline, fields, who))
        if fields["setup_id"] is None:
            timelines.set_length(session, timeline_id, float(timeline.length))
    return show_timeline(database, timeline_id)


def stored_file(
    timeline_id: UUID, timeline: Edit, fields: Mapping[str, Any], who: str
) -> dict[str, Any]:
    """Give the columns of a file that was read."""
    return {
        **fields,
        "timeline_id": timeline_id,
        "size": len(fields["content"]),
        "fingerprint": timeline.fingerprint,
        "facts": _facts_of(timeline),
        "who": who,
        "added_at": datetime.now(UTC),
    }


def _read(name: str, content: bytes, rate: float | None) -> Edit:
    try:
        return read_apart(TIMELINE, read_timeline, name, content, rate=rate)
    except CoreError as error:
        raise RefusedError("file", error.reason) from error


def _check_setup(book: Book, setup_id: UUID) -> None:
    if setup_id not in book.setup_index:
        raise RefusedError("setup_id", "This setup is not in this shootout's line-up.")


def _facts_of(timeline: Edit) -> dict[str, Any]:
    return {
        "rate": f"{float(timeline.rate):.3f}".rstrip("0").rstrip("."),
        "length_s": float(timeline.length),
        "length": format_timecode(timeline.length, timeline.rate),
        "clips": timeline.clips,
        "effects": timeline.effects,
        "cuts": sum(max(0, len(track.items) - 1) for track in timeline.tracks[:1]),
        "media": len(timeline.media),
        "media_names": list(timeline.media[:MOST_MEDIA]),
        "tracks": [
            {
                "kind": track.kind,
                "blocks": [[b.start, b.length, b.clips, b.effects, b.name] for b in blocks],
            }
            for track, blocks in zip(timeline.tracks, outline(timeline), strict=True)
        ],
    }


def _facts(stored: Mapping[str, Any]) -> TimelineFacts:
    tracks = tuple(
        TrackLine(track["kind"], tuple(BlockView(*block) for block in track["blocks"]))
        for track in stored["tracks"]
    )
    names = tuple(stored.get("media_names", ()))
    return TimelineFacts(**{"cuts": None, **stored, "tracks": tracks, "media_names": names})


def show_difference(
    database: Database, timeline_id: UUID, one: UUID, other: UUID
) -> DifferenceView:
    """List what is in one file of a timeline and not in the other."""
    with transaction(database) as session:
        slug = shootouts.slug_of(session, timelines.timeline_home(session, timeline_id))
    book = SHELF.take(database, slug)
    files = {file.id: file for file in book.timeline_files if file.timeline_id == timeline_id}
    if one not in files or other not in files:
        raise NotFoundError("One of these files does not belong to this timeline.")
    read = [_timeline(database, files[key]) for key in (one, other)]
    found = compare_timelines(*read)
    rate = read[0].rate
    rows = tuple(
        DifferenceRow(d.change.value, d.track, format_timecode(d.at, rate), d.name, d.here, d.there)
        for d in found[:SHOWN]
    )
    here, there = (_label(book, files[key]) for key in (one, other))
    return DifferenceView(here, there, rows, max(0, len(found) - SHOWN))


def _label(book: Book, file: records.TimelineFile) -> str:
    if file.setup_id is None:
        return f"{file.name}, as kept"
    return f"{file.name} on {book.setups[book.setup_index[file.setup_id]].label}"


def _timeline(database: Database, file: records.TimelineFile) -> Edit:
    return _parsed(database, file.id, file.name, file.edl_rate)


# A file never changes, and one difference is mostly followed by a look at the next.
@lru_cache(maxsize=16)
def _parsed(database: Database, file_id: UUID, name: str, rate: float | None) -> Edit:
    with transaction(database) as session:
        content = timelines.file_content(session, file_id)
    return _read(name, content, rate)
