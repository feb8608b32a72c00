"""Timelines brought in for setups: same, differs, unknown, and what differs."""

from __future__ import annotations

from typing import Any
from uuid import UUID, uuid4

import opentimelineio as otio
import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.run_sheet.sheet import show_sheet
from true_margin.desk.tasks import timelines
from true_margin.store import records
from true_margin.store.database import Database


def edit(*frames: int, folder: str = "file:///media") -> bytes:
    """A file of one track with one clip for each length."""
    document = otio.schema.Timeline("edit")
    document.global_start_time = otio.opentime.RationalTime(0, 25)
    track = otio.schema.Track(kind="Video")
    for place, length in enumerate(frames):
        track.append(
            otio.schema.Clip(
                media_reference=otio.schema.ExternalReference(f"{folder}/take{place}.mov"),
                source_range=otio.opentime.TimeRange(
                    otio.opentime.RationalTime(0, 25), otio.opentime.RationalTime(length, 25)
                ),
            )
        )
    document.tracks.append(track)
    content: bytes = document.to_json_string().encode()
    return content


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Timelines")
    bench.task("Film, export", timeline="Film")
    return bench


def film(bench: Bench) -> UUID:
    book = SHELF.take(bench.database, bench.slug)
    return next(timeline.id for timeline in book.timelines if timeline.name == "Film")


def bring(
    bench: Bench, content: bytes, setup: str | None = None, **more: Any
) -> timelines.TimelineSheet:
    fields = {
        "name": "film.otio",
        "content": content,
        "edl_rate": None,
        "setup_id": None if setup is None else bench.setups[setup],
        **more,
    }
    return timelines.add_file(bench.database, film(bench), fields, "Marit")


def states(sheet: timelines.TimelineSheet) -> dict[str, str]:
    return {setup.label: setup.state for setup in sheet.setups}


def test_same_differs_and_unknown(bench: Bench) -> None:
    assert states(timelines.show_timeline(bench.database, film(bench))) == {
        "A": "unknown",
        "B": "unknown",
    }
    kept = bring(bench, edit(100, 50, 25))
    assert kept.facts is not None
    assert (kept.facts.length, kept.facts.clips, kept.facts.rate) == ("00:00:07:00", 3, "25")
    assert states(bring(bench, edit(100, 50, 25, folder="D:\\other"), "A")) == {
        "A": "same",
        "B": "unknown",
    }
    assert states(bring(bench, edit(100, 49, 25), "B")) == {"A": "same", "B": "differs"}
    line = next(
        each for each in show_sheet(bench.database, bench.slug).stages if each.stage == "tasks"
    )
    assert line.todo == ("1 edit differs",)


def test_the_newest_file_of_a_setup_counts_and_the_earlier_stays(bench: Bench) -> None:
    bring(bench, edit(100))
    bring(bench, edit(99), "A")
    assert states(bring(bench, edit(100), "A"))["A"] == "same"
    book = SHELF.take(bench.database, bench.slug)
    assert len(book.timeline_files) == 3
    assert timelines.differing(book) == ()


def test_without_a_kept_file_the_first_one_is_the_reference(bench: Bench) -> None:
    assert states(bring(bench, edit(100), "A")) == {"A": "same", "B": "unknown"}
    assert states(bring(bench, edit(90), "B")) == {"A": "same", "B": "differs"}


def test_a_difference_is_told_side_by_side(bench: Bench) -> None:
    one = bring(bench, edit(100, 50, 25)).reference
    other = bring(bench, edit(100, 49, 25), "B").setups[1].file
    assert one is not None
    assert other is not None
    view = timelines.show_difference(bench.database, film(bench), one.id, other.id)
    assert (view.here, view.there, view.more) == ("film.otio, as kept", "film.otio on B", 0)
    (row,) = view.rows
    assert (row.change, row.name, row.at) == ("trimmed", "take1.mov", "00:00:04:00")
    with pytest.raises(NotFoundError):
        timelines.show_difference(bench.database, film(bench), one.id, uuid4())


def test_long_differences_are_cut_short_and_counted(bench: Bench) -> None:
    one = bring(bench, edit(*[50] * 600)).reference
    other = bring(bench, edit(*[49] * 600), "A").setups[0].file
    assert one is not None
    assert other is not None
    view = timelines.show_difference(bench.database, film(bench), one.id, other.id)
    assert (len(view.rows), view.more) == (500, 100)


@pytest.mark.parametrize(
    ("content", "more", "field"),
    [
        (b"nonsense", {}, "file"),
        (edit(100), {"name": "film.mov"}, "file"),
        (edit(100), {"setup_id": uuid4()}, "setup_id"),
    ],
)
def test_what_cannot_be_read_is_not_kept(
    bench: Bench, content: bytes, more: dict[str, Any], field: str
) -> None:
    with pytest.raises(RefusedError) as refused:
        bring(bench, content, **more)
    assert refused.value.field == field
    assert SHELF.take(bench.database, bench.slug).timeline_files == ()


def test_the_demo_has_one_edit_that_lost_a_frame(
    database: Database, demo: records.Shootout
) -> None:
    book = SHELF.take(database, demo.slug)
    ((timeline_id, setup_id),) = timelines.differing(book)
    names = {timeline.id: timeline.name for timeline in book.timelines}
    assert names[timeline_id] == "Backstage diary"
    assert book.setups[book.setup_index[setup_id]].label == "Ferrous T9 stock"
    lengths = {timeline.name: timeline.length_s for timeline in book.timelines}
    for timeline in book.timelines:
        reference = timelines.reference_of(book, timeline.id)
        assert reference is not None
        assert reference.facts["length_s"] == lengths[timeline.name]
