"""The shelf of books: each shootout's latest, loaded whole or updated from the one before."""

from __future__ import annotations

import threading
import time
from collections import OrderedDict
from collections.abc import Sequence
from dataclasses import replace
from typing import TypeAlias, TypeVar
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.analysis import analyse
from true_margin.core.task_rows import OBSERVATION
from true_margin.desk.book.analysis import analysis_of, build_study
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.errors import DeskError, transaction
from true_margin.exchange.rates import RateDesk
from true_margin.store import (
    cards,
    editions,
    inquiries,
    judgements,
    lineup,
    outputs,
    overrules,
    plans,
    ratios,
    records,
    runs,
    scripts,
    sent,
    shootouts,
    tasks,
    timelines,
    viewers,
)
from true_margin.store.database import Database

_KEPT_BOOKS = 32
LATELY_S = 30.0
SAID_BY = 2
"""What so many of the last editions show is in the book, so that it can be corrected."""
_Noted = TypeVar(
    "_Noted",
    records.SettingsUsed,
    records.OutputFile,
    records.OutputLook,
    records.Playback,
    records.Trial,
    records.Trouble,
)


Place: TypeAlias = tuple[str, UUID]
"""A shootout in a database: a pack that went elsewhere has the same id there."""


class BookShelf:
    """Keeps the latest books in memory, by shootout and revision."""

    def __init__(self) -> None:
        self._books: OrderedDict[tuple[Place, int], Book] = OrderedDict()
        self._gates: dict[tuple[Place, int], threading.Lock] = {}
        self._newest: dict[Place, int] = {}
        self._taken: dict[tuple[str, str], tuple[float, Book]] = {}
        self._lock = threading.Lock()

    def take(self, database: Database, slug: str) -> Book:
        """Give the book of a shootout as it stands now.

        Raises:
            NotFoundError: no such shootout.
        """
        with transaction(database) as session:
            shootout = shootouts.get_shootout(session, slug)
            key = ((database.url, shootout.id), shootout.revision)
            with self._lock:
                gate = self._gates.setdefault(key, threading.Lock())
            # After a change every open page asks at once: one of them loads, the others wait.
            with gate:
                book = self._kept(key) or self._keep(key, self._load(session, shootout, key[0]))
        with self._lock:
            if len(self._taken) > _KEPT_BOOKS:
                self._taken.clear()
            self._taken[database.url, slug] = (time.monotonic(), book)
        return book

    def taken_lately(self, database: Database, slug: str) -> Book | None:
        """Give the book that was taken last, if that was just now; it may have changed since.

        For what is asked many times a second of things that hardly ever change.
        """
        with self._lock:
            at, book = self._taken.get((database.url, slug), (0.0, None))
        return book if book is not None and time.monotonic() - at < LATELY_S else None

    def _load(self, session: Session, shootout: records.Shootout, place: Place) -> Book:
        with self._lock:
            before = self._books.get((place, self._newest.get(place, -1)))
        if (
            before is None
            or before.shootout.rest_revision != shootout.rest_revision
            or before.rates is not RATES.table
        ):
            return load_book(session, shootout)
        return update_book(session, shootout, before)

    def _kept(self, key: tuple[Place, int]) -> Book | None:
        with self._lock:
            book = self._books.get(key)
            if book is not None and book.rates is not RATES.table:
                book = None
            if book is not None:
                self._books.move_to_end(key)
                self._gates.pop(key, None)
            return book

    def _keep(self, key: tuple[Place, int], book: Book) -> Book:
        with self._lock:
            newest = self._newest.get(key[0], -1)
            if key[1] > newest:
                # Nobody asks for an earlier revision again.
                self._books.pop((key[0], newest), None)
                self._newest[key[0]] = key[1]
            self._books[key] = book
            self._gates.pop(key, None)
            while len(self._books) > _KEPT_BOOKS:
                self._books.popitem(last=False)
        return book


RATES = RateDesk()
"""The rates that convert prices, in every book of this process."""
SHELF = BookShelf()


def warm_shelf(database: Database, most: int = 4) -> None:
    """Take the newest books ahead of the first reader, who would wait for them."""
    try:
        with transaction(database) as session:
            slugs = [each.slug for each in shootouts.list_shootouts(session)[:most]]
        for slug in slugs:
            analysis = analysis_of(SHELF.take(database, slug))
            # The draws and quantiles of one ladder serve the next: all of them are kept.
            for comparison in (*analysis.tasks, analysis.mix):
                _ = comparison and comparison.rungs
    except DeskError:
        # The reader's own request meets the same trouble and says it.
        return


