"""Reports: made beside the requests, with progress, and ended when asked to."""

from __future__ import annotations

import json
import re
import time
from collections.abc import Iterator
from datetime import timedelta

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError
from true_margin.desk.jobs.worker import Worker
from true_margin.desk.publish import cards, reports
from true_margin.desk.publish.reports import ReportView
from true_margin.store.database import Database

WAIT_S = 120.0


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, 'Report "on" </style><script>x')
    bench.run("A", "6:10", note="private: to nobody")
    bench.run("A", "6:12", note="a backup was running")
    bench.run("B", "9:02")
    bench.run("B", None, status="failed", reason="ran out of disk")
    cards.add_card(database, bench.slug, {"kind": "bar", "task_id": bench.tasks["Parade"]})
    return bench


@pytest.fixture
def worker(database: Database) -> Iterator[Worker]:
    """Somebody who does what waits."""
    worker = Worker(database)
    worker.start()
    yield worker
    worker.close()


def until(bench: Bench, state: str) -> tuple[ReportView, set[str]]:
    """Wait for the newest report; gives it and the steps that were seen."""
    steps: set[str] = set()
    end = time.monotonic() + WAIT_S
    while time.monotonic() < end:
        view = reports.list_reports(bench.database, bench.slug)[0]
        steps.add(view.report.step)
        if view.report.state == state:
            return view, steps
        assert view.report.state == "running", view.report.problem
        time.sleep(0.05)
    raise AssertionError("the report does not end")


def test_a_report_is_made_with_progress(bench: Bench, worker: Worker) -> None:
    started = reports.start_report(bench.database, bench.slug)
    assert started.report.state == "running"
    with pytest.raises(RefusedError, match="A report is being made"):
        reports.start_report(bench.database, bench.slug)
    view, steps = until(bench, "done")
    assert "setting the pages" in steps
    assert (view.report.done, view.outdated) == (1.0, False)
    html = reports.report_file(bench.database, bench.slug, view.report.id, "html").decode()
    pdf = reports.report_file(bench.database, bench.slug, view.report.id, "pdf")
    assert pdf.startswith(b"%PDF-")
    assert len(pdf) > 20_000
    for words in (
        "How long a job takes",
        "All pairs",
        "Every run",
        "ran out of disk",
        "How it was measured",
    ):
        assert words in html
    assert "a backup was running" in html
    assert "to nobody" not in html
    bench.run("A", "6:13")
    assert reports.list_reports(bench.database, bench.slug)[0].outdated


def test_a_report_needs_nothing_else(bench: Bench) -> None:
    html, _ = reports.report_pages(bench.database, SHELF.take(bench.database, bench.slug))
    outside = re.findall(r"""(?:src|href)=["']?(?!data:|#)([^"'\s>]+)""", html)
    assert outside == []
    assert not re.search(r"url\((?![\"']?data:)", html)
    assert "<script>x" not in html
    found = re.search(r'<script type="application/ld\+json">(.*?)</script>', html, re.S)
    assert found is not None
    linked = json.loads(found[1])
    assert linked["@type"] == "Dataset"
    assert linked["name"] == 'Report "on" </style><script>x'
    assert [each["name"] for each in linked["about"]] == ["A", "B"]


def test_a_report_can_be_ended(bench: Bench, worker: Worker) -> None:
    started = reports.start_report(bench.database, bench.slug)
    ended = reports.end_report(bench.database, bench.slug, started.report.id)
    assert ended.report.state == "ended"
    with pytest.raises(NotFoundError, match="not finished"):
        reports.report_file(bench.database, bench.slug, started.report.id, "pdf")
    # Another may be made at once, and the ended one never comes back.
    reports.start_report(bench.database, bench.slug)
    until(bench, "done")
    states = [view.report.state for view in reports.list_reports(bench.database, bench.slug)]
    assert states == ["done", "ended"]


def test_a_report_that_nobody_makes_is_said(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    reports.start_report(bench.database, bench.slug)
    monkeypatch.setattr(reports, "LOST_AFTER", timedelta(0))
    (view,) = reports.list_reports(bench.database, bench.slug)
    assert view.report.state == "failed"
    assert view.report.problem is not None
    assert "make it again" in view.report.problem


def test_a_report_whose_process_ends_is_made_by_the_next(bench: Bench) -> None:
    """The first worker ends in the middle; the job is taken up again, once."""
    started = reports.start_report(bench.database, bench.slug)
    first = Worker(bench.database)
    first.start()
    end = time.monotonic() + WAIT_S
    while reports.list_reports(bench.database, bench.slug)[0].report.done < 0.3:
        assert time.monotonic() < end
        time.sleep(0.02)
    first.close()
    view = reports.list_reports(bench.database, bench.slug)[0]
    assert view.report.state == "running"
    second = Worker(bench.database)
    second.start()
    view, _ = until(bench, "done")
    assert view.report.id == started.report.id
    second.close()


def test_a_report_that_cannot_be_made_says_why(
    bench: Bench, worker: Worker, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken() -> None:
        raise RuntimeError("the paper is out")

    monkeypatch.setattr(reports, "_printer", broken)
    reports.start_report(bench.database, bench.slug)
    view, _ = until(bench, "failed")
    assert view.report.problem == "It could not be made: the paper is out"
