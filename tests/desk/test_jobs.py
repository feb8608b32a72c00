"""Jobs: done beside the requests, once, however often they are begun."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from uuid import UUID

import pytest
from sqlalchemy.orm import Session

from tests.app.accounts import account, who_of
from tests.conftest import database_apart
from tests.desk.helpers import Bench, done, new_bench
from true_margin.desk.access.rights import LOCAL, Right
from true_margin.desk.access.sign_in import roles_of
from true_margin.desk.errors import DatabaseAwayError, NotFoundError
from true_margin.desk.jobs import jobs
from true_margin.desk.packs import incoming as pack_in
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.launch.cluster import Cluster
from true_margin.store import jobs as kept
from true_margin.store.database import Database


@pytest.fixture(scope="module")
def own(cluster: Cluster) -> Iterator[Database]:
    """A database that no app works on: what waits here waits for these tests."""
    with database_apart(cluster, "jobs") as database:
        database.migrate()
        yield database


@pytest.fixture
def bench(own: Database) -> Bench:
    bench = new_bench(own, "Jobs")
    bench.run("A", "6:10")
    return bench


def packed(bench: Bench) -> bytes:
    return zip_files(write_pack(pack_out.export_pack(bench.database, bench.slug)))


def count(database: Database) -> int:
    return len(shootouts.list_shootouts(database, archived=False))


def test_an_job_that_is_begun_again_is_done_once(bench: Bench) -> None:
    asked = jobs.bring_in(bench.database, LOCAL, packed(bench))
    assert (asked.state, asked.step, asked.done) == ("running", "waiting", 0.0)
    before = count(bench.database)
    made = done(bench.database, str(asked.id))
    assert (made.state, made.done) == ("done", 1.0)
    again = done(bench.database, str(asked.id))
    assert (again.slug, count(bench.database)) == (made.slug, before + 1)


def test_a_process_that_ends_halfway_leaves_nothing_and_the_next_does_it(
    bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    asked = jobs.bring_in(bench.database, LOCAL, packed(bench))
    before = count(bench.database)

    def cut_off(*_: object) -> bool:
        raise DatabaseAwayError("The database does not answer.")

    with monkeypatch.context() as cut:
        cut.setattr(jobs, "_finish", cut_off)
        with pytest.raises(DatabaseAwayError):
            done(bench.database, str(asked.id))
    assert count(bench.database) == before
    assert jobs.show_job(bench.database, LOCAL, asked.id).state == "running"
    with pytest.raises(InterruptedError):
        jobs.do_job(bench.database, lambda: True, str(asked.id))
    assert done(bench.database, str(asked.id)).state == "done"
    assert count(bench.database) == before + 1


def test_what_nobody_does_any_more_is_said_and_never_done_later(bench: Bench) -> None:
    asked = jobs.bring_in(bench.database, LOCAL, packed(bench))
    long_ago = datetime.now(UTC) - jobs.LOST_AFTER - timedelta(seconds=1)
    with bench.database.transaction() as session:
        kept.change_job(session, asked.id, {"seen_at": long_ago})
    lost = jobs.show_job(bench.database, LOCAL, asked.id)
    assert lost.problem is not None
    assert (lost.state, "do it again" in lost.problem.detail) == ("failed", True)
    before = count(bench.database)
    assert done(bench.database, str(asked.id)).state == "failed"
    assert count(bench.database) == before


def test_a_failure_inside_is_told_and_its_file_let_go(
    bench: Bench, monkeypatch: pytest.MonkeyPatch
) -> None:
    def broken(*_: object, **__: object) -> None:
        raise ZeroDivisionError

    monkeypatch.setattr(pack_in, "import_pack", broken)
    asked = jobs.bring_in(bench.database, LOCAL, packed(bench))
    failed = done(bench.database, str(asked.id))
    assert failed.problem is not None
    assert (failed.problem.kind, "Nothing was stored" in failed.problem.detail) == ("failed", True)
    assert _file(bench.database, asked.id) == b""


def _file(database: Database, key: UUID) -> bytes:
    session: Session
    with database.transaction() as session:
        return kept.job_file(session, key)


def test_whoever_brings_a_pack_in_owns_what_it_made_and_alone_sees_how_far_it_is(
    bench: Bench,
) -> None:
    editor = who_of(bench.database, account(bench.database, "editor"))
    asked = jobs.bring_in(bench.database, editor, packed(bench))
    stranger = who_of(bench.database, account(bench.database, "owner"))
    with pytest.raises(NotFoundError):
        jobs.show_job(bench.database, stranger, asked.id)
    assert jobs.show_job(bench.database, editor, asked.id).state == "running"
    made = done(bench.database, str(asked.id))
    assert made.slug is not None
    home = shootouts.get_shootout(bench.database, made.slug).id
    again = who_of(bench.database, account(bench.database, "reader"))
    assert not again.may(Right.OWN, home)
    with bench.database.transaction() as session:
        assert editor.person_id is not None
        assert roles_of(session, editor.person_id)[home] == "owner"
