"""Connections, sessions and migrations."""

from __future__ import annotations

import shutil
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

import psycopg
from alembic import command
from alembic.config import Config
from alembic.runtime.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.engine.interfaces import DBAPIConnection
from sqlalchemy.exc import InvalidatePoolError
from sqlalchemy.orm import Session, sessionmaker
from sqlalchemy.pool import ConnectionPoolEntry, PoolProxiedConnection, QueuePool

from true_margin.store.clocks import Clocks

CLOSES_WITHIN_S = 3.0
FRESH_S = 2.0
_ROOM = (
    "create temporary table room on commit drop as "
    "select repeat(md5(n::text), 200) as words from generate_series(1, 400) as n"
)
"""Some 2.6 MB: more than lies ready in files that were made longer before."""
_NEEDED_BYTES = 1_000_000
"""A server without so much does not even start: it cannot write what it notes of its start."""
MIGRATIONS = Path(__file__).parent / "migrations"


def driver_url(url: str) -> str:
    """Point a plain ``postgresql://`` address at the driver that ships with the app."""
    for prefix in ("postgresql://", "postgres://"):
        if url.startswith(prefix):
            return "postgresql+psycopg://" + url.removeprefix(prefix)
    return url


def _given_back(_: DBAPIConnection | None, record: ConnectionPoolEntry) -> None:
    record.info["given_back"] = time.monotonic()


def _still_there(
    connection: DBAPIConnection, record: ConnectionPoolEntry, _: PoolProxiedConnection
) -> None:
    """Ask a connection that lay idle whether it is still there, before somebody needs it.

    One that worked a moment ago is not asked: that would be a question for every question. If
    the database went in just that moment, one request is told so, and the others ask anew.
    """
    given_back = record.info.get("given_back")
    if given_back is None or time.monotonic() - given_back < FRESH_S:
        return
    try:
        with closing(connection.cursor()) as cursor:
            cursor.execute("select 1")
        connection.rollback()
    except psycopg.Error as error:
        # All others that lay there are asked to leave too.
        raise InvalidatePoolError from error


class Database:
    """One PostgreSQL database.

    Args:
        url: SQLAlchemy address.
        replica: address of a copy that follows it and can be read, if there is one.
        folder: where on this machine its files are, if that is known.
    """

    def __init__(self, url: str, replica: str | None = None, *, folder: Path | None = None) -> None:
        self.url = driver_url(url)
        self.folder = folder
        # As many as there are threads that answer requests: none waits for another's. Half are
        # kept: those beyond are opened anew each time, which costs more than what they are for.
        self.engine: Engine = create_engine(self.url, pool_size=20, max_overflow=20)
        event.listen(self.engine, "checkin", _given_back)
        event.listen(self.engine, "checkout", _still_there)
        self.reader: Database = self if replica is None else Database(replica)
        self.clocks = Clocks(self.transaction)
        self._sessions = sessionmaker(self.engine, expire_on_commit=False)

    @contextmanager
    def transaction(self) -> Iterator[Session]:
        """Give a session whose work is kept whole or not at all."""
        with self._sessions.begin() as session:
            yield session

    def answers(self) -> bool:
        """Say whether the database answers a query."""
        with self.engine.connect() as connection:
            return connection.execute(text("select 1")).scalar() == 1

    def has_room(self) -> bool:
        """Whether its disk has room, as far as this machine can see; a server may be gone."""
        if self.folder is None or not self.folder.exists():
            return True
        return shutil.disk_usage(self.folder).free > _NEEDED_BYTES

    def try_write(self) -> None:
        """Write as much as a transaction of this app needs room for, and keep none of it.

        The table is gone with its transaction; what it needs of the disk is asked for at once.

        Raises:
            DBAPIError: there is no room, or the database takes no writes.
        """
        with self.engine.begin() as connection:
            connection.execute(text(_ROOM))

    def migrate(self, revision: str = "head") -> None:
        """Bring the tables to a revision of the schema."""
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        config.attributes["engine"] = self.engine
        command.upgrade(config, revision)

    def is_current(self) -> bool:
        """Whether the tables are those of this version of the code."""
        script = ScriptDirectory(str(MIGRATIONS))
        with self.engine.connect() as connection:
            found = MigrationContext.configure(connection).get_current_revision()
        return found == script.get_current_head()

    def close(self) -> None:
        """Close all connections, once those that are in use have been given back."""
        until = time.monotonic() + CLOSES_WITHIN_S
        while isinstance(self.engine.pool, QueuePool) and self.engine.pool.checkedout():
            if time.monotonic() > until:
                break
            time.sleep(0.01)
        self.engine.dispose()
        if self.reader is not self:
            self.reader.close()
