"""Reports: made beside the requests, with progress, and ended when asked to."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from subprocess import PIPE, Popen
from tempfile import TemporaryFile
from threading import Thread
from typing import Any
from uuid import UUID

from markupsafe import Markup

from true_margin.core.numerals import say_day
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.publish.making import EndedError, given_up, telling
from true_margin.desk.publish.page_data import Step, linked_data, page_data, report_data
from true_margin.publish.pages import font_faces, json_ld, render
from true_margin.store import reports
from true_margin.store.database import Database
from true_margin.store.queue import put_job
from true_margin.store.reports import Report

JOB = "report"
LOST_AFTER = timedelta(minutes=5)
"""A report that gave no sign for so long has no process that makes it, and none took it over."""
LOOK_S = 0.1
USUAL_PRINT_S = 3.0


@dataclass(frozen=True, slots=True)
class ReportView:
    """A report as the screen shows it; ``outdated`` where the book has changed since."""

    report: Report
    outdated: bool


def list_reports(database: Database, slug: str) -> tuple[ReportView, ...]:
    """List the newest reports."""
    shootout = SHELF.take(database, slug).shootout
    with transaction(database) as session:
        found = reports.list_reports(session, shootout.id)
        for each in found:
            if each.state == "running" and database.clocks.now() - each.seen_at > LOST_AFTER:
                words = "True Margin was ended while it made this report: make it again."
                reports.change_report(session, each.id, {"state": "failed", "problem": words})
        found = reports.list_reports(session, shootout.id)
    return tuple(ReportView(each, each.revision != shootout.revision) for each in found)


def start_report(database: Database, slug: str) -> ReportView:
    """Begin to make a report of the book as it stands.

    Raises:
        RefusedError: one is being made already.
    """
    if any(view.report.state == "running" for view in list_reports(database, slug)):
        raise RefusedError("report", "A report is being made: wait for it, or stop it first.")
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        key = reports.add_report(
            session, book.shootout.id, book.shootout.revision, database.clocks.now()
        )
        made = reports.get_report(session, book.shootout.id, key)
        put_job(session, JOB, slug=slug, report_id=str(key))
    return ReportView(made, outdated=False)


def end_report(database: Database, slug: str, report_id: UUID) -> ReportView:
    """End a report that is being made; one that is finished stays."""
    home = SHELF.take(database, slug).shootout
    with transaction(database) as session:
        reports.get_report(session, home.id, report_id)
        reports.change_report(session, report_id, {"state": "ended"})
        found = reports.get_report(session, home.id, report_id)
    return ReportView(found, found.revision != home.revision)


def report_file(database: Database, slug: str, report_id: UUID, kind: str) -> bytes:
    """The finished HTML or PDF of a report.

    Raises:
        NotFoundError: it is not finished.
    """
    home = SHELF.take(database, slug).shootout.id
    with transaction(database) as session:
        reports.get_report(session, home, report_id)
        content = reports.report_file(session, report_id, kind)
    if content is None:
        raise NotFoundError("This report is not finished.")
    return content


def report_page(database: Database, book: Book) -> str:
    """The report as one page that needs nothing else."""
    return render("report.html", pdf=False, **_values(database, book))


def report_pages(database: Database, book: Book, step: Step | None = None) -> tuple[str, str]:
    """The report as one page that needs nothing else, and the same page made for print."""
    values = _values(database, book, step, pictures=True)
    return render("report.html", pdf=False, **values), render("report.html", pdf=True, **values)


def _values(
    database: Database, book: Book, step: Step | None = None, *, pictures: bool = False
) -> dict[str, Any]:
    """What the page is filled with; ``pictures`` for print, which sets them much faster."""
    data = page_data(book, step, pictures=pictures)
    # Stands inside a CSS text: what could end it is taken out.
    running = Markup("".join(c for c in data.name if c not in '"\\\n\r<>'))  # noqa: S704
    return {
        "data": data,
        "report": report_data(database, book),
        "made": say_day(datetime.now(UTC), whole=True),
        "running": running,
        "fonts": font_faces(),
        "linked": json_ld(linked_data(book)),
    }


@contextmanager
def _printer() -> Iterator[Callable[[str, Step], bytes]]:
    """A program that sets pages, begun before there is one: it loads what it needs meanwhile.

    It ends when the report is ended.
    """
    command = [sys.executable, "-m", "true_margin.publish.print_page"]
    with TemporaryFile() as pdf, TemporaryFile() as said:
        program = Popen(command, stdin=PIPE, stdout=pdf, stderr=said)

        def set_pages(html: str, step: Step) -> bytes:
            began = time.monotonic()
            Thread(target=_hand_over, args=(program, html.encode()), daemon=True).start()
            while program.poll() is None:
                # How long it takes is not known before: half of what is left, every so often.
                gone = (time.monotonic() - began) / USUAL_PRINT_S
                step("setting the pages", 0.99 - 0.44 * 0.5**gone)
                time.sleep(LOOK_S)
            if program.returncode != 0:
                said.seek(0)
                last = said.read().decode(errors="replace").strip().rsplit("\n", 1)[-1]
                words = f"the printing program ended with {program.returncode}"
                raise RuntimeError(last or words)
            pdf.seek(0)
            return pdf.read()

        try:
            yield set_pages
        finally:
            if program.poll() is None:
                program.kill()
            program.wait()
            if program.stdin is not None and not program.stdin.closed:
                with suppress(OSError):
                    program.stdin.close()


def _hand_over(program: Popen[bytes], page: bytes) -> None:
    """Give a page to the printing program, which takes it once it has loaded."""
    assert program.stdin is not None, "it was begun with a pipe"
    with suppress(OSError):  # it ended: what it said is told instead
        program.stdin.write(page)
        program.stdin.close()


def give_up(database: Database, report_id: str) -> None:
    """Say of a report that the process which printed it ended twice: it is not begun again."""
    with transaction(database) as session:
        reports.change_report(session, UUID(report_id), given_up("printed"))


def make_report(database: Database, ending: Callable[[], bool], slug: str, report_id: str) -> None:
    """Make a report that waits in the queue; what goes wrong is told by the report itself.

    Args:
        database: where it is.
        ending: says whether this process is about to end.
        slug: of the shootout.
        report_id: of the report.

    Raises:
        InterruptedError: this process ends; the report is made again by the next one.
    """
    key = UUID(report_id)

    def step(words: str, part: float) -> None:
        if ending():
            raise InterruptedError("this process ends")
        now = database.clocks.now()
        with transaction(database) as session:
            if not reports.change_report(
                session, key, {"step": words, "done": part, "seen_at": now}
            ):
                raise EndedError

    def failed(fields: dict[str, Any]) -> None:
        with transaction(database) as session:
            reports.change_report(session, key, fields)

    with telling("report", failed):
        step("reading the runs", 0.0)
        with _printer() as set_pages:
            book = SHELF.take(database, slug)
            html, printed = report_pages(database, book, step)
            pdf = set_pages(printed, step)
        with transaction(database) as session:
            reports.change_report(
                session,
                key,
                {
                    "state": "done",
                    "step": "done",
                    "done": 1.0,
                    "html": html.encode(),
                    "pdf": pdf,
                    "revision": book.shootout.revision,
                },
            )
