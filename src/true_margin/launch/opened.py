"""The database that a command works on: one by address, or the private one."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass

from sqlalchemy.exc import OperationalError

from true_margin.app.settings import AppSettings
from true_margin.launch.cluster import Cluster
from true_margin.launch.errors import StartError
from true_margin.launch.holder import holder
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class Opened:
    """An open database, and the cluster that was started for it, if any."""

    database: Database
    cluster: Cluster | None


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
    return Opened(Database(cluster.url, settings.read_replica, folder=cluster.data), cluster)


def close(opened: Opened) -> None:
    """Close the database, and stop the cluster that was started for it."""
    opened.database.close()
    if opened.cluster is not None:
        opened.cluster.stop()


@contextmanager
def at_hand(settings: AppSettings) -> Iterator[Opened]:
    """The database for one command, while the app runs on it or not."""
    running = holder(settings) is not None
    opened = open_database(settings)
    try:
        yield opened
    finally:
        if running:
            opened.database.close()
        else:
            close(opened)
