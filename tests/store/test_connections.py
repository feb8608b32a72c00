"""Connections that were lost while nobody looked."""

from __future__ import annotations

from collections.abc import Iterator

import psycopg
import pytest
from sqlalchemy import text
from sqlalchemy.exc import OperationalError

from true_margin.launch.cluster import Cluster
from true_margin.store import database as of_database
from true_margin.store.database import Database


@pytest.fixture
def own(cluster: Cluster) -> Iterator[Database]:
    """A database object of one's own: its connections are cut."""
    own = Database(cluster.url)
    yield own
    own.close()


def held(own: Database) -> list[int]:
    """Use three connections at once, so that three lie in the pool; gives their processes."""
    with own.transaction() as a, own.transaction() as b, own.transaction() as c:
        return [each.scalar(text("select pg_backend_pid()")) or 0 for each in (a, b, c)]


def cut(cluster: Cluster, pids: list[int]) -> None:
    address = cluster.url.replace("postgresql+psycopg", "postgresql")
    with psycopg.connect(address, autocommit=True) as connection:
        for pid in pids:
            connection.execute("select pg_terminate_backend(%s, 5000)", (pid,))


def test_connections_that_lay_idle_are_asked_before_they_are_used(
    own: Database, cluster: Cluster, monkeypatch: pytest.MonkeyPatch
) -> None:
    cut(cluster, held(own))
    monkeypatch.setattr(of_database, "FRESH_S", -1.0)
    for _ in range(3):
        assert own.answers()


def test_of_fresh_connections_one_finds_out_for_all(own: Database, cluster: Cluster) -> None:
    before = held(own)
    cut(cluster, before)
    with pytest.raises(OperationalError), own.transaction() as session:
        session.scalar(text("select 1"))
    assert not set(held(own)) & set(before)
