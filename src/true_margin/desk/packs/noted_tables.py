"""Tables of what was noted of setups on tasks: settings used, outputs, playback, troubles."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator
from dataclasses import asdict
from datetime import datetime
from functools import partial
from typing import Any, TypeVar
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.errors import CoreError
from true_margin.core.notes import parse_ratio
from true_margin.core.specs import show_spec
from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.table import PackTable, Source, Target, copy, json_object
from true_margin.desk.packs.task_tables import settings_of
from true_margin.exchange.apart import PROBE, read_apart
from true_margin.exchange.pack_noted import (
    PackLogged,
    PackLook,
    PackNoted,
    PackOutput,
    PackPlayback,
    PackRatio,
    PackSettingsUsed,
    PackTrial,
    PackTrouble,
)
from true_margin.exchange.probe_files import read_probe
from true_margin.store import outputs, ratios, records, shootouts

Noted = TypeVar("Noted", bound=PackNoted | PackLogged)


def probe_name(place: int) -> str:
    """What a probe file is called in a pack."""
    return f"probe-{place}.json"


def _copied(source: Source, record: Any, model: type[Noted], **more: Any) -> Noted:
    """What was noted of a setup on a task, by their names."""
    task = None if record.task_id is None else source.task_names[record.task_id]
    named = {"task": task, **source.setup_columns(record.setup_id)}
    return copy(record, model, **named, **more)


def _in_order(rows: Iterable[Noted]) -> list[Noted]:
    """Rows by when they were noted, and by what they are about where that is one moment."""
    return sorted(rows, key=lambda row: (row.noted_at, row.task or "", row.machine, row.setup))


def _settings_used(source: Source) -> list[PackSettingsUsed]:
    def typed(settings: dict[str, Any]) -> str:
        return json.dumps({column: show_spec(value) for column, value in settings.items()})

    return _in_order(
        _copied(source, used, PackSettingsUsed, settings=typed(used.settings))
        for used in source.book.settings_used
    )


def _outputs(source: Source) -> Iterator[PackOutput]:
    for place, file in enumerate(source.book.output_files, start=1):
        run = None if file.run_id is None else str(file.run_id)
        yield _copied(source, file, PackOutput, content=probe_name(place), run=run)


def _trials(source: Source) -> list[PackTrial]:
    moments = {trial.id: trial.noted_at for trial in source.book.trials}
    return _in_order(
        _copied(
            source,
            trial,
            PackTrial,
            app=_own_app(trial),
            corrects_at=_moment(moments, trial.corrects_id),
        )
        for trial in source.book.trials
    )


def _troubles(source: Source) -> list[PackTrouble]:
    moments = {trouble.id: trouble.noted_at for trouble in source.book.troubles}
    return _in_order(
        _copied(
            source,
            trouble,
            PackTrouble,
            app=_own_app(trouble),
            run=trouble.run_id and str(trouble.run_id),
            corrects_at=_moment(moments, trouble.corrects_id),
        )
        for trouble in source.book.troubles
    )


def _own_app(entry: records.Trial | records.Trouble) -> str | None:
    """The app of an entry that is of no task."""
    return entry.app if entry.task_id is None else None


def _moment(moments: dict[UUID, datetime], key: UUID | None) -> datetime | None:
    """When an entry was noted that another stands for."""
    return None if key is None else moments.get(key)


def _add_logged(
    table: str, store: Callable[[Session, dict[str, Any]], UUID], target: Target
) -> None:
    """Put entries of the log in, oldest first, so that what one corrects is there."""
    there: dict[tuple[Any, Any, datetime], UUID] = {}
    for row in _in_order(getattr(target.pack, table)):
        columns = _columns(target, row)
        moment = columns.pop("corrects_at")
        app = columns.pop("app")
        if app is not None:
            columns["app_id"] = shootouts.app_named(target.session, target.home, app)
        place = (columns["task_id"], columns["setup_id"])
        columns["corrects_id"] = None if moment is None else there.get((*place, moment))
        key = there[*place, row.noted_at] = store(target.session, columns)
        target.known.logged[table.removesuffix("s"), columns["setup_id"], row.noted_at] = key


def _ratios(source: Source) -> list[PackRatio]:
    return _in_order(
        _copied(source, ratio, PackRatio, **source.setup_columns(ratio.against_id, "against_"))
        for ratio in source.book.ratios
    )


def _add_ratios(target: Target) -> None:
    for row in target.pack.noted_ratios:
        try:
            parse_ratio(row.typed)
        except CoreError as error:
            raise RefusedError("file", f"noted_ratios.csv: {error.reason}") from error
        against = target.known.setup(row, "against_")
        if against == target.known.setup(row):
            raise RefusedError("file", "noted_ratios.csv: a ratio is of two setups.")
        fields = row.model_dump(
            exclude={"task", "machine", "setup", "against_machine", "against_setup"}
        )
        ratios.add_ratio(
            target.session,
            {
                **fields,
                "task_id": target.known.task(row),
                "setup_id": target.known.setup(row),
                "against_id": against,
            },
        )


def _columns(target: Target, row: PackNoted | PackLogged) -> dict[str, Any]:
    """A noted row as the store keeps it."""
    fields = row.model_dump(exclude={"task", "machine", "setup", "run"})
    named = {"task_id": target.known.task(row), "setup_id": target.known.setup(row)}
    run = {"run_id": target.known.run(row)} if hasattr(row, "run") else {}
    return {**named, **fields, **run}


def _add_settings_used(target: Target) -> None:
    for used in target.pack.settings_used:
        typed = json_object("settings_used.csv", "settings", used.settings)
        settings = settings_of("settings_used.csv", {name: str(v) for name, v in typed.items()})
        columns = {**_columns(target, used), "settings": settings}
        outputs.add_settings_used(target.session, columns)


def _add_outputs(target: Target) -> None:
    for output in target.pack.outputs:
        content = target.pack.contents[output.content]
        try:
            facts = asdict(read_apart(PROBE, read_probe, content))
        except CoreError as error:
            raise RefusedError("file", f"{output.content}: {error.reason}") from error
        columns = {**_columns(target, output), "content": content, "facts": facts}
        outputs.add_output_file(target.session, columns)


def _add_each(
    table: str, store: Callable[[Session, dict[str, Any]], UUID | None], target: Target
) -> None:
    for row in getattr(target.pack, table):
        store(target.session, _columns(target, row))


def _plain(
    name: str, words: str, model: type[PackNoted], store: Callable[[Session, dict[str, Any]], Any]
) -> PackTable:
    """A table whose rows are kept as they are."""

    def rows(source: Source) -> list[PackNoted]:
        return _in_order(_copied(source, row, model) for row in getattr(source.book, name))

    return PackTable(name=name, words=words, rows=rows, add=partial(_add_each, name, store))


TABLES = (
    PackTable(
        name="settings_used", words="settings used", rows=_settings_used, add=_add_settings_used
    ),
    PackTable(name="outputs", words="probe files", rows=_outputs, add=_add_outputs),
    _plain("looks", "looks at outputs", PackLook, outputs.add_look),
    _plain("playbacks", "playbacks", PackPlayback, outputs.add_playback),
    PackTable(
        name="trials",
        words="trials",
        rows=_trials,
        add=partial(_add_logged, "trials", outputs.add_trial),
    ),
    PackTable(
        name="troubles",
        words="troubles",
        rows=_troubles,
        add=partial(_add_logged, "troubles", outputs.add_trouble),
    ),
    PackTable(name="noted_ratios", words="noted ratios", rows=_ratios, add=_add_ratios),
)
