"""Bringing a data pack in as a new shootout."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict
from typing import Any, TypeAlias
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from true_margin.core.errors import CoreError
from true_margin.core.spec_rows import STATES
from true_margin.core.specs import Spec, SpecValue
from true_margin.core.task_rows import read_settings
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.needs import need_rows, read_needs, unpacked_need
from true_margin.desk.run_marks import picture_columns
from true_margin.desk.sheet_rows import machine_rows, read_cells
from true_margin.desk.shootouts import free_slug
from true_margin.desk.timelines import stored_file
from true_margin.exchange.data_pack import Pack, read_pack, read_zip
from true_margin.exchange.pack_noted import (
    PackInquiry,
    PackNoted,
    PackPublished,
)
from true_margin.exchange.pack_publish import PackScript
from true_margin.exchange.probe_files import read_probe
from true_margin.exchange.timeline_files import read_timeline
from true_margin.store import (
    cards,
    inquiries,
    lineup,
    outputs,
    overrules,
    records,
    runs,
    scripts,
    shootouts,
    tasks,
    timelines,
    viewers,
)
from true_margin.store.database import Database

Setups: TypeAlias = dict[tuple[str | None, str | None], UUID]


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


def import_pack(
    database: Database, pack: Pack, *, demo: bool = False, edition_of: UUID | None = None
) -> records.Shootout:
    """Bring a pack in as a new shootout, in one transaction.

    Args:
        database: where to.
        pack: what to bring in.
        demo: whether it is one of the demo's.
        edition_of: the shootout that it is a frozen edition of; it never changes then.
    """
    with transaction(database) as session:
        own = pack.shootout.model_dump(exclude={"baseline_machine", "baseline_setup"})
        hidden = f"edition-{uuid4().hex}"
        slug = free_slug(session, pack.shootout.name) if edition_of is None else hidden
        home = shootouts.add_shootout(session, {**own, "slug": slug, "demo": demo})
        for row in pack.free_rows:
            lineup.add_free_row(session, home, row.model_dump())
        rows = machine_rows(lineup.list_free_rows(session, home))
        setups = _add_lineup(session, home, pack, rows)
        task_ids = _add_tasks(session, home, pack)
        rounds = _add_rounds(session, home, pack)
        run_ids = _add_runs(session, home, pack, setups, task_ids, rounds)
        _add_noted(session, pack, setups, task_ids, run_ids)
        _add_timeline_files(session, home, pack, setups)
        for each in pack.overrules:
            fields = each.model_dump(include={"reason", "who", "made_at", "withdrawn_at"})
            fields["task_id"] = task_ids[each.task]
            fields["setup_a_id"] = setups[each.machine_a, each.setup_a]
            fields["setup_b_id"] = setups[each.machine_b, each.setup_b]
            overrules.add_overrule(session, fields)
        _add_inquiries(session, home, pack, setups, task_ids, run_ids)
        _add_viewers(session, home, pack, setups, task_ids)
        _add_script(session, home, pack, setups)
        _add_cards(session, home, pack, setups, task_ids)
        baseline = (pack.shootout.baseline_machine, pack.shootout.baseline_setup)
        changes = {
            "baseline_setup_id": setups.get(baseline), "trial_rows": _trial_rows(pack, rows)
        }  # fmt: skip
        shootout = shootouts.get_shootout(session, slug)
        shootouts.change_shootout(session, shootout, shootout.version, changes)
        if edition_of is not None:
            shootouts.freeze(session, home, edition_of)
        return shootouts.get_shootout(session, slug)


def _add_lineup(session: Session, home: UUID, pack: Pack, rows: Sequence[Spec]) -> Setups:
    cells = _spec_cells(pack, rows)
    nothing: tuple[dict[str, SpecValue], dict[str, SpecValue]] = ({}, {})
    machines = {
        machine.name: lineup.add_machine(
            session, home,
            {**machine.model_dump(), "specs": cells.get((machine.name, None), nothing)[0]},
        )
        for machine in pack.machines
    }  # fmt: skip
    for price in pack.prices:
        lineup.add_price(session, machines[price.machine], price.model_dump(exclude={"machine"}))
    setups: Setups = {}
    for setup in pack.setups:
        specs, state = cells.get((setup.machine, setup.name), nothing)
        fields = {"name": setup.name, "mark": setup.mark, "specs": specs, "conditions": state}
        key = lineup.add_setup(session, machines[setup.machine], fields)
        setups[setup.machine, setup.name] = key
    for setup in pack.setups:
        if setup.assumed_ratio is not None:
            against = (setup.assumed_against_machine, setup.assumed_against_setup)
            if against not in setups or setup.assumed_source is None:
                reason = f"setups.csv: the assumed speed of {setup.machine} lacks its other half"
                raise RefusedError("file", reason)
            lineup.change_setup(
                session, setups[setup.machine, setup.name], 1,
                {"assumed_ratio": setup.assumed_ratio, "assumed_against_id": setups[against],
                 "assumed_source": setup.assumed_source},
            )  # fmt: skip
    for extra in pack.extras:
        fields = extra.model_dump(exclude={"machine", "setup"})
        lineup.add_extra(session, setups[extra.machine, extra.setup], fields)
    return setups


def _spec_cells(
    pack: Pack, rows: Sequence[Spec]
) -> dict[tuple[str, str | None], tuple[dict[str, SpecValue], dict[str, SpecValue]]]:
    """Specs and states by machine, or by machine and setup."""
    machine_level = {spec.title: spec for spec in rows}
    by_title = {**machine_level, **{spec.title: spec for spec in STATES}}
    typed: dict[tuple[str, str | None], dict[str, str | None]] = {}
    for line, cell in enumerate(pack.specs, start=2):
        if cell.row not in machine_level:
            raise RefusedError("file", f"specs.csv row {line}: there is no row {cell.row!r}")
        typed.setdefault((cell.machine, None), {})[machine_level[cell.row].field] = cell.value
    for line, own in enumerate(pack.setup_specs, start=2):
        if own.row not in by_title:
            raise RefusedError("file", f"setup_specs.csv row {line}: there is no row {own.row!r}")
        typed.setdefault((own.machine, own.setup), {})[by_title[own.row].field] = own.value
    states = {spec.field for spec in STATES}
    return {
        key: (
            read_cells({}, {k: v for k, v in cells.items() if k not in states}, rows),
            read_cells({}, {k: v for k, v in cells.items() if k in states}, STATES),
        )
        for key, cells in typed.items()
    }


def _trial_rows(pack: Pack, rows: Sequence[Spec]) -> list[str]:
    fields = {spec.title: spec.field for spec in (*rows, *STATES)}
    for line, each in enumerate(pack.trial_rows, start=2):
        if each.row not in fields:
            raise RefusedError("file", f"trial_rows.csv row {line}: there is no row {each.row!r}")
    return [fields[each.row] for each in pack.trial_rows]


def _add_tasks(session: Session, home: UUID, pack: Pack) -> dict[str, UUID]:
    timelines = {
        timeline.name: tasks.timeline_named(session, home, timeline.name, timeline.length_s)
        for timeline in pack.timelines
    }
    typed: dict[str, dict[str, str | None]] = {}
    for setting in pack.task_settings:
        typed.setdefault(setting.task, {})[setting.field] = setting.value
    added: dict[str, UUID] = {}
    for task in sorted(pack.tasks, key=lambda each: each.revision):
        fields = task.model_dump(exclude={"app", "timeline", "follows"})
        fields["settings"] = _settings(f"task_settings.csv, {task.name}", typed.get(task.name, {}))
        fields["app_id"] = shootouts.app_named(session, home, task.app)
        fields["timeline_id"] = None if task.timeline is None else timelines[task.timeline]
        fields["follows_id"] = None if task.follows is None else added.get(task.follows)
        fields["position"] = pack.tasks.index(task)
        added[task.name] = tasks.add_task(session, home, fields)
    return added


def _settings(where: str, typed: Mapping[str, str | None]) -> dict[str, SpecValue]:
    try:
        return read_settings({}, typed)
    except CoreError as error:
        raise RefusedError("file", f"{where}: {error.reason}") from error


def _add_noted(
    session: Session,
    pack: Pack,
    setups: Setups,
    task_ids: Mapping[str, UUID],
    run_ids: Mapping[str, UUID],
) -> None:
    """What was noted of setups on tasks, probe files included."""

    def key(row: PackNoted) -> dict[str, Any]:
        return {
            "task_id": task_ids[row.task], "setup_id": setups[row.machine, row.setup],
            **row.model_dump(exclude={"task", "machine", "setup"}),
        }  # fmt: skip

    for used in pack.settings_used:
        typed = _object("settings_used.csv", "settings", used.settings)
        settings = _settings("settings_used.csv", {name: str(v) for name, v in typed.items()})
        outputs.add_settings_used(session, {**key(used), "settings": settings})
    for output in pack.outputs:
        content = pack.contents[output.content]
        try:
            facts = asdict(read_probe(content))
        except CoreError as error:
            raise RefusedError("file", f"{output.content}: {error.reason}") from error
        fields = {**key(output), "content": content, "facts": facts}
        run = fields.pop("run")
        fields["run_id"] = None if run is None else run_ids[run]
        outputs.add_output_file(session, fields)
    for look in pack.looks:
        outputs.add_look(session, key(look))
    for playback in pack.playbacks:
        outputs.add_playback(session, key(playback))
    for trial in pack.trials:
        outputs.add_trial(session, key(trial))
    for trouble in pack.troubles:
        fields = key(trouble)
        run = fields.pop("run")
        outputs.add_trouble(session, {**fields, "run_id": None if run is None else run_ids[run]})
    for picture in pack.pictures:
        content = pack.contents[picture.content]
        outputs.add_picture(
            session,
            {
                **picture.model_dump(exclude={"run", "content"}),
                **picture_columns(picture.name, content),
                "run_id": run_ids[picture.run],
            },
        )


def _add_rounds(session: Session, home: UUID, pack: Pack) -> dict[str, UUID]:
    rounds = {
        round_.name: shootouts.add_round(
            session, home, round_.name, brought_from=round_.brought_from
        )
        for round_ in pack.rounds
    }
    for each in pack.round_versions:
        app = shootouts.app_named(session, home, each.app)
        shootouts.set_round_version(session, rounds[each.round], app, each.version)
    return rounds


def _add_runs(
    session: Session,
    home: UUID,
    pack: Pack,
    setups: Setups,
    task_ids: Mapping[str, UUID],
    rounds: Mapping[str, UUID],
) -> dict[str, UUID]:
    added = {}
    for run in pack.runs:
        fields = run.model_dump(exclude={"id", "machine", "setup", "task", "round"})
        fields["setup_id"] = setups[run.machine, run.setup]
        fields["task_id"] = task_ids[run.task]
        fields["round_id"] = rounds[run.round]
        fields["client_key"] = f"pack-{run.id}"[:80]
        fields["conditions"] = _object("runs.csv", "conditions", run.conditions)
        added[run.id] = runs.add_run(session, home, fields)
    for revision in pack.revisions:
        fields = revision.model_dump(exclude={"run"})
        fields["before"] = _object("revisions.csv", "before", revision.before)
        runs.add_revision(session, added[revision.run], fields)
    for mark in pack.marks:
        runs.add_mark(session, added[mark.run], mark.model_dump(exclude={"run"}))
    return added


def _add_inquiries(
    session: Session,
    home: UUID,
    pack: Pack,
    setups: Setups,
    task_ids: Mapping[str, UUID],
    run_ids: Mapping[str, UUID],
) -> None:
    """Inquiries with the runs that were tried again, and figures published elsewhere."""
    names = {"task", "machine_a", "setup_a", "machine_b", "setup_b"}

    def about(row: PackInquiry | PackPublished) -> dict[str, Any]:
        a = row.machine_a and setups[row.machine_a, row.setup_a or ""]
        b = row.machine_b and setups[row.machine_b, row.setup_b or ""]
        task = None if row.task is None else task_ids[row.task]
        own = row.model_dump(exclude={*names, "id"})
        return {**own, "task_id": task, "setup_a_id": a or None, "setup_b_id": b or None}

    added = {each.id: inquiries.add_inquiry(session, home, about(each)) for each in pack.inquiries}
    for link in pack.inquiry_runs:
        inquiries.link_runs(session, added[link.inquiry], [run_ids[link.run]])
    for figure in pack.published:
        inquiries.add_published(session, home, about(figure))


def _add_viewers(
    session: Session, home: UUID, pack: Pack, setups: Setups, task_ids: Mapping[str, UUID]
) -> None:
    free_rows = lineup.list_free_rows(session, home)
    rows = need_rows(free_rows)
    for position, viewer in enumerate(pack.viewers):
        owned = (viewer.owned_machine, viewer.owned_setup)
        if (owned[0] is None) != (owned[1] is None):
            raise RefusedError("file", f"viewers.csv: {viewer.name} owns half a setup")
        typed = [
            unpacked_need(need.model_dump(exclude={"viewer"}), rows)
            for need in pack.viewer_needs
            if need.viewer == viewer.name
        ]
        try:
            needs = read_needs(typed, free_rows)
        except RefusedError as error:
            raise RefusedError(
                "file", f"viewer_needs.csv, {viewer.name}: {error.reason}"
            ) from error
        fields = viewer.model_dump(exclude={"owned_machine", "owned_setup"})
        fields["owned_setup_id"] = setups[owned] if owned[0] is not None else None
        key = viewers.add_viewer(session, home, {**fields, "needs": needs, "position": position})
        viewers.set_tasks(
            session, key,
            (
                {**part.model_dump(exclude={"viewer", "task"}), "task_id": task_ids[part.task]}
                for part in pack.viewer_tasks
                if part.viewer == viewer.name
            ),
        )  # fmt: skip


def _add_script(session: Session, home: UUID, pack: Pack, setups: Setups) -> None:
    if len(pack.scripts) > 1:
        raise RefusedError("file", "scripts.csv: a shootout has one script")
    names = {each.name: str(setups[each.machine, each.setup]) for each in pack.script_names}
    if not pack.scripts and not names:
        return
    own = pack.scripts[0] if pack.scripts else PackScript()
    verdicts = _object("scripts.csv", "verdicts", own.verdicts)
    fields = {"text": own.text, "verdicts": verdicts, "names": names}
    scripts.add_script(session, home, fields)


def _add_cards(
    session: Session, home: UUID, pack: Pack, setups: Setups, task_ids: Mapping[str, UUID]
) -> None:
    asking = {viewer.name: viewer.id for viewer in viewers.list_viewers(session, home)}
    for card in sorted(pack.cards, key=lambda each: each.place):
        chosen: dict[str, list[str]] = {}
        for each in sorted(pack.card_setups, key=lambda each: each.place):
            if each.card == card.place:
                chosen.setdefault(each.part, []).append(str(setups[each.machine, each.setup]))
        fields = card.model_dump(exclude={"place", "task", "viewer"})
        fields |= {
            "position": card.place, "setups": chosen,
            "task_id": None if card.task is None else task_ids[card.task],
            "viewer_id": None if card.viewer is None else asking[card.viewer],
        }  # fmt: skip
        cards.add_card(session, home, fields)


def _add_timeline_files(
    session: Session,
    home: UUID,
    pack: Pack,
    setups: Setups,
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


def _object(table: str, column: str, text: str) -> dict[str, Any]:
    try:
        found = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise RefusedError("file", f"{table}: {column!r} is not JSON: {error}") from error
    if not isinstance(found, dict):
        raise RefusedError("file", f"{table}: {column!r} must be a JSON object")
    return found
