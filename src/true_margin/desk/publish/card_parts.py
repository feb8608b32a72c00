"""What every card needs of a book: which setups, the words around, what figures rest on."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from uuid import UUID

from true_margin.core.numerals import say_day, short
from true_margin.core.wording import count_of, listed
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.margins.margins import carried, task_index
from true_margin.desk.margins.pair_call import rounds_of_carried
from true_margin.publish.card_data import CardSetup, Heading
from true_margin.store.cards import KeptCard

MOST = 10
"""So many setups stand on a card; the others are counted below it."""


class Chosen:
    """Which setups stand on a card, in which order, and how many are left out."""

    def __init__(self, book: Book, card: KeptCard, there: Sequence[UUID], most: int = MOST) -> None:
        order = [key for key in map(UUID, card.setups.get("order", ())) if key in there]
        left = set(map(UUID, card.setups.get("left_out", ())))
        first = set(map(UUID, card.setups.get("highlighted", ())))
        whole = [*order, *(key for key in there if key not in order)]
        # Whoever edits the card sees all of them in this order.
        book.cached(("on card", card.id, card.version), lambda: tuple(whole))
        wanted = [key for key in whole if key not in left]
        # What is to be seen first stands on the card even where it is far down.
        kept = {key for key in wanted if key in first}
        for key in wanted:
            if len(kept) < most:
                kept.add(key)
        self.keys = [key for key in wanted if key in kept]
        self.hidden = [key for key in whole if key not in kept]
        self._first = first
        self._book = book

    def who(self, key: UUID) -> CardSetup:
        """A setup as it stands on a card."""
        setup = self._book.setups[self._book.setup_index[key]]
        return CardSetup(setup.label, setup.mark, key in self._first)

    def note(self) -> Iterator[str]:
        """Say how many are left out: leaving out is honest when it is told."""
        if self.hidden:
            yield f"{len(self.hidden)} more not shown"


def heading_of(
    book: Book, card: KeptCard, subject: str, subtitle: str, notes: Sequence[str], found: str = ""
) -> Heading:
    """The words around a card: its own, or those that the data gives.

    ``found`` is what the card shows, as its title; without it that is what the card is about.
    """
    newest = max(
        (run.started_at or run.created_at for run in book.runs), default=book.shootout.created_at
    )
    return Heading(
        card.title or found or subject,
        subtitle if card.subtitle is None else card.subtitle,
        tuple(notes),
        f"{book.shootout.name}, {say_day(newest, whole=True)}"
        if card.source is None
        else card.source,
        card.title or subject,
    )


def task_of(book: Book, card: KeptCard) -> int | None:
    """Place of the task that a card is about; None for the mix."""
    return None if card.task_id is None else task_index(book, str(card.task_id))


def foot(book: Book, task: int | None, setups: Sequence[int]) -> Iterator[str]:
    """What a card's figures rest on, in a few words; the last give way where there is no room."""
    counted = _counted(book, task)
    runs = int(sum(book.index.ok[s, t] for s in setups for t in counted))
    yield count_of(runs, "run")
    if len(book.rounds) > 1:
        yield book.rounds[-1].name
    yield f"bars: {short(100 * book.shootout.confidence)} % interval"


def _counted(book: Book, task: int | None) -> list[int]:
    if task is not None:
        return [task]
    return [t for t, weight in enumerate(analysis_of(book).study.mix) if weight]


def warnings(book: Book, task: int | None, setups: Sequence[int]) -> Iterator[str]:
    """What must be told of a card's figures before anything else: it changes what they mean."""
    counted = _counted(book, task)
    faked = sum(
        run.simulated
        for run in book.runs
        if book.setup_index[run.setup_id] in setups and book.task_index.get(run.task_id) in counted
    )
    if faked:
        runs = int(sum(book.index.ok[s, t] for s in setups for t in counted))
        yield f"{count_of(faked, 'run')} simulated" if faked < runs else "all runs simulated"
    old = [s for s in setups if carried(book, s, task)]
    if old:
        names = listed((book.setups[s].label for s in old), 3)
        yield f"{names} estimated from {rounds_of_carried(book, old, task)}"
    words = sum(t in counted and pair <= set(setups) for t, pair in parity_of(book).overruled)
    if words:
        yield f"{count_of(words, 'difference')} accepted"


def of_samples(book: Book) -> list[str]:
    """What a card that recommends a model rests on: how many samples, and how alike they are."""
    analysis = analysis_of(book)
    spread = analysis.unit_spread
    if spread.cv == 0:
        return ["samples of a model are taken to be alike"]
    models = analysis.study.model_of
    one_each = len(set(models)) == len(models)
    timed = "one sample of each model timed" if one_each else "few samples of each model timed"
    return [f"{timed}; how much samples differ is {spread.basis.value}"]
