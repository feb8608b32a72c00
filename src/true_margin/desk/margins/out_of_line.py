"""What looks wrong by the figures, and the inquiries that people opened on it."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import UUID

import numpy as np

from true_margin.core.numerals import fixed
from true_margin.core.out_of_line import Finding, FindingKind, find_out_of_line
from true_margin.core.study import FlagArray
from true_margin.core.wording import faster_than, format_percent, percent_faster
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import spec_value
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.inquiries import InquiryView, inquiry_view
from true_margin.desk.margins.pair_words import name_round, rounds_of_carried
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
    slower = format_percent(percent_faster(-finding.value))
    words = (
        f"{a} should win on {task} but is {slower} % slower than {b}, although every spec is "
        f"equal or better."
    )
    return words, "heat, power mode, a background program, or a full drive"


def _app_ratio(book: Book, finding: Finding) -> tuple[str, str]:
    a, _, task = _names(book, finding)
    other = "" if finding.other_task is None else book.tasks[finding.other_task].name
    words = (
        f"{a} is odd in {task}: {_against(finding.value)} {other}; elsewhere it is "
        f"{_against(finding.limit).removesuffix(' than').removesuffix(' as')}."
    )
    return words, "a different encoder, or a different app version"


def _nothing_apart(book: Book, finding: Finding) -> tuple[str, str]:
    _, _, task = _names(book, finding)
    words = f"{task}: every machine takes the same time."
    return words, "another bottleneck, or too short a task"


def _bridge(book: Book, finding: Finding) -> tuple[str, str]:
    a, _, _ = _names(book, finding)
    app = book.tasks[finding.task].app if finding.task is not None else ""
    # δ says how the earlier round differs; since then everything is −δ faster.
    more = "more" if -finding.value > -finding.limit else "less"
    since = "" if finding.round is None else f" since {name_round(book.rounds[finding.round].name)}"
    ours, rest = (_change(-x) for x in (finding.value, finding.limit))
    words = f"{a} gained {more} from the {app} update than the others: {ours}{since}, not {rest}."
    return words, "another version, or the machine in another state in one of the rounds"


def _carried(book: Book, finding: Finding) -> tuple[str, str]:
    a, b, task = _names(book, finding)
    setups = [s for s in (finding.a, finding.b) if s is not None]
    words = (
        f"{a}'s lead over {b} on {task} rests on an estimate from "
        f"{rounds_of_carried(book, setups, finding.task)}."
    )
    return words, "not timed again since the update; one new run settles it"


def _restless(book: Book, finding: Finding) -> tuple[str, str]:
    a, _, _ = _names(book, finding)
    words = f"{a}'s times vary {fixed(finding.value, 1)} times as much as the others'."
    return words, "it slows down when hot, or something else runs on it"


def _against(log_ratio: float) -> str:
    """How much faster or slower, up to what it is compared with."""
    if log_ratio >= 0:
        return faster_than(log_ratio)
    return f"{format_percent(percent_faster(-log_ratio))} % slower than"


def _change(log_ratio: float) -> str:
    """What an update did, in per cent."""
    word = "faster" if log_ratio >= 0 else "slower"
    return f"{format_percent(percent_faster(abs(log_ratio)))} % {word}"


_WORDS = {
    FindingKind.BETTER_LOSES: _better_loses,
    FindingKind.APP_RATIO: _app_ratio,
    FindingKind.NOTHING_APART: _nothing_apart,
    FindingKind.BRIDGE: _bridge,
    FindingKind.CARRIED: _carried,
    FindingKind.RESTLESS: _restless,
}
