"""The table of accepted results of others, a row a run; what only waits stays in the house."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby
from typing import Any
from uuid import UUID

from true_margin.core.choices import SentState
from true_margin.desk.packs.table import PackTable, Source, Target
from true_margin.exchange.pack_noted import PackSent
from true_margin.store import records, sent


def _rows(source: Source) -> Iterator[PackSent]:
    for result in sorted(source.book.sent, key=lambda each: (each.received_at, each.id)):
        yield from _runs(source, result)


def _runs(source: Source, result: records.SentResult) -> Iterator[PackSent]:
    told = result.content or {}
    names = source.task_names
    number = 0
    for task in told.get("tasks", ()):
        if UUID(task["task"]) not in names:
            continue
        for run in task["runs"]:
            number += 1
            yield PackSent(
                id=result.digest,
                number=number,
                model=told["model"],
                sender=told.get("sender"),
                **source.setup_columns(result.setup_id),
                task=names[UUID(task["task"])],
                app_version=task.get("app_version"),
                method=run["method"],
                status=run["status"],
                seconds=run.get("seconds"),
                u=run.get("u") or 0.0,
                reason=run.get("reason"),
                sealed=result.sealed,
                made_at=told["made_at"],
                received_at=result.received_at,
                judged_at=result.judged_at,
                why=result.why,
                who=result.judged_by,
            )


def _add(target: Target) -> None:
    there = {each.digest for each in sent.list_sent(target.session, target.home)}
    for digest, group in groupby(target.pack.sent_in, key=lambda row: row.id):
        runs = list(group)
        # Decided on here already, whatever was decided.
        if digest not in there:
            sent.add_sent(target.session, _result(target, runs))


def _result(target: Target, runs: list[PackSent]) -> dict[str, Any]:
    first = runs[0]
    tasks = [
        {
            "task": str(target.known.tasks[name]),
            "app_version": version,
            "runs": [
                run.model_dump(mode="json", include={"seconds", "u", "method", "status", "reason"})
                for run in own
            ],
        }
        for (name, version), own in groupby(runs, key=lambda run: (run.task, run.app_version))
    ]
    return {
        "shootout_id": target.home,
        "digest": first.id,
        "content": {
            "model": first.model,
            "sender": first.sender,
            "made_at": first.made_at.isoformat(),
            "tasks": tasks,
        },
        "sealed": first.sealed,
        "received_at": first.received_at,
        "received_by": first.who,
        "state": SentState.ACCEPTED,
        "setup_id": target.known.setup(first),
        "why": first.why,
        "judged_at": first.judged_at,
        "judged_by": first.who,
    }


TABLES = (PackTable(name="sent_in", words="results sent in", rows=_rows, add=_add),)
