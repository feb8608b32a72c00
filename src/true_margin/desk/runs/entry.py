"""The entry line: what a half-typed run means, before anything is stored."""

from __future__ import annotations

import re
from dataclasses import dataclass
from uuid import UUID

from true_margin.core.entry_line import (
    Entry,
    Match,
    MatchState,
    entry_name,
    match_name,
    read_entry,
    split_line,
)
from true_margin.core.errors import QuantityError
from true_margin.core.notes import parse_ratio, say_note
from true_margin.core.numerals import numerals, short
from true_margin.core.state_words import NOTHING
from true_margin.core.wording import BOUND_WORD, format_elapsed
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import AmbiguousTimeError
from true_margin.desk.runs.runs import ReadValue, read_value
from true_margin.store import records
from true_margin.store.database import Database

_SHOWN = 8


@dataclass(frozen=True, slots=True)
class Completion:
    """A name that fits the part being typed, and the line with it filled in."""

    name: str
    line: str


@dataclass(frozen=True, slots=True)
class TimeMeaning:
    """One meaning of an ambiguous time, in seconds and in words."""

    meaning: str
    value_s: float
    words: str


@dataclass(frozen=True, slots=True)
class EntryReading:
    """What a line means so far.

    ``note`` is what stands beside the figure, such as ``best 3210``.
    ``ratio`` holds a ratio to the setup ``against``, noted by ``source``, which is no run.
    ``ways`` are lines that say the unit, where a bare number cannot be seconds of this job.
    ``ready`` is True when it can be stored; ``missing`` says what comes next;
    ``problem`` what is wrong; ``stem`` begins
    the next line of the same setup and task; ``unknown_setup`` and ``unknown_task`` hold names
    that are not known yet and may be added.
    """

    setup_id: UUID | None
    setup: str | None
    task_id: UUID | None
    task: str | None
    round_id: UUID | None
    round: str | None
    typed: str
    ratio: str | None
    against_id: UUID | None
    against: str | None
    source: str
    value_words: str | None
    method: str
    status: str
    reason: str
    note: str
    ready: bool
    missing: str | None
    problem: str | None
    unknown_setup: str | None
    unknown_task: str | None
    meanings: tuple[TimeMeaning, ...]
    stem: str
    completions: tuple[Completion, ...]
    asked: str | None
    ways: tuple[Completion, ...]


def read_line(database: Database, slug: str, line: str) -> EntryReading:
    """Read an entry line against a shootout's names; stores nothing."""
    book = SHELF.take(database, slug)
    entry = read_entry(
        line,
        [setup.label for setup in book.setups],
        _names(book, "task"),
        [round_.name for round_ in book.rounds],
    )
    setup = None if entry.setup.index is None else book.setups[entry.setup.index]
    task = None if entry.task.index is None else book.tasks[entry.task.index]
    round_ = book.rounds[-1] if book.rounds else None
    if entry.round is not None:
        round_ = _round_named(book, entry.round)
    against = None
    if entry.noted is not None and entry.noted.against.index is not None:
        against = book.setups[entry.noted.against.index]
    typed = (
        _read_ratio(entry, setup, against)
        if entry.noted is not None
        else _read_typed(entry, "time" if task is None else task.measure)
    )
    missing = _missing(entry)
    problem = _name_problem(book, entry) or typed.problem
    asked, ways = _asked_unit(book, task, entry, line)
    return EntryReading(
        None if setup is None else setup.id,
        None if setup is None else setup.label,
        None if task is None else task.id,
        None if task is None else task.name,
        None if round_ is None else round_.id,
        None if round_ is None else round_.name,
        entry.value,
        None if entry.noted is None else entry.value,
        None if against is None else against.id,
        None if against is None else against.label,
        "" if entry.noted is None else entry.noted.source,
        typed.words,
        entry.method.value,
        entry.status.value,
        entry.reason,
        entry.note,
        missing is None and problem is None and not typed.meanings and not ways,
        missing,
        problem,
        entry.setup.text if entry.setup.state is MatchState.NONE else None,
        entry.task.text
        if entry.task.state is MatchState.NONE and _looked_at(book, entry.task.text) is None
        else None,
        typed.meanings,
        _stem(setup, task),
        _completions(book, entry, line),
        asked,
        ways,
    )


def _stem(setup: records.Setup | None, task: records.Task | None) -> str:
    names = [entry_name(n) for n in (setup and setup.label, task and task.name) if n]
    return " / ".join([*names, ""])


@dataclass(frozen=True, slots=True)
class _TypedValue:
    """The value in words, or what is wrong with it, or its two meanings."""

    words: str | None = None
    problem: str | None = None
    meanings: tuple[TimeMeaning, ...] = ()


NOT_TRIED = "Not tried: that is no run, so nothing is stored."


def _read_typed(entry: Entry, measure: str) -> _TypedValue:
    if not entry.value:
        return _TypedValue()
    if entry.value.casefold() in NOTHING:
        return _TypedValue(problem=NOT_TRIED)
    try:
        return _TypedValue(
            _words(read_value(entry.value, measure, entry.method, signs=numerals()), measure)
        )
    except AmbiguousTimeError as error:
        return _TypedValue(meanings=tuple(TimeMeaning(**m) for m in error.extra["meanings"]))
    except QuantityError as error:
        return _TypedValue(problem=error.reason)


_BARE = re.compile(r"\d{1,6}(?:[.,]\d{1,3})?")
FAR_OFF = 4.0
"""A bare number is asked about where it is so many times shorter than this job was so far."""


