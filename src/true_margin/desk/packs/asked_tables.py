"""Tables of what was looked into, and of figures that were published elsewhere."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any
from uuid import UUID

from true_margin.desk.packs.table import PackTable, Source, Target, copy
from true_margin.exchange.pack_noted import PackInquiry, PackInquiryRun, PackPublished
from true_margin.store import inquiries, records

NAMES = {"task", "machine_a", "setup_a", "machine_b", "setup_b"}


def _about(source: Source, row: records.Inquiry | records.PublishedFigure) -> dict[str, Any]:
    """The names of a task and two setups, as far as they are named."""
    names = {task.id: task.name for task in source.book.tasks}
    task = None if row.task_id is None else names.get(row.task_id)
    a = source.setup_columns(row.setup_a_id, after="_a")
    return {"task": task, **a, **source.setup_columns(row.setup_b_id, after="_b")}


def _inquiries(source: Source) -> Iterator[PackInquiry]:
    for inquiry in source.book.inquiries:
        yield copy(inquiry, PackInquiry, id=str(inquiry.id), **_about(source, inquiry))


def _inquiry_runs(source: Source) -> Iterator[PackInquiryRun]:
    for inquiry in source.book.inquiries:
        for key in inquiry.run_ids:
            yield PackInquiryRun(inquiry=str(inquiry.id), run=str(key))


def _published(source: Source) -> Iterator[PackPublished]:
    for figure in source.book.published:
        yield copy(figure, PackPublished, **_about(source, figure))


def _columns(target: Target, row: PackInquiry | PackPublished) -> dict[str, Any]:
    return {
        **row.model_dump(exclude={*NAMES, "id"}),
        "task_id": target.known.task(row),
        "setup_a_id": target.known.setup(row, after="_a"),
        "setup_b_id": target.known.setup(row, after="_b"),
    }


def _add_inquiries(target: Target) -> None:
    for inquiry in target.pack.inquiries:
        kept = {"id": UUID(inquiry.id)} if target.known.keep_ids else {}
        columns = {**_columns(target, inquiry), **kept}
        key = inquiries.add_inquiry(target.session, target.home, columns)
        target.known.inquiries[inquiry.id] = key


def _add_inquiry_runs(target: Target) -> None:
    for link in target.pack.inquiry_runs:
        inquiry = target.known.inquiries[link.inquiry]
        inquiries.link_runs(target.session, inquiry, [target.known.runs[link.run]])


def _add_published(target: Target) -> None:
    for figure in target.pack.published:
        inquiries.add_published(target.session, target.home, _columns(target, figure))


TABLES = (
    PackTable(name="inquiries", words="inquiries", rows=_inquiries, add=_add_inquiries),
    PackTable(
        name="inquiry_runs", words="runs tried again", rows=_inquiry_runs, add=_add_inquiry_runs
    ),
    PackTable(name="published", words="figures of others", rows=_published, add=_add_published),
)
