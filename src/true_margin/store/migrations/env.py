"""Alembic's entry: migrations run on the engine that the app hands over."""

from __future__ import annotations

from alembic import context
from sqlalchemy import text

from true_margin.store.base import Base

# Two starts at once must not both migrate; the number is arbitrary but fixed.
MIGRATION_LOCK = 84370001


def run() -> None:
    """Run migrations in one transaction under an advisory lock."""
    engine = context.config.attributes["engine"]
    with engine.connect() as connection, connection.begin():
        connection.execute(text("select pg_advisory_xact_lock(:key)"), {"key": MIGRATION_LOCK})
        context.configure(connection=connection, target_metadata=Base.metadata)
        context.run_migrations()


run()
