"""How editing felt, as a page shows it: an app, what was tried in it, and each machine's grade."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from true_margin.core.numerals import say_day
from true_margin.core.wording import count_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.editing_log import Feel, FeelCell, LogEntry, log_of, open_log

UNTRIED = "not tried"


@dataclass(frozen=True, slots=True)
class PageGrade:
    """A grade that counts, what was counted with it, and from which day where it changed.

    ``grade`` names the line of motion that is drawn; it is empty where nothing was tried.
    """

    what: str
    grade: str
    words: str


@dataclass(frozen=True, slots=True)
class PageFeelRow:
    """One machine in one app."""

    mark: int
    label: str
    grades: tuple[PageGrade, ...]


@dataclass(frozen=True, slots=True)
class PageFeel:
    """One app: what was tried in it, a row for each machine, and what went wrong."""

    app: str
    tried: str
    whats: tuple[str, ...]
    rows: tuple[PageFeelRow, ...]
    troubles: tuple[str, ...]


def page_feels(book: Book) -> tuple[PageFeel, ...]:
    """What strangers may read of how editing felt, by app."""
    log = log_of(open_log(book))
    apps = dict.fromkeys(feel.app for feel in log.feels)
    others = [e.app for e in log.entries if e.sort == "trouble" and e.app is not None]
    return tuple(
        _of_app(book, app, [feel for feel in log.feels if feel.app == app], log.entries)
        for app in dict.fromkeys([*apps, *others])
    )


def _of_app(book: Book, app: str, feels: list[Feel], entries: tuple[LogEntry, ...]) -> PageFeel:
    marks = {setup.id: setup.mark for setup in book.setups}
    whats = tuple(dict.fromkeys((row.what, row.conditions) for feel in feels for row in feel.rows))
    rows = tuple(
        PageFeelRow(
            marks[feel.setup_id],
            feel.setup,
            tuple(_grade(feel, what, conditions) for what, conditions in whats),
        )
        for feel in feels
    )
    versions = dict.fromkeys(
        day.version for feel in feels for day in feel.days if day.version is not None
    )
    days = sorted({day.day for feel in feels for day in feel.days})
    tried = ""
    if days:
        span = say_day(days[0])
        if days[-1] != days[0]:
            span = f"{span} to {say_day(days[-1])}"
        tried = ", ".join(each for each in (" and ".join(versions), span) if each)
    return PageFeel(
        app,
        tried,
        tuple(_titled(what, conditions) for what, conditions in whats),
        rows,
        tuple(_troubles(app, entries)),
    )


def _titled(what: str, conditions: str | None) -> str:
    return what if conditions is None else f"{what} ({conditions})"


def _grade(feel: Feel, what: str, conditions: str | None) -> PageGrade:
    """The last grade of one kind; where it was another on an earlier day, that too."""
    title = _titled(what, conditions)
    row = next((r for r in feel.rows if (r.what, r.conditions) == (what, conditions)), None)
    told: list[tuple[int, FeelCell]] = (
        [] if row is None else [(at, cell) for at, cell in enumerate(row.cells) if cell is not None]
    )
    if not told:
        return PageGrade(title, "", UNTRIED)
    at, last = told[-1]
    before = next((cell.grade for _, cell in reversed(told) if cell.grade != last.grade), None)
    since = "" if before is None else f"{before} before {say_day(feel.days[at].day)}"
    return PageGrade(title, last.grade, "; ".join(each for each in (last.counts, since) if each))


def _troubles(app: str, entries: tuple[LogEntry, ...]) -> Iterator[str]:
    """What went wrong in an app, the newest first, and in which version it is gone."""
    for entry in entries:
        if entry.sort != "trouble" or entry.app != app or entry.withdrawn_why is not None:
            continue
        times = "" if entry.times in (None, 1) else f", {count_of(entry.times, 'time')}"
        where = "" if entry.task is None else f" ({entry.task})"
        said = f"{say_day(entry.day)}, {entry.setup}: {entry.what}{times}{where}"
        more = [entry.note] if entry.note else []
        if entry.fixed_in:
            more.append(f"gone in {entry.fixed_in}")
        yield f"{said}. {'; '.join(more).capitalize() + '.' if more else ''}".strip()
