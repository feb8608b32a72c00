"""The book of runs: entered, voided, corrected, with their history; never deleted."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any, Literal
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.bench_rows import wrong_of
from true_margin.core.checks import ProgressPoint as CoreMark
from true_margin.core.errors import QuantityError
from true_margin.core.flag_words import explain_flag, slowed_words
from true_margin.core.mark_rows import OwnEstimate, own_estimates
from true_margin.core.numerals import PLAIN, Numerals, numerals
from true_margin.core.quantities import (
    AmbiguousElapsed,
    Amount,
    Elapsed,
    parse_amount,
    parse_elapsed,
)
from true_margin.core.readings import ReadingMethod, reading_uncertainty
from true_margin.core.study import Bound
from true_margin.core.task_rows import OBSERVATION
from true_margin.core.timecodes import parse_timecodes
from true_margin.core.wording import format_elapsed
from true_margin.desk.book.analysis import analysis_of, progress_of, slowed_runs
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import AmbiguousTimeError, RefusedError, transaction
from true_margin.desk.margins.doubts import doubt_of
from true_margin.desk.margins.verdicts import what_changed
from true_margin.store import lineup, outputs, records, runs, shootouts, tasks
from true_margin.store.database import Database

Meaning = Literal["clock", "decimal"]
DEFAULT_POLL_S = 1.0
DEFAULT_RECORDING_RATE = 25.0
REMEMBERED_U = 0.02
"""Standard uncertainty of a time from memory is this share of it at least."""


@dataclass(frozen=True, slots=True)
class StoredRun:
    """A run just written, and what it changes."""

    run: records.Run
    says: str
    changes: tuple[str, ...]
    doubt: str | None = None


@dataclass(frozen=True, slots=True)
class FlaggedRun:
    """A run with what the checks say of it; ``flags`` may include the cell's."""

    run: records.Run
    flags: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class CellKey:
    """The cell that runs of one setup on one task in one round share."""

    setup_id: UUID
    task_id: UUID
    round_id: UUID


@dataclass(frozen=True, slots=True)
class RunBook:
    """All runs of a shootout, with flags of runs and of cells."""

    runs: tuple[FlaggedRun, ...]
    drifting: tuple[CellKey, ...]


@dataclass(frozen=True, slots=True)
class RunDetail:
    """One run with its history, marks and pictures.

    ``estimates`` says how wrong the app's own estimates were, ``wrong_before`` what was
    not as it should be when it was started, ``because`` why each flag is there.
    """

    run: records.Run
    flags: tuple[str, ...]
    because: tuple[str, ...]
    revisions: tuple[records.RunRevision, ...]
    marks: tuple[records.Mark, ...]
    estimates: tuple[OwnEstimate, ...]
    wrong_before: tuple[str, ...]
    pictures: tuple[records.RunPicture, ...]
    troubles: tuple[records.Trouble, ...]


@dataclass(frozen=True, slots=True)
class ReadValue:
    """A typed value as the store keeps it; units as of the task's measure."""

    value: float
    resolution: float
    approximate: bool
    bound: Bound | None
    u: float
    method: ReadingMethod


def read_value(
    typed: str,
    measure: str,
    method: ReadingMethod,
    meaning: Meaning | None = None,
    poll_s: float | None = None,
    signs: Numerals = PLAIN,
) -> ReadValue:
    """Read a typed time or amount with its uncertainty.

    Args:
        typed: as a person wrote it.
        measure: of the task.
        method: how it was read.
        meaning: which of two meanings a person chose.
        poll_s: between two looks of a watcher, or two frames of a recording, in seconds.
        signs: of whoever typed it; in a table, where no reader's signs can be known, plain.

    Raises:
        AmbiguousTimeError: two meanings and none chosen.
        QuantityError: it cannot be read.
    """
    timecodes = None if measure == "amount" else parse_timecodes(typed)
    rate = DEFAULT_RECORDING_RATE if poll_s is None else 1.0 / poll_s
    quantity: Amount | Elapsed | AmbiguousElapsed
    if timecodes is not None:
        method = ReadingMethod.RECORDING
        quantity, rate = timecodes
    else:
        quantity = (
            parse_amount(typed, signs) if measure == "amount" else parse_elapsed(typed, signs)
        )
    if isinstance(quantity, AmbiguousElapsed):
        quantity = _chosen(quantity, meaning)
    if isinstance(quantity, Amount):
        u = reading_uncertainty(quantity.resolution, approximate=quantity.approximate)
        return ReadValue(
            quantity.value,
            quantity.resolution,
            quantity.approximate,
            quantity.bound,
            u,
            ReadingMethod.STATED,
        )
    u = reading_uncertainty(
        quantity.resolution_s,
        method,
        approximate=quantity.approximate,
        poll_interval_s=poll_s or DEFAULT_POLL_S,
        frames_per_s=rate,
    )
    if method is ReadingMethod.REMEMBERED:
        # Three hours to the second, remembered, are not known to the second.
        u = max(u, REMEMBERED_U * quantity.seconds)
    return ReadValue(
        quantity.seconds, quantity.resolution_s, quantity.approximate, quantity.bound, u, method
    )


