"""What was noted of setups on tasks: settings used, outputs, looks, playback; and presets."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any, Literal, TypeAlias, TypeVar
from uuid import UUID

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.errors import MissingRowError
from true_margin.store.rows import get_row, insert_row, record_of, withdraw_row
from true_margin.store.tables import AppRow, MachineRow, SetupRow, TaskRow
from true_margin.store.tables_noted import (
    OutputFileRow,
    OutputLookRow,
    PlaybackRow,
    PresetRow,
    RunPictureRow,
    SettingsUsedRow,
    TrialRow,
    TroubleRow,
)

Noted = TypeVar("Noted")


def _list(
    session: Session, shootout_id: UUID, table: Any, record: type[Noted]
) -> tuple[Noted, ...]:
    """List what was noted in a shootout, oldest first."""
    rows = session.scalars(
        select(table)
        .join(TaskRow, TaskRow.id == table.task_id)
        .where(TaskRow.shootout_id == shootout_id)
        .order_by(table.noted_at, table.id)
    )
    return tuple(record_of(row, record) for row in rows)


def list_settings_used(session: Session, shootout_id: UUID) -> tuple[records.SettingsUsed, ...]:
    """List the settings that were really used, oldest first."""
    return _list(session, shootout_id, SettingsUsedRow, records.SettingsUsed)


def list_output_files(session: Session, shootout_id: UUID) -> tuple[records.OutputFile, ...]:
    """List what probes said, oldest first, without the files themselves."""
    return _list(session, shootout_id, OutputFileRow, records.OutputFile)


def list_looks(session: Session, shootout_id: UUID) -> tuple[records.OutputLook, ...]:
    """List what persons saw of outputs, oldest first."""
    return _list(session, shootout_id, OutputLookRow, records.OutputLook)


def list_playbacks(session: Session, shootout_id: UUID) -> tuple[records.Playback, ...]:
    """List what was seen of playback, oldest first."""
    return _list(session, shootout_id, PlaybackRow, records.Playback)


def list_trials(session: Session, shootout_id: UUID) -> tuple[records.Trial, ...]:
    """List the editing trials, oldest first."""
    return _logged(session, shootout_id, TrialRow, records.Trial)


def list_troubles(session: Session, shootout_id: UUID) -> tuple[records.Trouble, ...]:
    """List the troubles, oldest first."""
    return _logged(session, shootout_id, TroubleRow, records.Trouble)


def _logged(
    session: Session, shootout_id: UUID, table: Any, record: type[Noted]
) -> tuple[Noted, ...]:
    """List entries of the log, oldest first, with the app that they are of."""
    rows = session.execute(
        select(table, AppRow.name)
        .join(SetupRow, SetupRow.id == table.setup_id)
        .join(MachineRow, MachineRow.id == SetupRow.machine_id)
        .outerjoin(TaskRow, TaskRow.id == table.task_id)
        .outerjoin(AppRow, AppRow.id == func.coalesce(table.app_id, TaskRow.app_id))
        .where(MachineRow.shootout_id == shootout_id)
        .order_by(table.noted_at, table.id)
    )
    return tuple(record_of(row, record, app=app) for row, app in rows)


def add_trial(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Note an editing trial; the newest of a kind counts."""
    return insert_row(session, TrialRow, fields)


