"""Backups from the command line: one made now, and one brought back."""

from __future__ import annotations

from datetime import UTC, datetime
from pathlib import Path

from true_margin.app.settings import AppSettings
from true_margin.launch.backup import Restored, backup_name, check_backup, make_backup, restore
from true_margin.launch.errors import StartError
from true_margin.launch.holder import holder
from true_margin.launch.opened import at_hand

BACKUPS = "backups"


def back_up(settings: AppSettings, file: Path | None) -> Path:
    """Write a backup, while the app runs or not; gives the file.

    Raises:
        BackupError: it cannot be written, or does not read back.
    """
    with at_hand(settings) as opened:
        made = file or settings.data / BACKUPS / backup_name(datetime.now(UTC))
        make_backup(opened.database.url, made)
        return made


def bring_back(settings: AppSettings, file: Path) -> Restored:
    """Bring a backup back in the place of what is there, which is kept under another name.

    Raises:
        StartError: the app runs.
        BackupError: the file is off, or somebody uses the database; nothing is changed.
    """
    if holder(settings) is not None:
        raise StartError("True Margin runs on this data. Stop it first: make stop")
    check_backup(file)
    with at_hand(settings) as opened:
        url = opened.database.url
        opened.database.close()
        return restore(url, file, datetime.now(UTC))
