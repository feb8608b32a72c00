"""Connections, sessions and migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, text
from sqlalchemy.orm import Session, sessionmaker

MIGRATIONS = Path(__file__).parent / "migrations"


def driver_url(url: str) -> str:
    """Point a plain ``postgresql://`` address at the driver that ships with the app."""
    for prefix in ("postgresql://", "postgres://"):
        if url.startswith(prefix):
            return "postgresql+psycopg://" + url.removeprefix(prefix)
    return url


class Database:
    """One PostgreSQL database.

    Args:
        url: SQLAlchemy address.
    """

    def __init__(self, url: str) -> None:
        self.url = driver_url(url)
        self.engine: Engine = create_engine(self.url, pool_pre_ping=True, pool_size=8)
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

    def migrate(self, revision: str = "head") -> None:
        """Bring the tables to a revision of the schema."""
        config = Config()
        config.set_main_option("script_location", str(MIGRATIONS))
        config.attributes["engine"] = self.engine
        command.upgrade(config, revision)

    def close(self) -> None:
        """Close all connections."""
        self.engine.dispose()