def _chosen(time: AmbiguousElapsed, meaning: Meaning | None) -> Elapsed:
    if meaning is not None:
        return time.as_clock if meaning == "clock" else time.as_decimal
    clock, decimal = time.as_clock.seconds, time.as_decimal.seconds
    raise AmbiguousTimeError(
        "typed",
        f"{time.text} can mean {format_elapsed(clock)} or {format_elapsed(decimal)}. "
        f"Which one? Nothing is stored until you choose.",
        meanings=[
            {"meaning": "clock", "value_s": clock, "words": format_elapsed(clock)},
            {"meaning": "decimal", "value_s": decimal, "words": format_elapsed(decimal)},
        ],
    )


def show_runs(database: Database, slug: str) -> RunBook:
    """Give all runs of a shootout with the checks' flags."""
    book = SHELF.take(database, slug)
    flags = flags_of(book)
    return RunBook(
        tuple(FlaggedRun(run, flags.get(run.id, ())) for run in book.runs),
        tuple(
            CellKey(book.setups[f.setup].id, book.tasks[f.task].id, book.rounds[f.round].id)
            for f in analysis_of(book).flags
            if f.run is None
        ),
    )


def flags_of(book: Book) -> dict[UUID, tuple[str, ...]]:
    """Flags of each flagged run, in words."""
    found: dict[UUID, tuple[str, ...]] = {}
    for flag in analysis_of(book).flags:
        if flag.run is not None:
            key = book.runs[flag.run].id
            found[key] = (*found.get(key, ()), flag.check.value)
    for key in slowed_runs(book):
        found[key] = (*found.get(key, ()), "slowed down")
    return found


def show_run(database: Database, run_id: UUID) -> RunDetail:
    """Give one run with its history, marks and flags."""
    with transaction(database) as session:
        run = runs.get_run(session, run_id)
        revisions = runs.list_revisions(session, run_id)
        marks = runs.list_marks(session, [run_id])
        pictures = outputs.list_pictures(session, [run_id])
        slug = shootouts.slug_of(session, runs.run_home(session, run_id))
    book = SHELF.take(database, slug)
    standing = [mark for mark in marks if mark.withdrawn_at is None]
    estimates = () if run.value is None else own_estimates(map(asdict, standing), run.value)
    return RunDetail(
        run,
        flags_of(book).get(run_id, ()),
        reasons_of(book, run),
        revisions,
        marks,
        estimates,
        wrong_of(run.conditions),
        pictures,
        tuple(trouble for trouble in book.troubles if trouble.run_id == run_id),
    )


def reasons_of(book: Book, run: records.Run) -> tuple[str, ...]:
    """Why a run is flagged, with the figures."""
    seen = analysis_of(book)
    found = [
        explain_flag(seen.study, seen.cells, flag)
        for flag in seen.flags
        if flag.run is not None and book.runs[flag.run].id == run.id
    ]
    if run.id in slowed_runs(book) and run.value is not None:
        marks = [*progress_of(book.marks_of.get(run.id, ())), CoreMark(run.value, 1.0)]
        found.append(slowed_words(marks))
    return tuple(found)


def add_run(database: Database, slug: str, fields: Mapping[str, Any], who: str) -> StoredRun:
    """Store one run; the same client key again stores nothing and gives the same run."""
    before = SHELF.take(database, slug)
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, shootout.id, rest=False)
        known = runs.find_by_client_key(session, shootout.id, fields["client_key"])
        if known is None:
            places = read_places(session, shootout.id)
            key = runs.add_run(session, shootout.id, prepare_run(places, fields, who))
            known = runs.get_run(session, key)
    after = SHELF.take(database, slug)
    return _told(before, after, known)


def _told(before: Book, after: Book, run: records.Run) -> StoredRun:
    """What a written run means; one that looks like a slip is asked about first."""
    says, changes = what_changed(before, after, run)
    doubt = doubt_of(after, run)
    return StoredRun(run, says, () if doubt else changes, doubt)


@dataclass(slots=True)
class KnownNames:
    """Where runs of a shootout may go; read once, used for as many runs as there are."""

    tasks: Mapping[UUID, records.Task]
    setups: frozenset[UUID]
    rounds: tuple[records.Round, ...]
    next_place: int

    def task(self, task_id: UUID) -> records.Task:
        """Give a task of the shootout, or refuse."""
        if task_id not in self.tasks:
            raise RefusedError("task_id", "This task is not in this shootout.")
        if self.tasks[task_id].measure == OBSERVATION:
            raise RefusedError("task_id", "This task is looked at, not timed: note it in Tasks.")
        return self.tasks[task_id]

    def setup(self, setup_id: UUID) -> UUID:
        """Give a setup of the line-up, or refuse."""
        if setup_id not in self.setups:
            raise RefusedError("setup_id", "This setup is not in this shootout's line-up.")
        return setup_id

    def round(self, round_id: UUID | None) -> UUID:
        """Give a round of the shootout, the latest where none is named, or refuse."""
        if round_id is None and self.rounds:
            return self.rounds[-1].id
        if round_id is None or round_id not in {round_.id for round_ in self.rounds}:
            raise RefusedError("round_id", "This round is not in this shootout.")
        return round_id