def load_book(session: Session, shootout: records.Shootout, *, archive: bool = False) -> Book:
    """Load everything in a shootout; what is in the archive only where it is asked for."""
    machines = lineup.list_machines(session, shootout.id, archived=None if archive else False)
    all_tasks = tasks.list_tasks(session, shootout.id)
    there = {setup.id for machine in machines for setup in machine.setups}
    all_runs, run_stamp = runs.read_runs(session, shootout.id)
    own_runs = tuple(r for r in all_runs if r.setup_id in there)
    kept = {run.id for run in own_runs}
    every_mark, mark_stamp = runs.read_marks(session, shootout.id)
    marks = [mark for mark in every_mark if mark.run_id in kept]
    files = timelines.list_files(session, shootout.id)
    words = overrules.list_overrules(session, shootout.id)
    return Book(
        shootout=shootout,
        machines=machines,
        tasks=tuple(task for task in all_tasks if task.measure != OBSERVATION),
        observed=tuple(task for task in all_tasks if task.measure == OBSERVATION),
        rounds=shootouts.list_rounds(session, shootout.id),
        runs=own_runs,
        marks=tuple(mark for mark in marks if mark.withdrawn_at is None),
        withdrawn_marks=tuple(mark for mark in marks if mark.withdrawn_at is not None),
        timelines=timelines.list_timelines(session, shootout.id),
        timeline_files=tuple(f for f in files if f.setup_id is None or f.setup_id in there),
        overrules=tuple(o for o in words if {o.setup_a_id, o.setup_b_id} <= there),
        free_rows=lineup.list_free_rows(session, shootout.id),
        settings_used=_of(there, outputs.list_settings_used(session, shootout.id)),
        output_files=_of(there, outputs.list_output_files(session, shootout.id)),
        looks=_of(there, outputs.list_looks(session, shootout.id)),
        playbacks=_of(there, outputs.list_playbacks(session, shootout.id)),
        trials=_of(there, outputs.list_trials(session, shootout.id)),
        troubles=_of(there, outputs.list_troubles(session, shootout.id)),
        entry_pictures=outputs.list_entry_pictures(session, shootout.id),
        ratios=tuple(
            ratio
            for ratio in ratios.list_ratios(session, shootout.id)
            if {ratio.setup_id, ratio.against_id} <= there
        ),
        judgements=tuple(
            word
            for word in judgements.list_judgements(session, shootout.id)
            if {word.setup_id, word.other_setup_id} - {None} <= there
        ),
        plans=plans.list_plans(session, shootout.id),
        inquiries=inquiries.list_inquiries(session, shootout.id),
        published=inquiries.list_published(session, shootout.id),
        viewers=viewers.list_viewers(session, shootout.id),
        script=scripts.get_script(session, shootout.id),
        cards=cards.list_cards(session, shootout.id),
        said=editions.list_figures(session, shootout.id, SAID_BY),
        sent=sent.list_accepted(session, shootout.id),
        stamps=(run_stamp, mark_stamp),
        rates=RATES.table,
    )


def update_book(session: Session, shootout: records.Shootout, before: Book) -> Book:
    """Make the book anew where only runs, marks, viewers and settings were written.

    What was written is read alone, and results that do not rest on it are reused.
    """
    changed, run_stamp = runs.read_runs(session, shootout.id, before.stamps[0])
    new_marks, mark_stamp = runs.read_marks(session, shootout.id, before.stamps[1])
    stamps = (max(run_stamp, before.stamps[0]), max(mark_stamp, before.stamps[1]))
    there = [run for run in changed if run.setup_id in before.setup_index]
    at, rows = _merged(before, there)
    marks, withdrawn = before.marks, before.withdrawn_marks
    if new_marks:
        known = {run.id for run in rows}
        every = {m.id: m for m in (*marks, *withdrawn, *new_marks) if m.run_id in known}
        in_time = sorted(every.values(), key=lambda m: m.elapsed_s)
        marks = tuple(m for m in in_time if m.withdrawn_at is None)
        withdrawn = tuple(m for m in in_time if m.withdrawn_at is not None)
    asking = viewers.list_viewers(session, shootout.id)
    script = scripts.get_script(session, shootout.id)
    book = replace(
        before,
        shootout=shootout,
        runs=rows,
        marks=marks,
        withdrawn_marks=withdrawn,
        viewers=asking,
        script=script,
        cards=cards.list_cards(session, shootout.id),
        said=editions.list_figures(session, shootout.id, SAID_BY),
        stamps=stamps,
    )
    reuse_results(before, book, at, there)
    return book


def _merged(
    before: Book, changed: Sequence[records.Run]
) -> tuple[list[int] | None, tuple[records.Run, ...]]:
    """Put changed and new runs into a book's runs.

    Returns:
        Where each changed run stands, None where the order is another; and all runs.
    """
    rows = list(before.runs)
    at = []
    for run in changed:
        place = before.place_of.get(run.id)
        if place is None:
            at.append(len(rows))
            rows.append(run)
        else:
            at.append(place)
            rows[place] = run
    near = {p for place in at for p in (place, place + 1) if 0 < p < len(rows)}
    if all(rows[p - 1].place <= rows[p].place for p in near):
        return at, tuple(rows)
    return None, tuple(sorted(rows, key=lambda run: run.place))


def reuse_results(
    before: Book, book: Book, places: list[int] | None, changed: Sequence[records.Run]
) -> None:
    """Keep with a book what was worked out of the one before and still holds.

    Args:
        before: the book before.
        book: the book that was updated from it.
        places: where each changed run stands; None where runs changed their order.
        changed: runs that are new or were changed.
    """
    for index in (Book.setups, Book.setup_index, Book.task_index, Book.machine_of, Book.noted):
        index.reuse(before, book)
    if book.marks is before.marks:
        Book.marks_of.reuse(before, book)
    if not changed:
        Book.index.reuse(before, book)
        Book.place_of.reuse(before, book)
    elif places is not None and Book.index.held(before) is not None:
        Book.index.hold(book, before.index.replaced(places, changed))
        by_run = {run.id: place for run, place in zip(changed, places, strict=True)}
        Book.place_of.hold(book, {**before.place_of, **by_run})
    if _judged_alike(before, book):
        parity_of.reuse(before, book)
    analysis = analysis_of.held(before)
    if analysis is not None:
        analysis_of.hold(book, analyse(build_study(book), before=analysis))


def _judged_alike(before: Book, book: Book) -> bool:
    """Say whether the parity of every pair is sure to be what it was."""
    if parity_of.held(before) is None:
        return False
    was, now = before.shootout, book.shootout
    asked_alike = (was.subject, was.trial_rows) == (now.subject, now.trial_rows)
    return asked_alike and before.index.methods == book.index.methods


def _of(setups: set[UUID], noted: tuple[_Noted, ...]) -> tuple[_Noted, ...]:
    return tuple(each for each in noted if each.setup_id in setups)
