"""The shot list: which card stands when, beside which line of the script, with what proof."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from enum import StrEnum
from uuid import UUID

from true_margin.core.choices import CardKind
from true_margin.core.claims.check import Checked
from true_margin.core.claims.forms import Form
from true_margin.core.claims.result import Status
from true_margin.core.claims.verdicts import Verdict
from true_margin.core.numerals import PLAIN, writing
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.publish.cards import draw, standing
from true_margin.desk.publish.says import say_of, title_of
from true_margin.desk.publish.script_check import check_sentences
from true_margin.exchange.script_text import ScriptLine, caption_times, read_script
from true_margin.publish.looks import LookName, Shape
from true_margin.store import outputs, records
from true_margin.store.cards import KeptCard
from true_margin.store.database import Database

WORDS_S = 2.5
"""So many words are said in a second: 150 a minute."""
BREATH_S = 0.4
"""Between two sentences."""
LEAST_S = 2.0
"""Shorter no card can be read."""
MOST_PROOFS = 6
FINE = (Verdict.HOLDS, Verdict.LIKELY)


class ShotsBy(StrEnum):
    """Where the times of a shot list come from."""

    CAPTIONS = "captions"
    WORDS = "words"
    ORDER = "order"


@dataclass(frozen=True, slots=True)
class Proof:
    """A picture of the screen that was kept with a run of what a card shows."""

    picture_id: UUID
    name: str


@dataclass(frozen=True, slots=True)
class Shot:
    """A card in the film: when it comes, how long it stands, and what is said.

    ``line`` is where its sentence begins in the script, from 1; None for a card that no
    sentence of the script speaks of.
    """

    at_s: float
    seconds: float
    card_id: UUID
    kind: str
    title: str
    line: int | None
    say: str
    proofs: tuple[Proof, ...]


@dataclass(frozen=True, slots=True)
class SpokenLine:
    """A sentence of the script, and when it is said."""

    at_s: float
    seconds: float
    line: int
    text: str


@dataclass(frozen=True, slots=True)
class ShotList:
    """All shots in their order, the sentences around them, and what the times rest on.

    ``empty`` names cards that show nothing, so that they are no shot.
    """

    shots: tuple[Shot, ...]
    lines: tuple[SpokenLine, ...]
    length_s: float
    by: ShotsBy
    empty: tuple[str, ...]


def show_shots(database: Database, slug: str) -> ShotList:
    """Give the shot list of a shootout, with the pictures that were kept as proof."""
    book = SHELF.take(database, slug)
    runs = [run.id for run in book.runs]
    with transaction(database) as session:
        pictures = outputs.list_pictures(session, runs)
    return shots_of(book, pictures)


@writing(PLAIN)
def shots_of(book: Book, pictures: Sequence[records.RunPicture] = ()) -> ShotList:
    """Work out the shot list of a book: each card where the first sentence speaks of it.

    Cards that none speaks of follow after the script, one after the other.
    """
    there: list[KeptCard] = []
    empty: list[KeptCard] = []
    for card in standing(book):
        (there if _shows(book, card) else empty).append(card)
    script = "" if book.script is None else book.script.text
    lines, by = spoken_lines(script)
    end = max((line.at_s + line.seconds for line in lines), default=0.0)
    placed = _placed(book, there, script, lines)
    shots = []
    starts = [line.at_s for line, _ in placed]
    for at, (line, card) in enumerate(placed):
        after = starts[at + 1] if at + 1 < len(starts) else line.at_s + card.seconds
        seconds = min(card.seconds, max(after - line.at_s, LEAST_S))
        shots.append(_shot(book, card, (line.at_s, seconds), line.line, line.text, pictures))
    at_s = max((end, *(shot.at_s + shot.seconds for shot in shots)))
    used = {card.id for _, card in placed}
    for card in there:
        if card.id not in used:
            span = (at_s, card.seconds)
            shots.append(_shot(book, card, span, None, say_of(book, card), pictures))
            at_s += card.seconds
    known = by if placed else ShotsBy.ORDER
    return ShotList(
        tuple(shots), tuple(lines), at_s, known, tuple(title_of(book, card) for card in empty)
    )


def _shows(book: Book, card: KeptCard) -> bool:
    try:
        draw(book, card, Shape.WIDE, LookName.NIGHT)
    except RefusedError:
        return False
    return True


def spoken_lines(script: str) -> tuple[list[SpokenLine], ShotsBy]:
    """When each sentence of a script is said: as captions tell, else by its words."""
    sentences = read_script(script)
    captions = caption_times(script)
    if captions:
        return list(_by_captions(sentences, captions)), ShotsBy.CAPTIONS
    found, at_s = [], 0.0
    for each in sentences:
        seconds = len(each.text.split()) / WORDS_S
        found.append(SpokenLine(at_s, seconds, each.number, each.text))
        at_s += seconds + BREATH_S
    return found, ShotsBy.WORDS


def _by_captions(
    sentences: Sequence[ScriptLine], captions: dict[int, float]
) -> Iterator[SpokenLine]:
    """Sentences at the times of the captions that they begin in.

    A second sentence of the same caption follows the first; none lasts into the next caption.
    """
    at_s, before = 0.0, None
    starts = sorted(set(captions.values()))
    for each in sentences:
        if each.number != before:
            at_s = captions.get(each.number, at_s)
        seconds = len(each.text.split()) / WORDS_S
        later = next((start for start in starts if start > at_s), at_s + seconds)
        yield SpokenLine(at_s, min(seconds, later - at_s), each.number, each.text)
        at_s, before = at_s + seconds, each.number


def _placed(
    book: Book, there: Sequence[KeptCard], script: str, lines: Sequence[SpokenLine]
) -> list[tuple[SpokenLine, KeptCard]]:
    """Each card with the first sentence that holds and speaks of what it shows."""
    if not script.strip():
        return []
    said = {(line.line, line.text): line for line in lines}
    left = list(there)
    placed: list[tuple[SpokenLine, KeptCard]] = []
    for sentence in check_sentences(book, script):
        found = sentence.checked
        if found is None or found.status is not Status.JUDGED or found.verdict not in FINE:
            continue
        line = said.get((sentence.line.number, sentence.line.text))
        fits = {card.id: _fits(book, card, sentence.line.text, found) for card in left}
        fitting = [card for card in left if fits[card.id]]
        if line is None or not fitting:
            continue
        card = max(fitting, key=lambda card: fits[card.id])
        left.remove(card)
        placed.append((line, card))
    return placed


OF_TASKS = (CardKind.BAR, CardKind.RULE, CardKind.RACE, CardKind.PROGRESS)
OF_VIEWERS = (CardKind.PICK, CardKind.PRICE, CardKind.WORTH)
OF_MONEY = frozenset(
    {
        Form.VALUE,
        Form.BEST_VALUE,
        Form.PRICE,
        Form.PRICE_MORE,
        Form.PRICE_PERCENT,
        Form.PRICE_RATIO,
        Form.DEARER,
        Form.CHEAPEST,
        Form.DEAREST,
    }
)


def _fits(book: Book, card: KeptCard, text: str, found: Checked) -> int:
    """How well a card shows what a sentence says, 0 for not at all."""
    kind = CardKind(card.kind)
    viewer = next((each for each in book.viewers if each.id == card.viewer_id), None)
    if viewer is not None and kind in OF_VIEWERS:
        if viewer.name.casefold() in text.casefold():
            return 4
        money = any(reading.form in OF_MONEY for reading in found.readings)
        return 2 if money and kind is CardKind.PRICE else 0
    of_money = bool(found.readings) and all(r.form in OF_MONEY for r in found.readings)
    if kind not in OF_TASKS or of_money:
        return 0
    own = None if card.task_id is None else book.task_index[card.task_id]
    return 3 - OF_TASKS.index(kind) // 2 if found.task == own else 0


def _shot(
    book: Book,
    card: KeptCard,
    span: tuple[float, float],
    line: int | None,
    say: str,
    pictures: Sequence[records.RunPicture],
) -> Shot:
    at_s, seconds = span
    title = title_of(book, card)
    proofs = tuple(_proofs(book, card, pictures))
    return Shot(round(at_s, 3), round(seconds, 3), card.id, card.kind, title, line, say, proofs)


def _proofs(book: Book, card: KeptCard, pictures: Sequence[records.RunPicture]) -> Iterator[Proof]:
    """Pictures of runs that a card's figures rest on, the newest first."""
    left_out = set(map(UUID, card.setups.get("left_out", ())))
    runs = {run.id: run for run in book.runs}
    told = 0
    for picture in reversed(pictures):
        run = None if picture.run_id is None else runs.get(picture.run_id)
        if run is None or run.setup_id in left_out or card.task_id != run.task_id:
            continue
        label = book.setups[book.setup_index[run.setup_id]].label
        yield Proof(picture.id, f"{label}: {picture.name}")
        told += 1
        if told == MOST_PROOFS:
            return
