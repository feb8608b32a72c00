"""The card of how editing felt, out of the log of what was seen."""

from __future__ import annotations

from uuid import UUID

from true_margin.core.numerals import say_day
from true_margin.core.wording import count_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.editing_log import EditingLog, log_of, open_log
from true_margin.desk.errors import RefusedError
from true_margin.desk.publish.card_parts import Chosen, heading_of
from true_margin.publish.card_data import FeelCard, FeelMark
from true_margin.publish.looks import Shape
from true_margin.store.cards import KeptCard

IN_BLOCK = {Shape.WIDE: 4, Shape.TALL: 2, Shape.SQUARE: 3}
MOST_SETUPS = {Shape.WIDE: 4, Shape.TALL: 4, Shape.SQUARE: 3}
SMOOTH = ("smooth", "no freeze")
MOST_ROWS = {Shape.WIDE: 6, Shape.TALL: 6, Shape.SQUARE: 5}


def feels_of(book: Book, card: KeptCard, shape: Shape) -> FeelCard:
    """How editing felt on each setup: the last grade of each kind, by app and condition.

    Raises:
        RefusedError: nothing was tried yet.
    """
    log = log_of(open_log(book))
    there = list(dict.fromkeys(feel.setup_id for feel in log.feels))
    if not there:
        raise RefusedError("kind", "Nothing was tried yet: note on the Bench how editing feels.")
    chosen = Chosen(book, card, there, MOST_SETUPS[shape])
    apps = list(dict.fromkeys(feel.app for feel in log.feels))
    marks = _marks(log)
    # A row that none of the setups on the card was tried in says nothing here.
    kinds = list(dict.fromkeys(place for key in chosen.keys for place in marks[key]))
    rows = []
    for app, what, conditions in kinds[: MOST_ROWS[shape]]:
        named = ", ".join(
            part for part in (what, app if len(apps) > 1 else None, conditions) if part
        )
        own = tuple(marks[key].get((app, what, conditions)) for key in chosen.keys)
        rows.append((f"{named[:1].upper()}{named[1:]}", own))
    last = max(day.day for feel in log.feels for day in feel.days)
    notes = [f"the newest of each, up to {say_day(last, whole=True)}", *chosen.note()]
    if len(kinds) > len(rows):
        notes.append(f"{count_of(len(kinds) - len(rows), 'more row')} in the log")
    title = f"How editing feels in {apps[0]}" if len(apps) == 1 else "How editing feels"
    return FeelCard(
        heading_of(book, card, title, "tried by hand and graded, not timed", notes),
        tuple(chosen.who(key) for key in chosen.keys),
        tuple(rows),
        tuple(_faults(log, key) for key in chosen.keys),
        IN_BLOCK[shape],
    )


def _marks(log: EditingLog) -> dict[UUID, dict[tuple[str, str, str | None], FeelMark]]:
    """The last grade of each kind, by setup, app and condition."""
    found: dict[UUID, dict[tuple[str, str, str | None], FeelMark]] = {}
    for feel in log.feels:
        own = found.setdefault(feel.setup_id, {})
        for row in feel.rows:
            cell = next((each for each in reversed(row.cells) if each is not None), None)
            if cell is not None:
                # That nothing froze is what smooth means.
                counts = "" if (cell.grade, cell.counts) == SMOOTH else cell.counts
                own[feel.app, row.what, row.conditions] = FeelMark(cell.grade, counts)
    return found


def _faults(log: EditingLog, setup: UUID) -> str:
    """What went wrong on a setup and was not seen to be gone, with how often."""
    times: dict[str, int] = {}
    for entry in log.entries:
        gone = entry.withdrawn_why is not None or entry.fixed_in is not None
        if entry.setup_id == setup and entry.sort != "trial" and not gone:
            times[entry.what] = times.get(entry.what, 0) + (entry.times or 1)
    return ", ".join(what if n == 1 else f"{what}, {n} times" for what, n in times.items())
