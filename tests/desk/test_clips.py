"""Clips of cards: made beside the requests, with progress, and ended when asked to."""

from __future__ import annotations

import io
import time
from collections.abc import Iterator
from datetime import timedelta
from typing import Any
from uuid import UUID

import av
import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.jobs.worker import Worker
from true_margin.desk.publish import cards, clips
from true_margin.desk.publish.clips import ClipAsked, ClipView
from true_margin.publish.moving import apart
from true_margin.publish.moving.apart import FilmError
from true_margin.publish.moving.frames import Timing
from true_margin.store.database import Database

WAIT_S = 60.0
ASKED: dict[str, Any] = {
    "shape": "square",
    "look": "day",
    "kind": "mp4",
    "rate": 10.0,
    "seconds": 1.0,
    "hold": 0.3,
    "cuts": False,
}


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Clips")
    for setup, typed in (("A", "6:10"), ("A", "6:12"), ("B", "9:02"), ("B", "9:04")):
        bench.run(setup, typed)
    return bench


@pytest.fixture
def card(bench: Bench) -> UUID:
    fields = {"kind": "bar", "task_id": bench.tasks["Parade"]}
    return cards.add_card(bench.database, bench.slug, fields).card.id


@pytest.fixture
def worker(database: Database) -> Iterator[Worker]:
    """Somebody who does what waits."""
    worker = Worker(database)
    worker.start()
    yield worker
    worker.close()


def until(bench: Bench, state: str) -> ClipView:
    end = time.monotonic() + WAIT_S
    while time.monotonic() < end:
        view = clips.list_clips(bench.database, bench.slug)[0]
        if view.clip.state == state:
            return view
        assert view.clip.state == "running", view.clip.problem
        time.sleep(0.05)
    raise AssertionError("the clip does not end")


def test_a_clip_is_made_and_is_out_of_date_once_the_book_changes(
    bench: Bench, card: UUID, worker: Worker
) -> None:
    started = clips.start_clip(bench.database, bench.slug, card, ASKED)
    assert (started.clip.state, started.file) == ("running", "bar-card-parade-square-day.mp4")
    view = until(bench, "done")
    assert (view.clip.done, view.outdated) == (1.0, False)
    _, film = clips.clip_film(bench.database, bench.slug, view.clip.id)
    assert len(film) == view.clip.size
    with av.open(io.BytesIO(film), "r") as opened:
        assert len(list(opened.decode(video=0))) == 10
    bench.run("A", "6:11")
    assert clips.list_clips(bench.database, bench.slug)[0].outdated


def test_a_clip_can_be_ended(bench: Bench, card: UUID, worker: Worker) -> None:
    long = {**ASKED, "seconds": 60.0, "kind": "prores"}
    started = clips.start_clip(bench.database, bench.slug, card, long)
    ended = clips.end_clip(bench.database, bench.slug, started.clip.id)
    assert ended.clip.state == "ended"
    with pytest.raises(NotFoundError, match="not finished"):
        clips.clip_film(bench.database, bench.slug, started.clip.id)
    clips.start_clip(bench.database, bench.slug, card, ASKED)
    until(bench, "done")
    states = [view.clip.state for view in clips.list_clips(bench.database, bench.slug)]
    assert states == ["done", "ended"]


@pytest.mark.parametrize(
    ("changes", "field", "words"),
    [
        ({"look": "clear"}, "kind", "MP4 film has no clear background"),
        ({"hold": 1.0}, "hold", "shorter than the whole clip"),
        ({"rate": 60.0, "seconds": 61.0}, "seconds", "60 s are the longest clip"),
    ],
)
def test_what_no_film_can_be_is_refused_before_it_is_begun(
    bench: Bench, card: UUID, changes: dict[str, Any], field: str, words: str
) -> None:
    with pytest.raises(RefusedError, match=words) as caught:
        clips.start_clip(bench.database, bench.slug, card, {**ASKED, **changes})
    assert caught.value.field == field
    assert clips.list_clips(bench.database, bench.slug) == ()


def test_a_card_that_shows_nothing_is_no_clip(bench: Bench) -> None:
    empty = cards.add_card(bench.database, bench.slug, {"kind": "correction"}).card.id
    with pytest.raises(RefusedError, match="Nothing was published yet"):
        clips.start_clip(bench.database, bench.slug, empty, ASKED)


def test_so_many_are_made_at_once_and_the_oldest_give_way(
    bench: Bench, card: UUID, monkeypatch: pytest.MonkeyPatch
) -> None:
    for _ in range(clips.MOST_AT_ONCE):
        clips.start_clip(bench.database, bench.slug, card, ASKED)
    with pytest.raises(RefusedError, match="6 clips are being made"):
        clips.start_clip(bench.database, bench.slug, card, ASKED)
    monkeypatch.setattr(clips, "MOST_KEPT", 3)
    for view in clips.list_clips(bench.database, bench.slug):
        clips.end_clip(bench.database, bench.slug, view.clip.id)
    monkeypatch.setattr(clips, "MOST_AT_ONCE", 20)
    newest = clips.start_clip(bench.database, bench.slug, card, ASKED).clip.id
    monkeypatch.setattr(clips, "MOST_KEPT", 50)
    left = [view.clip for view in clips.list_clips(bench.database, bench.slug)]
    assert left[0].id == newest
    # Those that somebody still waits for stay, however many they are.
    assert sum(each.state == "ended" for each in left) <= 2


