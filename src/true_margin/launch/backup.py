"""Backups: the whole database in one checked file, and back into a new database first."""

from __future__ import annotations

import hashlib
import json
import os
import re
import subprocess
import tempfile
import zipfile
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import psycopg
from psycopg import sql
from psycopg.conninfo import conninfo_to_dict, make_conninfo

from true_margin import __version__
from true_margin.launch.cluster import ClusterError, server_binaries
from true_margin.store.database import Database

FORMAT = 1
DUMP, MANIFEST = "database.dump", "manifest.json"
NAME = re.compile(r"^true-margin-(\d{8}T\d{6})Z\.zip$")
DAYS, WEEKS, MONTHS = 7, 4, 12
"""Of so many days, weeks and months the newest backup is kept."""
MOST_MANIFEST = 1_000_000
SLACK = timedelta(hours=2)
"""A clock that is set back by so much is no reason to doubt a backup."""


class BackupError(RuntimeError):
    """A backup cannot be made or brought back; the text says what to do."""


@dataclass(frozen=True, slots=True)
class Manifest:
    """What a backup says of itself: when, by what, its schema, its sum, rows by table."""

    made_at: str
    app: str
    schema: str
    sha256: str
    rows: dict[str, int]


@dataclass(frozen=True, slots=True)
class Restored:
    """What a restore did: where the database as it was before is kept, and what came back."""

    kept_as: str
    manifest: Manifest


def backup_name(now: datetime) -> str:
    """The file name of a backup that is made now."""
    return f"true-margin-{now:%Y%m%dT%H%M%S}Z.zip"


def make_backup(url: str, file: Path) -> Manifest:
    """Write a backup while the app runs, and read it back before it gets its name.

    Args:
        url: of the database.
        file: to write; it is there whole or not at all.

    Raises:
        BackupError: it cannot be written, or does not read back.
    """
    file.parent.mkdir(parents=True, exist_ok=True)
    part = file.with_name(f".{file.name}.part")
    with tempfile.TemporaryDirectory(dir=file.parent, prefix=".backup-") as folder:
        dump = Path(folder) / DUMP
        with _snapshot(url) as (snapshot, rows, schema):
            _run(
                [
                    "pg_dump",
                    "-Fc",
                    "--no-owner",
                    "--no-privileges",
                    f"--snapshot={snapshot}",
                    "-f",
                    str(dump),
                ],
                url,
            )
        manifest = Manifest(
            datetime.now(UTC).isoformat(timespec="seconds"), __version__, schema, _sum(dump), rows
        )
        try:
            with zipfile.ZipFile(part, "w", zipfile.ZIP_STORED) as archive:
                archive.write(dump, DUMP)
                archive.writestr(MANIFEST, json.dumps({"format": FORMAT, **_plain(manifest)}))
        except OSError as error:
            part.unlink(missing_ok=True)
            reason = f"The backup cannot be written to {file.parent}: {error.strerror}"
            raise BackupError(reason) from error
    try:
        check_backup(part)
    except BackupError:
        part.unlink(missing_ok=True)
        raise
    with part.open("rb") as written:
        os.fsync(written.fileno())
    part.replace(file)
    return manifest


def _plain(manifest: Manifest) -> dict[str, Any]:
    return {name: getattr(manifest, name) for name in Manifest.__slots__}


def check_backup(file: Path) -> Manifest:
    """Read a backup whole: its sum, and every row through the program that restores it.

    Raises:
        BackupError: it is damaged, or no backup; says which.
    """
    with _unpacked(file) as (dump, manifest):
        _run(["pg_restore", "-f", os.devnull, str(dump)], None)
        return manifest


@contextmanager
def _unpacked(file: Path) -> Iterator[tuple[Path, Manifest]]:
    try:
        with (
            zipfile.ZipFile(file) as archive,
            tempfile.TemporaryDirectory(prefix="true-margin-backup-") as folder,
        ):
            if set(archive.namelist()) != {DUMP, MANIFEST}:
                raise BackupError(f"{file} is no backup of True Margin.")
            if archive.getinfo(MANIFEST).file_size > MOST_MANIFEST:
                raise BackupError(f"{file} is no backup of True Margin.")
            manifest = _read_manifest(file, archive.read(MANIFEST))
            dump = Path(folder) / DUMP
            with archive.open(DUMP) as source, dump.open("wb") as target:
                while piece := source.read(1 << 20):
                    target.write(piece)
            if _sum(dump) != manifest.sha256:
                raise BackupError(f"{file} is damaged: its sum is not the one that it names.")
            yield dump, manifest
    except FileNotFoundError as error:
        raise BackupError(f"There is no file {file}.") from error
    except (zipfile.BadZipFile, OSError, EOFError) as error:
        raise BackupError(f"{file} is damaged, or no backup: {error}") from error


