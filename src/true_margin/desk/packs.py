"""Bringing a data pack in as a new shootout, and giving one out."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.errors import CoreError
from true_margin.desk.book import SHELF, Book
from true_margin.desk.conditions import NOTED
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.shootouts import free_slug
from true_margin.desk.timelines import stored_file
from true_margin.exchange.data_pack import Pack, read_pack, read_zip
from true_margin.exchange.pack_tables import (
    PackExtra,
    PackMachine,
    PackMark,
    PackOverrule,
    PackPrice,
    PackRevision,
    PackRound,
    PackRoundVersion,
    PackRun,
    PackSetup,
    PackShootout,
    PackTask,
    PackTimeline,
    PackTimelineFile,
)
from true_margin.exchange.timeline_files import read_timeline
from true_margin.store import lineup, overrules, records, runs, shootouts, tasks, timelines
from true_margin.store.database import Database


def import_zip(database: Database, content: bytes) -> records.Shootout:
    """Bring a zipped pack in as a new shootout.

    Raises:
        RefusedError: with the file, line and reason; nothing is stored.
    """
    try:
        pack = read_pack(read_zip(content))
    except CoreError as error:
        raise RefusedError("file", error.reason) from error
    return import_pack(database, pack)


def import_pack(database: Database, pack: Pack, *, demo: bool = False) -> records.Shootout:
    """Bring a pack in as a new shootout, in one transaction."""
    with transaction(database) as session:
        own = pack.shootout.model_dump(exclude={"baseline_machine", "baseline_setup"})
        slug = free_slug(session, pack.shootout.name)
        home = shootouts.add_shootout(session, {**own, "slug": slug, "demo": demo})
        setups = _add_lineup(session, home, pack)
        task_ids = _add_tasks(session, home, pack)
        rounds = _add_rounds(session, home, pack)
        _add_runs(session, home, pack, setups, task_ids, rounds)
        _add_timeline_files(session, home, pack, setups)
        for each in pack.overrules:
            fields = each.model_dump(include={"reason", "who", "made_at", "withdrawn_at"})
            fields["task_id"] = task_ids[each.task]
            fields["setup_a_id"] = setups[each.machine_a, each.setup_a]
            fields["setup_b_id"] = setups[each.machine_b, each.setup_b]
            overrules.add_overrule(session, fields)
        baseline = (pack.shootout.baseline_machine, pack.shootout.baseline_setup)
        if baseline in setups:
            shootout = shootouts.get_shootout(session, slug)
            changes = {"baseline_setup_id": setups[baseline]}
            shootouts.change_shootout(session, shootout, shootout.version, changes)
        return shootouts.get_shootout(session, slug)


def _add_lineup(
    session: Session, home: UUID, pack: Pack
) -> dict[tuple[str | None, str | None], UUID]:
    machines = {
        machine.name: lineup.add_machine(session, home, machine.model_dump())
        for machine in pack.machines
    }
    for price in pack.prices:
        lineup.add_price(session, machines[price.machine], price.model_dump(exclude={"machine"}))
    setups: dict[tuple[str | None, str | None], UUID] = {
        (setup.machine, setup.name): lineup.add_setup(
            session, machines[setup.machine], _setup_fields(setup)
        )
        for setup in pack.setups
    }
    for extra in pack.extras:
        fields = extra.model_dump(exclude={"machine", "setup"})
        lineup.add_extra(session, setups[extra.machine, extra.setup], fields)
    return setups


def _setup_fields(setup: PackSetup) -> dict[str, Any]:
    fields = setup.model_dump(exclude={"machine"})
    noted = {name: fields.pop(name) for name in (*NOTED, "only_system")}
    return {**fields, "conditions": {k: v for k, v in noted.items() if v is not None}}


def _add_tasks(session: Session, home: UUID, pack: Pack) -> dict[str, UUID]:
    timelines = {
        timeline.name: tasks.timeline_named(session, home, timeline.name, timeline.length_s)
        for timeline in pack.timelines
    }
    added = {}
    for task in pack.tasks:
        fields = task.model_dump(exclude={"app", "timeline"})
        fields["app_id"] = shootouts.app_named(session, home, task.app)
        fields["timeline_id"] = None if task.timeline is None else timelines[task.timeline]
        added[task.name] = tasks.add_task(session, home, fields)
    return added


def _add_rounds(session: Session, home: UUID, pack: Pack) -> dict[str, UUID]:
    rounds = {
        round_.name: shootouts.add_round(session, home, round_.name) for round_ in pack.rounds
    }
    for each in pack.round_versions:
        app = shootouts.app_named(session, home, each.app)
        shootouts.set_round_version(session, rounds[each.round], app, each.version)
    return rounds


def _add_runs(
    session: Session,
    home: UUID,
    pack: Pack,
    setups: Mapping[tuple[str | None, str | None], UUID],
    task_ids: Mapping[str, UUID],
    rounds: Mapping[str, UUID],
) -> None:
    added = {}
    for run in pack.runs:
        fields = run.model_dump(exclude={"id", "machine", "setup", "task", "round"})
        fields["setup_id"] = setups[run.machine, run.setup]
        fields["task_id"] = task_ids[run.task]
        fields["round_id"] = rounds[run.round]
        fields["client_key"] = f"pack-{run.id}"[:80]
        added[run.id] = runs.add_run(session, home, fields)
    for revision in pack.revisions:
        fields = revision.model_dump(exclude={"run"})
        fields["before"] = _before(revision.before)
        runs.add_revision(session, added[revision.run], fields)
    for mark in pack.marks:
        runs.add_mark(session, added[mark.run], mark.model_dump(exclude={"run"}))


def _add_timeline_files(
    session: Session,
    home: UUID,
    pack: Pack,
    setups: Mapping[tuple[str | None, str | None], UUID],
) -> None:
    for file in pack.timeline_files:
        content = pack.contents[file.content]
        try:
            timeline = read_timeline(file.name, content, rate=file.edl_rate)
        except CoreError as error:
            raise RefusedError("file", f"{file.content}: {error.reason}") from error
        fields = {
            "name": file.name, "content": content, "edl_rate": file.edl_rate,
            "setup_id": setups[file.machine, file.setup] if file.machine else None,
        }  # fmt: skip
        key = tasks.timeline_named(session, home, file.timeline)
        row = stored_file(key, timeline, fields, file.who)
        timelines.add_file(session, {**row, "added_at": file.added_at})


def _before(text: str) -> dict[str, Any]:
    try:
        before = json.loads(text)
    except ValueError as error:
        raise RefusedError("file", f"revisions.csv: 'before' is not JSON: {error}") from error
    if not isinstance(before, dict):
        raise RefusedError("file", "revisions.csv: 'before' must be a JSON object")
    return before


def export_pack(database: Database, slug: str) -> Pack:
    """Give a whole shootout as a pack."""
    book = SHELF.take(database, slug)
    with transaction(database) as session:
        revisions = [
            (run.id, revision)
            for run in book.runs
            if run.version > 1
            for revision in runs.list_revisions(session, run.id)
        ]
        contents = {
            _content_name(place, file): timelines.file_content(session, file.id)
            for place, file in enumerate(book.timeline_files, start=1)
        }
    baseline = book.baseline
    own = {name: getattr(book.shootout, name) for name in PackShootout.model_fields
           if not name.startswith("baseline")}  # fmt: skip
    return Pack(
        shootout=PackShootout(
            **own,
            baseline_machine=None if baseline is None else baseline.machine,
            baseline_setup=None if baseline is None else baseline.name,
        ),
        machines=[_copy(machine, PackMachine) for machine in book.machines],
        setups=[_copy(setup, PackSetup, **_noted(setup)) for setup in book.setups],
        prices=[
            _copy(price, PackPrice, machine=machine.name)
            for machine in book.machines
            for price in machine.prices
        ],
        extras=[
            _copy(extra, PackExtra, machine=setup.machine, setup=setup.name)
            for setup in book.setups
            for extra in setup.extras
        ],
        timelines=[_copy(timeline, PackTimeline) for timeline in book.timelines],
        tasks=[_copy(task, PackTask) for task in book.tasks],
        rounds=[PackRound(name=round_.name) for round_ in book.rounds],
        round_versions=[
            PackRoundVersion(round=round_.name, app=each.app, version=each.version)
            for round_ in book.rounds
            for each in round_.versions
        ],
        runs=[_run(book, run) for run in book.runs],
        revisions=[
            _copy(revision, PackRevision, run=str(key), before=json.dumps(revision.before))
            for key, revision in revisions
        ],
        marks=[_copy(mark, PackMark, run=str(mark.run_id)) for mark in book.marks],
        timeline_files=[
            _timeline_file(book, file, place)
            for place, file in enumerate(book.timeline_files, start=1)
        ],
        overrules=sorted(
            (_overrule(book, each) for each in book.overrules),
            key=lambda each: (each.made_at, each.task, each.machine_a, each.setup_a),
        ),
        contents=contents,
    )


def _copy(record: object, model: Any, **more: Any) -> Any:
    own = {
        name: getattr(record, name)
        for name in model.model_fields
        if name not in more and hasattr(record, name)
    }
    return model(**own, **more)


def _run(book: Book, run: records.Run) -> PackRun:
    setup = book.setups[book.setup_index[run.setup_id]]
    round_ = next(r for r in book.rounds if r.id == run.round_id)
    names = {
        "id": str(run.id), "machine": setup.machine, "setup": setup.name,
        "task": book.tasks[book.task_index[run.task_id]].name, "round": round_.name,
    }  # fmt: skip
    pack_run: PackRun = _copy(run, PackRun, **names)
    return pack_run


def _content_name(place: int, file: records.TimelineFile) -> str:
    return f"timeline-{place}.{file.name.rsplit('.', 1)[-1].lower()}"


def _timeline_file(book: Book, file: records.TimelineFile, place: int) -> PackTimelineFile:
    names = {timeline.id: timeline.name for timeline in book.timelines}
    setup = None if file.setup_id is None else book.setups[book.setup_index[file.setup_id]]
    copied: PackTimelineFile = _copy(
        file, PackTimelineFile,
        timeline=names[file.timeline_id],
        machine=None if setup is None else setup.machine,
        setup=None if setup is None else setup.name,
        content=_content_name(place, file),
    )  # fmt: skip
    return copied


def _noted(setup: records.Setup) -> dict[str, Any]:
    return {name: setup.conditions.get(name) for name in (*NOTED, "only_system")}


def _overrule(book: Book, each: records.Overrule) -> PackOverrule:
    pair = (book.setups[book.setup_index[s]] for s in (each.setup_a_id, each.setup_b_id))
    a, b = sorted(pair, key=lambda setup: (setup.machine, setup.name))
    copied: PackOverrule = _copy(
        each, PackOverrule,
        task=book.tasks[book.task_index[each.task_id]].name,
        machine_a=a.machine, setup_a=a.name, machine_b=b.machine, setup_b=b.name,
    )  # fmt: skip
    return copied
