"""Every rule of the database has a sentence for whoever breaks it."""

from __future__ import annotations

import importlib
import pkgutil
import shutil
from pathlib import Path

import pytest
from sqlalchemy import CheckConstraint
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlalchemy.exc import TimeoutError as NoneFreeError

import true_margin.store
from true_margin.desk.errors import _BROKEN, _ENDINGS, DatabaseAwayError, DiskFullError, transaction
from true_margin.store.base import Base
from true_margin.store.database import Database

NEVER_MET = {
    # Kept by the code that writes these rows; nobody types them.
    "ck_invitations_role_or_person",
    "ck_overrules_pair_ordered",
    "ck_marks_says_something",
    # One row, made by the store itself; and a shootout goes on from one that was there before.
    "ck_house_single_one",
    "ck_series_two_shootouts",
}


def test_every_check_is_said_in_words() -> None:
    for module in pkgutil.iter_modules(true_margin.store.__path__):
        if module.name.startswith("tables"):
            importlib.import_module(f"true_margin.store.{module.name}")
    named = {
        str(rule.name)
        for table in Base.metadata.sorted_tables
        for rule in table.constraints
        if isinstance(rule, CheckConstraint)
    }
    silent = {name for name in named if name not in _BROKEN and not name.endswith(_ENDINGS)}
    assert silent == NEVER_MET
    assert len(named) > 50


@pytest.mark.parametrize(
    ("error", "away"),
    [
        (OperationalError("select 1", {}, Exception("gone")), True),
        (DatabaseError("select 1", {}, Exception("cut off"), connection_invalidated=True), True),
        (NoneFreeError("no connection came free"), True),
        (DatabaseError("select 1", {}, Exception("a fault of ours")), False),
    ],
)
def test_a_connection_that_is_gone_is_said_to_be_that(
    database: Database, error: Exception, away: bool
) -> None:
    with pytest.raises(DatabaseAwayError if away else DatabaseError), transaction(database):
        raise error


def test_a_server_that_a_full_disk_ended_is_said_to_be_that(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    gone = OperationalError("select 1", {}, Exception("gone"))
    database = Database("postgresql://127.0.0.1:1/none", folder=tmp_path)
    with pytest.raises(DatabaseAwayError, match="not answering"), transaction(database):
        raise gone
    left = shutil.disk_usage(tmp_path)._replace(free=4096)
    monkeypatch.setattr(shutil, "disk_usage", lambda _: left)
    with pytest.raises(DiskFullError, match="Make room on it"), transaction(database):
        raise gone
    elsewhere = Database("postgresql://127.0.0.1:1/none")
    with pytest.raises(DatabaseAwayError, match="not answering"), transaction(elsewhere):
        raise gone
