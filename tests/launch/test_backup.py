"""Backups: whole, checked, brought back, and refused when damaged."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import sys
import tempfile
import zipfile
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path
from threading import Event, Thread

import psycopg
import pytest

from tests.conftest import PROJECT
from tests.desk.helpers import new_bench
from tests.desk.test_packs import comparable
from tests.ports import own_port
from true_margin.desk.packs.incoming import import_pack
from true_margin.desk.packs.outgoing import export_pack
from true_margin.exchange.data_pack import Pack
from true_margin.launch.backup import (
    DUMP,
    MANIFEST,
    BackupError,
    backup_name,
    check_backup,
    drop_old,
    make_backup,
    restore,
    to_keep,
)
from true_margin.launch.cluster import Cluster
from true_margin.launch.daily import back_up_if_due, of_the_future
from true_margin.store.database import Database

NOW = datetime(2026, 11, 25, 4, 0, tzinfo=UTC)


@pytest.fixture
def own(cluster: Cluster) -> str:
    """A database of one's own by its address."""
    address = cluster.url.replace("postgresql+psycopg", "postgresql").rsplit("/", 1)[0]
    with psycopg.connect(f"{address}/postgres", autocommit=True) as connection:
        for row in connection.execute(
            "select datname from pg_database where datname like 'saved%'"
        ).fetchall():
            connection.execute(f'drop database "{row[0]}" with (force)')
        connection.execute("create database saved")
    return f"{address}/saved"


def filled(url: str, pack: Pack) -> str:
    """Migrate, and bring the demo in; gives its address on the shelf."""
    database = Database(url)
    database.migrate()
    slug = import_pack(database, pack).slug
    database.close()
    return slug


def migrated(url: str) -> None:
    """Bring the tables in; nothing stays connected."""
    database = Database(url)
    database.migrate()
    database.close()


def exported(url: str, slug: str) -> Pack:
    database = Database(url)
    try:
        return export_pack(database, slug)
    finally:
        database.close()


def test_what_was_saved_comes_back(own: str, demo_pack: Pack, tmp_path: Path) -> None:
    slug = filled(own, demo_pack)
    saved = exported(own, slug)
    manifest = make_backup(own, tmp_path / "one.zip")
    assert manifest.rows["runs"] == len(demo_pack.runs)
    assert check_backup(tmp_path / "one.zip") == manifest
    database = Database(own)
    new_bench(database, "Later").run("A", "6:17")
    database.close()
    done = restore(own, tmp_path / "one.zip", NOW)
    assert done.manifest == manifest
    assert comparable(exported(own, slug)) == comparable(saved)
    # The database of before is not lost: the later shootout is still in it.
    before = own.rsplit("/", 1)[0] + f"/{done.kept_as}"
    with psycopg.connect(before) as connection:
        names = connection.execute("select name from shootouts").fetchall()
    assert ("Later",) in names
    # It is a whole database: triggers and rules came back too.
    with psycopg.connect(own) as connection, pytest.raises(psycopg.Error):
        connection.execute("delete from runs")


def test_a_backup_is_of_one_moment_while_people_write(
    own: str, demo_pack: Pack, tmp_path: Path
) -> None:
    filled(own, demo_pack)
    database = Database(own)
    bench = new_bench(database, "Busy")
    ended = Event()

    def write() -> None:
        while not ended.is_set():
            bench.run("A", "6:17")

    writer = Thread(target=write)
    writer.start()
    try:
        manifest = make_backup(own, tmp_path / "busy.zip")
    finally:
        ended.set()
        writer.join()
    database.close()
    # Rows were counted in the snapshot that was saved; a restore holds them against it.
    assert restore(own, tmp_path / "busy.zip", NOW).manifest == manifest


