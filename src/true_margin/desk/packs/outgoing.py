"""Giving a whole shootout out as a data pack."""

from __future__ import annotations

import json
from collections.abc import Iterable, Mapping
from typing import Any, TypeVar
from uuid import UUID

from true_margin.core.numerals import PLAIN, writing
from true_margin.core.spec_rows import STATES
from true_margin.core.specs import Spec, show_spec
from true_margin.desk.book.book import Book
from true_margin.desk.book.needs import need_rows, packed_need
from true_margin.desk.book.sheet_rows import machine_rows
from true_margin.desk.book.shelf import load_book
from true_margin.desk.errors import transaction
from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_noted import (
    PackInquiry,
    PackInquiryRun,
    PackLook,
    PackNoted,
    PackOutput,
    PackOverrule,
    PackPlayback,
    PackPublished,
    PackSettingsUsed,
    PackTrial,
    PackTrouble,
)
from true_margin.exchange.pack_publish import PackCard, PackCardSetup, PackScript, PackScriptName
from true_margin.exchange.pack_tables import (
    PackExtra,
    PackFreeRow,
    PackMachine,
    PackMark,
    PackPicture,
    PackPrice,
    PackRevision,
    PackRound,
    PackRoundVersion,
    PackRun,
    PackSetup,
    PackSetupSpec,
    PackShootout,
    PackSpec,
    PackTask,
    PackTaskSetting,
    PackTimeline,
    PackTimelineFile,
    PackTrialRow,
)
from true_margin.exchange.pack_viewers import PackViewer, PackViewerNeed, PackViewerTask
from true_margin.store import outputs, records, runs, shootouts, timelines
from true_margin.store.cards import KeptCard
from true_margin.store.database import Database
from true_margin.store.records.viewers import Viewer

Row = TypeVar("Row", bound=PackNoted)


@writing(PLAIN)
def export_pack(database: Database, slug: str) -> Pack:
    """Give a whole shootout as a pack."""
    with transaction(database) as session:
        # The archive goes with it, so not the book that the screens share.
        book = load_book(session, shootouts.get_shootout(session, slug), archive=True)
        revisions = [
            (run.id, revision)
            for run in book.runs
            if run.version > 1
            for revision in runs.list_revisions(session, run.id)
        ]
        contents = {
            _content_name(place, file): timelines.file_content(session, file.id)
            for place, file in enumerate(book.timeline_files, start=1)
        } | {
            f"probe-{place}.json": outputs.output_content(session, file.id)
            for place, file in enumerate(book.output_files, start=1)
        }
        pictures = outputs.list_pictures(session, [run.id for run in book.runs])
        contents |= {
            _picture_name(place, picture): outputs.picture_content(session, picture.id)[1]
            for place, picture in enumerate(pictures, start=1)
        }
    tasks = (*book.tasks, *book.observed)
    names = {task.id: task.name for task in tasks}
    baseline = book.baseline
    own = {
        name: getattr(book.shootout, name)
        for name in PackShootout.model_fields
        if not name.startswith("baseline")
    }
    return Pack(
        shootout=PackShootout(
            **own,
            baseline_machine=None if baseline is None else baseline.machine,
            baseline_setup=None if baseline is None else baseline.name,
        ),
        machines=[_copy(machine, PackMachine) for machine in book.machines],
        setups=[_setup(book, setup) for setup in book.setups],
        free_rows=[_copy(row, PackFreeRow) for row in book.free_rows],
        trial_rows=[
            PackTrialRow(row=spec.title)
            for field in book.shootout.trial_rows
            for spec in (*machine_rows(book.free_rows), *STATES)
            if spec.field == field
        ],
        specs=_specs(book),
        setup_specs=_setup_specs(book),
        prices=[
            _copy(price, PackPrice, machine=machine.name)
            for machine in book.machines
            for price in machine.prices[::-1]
        ],
        extras=[
            _copy(extra, PackExtra, machine=setup.machine, setup=setup.name)
            for setup in book.setups
            for extra in setup.extras
        ],
        timelines=[_copy(timeline, PackTimeline) for timeline in book.timelines],
        tasks=[
            _copy(
                task, PackTask, follows=None if task.follows_id is None else names[task.follows_id]
            )
            for task in tasks
        ],
        task_settings=[
            PackTaskSetting(task=task.name, field=field, value=show_spec(value))
            for task in tasks
            for field, value in task.settings.items()
        ],
        settings_used=_in_order(
            _noted(book, names, each, PackSettingsUsed, settings=_typed(each.settings))
            for each in book.settings_used
        ),
        outputs=[
            _noted(
                book,
                names,
                each,
                PackOutput,
                content=f"probe-{place}.json",
                run=None if each.run_id is None else str(each.run_id),
            )
            for place, each in enumerate(book.output_files, start=1)
        ],
        looks=_in_order(_noted(book, names, each, PackLook) for each in book.looks),
        playbacks=_in_order(_noted(book, names, each, PackPlayback) for each in book.playbacks),
        trials=_in_order(_noted(book, names, each, PackTrial) for each in book.trials),
        troubles=_in_order(
            _noted(book, names, each, PackTrouble, run=each.run_id and str(each.run_id))
            for each in book.troubles
        ),
        pictures=[
            _copy(
                picture, PackPicture, run=str(picture.run_id), content=_picture_name(place, picture)
            )
            for place, picture in enumerate(pictures, start=1)
        ],
        rounds=[_copy(round_, PackRound) for round_ in book.rounds],
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
        inquiries=[_inquiry(book, each) for each in book.inquiries],
        inquiry_runs=[
            PackInquiryRun(inquiry=str(each.id), run=str(key))
            for each in book.inquiries
            for key in each.run_ids
        ],
        published=[_published(book, each) for each in book.published],
        viewers=[_viewer(book, each) for each in book.viewers],
        viewer_tasks=[
            _copy(part, PackViewerTask, viewer=each.name, task=names[part.task_id])
            for each in book.viewers
            for part in sorted(each.tasks, key=lambda part: names[part.task_id])
            if part.task_id in names
        ],
        viewer_needs=[
            PackViewerNeed(viewer=each.name, **packed_need(need, need_rows(book.free_rows)))
            for each in book.viewers
            for need in each.needs
        ],
        scripts=[]
        if book.script is None
        else [PackScript(text=book.script.text, verdicts=json.dumps(book.script.verdicts))],
        script_names=[
            PackScriptName(name=name, machine=setup.machine, setup=setup.name)
            for name, key in sorted((book.script.names if book.script else {}).items())
            for setup in _setups_of(book, key)
        ],
        cards=[_card(book, place, card) for place, card in enumerate(book.cards)],
        card_setups=[
            PackCardSetup(card=at, part=part, place=place, machine=setup.machine, setup=setup.name)
            for at, card in enumerate(book.cards)
            for part in ("order", "highlighted", "left_out")
            for place, setup in enumerate(
                setup for key in card.setups.get(part, ()) for setup in _setups_of(book, key)
            )
        ],
        contents=contents,
    )


