"""Starting, stopping and resetting the app on this machine.

One start at a time: a lock on a file says who holds the data folder, and the
system drops it when the holder ends, however that happens.
"""

from __future__ import annotations

import fcntl
import os
import signal
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import IO

from sqlalchemy.exc import OperationalError

from true_margin.app.settings import AppSettings
from true_margin.desk.lanes import clear_rigs
from true_margin.desk.pack_in import import_pack
from true_margin.desk.people import invite, is_set_up
from true_margin.desk.rights import LOCAL
from true_margin.desk.shootouts import archive_demo, list_shootouts
from true_margin.exchange.data_pack import read_folder, read_pack
from true_margin.launch.backup import (
    Restored,
    backup_name,
    check_backup,
    make_backup,
    restore,
)
from true_margin.launch.cluster import Cluster, ClusterError
from true_margin.launch.daily import daily_backups
from true_margin.launch.errors import StartError
from true_margin.launch.keeper import kept_running
from true_margin.launch.outside import is_outside
from true_margin.launch.serve import check_port, serve, where_served
from true_margin.store.database import Database

BACKUPS = "backups"
_STOP_WAIT_S = 30.0


@dataclass(frozen=True, slots=True)
class Opened:
    """An open database, and the cluster that was started for it, if any."""

    database: Database
    cluster: Cluster | None


def run_demo(settings: AppSettings) -> None:
    """Start everything, print the address, and serve until told to stop.

    Raises:
        StartError: a taken port, no built pages, or a second start.
        ClusterError: the private database cannot be made or started.
    """
    _run(settings, demo=True)


def run_serve(settings: AppSettings) -> None:
    """Start everything without demo data; beyond loopback only where people sign in.

    Raises:
        StartError: also where sign-in is not set up.
        ClusterError: the private database cannot be made or started.
    """
    if is_outside(settings.host) and not settings.sign_in:
        raise StartError(
            f"At {settings.host} others can reach True Margin, and nobody signs in. "
            f"Set sign-in up first: true-margin invite, then true-margin serve --sign-in. "
            f"Or let paired devices in only: make demo HOST={settings.host}"
        )
    _run(settings, demo=False)


def _run(settings: AppSettings, *, demo: bool) -> None:
    if not (settings.web / "index.html").exists():
        raise StartError("The pages are not built yet. Run: make setup")
    settings = where_served(settings)
    check_port(settings)
    settings.data.mkdir(parents=True, exist_ok=True)
    with _only_one(settings), _ending_on_signals():
        opened = open_database(settings)
        try:
            opened.database.migrate()
            if settings.sign_in and not is_set_up(opened.database):
                raise StartError(
                    "Nobody owns this True Margin yet, so nobody could sign in. "
                    "Make the first owner's invitation: true-margin invite"
                )
            if demo and not list_shootouts(opened.database):
                load_demo(opened.database, settings.demo)
            clear_rigs(opened.database)
            backups = settings.data / BACKUPS
            with kept_running(opened.cluster), daily_backups(opened.database.url, backups):
                serve(opened.database, settings)
        finally:
            _close(opened)


def invite_owner(settings: AppSettings, role: str, email: str | None) -> str:
    """Make an invitation from the command line; gives its link.

    Whoever may run this holds the data anyway.
    """
    running = _holder(settings) is not None
    settings = where_served(settings.model_copy(update={"sign_in": True}))
    opened = open_database(settings)
    try:
        opened.database.migrate()
        made = invite(opened.database, LOCAL, role, note=email)
        return f"{settings.address}/invitation/{made.token}"
    finally:
        if running:
            opened.database.close()
        else:
            _close(opened)


def open_database(settings: AppSettings) -> Opened:
    """Open the database that DATABASE_URL names, or the private one."""
    if settings.database_url is not None:
        database = Database(settings.database_url, settings.read_replica)
        try:
            database.answers()
        except OperationalError as error:
            reason = str(error.orig).strip().splitlines()[0]
            raise StartError(
                f"The database that DATABASE_URL names does not answer: {reason}"
            ) from error
        return Opened(database, None)
    cluster = Cluster(settings.data)
    cluster.start()
    return Opened(Database(cluster.url, settings.read_replica), cluster)


