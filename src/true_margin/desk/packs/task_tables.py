"""Tables of tasks: timelines with their files, tasks with their settings, rounds, overrules."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from true_margin.core.errors import CoreError
from true_margin.core.specs import SpecValue, show_spec
from true_margin.core.task_rows import read_settings
from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.table import PackTable, Source, Target, copy
from true_margin.desk.tasks.timelines import stored_file
from true_margin.exchange.apart import TIMELINE, read_apart
from true_margin.exchange.pack_noted import PackJudgement, PackOverrule, PackPlan, PackPlanPart
from true_margin.exchange.pack_tables import (
    PackRound,
    PackRoundVersion,
    PackSensitivity,
    PackTask,
    PackTaskSetting,
    PackTimeline,
    PackTimelineFile,
)
from true_margin.exchange.timeline_files import read_timeline
from true_margin.store import judgements, overrules, plans, records, shootouts, tasks, timelines


def content_name(place: int, file: records.TimelineFile) -> str:
    """What a timeline's file is called in a pack."""
    return f"timeline-{place}.{file.name.rsplit('.', 1)[-1].lower()}"


def _timeline_files(source: Source) -> Iterator[PackTimelineFile]:
    names = {timeline.id: timeline.name for timeline in source.book.timelines}
    for place, file in enumerate(source.book.timeline_files, start=1):
        yield copy(
            file,
            PackTimelineFile,
            timeline=names[file.timeline_id],
            content=content_name(place, file),
            **source.setup_columns(file.setup_id),
        )


def _tasks(source: Source) -> Iterator[PackTask]:
    names = source.task_names
    for task in source.tasks:
        follows = None if task.follows_id is None else names[task.follows_id]
        own = None if task.own_name == task.name else task.own_name
        yield copy(task, PackTask, follows=follows, own_name=own)


def _sensitivities(source: Source) -> Iterator[PackSensitivity]:
    for task in source.tasks:
        for each in task.sensitivities:
            yield PackSensitivity(
                task=task.name, to=each.to, up_to_s=each.up_to_s, why=each.why or None
            )


def _task_settings(source: Source) -> Iterator[PackTaskSetting]:
    for task in source.tasks:
        for column, value in task.settings.items():
            yield PackTaskSetting(task=task.name, field=column, value=show_spec(value))


def _round_versions(source: Source) -> Iterator[PackRoundVersion]:
    for round_ in source.book.rounds:
        for each in round_.versions:
            yield PackRoundVersion(round=round_.name, app=each.app, version=each.version)


def _overrules(source: Source) -> list[PackOverrule]:
    """By when they were made: the order of rows in the store is no order."""
    names = source.task_names
    rows = []
    for overrule in source.book.overrules:
        pair = (source.setup(key) for key in (overrule.setup_a_id, overrule.setup_b_id))
        a, b = sorted((s.machine, s.name) for s in pair if s is not None)
        rows.append(
            copy(
                overrule,
                PackOverrule,
                task=names[overrule.task_id],
                machine_a=a[0],
                setup_a=a[1],
                machine_b=b[0],
                setup_b=b[1],
            )
        )
    return sorted(rows, key=lambda row: (row.made_at, row.task, row.machine_a, row.setup_a))


def _judgements(source: Source) -> list[PackJudgement]:
    names = source.task_names
    rows = []
    for word in source.book.judgements:
        pair = (source.setup(key) for key in (word.setup_id, word.other_setup_id))
        a, b = sorted(
            ((None, None) if s is None else (s.machine, s.name) for s in pair),
            key=lambda each: (each[0] is None, each),
        )
        other = None if word.other_task_id is None else names[word.other_task_id]
        task, second = sorted(
            (names[word.task_id], other), key=lambda each: (each is None, each or "")
        )
        rows.append(
            copy(
                word,
                PackJudgement,
                task=task,
                other_task=second,
                machine_a=a[0],
                setup_a=a[1],
                machine_b=b[0],
                setup_b=b[1],
            )
        )
    return sorted(rows, key=lambda row: (row.noted_at, row.task, row.machine_a or ""))


def _add_judgements(target: Target) -> None:
    kept = {"judged_as", "part", "reason", "who", "noted_at", "withdrawn_at", "withdrawn_why"}
    for word in target.pack.judgements:
        other = None if word.other_task is None else target.known.tasks[word.other_task]
        judgements.add_judgement(
            target.session,
            {
                **word.model_dump(include=kept),
                "task_id": target.known.task(word),
                "other_task_id": other,
                "setup_id": target.known.setup(word, after="_a"),
                "other_setup_id": target.known.setup(word, after="_b"),
            },
        )


def _plans(source: Source) -> list[PackPlan]:
    return [copy(plan, PackPlan) for plan in source.book.plans]


def _plan_parts(source: Source) -> Iterator[PackPlanPart]:
    names = source.task_names
    for plan in source.book.plans:
        at = plan.frozen_at
        known = (names[key] for key in plan.task_ids if key in names)
        yield from (PackPlanPart(frozen_at=at, task=name) for name in known)
        for key in plan.setup_ids:
            if source.setup(key) is not None:
                yield PackPlanPart(frozen_at=at, **source.setup_columns(key))