def test_a_clip_that_nobody_makes_is_said(
    bench: Bench, card: UUID, monkeypatch: pytest.MonkeyPatch
) -> None:
    clips.start_clip(bench.database, bench.slug, card, ASKED)
    monkeypatch.setattr(clips, "LOST_AFTER", timedelta(0))
    # It waits for others that take long: nobody has lost it.
    assert clips.list_clips(bench.database, bench.slug)[0].clip.state == "running"
    monkeypatch.setattr(clips, "WAITS_AT_MOST", timedelta(0))
    (view,) = clips.list_clips(bench.database, bench.slug)
    assert view.clip.state == "failed"
    assert "make it again" in (view.clip.problem or "")


def test_a_clip_that_was_given_up_twice_says_so(bench: Bench, card: UUID) -> None:
    started = clips.start_clip(bench.database, bench.slug, card, ASKED)
    clips.give_up(bench.database, str(started.clip.id))
    (view,) = clips.list_clips(bench.database, bench.slug)
    assert (view.clip.state, "given up" in (view.clip.problem or "")) == ("failed", True)


def test_a_clip_that_cannot_be_made_says_why(
    bench: Bench, card: UUID, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object) -> bytes:
        raise FilmError("the disk is full")

    monkeypatch.setattr(clips, "film_apart", broken)
    started = clips.start_clip(bench.database, bench.slug, card, ASKED)
    clips.make_clip(bench.database, lambda: False, bench.slug, str(started.clip.id))
    (view,) = clips.list_clips(bench.database, bench.slug)
    assert view.clip.problem == "It could not be made: the disk is full"


def test_a_process_that_ends_leaves_the_clip_to_the_next(bench: Bench, card: UUID) -> None:
    started = clips.start_clip(bench.database, bench.slug, card, ASKED)
    with pytest.raises(InterruptedError):
        clips.make_clip(bench.database, lambda: True, bench.slug, str(started.clip.id))
    assert clips.list_clips(bench.database, bench.slug)[0].clip.state == "running"
    clips.make_clip(bench.database, lambda: False, bench.slug, str(started.clip.id))
    assert clips.list_clips(bench.database, bench.slug)[0].clip.state == "done"


def test_a_preview_is_made_once_and_its_sound_has_a_name(bench: Bench, card: UUID) -> None:
    asked = ClipAsked.of(ASKED)
    first = clips.preview(bench.database, bench.slug, card, asked)
    assert clips.preview(bench.database, bench.slug, card, asked) is first
    with av.open(io.BytesIO(first), "r") as opened:
        stream = opened.streams.video[0]
        assert (stream.width, stream.height) == (540, 540)
    name, sound = clips.ticks_of(bench.database, bench.slug, card, asked)
    assert name == "bar-card-parade-square-day"
    assert sound[:4] == b"RIFF"


def test_previews_do_not_gather(bench: Bench, card: UUID, monkeypatch: pytest.MonkeyPatch) -> None:
    drawn: list[float] = []

    def quick(_: object, timing: Timing, *__: object, **___: object) -> bytes:
        drawn.append(timing.seconds)
        return b"film"

    monkeypatch.setattr(clips, "film_apart", quick)
    lengths = [1.0 + 0.1 * at for at in range(clips.MOST_PREVIEWS + 2)]
    for seconds in lengths:
        asked = ClipAsked.of({**ASKED, "seconds": seconds})
        clips.preview(bench.database, bench.slug, card, asked)
    kept: dict[object, bytes] = SHELF.take(bench.database, bench.slug).cached("previews", dict)
    assert len(kept) == clips.MOST_PREVIEWS
    newest = ClipAsked.of({**ASKED, "seconds": lengths[-1]})
    clips.preview(bench.database, bench.slug, card, newest)
    assert drawn == lengths


def test_a_film_that_is_too_large_to_be_kept_says_so(
    bench: Bench, card: UUID, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(apart, "MOST_BYTES", 1000)
    started = clips.start_clip(bench.database, bench.slug, card, ASKED)
    clips.make_clip(bench.database, lambda: False, bench.slug, str(started.clip.id))
    (view,) = clips.list_clips(bench.database, bench.slug)
    assert "choose fewer seconds or another file" in (view.clip.problem or "")


def test_whoever_asks_for_one_preview_too_many_is_told_and_holds_up_nobody(
    bench: Bench, card: UUID
) -> None:
    asked = ClipAsked.of(ASKED)
    words = "play it again in a moment"
    with clips._DRAWING, clips._DRAWING, pytest.raises(RefusedError, match=words):
        clips.preview(bench.database, bench.slug, card, asked)
    assert clips.preview(bench.database, bench.slug, card, asked)