def _copy(record: object, model: Any, **more: Any) -> Any:
    own = {
        name: getattr(record, name)
        for name in model.model_fields
        if name not in more and hasattr(record, name)
    }
    return model(**own, **more)


def _in_order(rows: Iterable[Row]) -> list[Row]:
    """Rows by when they were noted, and by what they are about where that is one moment."""
    return sorted(rows, key=lambda row: (row.noted_at, row.task, row.machine, row.setup))


def _noted(book: Book, tasks: Mapping[UUID, str], each: Any, model: type[Row], **more: Any) -> Row:
    """What was noted of a setup on a task, by their names."""
    setup = book.setups[book.setup_index[each.setup_id]]
    copied: Row = _copy(
        each, model, task=tasks[each.task_id], machine=setup.machine, setup=setup.name, **more
    )
    return copied


def _typed(settings: Mapping[str, Any]) -> str:
    return json.dumps({field: show_spec(value) for field, value in settings.items()})


def _run(book: Book, run: records.Run) -> PackRun:
    setup = book.setups[book.setup_index[run.setup_id]]
    round_ = next(r for r in book.rounds if r.id == run.round_id)
    names = {
        "id": str(run.id),
        "machine": setup.machine,
        "setup": setup.name,
        "task": book.tasks[book.task_index[run.task_id]].name,
        "round": round_.name,
        "conditions": json.dumps(run.conditions),
    }
    pack_run: PackRun = _copy(run, PackRun, **names)
    return pack_run


def _picture_name(place: int, picture: records.RunPicture) -> str:
    return f"picture-{place}.{picture.media_type.rsplit('/', 1)[-1]}"


def _content_name(place: int, file: records.TimelineFile) -> str:
    return f"timeline-{place}.{file.name.rsplit('.', 1)[-1].lower()}"


