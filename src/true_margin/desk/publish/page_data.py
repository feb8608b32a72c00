"""What a report or a public page shows of a book, ready for a template."""

from __future__ import annotations

import base64
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import islice
from typing import Any

from markupsafe import Markup

from true_margin import __version__
from true_margin.core.labels import RESULT, RUN_STATUS, label_of
from true_margin.core.numerals import PLAIN, fixed, say_day, short, writing
from true_margin.core.wording import format_ratio, say_time
from true_margin.desk.book.book import Book
from true_margin.desk.book.editing_log import LogEntry, log_of, open_log, seen_lines
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.all_pairs import AllPairs, show_all_pairs
from true_margin.desk.margins.fairness import FairnessView, show_fairness
from true_margin.desk.margins.margins import MIX, LadderView, ladder_of
from true_margin.desk.margins.rounds_view import RoundsView, show_rounds
from true_margin.desk.margins.words.inquiries import inquiry_line, step_line
from true_margin.desk.picks.viewers import answer
from true_margin.desk.publish.cards import draw, picture, standing
from true_margin.desk.publish.give_tables import table_of
from true_margin.desk.publish.give_texts import findings, method_lines, pick_lines, short_method
from true_margin.desk.publish.page_bars import PageBars, page_bars
from true_margin.desk.publish.page_feel import PageFeel, page_feels
from true_margin.exchange.pack_public import is_private
from true_margin.publish.cards import to_jpeg
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.strips import ends, mark_svg, strip, strip_scale
from true_margin.publish.tables import html_rows
from true_margin.store import records
from true_margin.store.database import Database

Step = Callable[[str, float], None]


@dataclass(frozen=True, slots=True)
class PageCard:
    """A card on a page, as SVG that needs no font, and as JPEG where that is asked for."""

    svg: Markup
    jpeg: str | None
    alt: str
    key: str
    title: str


@dataclass(frozen=True, slots=True)
class PageRung:
    """A row of a ladder on a page; texts as they are shown."""

    ranks: str
    mark: Markup
    label: str
    typical: str
    ratio: str
    interval: str
    call: str
    rule: Markup
    runs: int
    remark: str


@dataclass(frozen=True, slots=True)
class PageAnswer:
    """What one kind of viewer should do: the order, why, how surely, and what comes second."""

    viewer: str
    order: str
    reason: str
    surety: str
    beside: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class PageLadder:
    """A ladder on a page, as bars and as figures."""

    key: str
    title: str
    summary: str
    headline: str
    detail: str
    worth: str
    bars: PageBars
    measured: str
    rungs: tuple[PageRung, ...]
    beside: tuple[tuple[str, str], ...]
    off: tuple[tuple[str, str], ...]
    notes: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class PageRun:
    """A run in full."""

    setup: str
    round: str
    value: str
    status: str
    method: str
    reason: str
    started: str


@dataclass(frozen=True, slots=True)
class PageData:
    """Everything that a page may show."""

    name: str
    baseline: str
    dated: str
    findings: tuple[str, ...]
    picks: tuple[str, ...]
    answers: tuple[PageAnswer, ...]
    samples: str
    doubts: tuple[str, ...]
    method: tuple[str, ...]
    whole_method: tuple[str, ...]
    cards: tuple[PageCard, ...]
    ladders: tuple[PageLadder, ...]
    seen: tuple[str, ...]
    feels: tuple[PageFeel, ...]
    specs: Markup
    prices: Markup
    simulated: bool
    version: str


def page_data(book: Book, step: Step | None = None, *, pictures: bool = False) -> PageData:
    """Gather what every page shows.

    Args:
        book: what it is about.
        step: is told what is being done, and how much of it is done, from 0 to 1.
        pictures: whether cards are made as JPEG too, which a PDF sets much faster.
    """
    tell = step or (lambda _words, _part: None)
    tell("reading the runs", 0.05)
    cards = tuple(_cards(book, tell, pictures=pictures))
    tell("setting the rankings", 0.4)
    keys = [MIX, *(str(task.id) for task in book.tasks)] if book.tasks else []
    views = [ladder_of(book, key) for key in keys]
    newest = max(
        (run.started_at or run.created_at for run in book.runs), default=book.shootout.created_at
    )
    return PageData(
        book.shootout.name,
        "none" if book.baseline is None else book.baseline.label,
        say_day(newest, whole=True),
        tuple(findings(book)),
        tuple(pick_lines(book)),
        *_answers(book),
        tuple(dict.fromkeys(note for view in views for note in view.notes)),
        tuple(short_method(book)),
        tuple(method_lines(book)),
        cards,
        tuple(_ladder(book, view) for view in views),
        seen_lines(open_log(book), [setup.id for setup in book.setups]),
        page_feels(book),
        Markup(html_rows(table_of(book, "specs"))),  # noqa: S704 - escaped cell by cell
        Markup(html_rows(table_of(book, "prices"))),  # noqa: S704 - escaped cell by cell
        any(run.simulated for run in book.runs),
        __version__,
    )