def _read_manifest(file: Path, content: bytes) -> Manifest:
    try:
        told = json.loads(content)
        if told.pop("format") != FORMAT:
            raise BackupError(f"{file} was made by another True Margin, in a format of its own.")
        return Manifest(**told)
    except (ValueError, TypeError, KeyError, AttributeError) as error:
        raise BackupError(f"{file} is damaged: its manifest cannot be read.") from error


def restore(url: str, file: Path, now: datetime) -> Restored:
    """Bring a backup back: into a new database first, which then takes the place of the old.

    Args:
        url: of the database that is replaced; nobody else may use it.
        file: the backup.
        now: goes into the name under which the database of before is kept.

    Raises:
        BackupError: the file is off, somebody uses the database, or it does not come back
            whole; the database stays as it was.
    """
    plain = url.replace("postgresql+psycopg://", "postgresql://", 1)
    current = str(conninfo_to_dict(plain)["dbname"])
    stamp = f"{now:%Y%m%d%H%M%S}"
    fresh, aside = f"{current}_new_{stamp}", f"{current}_before_{stamp}"
    with _unpacked(file) as (dump, manifest), _admin(plain) as connection:
        _nobody_else(connection, current)
        _like(connection, current, fresh)
        try:
            into = make_conninfo(plain, dbname=fresh)
            _run(
                [
                    "pg_restore",
                    "--exit-on-error",
                    "--no-owner",
                    "--no-privileges",
                    "-d",
                    fresh,
                    str(dump),
                ],
                into,
            )
            _hold_against(into, manifest)
            _migrate(plain, fresh)
        except Exception:
            connection.execute(sql.SQL("drop database {}").format(sql.Identifier(fresh)))
            raise
        _nobody_else(connection, current)
        rename = sql.SQL("alter database {} rename to {}")
        connection.execute(rename.format(sql.Identifier(current), sql.Identifier(aside)))
        try:
            connection.execute(rename.format(sql.Identifier(fresh), sql.Identifier(current)))
        except psycopg.Error:
            connection.execute(rename.format(sql.Identifier(aside), sql.Identifier(current)))
            raise
    return Restored(aside, manifest)


def _migrate(plain: str, name: str) -> None:
    parts = conninfo_to_dict(plain)
    database = Database(
        f"postgresql://{parts['user']}:{parts.get('password', '')}@{parts['host']}"
        f":{parts['port']}/{name}"
    )
    try:
        database.migrate()
    except Exception as error:
        reason = f"Its tables cannot be brought up to this True Margin: {error}"
        raise BackupError(reason) from error
    finally:
        database.close()


@contextmanager
def _admin(plain: str) -> Iterator[psycopg.Connection[Any]]:
    try:
        with psycopg.connect(make_conninfo(plain, dbname="postgres"), autocommit=True) as found:
            yield found
    except psycopg.Error as error:
        raise BackupError(f"The database refuses: {error}") from error


def _nobody_else(connection: psycopg.Connection[Any], name: str) -> None:
    query = "select count(*) from pg_stat_activity where datname = %s"
    row = connection.execute(query, (name,)).fetchone()
    if row is not None and row[0]:
        raise BackupError(
            f"{row[0]} connections use the database {name}. Stop the app first: make stop"
        )


def _like(connection: psycopg.Connection[Any], current: str, fresh: str) -> None:
    """Make an empty database that sorts as the current one does."""
    row = connection.execute(
        "select datlocprovider::text, datcollate, daticulocale from pg_database where datname = %s",
        (current,),
    ).fetchone()
    if row is None:
        raise BackupError(f"There is no database {current}.")
    parts = [
        sql.SQL("create database {} template template0 encoding 'UTF8' locale {}").format(
            sql.Identifier(fresh), sql.Literal(row[1])
        )
    ]
    if row[0] == "i":
        parts.append(sql.SQL("locale_provider icu icu_locale {}").format(sql.Literal(row[2])))
    connection.execute(sql.SQL(" ").join(parts))


def _hold_against(conninfo: str, manifest: Manifest) -> None:
    """Count every table that came back against what was counted when it was saved."""
    with psycopg.connect(conninfo) as connection:
        found = _count(connection)
    if found != manifest.rows:
        other = next(
            (t for t in {*found, *manifest.rows} if found.get(t) != manifest.rows.get(t)), "?"
        )
        raise BackupError(
            f"The backup did not come back whole: {other} has {found.get(other)} rows, and had "
            f"{manifest.rows.get(other)}. The database stays as it was."
        )


