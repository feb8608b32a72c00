"""News of changes: heard when kept, not otherwise, and after a lost connection too."""

from __future__ import annotations

from collections.abc import Iterator
from queue import Empty, Queue

import pytest
from sqlalchemy import text

from tests.desk.helpers import Bench, new_bench
from true_margin.store import shootouts
from true_margin.store.database import Database
from true_margin.store.news import EVERYTHING, News

WAIT_S = 120.0
# Other tests' apps listen to the same database.
NAME = "the listener under test"
OURS = f"from pg_stat_activity where application_name = '{NAME}'"


@pytest.fixture
def heard(database: Database) -> Iterator[Queue[str]]:
    news = News(database.url, NAME)
    told: Queue[str] = Queue()
    news.subscribe(told.put)
    news.start()
    # What changed between the subscription and the first listening is not missed in silence.
    assert told.get(timeout=WAIT_S) == EVERYTHING
    yield told
    news.close()


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "News")


def about(bench: Bench, told: Queue[str]) -> int:
    """The next revision of this shootout that was heard."""
    with bench.database.transaction() as session:
        key = str(shootouts.get_shootout(session, bench.slug).id)
    while True:
        shootout, _, revision = told.get(timeout=WAIT_S).partition(" ")
        if shootout == key:
            return int(revision)


def test_a_change_is_heard_with_its_revision(bench: Bench, heard: Queue[str]) -> None:
    bench.run("A", "6:10")
    first = about(bench, heard)
    bench.run("A", "6:11")
    assert about(bench, heard) == first + 1


def test_what_is_not_kept_is_not_heard(bench: Bench, heard: Queue[str]) -> None:
    with bench.database.transaction() as session:
        shootouts.bump_revision(session, shootouts.get_shootout(session, bench.slug).id)
        session.rollback()
    with pytest.raises(Empty):
        heard.get(timeout=0.5)


def test_a_lost_connection_says_that_anything_may_have_changed(
    bench: Bench, heard: Queue[str]
) -> None:
    with bench.database.transaction() as session:
        assert session.scalar(text(f"select pg_terminate_backend(pid) {OURS}"))
    assert heard.get(timeout=WAIT_S) == EVERYTHING
    bench.run("A", "6:10")
    assert about(bench, heard) > 1
