"""A backup a day, made beside the app."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path

from true_margin.launch.backup import (
    BackupError,
    backup_name,
    drop_old,
    is_of_the_future,
    made_at,
    make_backup,
)

EVERY = timedelta(days=1)
LOOK_S = 600.0


def is_due(folder: Path, now: datetime) -> bool:
    """Whether the newest backup of a folder is a day old, or none is there.

    One that is named for a time to come says nothing of today.
    """
    made = [
        at
        for path in folder.glob("*.zip")
        if (at := made_at(path.name)) is not None and not is_of_the_future(path.name, now)
    ]
    return not made or now - max(made) >= EVERY


def of_the_future(folder: Path, now: datetime) -> list[Path]:
    """Name the backups of a folder that are named for a time to come."""
    return sorted(path for path in folder.glob("*.zip") if is_of_the_future(path.name, now))


def back_up_if_due(url: str, folder: Path, now: datetime) -> Path | None:
    """Make today's backup where there is none, and drop what need not stay."""
    if not is_due(folder, now):
        return None
    file = folder / backup_name(now)
    make_backup(url, file)
    drop_old(folder, now)
    return file


@contextmanager
def daily_backups(url: str, folder: Path) -> Iterator[None]:
    """Back up every day while the app runs; what goes wrong is printed and tried again."""
    ended = threading.Event()

    def watch() -> None:
        told: list[Path] = []
        # Not at the very start, which somebody waits for.
        while not ended.wait(LOOK_S):
            try:
                now = datetime.now(UTC)
                back_up_if_due(url, folder, now)
                strange = of_the_future(folder, now)
                if strange and strange != told:
                    told = strange
                    names = ", ".join(path.name for path in strange)
                    print(f"Backups are named for a time to come: {names}. Is the clock right?")
            except (BackupError, OSError) as error:
                print(f"Today's backup could not be made: {error}", flush=True)

    thread = threading.Thread(target=watch, daemon=True, name="backups")
    thread.start()
    try:
        yield
    finally:
        ended.set()
        thread.join(timeout=30)
