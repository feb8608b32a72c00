"""What looks wrong by the figures, and the inquiries that people opened on it."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

import numpy as np

from true_margin.core.numerals import fixed
from true_margin.core.out_of_line import Finding, FindingKind, find_out_of_line
from true_margin.core.study import FlagArray
from true_margin.core.wording import format_ratio
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import spec_value
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.margins.inquiry_words import inquiry_line
from true_margin.desk.margins.same_work import same_work_pairs
from true_margin.store import inquiries, records, runs, shootouts
from true_margin.store.database import Database

BETTER = (
    "cores",
    "threads",
    "clock_ghz",
    "raised_clock_ghz",
    "graphics_memory_gb",
    "memory_gb",
    "memory_mts",
    "memory_channels",
    "read_mbs",
    "write_mbs",
    "year",
)
"""Rows in which more is meant to be better, or at least not worse."""
OTHER = "other"


@dataclass(frozen=True, slots=True)
class InquiryView:
    """An inquiry with its runs, and what it comes to in one line."""

    inquiry: records.Inquiry
    task: str | None
    setups: tuple[str, ...]
    runs: tuple[records.Run, ...]
    line: str


@dataclass(frozen=True, slots=True)
class FindingView:
    """Something out of line, in words, and the inquiry that is open on it."""

    kind: str
    task_id: UUID | None
    task: str | None
    a_id: UUID | None
    b_id: UUID | None
    words: str
    look: str
    inquiry_id: UUID | None


@dataclass(frozen=True, slots=True)
class OutOfLine:
    """What looks wrong, and every inquiry."""

    findings: tuple[FindingView, ...]
    inquiries: tuple[InquiryView, ...]


def show_out_of_line(database: Database, slug: str) -> OutOfLine:
    """List what looks wrong by the figures, and the inquiries of a shootout."""
    book = SHELF.take(database, slug)
    found = find_out_of_line(analysis_of(book), _better(book), _two_apps(book))
    return OutOfLine(
        tuple(_finding(book, each) for each in found),
        tuple(inquiry_view(book, each) for each in book.inquiries),
    )


def _two_apps(book: Book) -> tuple[tuple[int, int], ...]:
    pairs = same_work_pairs(book)
    return tuple(
        (i, j)
        for i, j in pairs
        if book.tasks[i].app != book.tasks[j].app
        and frozenset((book.tasks[i].id, book.tasks[j].id)) not in book.doubted_tasks
    )


def _better(book: Book) -> FlagArray:
    """Entry (a, b): a has no less than b in every row that both state, and more in some."""
    k = len(book.setups)
    no_less = np.ones((k, k), dtype=bool)
    more = np.zeros((k, k), dtype=bool)
    for field in BETTER:
        values = (spec_value(book.machine_of[s.id], s, field) for s in book.setups)
        column = np.array([v if isinstance(v, int | float) else np.nan for v in values], float)
        with np.errstate(invalid="ignore"):
            no_less &= ~(column[:, None] < column[None, :])
            more |= column[:, None] > column[None, :]
    return no_less & more


def _finding(book: Book, finding: Finding) -> FindingView:
    task = None if finding.task is None else book.tasks[finding.task]
    task_id = None if task is None else task.id
    a, b = (None if s is None else book.setups[s].id for s in (finding.a, finding.b))
    words, look = _WORDS[finding.kind](book, finding)
    key = (finding.kind, task_id, a, b)
    open_on = [
        each.id
        for each in book.inquiries
        if (each.kind, each.task_id, each.setup_a_id, each.setup_b_id) == key
    ]
    return FindingView(
        finding.kind.value,
        task_id,
        None if task is None else task.name,
        a,
        b,
        words,
        look,
        open_on[-1] if open_on else None,
    )


def _names(book: Book, finding: Finding) -> tuple[str, str, str]:
    a, b = ("" if s is None else book.setups[s].label for s in (finding.a, finding.b))
    return a, b, "the mix" if finding.task is None else book.tasks[finding.task].name


def _better_loses(book: Book, finding: Finding) -> tuple[str, str]:
    a, b, task = _names(book, finding)
    times = format_ratio(math.exp(-finding.value))
    words = (
        f"{a} has no less than {b} in any row, and is the slower on {task}: {b} is {times} "
        f"times as fast."
    )
    return words, "Heat, power mode, a background program, or a drive that was full?"


def _app_ratio(book: Book, finding: Finding) -> tuple[str, str]:
    a, _, task = _names(book, finding)
    other = "" if finding.other_task is None else book.tasks[finding.other_task].name
    ours, usual = (format_ratio(math.exp(x)) for x in (finding.value, finding.limit))
    words = f"On {a}, {task} is {ours} times as fast as {other}; on the others it is {usual}."
    return words, "Another encoder path, or another version of one app?"


def _nothing_apart(book: Book, finding: Finding) -> tuple[str, str]:
    _, _, task = _names(book, finding)
    words = f"{task} tells nothing apart: every pair is level."
    return words, "Is something else the limit, or is the work too light?"


def _bridge(book: Book, finding: Finding) -> tuple[str, str]:
    a, _, _ = _names(book, finding)
    app = book.tasks[finding.task].app if finding.task is not None else ""
    # δ says how the earlier round differs; since then everything is −δ faster.
    ours, rest = (format_ratio(math.exp(-x)) for x in (finding.value, finding.limit))
    round_ = "" if finding.round is None else book.rounds[finding.round].name
    words = (
        f"{a} says that {app} is {ours} times as fast since the {round_} round; all bridges "
        f"together say {rest}."
    )
    return words, "Was it the same version, and was the machine in the same state in both rounds?"


def _carried(book: Book, finding: Finding) -> tuple[str, str]:
    a, b, task = _names(book, finding)
    words = f"{a} leads {b} on {task} by a figure that is carried over from an earlier round."
    return words, "One run in the latest round would replace it."


def _restless(book: Book, finding: Finding) -> tuple[str, str]:
    a, _, _ = _names(book, finding)
    words = f"Runs of {a} scatter {fixed(finding.value, 1)} times as much as those of the others."
    return words, "Does it slow down when hot, or does something else run on it?"


_WORDS = {
    FindingKind.BETTER_LOSES: _better_loses,
    FindingKind.APP_RATIO: _app_ratio,
    FindingKind.NOTHING_APART: _nothing_apart,
    FindingKind.BRIDGE: _bridge,
    FindingKind.CARRIED: _carried,
    FindingKind.RESTLESS: _restless,
}


def inquiry_view(book: Book, inquiry: records.Inquiry) -> InquiryView:
    """An inquiry with the names of what it is about."""
    task = book.task_index.get(inquiry.task_id) if inquiry.task_id else None
    places = (book.setup_index.get(s) for s in (inquiry.setup_a_id, inquiry.setup_b_id) if s)
    linked = (book.place_of.get(key) for key in inquiry.run_ids)
    return InquiryView(
        inquiry,
        None if task is None else book.tasks[task].name,
        tuple(book.setups[p].label for p in places if p is not None),
        tuple(book.runs[place] for place in linked if place is not None),
        inquiry_line(inquiry),
    )


def inquiries_on(book: Book, task: int | None, setups: tuple[int, ...]) -> tuple[InquiryView, ...]:
    """The inquiries that touch a result: its task, or all of it, and one of its setups."""
    own = {book.setups[s].id for s in setups}
    key = None if task is None else book.tasks[task].id
    return tuple(
        inquiry_view(book, each)
        for each in book.inquiries
        if (each.task_id is None or task is None or each.task_id == key)
        and (each.setup_a_id is None or {each.setup_a_id, each.setup_b_id} & own)
    )


def open_inquiry(database: Database, slug: str, fields: Mapping[str, Any], who: str) -> InquiryView:
    """Open an inquiry on something out of line."""
    book = SHELF.take(database, slug)
    if fields.get("task_id") is not None and fields["task_id"] not in book.task_index:
        raise RefusedError("task_id", "This task is not timed in this shootout.")
    for name in ("setup_a_id", "setup_b_id"):
        if fields.get(name) is not None and fields[name] not in book.setup_index:
            raise RefusedError(name, "This setup is not in this line-up.")
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        shootouts.bump_revision(session, home)
        now = datetime.now(UTC)
        key = inquiries.add_inquiry(session, home, {**fields, "who": who, "opened_at": now})
    return _shown(database, slug, key)


def change_inquiry(
    database: Database, inquiry_id: UUID, version: int, changes: Mapping[str, Any]
) -> InquiryView:
    """Note what was changed, tried again and came out; ``counts`` closes the inquiry.

    Raises:
        RefusedError: it is closed without an outcome, or a run is not of this shootout.
    """
    own = dict(changes)
    run_ids = own.pop("run_ids", None) or ()
    with transaction(database) as session:
        home = inquiries.inquiry_home(session, inquiry_id)
        shootouts.bump_revision(session, home)
        slug = shootouts.slug_of(session, home)
        known = next(i for i in inquiries.list_inquiries(session, home) if i.id == inquiry_id)
        if own.get("counts") and not (own.get("outcome") or known.outcome):
            raise RefusedError("outcome", "Say what came out before you say which runs count.")
        if "counts" in own:
            own["closed_at"] = datetime.now(UTC) if own["counts"] else None
        inquiries.change_inquiry(session, known, version, own)
        for key in run_ids:
            if runs.run_home(session, key) != home:
                raise RefusedError("run_ids", "One of these runs is not in this shootout.")
        inquiries.link_runs(session, inquiry_id, run_ids)
    return _shown(database, slug, inquiry_id)


def _shown(database: Database, slug: str, key: UUID) -> InquiryView:
    book = SHELF.take(database, slug)
    found = next((each for each in book.inquiries if each.id == key), None)
    if found is None:
        raise NotFoundError(f"There is no inquiry {key}.")
    return inquiry_view(book, found)