def _asked_unit(
    book: Book, task: records.Task | None, entry: Entry, line: str
) -> tuple[str | None, tuple[Completion, ...]]:
    """Ask what a bare number is of, where it is far too short to be seconds of this job."""
    if task is None or task.measure != "time" or not _BARE.fullmatch(entry.value):
        return None, ()
    known = [v for (_, key), values in book.values_of.items() if key == task.id for v in values]
    number = float(entry.value.replace(",", "."))
    if not known or number * FAR_OFF > min(known):
        return None, ()
    whole, _, part = entry.value.replace(",", ".").partition(".")
    texts = [f"{entry.value} min"] if len(part) != 2 else [f"{whole}:{part}", f"{entry.value} min"]
    if len(part) == 2:
        # By parts of a minute, written so that it cannot be a clock.
        texts[1] = f"{short(60.0 * number)} s"
        texts = texts if int(part) < 60 else texts[1:]
    parts = split_line(line)
    ways = []
    for text in (*texts, f"{entry.value} s"):
        own = [*parts[:2], parts[2].replace(entry.value, text, 1), *parts[3:]]
        words = _words(read_value(text, "time", entry.method, signs=numerals()), "time")
        ways.append(Completion(words.partition(" ±")[0], " / ".join(own)))
    usual = format_elapsed(sorted(known)[len(known) // 2])
    return f"{entry.value} of what? This job took about {usual} so far.", tuple(ways)


def _read_ratio(
    entry: Entry, setup: records.Setup | None, against: records.Setup | None
) -> _TypedValue:
    try:
        ratio = parse_ratio(entry.value)
    except QuantityError as error:
        return _TypedValue(problem=error.reason)
    if setup is None or against is None:
        return _TypedValue()
    if setup.id == against.id:
        return _TypedValue(problem="A ratio is of two different setups.")
    return _TypedValue(f"{say_note(ratio, setup.label, against.label)}: noted, not measured")


def _words(value: ReadValue, measure: str) -> str:
    sign = f"{BOUND_WORD[value.bound]} " if value.bound else ("about " if value.approximate else "")
    if measure == "amount":
        return f"{sign}{short(value.value)}"
    clock = format_elapsed(value.value, value.resolution)
    # A bound is one end: it is not off by anything.
    return f"{sign}{clock}" if value.bound else f"{sign}{clock} ± {short(value.u, 1)} s"


def _missing(entry: Entry) -> str | None:
    if entry.setup.state is MatchState.MISSING:
        return "a setup, as in: halyard l / parade / 6:17"
    if entry.task.state is MatchState.MISSING:
        return "a task, after a /"
    if entry.noted is not None and entry.noted.against.state is MatchState.MISSING:
        return "the machine that it is compared with, as in: 3.2x tarn desk noted"
    if entry.status.value == "ok" and not entry.value:
        return "a time, after a /, such as 6:17 or 6m17s"
    if entry.status.value != "ok" and not entry.reason:
        word = entry.status.value
        return f"the reason, as in “{word}: backup was running”"
    return None


def _name_problem(book: Book, entry: Entry) -> str | None:
    against = None if entry.noted is None else entry.noted.against
    for match, kind in (
        (entry.setup, "setup"),
        (entry.task, "task"),
        (entry.round, "round"),
        (against, "setup"),
    ):
        if match is None or (kind == "round" and _round_named(book, match) is not None):
            continue
        if match.state is MatchState.SEVERAL:
            names = ", ".join(_names(book, kind)[i] for i in match.candidates[:4])
            return f"“{match.text}” matches several {kind}s: {names}. Type a little more."
        if match.state is MatchState.NONE:
            looked_at = _looked_at(book, match.text) if kind == "task" else None
            if looked_at is not None:
                return f"{looked_at} is watched, not timed: note it in the editing log."
            return f"No {kind} is called “{match.text}”."
    return None


def _round_named(book: Book, match: Match) -> records.Round | None:
    """The round of this name, else the latest that was run with a version of this name."""
    if match.index is not None:
        return book.rounds[match.index]
    wanted = match.text.strip().casefold()
    with_version = (
        round_
        for round_ in reversed(book.rounds)
        if any(
            wanted in (each.version.casefold(), f"{each.app} {each.version}".casefold())
            for each in round_.versions
        )
    )
    return next(with_version, None)


def _looked_at(book: Book, text: str) -> str | None:
    """The task of this name that is looked at only; None where there is none."""
    found = match_name(text, [task.name for task in book.observed])
    return None if found.index is None else book.observed[found.index].name


def _names(book: Book, kind: str) -> list[str]:
    if kind == "setup":
        return [setup.label for setup in book.setups]
    if kind == "task":
        # Revisions that another follows stand last, so places are those of all tasks.
        return [task.name for task in book.tasks if not task.superseded]
    return [round_.name for round_ in book.rounds]


def _completions(book: Book, entry: Entry, line: str) -> tuple[Completion, ...]:
    matches: dict[int, tuple[Match | None, str]] = {
        0: (entry.setup, "setup"),
        1: (entry.task, "task"),
        3: (entry.round, "round"),
    }
    if entry.part not in matches:
        return ()
    match, kind = matches[entry.part]
    names = _names(book, kind)
    candidates = range(len(names)) if match is None else match.candidates
    kept = line.split("/")[: entry.part]
    tail = "" if kind == "round" else " / "
    return tuple(
        Completion(
            names[i], " / ".join([*(part.strip() for part in kept), entry_name(names[i])]) + tail
        )
        for i in list(candidates)[:_SHOWN]
    )