def _add_plans(target: Target) -> None:
    for plan in target.pack.plans:
        own = [part for part in target.pack.plan_parts if part.frozen_at == plan.frozen_at]
        parts = [
            {"setup_id": target.known.setup(part)}
            if part.task is None
            else {"task_id": target.known.task(part)}
            for part in own
        ]
        plans.add_plan(target.session, target.home, plan.model_dump(), parts)


def _add_tasks(target: Target) -> None:
    session, home, pack = target.session, target.home, target.pack
    made = {
        timeline.name: tasks.timeline_named(session, home, timeline.name, timeline.length_s)
        for timeline in pack.timelines
    }
    typed: dict[str, dict[str, str | None]] = {}
    for setting in pack.task_settings:
        typed.setdefault(setting.task, {})[setting.field] = setting.value
    moved_by: dict[str, list[dict[str, Any]]] = {}
    for each in pack.sensitivities:
        told = {"to": each.to, "up_to_s": each.up_to_s, "why": each.why or ""}
        moved_by.setdefault(each.task, []).append(told)
    added, first = target.known.tasks, len(target.known.tasks)
    for task in sorted(pack.tasks, key=lambda each: each.revision):
        fields = task.model_dump(exclude={"app", "timeline", "follows", "own_name"})
        fields["name"] = task.own_name or task.name
        fields["sensitivities"] = moved_by.get(task.name, [])
        where = f"task_settings.csv, {task.name}"
        fields["settings"] = settings_of(where, typed.get(task.name, {}))
        fields["app_id"] = shootouts.app_named(session, home, task.app)
        fields["timeline_id"] = None
        if task.timeline is not None:
            known = made.get(task.timeline)
            fields["timeline_id"] = known or tasks.timeline_named(session, home, task.timeline)
        fields["follows_id"] = None if task.follows is None else added.get(task.follows)
        fields["position"] = first + pack.tasks.index(task)
        added[task.name] = tasks.add_task(session, home, fields)


def settings_of(where: str, typed: Mapping[str, str | None]) -> dict[str, SpecValue]:
    """Read export settings as typed.

    Raises:
        RefusedError: one cannot be what it says; names the file.
    """
    try:
        return read_settings({}, typed)
    except CoreError as error:
        raise RefusedError("file", f"{where}: {error.reason}") from error


def _add_rounds(target: Target) -> None:
    for round_ in target.pack.rounds:
        target.known.rounds[round_.name] = shootouts.add_round(
            target.session, target.home, round_.name, brought_from=round_.brought_from
        )


def _add_round_versions(target: Target) -> None:
    for each in target.pack.round_versions:
        app = shootouts.app_named(target.session, target.home, each.app)
        round_ = target.known.rounds[each.round]
        shootouts.set_round_version(target.session, round_, app, each.version)


def _add_timeline_files(target: Target) -> None:
    for file in target.pack.timeline_files:
        content = target.pack.contents[file.content]
        try:
            timeline = read_apart(TIMELINE, read_timeline, file.name, content, rate=file.edl_rate)
        except CoreError as error:
            raise RefusedError("file", f"{file.content}: {error.reason}") from error
        fields: dict[str, Any] = {
            "name": file.name,
            "content": content,
            "edl_rate": file.edl_rate,
            "setup_id": target.known.setup(file),
        }
        key = tasks.timeline_named(target.session, target.home, file.timeline)
        row = stored_file(key, timeline, fields, file.who)
        timelines.add_file(target.session, {**row, "added_at": file.added_at})


def _add_overrules(target: Target) -> None:
    kept = {"reason", "who", "made_at", "withdrawn_at", "withdrawn_by"}
    for overrule in target.pack.overrules:
        fields = {
            **overrule.model_dump(include=kept),
            "task_id": target.known.task(overrule),
            "setup_a_id": target.known.setup(overrule, after="_a"),
            "setup_b_id": target.known.setup(overrule, after="_b"),
        }
        overrules.add_overrule(target.session, fields)


TASKS = (
    PackTable(
        name="timelines",
        words="timelines",
        rows=lambda source: [copy(timeline, PackTimeline) for timeline in source.book.timelines],
    ),
    PackTable(name="tasks", words="tasks", rows=_tasks, add=_add_tasks),
    PackTable(name="task_settings", words="export settings", rows=_task_settings),
    PackTable(name="sensitivities", words="sensitivities of tasks", rows=_sensitivities),
    PackTable(
        name="rounds",
        words="rounds",
        rows=lambda source: [copy(round_, PackRound) for round_ in source.book.rounds],
        add=_add_rounds,
    ),
    PackTable(
        name="round_versions", words="app versions", rows=_round_versions, add=_add_round_versions
    ),
)
ON_TASKS = (
    PackTable(
        name="timeline_files", words="timeline files", rows=_timeline_files, add=_add_timeline_files
    ),
    PackTable(name="overrules", words="overrules", rows=_overrules, add=_add_overrules),
    PackTable(name="judgements", words="words on sameness", rows=_judgements, add=_add_judgements),
    PackTable(name="plans", words="plans", rows=_plans, add=_add_plans),
    PackTable(name="plan_parts", words="parts of plans", rows=_plan_parts, part_of="plans"),
)
