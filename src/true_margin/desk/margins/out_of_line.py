"""What looks wrong by the figures, and the inquiries that people opened on it."""

from __future__ import annotations

import math
from dataclasses import dataclass
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
from true_margin.desk.margins.inquiries import InquiryView, inquiry_view
from true_margin.desk.margins.same_work import same_work_pairs
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