def _cards(book: Book, tell: Step, *, pictures: bool) -> Iterator[PageCard]:
    kept = standing(book)
    for at, card in enumerate(kept):
        tell(f"drawing card {at + 1} of {len(kept)}", 0.05 + 0.35 * at / len(kept))
        try:
            drawing = draw(book, card, Shape.WIDE, LookName.DAY)
        except RefusedError:
            continue
        title = drawing.alt.split("\n", 1)[0]
        # A hatch has one name in every card; on one page each needs its own.
        svg = drawing.svg.replace('id="hatch"', f'id="hatch{at}"')
        svg = svg.replace("url(#hatch)", f"url(#hatch{at})")
        jpeg = None
        if pictures:
            made = to_jpeg(picture(book, card, Shape.WIDE, LookName.DAY))
            jpeg = f"data:image/jpeg;base64,{base64.b64encode(made).decode()}"
        yield PageCard(Markup(svg), jpeg, drawing.alt, str(card.id), title)  # noqa: S704 - drawn here


def _answers(book: Book) -> tuple[tuple[PageAnswer, ...], str]:
    """What each viewer should do, and once what is known of other samples."""
    found, samples = [], ""
    for viewer in book.viewers:
        if viewer.retired_at is not None:
            continue
        view = answer(book, viewer)
        picked = view.picked
        if picked is not None:
            beside = (picked.level, picked.second, *(r.words for r in view.predicted if r.accepted))
            told = tuple(each for each in beside if each)
            found.append(PageAnswer(viewer.name, picked.what, picked.reason, picked.surety, told))
            samples = samples or view.samples or ""
        elif view.problem is not None:
            found.append(PageAnswer(viewer.name, "No answer yet", view.problem.words, "", ()))
    return tuple(found), samples


def _ladder(book: Book, view: LadderView) -> PageLadder:
    scale = strip_scale(ends([(r.ratio, r.lo, r.hi) for r in view.rows]), view.materiality)
    marks = {setup.id: setup.mark for setup in book.setups}
    rungs = []
    for row in view.rows:
        typical = ""
        if row.typical is not None:
            typical = (
                say_time(row.typical)
                if view.measure == "time"
                else fixed(row.typical, _digits(row.typical), grouped=True)
            )
        ratio = "" if row.ratio is None else f"{format_ratio(row.ratio)}×"
        if row.call == "baseline":
            ratio = "1×"
        interval = ""
        if row.lo is not None and row.hi is not None:
            interval = f"{format_ratio(row.lo)} to {format_ratio(row.hi)}"
        ranks = str(row.best_rank)
        if row.worst_rank != row.best_rank:
            ranks += f" to {row.worst_rank}"
        call = label_of(RESULT, row.call)
        said = f"{row.label}: {ratio} {interval} {call}"
        remark = "; ".join(
            filter(
                None, ("↻ estimated from an earlier round" if row.carried else "", row.completion)
            )
        )
        rungs.append(
            PageRung(
                ranks,
                Markup(mark_svg(marks[row.setup_id])),  # noqa: S704 - drawn here
                row.label,
                typical,
                ratio,
                interval,
                call,
                Markup(strip(scale, row.ratio, row.lo, row.hi, row.call, said)),  # noqa: S704
                row.runs,
                remark,
            )
        )
    measured = view.round or ""
    return PageLadder(
        view.key,
        view.title,
        view.summary,
        view.headline,
        view.detail,
        view.worth,
        page_bars(book, view.key),
        measured,
        tuple(rungs),
        tuple((beside.label, beside.words) for beside in view.beside),
        tuple(_off(view)),
        view.notes,
    )


def _off(view: LadderView) -> Iterator[tuple[str, str]]:
    """Setups that are not ranked, those of one reason together."""
    names: dict[str, list[str]] = {}
    for off in view.off:
        names.setdefault(off.reason, []).append(off.label)
    for reason, labels in names.items():
        yield ", ".join(labels), reason


