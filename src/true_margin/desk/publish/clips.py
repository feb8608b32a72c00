"""Clips: cards as films, made beside the requests, with progress, and ended when asked to."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import timedelta
from threading import BoundedSemaphore
from typing import Any
from uuid import UUID

from true_margin.core.numerals import PLAIN, writing
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.publish.cards import draw, file_stem, find_card
from true_margin.desk.publish.making import EndedError, given_up, telling
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.moving.apart import FilmError, film_apart
from true_margin.publish.moving.film import RECIPES, FilmKind, ending_of
from true_margin.publish.moving.frames import Timing
from true_margin.publish.moving.sound import write_ticks
from true_margin.store import clips
from true_margin.store.clips import Clip
from true_margin.store.database import Database
from true_margin.store.queue import put_job

JOB = "clip"
MOST_KEPT = 20
"""So many films stay: one is as large as a film is, and can be made again at any time."""
MOST_AT_ONCE = 6
MOST_FRAMES = 3_600
LOST_AFTER = timedelta(minutes=5)
WAITS_AT_MOST = timedelta(hours=2)
PREVIEW = 0.5
"""A preview has half the width and half the height of the film."""
MOST_PREVIEWS = 4
"""So many of a book stay in memory."""
_DRAWING = BoundedSemaphore(2)
"""So many previews are drawn at the same time: each has a thread that others wait for."""


@dataclass(frozen=True, slots=True)
class ClipAsked:
    """What a clip shall be."""

    shape: Shape
    look: LookName
    kind: FilmKind
    rate: float
    seconds: float
    hold: float
    cuts: bool

    @property
    def timing(self) -> Timing:
        """How it runs."""
        return Timing(self.rate, self.seconds, self.hold, self.cuts)

    @classmethod
    def of(cls, kept: Mapping[str, Any]) -> ClipAsked:
        """What was asked for, from how it is kept."""
        own = dict(kept)
        return cls(
            Shape(own.pop("shape")), LookName(own.pop("look")), FilmKind(own.pop("kind")), **own
        )


@dataclass(frozen=True, slots=True)
class ClipView:
    """A clip as the screen shows it; ``outdated`` where the book has changed since.

    ``file`` is what it is called.
    """

    clip: Clip
    file: str
    outdated: bool


def list_clips(database: Database, slug: str) -> tuple[ClipView, ...]:
    """List the newest clips."""
    home = SHELF.take(database, slug).shootout
    with transaction(database) as session:
        for each in clips.list_clips(session, home.id, MOST_KEPT):
            # One that waits for its turn gives no sign: others may take long before it.
            most = WAITS_AT_MOST if each.step == clips.WAITING else LOST_AFTER
            if each.state == "running" and database.clocks.now() - each.seen_at > most:
                words = "True Margin was ended while it made this clip: make it again."
                clips.change_clip(session, each.id, {"state": "failed", "problem": words})
        found = clips.list_clips(session, home.id, MOST_KEPT)
    return tuple(_view(each, home.revision) for each in found)


def _view(clip: Clip, revision: int) -> ClipView:
    ending = ending_of(FilmKind(clip.asked["kind"]))
    return ClipView(clip, f"{clip.name}.{ending}", clip.revision != revision)


def start_clip(database: Database, slug: str, card_id: UUID, asked: Mapping[str, Any]) -> ClipView:
    """Begin to make a clip of a card as it stands.

    Raises:
        RefusedError: it cannot be made so, or too many are being made already.
    """
    wanted = ClipAsked.of(asked)
    _check(wanted)
    book = SHELF.take(database, slug)
    card = find_card(book, card_id)
    with writing(PLAIN):
        # What cannot be drawn is said now, not by a clip that fails.
        draw(book, card, wanted.shape, wanted.look)
    making = [each for each in list_clips(database, slug) if each.clip.state == "running"]
    if len(making) >= MOST_AT_ONCE:
        raise RefusedError("clip", f"{MOST_AT_ONCE} clips are being made: wait, or stop one first.")
    fields = {
        "card_id": card_id,
        "name": file_stem(book, card, wanted.shape, wanted.look),
        "asked": {**asked, "shape": wanted.shape, "look": wanted.look, "kind": wanted.kind},
        "revision": book.shootout.revision,
    }
    home = book.shootout
    with transaction(database) as session:
        key = clips.add_clip(session, home.id, fields, database.clocks.now())
        clips.drop_older(session, home.id, MOST_KEPT)
        made = clips.get_clip(session, home.id, key)
        put_job(session, JOB, slug=slug, clip_id=str(key))
    return _view(made, home.revision)


def _check(asked: ClipAsked) -> None:
    """Refuse what no film can be.

    Raises:
        RefusedError: says what, and what to do.
    """
    if asked.look is LookName.CLEAR and asked.kind in RECIPES and not RECIPES[asked.kind].clear:
        raise RefusedError(
            "kind",
            "An MP4 film has no clear background: choose day or night, or another kind of film.",
        )
    if asked.hold >= asked.seconds:
        raise RefusedError("hold", "The rest at the end must be shorter than the whole clip.")
    if asked.timing.frames > MOST_FRAMES:
        most = MOST_FRAMES / asked.rate
        raise RefusedError(
            "seconds", f"At this rate {most:.0f} s are the longest clip: choose fewer seconds."
        )


def end_clip(database: Database, slug: str, clip_id: UUID) -> ClipView:
    """End a clip that is being made; one that is finished stays."""
    home = SHELF.take(database, slug).shootout
    with transaction(database) as session:
        clips.get_clip(session, home.id, clip_id)
        clips.change_clip(session, clip_id, {"state": "ended"})
        found = clips.get_clip(session, home.id, clip_id)
    return _view(found, home.revision)


def clip_film(database: Database, slug: str, clip_id: UUID) -> tuple[ClipView, bytes]:
    """A finished clip with its film.

    Raises:
        NotFoundError: it is not finished.
    """
    home = SHELF.take(database, slug).shootout
    with transaction(database) as session:
        found = clips.get_clip(session, home.id, clip_id)
        film = clips.clip_film(session, clip_id)
    if film is None:
        raise NotFoundError("This clip is not finished.")
    return _view(found, home.revision), film


@writing(PLAIN)
def ticks_of(database: Database, slug: str, card_id: UUID, asked: ClipAsked) -> tuple[str, bytes]:
    """The sound of a clip: a tick on the frame where each machine is done; with its name."""
    _check(asked)
    book = SHELF.take(database, slug)
    card = find_card(book, card_id)
    drawing = draw(book, card, asked.shape, asked.look)
    name = file_stem(book, card, asked.shape, asked.look)
    return name, write_ticks(drawing.ticks, asked.timing)


@writing(PLAIN)
def preview(database: Database, slug: str, card_id: UUID, asked: ClipAsked) -> bytes:
    """A clip at half its size, to be looked at: the same frames; made once.

    Raises:
        RefusedError: it cannot be made so.
    """
    _check(asked)
    book = SHELF.take(database, slug)
    card = find_card(book, card_id)
    drawing = draw(book, card, asked.shape, asked.look)
    # Not by the book's own answers: whoever asks for those would wait until it is drawn.
    kept: dict[tuple[Any, ...], bytes] = book.cached("previews", dict)
    key = (card.id, card.version, asked)
    if key in kept:
        return kept[key]
    if not _DRAWING.acquire(blocking=False):
        raise RefusedError("preview", "Two others are being drawn: play it again in a moment.")
    try:
        film = film_apart(drawing, asked.timing, FilmKind.WEBM, lambda _: None, scale=PREVIEW)
    except FilmError as error:
        raise RefusedError("preview", f"It could not be drawn: {error}.") from error
    finally:
        _DRAWING.release()
    for oldest in list(kept)[: max(len(kept) - MOST_PREVIEWS + 1, 0)]:
        kept.pop(oldest, None)
    kept[key] = film
    return film


def give_up(database: Database, clip_id: str) -> None:
    """Say of a clip that the process which made it ended twice: it is not begun again."""
    with transaction(database) as session:
        clips.change_clip(session, UUID(clip_id), given_up("made"))


@writing(PLAIN)
def make_clip(database: Database, ending: Callable[[], bool], slug: str, clip_id: str) -> None:
    """Make a clip that waits in the queue; what goes wrong is told by the clip itself.

    Args:
        database: where it is.
        ending: says whether this process is about to end.
        slug: of the shootout.
        clip_id: of the clip.

    Raises:
        InterruptedError: this process ends; the clip is made again by the next one.
    """
    key = UUID(clip_id)

    def change(fields: dict[str, Any]) -> None:
        with transaction(database) as session:
            if not clips.change_clip(session, key, fields):
                raise EndedError

    def step(part: float) -> None:
        if ending():
            raise InterruptedError("this process ends")
        words = "drawing the frames" if part else "drawing what moves"
        change({"step": words, "done": 0.99 * part, "seen_at": database.clocks.now()})

    def failed(fields: dict[str, Any]) -> None:
        with transaction(database) as session:
            clips.change_clip(session, key, fields)

    with telling("clip", failed):
        book = SHELF.take(database, slug)
        with transaction(database) as session:
            clip = clips.get_clip(session, book.shootout.id, key)
        asked = ClipAsked.of(clip.asked)
        card = find_card(book, clip.card_id)
        film = film_apart(draw(book, card, asked.shape, asked.look), asked.timing, asked.kind, step)
        change(
            {
                "state": "done",
                "step": "done",
                "done": 1.0,
                "film": film,
                "size": len(film),
                "revision": book.shootout.revision,
            }
        )