def read_places(session: Session, shootout_id: UUID) -> KnownNames:
    """Read where runs of a shootout may go."""
    machines = lineup.list_machines(session, shootout_id)
    return KnownNames(
        {task.id: task for task in tasks.list_tasks(session, shootout_id)},
        frozenset(setup.id for machine in machines for setup in machine.setups),
        shootouts.list_rounds(session, shootout_id),
        runs.next_place(session, shootout_id),
    )


def prepare_run(places: KnownNames, fields: Mapping[str, Any], who: str) -> dict[str, Any]:
    """Check a run's fields and give its columns; takes the next place."""
    own = {**_NO_VALUE, **fields}
    task = places.task(own["task_id"])
    places.setup(own["setup_id"])
    own["round_id"] = places.round(own.get("round_id"))
    method = ReadingMethod(own.get("method") or ReadingMethod.STOPWATCH)
    if task.measure == "amount":
        method = ReadingMethod.STATED
    meaning = own.pop("meaning", None)
    typed = (own.get("typed") or "").strip() or None
    if typed is not None:
        value = read_value(typed, task.measure, method, meaning, own.get("poll_s"), numerals())
        method = value.method
        own |= _columns(value, own.get("placed_u") or 0.0)
    elif own.get("status", "ok") == "ok":
        raise RefusedError("typed", "A run that counts needs a time or an amount.")
    own |= {"typed": typed, "method": method.value, "who": who, "place": places.next_place}
    places.next_place += 1
    return own


_NO_VALUE = {"value": None, "resolution": None, "u": 0.0, "approximate": False, "bound": None}


def _columns(value: ReadValue, placed_u: float) -> dict[str, Any]:
    return {
        "value": value.value,
        "resolution": value.resolution,
        "u": value.u + placed_u,
        "approximate": value.approximate,
        "bound": value.bound,
    }


def revise_run(
    database: Database, run_id: UUID, version: int, changes: Mapping[str, Any], who: str, why: str
) -> StoredRun:
    """Change a run (void it, correct it, count it again) and keep what it was."""
    with transaction(database) as session:
        home = runs.run_home(session, run_id)
        slug = shootouts.slug_of(session, home)
    before = SHELF.take(database, slug)
    with transaction(database) as session:
        shootouts.bump_revision(session, home, rest=False)
        run = runs.get_run(session, run_id)
        revised = revised_columns(read_places(session, home), run, changes)
        runs.revise_run(session, run, version, revised, who, why)
        run = runs.get_run(session, run_id)
    after = SHELF.take(database, slug)
    return _told(before, after, run)


_CAN_BE_EMPTY = frozenset({"typed", "reason", "reached", "note"})
"""Of a change that names nothing for another field, that field stays as it is."""


def _signs_of(run: records.Run, measure: str) -> Numerals:
    """By whose signs the kept text of a run was read: another's may have been others."""
    for signs in (PLAIN, Numerals(".", ","), Numerals(",", ".")):
        try:
            value = read_value(run.typed or "", measure, ReadingMethod(run.method), signs=signs)
        except (QuantityError, RefusedError):
            continue
        if value.value == run.value:
            return signs
    return PLAIN


def revised_columns(
    places: KnownNames, run: records.Run, changes: Mapping[str, Any]
) -> dict[str, Any]:
    """Check a change of a run and give the columns that it sets."""
    own = {
        name: value for name, value in changes.items() if value is not None or name in _CAN_BE_EMPTY
    }
    meaning = own.pop("meaning", None)
    task = places.task(own.get("task_id", run.task_id))
    if task.measure != places.task(run.task_id).measure:
        raise RefusedError("task_id", "That task measures something else; enter a new run.")
    if "setup_id" in own:
        places.setup(own["setup_id"])
    if "round_id" in own:
        own["round_id"] = places.round(own["round_id"])
    typed = own.get("typed", run.typed)
    if ("typed" in own or "method" in own) and typed is not None:
        method = ReadingMethod(own.get("method", run.method))
        signs = numerals() if "typed" in own else _signs_of(run, task.measure)
        value = read_value(typed, task.measure, method, meaning, run.poll_s, signs)
        own |= _columns(value, own.get("placed_u", run.placed_u)) | {"method": value.method.value}
        # Who looked at it saw another time.
        own.setdefault("checked", False)
    if own.get("status") == "ok":
        own["reason"] = None
    return own