def add_trouble(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Note a trouble; each counts."""
    return insert_row(session, TroubleRow, fields)


def withdraw_logged(
    session: Session, kind: Logbook, entry_id: UUID, at: datetime, why: str
) -> None:
    """Say that an entry of the log counts no more; one that was withdrawn stays as it is."""
    withdraw_row(session, _LOGBOOKS[kind], entry_id, at, why, what="entry of the log")


def logged_home(session: Session, kind: Logbook, entry_id: UUID) -> UUID:
    """Give the shootout that an entry of the log stands in.

    Raises:
        MissingRowError: no such entry.
    """
    row = get_row(session, _LOGBOOKS[kind], entry_id, "entry of the log")
    machine = get_row(session, SetupRow, row.setup_id, "setup").machine_id
    home: UUID = get_row(session, MachineRow, machine, "machine").shootout_id
    return home


def list_entry_pictures(session: Session, shootout_id: UUID) -> tuple[records.RunPicture, ...]:
    """List the pictures of entries of the log, oldest first, without their content."""
    rows = session.scalars(
        select(RunPictureRow)
        .outerjoin(TrialRow, TrialRow.id == RunPictureRow.trial_id)
        .outerjoin(TroubleRow, TroubleRow.id == RunPictureRow.trouble_id)
        .join(SetupRow, SetupRow.id == func.coalesce(TrialRow.setup_id, TroubleRow.setup_id))
        .join(MachineRow, MachineRow.id == SetupRow.machine_id)
        .where(MachineRow.shootout_id == shootout_id)
        .order_by(RunPictureRow.added_at, RunPictureRow.id)
    )
    return tuple(record_of(row, records.RunPicture) for row in rows)


Logbook: TypeAlias = Literal["trials", "troubles"]
_LOGBOOKS: dict[Logbook, Any] = {"trials": TrialRow, "troubles": TroubleRow}


def add_picture(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Keep a picture of a run."""
    return insert_row(session, RunPictureRow, fields)


def list_pictures(session: Session, run_ids: Sequence[UUID]) -> tuple[records.RunPicture, ...]:
    """List the pictures of some runs, oldest first, without their content."""
    rows = session.scalars(
        select(RunPictureRow)
        .where(RunPictureRow.run_id.in_(run_ids))
        .order_by(RunPictureRow.added_at, RunPictureRow.id)
    )
    return tuple(record_of(row, records.RunPicture) for row in rows)


def picture_content(session: Session, picture_id: UUID) -> tuple[str, bytes]:
    """Give a picture's media type and content.

    Raises:
        MissingRowError: no such picture.
    """
    found = session.execute(
        select(RunPictureRow.media_type, RunPictureRow.content).where(
            RunPictureRow.id == picture_id
        )
    ).first()
    if found is None:
        raise MissingRowError("picture", picture_id)
    return str(found[0]), bytes(found[1])


def add_settings_used(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Note the settings that were used; the newest count."""
    return insert_row(session, SettingsUsedRow, fields)


def add_output_file(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Keep what a probe said; the newest of a setup counts."""
    return insert_row(session, OutputFileRow, fields)


def add_look(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Note what a person saw; the newest counts."""
    return insert_row(session, OutputLookRow, fields)


def add_playback(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Note what was seen of playback; the newest counts."""
    return insert_row(session, PlaybackRow, fields)


def output_content(session: Session, file_id: UUID) -> bytes:
    """Give the probe file as it came.

    Raises:
        MissingRowError: no such file.
    """
    content = session.scalar(select(OutputFileRow.content).where(OutputFileRow.id == file_id))
    if content is None:
        raise MissingRowError("probe file", file_id)
    return content


def list_presets(session: Session, person_id: UUID | None) -> tuple[records.Preset, ...]:
    """List the presets of somebody and those of nobody, by name; one's own hides nobody's."""
    rows = session.scalars(
        select(PresetRow)
        .where(or_(PresetRow.person_id == person_id, PresetRow.person_id.is_(None)))
        .order_by(PresetRow.name, PresetRow.person_id.nulls_first())
    )
    return tuple({row.name: record_of(row, records.Preset) for row in rows}.values())


def keep_preset(
    session: Session, person_id: UUID | None, name: str, settings: Mapping[str, Any]
) -> UUID:
    """Keep settings of somebody under a name; theirs of the same name are replaced."""
    known = session.scalar(
        select(PresetRow).where(
            PresetRow.name == name, PresetRow.person_id.is_not_distinct_from(person_id)
        )
    )
    if known is None:
        values = {"name": name, "person_id": person_id, "settings": dict(settings)}
        return insert_row(session, PresetRow, values)
    known.settings = dict(settings)
    session.flush()
    return known.id