@contextmanager
def _snapshot(url: str) -> Iterator[tuple[str, dict[str, int], str]]:
    """One moment of the database: its name for others, rows by table, and the schema."""
    plain = url.replace("postgresql+psycopg://", "postgresql://", 1)
    try:
        with psycopg.connect(plain) as connection:
            connection.execute("set transaction isolation level repeatable read")
            row = connection.execute("select pg_export_snapshot()").fetchone()
            schema = connection.execute("select version_num from alembic_version").fetchone()
            assert row is not None
            if schema is None:
                raise BackupError("The database holds no True Margin yet.")
            yield str(row[0]), _count(connection), str(schema[0])
    except psycopg.Error as error:
        raise BackupError(f"The database refuses: {error}") from error


def _count(connection: psycopg.Connection[Any]) -> dict[str, int]:
    names = connection.execute(
        "select tablename from pg_tables where schemaname = 'public' order by tablename"
    ).fetchall()
    found = {}
    for (name,) in names:
        query = sql.SQL("select count(*) from {}").format(sql.Identifier(name))
        row = connection.execute(query).fetchone()
        found[str(name)] = 0 if row is None else int(row[0])
    return found


def _sum(file: Path) -> str:
    with file.open("rb") as source:
        return hashlib.file_digest(source, "sha256").hexdigest()


def _run(command: list[str], conninfo: str | None) -> None:
    """Run one of PostgreSQL's own programs; the password goes by the environment only."""
    try:
        program = server_binaries() / command[0]
    except ClusterError as error:
        raise BackupError(str(error)) from error
    environment = {k: v for k, v in os.environ.items() if not k.startswith("PG")}
    if conninfo is not None:
        parts = conninfo_to_dict(conninfo.replace("postgresql+psycopg://", "postgresql://", 1))
        names = {
            "host": "PGHOST",
            "port": "PGPORT",
            "user": "PGUSER",
            "password": "PGPASSWORD",
            "dbname": "PGDATABASE",
        }
        environment |= {names[k]: str(v) for k, v in parts.items() if k in names and v}
    done = subprocess.run(
        [str(program), *command[1:]], env=environment, capture_output=True, text=True, check=False
    )
    if done.returncode != 0:
        last = done.stderr.strip().rsplit("\n", 1)[-1] or f"it ended with {done.returncode}"
        raise BackupError(f"{command[0]} could not do it: {last}")


def made_at(name: str) -> datetime | None:
    """When a backup was made, by its name; None where it is the name of none.

    Example:
        >>> made_at("true-margin-20261101T040000Z.zip").isoformat(), made_at("notes.txt")
        ('2026-11-01T04:00:00+00:00', None)
    """
    match = NAME.match(name)
    try:
        return None if match is None else datetime.strptime(f"{match[1]}Z", "%Y%m%dT%H%M%S%z")
    except ValueError:
        return None


def is_of_the_future(name: str, now: datetime) -> bool:
    """Whether a backup is named for a time to come: a clock was wrong, and may be still."""
    at = made_at(name)
    return at is not None and at > now + SLACK


def to_keep(names: Iterable[str], now: datetime) -> frozenset[str]:
    """Which backups stay: the newest of each of the last days, weeks and months that have one.

    Those that are named for a time to come stay too, and take nobody's place.

    Example:
        >>> now = datetime(2026, 11, 2, tzinfo=UTC)
        >>> sorted(to_keep(["true-margin-20261101T040000Z.zip", "notes.txt"], now))
        ['true-margin-20261101T040000Z.zip']
    """
    dated = [(at, name) for name in names if (at := made_at(name)) is not None]
    future = {name for _, name in dated if is_of_the_future(name, now)}
    found = [(at, name) for at, name in dated if name not in future]
    kept: set[str] = set()
    for count, period in ((DAYS, "%Y-%j"), (WEEKS, "%G-%V"), (MONTHS, "%Y-%m")):
        newest: dict[str, str] = {}
        for at, name in sorted(found, reverse=True):
            newest.setdefault(f"{at:{period}}", name)
        kept |= {name for _, name in sorted(newest.items(), reverse=True)[:count]}
    return frozenset(kept | future)


def drop_old(folder: Path, now: datetime) -> list[Path]:
    """Remove the backups of a folder that need not stay; files of other names are not touched."""
    own = [path.name for path in folder.glob("*.zip") if made_at(path.name) is not None]
    gone = [folder / name for name in sorted(set(own) - to_keep(own, now))]
    for path in gone:
        path.unlink()
    return gone