def damage(file: Path, how: str) -> None:
    content = file.read_bytes()
    if how == "cut short":
        file.write_bytes(content[: len(content) // 2])
    elif how == "a bit flipped":
        at = len(content) // 2
        file.write_bytes(content[:at] + bytes([content[at] ^ 1]) + content[at + 1 :])
    elif how == "no zip":
        file.write_bytes(b"something else")
    elif how == "another zip":
        with zipfile.ZipFile(file, "w") as archive:
            archive.writestr("readme.txt", "hello")
    elif how == "manifest is none":
        with zipfile.ZipFile(file) as archive:
            dump = archive.read(DUMP)
        with zipfile.ZipFile(file, "w") as archive:
            archive.writestr(DUMP, dump)
            archive.writestr(MANIFEST, "[]")
    elif how == "rows that never were":
        with zipfile.ZipFile(file) as archive:
            dump, told = archive.read(DUMP), json.loads(archive.read(MANIFEST))
        told["rows"]["runs"] += 1
        with zipfile.ZipFile(file, "w") as archive:
            archive.writestr(DUMP, dump)
            archive.writestr(MANIFEST, json.dumps(told))
    elif how == "gone":
        file.unlink()


@pytest.mark.parametrize(
    ("how", "says"),
    [
        ("cut short", "damaged"),
        ("a bit flipped", "damaged"),
        ("no zip", "damaged, or no backup"),
        ("another zip", "no backup of True Margin"),
        ("manifest is none", "manifest cannot be read"),
        ("rows that never were", "did not come back whole: runs has"),
        ("gone", "There is no file"),
    ],
)
def test_a_damaged_backup_changes_nothing(own: str, tmp_path: Path, how: str, says: str) -> None:
    database = Database(own)
    database.migrate()
    new_bench(database, "Kept").run("A", "6:17")
    database.close()
    file = tmp_path / "one.zip"
    make_backup(own, file)
    damage(file, how)
    with pytest.raises(BackupError, match=says):
        restore(own, file, NOW)
    with psycopg.connect(own) as connection:
        assert connection.execute("select name from shootouts").fetchall() == [("Kept",)]
        left = connection.execute("select datname from pg_database where datname like 'saved_%'")
        assert left.fetchall() == []


def test_nobody_is_cut_off(own: str, tmp_path: Path) -> None:
    migrated(own)
    make_backup(own, tmp_path / "one.zip")
    with psycopg.connect(own), pytest.raises(BackupError, match="Stop the app first"):
        restore(own, tmp_path / "one.zip", NOW)


def test_a_backup_that_cannot_be_written_leaves_nothing(own: str, tmp_path: Path) -> None:
    migrated(own)
    address = own.rsplit("/", 1)[0]
    with pytest.raises(BackupError, match="refuses"):
        make_backup(f"{address}/nothing_here", tmp_path / "one.zip")
    assert list(tmp_path.iterdir()) == []


def test_which_backups_stay() -> None:
    every = [backup_name(NOW - timedelta(days=day)) for day in range(500)]
    kept = to_keep(every, NOW)
    # Seven days; then Sundays, the newest of each week; then the newest of each month.
    days = sorted(
        (NOW - datetime.strptime(n[12:27], "%Y%m%dT%H%M%S").replace(tzinfo=UTC)).days for n in kept
    )
    assert days[:8] == [0, 1, 2, 3, 4, 5, 6, 10]
    assert days[8:] == [17, 25, 56, 86, 117, 148, 178, 209, 239, 270, 298, 329]
    assert to_keep([], NOW) == frozenset()
    assert to_keep(["notes.txt"], NOW) == frozenset()


def test_only_our_own_files_are_dropped(tmp_path: Path) -> None:
    for day in range(40):
        (tmp_path / backup_name(NOW - timedelta(days=day))).write_text("x")
    (tmp_path / "mine.zip").write_text("x")
    gone = drop_old(tmp_path, NOW)
    assert len(gone) > 20
    assert (tmp_path / "mine.zip").exists()
    assert (tmp_path / backup_name(NOW)).exists()


def test_a_backup_a_day(own: str, tmp_path: Path) -> None:
    migrated(own)
    first = back_up_if_due(own, tmp_path, NOW)
    assert first is not None
    assert back_up_if_due(own, tmp_path, NOW + timedelta(hours=23)) is None
    second = back_up_if_due(own, tmp_path, NOW + timedelta(hours=24))
    assert second is not None
    assert {path.name for path in tmp_path.iterdir()} == {first.name, second.name}


@pytest.fixture
def folder() -> Iterator[Path]:
    """A folder that the database's owner may enter."""
    made = Path(tempfile.mkdtemp(prefix="true-margin-backups-"))
    made.chmod(0o755)
    yield made
    shutil.rmtree(made, ignore_errors=True)


def test_from_the_command_line(folder: Path) -> None:
    environment = {
        **os.environ,
        "TRUE_MARGIN_DATA": str(folder / "data"),
        "TRUE_MARGIN_PORT": str(own_port()),
        "TRUE_MARGIN_DEMO": str(folder / "none"),
    }

    def run(*words: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [sys.executable, "-m", "true_margin", *words],
            env=environment,
            text=True,
            capture_output=True,
            check=False,
            cwd=PROJECT,
            timeout=300,
        )

    loaded = run("reset-demo")
    assert loaded.returncode == 0, loaded.stderr
    saved = run("backup", str(folder / "b.zip"))
    assert saved.returncode == 0, saved.stderr
    assert "Written and read back" in saved.stdout
    back = run("restore", str(folder / "b.zip"))
    assert back.returncode == 0, back.stderr
    assert "is kept as true_margin_before_" in back.stdout
    nothing = run("restore", str(folder / "none.zip"))
    assert (nothing.returncode, "There is no file" in nothing.stderr) == (2, True)


def test_a_backup_of_the_future_ends_no_backups(own: str, tmp_path: Path) -> None:
    migrated(own)
    strange = tmp_path / backup_name(NOW.replace(year=2036))
    strange.write_text("x")
    odd = tmp_path / "true-margin-20269999T999999Z.zip"
    odd.write_text("x")
    made = back_up_if_due(own, tmp_path, NOW)
    assert made is not None
    assert of_the_future(tmp_path, NOW) == [strange]
    for day in range(1, 40):
        (tmp_path / backup_name(NOW - timedelta(days=day))).write_text("x")
    gone = drop_old(tmp_path, NOW)
    assert len(gone) > 20
    assert {strange, odd, made} <= set(tmp_path.iterdir()), "nothing strange is thrown away"


def test_a_dump_that_is_a_program_runs_none(own: str, tmp_path: Path) -> None:
    """A check that starts a program is what a hostile backup would bring with it."""
    victim = tmp_path / "victim"
    evil = (
        "create function evil() returns boolean language plpgsql as $$ begin "
        f"copy (select 1) to program 'touch {victim}'; return true; end $$"
    )
    with psycopg.connect(own, autocommit=True) as connection:
        (superuser,) = connection.execute(
            "select rolsuper from pg_roles where rolname = current_user"
        ).fetchone() or (None,)
        assert superuser is False
        connection.execute(evil)
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            connection.execute("select evil()")
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            connection.execute("select pg_read_file('/etc/passwd')")
        with pytest.raises(psycopg.errors.InsufficientPrivilege):
            connection.execute("create role another superuser")
    assert not victim.exists()