def _timeline_file(book: Book, file: records.TimelineFile, place: int) -> PackTimelineFile:
    names = {timeline.id: timeline.name for timeline in book.timelines}
    setup = None if file.setup_id is None else book.setups[book.setup_index[file.setup_id]]
    copied: PackTimelineFile = _copy(
        file,
        PackTimelineFile,
        timeline=names[file.timeline_id],
        machine=None if setup is None else setup.machine,
        setup=None if setup is None else setup.name,
        content=_content_name(place, file),
    )
    return copied


def _specs(book: Book) -> list[PackSpec]:
    """Every cell of a machine that says something."""
    rows = machine_rows(book.free_rows)
    return [
        PackSpec(machine=machine.name, row=title, value=text, unit=unit)
        for machine in book.machines
        for title, text, unit in _cells(machine.specs, rows)
    ]


def _setup_specs(book: Book) -> list[PackSetupSpec]:
    """What each setup has of its own, then the state that it was tested in."""
    rows = machine_rows(book.free_rows)
    return [
        PackSetupSpec(machine=setup.machine, setup=setup.name, row=title, value=text, unit=unit)
        for setup in book.setups
        for title, text, unit in (*_cells(setup.specs, rows), *_cells(setup.conditions, STATES))
    ]


def _cells(
    values: Mapping[str, Any], rows: Iterable[Spec]
) -> Iterable[tuple[str, str, str | None]]:
    for spec in rows:
        if spec.field in values:
            yield spec.title, show_spec(values[spec.field]), spec.unit


def _setup(book: Book, setup: records.Setup) -> PackSetup:
    against = book.setup_index.get(setup.assumed_against_id) if setup.assumed_against_id else None
    other = None if against is None else book.setups[against]
    copied: PackSetup = _copy(
        setup,
        PackSetup,
        assumed_against_machine=None if other is None else other.machine,
        assumed_against_setup=None if other is None else other.name,
    )
    return copied


def _about(book: Book, task: UUID | None, a: UUID | None, b: UUID | None) -> dict[str, str | None]:
    """The names of a task and two setups, as far as they are named."""
    names: dict[UUID | None, str] = {each.id: each.name for each in book.tasks}
    found: dict[str, str | None] = {"task": names.get(task)}
    for letter, key in (("a", a), ("b", b)):
        setup = None if key is None else book.setups[book.setup_index[key]]
        found[f"machine_{letter}"] = None if setup is None else setup.machine
        found[f"setup_{letter}"] = None if setup is None else setup.name
    return found


def _inquiry(book: Book, each: records.Inquiry) -> PackInquiry:
    about = _about(book, each.task_id, each.setup_a_id, each.setup_b_id)
    copied: PackInquiry = _copy(each, PackInquiry, id=str(each.id), **about)
    return copied


def _published(book: Book, each: records.PublishedFigure) -> PackPublished:
    about = _about(book, each.task_id, each.setup_a_id, each.setup_b_id)
    copied: PackPublished = _copy(each, PackPublished, **about)
    return copied


def _setups_of(book: Book, key: Any) -> Iterable[records.Setup]:
    """The setup with this id, where it is there."""
    at = book.setup_index.get(UUID(str(key)))
    return () if at is None else (book.setups[at],)


def _card(book: Book, place: int, card: KeptCard) -> PackCard:
    copied: PackCard = _copy(
        card,
        PackCard,
        place=place,
        task=next((t.name for t in book.tasks if t.id == card.task_id), None),
        viewer=next((v.name for v in book.viewers if v.id == card.viewer_id), None),
    )
    return copied


def _viewer(book: Book, each: Viewer) -> PackViewer:
    at = None if each.owned_setup_id is None else book.setup_index.get(each.owned_setup_id)
    owned = None if at is None else book.setups[at]
    copied: PackViewer = _copy(
        each,
        PackViewer,
        owned_machine=None if owned is None else owned.machine,
        owned_setup=None if owned is None else owned.name,
    )
    return copied


def _overrule(book: Book, each: records.Overrule) -> PackOverrule:
    pair = (book.setups[book.setup_index[s]] for s in (each.setup_a_id, each.setup_b_id))
    a, b = sorted(pair, key=lambda setup: (setup.machine, setup.name))
    copied: PackOverrule = _copy(
        each,
        PackOverrule,
        task=book.tasks[book.task_index[each.task_id]].name,
        machine_a=a.machine,
        setup_a=a.name,
        machine_b=b.machine,
        setup_b=b.name,
    )
    return copied
