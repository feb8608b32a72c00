"""Tables of what was looked into, and of figures that were published elsewhere."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any
from uuid import UUID

from true_margin.core.choices import StepKind
from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.table import PackTable, Source, Target, copy
from true_margin.exchange.pack_noted import (
    PackInquiry,
    PackInquiryRun,
    PackInquirySeen,
    PackInquiryStep,
    PackPublished,
)
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


def _inquiry_steps(source: Source) -> Iterator[PackInquiryStep]:
    for inquiry in source.book.inquiries:
        for step in inquiry.steps:
            yield copy(step, PackInquiryStep, inquiry=str(inquiry.id))


def _inquiry_runs(source: Source) -> Iterator[PackInquiryRun]:
    for inquiry in source.book.inquiries:
        step_of = {key: step.place for step in inquiry.steps for key in step.run_ids}
        for key in inquiry.run_ids:
            yield PackInquiryRun(inquiry=str(inquiry.id), run=str(key), step=step_of.get(key))


def _inquiry_seen(source: Source) -> Iterator[PackInquirySeen]:
    entries: dict[UUID, tuple[str, records.Trial | records.Trouble]] = {
        **{each.id: ("trial", each) for each in source.book.trials},
        **{each.id: ("trouble", each) for each in source.book.troubles},
    }
    for inquiry in source.book.inquiries:
        for step in inquiry.steps:
            linked = (entries.get(key) for key in (*step.trial_ids, *step.trouble_ids))
            rows = [
                PackInquirySeen(
                    inquiry=str(inquiry.id),
                    step=step.place,
                    entry=entry,
                    noted_at=logged.noted_at,
                    **source.setup_columns(logged.setup_id),
                )
                for entry, logged in (each for each in linked if each is not None)
            ]
            yield from sorted(rows, key=lambda row: (row.entry, row.noted_at, row.machine))


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


def _add_inquiry_steps(target: Target) -> None:
    steps = {(row.inquiry, row.place): row for row in target.pack.inquiry_steps}
    told = {row.inquiry for row in target.pack.inquiry_steps}
    again = {link.inquiry for link in target.pack.inquiry_runs}
    for inquiry in target.pack.inquiries:
        if inquiry.id not in told:
            # A pack of before knows only what the last steps said.
            for step in _steps_of(inquiry, tried_again=inquiry.id in again):
                steps[step.inquiry, step.place] = step
    for place, step in sorted(steps.items()):
        key = target.known.inquiries[step.inquiry]
        fields = step.model_dump(exclude={"inquiry"})
        target.known.steps[place] = inquiries.add_step(target.session, key, fields)
        if step.inquiry not in told and step.kind is StepKind.AGAIN:
            target.known.again[step.inquiry] = target.known.steps[place]


def _steps_of(inquiry: PackInquiry, *, tried_again: bool) -> Iterator[PackInquiryStep]:
    said = [
        (StepKind.SUSPECTED, inquiry.suspected, None, inquiry.opened_at),
        (StepKind.CHANGED, inquiry.changed, None, inquiry.opened_at),
        (StepKind.AGAIN, None, None, inquiry.opened_at),
        (
            StepKind.CAME_OUT,
            inquiry.outcome,
            inquiry.counts,
            inquiry.closed_at or inquiry.opened_at,
        ),
    ]
    kept = [each for each in said if each[1] or (each[0] is StepKind.AGAIN and tried_again)]
    for place, (kind, words, counts, at) in enumerate(kept, start=1):
        yield PackInquiryStep(
            inquiry=inquiry.id,
            place=place,
            kind=kind,
            words=words,
            counts=counts,
            who=inquiry.who,
            noted_at=at,
        )


def _add_inquiry_runs(target: Target) -> None:
    for link in target.pack.inquiry_runs:
        inquiry = target.known.inquiries[link.inquiry]
        step = target.known.again.get(link.inquiry)
        if link.step is not None:
            step = target.known.steps.get((link.inquiry, link.step))
        inquiries.link_runs(target.session, inquiry, [target.known.runs[link.run]], step)


def _add_inquiry_seen(target: Target) -> None:
    for link in target.pack.inquiry_seen:
        step = target.known.steps.get((link.inquiry, link.step))
        setup = target.known.setup(link)
        entry = target.known.logged.get((link.entry, setup, link.noted_at))
        if step is None or entry is None:
            where = f"inquiry_seen.csv, {link.inquiry}"
            raise RefusedError("file", f"{where}: names a step or an entry that is not there.")
        trials = [entry] if link.entry == "trial" else []
        troubles = [entry] if link.entry == "trouble" else []
        inquiries.link_seen(target.session, step, trials, troubles)


def _add_published(target: Target) -> None:
    for figure in target.pack.published:
        inquiries.add_published(target.session, target.home, _columns(target, figure))


TABLES = (
    PackTable(name="inquiries", words="inquiries", rows=_inquiries, add=_add_inquiries),
    PackTable(
        name="inquiry_steps",
        words="steps of inquiries",
        rows=_inquiry_steps,
        add=_add_inquiry_steps,
    ),
    PackTable(
        name="inquiry_runs", words="runs tried again", rows=_inquiry_runs, add=_add_inquiry_runs
    ),
    PackTable(
        name="inquiry_seen", words="entries of inquiries", rows=_inquiry_seen, add=_add_inquiry_seen
    ),
    PackTable(name="published", words="figures of others", rows=_published, add=_add_published),
)
