"""The kept cards as a timeline with their pictures and films and the lines to say."""

from __future__ import annotations

from true_margin.core.numerals import PLAIN, writing
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.publish.cards import file_stem, find_card, picture
from true_margin.desk.publish.clips import MOST_KEPT
from true_margin.desk.publish.give_texts import chapters
from true_margin.desk.publish.shots import ShotList, shots_of
from true_margin.exchange.card_timeline import (
    Caption,
    CardClip,
    write_captions,
    write_cut_list,
    write_lines,
    write_timeline,
)
from true_margin.exchange.data_pack import zip_files
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.moving.film import FilmKind, ending_of
from true_margin.store import clips as clip_store
from true_margin.store.clips import Clip
from true_margin.store.database import Database


@writing(PLAIN)
def give_timeline(
    database: Database, slug: str, shape: Shape, look: LookName, rate: float
) -> bytes:
    """Zip the timeline, the cut list, the chapters, the lines and every card that shows something.

    A card stands where the first sentence of the script speaks of it; one that was made a film
    of this shape and background stands as that film.

    Raises:
        RefusedError: no card shows anything yet.
    """
    book = SHELF.take(database, slug)
    shots = shots_of(book)
    if not shots.shots:
        raise RefusedError("cards", "No card shows anything yet: save one first.")
    films = _films(database, book, shape, look)
    clips: list[CardClip] = []
    files: dict[str, bytes] = {}
    for number, shot in enumerate(shots.shots, start=1):
        card = find_card(book, shot.card_id)
        film = films.get(card.id)
        content = None if film is None else _content(database, film)
        ending = ending_of(FilmKind(film.asked["kind"])) if film and content else "png"
        name = f"{number:02d}-{file_stem(book, card, shape, look)}.{ending}"
        files[f"cards/{name}"] = content or picture(book, card, shape, look)
        clips.append(CardClip(name, shot.title, shot.seconds, shot.say, shot.at_s))
    called = book.shootout.name
    files["cards.otio"] = write_timeline(called, clips, rate)
    files["cards.edl"] = write_cut_list(called, clips, rate)
    files["chapters.txt"] = ("\n".join(chapters(book)) + "\n").encode()
    files["lines.vtt"] = _captions(shots, clips, rate).encode()
    return zip_files(files)


def _captions(shots: ShotList, clips: list[CardClip], rate: float) -> str:
    """What is said when: the script where there is one, and what to say of cards beyond it."""
    if not shots.lines:
        return write_lines(clips, rate)
    own = [Caption(line.at_s, line.at_s + line.seconds, line.text) for line in shots.lines]
    own += [
        Caption(shot.at_s, shot.at_s + shot.seconds, shot.say)
        for shot in shots.shots
        if shot.line is None
    ]
    return write_captions(own)


def _films(database: Database, book: Book, shape: Shape, look: LookName) -> dict[object, Clip]:
    """The newest film of each card that shows it as it is now, in a shape and a look."""
    with transaction(database) as session:
        found = clip_store.list_clips(session, book.shootout.id, MOST_KEPT)
    return {
        clip.card_id: clip
        for clip in reversed(found)
        if clip.state == "done"
        and clip.revision == book.shootout.revision
        and (clip.asked["shape"], clip.asked["look"]) == (shape, look)
        and clip.asked["kind"] != FilmKind.FRAMES
    }


def _content(database: Database, clip: Clip) -> bytes | None:
    with transaction(database) as session:
        return clip_store.clip_film(session, clip.id)