@dataclass(frozen=True, slots=True)
class PackedRuns:
    """All runs of a setup in one round, in one line, as they stand on paper."""

    setup: str
    round: str
    words: str


@dataclass(frozen=True, slots=True)
class ReportData:
    """What a report shows beyond every page: pairs, fairness, rounds, inquiries, all runs."""

    pairs: tuple[AllPairs, ...]
    fairness: FairnessView
    rounds: RoundsView
    inquiries: tuple[tuple[str, tuple[str, ...]], ...]
    log: tuple[LogEntry, ...]
    runs: tuple[tuple[str, tuple[PageRun, ...]], ...]
    packed: tuple[tuple[str, tuple[PackedRuns, ...]], ...]


def report_data(database: Database, book: Book) -> ReportData:
    """Gather what only the report shows."""
    slug = book.shootout.slug
    every = tuple((task.name, tuple(page_runs(book, task.id))) for task in book.tasks)
    keys = [MIX, *(str(task.id) for task in book.tasks)] if book.tasks else []
    return ReportData(
        tuple(show_all_pairs(database, slug, key) for key in keys),
        show_fairness(database, slug, None),
        show_rounds(database, slug),
        tuple(
            (inquiry_line(each), tuple(_open_steps(each)))
            for each in book.inquiries
            if not is_private(each.suspected)
        ),
        tuple(
            entry
            for entry in log_of(open_log(book)).entries
            if entry.sort != "failure" and entry.withdrawn_why is None
        ),
        every,
        tuple((name, tuple(pack_runs(runs))) for name, runs in every if runs),
    )


def pack_runs(runs: Sequence[PageRun]) -> Iterator[PackedRuns]:
    """Runs a line for each setup and round: values that count, then the others with why not."""
    lines: dict[tuple[str, str], list[str]] = {}
    for run in runs:
        said = lines.setdefault((run.setup, run.round), [])
        counts = run.status == label_of(RUN_STATUS, "ok")
        value = run.value or ("" if counts else run.status)
        if counts:
            said.append(f"{value} ({run.reason})" if run.reason else value)
        else:
            status = "" if value == run.status else f"{run.status}"
            why = ": ".join(each for each in (status, run.reason) if each)
            said.append(f"[{value}{f', {why}' if why else ''}]")
    for (setup, round_), said in lines.items():
        yield PackedRuns(setup, round_, ", ".join(said))


def _digits(amount: float) -> int:
    """Decimals that an amount is told with: three digits at least."""
    return 0 if amount >= 100 else 1 if amount >= 10 else 2


def _open_steps(inquiry: records.Inquiry) -> Iterator[str]:
    """The steps of an inquiry that strangers may read."""
    for step in inquiry.steps:
        if not is_private(step.words or ""):
            yield step_line(step)


def page_runs(book: Book, task_id: object) -> Iterator[PageRun]:
    """Every run of a task as a page tells it, private words left out."""
    rounds = {round_.id: round_.name for round_ in book.rounds}
    task = next(task for task in book.tasks if task.id == task_id)
    for run in book.runs:
        if run.task_id != task_id:
            continue
        value = ""
        if run.value is not None:
            amount = f"{short(run.value)} {task.unit or ''}"
            value = say_time(run.value) if task.measure == "time" else amount
        said = (run.reason, run.note, "simulated" if run.simulated else None)
        reason = "; ".join(each for each in said if each and not is_private(each))
        started = "" if run.started_at is None else f"{run.started_at:%Y-%m-%d %H:%M}"
        yield PageRun(
            book.setups[book.setup_index[run.setup_id]].label,
            rounds[run.round_id],
            value,
            label_of(RUN_STATUS, run.status),
            run.method,
            reason,
            started,
        )


@writing(PLAIN)  # read by programs, and kept by them
def linked_data(book: Book, url: str | None = None) -> dict[str, Any]:
    """The page as schema.org knows it: a data set with what was measured and by what."""
    found: dict[str, Any] = {
        "@context": "https://schema.org",
        "@type": "Dataset",
        "name": book.shootout.name,
        "description": " ".join(islice(findings(book), 3)) or book.shootout.name,
        "dateModified": f"{book.shootout.created_at:%Y-%m-%d}",
        "isAccessibleForFree": True,
        "measurementTechnique": list(short_method(book)),
        "variableMeasured": [
            {"@type": "PropertyValue", "name": task.name, "unitText": task.unit or "s"}
            for task in book.tasks
        ],
        "about": [{"@type": "Product", "name": machine.name} for machine in book.machines],
    }
    if url is not None:
        found["url"] = url
    return found
