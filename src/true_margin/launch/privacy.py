"""What the app writes is for whoever runs it, and for no other user of the machine."""

from __future__ import annotations

import os
from pathlib import Path

MASK = 0o077
"""New files are read by their owner only."""
OWN_FOLDERS = ("backups", "log", "metrics", "tls")


def keep_private(data: Path) -> None:
    """Keep what is written from now on, and what was before, from other users.

    Args:
        data: folder of the app; the database's own folder in it is the database's to guard.
    """
    os.umask(MASK)
    if not data.is_dir():
        return
    for name in OWN_FOLDERS:
        folder = data / name
        if folder.is_dir() and not folder.is_symlink():
            for path in (folder, *folder.rglob("*")):
                _close(path)
    for path in data.iterdir():
        if path.is_file():
            _close(path)


def make_folder(folder: Path) -> None:
    """Make a folder where it is missing, with those above it; others pass through those only.

    The database may run as another user, who must reach its own folder.
    """
    missing = [path for path in (folder, *folder.parents) if not path.exists()]
    for path in reversed(missing):
        path.mkdir(exist_ok=True)
        path.chmod(0o700 if path == folder else 0o711)


def _close(path: Path) -> None:
    """Take from others what they may do; what is somebody else's stays as it is."""
    if path.is_symlink():
        return
    mode = path.stat().st_mode
    if mode & MASK and path.stat().st_uid == os.geteuid():
        path.chmod(mode & ~MASK & 0o7777)
