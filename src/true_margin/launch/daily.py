"""A backup a day, made beside the app."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path

from true_margin.launch.backup import NAME, BackupError, backup_name, drop_old, make_backup

EVERY = timedelta(days=1)
LOOK_S = 600.0


def is_due(folder: Path, now: datetime) -> bool:
    """Whether the newest backup of a folder is a day old, or none is there."""
    made = [
        datetime.strptime(match[1], "%Y%m%dT%H%M%S").replace(tzinfo=UTC)
        for path in folder.glob("*.zip")
        if (match := NAME.match(path.name))
    ]
    return not made or now - max(made) >= EVERY


def back_up_if_due(url: str, folder: Path, now: datetime) -> Path | None:
    """Make today's backup where there is none, and drop what need not stay."""
    if not is_due(folder, now):
        return None
    file = folder / backup_name(now)
    make_backup(url, file)
    drop_old(folder)
    return file


@contextmanager
def daily_backups(url: str, folder: Path) -> Iterator[None]:
    """Back up every day while the app runs; what goes wrong is printed and tried again."""
    ended = threading.Event()

    def watch() -> None:
        # Not at the very start, which somebody waits for.
        while not ended.wait(LOOK_S):
            try:
                back_up_if_due(url, folder, datetime.now(UTC))
            except (BackupError, OSError) as error:
                print(f"Today's backup could not be made: {error}", flush=True)

    thread = threading.Thread(target=watch, daemon=True, name="backups")
    thread.start()
    try:
        yield
    finally:
        ended.set()
        thread.join(timeout=30)
