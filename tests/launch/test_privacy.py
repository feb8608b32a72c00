"""What the app writes is read by whoever runs it, and by no other user of the machine."""

from __future__ import annotations

import os
import shutil
import stat
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

import psycopg
import pytest
from psycopg import sql

from tests.conftest import PROJECT
from true_margin.launch.backup import backup_name
from true_margin.launch.cluster import Cluster
from true_margin.launch.privacy import keep_private
from true_margin.launch.roles import DATABASE, KEEPER, USER

OTHERS = stat.S_IRWXG | stat.S_IRWXO


@pytest.fixture
def folder() -> Iterator[Path]:
    made = Path(tempfile.mkdtemp(prefix="true-margin-private-"))
    made.chmod(0o755)
    yield made
    Cluster(made).stop()
    shutil.rmtree(made, ignore_errors=True)


@pytest.fixture(autouse=True)
def _mask() -> Iterator[None]:
    before = os.umask(0o022)
    yield
    os.umask(before)


def open_to_others(folder: Path) -> list[str]:
    """Everything below a folder that another user may read, write or list."""
    return [
        str(path.relative_to(folder))
        for path in folder.rglob("*")
        if not path.is_symlink() and path.stat().st_mode & (stat.S_IRWXO | stat.S_IRWXG)
    ]


def test_what_was_written_before_is_closed_too(tmp_path: Path) -> None:
    for name in ("backups/one.zip", "log/requests.jsonl", "tls/key.pem", "postgres/PG_VERSION"):
        (tmp_path / name).parent.mkdir(exist_ok=True)
        (tmp_path / name).write_text("x")
    (tmp_path / "app.pid").write_text("1")
    (tmp_path / "log" / "link").symlink_to("/etc/hostname")
    keep_private(tmp_path)
    assert sorted(open_to_others(tmp_path)) == ["postgres", "postgres/PG_VERSION"]
    (tmp_path / "later").write_text("x")
    assert "later" not in open_to_others(tmp_path)
    keep_private(tmp_path / "nowhere")


def test_a_start_and_a_backup_leave_nothing_to_others(folder: Path) -> None:
    """In a folder that is not there yet, and one that is."""
    data = folder / "new" / "data"
    environment = os.environ | {"TRUE_MARGIN_DATA": str(data)}
    environment.pop("DATABASE_URL", None)
    file = data / "backups" / backup_name(datetime.now(UTC))
    for command in (["invite", "--role", "owner"], ["backup", str(file)]):
        done = subprocess.run(
            [sys.executable, "-m", "true_margin", *command],
            cwd=PROJECT,
            env=environment,
            capture_output=True,
            text=True,
            check=False,
        )
        assert done.returncode == 0, done.stderr
    assert file.exists()
    told = [path for path in open_to_others(data) if not path.startswith("postgres/")]
    assert told == []
    # The database passes through as one of its group, where it is another user's.
    assert data.stat().st_mode & 0o7767 == 0o700
    assert data.parent.stat().st_mode & 0o066 == 0


def test_a_database_that_the_keeper_made_is_handed_over(folder: Path) -> None:
    """As clusters were before the app had a role of its own."""
    cluster = Cluster(folder)
    cluster.start()
    with cluster._connect("postgres") as connection:
        connection.execute(sql.SQL("drop database {}").format(sql.Identifier(DATABASE)))
        connection.execute(
            sql.SQL("create database {} owner {}").format(
                sql.Identifier(DATABASE), sql.Identifier(KEEPER)
            )
        )
    with cluster._connect(DATABASE) as inside:
        inside.execute("create type mood as enum ('calm')")
        inside.execute("create table kept (id serial primary key, how mood)")
        inside.execute("create view shown as select * from kept")
        inside.execute("create function two() returns int language sql as 'select 2'")
        inside.execute("insert into kept (how) values ('calm')")
    cluster.stop()
    cluster.start()
    own = psycopg.connect(cluster.url.replace("postgresql+psycopg", "postgresql"), autocommit=True)
    with own as connection:
        assert connection.execute("select current_user, two()").fetchone() == (USER, 2)
        connection.execute("alter table kept add column more int")
        connection.execute("alter type mood add value 'wild'")
        connection.execute("drop view shown")
        connection.execute("drop function two()")
        assert connection.execute("select count(*) from kept").fetchone() == (1,)
