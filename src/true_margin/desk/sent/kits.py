"""The kit of a shootout: what others need to run its tasks, and the form of their result."""

from __future__ import annotations

import io
import json
import zipfile
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

from true_margin.core.numerals import PLAIN, short, writing
from true_margin.core.task_rows import settings_line
from true_margin.core.wording import format_elapsed
from true_margin.desk.bench.watcher_file import pack_watcher
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.publish.pages import font_faces, json_in_script, render
from true_margin.store import records, sent, timelines
from true_margin.store.database import Database
from true_margin.watcher.kit import KIT

RUNS = 3
"""So many runs of each task are asked for."""
CONSENT = (
    "The result holds what you type here, the times of your exports, what your machine says of "
    "its parts and its system, and the events of the watcher without names of folders and files. "
    "Whoever gave you this kit may keep it, show its times with the name that you type (or with "
    "none), and pass it on with their comparison. You get a code: whoever knows it may ask them "
    "to erase the result; what they published or passed on before stays where it is. Nothing is "
    "sent by the kit itself."
)
_WHEN = (1980, 1, 1, 0, 0, 0)


@dataclass(frozen=True, slots=True)
class KitTask:
    """A task as whoever runs the kit is told: what to open, how to export, from when until when."""

    id: str
    name: str
    app: str
    timeline: str | None
    lines: tuple[str, ...]


@writing(PLAIN)
def give_kit(database: Database, slug: str, who: str) -> bytes:
    """Give a shootout's kit as a zip archive; the first time it gets its secret.

    Raises:
        RefusedError: there is no timed task to run.
    """
    book = SHELF.take(database, slug)
    tasks = tuple(_tasks(book))
    if not tasks:
        raise RefusedError("tasks", "A kit has timed tasks: add one first.")
    with transaction(database) as session:
        kit = sent.find_kit(session, book.shootout.id)
        if kit is None:
            kit = sent.make_kit(session, book.shootout.id, datetime.now(UTC), who)
        edits = {
            f"timelines/{place} {file.name}": timelines.file_content(session, file.id)
            for place, file in enumerate(_edits(book), start=1)
        }
    asked = _asked(book, kit, tasks)
    page = render(
        "kit.html",
        name=book.shootout.name,
        tasks=tasks,
        runs=RUNS,
        consent=CONSENT,
        media=list(_media(book)),
        fonts=font_faces(),
        asked=json_in_script(asked),
    )
    room = io.BytesIO()
    with zipfile.ZipFile(room, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, content in {
            "START HERE.html": page.encode(),
            "true-margin-watch.pyz": pack_watcher({KIT: asked}),
            "settings.json": json.dumps(_settings(book), indent=1, ensure_ascii=False).encode(),
            **edits,
        }.items():
            archive.writestr(zipfile.ZipInfo(name, _WHEN), content, zipfile.ZIP_DEFLATED)
    return room.getvalue()


def _timed(book: Book) -> list[records.Task]:
    return [task for task in book.tasks if task.measure == "time" and not task.superseded]


def _tasks(book: Book) -> Iterator[KitTask]:
    for task in _timed(book):
        yield KitTask(str(task.id), task.name, task.app, task.timeline, tuple(_lines(task)))


def _lines(task: records.Task) -> Iterator[str]:
    """How a task is done, line by line."""
    open_it = f"Open {task.timeline} in {task.app}" if task.timeline else f"Open {task.app}"
    length = task.timeline_length_s
    yield f"{open_it}{f' ({format_elapsed(length)} long)' if length else ''}."
    if task.settings:
        yield f"Export settings: {settings_line(task.settings)}."
    if task.starts_when:
        yield f"The time begins when {task.starts_when}."
    if task.ends_when:
        yield f"It ends when {task.ends_when}."
    if task.note:
        yield task.note


def _asked(book: Book, kit: records.Kit, tasks: tuple[KitTask, ...]) -> dict[str, Any]:
    """What the watcher and the form are told."""
    return {
        "kit": str(kit.id),
        "shootout": book.shootout.name,
        "secret": kit.secret,
        "runs": RUNS,
        "consent": CONSENT,
        "tasks": [
            {"id": task.id, "name": task.name, "how": " ".join(task.lines)} for task in tasks
        ],
    }


def _edits(book: Book) -> list[records.TimelineFile]:
    """The newest file of each timeline that a task is done with, as the reviewer keeps it."""
    wanted = {task.timeline_id for task in _timed(book)}
    newest: dict[object, records.TimelineFile] = {}
    for file in book.timeline_files:
        if file.timeline_id in wanted and (file.setup_id is None or file.timeline_id not in newest):
            newest[file.timeline_id] = file
    return list(newest.values())


def _media(book: Book) -> Iterator[str]:
    """What each timeline is made of, so that its media can be asked for."""
    for file in _edits(book):
        facts = file.facts
        named = facts.get("media_names") or ()
        clips = f"{short(facts['clips'])} clips" if facts.get("clips") else ""
        yield ": ".join(part for part in (file.name, clips, ", ".join(named[:30])) if part)


def _settings(book: Book) -> list[dict[str, Any]]:
    """The export settings of each task by field, for apps that read presets."""
    return [
        {"task": task.name, "app": task.app, "settings": task.settings} for task in _timed(book)
    ]
