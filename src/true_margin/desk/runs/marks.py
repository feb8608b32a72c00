"""What belongs to a run besides its value: marks, pictures of the screen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from itertools import pairwise
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.errors import CoreError
from true_margin.core.mark_rows import MarkValue, check_mark
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.runs.runs import RunDetail, show_run
from true_margin.store import outputs, records, runs, shootouts
from true_margin.store.database import Database

SLACK_S = 1.0
"""A mark may lie this far after a run's end: the end is told to a tenth of a second."""
MOST_PICTURE_BYTES = 5_000_000
_BEGINS = {"image/png": b"\x89PNG\r\n\x1a\n", "image/jpeg": b"\xff\xd8\xff"}


def add_marks(
    database: Database, run_id: UUID, marks: Sequence[Mapping[str, MarkValue]]
) -> RunDetail:
    """Add marks to a run; those that it has already are left as they are.

    Raises:
        RefusedError: a mark says nothing, is out of range, goes backwards, or lies after
            the run's end; none is stored.
    """
    with transaction(database) as session:
        home = runs.run_home(session, run_id)
        shootouts.bump_revision(session, home, rest=False)
        store_marks(session, runs.get_run(session, run_id), marks)
    return show_run(database, run_id)


def store_marks(
    session: Session, run: records.Run, marks: Sequence[Mapping[str, MarkValue]]
) -> None:
    """Check marks against their run and each other, and store the new ones."""
    known = {mark.elapsed_s: mark.fraction for mark in runs.list_marks(session, [run.id])}
    try:
        checked = {mark["elapsed_s"]: mark for mark in map(check_mark, marks)}
    except CoreError as error:
        raise RefusedError("marks", error.reason) from error
    new = {float(at): mark for at, mark in checked.items() if at not in known and at is not None}
    if run.value is not None and any(at > run.value + SLACK_S for at in new):
        raise RefusedError("marks", "A mark lies after the end of its run.")
    done = known | {at: mark.get("fraction") for at, mark in new.items()}
    rising = [part for _, part in sorted(done.items()) if isinstance(part, float)]
    if any(later < sooner for sooner, later in pairwise(rising)):
        raise RefusedError("marks", "A mark goes backwards: less was done later.")
    for _, mark in sorted(new.items()):
        runs.add_mark(session, run.id, mark)


def attach_picture(
    database: Database, run_id: UUID, name: str, content: bytes, who: str
) -> RunDetail:
    """Keep a picture of the screen with a run.

    Raises:
        RefusedError: it is neither PNG nor JPEG, or larger than 5 MB.
    """
    columns = picture_columns(name, content)
    with transaction(database) as session:
        home = runs.run_home(session, run_id)
        shootouts.bump_revision(session, home, rest=False)
        more = {"run_id": run_id, "who": who, "added_at": datetime.now(UTC)}
        outputs.add_picture(session, {**columns, **more})
    return show_run(database, run_id)


def picture_columns(name: str, content: bytes) -> dict[str, object]:
    """Check a picture and give its columns.

    Raises:
        RefusedError: it is neither PNG nor JPEG, or larger than 5 MB.
    """
    if len(content) > MOST_PICTURE_BYTES:
        raise RefusedError("file", "The picture is larger than 5 MB: make it smaller first.")
    found = [kind for kind, begins in _BEGINS.items() if content.startswith(begins)]
    if not found:
        raise RefusedError("file", f"{name} is neither a PNG nor a JPEG picture.")
    return {
        "name": name[:200] or "picture",
        "media_type": found[0],
        "content": content,
        "size": len(content),
    }


def show_picture(database: Database, picture_id: UUID) -> tuple[str, bytes]:
    """Give a picture's media type and content."""
    with transaction(database) as session:
        return outputs.picture_content(session, picture_id)