def load_demo(database: Database, folder: Path) -> int:
    """Load every demo pack, by the same way in that a user has."""
    # The first by name comes in last, and so stands first on the shelf.
    packs = sorted((path.parent for path in folder.glob("*/datapackage.json")), reverse=True)
    for path in packs:
        import_pack(database, read_pack(read_folder(path)), demo=True)
    return len(packs)


def reset_demo(settings: AppSettings) -> tuple[int, int]:
    """Put the demo shootouts aside and load fresh ones; own shootouts stay.

    Returns:
        How many were put aside, and how many were loaded.
    """
    running = _holder(settings) is not None
    opened = open_database(settings)
    try:
        opened.database.migrate()
        return archive_demo(opened.database), load_demo(opened.database, settings.demo)
    finally:
        if running:
            opened.database.close()
        else:
            _close(opened)


def back_up(settings: AppSettings, file: Path | None) -> Path:
    """Write a backup, while the app runs or not; gives the file.

    Raises:
        BackupError: it cannot be written, or does not read back.
    """
    running = _holder(settings) is not None
    opened = open_database(settings)
    try:
        made = file or settings.data / BACKUPS / backup_name(datetime.now(UTC))
        make_backup(opened.database.url, made)
        return made
    finally:
        if running:
            opened.database.close()
        else:
            _close(opened)


def bring_back(settings: AppSettings, file: Path) -> Restored:
    """Bring a backup back in the place of what is there, which is kept under another name.

    Raises:
        StartError: the app runs.
        BackupError: the file is off, or somebody uses the database; nothing is changed.
    """
    if _holder(settings) is not None:
        raise StartError("True Margin runs on this data. Stop it first: make stop")
    check_backup(file)
    opened = open_database(settings)
    try:
        url = opened.database.url
        opened.database.close()
        return restore(url, file, datetime.now(UTC))
    finally:
        _close(opened)


def stop(settings: AppSettings) -> bool:
    """Stop the app and its private database.

    Returns:
        True where something was running.

    Raises:
        StartError: the app does not end.
    """
    pid = _holder(settings)
    if pid is not None:
        os.kill(pid, signal.SIGTERM)
        deadline = time.monotonic() + _STOP_WAIT_S
        while _holder(settings) is not None:
            if time.monotonic() > deadline:
                raise StartError(f"Process {pid} does not end. End it with: kill -9 {pid}")
            time.sleep(0.05)
    cluster = Cluster(settings.data)
    left_over = cluster.running()
    if left_over:
        cluster.stop()
    return pid is not None or left_over


def _close(opened: Opened) -> None:
    opened.database.close()
    if opened.cluster is not None:
        opened.cluster.stop()


@contextmanager
def _ending_on_signals() -> Iterator[None]:
    """End like Ctrl-C when asked to terminate or when the terminal goes away."""

    def end(*_: object) -> None:
        raise KeyboardInterrupt

    earlier = {name: signal.signal(name, end) for name in (signal.SIGTERM, signal.SIGHUP)}
    try:
        yield
    except KeyboardInterrupt:
        print("Stopped.", flush=True)
    finally:
        for name, handler in earlier.items():
            signal.signal(name, handler)


@contextmanager
def _only_one(settings: AppSettings) -> Iterator[None]:
    """Hold the data folder; the file's content is the holder's process id."""
    path = _lock_path(settings)
    with path.open("a+") as held:
        if not _lock(held):
            raise StartError(
                f"True Margin runs already on {settings.data} (process {_read_pid(held)}). "
                f"Stop it with: make stop"
            )
        held.truncate(0)
        held.write(str(os.getpid()))
        held.flush()
        try:
            yield
        finally:
            held.truncate(0)


def _holder(settings: AppSettings) -> int | None:
    """Process that holds the data folder; a stale file without a lock counts for nothing."""
    path = _lock_path(settings)
    if not path.exists():
        return None
    with path.open("a+") as held:
        return None if _lock(held) else _read_pid(held)


def _lock_path(settings: AppSettings) -> Path:
    return settings.data / "app.pid"


def _lock(held: IO[str]) -> bool:
    try:
        fcntl.flock(held, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        return False
    return True


def _read_pid(held: IO[str]) -> int | None:
    held.seek(0)
    text = held.read().strip()
    return int(text) if text.isdigit() else None


__all__ = [
    "ClusterError", "Opened", "StartError", "back_up", "bring_back", "invite_owner", "load_demo",
    "open_database", "reset_demo", "run_demo", "run_serve", "stop",
]  # fmt: skip
