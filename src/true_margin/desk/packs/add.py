"""Putting the rows of a data pack into a shootout: into a new one, or beside what is there."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from typing import Any, TypeAlias
from uuid import UUID, uuid4

from sqlalchemy.orm import Session

from true_margin.core.errors import CoreError
from true_margin.core.spec_rows import STATES
from true_margin.core.specs import Spec, SpecValue
from true_margin.core.task_rows import read_settings
from true_margin.desk.book.needs import need_rows, read_needs, unpacked_need
from true_margin.desk.book.sheet_rows import machine_rows, read_cells
from true_margin.desk.errors import RefusedError
from true_margin.desk.runs.marks import picture_columns
from true_margin.desk.tasks.timelines import stored_file
from true_margin.exchange.apart import APART
from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_noted import PackInquiry, PackNoted, PackPublished
from true_margin.exchange.pack_publish import PackScript
from true_margin.exchange.pack_tables import PackRun
from true_margin.exchange.pack_viewers import PackViewer
from true_margin.exchange.probe_files import read_probe
from true_margin.store import (
    cards,
    inquiries,
    lineup,
    outputs,
    overrules,
    runs,
    scripts,
    shootouts,
    tasks,
    timelines,
    viewers,
)

Setups: TypeAlias = dict[tuple[str | None, str | None], UUID]


@dataclass
class Known:
    """Ids of what is in the shootout by the names that a pack uses; grows as rows are added.

    ``keep_ids`` says that runs and inquiries keep the ids that the pack gives them.
    """

    machines: dict[str, UUID] = field(default_factory=dict)
    setups: Setups = field(default_factory=dict)
    tasks: dict[str, UUID] = field(default_factory=dict)
    rounds: dict[str, UUID] = field(default_factory=dict)
    runs: dict[str, UUID] = field(default_factory=dict)
    inquiries: dict[str, UUID] = field(default_factory=dict)
    viewers: int = 0
    cards: int = 0
    keep_ids: bool = False


def add_rows(session: Session, home: UUID, pack: Pack, known: Known) -> None:
    """Put every row of a pack into a shootout; what it refers to is in it or known.

    Raises:
        RefusedError: a row cannot be what it says; names the file.
    """
    for row in pack.free_rows:
        lineup.add_free_row(session, home, row.model_dump())
    rows = machine_rows(lineup.list_free_rows(session, home))
    _add_lineup(session, home, pack, rows, known)
    _add_tasks(session, home, pack, known)
    _add_rounds(session, home, pack, known)
    _add_runs(session, home, pack, known)
    _add_noted(session, pack, known)
    _add_timeline_files(session, home, pack, known.setups)
    for each in pack.overrules:
        fields = each.model_dump(
            include={"reason", "who", "made_at", "withdrawn_at", "withdrawn_by"}
        )
        fields["task_id"] = known.tasks[each.task]
        fields["setup_a_id"] = known.setups[each.machine_a, each.setup_a]
        fields["setup_b_id"] = known.setups[each.machine_b, each.setup_b]
        overrules.add_overrule(session, fields)
    _add_inquiries(session, home, pack, known)
    _add_viewers(session, home, pack, known)
    _add_script(session, home, pack, known.setups)
    _add_cards(session, home, pack, known)


def _add_lineup(
    session: Session, home: UUID, pack: Pack, rows: Sequence[Spec], known: Known
) -> None:
    cells = spec_cells(pack, rows)
    nothing: tuple[dict[str, SpecValue], dict[str, SpecValue]] = ({}, {})
    machines, setups = known.machines, known.setups
    for machine in pack.machines:
        fields = {**machine.model_dump(), "specs": cells.get((machine.name, None), nothing)[0]}
        machines[machine.name] = lineup.add_machine(session, home, fields)
    for price in pack.prices:
        lineup.add_price(session, machines[price.machine], price.model_dump(exclude={"machine"}))
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
                session,
                setups[setup.machine, setup.name],
                1,
                {
                    "assumed_ratio": setup.assumed_ratio,
                    "assumed_against_id": setups[against],
                    "assumed_source": setup.assumed_source,
                },
            )
    for extra in pack.extras:
        fields = extra.model_dump(exclude={"machine", "setup"})
        lineup.add_extra(session, setups[extra.machine, extra.setup], fields)


def spec_cells(
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


def trial_fields(pack: Pack, rows: Sequence[Spec]) -> list[str]:
    fields = {spec.title: spec.field for spec in (*rows, *STATES)}
    for line, each in enumerate(pack.trial_rows, start=2):
        if each.row not in fields:
            raise RefusedError("file", f"trial_rows.csv row {line}: there is no row {each.row!r}")
    return [fields[each.row] for each in pack.trial_rows]


def _add_tasks(session: Session, home: UUID, pack: Pack, known: Known) -> None:
    timelines = {
        timeline.name: tasks.timeline_named(session, home, timeline.name, timeline.length_s)
        for timeline in pack.timelines
    }
    typed: dict[str, dict[str, str | None]] = {}
    for setting in pack.task_settings:
        typed.setdefault(setting.task, {})[setting.field] = setting.value
    added, first = known.tasks, len(known.tasks)
    for task in sorted(pack.tasks, key=lambda each: each.revision):
        fields = task.model_dump(exclude={"app", "timeline", "follows"})
        fields["settings"] = _settings(f"task_settings.csv, {task.name}", typed.get(task.name, {}))
        fields["app_id"] = shootouts.app_named(session, home, task.app)
        fields["timeline_id"] = (
            None
            if task.timeline is None
            else (
                timelines.get(task.timeline) or tasks.timeline_named(session, home, task.timeline)
            )
        )
        fields["follows_id"] = None if task.follows is None else added.get(task.follows)
        fields["position"] = first + pack.tasks.index(task)
        added[task.name] = tasks.add_task(session, home, fields)


def _settings(where: str, typed: Mapping[str, str | None]) -> dict[str, SpecValue]:
    try:
        return read_settings({}, typed)
    except CoreError as error:
        raise RefusedError("file", f"{where}: {error.reason}") from error


def _add_noted(session: Session, pack: Pack, known: Known) -> None:
    """What was noted of setups on tasks, probe files included."""
    setups, task_ids, run_ids = known.setups, known.tasks, known.runs

    def key(row: PackNoted) -> dict[str, Any]:
        return {
            "task_id": task_ids[row.task],
            "setup_id": setups[row.machine, row.setup],
            **row.model_dump(exclude={"task", "machine", "setup"}),
        }

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


def _add_rounds(session: Session, home: UUID, pack: Pack, known: Known) -> None:
    rounds = known.rounds
    for round_ in pack.rounds:
        rounds[round_.name] = shootouts.add_round(
            session, home, round_.name, brought_from=round_.brought_from
        )
    for each in pack.round_versions:
        app = shootouts.app_named(session, home, each.app)
        shootouts.set_round_version(session, rounds[each.round], app, each.version)


def run_fields(run: PackRun, known: Known) -> dict[str, Any]:
    """A run of a pack as the store keeps it."""
    fields = run.model_dump(exclude={"id", "machine", "setup", "task", "round"})
    fields["setup_id"] = known.setups[run.machine, run.setup]
    fields["task_id"] = known.tasks[run.task]
    fields["round_id"] = known.rounds[run.round]
    fields["conditions"] = _object("runs.csv", "conditions", run.conditions)
    return fields


def _add_runs(session: Session, home: UUID, pack: Pack, known: Known) -> None:
    added = known.runs
    new = []
    for run in pack.runs:
        key = UUID(run.id) if known.keep_ids else uuid4()
        added[run.id] = key
        named = {"id": key, "client_key": f"pack-{run.id}"[:80]}
        new.append({**run_fields(run, known), **named})
    runs.add_runs(session, home, new)
    for revision in pack.revisions:
        fields = revision.model_dump(exclude={"run"})
        fields["before"] = _object("revisions.csv", "before", revision.before)
        runs.add_revision(session, added[revision.run], fields)
    runs.add_marks(
        session,
        [{"run_id": added[mark.run], **mark.model_dump(exclude={"run"})} for mark in pack.marks],
    )


def _add_inquiries(session: Session, home: UUID, pack: Pack, known: Known) -> None:
    """Inquiries with the runs that were tried again, and figures published elsewhere."""
    setups, task_ids, run_ids = known.setups, known.tasks, known.runs
    names = {"task", "machine_a", "setup_a", "machine_b", "setup_b"}

    def about(row: PackInquiry | PackPublished) -> dict[str, Any]:
        a = row.machine_a and setups[row.machine_a, row.setup_a or ""]
        b = row.machine_b and setups[row.machine_b, row.setup_b or ""]
        task = None if row.task is None else task_ids[row.task]
        own = row.model_dump(exclude={*names, "id"})
        return {**own, "task_id": task, "setup_a_id": a or None, "setup_b_id": b or None}

    for each in pack.inquiries:
        own = {"id": UUID(each.id)} if known.keep_ids else {}
        known.inquiries[each.id] = inquiries.add_inquiry(session, home, {**about(each), **own})
    for link in pack.inquiry_runs:
        inquiries.link_runs(session, known.inquiries[link.inquiry], [run_ids[link.run]])
    for figure in pack.published:
        inquiries.add_published(session, home, about(figure))


def _add_viewers(session: Session, home: UUID, pack: Pack, known: Known) -> None:
    for position, viewer in enumerate(pack.viewers, start=known.viewers):
        fields = viewer_fields(session, home, pack, viewer, known)
        key = viewers.add_viewer(session, home, {**fields, "position": position})
        viewers.set_tasks(session, key, viewer_parts(pack, viewer, known))


def viewer_fields(
    session: Session, home: UUID, pack: Pack, viewer: PackViewer, known: Known
) -> dict[str, Any]:
    """A viewer of a pack as the store keeps it, needs included.

    Raises:
        RefusedError: it owns half a setup, or a need is none.
    """
    free_rows = lineup.list_free_rows(session, home)
    rows = need_rows(free_rows)
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
        reason = f"viewer_needs.csv, {viewer.name}: {error.reason}"
        raise RefusedError("file", reason) from error
    fields = viewer.model_dump(exclude={"owned_machine", "owned_setup"})
    fields["owned_setup_id"] = known.setups[owned] if owned[0] is not None else None
    return {**fields, "needs": needs}


def viewer_parts(pack: Pack, viewer: PackViewer, known: Known) -> list[dict[str, Any]]:
    """What each task is to a viewer of a pack."""
    return [
        {**part.model_dump(exclude={"viewer", "task"}), "task_id": known.tasks[part.task]}
        for part in pack.viewer_tasks
        if part.viewer == viewer.name
    ]


def _add_script(session: Session, home: UUID, pack: Pack, setups: Setups) -> None:
    if len(pack.scripts) > 1:
        raise RefusedError("file", "scripts.csv: a shootout has one script")
    names = {each.name: str(setups[each.machine, each.setup]) for each in pack.script_names}
    if not pack.scripts and not names:
        return
    own = pack.scripts[0] if pack.scripts else PackScript()
    verdicts = _object("scripts.csv", "verdicts", own.verdicts)
    fields = {"text": own.text or "", "verdicts": verdicts, "names": names}
    scripts.add_script(session, home, fields)


def _add_cards(session: Session, home: UUID, pack: Pack, known: Known) -> None:
    setups = known.setups
    asking = {viewer.name: viewer.id for viewer in viewers.list_viewers(session, home)}
    for card in sorted(pack.cards, key=lambda each: each.place):
        chosen: dict[str, list[str]] = {}
        for each in sorted(pack.card_setups, key=lambda each: each.place):
            if each.card == card.place:
                chosen.setdefault(each.part, []).append(str(setups[each.machine, each.setup]))
        fields = card.model_dump(exclude={"place", "task", "viewer"})
        fields |= {
            "position": known.cards + card.place,
            "setups": chosen,
            "task_id": None if card.task is None else known.tasks[card.task],
            "viewer_id": None if card.viewer is None else asking[card.viewer],
        }
        cards.add_card(session, home, fields)


def _add_timeline_files(session: Session, home: UUID, pack: Pack, setups: Setups) -> None:
    for file in pack.timeline_files:
        content = pack.contents[file.content]
        try:
            timeline = APART.read(file.name, content, rate=file.edl_rate)
        except CoreError as error:
            raise RefusedError("file", f"{file.content}: {error.reason}") from error
        fields = {
            "name": file.name,
            "content": content,
            "edl_rate": file.edl_rate,
            "setup_id": setups[file.machine, file.setup] if file.machine else None,
        }
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
