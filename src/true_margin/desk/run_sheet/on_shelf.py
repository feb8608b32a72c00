"""The shelf: each shootout with its answer in a line, what is open in it, and when it was last
worked on.

A line is worked out once for a revision, beside the request that asks for it, and kept: hundreds
of shootouts open at once, and a large one keeps nobody waiting.
"""

from __future__ import annotations

import threading
from collections.abc import Callable, Iterable
from dataclasses import asdict, dataclass
from datetime import datetime

from true_margin.core.numerals import Numerals, numerals, writing
from true_margin.core.wording import count_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import DeskError, transaction
from true_margin.desk.margins.margins import MIX, LadderView, ladder_of
from true_margin.desk.publish.script_check import tally_claims
from true_margin.desk.run_sheet.next_thing import next_things
from true_margin.desk.run_sheet.sheet import stages_of
from true_margin.store import records, shelf_lines
from true_margin.store.database import Database

_AT_WORK = threading.Lock()
"""One thread of a process works lines out; whoever asks meanwhile sees them come."""
MOST_BARS = 3


@dataclass(frozen=True, slots=True)
class ShelfBar:
    """A setup of the small ranking: its speed as a part of the fastest's, and whether it leads."""

    share: float
    leads: bool


@dataclass(frozen=True, slots=True)
class ShelfLine:
    """A shootout on the shelf.

    ``answer`` is who leads, ``waiting`` what is open, ``needs_you`` whether that would be wrong
    if published; ``edition`` is the newest one, ``worked_at`` when something was changed last.
    ``fresh`` is False while the line is of an earlier revision, or was not worked out yet.
    """

    shootout: records.Shootout
    answer: str
    waiting: tuple[str, ...]
    needs_you: bool
    facts: str
    bars: tuple[ShelfBar, ...]
    edition: int | None
    worked_at: datetime
    fresh: bool


def show_shelf(
    database: Database, may: Callable[[records.Shootout], bool]
) -> tuple[ShelfLine, ...]:
    """List the shootouts that somebody may see, the one worked on last first.

    Lines stand as they were kept; those that are of an earlier revision are not ``fresh``, and
    are for ``work_out``.
    """
    with transaction(database) as session:
        found = [
            each for each in shelf_lines.list_on_shelf(session, _signs()) if may(each.shootout)
        ]
    return tuple(_line(each) for each in found)


def warm_lines(database: Database, most: int = 8) -> None:
    """Work out the lines of the shootouts that were worked on last, ahead of the first reader."""
    try:
        lines = show_shelf(database, lambda _: True)
    except DeskError:
        # The reader's own request meets the same trouble and says it.
        return
    work_out(database, [line.shootout.slug for line in lines[:most] if not line.fresh])


def work_out(database: Database, slugs: Iterable[str], signs: Numerals | None = None) -> None:
    """Work the lines of some shootouts out and keep them; nothing while another does so.

    Args:
        database: where they are.
        slugs: of the shootouts.
        signs: that numbers are written with; those of now unless they are given.
    """
    if not _AT_WORK.acquire(blocking=False):
        return
    try:
        with writing(signs or numerals()):
            for slug in slugs:
                _work_out(database, slug)
    finally:
        _AT_WORK.release()


def _signs() -> str:
    """The signs of now, as a line is kept by them; days stand in none."""
    return numerals().point + numerals().group


def _line(each: shelf_lines.OnShelf) -> ShelfLine:
    line = each.line
    fresh = line is not None and line.revision == each.shootout.revision
    if line is None:
        return ShelfLine(each.shootout, "", (), False, "", (), each.edition, each.worked_at, fresh)
    return ShelfLine(
        each.shootout,
        line.answer,
        tuple(line.waiting),
        line.needs_you,
        line.facts,
        tuple(ShelfBar(**bar) for bar in line.bars),
        each.edition,
        each.worked_at,
        fresh,
    )


def _work_out(database: Database, slug: str) -> None:
    try:
        line = line_of(database, SHELF.take(database, slug))
        with transaction(database) as session:
            shelf_lines.keep_line(session, asdict(line))
    except DeskError:
        # Gone since, or the database is away: whoever looks again asks again.
        return


def line_of(database: Database, book: Book) -> shelf_lines.StoredLine:
    """The line of a book."""
    ladder = _ladder(book)
    todo = _todo(book)
    return shelf_lines.StoredLine(
        book.shootout.id,
        _signs(),
        book.shootout.revision,
        ladder.headline if ladder is not None and ladder.rows else "Nothing timed yet.",
        list(todo) or [_next(database, book)],
        bool(todo),
        _facts(book),
        [asdict(bar) for bar in _bars(ladder)],
    )


def _ladder(book: Book) -> LadderView | None:
    """The ranking that answers the shootout: of the mix, or of its only task."""
    if not book.tasks:
        return None
    mix = ladder_of(book, MIX)
    return mix if len(mix.rows) > 1 else ladder_of(book, None)


def _todo(book: Book) -> tuple[str, ...]:
    """What would be wrong if it were published."""
    claims = None if book.script is None else tally_claims(book)
    wrong = 0 if claims is None else claims.open
    lines = {line.stage: line.todo for line in stages_of(book, claims)}
    return tuple(
        filter(
            None,
            (
                f"{count_of(wrong, 'claim')} to check" if wrong else "",
                *lines["margins"],
                *(f"{words} runs" for words in lines["runs"]),
                *lines["tasks"],
            ),
        )
    )


def _next(database: Database, book: Book) -> str:
    first = next_things(database, book, 0)[0]
    return first.strong.rstrip(":.")


def _facts(book: Book) -> str:
    parts = [
        count_of(len(book.machines), "machine") if book.machines else "",
        count_of(len(book.runs), "run") if book.runs else "",
    ]
    return " · ".join(filter(None, parts))


def _bars(ladder: LadderView | None) -> list[ShelfBar]:
    """The fastest, and who follows; of all others the last, which is what they are held against."""
    rows = [] if ladder is None else [row for row in ladder.rows if row.ratio]
    if not rows:
        return []
    chosen = rows if len(rows) <= MOST_BARS else [*rows[: MOST_BARS - 1], rows[-1]]
    best = max(row.ratio or 1.0 for row in rows)
    return [ShelfBar((row.ratio or 0.0) / best, row.best_rank == 1) for row in chosen]
