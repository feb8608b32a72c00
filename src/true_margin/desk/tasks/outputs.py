"""Was it the same job: the edit, the settings used and what came out, setup by setup."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

import numpy as np

from true_margin.core.choices import JudgedPart
from true_margin.core.errors import CoreError, QuantityError
from true_margin.core.numerals import numerals
from true_margin.core.outputs import PartFound, is_another_clip
from true_margin.core.specs import say_spec
from true_margin.core.task_rows import OBSERVATION, SETTINGS, read_settings, settings_line
from true_margin.core.wording import format_elapsed
from true_margin.desk.book.book import Book
from true_margin.desk.book.noted import (
    DIFFERS,
    LOOKED,
    SAME,
    UNKNOWN,
    facts_of,
    output_parts,
    output_state,
)
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.tasks.timelines import newest_of, reference_of
from true_margin.exchange.apart import PROBE, read_apart
from true_margin.exchange.probe_files import read_probe
from true_margin.store import outputs, records, shootouts, tasks
from true_margin.store.database import Database

NONE = "none"


@dataclass(frozen=True, slots=True)
class SettingApart:
    """An export setting that was not as the task has it."""

    title: str
    wanted: str
    used: str


@dataclass(frozen=True, slots=True)
class ProbeView:
    """The probe file of an output: its name, when it came, and the run it is of."""

    id: UUID
    name: str
    noted_at: datetime
    run_id: UUID | None
    line: str


@dataclass(frozen=True, slots=True)
class SetupSameness:
    """One setup on a task.

    Each of ``timeline``, ``settings`` and ``output`` is same, differs, looked at (the same by
    a person's word, nothing proves it) or unknown; none where the task has no such thing.
    ``parts`` are those of the output that both sides know. ``playback`` is what was seen last,
    on a task that is looked at. ``looked`` are the standing words of those who looked.
    """

    setup_id: UUID
    label: str
    runs: int
    timeline: str
    settings: str
    settings_apart: tuple[SettingApart, ...]
    output: str
    parts: tuple[PartFound, ...]
    probe: ProbeView | None
    look: records.OutputLook | None
    playback: records.Playback | None
    looked: tuple[records.Judgement, ...]


@dataclass(frozen=True, slots=True)
class Sameness:
    """A task on every setup of the line-up."""

    task_id: UUID
    observed: bool
    rows: tuple[SetupSameness, ...]


def show_sameness(database: Database, task_id: UUID) -> Sameness:
    """Say for every setup whether it did the same job as the task asks for.

    Raises:
        NotFoundError: no such task.
    """
    return _sameness(_book_of(database, task_id), task_id)


def note_settings(
    database: Database, task_id: UUID, setup_id: UUID, typed: Mapping[str, str | None], who: str
) -> Sameness:
    """Note the export settings that were used on a setup: the task's, with these changes.

    Raises:
        RefusedError: no such setup, or a setting that cannot be.
    """
    task = _task(_book_of(database, task_id), task_id)
    try:
        settings = read_settings(task.settings, typed, numerals())
    except QuantityError as error:
        raise RefusedError("settings", error.reason) from error
    return _note(database, task_id, setup_id, outputs.add_settings_used, settings=settings, who=who)


def note_look(
    database: Database, task_id: UUID, setup_id: UUID, look: Mapping[str, bool | None], who: str
) -> Sameness:
    """Note what a person saw and heard of the file that a setup exported."""
    return _note(database, task_id, setup_id, outputs.add_look, **look, who=who)


def note_playback(
    database: Database, task_id: UUID, setup_id: UUID, seen: Mapping[str, Any], who: str
) -> Sameness:
    """Note the preview quality that a setup held, and the frames it dropped.

    Raises:
        RefusedError: the task is not looked at, or the counts do not fit.
    """
    if _task(_book_of(database, task_id), task_id).measure != OBSERVATION:
        raise RefusedError("task", "This task is timed, not watched.")
    dropped, total = seen.get("dropped"), seen.get("total")
    if (dropped is None) != (total is None):
        raise RefusedError("dropped", "Dropped frames need both counts: dropped, and of how many.")
    if dropped is not None and total is not None and dropped > total:
        raise RefusedError("dropped", f"{dropped} of {total} frames cannot have been dropped.")
    return _note(database, task_id, setup_id, outputs.add_playback, **seen, who=who)


def add_output(
    database: Database, task_id: UUID, setup_id: UUID, fields: Mapping[str, Any], who: str
) -> Sameness:
    """Keep what a probe said of the file that a setup exported.

    ``fields`` holds ``name``, ``content``, ``run_id`` (None for any run) and ``really``: a
    person's word that a length so far off is what the machine wrote.

    Raises:
        RefusedError: no probe file, a run of another setup, or the length of another clip.
    """
    try:
        facts = read_apart(PROBE, read_probe, fields["content"])
    except CoreError as error:
        raise RefusedError("file", error.reason) from error
    book = _book_of(database, task_id)
    task, run_id = _task(book, task_id), fields.get("run_id")
    runs = {run.id: run for run in book.runs}
    if run_id is not None and (
        run_id not in runs or (runs[run_id].task_id, runs[run_id].setup_id) != (task_id, setup_id)
    ):
        raise RefusedError("run_id", "That run was not made of this task on this setup.")
    if is_another_clip(facts, task.timeline_length_s) and not fields.get("really"):
        found = format_elapsed(facts.length_s or 0.0)
        wanted = format_elapsed(task.timeline_length_s or 0.0)
        raise RefusedError(
            "really",
            f"This file is {found} long and the timeline {wanted}: it is probably the probe of "
            f"another clip. Nothing was stored. If the machine really wrote that, say so and "
            f"bring it in again.",
        )
    stored = {name: fields[name] for name in ("name", "content")} | {"run_id": run_id}
    return _note(
        database, task_id, setup_id, outputs.add_output_file, facts=asdict(facts), who=who, **stored
    )


def _note(database: Database, task_id: UUID, setup_id: UUID, add: Any, **fields: Any) -> Sameness:
    book = _book_of(database, task_id)
    if setup_id not in book.setup_index:
        raise RefusedError("setup_id", "This setup is not in this shootout's line-up.")
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id)
        key = {"task_id": task_id, "setup_id": setup_id, "noted_at": datetime.now(UTC)}
        add(session, {**key, **fields})
    return _sameness(_book_of(database, task_id), task_id)


def _book_of(database: Database, task_id: UUID) -> Book:
    with transaction(database) as session:
        slug = shootouts.slug_of(session, tasks.task_home(session, task_id))
    return SHELF.take(database, slug)


def _task(book: Book, task_id: UUID) -> records.Task:
    found = next((t for t in (*book.tasks, *book.observed) if t.id == task_id), None)
    if found is None:
        raise NotFoundError(f"There is no task {task_id}.")
    return found


def _sameness(book: Book, task_id: UUID) -> Sameness:
    task = _task(book, task_id)
    rows = tuple(_row(book, task, setup) for setup in book.setups)
    return Sameness(task_id, task.measure == OBSERVATION, rows)


def _row(book: Book, task: records.Task, setup: records.Setup) -> SetupSameness:
    key = (task.id, setup.id)
    used = book.noted.settings.get(key)
    probe, look = book.noted.outputs.get(key), book.noted.looks.get(key)
    parts = output_parts(book.noted, task, setup.id)
    apart = () if used is None else _apart(task.settings, used.settings)
    states = same_job(book, task, setup)
    words = (book.looked_at.get((*key, part.value)) for part in JudgedPart)
    return SetupSameness(
        setup.id,
        setup.label,
        sum((run.task_id, run.setup_id) == key for run in book.runs),
        states[JudgedPart.TIMELINE],
        states[JudgedPart.SETTINGS],
        apart,
        states[JudgedPart.OUTPUT],
        parts,
        None if probe is None else _probe_view(probe),
        look,
        book.noted.playbacks.get(key),
        tuple(word for word in words if word is not None),
    )


def same_job(book: Book, task: records.Task, setup: records.Setup) -> dict[JudgedPart, str]:
    """Say of each part of the job whether a setup did it as the task has it.

    What a file or a note proves goes before a person's word that they looked.
    """
    key = (task.id, setup.id)
    used = book.noted.settings.get(key)
    probe, look = book.noted.outputs.get(key), book.noted.looks.get(key)
    apart = used is not None and bool(_apart(task.settings, used.settings))
    proved = {
        JudgedPart.TIMELINE: _timeline(book, task, setup),
        JudgedPart.SETTINGS: NONE
        if not task.settings
        else UNKNOWN
        if used is None
        else DIFFERS
        if apart
        else SAME,
        JudgedPart.OUTPUT: output_state(output_parts(book.noted, task, setup.id), probe, look),
    }
    return {
        part: LOOKED if state == UNKNOWN and (*key, part.value) in book.looked_at else state
        for part, state in proved.items()
    }


@dataclass(frozen=True, slots=True)
class SameJobTally:
    """Of how many setups on their tasks a part of the job is known, and how."""

    part: str
    proved: int
    looked_at: int
    unknown: int
    differs: int


def tally_same_job(book: Book, tasks_at: Sequence[int]) -> tuple[SameJobTally, ...]:
    """Count how the sameness of each part is known, over what was attempted on some tasks."""
    states: dict[JudgedPart, list[str]] = {part: [] for part in JudgedPart}
    tried = np.asarray(book.index.tried) > 0
    for place in tasks_at:
        for at in np.flatnonzero(tried[:, place]).tolist():
            for part, state in same_job(book, book.tasks[place], book.setups[at]).items():
                states[part].append(state)
    return tuple(
        SameJobTally(part.value, *(own.count(state) for state in (SAME, LOOKED, UNKNOWN, DIFFERS)))
        for part, own in states.items()
        if len(own) > own.count(NONE)
    )


def _timeline(book: Book, task: records.Task, setup: records.Setup) -> str:
    if task.timeline_id is None:
        return NONE
    own, reference = (
        newest_of(book, task.timeline_id, setup.id),
        reference_of(book, task.timeline_id),
    )
    if own is None or reference is None:
        return UNKNOWN
    return SAME if own.fingerprint == reference.fingerprint else DIFFERS


def _apart(wanted: Mapping[str, Any], used: Mapping[str, Any]) -> tuple[SettingApart, ...]:
    return tuple(
        SettingApart(spec.title, say_spec(wanted.get(spec.field)), say_spec(used.get(spec.field)))
        for spec in SETTINGS
        if wanted.get(spec.field) != used.get(spec.field)
    )


def _probe_view(file: records.OutputFile) -> ProbeView:
    facts = facts_of(file)
    said = {
        "codec": facts.codec,
        "size": facts.size,
        "frame_rate": facts.frame_rate,
        "depth": facts.depth,
        "bit_rate": facts.bit_rate and round(facts.bit_rate, 1),
        "colour": facts.colour,
    }
    length = format_elapsed(facts.length_s or 0.0, 0.01)
    line = settings_line({name: value for name, value in said.items() if value})
    return ProbeView(file.id, file.name, file.noted_at, file.run_id, f"{length}, {line}")


def wrong_outputs(book: Book) -> int:
    """Count the setups' outputs that are not what their task asks for."""
    found = 0
    for task in book.tasks:
        for setup in book.setups:
            key = (task.id, setup.id)
            parts = output_parts(book.noted, task, setup.id)
            state = output_state(parts, book.noted.outputs.get(key), book.noted.looks.get(key))
            found += state == DIFFERS
    return found
