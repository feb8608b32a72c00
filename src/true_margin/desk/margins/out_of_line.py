"""What looks wrong by the figures, and the inquiries that people opened on it."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from uuid import UUID

import numpy as np

from true_margin.core.out_of_line import FAR, Finding, FindingKind, find_out_of_line
from true_margin.core.study import FlagArray
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import spec_value
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.inquiries import InquiryView, inquiry_view
from true_margin.desk.margins.pair_call import rounds_of_carried
from true_margin.desk.margins.same_work import same_work_pairs
from true_margin.desk.margins.words.odd import (
    OddBar,
    OddNames,
    check_first,
    run_again,
    say_count,
    say_odd,
)
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


class OddState(StrEnum):
    """How far an odd result was looked into."""

    NEW = "new"
    LOOKING = "looking"
    SETTLED = "settled"


@dataclass(frozen=True, slots=True)
class FindingView:
    """An odd result in words, and the follow-up on it.

    ``headline`` and ``rest`` together are ``words``; ``bars`` are its two numbers, of what
    ``measured`` says. Those with the same ``together`` rest on the same runs.
    """

    kind: str
    task_id: UUID | None
    task: str | None
    a_id: UUID | None
    b_id: UUID | None
    words: str
    headline: str
    rest: str
    causes: tuple[str, ...]
    measured: str
    bars: tuple[OddBar, ...]
    together: int
    state: OddState
    inquiry_id: UUID | None


@dataclass(frozen=True, slots=True)
class RunAgain:
    """The result that a second run would tell most about."""

    setup_id: UUID
    task_id: UUID
    words: str


@dataclass(frozen=True, slots=True)
class OutOfLine:
    """What looks wrong, the most first, and every inquiry.

    ``summary`` counts those that nobody settled; ``advice`` says where to begin, and ``again``
    what to run for that.
    """

    summary: str
    advice: str
    again: RunAgain | None
    findings: tuple[FindingView, ...]
    inquiries: tuple[InquiryView, ...]


def show_out_of_line(database: Database, slug: str) -> OutOfLine:
    """List what looks wrong by the figures, and the inquiries of a shootout."""
    book = SHELF.take(database, slug)
    found = find_out_of_line(analysis_of(book), _better(book), _two_apps(book))
    groups = _together(found)
    order = sorted(range(len(found)), key=lambda at: (-_size_of(groups, found, at), groups[at]))
    views = tuple(_finding(book, found[at], groups[at]) for at in order)
    advice, again = _advice(book, found, groups, order)
    return OutOfLine(
        _summary(views),
        advice,
        again,
        views,
        tuple(inquiry_view(book, each) for each in book.inquiries),
    )


def _summary(views: Sequence[FindingView]) -> str:
    left = sum(view.state is not OddState.SETTLED for view in views)
    return say_count(left, any_found=bool(views))


def _size(finding: Finding) -> float:
    """How far off it is, on the log scale of speeds; 0 where no number says so."""
    match finding.kind:
        case FindingKind.APP_RATIO | FindingKind.BRIDGE:
            return abs(finding.value - finding.limit)
        case FindingKind.BETTER_LOSES:
            return abs(finding.value)
        case FindingKind.RESTLESS:
            # A scatter is no speed: it comes after all that is off by more than a tenth.
            return FAR
        case _:
            return 0.0


def _places(finding: Finding) -> set[tuple[int, int]]:
    """The results, as setup and task, that a finding rests on most of all: those of its first."""
    if finding.a is None:
        return set()
    tasks = (task for task in (finding.task, finding.other_task) if task is not None)
    return {(finding.a, task) for task in tasks}


def _together(found: Sequence[Finding]) -> list[int]:
    """For each finding the number of its group: those of a group share the runs they rest on."""
    groups = list(range(len(found)))
    places = [_places(each) for each in found]
    for i, own in enumerate(places):
        for j in range(i):
            if own & places[j] and groups[i] != groups[j]:
                old, new = groups[i], groups[j]
                groups = [new if group == old else group for group in groups]
    return groups


def _size_of(groups: Sequence[int], found: Sequence[Finding], at: int) -> float:
    """The size of the largest of its group: groups stay together."""
    return max(
        _size(each) for each, group in zip(found, groups, strict=True) if group == groups[at]
    )


def _advice(
    book: Book, found: Sequence[Finding], groups: Sequence[int], order: Sequence[int]
) -> tuple[str, RunAgain | None]:
    """Where to begin: runs that several odd results rest on are likely to be the one cause."""
    counts = Counter(groups)
    for at in order:
        own = [each for each, group in zip(found, groups, strict=True) if group == groups[at]]
        shared = set.intersection(*(_places(each) for each in own))
        if counts[groups[at]] > 1 and shared:
            setup, task = min(shared)
            name, on = book.setups[setup], book.tasks[task]
            return (
                check_first(len(own), name.label, on.name),
                RunAgain(name.id, on.id, run_again(name.label)),
            )
    return "", None


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


def _names(book: Book, finding: Finding) -> OddNames:
    """What an odd result is about, by name."""
    a, b = ("" if s is None else book.setups[s].label for s in (finding.a, finding.b))
    task, other = (
        None if place is None else book.tasks[place] for place in (finding.task, finding.other_task)
    )
    setups = [s for s in (finding.a, finding.b) if s is not None]
    estimated = finding.kind is FindingKind.CARRIED
    return OddNames(
        a=a,
        b=b,
        task="the mix" if task is None else task.name,
        app="" if task is None else task.app,
        other_app="" if other is None else other.app,
        round="" if finding.round is None else book.rounds[finding.round].name,
        rounds=rounds_of_carried(book, setups, finding.task) if estimated else "",
    )


def _finding(book: Book, finding: Finding, together: int) -> FindingView:
    task = None if finding.task is None else book.tasks[finding.task]
    task_id = None if task is None else task.id
    a, b = (None if s is None else book.setups[s].id for s in (finding.a, finding.b))
    said = say_odd(finding, _names(book, finding))
    key = (finding.kind, task_id, a, b)
    on_it = [
        each
        for each in book.inquiries
        if (each.kind, each.task_id, each.setup_a_id, each.setup_b_id) == key
    ]
    state = OddState.NEW
    if on_it:
        state = OddState.LOOKING if on_it[-1].closed_at is None else OddState.SETTLED
    return FindingView(
        finding.kind.value,
        task_id,
        None if task is None else task.name,
        a,
        b,
        f"{said.headline} {said.rest}".strip(),
        said.headline,
        said.rest,
        said.causes,
        said.measured,
        said.bars,
        together,
        state,
        on_it[-1].id if on_it else None,
    )
