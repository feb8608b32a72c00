"""What belongs to a run besides its value: marks, pictures of the screen."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict
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
    there = runs.list_marks(session, [run.id])
    known = {mark.elapsed_s: mark.fraction for mark in there if mark.withdrawn_at is None}
    # A device that sends its marks once more does not bring back what was put right since.
    gone = [asdict(mark) for mark in there if mark.withdrawn_at is not None]
    try:
        checked = {mark["elapsed_s"]: mark for mark in map(check_mark, marks)}
    except CoreError as error:
        raise RefusedError("marks", error.reason) from error
    new = {
        float(at): mark
        for at, mark in checked.items()
        if at is not None and at not in known and not any(_same(mark, each) for each in gone)
    }
    if run.value is not None and any(at > run.value + SLACK_S for at in new):
        raise RefusedError("marks", "A mark lies after the end of its run.")
    done = known | {at: mark.get("fraction") for at, mark in new.items()}
    rising = [part for _, part in sorted(done.items()) if isinstance(part, float)]
    if any(later < sooner for sooner, later in pairwise(rising)):
        raise RefusedError("marks", "A mark goes backwards: less was done later.")
    for _, mark in sorted(new.items()):
        runs.add_mark(session, run.id, mark)


def _same(mark: Mapping[str, MarkValue], withdrawn: Mapping[str, object]) -> bool:
    return all(withdrawn[name] == value for name, value in mark.items())


BESIDE_S = 0.001
"""A reading that was typed for a moment at which one stands already goes so far beside it."""


def note_reading(database: Database, run_id: UUID, mark: Mapping[str, MarkValue]) -> RunDetail:
    """Keep a reading that is typed of a run that is over; nothing at its moment is lost.

    Args:
        database: where the run is.
        run_id: the run.
        mark: as in ``add_marks``; without ``elapsed_s`` it is of the run's end.

    Raises:
        RefusedError: it says nothing, is out of range, goes backwards or lies after the end.
    """
    with transaction(database) as session:
        home = runs.run_home(session, run_id)
        shootouts.bump_revision(session, home, rest=False)
        run = runs.get_run(session, run_id)
        store_marks(session, run, [_beside(session, run, mark)])
    return show_run(database, run_id)


def put_right(
    database: Database, mark_id: UUID, why: str, instead: Mapping[str, MarkValue] | None
) -> RunDetail:
    """Withdraw a mark with the reason, and keep what it should have been where that is known.

    Raises:
        RefusedError: what it should have been cannot be; then it is not withdrawn either.
    """
    with transaction(database) as session:
        run = runs.get_run(session, runs.mark_run(session, mark_id))
        shootouts.bump_revision(session, runs.run_home(session, run.id), rest=False)
        runs.withdraw_mark(session, mark_id, datetime.now(UTC), why)
        if instead is not None:
            store_marks(session, run, [_beside(session, run, instead)])
    return show_run(database, run.id)


def _beside(
    session: Session, run: records.Run, mark: Mapping[str, MarkValue]
) -> Mapping[str, MarkValue]:
    """A reading at the next moment that is free; at the run's end where none is said."""
    at = mark.get("elapsed_s")
    elapsed = float(at) if isinstance(at, int | float) else run.value or 0.0
    marks = runs.list_marks(session, [run.id])
    taken = {round(each.elapsed_s, 6) for each in marks if each.withdrawn_at is None}
    while round(elapsed, 6) in taken:
        elapsed += BESIDE_S
    return {**mark, "elapsed_s": elapsed}


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
